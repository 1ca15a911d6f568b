//! Stomps, gates and precedence, worked out on paper.
//!
//! The hero's boots are 10 by 4, 14 below its middle: their soles are 16 below it. The beetle stands
//! with its middle at 8: horns from 0 to 10 (13 to each side), the lid from 12 to 16 (9 to each
//! side). Gravity is 900: 15 a tick. Falling from rest the hero has come 0.125 k (k + 1) after k
//! ticks, at 15 k a second.

use tin_crown::encounter::{Approach, Region, Solid, Walk};
use tin_crown::{
    Arena, BoxSpec, Drill, Encounter, Facing, Gate, Kind, MeterSpec, Motion, Placement, Rule,
    Verdict,
};

use crate::stage::*;

const STOMP: &str = "boots crush lid";
const GORE: &str = "horns gore hero";

fn hero() -> Kind {
    Kind::new()
        .side("crown")
        .player()
        .body(BoxSpec::rectangle(14.0, 28.0))
        .walk(Walk::new(90.0).jump(320.0))
        .meter("health", MeterSpec::new(4.0))
        .hitbox("boots", BoxSpec::rectangle(10.0, 4.0).at(0.0, -14.0))
        .hurtbox("torso", BoxSpec::rectangle(12.0, 20.0).at(0.0, 2.0))
        .invincible_after_hit(time("0.5s"))
}

fn beetle(health: f64) -> Kind {
    Kind::new()
        .side("attic")
        .meter("health", MeterSpec::new(health))
        .hitbox("horns", BoxSpec::rectangle(26.0, 10.0).at(0.0, -3.0))
        .hurtbox("lid", BoxSpec::rectangle(18.0, 4.0).at(0.0, 6.0))
}

fn stomp() -> Rule {
    Rule::new(STOMP, "hero.boots", "beetle.lid")
        .gate(Gate::coming_from(Approach::Above).falling_at_least(30.0))
        .damage(1.0)
        .rebound(260.0)
        .beats(GORE)
}

fn gore() -> Rule {
    Rule::new(GORE, "beetle.horns", "hero.torso")
        .damage(1.0)
        .knockback(140.0, 120.0)
}

/// A hero at a place over a floor at 0, and a beetle with some health at 0.
fn meet(at: [f64; 2], health: f64, drill: Drill) -> Encounter {
    Encounter::new("stomp")
        .arena(Arena {
            bounds: Region::new([-400.0, -100.0], [400.0, 400.0]),
            gravity: 900.0,
            solids: vec![Solid::new([-400.0, -100.0], [400.0, 0.0])],
            ..Arena::default()
        })
        .kind("hero", hero())
        .kind("beetle", beetle(health))
        .place(Placement::new("hero", at))
        .place(Placement::new("beetle", [0.0, 8.0]))
        .rule(stomp())
        .rule(gore())
        .drill("d", drill)
}

/// The hits told: tick, rule and verdict.
fn hits(encounter: &Encounter) -> Vec<(u32, String, Verdict)> {
    let replay = replay(encounter);
    let mut hits = Vec::new();
    for verdict in Verdict::ALL {
        let told = with_verdict(&replay, verdict).into_iter();
        hits.extend(told.map(|(tick, rule)| (tick, rule, verdict)));
    }
    hits.sort();
    hits
}

fn still(length: &str) -> Drill {
    Drill::new(time(length))
}

fn expect(encounter: &Encounter, expected: &[(u32, &str, Verdict)]) {
    let hits = hits(encounter);
    let hits: Vec<(u32, &str, Verdict)> =
        hits.iter().map(|(t, r, v)| (*t, r.as_str(), *v)).collect();
    assert_eq!(hits, expected);
}

use Verdict::{Beaten, Invincible, Landed};

#[test]
fn from_above_it_is_crushed_and_the_hero_bounces() {
    // From 60 the soles, at 44, have 28 to fall to 16: 0.125 k (k + 1) = 28 between k = 14 (26.25)
    // and 15 (30). On tick 15 it falls at 225, and bounces at 260.
    let encounter = meet([0.0, 60.0], 1.0, still("0.5s"));
    expect(&encounter, &[(15, STOMP, Landed)]);
    let seen = watch(&encounter, "hero", |_, view| view.velocity.y);
    assert_eq!((seen[14], seen[15], seen[16]), (-210.0, 260.0, 245.0));
    assert_eq!(told(&replay(&encounter), "death"), [(15, "beetle".into())]);
}

#[test]
fn head_on_it_gores() {
    // The torso's front is 6 ahead; from -60 it has 60 - 13 - 6 = 41 to go at 1.5: tick 28. The boots
    // (5 ahead, -2 to 2) pass below the lid.
    let drill = still("0.6s").hold(time("1t"), "hero", "right", time("1s"));
    expect(&meet([-60.0, 14.0], 1.0, drill), &[(28, GORE, Landed)]);
}

#[test]
fn from_above_while_rising_it_does_neither() {
    // Boots and lid overlap from the first tick, while the hero jumps up through the beetle.
    let mut encounter = meet(
        [0.0, 26.0],
        1.0,
        still("0.1s").press(time("1t"), "hero", "jump"),
    );
    // Something to jump from, right beneath the body, and no horns to speak of.
    encounter
        .arena
        .solids
        .push(Solid::new([-3.0, 0.0], [3.0, 12.0]));
    encounter.rules.remove(1);
    encounter.rules[0].beats.clear();
    let replay = replay(&encounter);
    assert!(landed(&replay).is_empty());
    let first = replay
        .ledger()
        .events()
        .iter()
        .find(|event| event.what.name() == "hit");
    let line = replay.line(first.expect("they touch"));
    // The soles start at 26 - 16 = 10, and the lid's top is at 16.
    assert_eq!(
        (line.gate.as_deref(), line.have, line.need),
        (Some("above"), Some(10.0), Some(16.0))
    );
}

#[test]
fn coming_down_is_asked_of_the_pair_and_not_of_the_hero_alone() {
    // Both fall, the beetle 60 a second faster: it draws away from the boots, which start above.
    // Then the other way round.
    for (ahead, verdicts) in [(60.0, vec![]), (-60.0, vec![(1, STOMP, Landed)])] {
        let mut encounter = meet([0.0, 132.0], 1.0, still("2t"));
        encounter.rules.truncate(1);
        encounter.rules[0].beats.clear();
        encounter.arena.solids.clear();
        for (kind, down) in [("hero", 200.0), ("beetle", 200.0 + ahead)] {
            let kind = encounter.kinds.get_mut(kind).expect("there");
            (kind.walk, kind.body, kind.gravity) = (None, None, Some(0.0));
            kind.motion = Some(Motion::Patrol(tin_crown::encounter::Patrol {
                between: Some([-90.0, 390.0]),
                speed: Some(down.into()),
                axis: Some(tin_crown::encounter::Axis::Y),
                ..Default::default()
            }));
        }
        // A patrol along y begins upward: turned over at once by a start at its upper end.
        encounter.placements[0].at = [0.0, 390.0].into();
        encounter.placements[1].at = [0.0, 366.5].into();
        encounter.kinds.get_mut("beetle").expect("there").motion =
            Some(Motion::Patrol(tin_crown::encounter::Patrol {
                between: Some([-90.0, 366.5]),
                speed: Some((200.0 + ahead).into()),
                axis: Some(tin_crown::encounter::Axis::Y),
                ..Default::default()
            }));
        // The soles are at 374, half a unit inside the lid's top: the margin lets that pass.
        encounter.rules[0].gate.margin = Some(1.0);
        let landed: Vec<_> = hits(&encounter)
            .into_iter()
            .filter(|hit| hit.2 == Landed)
            .collect();
        let landed: Vec<_> = landed
            .iter()
            .map(|(t, r, v)| (*t, r.as_str(), *v))
            .collect();
        assert_eq!(landed, verdicts, "{ahead}");
    }
}

#[test]
fn from_below_through_a_thin_floor_it_does_neither() {
    // A head bump: the hero jumps under a one-way shelf on which the beetle stands. The boots never
    // pass the lid's top; the horns are asked not to reach down.
    let mut encounter = meet(
        [0.0, 14.0],
        1.0,
        still("1s").press(time("1t"), "hero", "jump"),
    );
    encounter.arena.solids.push(Solid {
        one_way: true,
        ..Solid::new([-60.0, 40.0], [60.0, 44.0])
    });
    encounter.placements[1].at = [0.0, 52.0].into();
    encounter.rules[1] = gore().gate(Gate::coming_from(Approach::Front));
    encounter.placements[1].facing = Facing::Left;
    let landed: Vec<_> = hits(&encounter)
        .into_iter()
        .filter(|hit| hit.2 == Landed)
        .collect();
    // At equal x the beetle, which faces left, comes from behind itself: from the right, where the
    // hero looks. So the horns may, and the boots on the way up may not.
    assert_eq!(
        landed.iter().filter(|(_, rule, _)| rule == STOMP).count(),
        0,
        "{landed:?}"
    );
}

#[test]
fn corner_on_corner_touching_is_not_a_hit() {
    // Boots reach 5 to the side and the lid 9: at 14 their edges only touch.
    for (x, lands) in [(-14.0, false), (-13.9, true)] {
        let mut encounter = meet([x, 60.0], 1.0, still("15t"));
        encounter.rules.truncate(1);
        encounter.rules[0].beats.clear();
        assert_eq!(!hits(&encounter).is_empty(), lands, "{x}");
    }
}

#[test]
fn no_fall_is_too_fast_for_the_lid() {
    // From 332 the soles have 300 to fall, which takes 49 ticks (306.25) and ends at 735 a second:
    // 12.25 in a tick, through a lid 4 thick.
    let encounter = meet([0.0, 332.0], 1.0, still("1s"));
    assert_eq!(hits(&encounter)[0], (49, STOMP.into(), Landed));
}

#[test]
fn landing_on_two_at_once_crushes_both() {
    let mut encounter = meet([0.0, 60.0], 1.0, still("0.4s"));
    encounter.placements[1].id = Some("left".into());
    encounter.placements[1].at = [-10.0, 8.0].into();
    let encounter = encounter.place(Placement::new("beetle", [10.0, 8.0]).id("right"));
    expect(&encounter, &[(15, STOMP, Landed), (15, STOMP, Landed)]);
}

#[test]
fn with_health_left_the_rebound_carries_clear_and_the_horns_stay_beaten() {
    // On tick 15 the hero ends with its soles at 44 - 30 = 14: the torso, from 22 up, is clear of the
    // horns. A wider horn that reaches up to 30 would gore on the same tick, and is beaten until the
    // two part.
    let mut encounter = meet([0.0, 60.0], 3.0, still("0.9s"));
    let wide = BoxSpec::rectangle(26.0, 30.0).at(0.0, 7.0);
    let kind = encounter.kinds.get_mut("beetle").expect("there");
    kind.hitboxes.insert("horns".into(), wide);
    let hits = hits(&encounter);
    // The horns reach 30: the torso (8 below the middle) is inside from 60 - 38 = 22 of fall, k = 13.
    assert_eq!(
        hits[0],
        (13, GORE.into(), Landed),
        "goring comes first when the horns stand out"
    );
    // As high as the lid they do not.
    let kind = encounter.kinds.get_mut("beetle").expect("there");
    kind.hitboxes
        .insert("horns".into(), BoxSpec::rectangle(26.0, 22.0).at(0.0, 3.0));
    let replay = replay(&encounter);
    let gored = with_verdict(&replay, Landed)
        .iter()
        .filter(|(_, rule)| rule == GORE)
        .count();
    assert_eq!(gored, 0, "{:?}", self::hits(&encounter));
    let health: Vec<_> = with_verdict(&replay, Landed)
        .into_iter()
        .map(|(tick, _)| tick)
        .collect();
    // Thrown up at 260 on 15: up and back in 2 * 260 / 15 - 1 = 33.7 ticks, so down on tick 49.
    assert_eq!(health, [15, 49], "two stomps in a row");
}

#[test]
fn the_horns_stay_beaten_until_the_two_part_and_not_for_ever() {
    // The stomp wins on tick 15 and gives no bounce: the hero sinks into the beetle and stays.
    let mut encounter = meet([0.0, 60.0], 9.0, still("1.5s"));
    encounter.rules[0].rebound = None;
    let hits = hits(&encounter);
    let gored: Vec<_> = hits
        .iter()
        .filter(|(_, rule, _)| rule == GORE)
        .map(|(t, _, v)| (*t, *v))
        .collect();
    // The soles start above only on tick 15: that is the last win. The torso (from y + 2 - 10) is
    // under 10 once the middle is under 18, a fall of 42: k = 18 (42.75). Beaten then, for 0.5 s from
    // tick 15: up to tick 44. The knockback of 45 throws the hero clear.
    assert_eq!(gored, [(18, Beaten), (45, Landed), (46, Invincible)]);
}

#[test]
fn landing_on_one_that_is_invincible_still_bounces() {
    // The beetle cannot be hurt for 2 s after the first stomp; the second, on 49, bounces all the
    // same.
    let mut encounter = meet([0.0, 60.0], 3.0, still("1.2s"));
    encounter
        .kinds
        .get_mut("beetle")
        .expect("there")
        .invincible
        .after_hit = Some(time("2s"));
    let told: Vec<_> = hits(&encounter)
        .into_iter()
        .map(|(t, r, v)| (t, r == STOMP, v))
        .collect();
    assert_eq!(told, [(15, true, Landed), (49, true, Invincible)]);
    let seen = watch(&encounter, "hero", |_, view| view.velocity.y);
    assert_eq!((seen[15], seen[49]), (260.0, 260.0));
}

#[test]
fn of_two_lids_the_one_that_passes_counts() {
    // A crest 4 higher than the lid is touched first, on tick 14, by soles that start above it; a
    // ledge at the side, up to 60, is inside from the start and never passes.
    let mut encounter = meet([0.0, 60.0], 3.0, still("15t"));
    let kind = encounter.kinds.get_mut("beetle").expect("there");
    kind.hurtboxes
        .insert("ledge".into(), BoxSpec::rectangle(8.0, 50.0).at(6.0, 27.0));
    kind.hurtboxes
        .insert("crest".into(), BoxSpec::rectangle(18.0, 4.0).at(0.0, 10.0));
    encounter.rules[0].hurtbox = "beetle".into();
    let replay = replay(&encounter);
    let lines: Vec<_> = replay
        .ledger()
        .events()
        .iter()
        .filter(|event| event.what.name() == "hit")
        .map(|event| {
            let line = replay.line(event);
            (
                event.tick.0,
                line.hurtbox.unwrap().into_owned(),
                line.verdict.unwrap().into_owned(),
            )
        })
        .collect();
    // Soles at 44, the crest's top at 20: 24 to fall, k = 14 (26.25).
    assert_eq!(lines[0], (0, "ledge".into(), "gate".into()));
    assert_eq!(lines[1], (14, "crest".into(), "landed".into()));
}

#[test]
fn falling_beside_one_that_falls_nearly_as_fast() {
    // 2 a second faster is not closing at 30, and says so with its numbers; the hero's own 200 would
    // be falling fast enough.
    let mut encounter = meet([0.0, 390.0], 1.0, still("20t"));
    encounter.arena.solids.clear();
    encounter.rules.truncate(1);
    encounter.rules[0].beats.clear();
    encounter.rules[0].gate = Gate::coming_from(Approach::Above).closing_at_least(30.0);
    for (kind, low, high, speed) in [
        ("hero", -90.0, 390.0, 202.0),
        ("beetle", -90.0, 365.9, 200.0),
    ] {
        let kind = encounter.kinds.get_mut(kind).expect("there");
        (kind.walk, kind.body, kind.gravity) = (None, None, Some(0.0));
        kind.motion = Some(Motion::Patrol(tin_crown::encounter::Patrol {
            between: Some([low, high]),
            speed: Some(speed.into()),
            axis: Some(tin_crown::encounter::Axis::Y),
            ..Default::default()
        }));
    }
    encounter.placements[1].at = [0.0, 365.9].into();
    let replay = replay(&encounter);
    // Soles at 374, the lid's top at 373.9: 0.1 apart, at 2 / 60 a tick: they touch after 3 ticks, overlap on the 4th.
    let hit = replay
        .ledger()
        .events()
        .iter()
        .find(|event| event.what.name() == "hit")
        .expect("they touch");
    let line = replay.line(hit);
    assert_eq!(
        (hit.tick.0, line.gate.as_deref(), line.need),
        (4, Some("closing"), Some(30.0))
    );
    assert!((line.have.expect("a number") - 2.0).abs() < 1e-9);
    assert_eq!(replay.told(hit), "nothing: closing 2/s, the rule asks 30/s");
}

#[test]
fn a_chain_counts_until_the_ground() {
    let mut encounter = meet([0.0, 60.0], 9.0, still("2.5s"));
    encounter.rules[0].chain = true;
    if let Some(damage) = &mut encounter.rules[0].does.damage {
        damage.chain_add = Some(1.0);
        damage.chain_most = Some(3.0);
    }
    let replay = replay(&encounter);
    let chain: Vec<_> = replay
        .ledger()
        .events()
        .iter()
        .filter_map(|event| {
            let line = replay.line(event);
            Some((event.tick.0, line.chain?, line.amount?))
        })
        .collect();
    // Bounced at 260 the hero is 260 k / 60 - 0.125 k (k + 1) higher after k ticks: 2.75 after 33 and
    // -1.42 after 34. The boots reach the lid at 32. From 30 that takes 34, down to 28.58; from there
    // 33, to 31.33; and from there 34 again.
    assert_eq!(
        chain,
        [(15, 1, 1.0), (49, 2, 2.0), (82, 3, 3.0), (116, 4, 3.0)]
    );
}

#[test]
fn a_cycle_of_beats_shows_itself() {
    let encounter = meet([0.0, 60.0], 1.0, still("1s"));
    let mut encounter = encounter.rule(
        Rule::new("third", "hero.boots", "beetle.lid")
            .damage(1.0)
            .beats(STOMP),
    );
    encounter.rules[1].beats.push("third".into());
    let findings = encounter.plan().expect_err("a circle").to_string();
    assert!(
        findings.contains(
            "`boots crush lid` beats `horns gore hero` beats `third` beats `boots crush lid`"
        ),
        "{findings}"
    );
}

#[test]
fn a_rebound_is_higher_while_jump_is_held() {
    for (held, speed) in [(false, 260.0), (true, 340.0)] {
        let mut drill = still("0.5s");
        if held {
            drill = drill.hold(time("10t"), "hero", "jump", time("20t"));
        }
        let mut encounter = meet([0.0, 60.0], 1.0, drill);
        let rebound = encounter.rules[0].rebound.as_mut().expect("it has one");
        rebound.up_held = Some(340.0);
        let seen = watch(&encounter, "hero", |_, view| view.velocity.y);
        assert_eq!(seen[15], speed);
    }
}

#[test]
fn a_rule_may_say_how_long_others_stay_beaten() {
    // As above, won on 15: beaten for 10 ticks up to 24, so that the horns gore on 25.
    let mut encounter = meet([0.0, 60.0], 9.0, still("0.6s"));
    encounter.rules[0].rebound = None;
    encounter.rules[0].beats_for = Some(time("10t"));
    let gored = hits(&encounter)
        .into_iter()
        .find(|(_, rule, verdict)| rule == GORE && *verdict == Landed);
    assert_eq!(gored.map(|(tick, ..)| tick), Some(25));
}
