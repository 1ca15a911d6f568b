//! Ticks at the edges of the rules: pauses, ends without a death, arrivals, what is told once, and who is
//! counted for whom. Worked out on paper, at 60 ticks a second.

use tin_crown::{Outcome, ReplayError, What};

use crate::stage::{lines, played, text_replay};

/// What holds of all encounters here.
fn arena(rest: &str) -> String {
    format!(
        "edition = 1\ntitle = \"edges\"\n[arena]\nbounds = {{ min = [0, 0], max = [400, 100] }}\n{rest}"
    )
}

fn ticks(text: &str, event: &str, who: &str) -> Vec<u32> {
    let all = lines(text, event).into_iter();
    all.filter(|line| line.who.as_deref() == Some(who))
        .map(|line| line.tick)
        .collect()
}

/// The changes of a meter: tick, before and after.
fn changes(text: &str, meter: &str) -> Vec<(u32, f64, f64)> {
    let all = lines(text, "meter").into_iter();
    all.filter(|line| line.meter.as_deref() == Some(meter))
        .map(|line| (line.tick, line.before.unwrap(), line.after.unwrap()))
        .collect()
}

/// A knight whose empty shield is paid each 60 ticks, and so many puddles that pause it for 10 ticks.
fn paused(puddles: u32, regen: &str, rest: &str) -> String {
    arena(&format!(
        r##"
[kind.knight]
meter.nerve = {{ max = 9 }}
meter.shield = {{ max = 9, start = 0, regen = {{ every = "60t", amount = 1, {regen} }} }}
hurtbox.all = {{ size = [10, 10] }}
[kind.puddle]
tags = ["mud"]
hitbox.mud = {{ size = [20, 4] }}
lifetime = "10t"
[[place]]
kind = "knight"
at = [50, 20]
[[place]]
kind = "puddle"
id = "p"
at = [50, 20]
copies = {{ count = {puddles}, step = [1, 0] }}
[drill.d]
length = "140t"
{rest}"##
    ))
}

#[test]
fn a_pause_is_a_tick_for_a_tick_however_many_pause() {
    let by_mud = r##"paused_by = ["#mud"]"##;
    let rule = "[[rule]]\nname = \"mud sticks\"\nhitbox = \"#mud.mud\"\nhurtbox = \"knight.all\"\n\
                damage = { amount = 1, meters = [\"nerve\"] }\n";
    // Touched on 0 … 9: ten ticks later than 60, and 60 after that. No rule need pair the boxes.
    for (puddles, rest) in [(1, ""), (2, ""), (3, rule)] {
        let text = paused(puddles, by_mud, rest);
        let paid = [(70, 0.0, 1.0), (130, 1.0, 2.0)];
        assert_eq!(changes(&text, "shield"), paid, "{puddles} {rest}");
    }
    // Nor does it count twice where a state pauses it too: in `waits` on phase 1 of 1 … 5.
    let state = "[kind.knight.state.waits]\ngo = [{ to = \"goes\", when = { after = \"5t\" } }]\n\
                 [kind.knight.state.goes]\n";
    let text = paused(2, r##"paused_by = ["#mud"], paused_in = ["waits"]"##, state)
        .replace("[kind.knight]\n", "[kind.knight]\nstarts = \"waits\"\n");
    assert_eq!(changes(&text, "shield")[0], (70, 0.0, 1.0));
    let text = text.replace("paused_by = [\"#mud\"], ", "");
    assert_eq!(changes(&text, "shield")[0], (65, 0.0, 1.0));
}

#[test]
fn a_loss_and_a_pause_on_one_tick_pay_a_tick_later() {
    // Hit on 0, whose loss puts the payment on 0 + 60; the puddle is there on 0 alone.
    let text = paused(
        1,
        r##"delay = "60t", paused_by = ["#mud"]"##,
        "[[rule]]\nname = \"mud bites\"\nhitbox = \"#mud.mud\"\nhurtbox = \"knight.all\"\n\
         damage = { amount = 1, meters = [\"shield\"] }\n",
    )
    .replace("start = 0", "start = 4")
    .replace("lifetime = \"10t\"", "lifetime = \"1t\"");
    assert_eq!(
        changes(&text, "shield"),
        [(0, 4.0, 3.0), (61, 3.0, 4.0), (121, 4.0, 5.0)]
    );
}

#[test]
fn a_drill_is_lost_in_whatever_way_the_last_player_is_gone() {
    // 60 units a second to the left from 20: outside when its body, 10 wide, is past 0 by more than
    // nothing. After 25 ticks it is at -5 and touches the edge; on 26 it is out.
    let snail = |what: &str| {
        arena(&format!(
            "[kind.snail]\nplayer = true\nbody = {{ size = [10, 10] }}\nwalk = {{ speed = 60 }}\n{what}\n\
             [[place]]\nkind = \"snail\"\nat = [20, 30]\n[drill.d]\nlength = \"200t\"\n\
             input = [{{ when = \"1t\", who = \"snail\", hold = \"left\" }}]\n"
        ))
    };
    let by_state = "starts = \"fades\"\nstate.fades = { go = [{ to = \"gone\", when = { after = \"30t\" } }] }\n\
                    state.gone = { ends = true }";
    for (what, last) in [
        ("outside = \"vanishes\"", 26),
        ("lifetime = \"50t\"", 50),
        (by_state, 30),
        // There is another.
        (
            "outside = \"vanishes\"\n[[place]]\nkind = \"snail\"\nid = \"other\"\nat = [300, 30]",
            200,
        ),
    ] {
        let replay = text_replay(
            &snail(what)
                .replace(
                    "kind = \"snail\"\nat",
                    "kind = \"snail\"\nid = \"snail_1\"\nat",
                )
                .replace("who = \"snail\"", "who = \"snail_1\""),
        );
        let summary = replay.summary();
        let outcome = if last == 200 {
            Outcome::Ended
        } else {
            Outcome::Lost
        };
        assert_eq!(
            (summary.last.0, summary.outcome),
            (last, Some(outcome)),
            "{what}"
        );
    }
}

#[test]
fn motions_arrive_on_the_same_tick_wherever_they_run() {
    // 100 units at 50 a second: 120 ticks, and the mind sees it on the tick after. The steps of 5/6 of a
    // unit add up to a little less or more than 100, by where the motion begins.
    let mut placed = String::new();
    for (nth, x) in [0.0, 1.0, 64.0, 0.1, 33.3].into_iter().enumerate() {
        let (y, to) = (10 + 10 * nth, x + 100.0);
        placed += &format!(
            "[[place]]\nkind = \"tram\"\nid = \"tram_{nth}\"\nat = [{x}, {y}]\n\
             state.goes.motion.patrol.between = [{x}, {to}]\n"
        );
    }
    let text = arena(&format!(
        "[kind.tram]\nstarts = \"goes\"\n\
         state.goes = {{ motion = {{ patrol = {{ between = [0, 100], speed = 50 }} }}, \
         go = [{{ to = \"there\", when = {{ arrives = true }} }}] }}\nstate.there = {{}}\n{placed}\
         [drill.d]\nlength = \"140t\"\n"
    ));
    let arrived: Vec<u32> = lines(&text, "state").iter().map(|line| line.tick).collect();
    assert_eq!(arrived, [121; 5]);
    // A chase stops where it is told to, with that tolerance and no tick's way: from 100.1 to 0.1 within
    // 40 it goes 60 units, at 1 a tick; there it stands from the tick on that begins so.
    let text = |x: f64| {
        arena(&format!(
            "[kind.post]\n[kind.wasp]\nmotion = {{ chase = {{ whom = \"post\", speed = 60, stop_at = 40 }} }}\n\
             [[place]]\nkind = \"post\"\nat = [{x}, 50]\n[[place]]\nkind = \"wasp\"\nat = [{}, 50]\n\
             [drill.d]\nlength = \"90t\"\n",
            x + 100.0
        ))
    };
    for x in [0.0, 0.1, 33.3, 77.7] {
        let moves = played(&text(x), "wasp", |tick, view| {
            (tick, view.velocity.x != 0.0)
        });
        let last = moves
            .iter()
            .filter(|(_, moves)| *moves)
            .map(|(tick, _)| *tick)
            .max();
        assert_eq!(last, Some(60), "{x}");
    }
}

#[test]
fn down_is_told_once_a_touch_whatever_gate_says_no_later() {
    // The plate comes down on the doll and goes up through it: the gate holds on the way down only.
    let text = arena(
        r#"
[kind.doll]
meter.health = { max = 1 }
hurtbox.all = { size = [8, 17] }
death = [{ after = "0s" }, { after = "9s" }]
[kind.plate]
hitbox.under = { size = [20, 4] }
motion = { path = { keys = [{ when = "0s", at = [0, 0] }, { when = "1s", at = [0, -60] }, { when = "2s", at = [0, 0] }], then = "loops" } }
[[place]]
kind = "doll"
at = [50, 20]
[[place]]
kind = "plate"
at = [50, 80]
[[rule]]
name = "tamps"
hitbox = "plate.under"
hurtbox = "doll.all"
gate = { from = "above" }
damage = 1
[drill.d]
length = "280t"
"#,
    );
    // The plate's underside is at 78 - t, the doll's top at 28.5: they touch after 49.5 ticks, on 50, and
    // part on the way back, after 70.5 ticks; the same 120 ticks later.
    let hits: Vec<_> = lines(&text, "hit")
        .into_iter()
        .map(|line| (line.tick, line.verdict.unwrap().into_owned()))
        .collect();
    let hit = |tick, verdict: &str| (tick, verdict.to_owned());
    assert_eq!(hits, [hit(50, "landed"), hit(51, "down"), hit(170, "down")]);
}

#[test]
fn the_items_of_phase_1_go_over_all_actors_one_after_the_other() {
    // All three are due on 60: the step of the bee's death, the end of the fly's lifetime (launched on 1
    // with 59 ticks), and the ant's return; by ids they would be ant, bee, nest.
    let text = arena(
        r#"
[kind.ant]
meter.health = { max = 1 }
hurtbox.torso = { size = [10, 10] }
respawn = { delay = "60t" }
invincible = { after_respawn = "9s" }
[kind.bee]
meter.health = { max = 1 }
hurtbox.torso = { size = [10, 10] }
death = [{ after = "60t", cue = "bees-step" }]
[kind.fly]
lifetime = "59t"
[kind.nest]
launcher.egg = { launches = "fly", clock = { every = "999t", first = "1t" }, shot = false }
[kind.thing]
hitbox.spike = { size = [100, 10] }
[[place]]
kind = "ant"
at = [50, 50]
[[place]]
kind = "bee"
at = [70, 50]
[[place]]
kind = "nest"
at = [300, 50]
[[place]]
kind = "thing"
at = [60, 50]
[[rule]]
name = "spike"
hitbox = "thing.spike"
hurtbox = "*"
every = "999t"
kill = true
[drill.d]
length = "2s"
"#,
    );
    let replay = text_replay(&text);
    let on_60: Vec<&str> = replay
        .ledger()
        .events()
        .iter()
        .filter(|event| event.tick.0 == 60)
        .map(|event| event.what.name())
        .collect();
    assert_eq!(
        on_60,
        ["cue", "gone", "vanish", "respawn", "meter", "appear", "hit"]
    );
}

/// A hero with 3 health, at 100, and what does for it.
fn mortal(rest: &str) -> String {
    arena(&format!(
        r#"
[kind.hero]
player = true
body = {{ size = [10, 10] }}
hurtbox.all = {{ size = [10, 10] }}
meter.health = {{ max = 3 }}
death = [{{ after = "0t" }}, {{ after = "9t" }}]
[[place]]
kind = "hero"
at = [100, 50]
[drill.d]
length = "90t"
{rest}"#
    ))
}

#[test]
fn whoever_begins_to_die_has_no_health_and_none_of_it_is_damage() {
    let axe = "[kind.axe]\nhitbox.edge = { size = [4, 4] }\n[[place]]\nkind = \"axe\"\nat = [100, 50]\n\
               [[rule]]\nname = \"chops\"\nhitbox = \"axe.edge\"\nhurtbox = \"hero.all\"\nkill = true\n\
               repeat = \"once-per-touch\"\n";
    // It goes up to 50, then down and out.
    let falls = mortal("").replace(
        "[kind.hero]\n",
        "[kind.hero]\noutside = \"dies\"\n\
         motion = { patrol = { axis = \"y\", between = [-900, 50], speed = 300 } }\n",
    );
    // A wall that comes down at 1 unit a tick onto a floor, from 1 above the hero.
    let press = "[kind.press]\nsolid = { size = [40, 10] }\nmotion = { patrol = { axis = \"y\", between = [0, 61], speed = 60 } }\n\
                 [[place]]\nkind = \"press\"\nat = [100, 61]\n";
    let squeezed = mortal(press).replace(
        "max = [400, 100] }\n",
        "max = [400, 100] }\nsolids = [{ min = [0, 0], max = [400, 45] }]\n",
    );
    for (text, of, by) in [
        (mortal(axe), "kill", Some("axe")),
        (falls, "outside", None),
        (squeezed, "squeezed", None),
    ] {
        let death = &lines(&text, "death")[0];
        assert_eq!(
            (death.of.as_deref(), death.by.as_deref()),
            (Some(of), by),
            "{text}"
        );
        let emptied = &lines(&text, "meter")[0];
        assert_eq!(
            (
                emptied.tick,
                emptied.before,
                emptied.after,
                emptied.of.as_deref()
            ),
            (death.tick, Some(3.0), Some(0.0), Some(of))
        );
        let replay = text_replay(&text);
        let summary = replay.summary();
        assert_eq!(
            summary
                .ends
                .iter()
                .find(|end| end.died.is_some())
                .unwrap()
                .meters[0]
                .end
                .to_string(),
            "0"
        );
        for dealt in &summary.dealt {
            assert_eq!((dealt.killed, dealt.taken.len()), (1, 0));
        }
    }
    // The hit says so too, and what comes after it on its tick finds nothing left.
    let text = mortal(&format!(
        "{axe}[[rule]]\nname = \"cuts\"\nhitbox = \"axe.edge\"\nhurtbox = \"hero.all\"\ndamage = 2\n"
    ));
    let hits = lines(&text, "hit");
    assert_eq!(
        (hits[0].of.as_deref(), hits[0].amount),
        (Some("kill"), None)
    );
    assert_eq!((hits[1].amount, hits[1].overkill), (Some(2.0), Some(2.0)));
    // Before it, it takes what there is.
    let text = text.replace("name = \"chops\"", "name = \"late\"");
    let (first, rest) = text.split_once("[[rule]]\n").unwrap();
    let (late, cuts) = rest.split_once("[[rule]]\n").unwrap();
    let text = format!("{first}[[rule]]\n{cuts}[[rule]]\n{late}");
    let health = |text: &str| changes(text, "health");
    assert_eq!(health(&text), [(0, 3.0, 1.0), (0, 1.0, 0.0)]);
    let rows: Vec<String> = text_replay(&text)
        .rows(text_replay(&text).ledger().events())
        .into_iter()
        .filter(|row| row.what == "hits")
        .map(|row| row.outcome)
        .collect();
    assert_eq!(rows, ["health 3 → 1", "health 1 → 0, killed"]);
}

#[test]
fn a_dead_hero_is_raised_by_nothing_before_it_returns() {
    // A regeneration each 5 ticks, a healing mist, and a medicine: none counts between 0 and the return on
    // 9 + 20.
    let text = mortal(
        r#"
[kind.axe]
hitbox.edge = { size = [4, 4] }
lifetime = "1t"
[kind.mist]
hitbox.air = { size = [40, 40] }
[kind.medicine]
pickup = { area = { size = [30, 30] }, gives = [{ meter = "health", amount = 2 }] }
[[place]]
kind = "axe"
at = [100, 50]
[[place]]
kind = "mist"
at = [100, 50]
[[place]]
kind = "medicine"
at = [100, 50]
[[rule]]
name = "chops"
hitbox = "axe.edge"
hurtbox = "hero.all"
kill = true
[[rule]]
name = "mist heals"
hitbox = "mist.air"
hurtbox = "hero.all"
heal = 1
"#,
    )
    .replace(
        "meter.health = { max = 3 }",
        "meter.health = { max = 3, regen = { every = \"5t\" } }\nrespawn = { delay = \"20t\" }",
    );
    assert_eq!(changes(&text, "health"), [(0, 3.0, 0.0), (29, 0.0, 3.0)]);
    // Nor is the medicine taken: not at 0, and not when health is full again.
    assert_eq!(lines(&text, "pickup").len(), 0);
}

#[test]
fn hits_on_what_somebody_launched_are_its_own() {
    let text = |grubs: u32| {
        arena(&format!(
            r#"
[kind.hive]
meter.health = {{ max = 9 }}
hurtbox.wall = {{ radius = 5 }}
launcher.door = {{ launches = "grub", button = "open", muzzle = [60, 0], shot = false, count = {grubs} }}
[kind.grub]
meter.health = {{ max = 2 }}
hurtbox.skin = {{ radius = 3 }}
lifetime = "1s"
[kind.thorn]
hitbox.tip = {{ radius = 3 }}
[[place]]
kind = "hive"
at = [40, 50]
[[place]]
kind = "thorn"
at = [100, 50]
[[rule]]
name = "thorn pricks"
hitbox = "thorn.tip"
hurtbox = "*"
damage = 1
repeat = "once-per-touch"
[drill.d]
length = "20t"
input = [{{ when = "1t", who = "hive", press = "open" }}]
"#
        ))
    };
    for (grubs, whom) in [(1, "hive.door.1"), (3, "hive.door.*")] {
        let replay = text_replay(&text(grubs));
        let dealt = replay.summary().dealt;
        assert_eq!(dealt.len(), 1);
        assert_eq!((dealt[0].whom_id.as_str(), dealt[0].hits), (whom, grubs));
        let taken: Vec<String> = dealt[0].taken.values().map(ToString::to_string).collect();
        assert_eq!(taken, [grubs.to_string()]);
    }
}

#[test]
fn a_reset_has_its_own_row_and_others_have_theirs() {
    let text = mortal(
        r#"
[kind.axe]
hitbox.edge = { size = [4, 4] }
hurtbox.haft = { size = [4, 4] }
meter.health = { max = 5 }
[kind.post]
hitbox.nail = { size = [4, 4] }
[[place]]
kind = "axe"
at = [100, 50]
[[place]]
kind = "post"
at = [100, 50]
[[rule]]
name = "nail scratches"
hitbox = "post.nail"
hurtbox = "axe.haft"
damage = 1
repeat = "once-per-touch"
[[rule]]
name = "chops"
hitbox = "axe.edge"
hurtbox = "hero.all"
kill = true
repeat = "once-per-touch"
"#,
    )
    .replace(
        "meter.health = { max = 3 }\n",
        "meter.health = { max = 3 }\nrespawn = { delay = \"20t\", resets = \"encounter\" }\n",
    );
    let replay = text_replay(&text);
    // Gone on 9, back on 29; on that tick all touch again.
    let rows: Vec<String> = replay
        .rows(replay.ledger().events())
        .into_iter()
        .filter(|row| row.tick.0 == 29 && row.what != "touches")
        .map(|row| [row.who, &row.what, row.whom, &row.outcome].join(" "))
        .collect();
    assert_eq!(
        rows,
        [
            "hero comes back  ",
            "hero puts everything back  health 0 → 3",
            "axe health  health 4 → 5",
            "axe is put back  at 100, 50",
            "hero appears  at 100, 50",
            "post is put back  at 100, 50",
            "post hits axe health 5 → 4",
            "axe hits hero health 3 → 0, killed",
            "hero dies  killed outright, by axe",
        ]
    );
}

#[test]
fn what_is_launched_has_one_life_whatever_its_kind_says() {
    let text = arena(
        r#"
[kind.hive]
launcher.door = { launches = "grub", button = "open", muzzle = [60, 0], shot = false }
[kind.grub]
meter.health = { max = 1 }
hurtbox.skin = { radius = 3 }
lifetime = "3s"
respawn = { delay = "10t", lives = 3 }
[kind.thorn]
hitbox.tip = { radius = 3 }
[[place]]
kind = "hive"
at = [40, 50]
[[place]]
kind = "thorn"
at = [100, 50]
[[rule]]
name = "thorn pricks"
hitbox = "thorn.tip"
hurtbox = "grub.skin"
damage = 1
[drill.d]
length = "60t"
input = [{ when = "1t", who = "hive", press = "open" }]
"#,
    );
    assert_eq!(ticks(&text, "gone", "hive.door.1"), [1]);
    assert_eq!(lines(&text, "life").len(), 0);
    assert_eq!(lines(&text, "respawn").len(), 0);
}

#[test]
fn another_sees_a_state_that_a_death_sets_while_it_dies() {
    // Killed on 0; the step on 5 sets the state, which the gate sees in phase 2 of that tick; gone on 15.
    let gate = "[kind.gate]\nstarts = \"shut\"\n\
                state.shut = { go = [{ to = \"open\", when = { other = { who = \"hero\", state = \"beaten\" } } }] }\n\
                state.open = {}\n[[place]]\nkind = \"gate\"\nat = [300, 50]\n";
    let axe = "[kind.axe]\nhitbox.edge = { size = [4, 4] }\n[[place]]\nkind = \"axe\"\nat = [100, 50]\n\
               [[rule]]\nname = \"chops\"\nhitbox = \"axe.edge\"\nhurtbox = \"hero.all\"\nkill = true\n\
               repeat = \"once-per-touch\"\n";
    let text = mortal(&format!("{gate}{axe}")).replace(
        "death = [{ after = \"0t\" }, { after = \"9t\" }]",
        "death = [{ after = \"5t\", state = \"beaten\" }, { after = \"15t\" }]\nstarts = \"well\"\n\
             state.well = {}\nstate.beaten = {}",
    );
    assert_eq!(ticks(&text, "state", "gate"), [5]);
    // A state of its life is over when its death begins.
    let waits = "state.shut = { go = [{ to = \"open\", when = { after = \"3t\", ";
    let well = text
        .replace("state.shut = { go = [{ to = \"open\", when = { ", waits)
        .replace("\"beaten\" } }", "\"well\" } }");
    assert_eq!(lines(&well, "state").len(), 1);
}

#[test]
fn a_press_of_a_button_that_is_held_is_told_to_be_none() {
    let text = arena(
        r#"
[kind.hero]
body = { size = [10, 10] }
walk = { speed = 60, jump = 100 }
[[place]]
kind = "hero"
at = [100, 50]
[drill.d]
length = "90t"
input = [
  { when = "46t", who = "hero", hold = "jump", for = "30t" },
  { when = "60t", who = "hero", press = "jump" },
  { when = "80t", who = "hero", press = "jump" },
]
"#,
    );
    assert_eq!(ticks(&text, "ignored", "hero"), [60]);
    // Down on 46, up on 76; down on 80, up on 81.
    assert_eq!(ticks(&text, "input", "hero"), [46, 76, 80, 81]);
    let findings = tin_crown::check(text.as_bytes()).findings;
    let found: Vec<String> = findings
        .iter()
        .map(|finding| finding.message.clone())
        .collect();
    assert_eq!(
        found,
        ["this press has no effect: `jump` of `hero` is already held since 0.767 s"]
    );
}

#[test]
fn goals_that_overlap_go_by_their_names() {
    let goals = |order: [usize; 2], sort: &str| {
        let tables = [("aft", 7), ("bow", 3)].map(|(name, x)| {
            let at = if sort == "checkpoint" {
                format!("at = [{x}, 50]\n")
            } else {
                String::new()
            };
            format!(
                "[[{sort}]]\nname = \"{name}\"\narea = {{ min = [90, 40], max = [110, 60] }}\n{at}cue = \"{name}\"\n"
            )
        });
        mortal(&order.map(|nth| tables[nth].clone()).concat())
    };
    for sort in ["checkpoint", "exit"] {
        let [one, other] = [[0, 1], [1, 0]].map(|order| goals(order, sort));
        assert_eq!(
            crate::stage::jsonl(&text_replay(&one)),
            crate::stage::jsonl(&text_replay(&other)),
            "{sort}"
        );
        assert_eq!(lines(&one, "cue")[0].cue.as_deref(), Some("aft"));
    }
}

#[test]
fn a_chain_of_makers_has_an_end() {
    for endless in [
        "leaves = [{ kind = \"a\" }]\nlifetime = \"1t\"",
        "launcher.l = { launches = \"a\", clock = { every = \"9t\", first = \"1t\" }, shot = false }\nlifetime = \"5t\"",
        "death = [{ after = \"0t\", drops = [{ kind = \"a\" }] }]\nmeter.health = { max = 1 }\n\
         hurtbox.all = { radius = 2 }\nhitbox.all = { radius = 2 }\n[[rule]]\nname = \"r\"\nhitbox = \"a\"\n\
         hurtbox = \"a\"\nkill = true\n[[place]]\nkind = \"a\"\nid = \"b\"\nat = [50, 50]",
    ] {
        let text = arena(&format!(
            "[kind.a]\n{endless}\n[[place]]\nkind = \"a\"\nid = \"first\"\nat = [50, 50]\n[drill.d]\nlength = \"999t\"\n"
        ));
        let plan = tin_crown::check(text.as_bytes()).plan.expect("no errors");
        let Err(ReplayError::TooMany { of, most, .. }) = plan.replay("d") else {
            panic!("{endless}: it should not go on");
        };
        assert_eq!(
            (of, most),
            ("makers of one actor", tin_crown::limits::CHAIN)
        );
    }
}

#[test]
fn a_golden_record_is_equal_to_itself() {
    use tin_crown::Record;
    let replay = text_replay(&mortal(""));
    let golden = Record::of(&replay).golden();
    assert_eq!(golden, golden.clone());
    let mut text = Vec::new();
    golden.write(&mut text).expect("memory takes it");
    assert_eq!(Record::read(&text).expect("it is one"), [golden]);
    assert!(!String::from_utf8(text).unwrap().contains("\"id\""));
    let appear = replay
        .ledger()
        .events()
        .iter()
        .find(|event| event.what == What::Appear);
    assert_eq!(replay.line(appear.unwrap()), replay.line(appear.unwrap()));
}
