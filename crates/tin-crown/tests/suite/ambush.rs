//! What waits, bursts and falls: sensors, states, traps and blasts, worked out on paper. At 60 ticks a
//! second.

use crate::stage::{lines, played};

/// The ticks of the lines of an event.
fn ticks(text: &str, event: &str) -> Vec<u32> {
    lines(text, event).iter().map(|line| line.tick).collect()
}

/// The ticks on which somebody came into states, and which.
fn states(text: &str, who: &str) -> Vec<(u32, String)> {
    let all = lines(text, "state").into_iter();
    all.filter(|line| line.who.as_deref() == Some(who))
        .map(|line| (line.tick, line.state.unwrap_or_default().to_string()))
        .collect()
}

fn at(tick: u32, state: &str) -> (u32, String) {
    (tick, state.to_owned())
}

/// Somebody who walks from x = 0 to the right at 1 unit a tick from tick 1 on, 10 wide, on a floor; and
/// whatever a test adds.
fn stroll(rest: &str) -> String {
    format!(
        r##"edition = 1
title = "an ambush"
[arena]
bounds = {{ min = [-500, -100], max = [1000, 500] }}
gravity = 3600
solids = [{{ min = [-500, -100], max = [1000, 0] }}]
[kind.hero]
tags = ["hero"]
body = {{ size = [10, 20] }}
walk = {{ speed = 60 }}
meter.health = {{ max = 9 }}
hurtbox.torso = {{ size = [8, 18] }}
[[place]]
kind = "hero"
at = [0, 10]
[drill.d]
length = "300t"
input = [{{ when = "1t", who = "hero", hold = "right" }}]
{rest}"##
    )
}

#[test]
fn a_blast_is_live_from_its_first_tick_to_its_last() {
    let text = stroll(
        r#"
[kind.fuse]
lifetime = "20t"
leaves = [{ kind = "burst", on = ["lifetime"] }]
[kind.burst]
hitbox.blast = { radius = 30 }
lifetime = "6t"
[[place]]
kind = "fuse"
at = [20, 10]
[[rule]]
name = "burst"
hitbox = "burst.blast"
hurtbox = "hero.torso"
damage = 1
"#,
    );
    // There on 0 … 19, over in phase 1 of 20: the blast appears on 20, and is there on 20 … 25.
    let landed: Vec<u32> = ticks(&text, "hit");
    assert_eq!(landed, [20, 21, 22, 23, 24, 25]);
    assert_eq!(ticks(&text, "vanish"), [20, 26]);
    // One attack as long as it is there: one hit.
    let once = text
        .replace("on = [\"lifetime\"]", "on = [\"lifetime\"], shot = true")
        .replace(
            "lifetime = \"6t\"",
            "lifetime = \"6t\"\nflight.ends_on = []",
        );
    let landed: Vec<_> = lines(&once, "hit")
        .into_iter()
        .filter(|line| line.verdict.as_deref() == Some("landed"))
        .collect();
    assert_eq!(landed.len(), 1);
    assert_eq!(landed[0].root.as_deref(), Some("fuse"));
}

#[test]
fn a_blast_that_grows_and_hurts_by_distance() {
    let burst = |at: f64, more: &str| {
        stroll(&format!(
            r#"
[kind.burst]
hitbox.blast = {{ radius = 40, grows = [0.25, 1] }}
lifetime = "7t"
[[place]]
kind = "burst"
at = [{at}, 10]
[[rule]]
name = "burst"
hitbox = "burst.blast"
hurtbox = "hero.torso"
damage = {{ bands = [[10, 4], [25, 2], [40, 1]] }}
repeat = "per-attack"
{more}
"#
        ))
        .replace("hold = \"right\"", "press = \"left\"")
        .replace("walk = { speed = 60 }", "walk = { speed = 0 }")
    };
    // The radius is 10, 15, 20 … 40 on ticks 0 … 6. The torso ends at 4.
    for (at, first, amount) in [
        (10.0, 0, 4.0),
        (14.0, 1, 4.0),
        (28.0, 3, 2.0),
        (43.9, 6, 1.0),
    ] {
        let hit = &lines(&burst(at, ""), "hit")[0];
        assert_eq!((hit.tick, hit.amount), (first, Some(amount)), "{at}");
    }
    assert!(lines(&burst(44.1, ""), "hit").is_empty());
    // A solid in between hides whom it hides.
    let wall = |text: String| {
        text.replace(
            "solids = [",
            "solids = [{ min = [10, 0], max = [12, 40] }, ",
        )
    };
    let hidden = wall(burst(28.0, "gate = { line_of_sight = true }"));
    let hit = &lines(&hidden, "hit")[0];
    assert_eq!(
        (hit.verdict.as_deref(), hit.gate.as_deref()),
        (Some("gate"), Some("line-of-sight"))
    );
    assert_eq!(
        lines(&wall(burst(28.0, "")), "hit")[0].verdict.as_deref(),
        Some("landed")
    );
}

#[test]
fn blasts_set_each_other_off() {
    let bomb = r##"
[kind.bomb]
tags = ["bomb"]
meter.health = { max = 1 }
hurtbox.case = { radius = 4 }
leaves = [{ kind = "burst", on = ["death", "lifetime"] }]
[kind.burst]
hitbox.blast = { radius = 30 }
lifetime = "3t"
[[place]]
kind = "bomb"
id = "bomb"
at = [400, 10]
copies = { count = 3, step = [33, 0] }
[[place]]
kind = "bomb"
id = "first"
at = [367, 10]
lifetime = "10t"
[[rule]]
name = "set off"
hitbox = "burst.blast"
hurtbox = "#bomb"
damage = 1
"##;
    // The first is over on 10, its burst reaches 397 and touches the next (from 396) on 10. That one dies
    // on 10, and what it leaves appears on 11; and so on, a tick each.
    assert_eq!(ticks(&stroll(bomb), "death"), [10, 11, 12]);
    let last = lines(&stroll(bomb), "appear").pop().expect("bursts");
    assert_eq!(
        (last.tick, last.who.as_deref()),
        (13, Some("bomb_3.burst.1"))
    );
}

#[test]
fn a_ray_ends_at_a_solid_and_at_one_that_moves_in() {
    let guard = |more: &str| {
        stroll(&format!(
            r##"
[kind.guard]
sensor.view = {{ ray = {{ to = [100, 0] }}, notices = "#hero" {more} }}
[[place]]
kind = "guard"
at = [200, 10]
facing = "left"
"##
        ))
    };
    // The ray reaches from 200 to 100. The body's front is at 5 and comes 1 a tick, beginning on tick 1:
    // on tick 96 it is inside the ray's end. A sensor sees on the next tick what a motion brought about,
    // and notices its front at 101, 99 off. Its back leaves the ray's beginning at 200 when it is at 205.
    let senses = |text: &str| -> Vec<(u32, Option<bool>)> {
        lines(text, "sense")
            .into_iter()
            .map(|line| (line.tick, line.seen))
            .collect()
    };
    let open = guard("");
    assert_eq!(senses(&open), [(97, Some(true)), (206, Some(false))]);
    let first = &lines(&open, "sense")[0];
    assert!(
        (first.distance.unwrap_or_default() - 99.0).abs() < 1e-5,
        "{:?}",
        first.distance
    );
    assert_eq!(
        (first.sensor.as_deref(), first.whom.as_deref()),
        (Some("view"), Some("hero"))
    );
    // Behind a post at 140 to 142 it is seen when its front has passed it; but the post stops it.
    let post = open.replace(
        "solids = [",
        "solids = [{ min = [140, 4], max = [142, 16] }, ",
    );
    assert_eq!(senses(&post), []);
    // With nothing to stop its view, it is noticed all the same.
    let through = guard(", stopped_by = []").replace(
        "solids = [",
        "solids = [{ min = [140, 4], max = [142, 16] }, ",
    );
    assert_eq!(senses(&through), [(97, Some(true))]);
    // A shutter of 20 from 60 on: its lower edge is at 50, and goes down 40 or 41 from tick 120 to 160.
    let shutter = |by: u32| {
        format!(
            "{open}\n[kind.shutter]\nsolid = {{ size = [4, 20] }}\nmotion.path = {{ keys = [{{ when = \
             \"120t\", at = [0, 0] }}, {{ when = \"160t\", at = [0, -{by}] }}] }}\n[[place]]\nkind = \
             \"shutter\"\nat = [170, 60]\n"
        )
    };
    // At 10 it only touches the ray (and keeps the hero from walking on). Lower, it is past 10 from tick 160 on: 40 / 41 of 40 ticks are 39.02.
    assert_eq!(senses(&shutter(40)), [(97, Some(true))]);
    assert_eq!(senses(&shutter(41)), [(97, Some(true)), (161, Some(false))]);
}

#[test]
fn what_else_can_stop_a_view() {
    let text = |more: &str| {
        stroll(&format!(
            r##"
[kind.guard]
sensor.view = {{ area = {{ size = [100, 20] }}, notices = "#hero" {more} }}
[kind.curtain]
tags = ["cloth"]
hurtbox.all = {{ size = [2, 40] }}
[[place]]
kind = "guard"
at = [200, 10]
[[place]]
kind = "curtain"
at = [180, 10]
"##
        ))
    };
    // The area begins at 150: the body's front is inside it on 146, seen on 147.
    assert_eq!(ticks(&text(""), "sense")[0], 147);
    // Behind a curtain at 179 to 181 it is seen when its middle has got that far: on 181, seen on 182.
    let hidden = text(", stopped_by = [\"#cloth\"]");
    assert_eq!(ticks(&hidden, "sense")[0], 182);
}

/// A weight over x = 100 that waits for somebody beneath.
fn weight(more: &str) -> String {
    stroll(&format!(
        r##"
[kind.weight]
body = {{ size = [20, 20] }}
hitbox.underside = {{ size = [12, 4], at = [0, -9] }}
sensor.below = {{ area = {{ size = [40, 100], at = [0, -60] }}, notices = "#hero" }}
starts = "hanging"
condition.prey = {{ sees = "below" }}
state.hanging.go = [{{ to = "falling", when = "prey", cooldown = "200t" }}]
state.falling = {{ motion = "fall", live = ["underside"], cue = "rattle", go = [{{ to = "down", when = {{ lands = true }} }}] }}
state.down.go = [{{ to = "rising", when = {{ after = "30t" }} }}]
state.rising = {{ motion = {{ return = {{ speed = 60 }} }}, go = [{{ to = "hanging", when = {{ arrives = true }} }}] }}
{more}
[[place]]
kind = "weight"
at = [100, 100]
[[rule]]
name = "flatten"
hitbox = "weight.underside"
hurtbox = "hero.torso"
kill = true
"##
    ))
}

#[test]
fn a_weight_waits_falls_and_is_wound_up() {
    let text = weight("");
    // The area begins at 80: the body's front is inside it on 76, seen on 77, and it falls at once, by
    // 3600 / 60 / 60 = 1 unit a tick more each tick: 1, 3, 6 … n (n + 1) / 2. Its lower edge is 90 up:
    // after 13 ticks at 91, so it lands on the thirteenth, 89; seen on 90.
    assert_eq!(
        states(&text, "weight"),
        [
            at(77, "falling"),
            at(90, "down"),
            at(120, "rising"),
            at(210, "hanging")
        ]
    );
    // The hero is at 89 by then, its torso to 93: the underside, from 94, is that near.
    assert!(lines(&text, "hit").is_empty());
    // The senses' line brought the state about, and the state's line the next.
    let (fall, sense) = (&lines(&text, "state")[0], &lines(&text, "sense")[0]);
    assert_eq!(fall.cause, sense.id);
    assert_eq!(lines(&text, "state")[2].cause, lines(&text, "state")[1].id);
    assert_eq!(lines(&text, "cue")[0].cause, fall.id);
    // Back up at 1 unit a tick: 90 units from tick 120 on, there on 209.
    let path = played(&text, "weight", |tick, view| (tick, view.at.y));
    assert_eq!(path[89], (89, 10.0));
    assert_eq!((path[208].1, path[209].1), (99.0, 100.0));
}

#[test]
fn only_the_named_part_of_a_trap_kills_and_only_while_it_falls() {
    // A trap two wider on either side catches the hero.
    let wide = weight("").replace("size = [12, 4]", "size = [16, 4]");
    assert_eq!(ticks(&wide, "death").len(), 1);
    // Down on the floor its underside is off: the hero walks through what has no body for it.
    let late = weight("").replace("area = { size = [40, 100]", "area = { size = [240, 100]");
    assert_eq!(states(&late, "weight")[0], at(1, "falling"));
    assert!(lines(&late, "hit").is_empty() && lines(&late, "death").is_empty());
}

#[test]
fn a_cooldown_keeps_a_trap_shut_and_once_is_once() {
    let plate = |more: &str| {
        stroll(&format!(
            r##"
[kind.plate]
sensor.tread = {{ area = {{ size = [20, 4] }}, notices = "#hero" }}
starts = "up"
state.up.go = [{{ to = "down", when = {{ sees = "tread" }} {more} }}]
state.down.go = [{{ to = "up", when = {{ after = "10t" }} }}]
[[place]]
kind = "plate"
at = [50, 0]
"##
        ))
    };
    // From 40 to 60: trodden on while the body reaches in, from 36 to 64; seen on 37 … 65.
    let fall = |text: &str| -> Vec<u32> {
        let all = states(text, "plate").into_iter();
        all.filter(|(_, state)| state == "down")
            .map(|(tick, _)| tick)
            .collect()
    };
    // Up again 10 ticks after each, and down a tick later.
    assert_eq!(fall(&plate("")), [37, 48, 59]);
    assert_eq!(fall(&plate(", cooldown = \"25t\"")), [37, 62]);
    assert_eq!(fall(&plate(", once = true")), [37]);
}

#[test]
fn a_plate_sets_off_a_cuckoo_and_the_ledger_tells_the_whole_chain() {
    let text = stroll(
        r##"
[kind.board]
sensor.tread = { area = { size = [20, 4] }, notices = "#hero" }
[kind.clock]
starts = "shut"
launcher.cuckoo = { launches = "cuckoo", aim = { at = "noticed" }, speed = 600 }
state.shut.go = [{ to = "open", when = { other = { who = "board", sees = "tread" } }, once = true }]
state.open.launchers = ["cuckoo"]
[kind.cuckoo]
hitbox.beak = { radius = 2 }
lifetime = "2s"
[[place]]
kind = "board"
at = [50, 0]
[[place]]
kind = "clock"
at = [300, 10]
[[rule]]
name = "peck"
hitbox = "cuckoo.beak"
hurtbox = "hero.torso"
damage = 1
"##,
    );
    // Trodden on on 36, noticed and open on 37: at once, on the same tick, the cuckoo is launched.
    assert_eq!(states(&text, "clock"), [at(37, "open")]);
    assert_eq!(ticks(&text, "shot"), [37]);
    // From the hit back: shot, state, and whom the board noticed.
    let replay = crate::stage::text_replay(&text);
    let mut event = replay
        .ledger()
        .events()
        .iter()
        .find(|event| event.what.name() == "hit")
        .expect("a hit");
    let mut chain = vec!["hit"];
    while let Some(cause) = event.cause {
        event = replay.ledger().get(cause).expect("a line");
        chain.push(event.what.name());
    }
    assert_eq!(chain, ["hit", "shot", "state", "sense"]);
    assert_eq!(replay.id(event.who.expect("who")), "board");
    assert_eq!(replay.id(event.whom.expect("whom")), "hero");
    // At 10 a tick against 1, from 300 to the torso's front at 41: 257 / 11 = 23.36 ticks.
    assert_eq!(lines(&text, "hit")[0].tick, 37 + 24);
}

#[test]
fn states_have_their_own_attacks_guards_and_places() {
    let text = stroll(
        r##"
[kind.jack]
starts = "shut"
meter.health = { max = 3 }
hitbox.head = { radius = 4 }
hurtbox.case = { radius = 4 }
attack.spring = { startup = "2t", active = "3t", live = ["head"] }
guard = { through = 0.5, arc = [-180, 180] }
state.shut = { guard = true, go = [{ to = "open", when = { after = "10t" } }] }
state.open = { attacks = ["spring"], go = [{ to = "away", when = { after = "4t" } }] }
state.away = { teleport = [200, 60], go = [{ to = "shut", when = { hurt = true } }] }
[[place]]
kind = "jack"
at = [400, 60]
"##,
    );
    // Its first state from 0 on: open on 10, and 4 ticks later elsewhere.
    assert_eq!(states(&text, "jack")[0], at(1, "guard-up"));
    let names: Vec<_> = states(&text, "jack")
        .into_iter()
        .filter(|(_, name)| !name.starts_with("guard"))
        .collect();
    assert_eq!(names, [at(10, "open"), at(14, "away")]);
    // The attack begins as it comes in, is live on 12 … 14, but leaving the state on 14 cuts it short.
    let attacks: Vec<_> = lines(&text, "attack")
        .into_iter()
        .map(|line| (line.tick, line.over.map(|over| over.to_string())))
        .collect();
    assert_eq!(attacks, [(10, None), (14, Some("cut-short".into()))]);
    let live = played(&text, "jack", |tick, view| {
        (tick, view.live.hit() & 1, view.at.x)
    });
    let lit: Vec<u32> = live
        .iter()
        .filter(|(_, live, _)| *live == 1)
        .map(|(tick, ..)| *tick)
        .collect();
    assert_eq!(lit, [12, 13]);
    assert_eq!((live[13].2, live[14].2), (400.0, 200.0));
    let appears: Vec<_> = lines(&text, "appear")
        .into_iter()
        .filter(|line| line.tick > 0)
        .map(|line| (line.tick, line.x))
        .collect();
    assert_eq!(appears, [(14, Some(200.0))]);
    // A gate can ask for a state.
    let gated = text.clone()
        + "\n[kind.thorn]\nhitbox.tip = { radius = 9 }\n[[place]]\nkind = \"thorn\"\nat = [400, 60]\n[[rule]]\nname = \"r\"\nhitbox = \"thorn.tip\"\nhurtbox = \"jack.case\"\ndamage = 1\nevery = \"100t\"\ngate = { whom = { state = \"open\" } }\n";
    let hits: Vec<_> = lines(&gated, "hit")
        .into_iter()
        .map(|line| (line.tick, line.verdict.unwrap_or_default().to_string()))
        .collect();
    assert_eq!(
        hits[..2],
        [(0, "gate".to_owned()), (10, "landed".to_owned())]
    );
}

#[test]
fn steam_comes_and_goes_by_the_clock() {
    let text = stroll(
        r#"
[kind.kettle]
hitbox.steam = { size = [900, 40], pulse = { on = "5t", off = "15t", phase = "2t" } }
[[place]]
kind = "kettle"
at = [0, 10]
[[rule]]
name = "scald"
hitbox = "kettle.steam"
hurtbox = "hero.torso"
damage = 1
every = "2t"
"#,
    );
    // On while (tick + 2) mod 20 < 5: 0, 1, 2, then 18 … 22, 38 … 42. Every second tick of those.
    let landed: Vec<u32> = lines(&text, "hit")
        .into_iter()
        .filter(|line| line.verdict.as_deref() == Some("landed"))
        .map(|line| line.tick)
        .take(8)
        .collect();
    assert_eq!(landed, [0, 2, 18, 20, 22, 38, 40, 42]);
}

#[test]
fn hitstop_makes_everything_wait() {
    // A hit on 5 with 7 ticks of rest: state, lifetime and trickle come 7 later for both.
    let text = stroll(
        r##"
[kind.imp]
starts = "calm"
meter.mana = { max = 9, start = 0, regen = { every = "20t" } }
hurtbox.all = { radius = 5 }
lifetime = "50t"
launcher.spit = { launches = "spit", clock = { first = "30t", every = "999t" } }
state.calm.go = [{ to = "cross", when = { after = "10t" } }]
state.cross.cue = "growl"
[kind.spit]
lifetime = "1t"
[kind.thorn]
hitbox.tip = { radius = 5, pulse = { on = "1t", off = "9t", phase = "5t" } }
[[place]]
kind = "imp"
at = [300, 50]
[[place]]
kind = "thorn"
at = [300, 50]
lifetime = "9t"
[[rule]]
name = "prick"
hitbox = "thorn.tip"
hurtbox = "imp.all"
damage = { amount = 0, meters = ["mana"] }
hitstop = "7t"
"##,
    );
    assert_eq!(ticks(&text, "hit"), [5]);
    assert_eq!(states(&text, "imp"), [at(17, "cross")]);
    assert_eq!(ticks(&text, "meter"), [27, 47]);
    assert_eq!(ticks(&text, "shot"), [37]);
    let gone: Vec<_> = lines(&text, "vanish")
        .into_iter()
        .map(|line| (line.tick, line.who.unwrap_or_default().to_string()))
        .collect();
    assert_eq!(
        gone,
        [
            (16, "thorn".into()),
            (38, "imp.spit.1".into()),
            (57, "imp".into())
        ]
    );
}
