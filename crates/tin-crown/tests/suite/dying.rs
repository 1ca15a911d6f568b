//! Who begins to die, what is told of it and when, and what is left of it: worked out on paper, at 60
//! ticks a second.

use tin_crown::Outcome;

use crate::edges::{arena, changes, ticks};
use crate::stage::{lines, text_replay};

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
pub fn mortal(rest: &str) -> String {
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
            "hero resets everything  health 0 → 3",
            "axe health  health 4 → 5",
            "axe appears again  at 100, 50",
            "hero appears  at 100, 50",
            "post appears again  at 100, 50",
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
fn who_comes_back_here_comes_back_where_it_fell() {
    // The doll, its box 10 wide, walks from 20 at a unit a tick and meets the spike's edge at 58: its
    // front, 25 at first, is there on 33, and overlaps on 34, at 54, where it dies. Two ticks of death
    // and ten of delay: gone on 36, back on 46 at 54, with 3 of 3 health.
    let doll = |more: &str| {
        arena(&format!(
            "[kind.doll]\n{more}\nmeter.health = {{ max = 3 }}\nhurtbox.all = {{ size = [10, 10] }}\n\
             body = {{ size = [10, 10] }}\nwalk = {{ speed = 60 }}\noutside = \"dies\"\n\
             death = [{{ after = \"2t\" }}]\nrespawn = {{ at = \"here\", delay = \"10t\", lives = 2 }}\n\
             [kind.spike]\nhitbox.tip = {{ size = [4, 4] }}\nlifetime = \"40t\"\n\
             [[place]]\nkind = \"doll\"\nat = [20, 30]\n[[place]]\nkind = \"spike\"\nat = [60, 30]\n\
             [[rule]]\nname = \"spike kills\"\nhitbox = \"spike.tip\"\nhurtbox = \"doll.all\"\nkill = true\n\
             [drill.d]\nlength = \"120t\"\n\
             input = [{{ when = \"1t\", who = \"doll\", hold = \"right\", for = \"50t\" }}]\n"
        ))
    };
    let text = doll("");
    assert_eq!(ticks(&text, "death", "doll"), [34]);
    let back = lines(&text, "appear");
    let back = back.last().expect("it comes back");
    assert_eq!((back.tick, back.x, back.y), (46, Some(54.0), Some(30.0)));
    assert_eq!(changes(&text, "health").last(), Some(&(46, 0.0, 3.0)));
    // Outside the arena is no place: it comes back where it was placed.
    let out = doll("").replace(
        "hold = \"right\", for = \"50t\"",
        "hold = \"left\", for = \"40t\"",
    );
    let back = lines(&out, "appear");
    let back = back.last().expect("it comes back");
    assert_eq!((back.x, back.y), (Some(20.0), Some(30.0)));
}
