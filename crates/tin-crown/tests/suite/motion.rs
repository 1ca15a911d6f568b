//! Motion and solids, worked out on paper.

use tin_crown::encounter::{Action, Axis, Outside, Patrol, Region, Solid, Up, Walk};
use tin_crown::{Arena, BoxSpec, Drill, Encounter, Facing, Kind, Motion, Placement};

use crate::stage::*;

/// Someone who walks at 90 and jumps at 320, on a floor whose top is at 0.
fn walker(drill: Drill) -> Encounter {
    let walk = Walk::new(90.0).jump(320.0);
    Encounter::new("floor")
        .arena(Arena {
            bounds: Region::new([-1000.0, -500.0], [1000.0, 500.0]),
            gravity: 900.0,
            solids: vec![Solid::new([-1000.0, -16.0], [1000.0, 0.0])],
            ..Arena::default()
        })
        .kind(
            "porter",
            Kind::new().body(BoxSpec::rectangle(14.0, 28.0)).walk(walk),
        )
        .place(Placement::new("porter", [0.0, 14.0]))
        .drill("d", drill)
}

#[test]
fn walking_and_holding() {
    // Held on 10 … 29: 20 ticks of 1.5. Released by 30, and pressed the other way for 6 from 40.
    let drill = Drill::new(time("1s"))
        .input(time("10t"), "porter", "right", Action::Hold(None))
        .input(time("30t"), "porter", "right", Action::Release)
        .hold(time("40t"), "porter", "left", time("6t"));
    let seen = watch(&walker(drill), "porter", |_, view| (view.at.x, view.facing));
    assert_eq!(seen[9].0, 0.0);
    assert!(close(seen[10].0, 1.5));
    assert!(close(seen[29].0, 30.0) && seen[35].0 == seen[29].0);
    assert!(close(seen[60].0, 21.0));
    assert_eq!((seen[39].1, seen[60].1), (Facing::Right, Facing::Left));
}

#[test]
fn a_jump_rises_and_lands_on_the_tick() {
    // Pressed on 10: that tick sets out at 320 - 15. After k ticks (320 k - 7.5 k (k + 1)) / 60 up:
    // highest after 20 or 21 (54.17 and 54.25), below the floor with the 42nd, on tick 51.
    let drill = Drill::new(time("1s")).press(time("10t"), "porter", "jump");
    let seen = watch(&walker(drill), "porter", |_, view| {
        (view.at.y - 14.0, view.grounded)
    });
    let height = |k: f64| (320.0 * k - 7.5 * k * (k + 1.0)) / 60.0;
    assert!(seen[9].1 && seen[9].0 == 0.0);
    for k in 1..=41 {
        let (y, grounded) = seen[9 + k];
        assert!(close(y, height(k as f64)) && !grounded, "after {k}: {y}");
    }
    assert!(close(seen[51].0, 0.0) && seen[51].1);
}

#[test]
fn who_holds_jump_jumps_once() {
    let drill = Drill::new(time("2s")).hold(time("10t"), "porter", "jump", time("1.5s"));
    let seen = watch(&walker(drill), "porter", |_, view| view.grounded);
    assert!(seen[52..].iter().all(|grounded| *grounded));
}

#[test]
fn acceleration_reaches_top_speed_and_brakes() {
    // 600 a second squared are 10 a tick: 90 after 9 ticks, and after 3 of braking at 30 a tick.
    let drill = Drill::new(time("1s")).hold(time("1t"), "porter", "right", time("20t"));
    let mut encounter = walker(drill);
    if let Some(kind) = encounter.kinds.get_mut("porter") {
        kind.walk = Some(Walk {
            brake: Some(1800.0),
            ..Walk::new(90.0).accel(600.0)
        });
    }
    let seen = watch(&encounter, "porter", |_, view| view.velocity.x);
    for (tick, speed) in [
        (1, 10.0),
        (5, 50.0),
        (9, 90.0),
        (20, 90.0),
        (21, 60.0),
        (23, 0.0),
        (24, 0.0),
    ] {
        assert!(close(seen[tick], speed), "on {tick}: {}", seen[tick]);
    }
}

#[test]
fn in_a_top_view_buttons_go_all_ways_at_one_speed() {
    for (up, way) in [(Up::Plus, 1.0), (Up::Minus, -1.0)] {
        let drill = Drill::new(time("1s"))
            .hold(time("1t"), "porter", "up", time("60t"))
            .hold(time("31t"), "porter", "right", time("30t"));
        let encounter = Encounter::new("top view")
            .arena(Arena {
                bounds: Region::new([-500.0; 2], [500.0; 2]),
                up,
                ..Arena::default()
            })
            .kind("porter", Kind::new().walk(Walk::new(60.0)))
            .place(Placement::new("porter", [0.0, 0.0]))
            .drill("d", drill);
        let seen = watch(&encounter, "porter", |_, view| view.at);
        assert!(close(seen[30].y, 30.0 * way));
        let slant = seen[60] - seen[30];
        assert!(close(slant.length(), 30.0) && close(slant.x, slant.y * way));
    }
}

#[test]
fn a_wall_stops_one_axis_and_not_the_other() {
    // The wall's face is at 40; the body reaches 7: 33 is as far as it gets, while it falls on.
    let drill = Drill::new(time("1s")).hold(time("1t"), "porter", "right", time("1s"));
    let mut encounter = walker(drill);
    encounter
        .arena
        .solids
        .push(Solid::new([40.0, 0.0], [50.0, 300.0]));
    encounter.placements[0].at = [0.0, 200.0].into();
    let seen = watch(&encounter, "porter", |_, view| (view.at, view.velocity));
    assert!(close(seen[30].0.x, 33.0) && seen[30].1.x == 0.0);
    assert!(close(seen[30].1.y, -450.0), "15 a tick");
    assert!(close(seen[60].0.y, 14.0));
}

#[test]
fn round_bodies_rest_and_slide_on_solids_too() {
    let drill = Drill::new(time("2s")).hold(time("1s"), "porter", "right", time("0.5s"));
    let mut encounter = walker(drill);
    if let Some(kind) = encounter.kinds.get_mut("porter") {
        kind.body = Some(BoxSpec::capsule([[0.0, -6.0], [0.0, 6.0]], 8.0));
    }
    encounter.placements[0].at = [0.0, 60.0].into();
    let seen = watch(&encounter, "porter", |_, view| (view.at, view.grounded));
    let (rest, grounded) = seen[59];
    assert!((rest.y - 14.0).abs() < 1e-5 && grounded, "{rest:?}");
    let (end, grounded) = seen[120];
    assert!(
        close(end.x, 45.0) && (end.y - 14.0).abs() < 1e-5 && grounded,
        "{end:?}"
    );
}

#[test]
fn a_one_way_solid_lets_through_from_below_and_holds_from_above() {
    // Its top is at 40; a jump brings the feet to 54.
    let drill = Drill::new(time("2s")).press(time("1t"), "porter", "jump");
    let mut encounter = walker(drill);
    encounter.arena.solids.push(Solid {
        one_way: true,
        ..Solid::new([-30.0, 34.0], [30.0, 40.0])
    });
    let seen = watch(&encounter, "porter", |_, view| view.at.y - 14.0);
    assert!(seen.iter().any(|&feet| feet > 54.0));
    assert!(close(seen[120], 40.0));
}

#[test]
fn a_grounded_actor_leaves_the_edge_one_tick_before_it_falls() {
    // Off the ledge at 10 once the body's rear, 7 behind, is past it: after 12 ticks at 18.
    let drill = Drill::new(time("1s")).hold(time("1t"), "porter", "right", time("1s"));
    let mut encounter = walker(drill);
    encounter.arena.solids[0] = Solid::new([-1000.0, -16.0], [10.0, 0.0]);
    let seen = watch(&encounter, "porter", |_, view| {
        (view.at, view.grounded, view.velocity.y)
    });
    let edge = seen
        .iter()
        .position(|(_, grounded, _)| !grounded)
        .expect("it falls");
    assert_eq!(edge, 12, "17 / 1.5 = 11.33");
    assert_eq!(seen[edge].2, 0.0);
    assert_eq!(seen[edge + 1].2, -15.0);
}

#[test]
fn a_patrol_turns_at_its_ends_and_at_walls() {
    // 20 to 50 at 60 a second: a unit a tick, to 50 on tick 30, back at 20 on 60.
    let patrol = |solid: Option<Solid>| {
        let mut encounter = walker(Drill::new(time("2s")));
        encounter.arena.solids.extend(solid);
        encounter
            .kind(
                "beetle",
                Kind::new()
                    .body(BoxSpec::rectangle(4.0, 4.0))
                    .motion(Motion::patrol(50.0, 20.0, 60.0)),
            )
            .place(Placement::new("beetle", [20.0, 2.0]))
    };
    let seen = watch(&patrol(None), "beetle", |_, view| (view.at.x, view.facing));
    for (tick, x, facing) in [
        (29, 49.0, Facing::Right),
        (30, 50.0, Facing::Right),
        (31, 49.0, Facing::Left),
        (60, 20.0, Facing::Left),
        (61, 21.0, Facing::Right),
    ] {
        assert!(
            close(seen[tick].0, x) && seen[tick].1 == facing,
            "on {tick}: {:?}",
            seen[tick]
        );
    }
    // A wall at 40 stops the body's front at 38 on tick 18; 19 has nowhere to go, 20 turns.
    let wall = Solid::new([40.0, 0.0], [44.0, 9.0]);
    let seen = watch(&patrol(Some(wall)), "beetle", |_, view| view.at.x);
    assert!(
        close(seen[18], 38.0) && close(seen[19], 38.0) && close(seen[20], 37.0),
        "{:?}",
        &seen[17..22]
    );
}

/// A lift of 40 by 8 that goes between two heights at 30 a second: half a unit a tick.
fn lift(low: f64, high: f64) -> Kind {
    Kind::new()
        .solid(BoxSpec::rectangle(40.0, 8.0))
        .motion(Motion::Patrol(Patrol {
            between: Some([low, high]),
            speed: Some(30.0.into()),
            axis: Some(Axis::Y),
            ..Default::default()
        }))
}

#[test]
fn a_lift_carries_who_stands_on_it_up_and_down() {
    let encounter = walker(Drill::new(time("8s")))
        .kind("lift", lift(4.0, 64.0))
        .place(Placement::new("lift", [0.0, 4.0]));
    let mut encounter = encounter;
    encounter.placements[0].at = [0.0, 22.0].into();
    let heights = watch(&encounter, "porter", |_, view| (view.at.y, view.grounded));
    let lifts = watch(&encounter, "lift", |_, view| view.at.y);
    for (tick, ((y, grounded), lift)) in heights.iter().zip(&lifts).enumerate() {
        assert!(
            close(*y, lift + 18.0) && *grounded,
            "on {tick}: {y} over {lift}"
        );
    }
    assert!(close(lifts[120], 64.0) && close(lifts[240], 4.0));
}

#[test]
fn a_lift_carries_sideways_and_a_wall_scrapes_off() {
    let sledge = Kind::new()
        .solid(BoxSpec::rectangle(40.0, 8.0))
        .motion(Motion::patrol(0.0, 100.0, 60.0));
    let mut encounter = walker(Drill::new(time("1s")))
        .kind("sledge", sledge)
        .place(Placement::new("sledge", [0.0, 4.0]));
    encounter.placements[0].at = [0.0, 22.0].into();
    encounter
        .arena
        .solids
        .push(Solid::new([30.0, 12.0], [60.0, 100.0]));
    let seen = watch(&encounter, "porter", |_, view| view.at.x);
    assert!(close(seen[20], 20.0));
    assert!(
        close(seen[60], 23.0),
        "the wall at 30 holds the body's front: {}",
        seen[60]
    );
}

#[test]
fn who_is_squeezed_dies_of_it() {
    // The body is 28 high over a lift whose top starts at 8, under a ceiling at 60: 24 to spare,
    // 48 ticks of half a unit; the next has no room.
    let mut encounter = walker(Drill::new(time("3s")))
        .kind("lift", lift(4.0, 64.0))
        .place(Placement::new("lift", [0.0, 4.0]));
    encounter.placements[0].at = [0.0, 22.0].into();
    encounter
        .arena
        .solids
        .push(Solid::new([-30.0, 60.0], [30.0, 80.0]));
    let replay = replay(&encounter);
    assert_eq!(told(&replay, "death"), [(49, "porter".into())]);
    let death = replay
        .ledger()
        .events()
        .iter()
        .find(|event| event.what.name() == "death");
    assert_eq!(
        replay.line(death.expect("a death")).of.as_deref(),
        Some("squeezed")
    );
}

#[test]
fn a_solid_pushes_who_is_in_its_way() {
    // The sledge's front starts at 20 and comes a unit a tick; the body's rear is at 30 - 7 = 23.
    let sledge = Kind::new()
        .solid(BoxSpec::rectangle(40.0, 20.0))
        .motion(Motion::patrol(0.0, 30.0, 60.0));
    let mut encounter = walker(Drill::new(time("1s")))
        .kind("sledge", sledge)
        .place(Placement::new("sledge", [0.0, 10.0]));
    encounter.placements[0].at = [30.0, 14.0].into();
    let seen = watch(&encounter, "porter", |_, view| view.at.x);
    assert!(close(seen[3], 30.0) && close(seen[4], 31.0) && close(seen[30], 57.0));
    assert!(close(seen[50], 57.0), "it is not pulled back");
}

#[test]
fn turning_an_uneven_body_at_a_wall_shifts_it_clear() {
    // Facing left the body reaches 3 to the right, facing right 12: the wall at 10 takes 9 away.
    let drill = Drill::new(time("0.5s")).press(time("10t"), "porter", "right");
    let mut encounter = walker(drill);
    if let Some(kind) = encounter.kinds.get_mut("porter") {
        kind.body = Some(BoxSpec::rectangle(15.0, 28.0).at(4.5, 0.0));
    }
    encounter.placements[0].at = [6.0, 14.0].into();
    encounter.placements[0].facing = Facing::Left;
    encounter
        .arena
        .solids
        .push(Solid::new([10.0, 0.0], [20.0, 100.0]));
    let seen = watch(&encounter, "porter", |_, view| (view.at.x, view.alive));
    assert!(close(seen[30].0, -2.0) && seen[30].1, "{:?}", seen[30]);
}

#[test]
fn outside_the_arena_is_what_the_kind_says() {
    // Falls from 490 below the arena's floor at -500 with nothing beneath.
    for (outside, event) in [
        (Outside::Stays, None),
        (Outside::Dies, Some("death")),
        (Outside::Vanishes, Some("vanish")),
    ] {
        let mut encounter = walker(Drill::new(time("3s")));
        encounter.arena.solids.clear();
        if let Some(kind) = encounter.kinds.get_mut("porter") {
            kind.outside = Some(outside);
        }
        let replay = replay(&encounter);
        // 7.5 k (k + 1) / 60 > 14 + 14 + 500 first for k = 65: 536.25.
        let expected: Vec<(u32, String)> = event
            .map(|_| (65, "porter".to_owned()))
            .into_iter()
            .collect();
        for name in ["death", "vanish"] {
            let told = told(&replay, name);
            assert_eq!(
                told,
                if event == Some(name) {
                    expected.clone()
                } else {
                    vec![]
                },
                "{outside:?}"
            );
        }
    }
}

#[test]
fn a_fall_is_counted_to_who_pushed_within_three_seconds() {
    // Struck on tick 0, and pushed off the ledge; out of the arena some time after.
    for (bottom, by) in [(-500.0, Some("thorn")), (-9000.0, None)] {
        let mut encounter = walker(Drill::new(time("6s")));
        encounter.arena.bounds.min[1] = bottom;
        encounter.arena.solids[0] = Solid::new([-1000.0, -16.0], [5.0, 0.0]);
        let kind = encounter.kinds.remove("porter").expect("there");
        let kind = kind
            .outside(Outside::Dies)
            .hurtbox("torso", BoxSpec::circle(5.0));
        let encounter = encounter
            .kind("porter", kind)
            .kind("thorn", Kind::new().hitbox("tip", BoxSpec::circle(5.0)))
            .place(Placement::new("thorn", [-3.0, 14.0]))
            .rule(
                tin_crown::Rule::new("prick", "thorn", "porter")
                    .knockback(300.0, 50.0)
                    .repeat(tin_crown::encounter::Repeat::PerAttack),
            );
        let replay = replay(&encounter);
        let death = replay
            .ledger()
            .events()
            .iter()
            .find(|event| event.what.name() == "death");
        let line = replay.line(death.expect("it falls out"));
        assert_eq!(
            line.by.as_deref(),
            by,
            "fell to {bottom} on tick {}",
            line.tick
        );
        assert_eq!(line.cause.is_some(), by.is_some());
    }
}
