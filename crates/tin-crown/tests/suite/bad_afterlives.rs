//! Faults in deaths, respawns and goals: one clear finding each, with its line.

use tin_crown::Code;

use crate::bad_input::{Case, findings, one_finding_each};

/// An encounter with all that comes after a death, without fault, to be spoilt.
const AFTERLIFE: &str = r##"edition = 1
title = "afterlife"
[arena]
bounds = { min = [0, 0], max = [400, 100] }
solids = [{ min = [0, 0], max = [400, 10] }]
[kind.hero]
player = true
tags = ["brave"]
body = { size = [10, 20] }
walk = { speed = 60 }
hurtbox.torso = { size = [8, 18] }
hitbox.chill = { radius = 5 }
invincible = { after_hit = "0.5s", after_respawn = "1s" }
meter.shield = { max = 2, regen = { delay = "2s", every = "1s", amount = 1, paused_by = ["urchin"] } }
meter.health = { max = 3 }
respawn = { at = "checkpoint", delay = "1s", lives = 2, resets = ["#brave"], countdown = ["one"], unless_near = { who = "urchin", within = 5 } }
death = [{ after = "0s", throw = { up = 100 }, live = ["chill"] }, { after = "0.5s", drops = [{ kind = "coin", weight = 2 }, {}], leaves = [{ kind = "coin" }] }]
[kind.coin]
lifetime = "1s"
[kind.urchin]
hitbox.spines = { radius = 5 }
[[place]]
kind = "hero"
at = [50, 20]
[[place]]
kind = "urchin"
at = [120, 20]
[[rule]]
name = "prick"
hitbox = "urchin.spines"
hurtbox = "hero.torso"
damage = { amount = 1, meters = ["shield", "health"], overflow = false }
[[checkpoint]]
name = "lamp"
area = { min = [80, 10], max = [90, 40] }
at = [85, 20]
by = "#brave"
refills = ["shield"]
[[exit]]
name = "door"
area = { min = [380, 10], max = [390, 40] }
[[clear]]
survive = "9s"
[drill.d]
length = "2s"
[kind.post]
hurtbox.wood = { radius = 5 }
[[place]]
kind = "post"
at = [300, 20]
[[rule]]
name = "chills"
hitbox = "hero.chill"
hurtbox = "post.wood"
stun = "9t"
"##;

#[test]
fn one_fault_in_an_afterlife_one_finding() {
    use Code::*;
    assert_eq!(findings(AFTERLIFE), []);
    #[rustfmt::skip]
    let cases: &[Case] = &[
        ("paused_by = [\"urchin\"]", "paused_by = [\"urchn\"]", UnknownName, 14, "did you mean `urchin`?"),
        ("paused_by = [\"urchin\"]", "paused_in = [\"calm\"]", UnknownName, 14, "state of this kind"),
        ("paused_by = [\"urchin\"]", "up_to = 9", NoEffect, 14, "holds at most 2"),
        ("delay = \"2s\", every = \"1s\", amount = 1", "delay = \"0.1s\", every = \"0.1s\", amount = 1", RegenOutruns, 14, "regains between two hits"),
        ("meter.health = { max = 3 }", "meter.vigour = { max = 3 }", UnknownName, 32, "unknown meter `health`"),
        ("lives = 2", "lives = 0", OutOfRange, 16, "at least 1"),
        ("at = \"checkpoint\"", "at = \"lamp\"", UnknownName, 16, "known: checkpoint, here, start"),
        ("at = \"checkpoint\"", "at = { places = [50, 12] }", InsideSolid, 16, "come back inside a solid"),
        ("at = \"checkpoint\"", "at = { places = [999, 20] }", OutsideArena, 16, "come back outside the arena"),
        ("at = \"checkpoint\"", "at = { places = [[60, 20], [999, 20]] }", OutsideArena, 16, "come back outside the arena"),
        ("at = \"checkpoint\"", "at = { places = [[60, 20], [1e9, 20]] }", OutOfRange, 16, "1000000000 is not between"),
        ("at = \"checkpoint\"", "at = { places = [121, 20] }", RespawnInHazard, 16, "longer `invincible.after_respawn`"),
        ("resets = [\"#brave\"]", "resets = \"everything\"", UnknownName, 16, "known: encounter, self"),
        ("resets = [\"#brave\"]", "resets = [\"#brav\"]", UnknownName, 16, "did you mean `#brave`?"),
        ("delay = \"1s\", lives", "lives", NoEffect, 16, "needs a `delay`"),
        ("who = \"urchin\", within", "who = \"urchn\", within", UnknownName, 16, "did you mean `urchin`?"),
        ("after = \"0.5s\"", "after = \"-1s\"", BadDuration, 17, "not a duration"),
        ("{ after = \"0s\"", "{ after = \"2s\"", Contradiction, 17, "in the order of their times"),
        ("throw = { up = 100 }", "throw = { up = 100 }, freeze = true", Contradiction, 17, "`freeze` excludes"),
        ("throw = { up = 100 }", "throw = { away = 100 }", NoEffect, 17, "no other party"),
        ("live = [\"chill\"]", "live = [\"chil\"]", UnknownName, 17, "did you mean `chill`?"),
        ("kind = \"coin\", weight = 2", "kind = \"con\", weight = 2", UnknownName, 17, "did you mean `coin`?"),
        ("kind = \"coin\", weight = 2", "kind = \"coin\", weight = 0", OutOfRange, 17, "not between 1"),
        (", meters = [\"shield\", \"health\"], overflow = false", ", overflow = false", NoEffect, 32, "more than one meter"),
        ("name = \"lamp\"", "name = \"door.lamp\"", BadName, 34, "have a meaning in selectors"),
        ("area = { min = [80, 10], max = [90, 40] }", "area = { min = [80, 50], max = [90, 40] }", BadBounds, 35, "are inverted"),
        ("area = { min = [80, 10], max = [90, 40] }", "area = { min = [80, 1], max = [90, 9] }", OutOfReach, 35, "inside a solid"),
        ("area = { min = [380, 10], max = [390, 40] }", "area = { min = [980, 10], max = [990, 40] }", OutOfReach, 41, "outside the arena"),
        ("at = [85, 20]", "at = [85, 12]", InsideSolid, 36, "come back inside a solid"),
        ("by = \"#brave\"", "by = \"urchin\"", OutOfReach, 35, "nobody with a body"),
        ("refills = [\"shield\"]", "refills = [\"shild\"]", UnknownName, 38, "did you mean `shield`?"),
        ("survive = \"9s\"", "gone = \"#windup\"", UnknownName, 43, "unknown tag"),
        ("survive = \"9s\"", "", MissingKey, 42, "`gone` or `survive` is required"),
        ("length = \"2s\"", "length = \"2s\"\nafterwards = \"loud\"", UnknownName, 46, "known: goes-on, quiet"),
    ];
    one_finding_each(AFTERLIFE, cases);
}

#[test]
fn a_meter_that_is_emptied_for_nothing() {
    let text = AFTERLIFE
        .replace("meter.health = { max = 3 }", "meter.vigour = { max = 3 }")
        .replace("\"health\"], overflow", "\"vigour\"], overflow");
    let found = findings(&text);
    let codes: Vec<_> = found.iter().map(|(code, line, _)| (*code, *line)).collect();
    assert_eq!(
        codes,
        [(Code::EndlessMeter, 14), (Code::EndlessMeter, 15)],
        "{found:#?}"
    );
}
