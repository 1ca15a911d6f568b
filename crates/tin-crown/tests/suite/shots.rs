//! Shots, worked out on paper. At 60 ticks a second, unless a test says otherwise.

use tin_crown::Verdict;

use crate::stage::{landed, lines, played, text_replay, with_verdict};

/// A gunner at the origin who faces right and fires with `shoot`; whatever a test adds.
pub fn gunner(launcher: &str, rest: &str) -> String {
    format!(
        r##"edition = 1
title = "shots"
[arena]
bounds = {{ min = [-1000, -1000], max = [1000, 1000] }}
[kind.gunner]
tags = ["gunner"]
{launcher}
[[place]]
kind = "gunner"
at = [0, 0]
{rest}"##
    )
}

pub const SHOOT: &str = r#"
[drill.d]
length = "400t"
input = [{ when = "10t", who = "gunner", hold = "shoot", for = "40t" }]
"#;

/// The ticks of the lines of an event.
pub fn ticks(text: &str, event: &str) -> Vec<u32> {
    lines(text, event).iter().map(|line| line.tick).collect()
}

#[test]
fn one_press_one_shot_however_long_the_button_is_held() {
    let gun = |more: &str| {
        let launcher = format!(
            "meter.corks = {{ max = 6, start = 3 }}\nlauncher.pop = {{ launches = \"cork\", button = \
             \"shoot\", speed = 60, ammo = {{ meter = \"corks\" }}, {more} }}\n[kind.cork]\nlifetime = \"9t\""
        );
        gunner(&launcher, SHOOT)
    };
    let press = gun("on = \"press\"");
    assert_eq!(ticks(&press, "shot"), [10]);
    let spent: Vec<_> = lines(&press, "meter")
        .iter()
        .map(|line| (line.before, line.after, line.cause))
        .collect();
    let shot = lines(&press, "shot")[0].id;
    assert_eq!(spent, [(Some(3.0), Some(2.0), shot)]);
    // Held on 10 … 49 with 15 ticks of cooldown: 10, 25, 40. With 12: the fourth, on 46, is dry.
    assert_eq!(
        ticks(&gun("on = \"hold\", cooldown = \"15t\""), "shot"),
        [10, 25, 40]
    );
    let four = gun("on = \"hold\", cooldown = \"12t\"");
    assert_eq!(ticks(&four, "shot"), [10, 22, 34]);
    let dry = lines(&four, "dry-fire");
    assert_eq!(
        (dry[0].tick, dry[0].of.as_deref(), dry.len()),
        (46, Some("ammo"), 1)
    );
    // A volley of 3, 5 ticks apart, is paid for shot by shot; in flight at most 2 of 9 ticks each.
    assert_eq!(
        ticks(&gun("volley = { shots = 3, every = \"5t\" }"), "shot"),
        [10, 15, 20]
    );
    let limited = gun("on = \"hold\", cooldown = \"4t\", in_flight = 2");
    // 10 and 14 are there until 19 and 23: on 18 too many, on 22 one is gone.
    assert_eq!(ticks(&limited, "shot"), [10, 14, 22]);
    let first = &lines(&limited, "dry-fire")[0];
    assert_eq!((first.tick, first.of.as_deref()), (18, Some("in-flight")));
}

#[test]
fn a_launched_thing_is_there_for_its_lifetime_and_moves_from_its_second_tick() {
    let text = gunner(
        "launcher.pop = { launches = \"cork\", button = \"shoot\", speed = 60, muzzle = [5, 2] }\n\
         [kind.cork]\nlifetime = \"9t\"",
        SHOOT,
    );
    // Appears on 10 at the muzzle, is there on 10 … 18: 9 ticks, 8 motions of 1 unit.
    let path = played(&text, "gunner.pop.1", |tick, view| {
        (tick, view.at.x, view.at.y)
    });
    assert_eq!(path.first(), Some(&(10, 5.0, 2.0)));
    assert_eq!(path.last(), Some(&(18, 13.0, 2.0)));
    assert_eq!(path.len(), 9);
    let gone = &lines(&text, "vanish")[0];
    assert_eq!((gone.tick, gone.of.as_deref()), (19, Some("lifetime")));
}

/// A target that goes up at 30 a second, 200 away and level with the gun on tick 1.
fn crossing(turns_at: f64, aim: &str) -> String {
    gunner(
        &format!(
            "launcher.pop = {{ launches = \"cork\", button = \"shoot\", speed = 50, aim = {aim} }}\n\
             [kind.cork]\nhitbox.tip = {{ radius = 1 }}\nlifetime = \"10s\"\n\
             [kind.kite]\nhurtbox.sail = {{ radius = 1 }}\n\
             motion.patrol = {{ axis = \"y\", between = [-500, {turns_at}], speed = 30 }}"
        ),
        "[kind.kite.meter.health]\nmax = 1\n[[place]]\nkind = \"kite\"\nat = [200, -0.5]\n\
         [[rule]]\nname = \"r\"\nhitbox = \"cork.tip\"\nhurtbox = \"kite.sail\"\ndamage = 1\n\
         [drill.d]\nlength = \"500t\"\n\
         input = [{ when = \"1t\", who = \"gunner\", press = \"shoot\" }]\n",
    )
}

#[test]
fn a_shot_that_leads_meets_its_target_dead_centre() {
    let text = crossing(400.0, "{ lead = \"kite\" }");
    // 200 ahead, the target goes up at 30 and the shot flies at 50: a triangle of 3, 4 and 5, so the
    // shot flies at 40 ahead and 30 up, and they meet after 5 s, at (200, 150).
    let cork = played(&text, "gunner.pop.1", |tick, view| {
        (tick, view.at, view.velocity)
    });
    let (tick, at, velocity) = cork[0];
    assert_eq!((tick, at.x, at.y), (1, 0.0, 0.0));
    assert!((velocity.x - 40.0).abs() < 1e-9 && (velocity.y - 30.0).abs() < 1e-9);
    let kite = played(&text, "kite", |tick, view| (tick, view.at.y));
    for (tick, at, _) in cork {
        let level = kite[tick as usize].1;
        assert!(
            (at.y - level).abs() < 1e-9,
            "level on tick {tick}: {} {level}",
            at.y
        );
    }
    // The circles of 1 meet 2 apart: after 198 of 200 units, 297 ticks after tick 1. The two overlap
    // from the beginning of tick 299 on.
    let hit = &lines(&text, "hit")[0];
    assert_eq!(
        (hit.tick, hit.verdict.as_deref(), hit.moment),
        (299, Some("landed"), Some(0.0))
    );
    // It turns round at 60 up, on tick 121: the shot flies by.
    let miss = crossing(60.0, "{ lead = \"kite\" }");
    assert!(lines(&miss, "hit").is_empty());
    // Aimed at where it stands, it misses as well.
    assert!(lines(&crossing(400.0, "{ at = \"kite\" }"), "hit").is_empty());
}

#[test]
fn without_an_intercept_it_is_aimed_where_the_target_stands() {
    // The target goes away as fast as the shot.
    let text = crossing(400.0, "{ lead = \"kite\" }")
        .replace("speed = 50", "speed = 30")
        .replace("at = [200, -0.5]", "at = [0, 99.5]");
    let cork = played(&text, "gunner.pop.1", |_, view| view.velocity);
    assert_eq!((cork[0].x, cork[0].y), (0.0, 30.0));
    assert!(lines(&text, "hit").is_empty());
}

/// Foes of 4 by 4 in a row, and a shot of 100 units a tick.
fn row(targets: &str, foes: &[f64], solids: &str) -> String {
    let placed: Vec<String> = foes
        .iter()
        .enumerate()
        .map(|(nth, x)| format!("[[place]]\nkind = \"foe\"\nid = \"foe_{nth}\"\nat = [{x}, 0]\n"))
        .collect();
    gunner(
        &format!(
            "launcher.pop = {{ launches = \"bolt\", button = \"shoot\", speed = 6000 }}\n[kind.bolt]\n\
             hitbox.tip = {{ radius = 1 }}\nbody = {{ radius = 1 }}\nlifetime = \"1s\"\n{targets}\n\
             leaves = [{{ kind = \"puff\" }}]\n[kind.puff]\nlifetime = \"3t\"\n\
             [kind.foe]\nmeter.health = {{ max = 3 }}\nhurtbox.all = {{ size = [4, 4] }}"
        ),
        &format!(
            "{}[[rule]]\nname = \"bolt\"\nhitbox = \"bolt.tip\"\nhurtbox = \"foe.all\"\ndamage = 1\n\
             [drill.d]\nlength = \"9t\"\ninput = [{{ when = \"1t\", who = \"gunner\", press = \"shoot\" }}]\n",
            placed.concat()
        ),
    )
    .replace("max = [1000, 1000] }", &format!("max = [1000, 1000] }}\nsolids = [{solids}]"))
}

#[test]
fn a_shot_hits_as_many_as_it_may_nearest_first() {
    let struck = |text: &str| -> Vec<(u32, String)> {
        let landed = lines(text, "hit").into_iter();
        let landed = landed.filter(|line| line.verdict.as_deref() == Some("landed"));
        landed
            .map(|line| (line.tick, line.whom.unwrap_or_default().to_string()))
            .collect()
    };
    let hit = |names: &[&str]| -> Vec<(u32, String)> {
        names.iter().map(|name| (2, (*name).to_owned())).collect()
    };
    // It appears on 1 at 0, and goes 100 on 2: through foes at 30, 50 and 70.
    let foes = [70.0, 30.0, 50.0];
    assert_eq!(struck(&row("", &foes, "")), hit(&["foe_1"]));
    let two = row("flight.targets = 2", &foes, "");
    assert_eq!(struck(&two), hit(&["foe_1", "foe_2"]));
    // It ends where it touched the second: its front 1 before 50 - 2, after 47 of 100 units, rounded
    // down to 1925 / 4096 of the tick. What it leaves is there on the next tick.
    let end = &lines(&two, "vanish")[0];
    let x = 100.0 * 1925.0 / 4096.0;
    assert_eq!(
        (end.tick, end.of.as_deref(), end.x),
        (2, Some("hit"), Some(x))
    );
    let puff = lines(&two, "appear")
        .into_iter()
        .find(|line| line.tick == 3);
    let puff = puff.expect("a puff");
    assert_eq!(
        (puff.who.as_deref(), puff.x),
        (Some("gunner.pop.1.puff.1"), Some(x))
    );
    assert_eq!(puff.root.as_deref(), Some("gunner"));
    assert_eq!(puff.cause, end.id);
    // A wall from 60 on: it has hit the two before it first, and not the one behind.
    let wall = "{ min = [60, -50], max = [64, 50] }";
    let walled = row("flight.targets = 3", &foes, wall);
    assert_eq!(struck(&walled), hit(&["foe_1", "foe_2"]));
    let end = &lines(&walled, "vanish")[0];
    assert_eq!((end.tick, end.of.as_deref()), (2, Some("solid")));
    assert!(
        (end.x.unwrap_or_default() - 59.0).abs() < 1e-5,
        "{:?}",
        end.x
    );
    // A foe that the wall covers in part is hit as far as the shot gets: at 59 its front is at 60.
    let half = row("flight.targets = 3", &[61.0], wall);
    assert_eq!(struck(&half), hit(&["foe_0"]));
}

#[test]
fn a_shot_born_inside_its_target_hits_on_its_first_tick() {
    let replay = text_replay(&row("", &[1.0], ""));
    assert_eq!(
        with_verdict(&replay, Verdict::Landed),
        [(1, "bolt".to_owned())]
    );
    let hit = &lines(&row("", &[1.0], ""), "hit")[0];
    assert_eq!(hit.moment, Some(1.0));
    // Born inside a wall it ends there, on the same tick.
    let inside = row("", &[500.0], "{ min = [-5, -50], max = [64, 50] }");
    let end = &lines(&inside, "vanish")[0];
    assert_eq!(
        (end.tick, end.of.as_deref(), end.x),
        (1, Some("solid"), Some(0.0))
    );
}

#[test]
fn a_shot_and_a_foe_that_end_each_other_are_both_recorded() {
    // The bolt has a hurtbox and health, the foe a hitbox: both on one tick, at one moment.
    let text = row("hurtbox.all = { radius = 1 }\nmeter.health = { max = 1 }", &[30.0], "")
        .replace("meter.health = { max = 3 }", "meter.health = { max = 1 }\nhitbox.all = { size = [4, 4] }")
        .replace(
            "[drill.d]",
            "[[rule]]\nname = \"foe\"\nhitbox = \"foe.all\"\nhurtbox = \"bolt.all\"\ndamage = 1\n[drill.d]",
        );
    let hits: Vec<_> = lines(&text, "hit")
        .into_iter()
        .map(|line| {
            (
                line.tick,
                line.who.unwrap_or_default(),
                line.rule.unwrap_or_default(),
            )
        })
        .collect();
    assert_eq!(
        hits,
        [
            (2, "gunner.pop.1".into(), "bolt".into()),
            (2, "foe_0".into(), "foe".into())
        ]
    );
    let deaths: Vec<_> = lines(&text, "death")
        .into_iter()
        .map(|line| (line.tick, line.who, line.by))
        .collect();
    // The bolt's hit is to its maker's credit. The bolt itself has ended by its hit.
    assert_eq!(deaths, [(2, Some("foe_0".into()), Some("gunner".into()))]);
    assert_eq!(ticks(&text, "vanish"), [2, 6]);
}

#[test]
fn two_shots_can_meet() {
    let text = r##"edition = 1
title = "two shots"
[arena]
bounds = { min = [-500, -500], max = [500, 500] }
[kind.gun]
launcher.g = { launches = "bolt", clock = { first = "1t", every = "9s" }, speed = 1200 }
[kind.bolt]
hitbox.tip = { radius = 1 }
hurtbox.all = { radius = 1 }
meter.health = { max = 1 }
lifetime = "1s"
[[place]]
kind = "gun"
id = "a"
at = [-50, 0]
[[place]]
kind = "gun"
id = "b"
at = [50, 0]
facing = "left"
[[rule]]
name = "meet"
hitbox = "bolt.tip"
hurtbox = "bolt.all"
damage = 1
[drill.d]
length = "30t"
"##;
    // 20 a tick each, 100 apart, touching at 2: 98 / 40 = 2.45 ticks after tick 1: on tick 4, at 0.45.
    let hits: Vec<_> = lines(text, "hit")
        .into_iter()
        .map(|line| (line.tick, line.moment, line.verdict))
        .collect();
    let at = (0.45_f64 * 4096.0).floor() / 4096.0;
    assert_eq!(
        hits,
        [
            (4, Some(at), Some("landed".into())),
            (4, Some(at), Some("landed".into()))
        ]
    );
    assert_eq!(ticks(text, "vanish"), [4, 4]);
}

#[test]
fn a_shot_that_leaves_the_arena_is_gone_that_tick() {
    let text = gunner(
        "launcher.pop = { launches = \"cork\", button = \"shoot\", speed = 60, muzzle = [990, 0] }\n\
         [kind.cork]\nhitbox.tip = { radius = 2 }\nlifetime = \"9s\"",
        SHOOT,
    );
    // On 10 at 990, 1 a tick: on 22 at 1002 its edge is on the arena's, on 23 it is wholly outside.
    let gone = &lines(&text, "vanish")[0];
    assert_eq!(
        (gone.tick, gone.of.as_deref(), gone.x),
        (23, Some("edge"), Some(1003.0))
    );
    let path = played(&text, "gunner.pop.1", |tick, _| tick);
    assert_eq!(path.last(), Some(&22));
}

#[test]
fn bounces_are_counted_and_keep_a_share_of_the_speed() {
    let text = gunner(
        "launcher.pop = { launches = \"ball\", button = \"shoot\", speed = 600 }\n[kind.ball]\n\
         body = { radius = 1 }\nlifetime = \"9s\"\nflight = { bounces = 1, keeps = 0.5 }",
        SHOOT,
    )
    .replace(
        "max = [1000, 1000] }",
        "max = [1000, 1000] }\nsolids = [{ min = [35, -50], max = [40, 50] }, { min = [-40, -50], max = [-9, 50] }]",
    );
    let path = played(&text, "gunner.pop.1", |tick, view| {
        (tick, view.at.x, view.velocity.x)
    });
    // 10 a tick from 0 on tick 10: 10, 20, 30, then 34 (its side at the wall) and back with half.
    assert_eq!(path[3], (13, 30.0, 600.0));
    assert_eq!(path[4], (14, 34.0, -300.0));
    assert_eq!(path[5], (15, 29.0, -300.0));
    // From 34, 42 to go to -8 at 5 a tick: on the ninth tick, 23, it ends at the other wall.
    let end = &lines(&text, "vanish")[0];
    assert_eq!((end.tick, end.of.as_deref()), (23, Some("solid")));
    assert!((end.x.unwrap_or_default() + 8.0).abs() < 1e-5);
}

#[test]
fn a_fan_and_a_spread() {
    let text = |more: &str| {
        gunner(
            &format!(
                "launcher.pop = {{ launches = \"cork\", button = \"shoot\", speed = 100, {more} }}\n\
                 [kind.cork]\nlifetime = \"2t\""
            ),
            SHOOT,
        )
    };
    let fan = text("count = 3, fan = 90");
    let way = |text: &str, nth: u32| {
        let id = format!("gunner.pop.{nth}");
        let angle = played(text, &id, |_, view| {
            view.velocity.y.atan2(view.velocity.x).to_degrees()
        });
        angle[0]
    };
    for (nth, angle) in [(1, -45.0), (2, 0.0), (3, 45.0)] {
        assert!((way(&fan, nth) - angle).abs() < 1e-9, "{nth}");
    }
    // Turned round, a fixed angle still points up.
    let up = text("aim = { angle = 30 }").replace("at = [0, 0]", "at = [0, 0]\nfacing = \"left\"");
    assert!((way(&up, 1) - 150.0).abs() < 1e-9);
    // By chance, but the same every time, within 10 degrees, and with another seed another.
    let stray = text("spread = 10");
    assert_eq!(way(&stray, 1), way(&stray, 1));
    assert!(way(&stray, 1).abs() <= 10.0 && way(&stray, 1) != 0.0);
    let other = stray.replace("length = \"400t\"", "length = \"400t\"\nseed = 1");
    assert_ne!(way(&stray, 1), way(&other, 1));
}

#[test]
fn adding_an_actor_changes_no_draw_of_another() {
    let text = gunner(
        "launcher.pop = { launches = \"cork\", clock = { every = \"10t\" }, speed = { range = [50, 90] }, spread = 20 }\n\
         [kind.cork]\nlifetime = \"2t\"",
        "[drill.d]\nlength = \"60t\"\n",
    );
    let more = text.replace(
        "[drill.d]",
        "[[place]]\nkind = \"gunner\"\nid = \"another\"\nat = [5, 5]\n[drill.d]",
    );
    let more = more.replace(
        "kind = \"gunner\"\nat = [0, 0]",
        "kind = \"gunner\"\nid = \"gun\"\nat = [0, 0]",
    );
    let text = text.replace(
        "kind = \"gunner\"\nat = [0, 0]",
        "kind = \"gunner\"\nid = \"gun\"\nat = [0, 0]",
    );
    for nth in 1..=5 {
        let id = format!("gun.pop.{nth}");
        let velocity = |text: &str| played(text, &id, |_, view| view.velocity)[0];
        assert_eq!(velocity(&text), velocity(&more), "{id}");
    }
}

#[test]
fn beyond_a_limit_the_error_names_who_went_beyond() {
    let refused = |text: &str| {
        let plan = tin_crown::check(text.as_bytes()).plan.expect("no errors");
        plan.replay("d").expect_err("too many").to_string()
    };
    let guns = |every: u32, count: u32, lifetime: &str| {
        gunner(
            &format!(
                "launcher.pop = {{ launches = \"cork\", clock = {{ first = \"1t\", every = \"{every}t\" }}, \
                 speed = 1, count = 1000 }}\n[kind.cork]\nlifetime = \"{lifetime}\""
            ),
            &format!(
                "copies = {{ count = {count}, step = [1, 0] }}\n[drill.d]\nlength = \"90t\"\n"
            ),
        )
    };
    // 17 times 1,000 on one tick; then 16 times on each of thirteen.
    let error = refused(&guns(9, 17, "9s"));
    assert!(error.contains("on tick 1 of drill `d`"), "{error}");
    assert!(
        error.contains("more than 16000 launches on one tick"),
        "{error}"
    );
    assert!(error.contains("launcher `pop` of `gunner_9`"), "{error}");
    let error = refused(&guns(1, 16, "9s"));
    assert!(error.contains("on tick 13 of drill `d`"), "{error}");
    assert!(error.contains("more than 200000 actors at once"), "{error}");
    // 16,000 on 1, 3, 5 …, gone at once: 31 volleys are 496,000, and the next, on 63, is too many.
    let error = refused(&guns(2, 16, "1t"));
    assert!(error.contains("on tick 63 of drill `d`"), "{error}");
    assert!(
        error.contains("more than 500000 launches in one drill"),
        "{error}"
    );
    let minds = r#"edition = 1
title = "minds"
[arena]
bounds = { min = [0, 0], max = [9, 9] }
[kind.imp]
starts = "calm"
state.calm.go = [{ to = "cross", when = { after = "5t" } }]
state.cross = {}
[[place]]
kind = "imp"
id = "imp"
at = [0, 0]
copies = { count = 10001, step = [0, 0] }
[drill.d]
length = "30t"
"#;
    let error = refused(minds);
    assert!(error.contains("on tick 5 of drill `d`"), "{error}");
    assert!(
        error.contains("more than 10000 changes of state on one tick"),
        "{error}"
    );
    assert!(error.contains("state `cross` of `imp_"), "{error}");
    // One fewer, who change their minds on every tick. 10,000 appear, and 10,000 lines a tick follow: by the
    // end of 199 there are 2,000,000, and the next line is too many.
    let fickle = minds
        .replace("10001", "10000")
        .replace("after = \"5t\"", "after = \"1t\"")
        .replace(
            "state.cross = {}",
            "state.cross.go = [{ to = \"calm\", when = { after = \"1t\" } }]",
        )
        .replace("\"30t\"", "\"300t\"");
    let error = refused(&fickle);
    assert!(error.contains("at most 2000000 lines"), "{error}");
    assert!(error.contains("is full on tick 200"), "{error}");
}

#[test]
fn a_shot_is_one_attack_whatever_makes_its_boxes_live() {
    // Launched on 10, it is at n - 10. Its nose, up to 5 ahead, is at the drum's side, 29, at the end of
    // 34, and overlaps from 35. The barb, from 5 to 3 behind, is made live on 41 by an attack of the
    // shot's own, begun on 40, and comes to the drum on 43: the drum has been hit.
    let text = gunner(
        "launcher.pop = { launches = \"cork\", button = \"shoot\", speed = 60 }\n\
         [kind.cork]\nlifetime = \"99t\"\nflight = { targets = 9 }\n\
         hitbox.nose = { radius = 1, at = [4, 0] }\nhitbox.barb = { radius = 1, at = [-4, 0] }\n\
         attack.snap = { clock = { first = \"30t\", every = \"300t\" }, startup = \"1t\", active = \"50t\", live = [\"barb\"] }\n\
         [kind.drum]\nmeter.health = { max = 9 }\nhurtbox.skin = { size = [2, 20] }",
        "[[place]]\nkind = \"drum\"\nat = [30, 0]\n[[rule]]\nname = \"cork strikes\"\nhitbox = \"cork\"\n\
         hurtbox = \"drum.skin\"\ndamage = 1",
    ) + SHOOT;
    assert_eq!(landed(&text_replay(&text)), [35]);
    let attacks: Vec<u32> = ticks(&text, "attack");
    assert_eq!(attacks.first(), Some(&40));
}
