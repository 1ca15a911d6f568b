//! Faults in fights: one clear finding each, with its line.

use tin_crown::Code;

use crate::bad_input::{Case, findings, one_finding_each};

/// An encounter with all that a fight can have, without fault, to be spoilt.
const FIGHT: &str = r##"edition = 1
title = "fight"
[arena]
bounds = { min = [0, 0], max = [200, 100] }
[kind.hero]
tags = ["brave"]
walk = { speed = 60, jump = 100 }
meter.health = { max = 3 }
meter.stamina = { max = 2 }
hurtbox.torso = { size = [8, 18] }
hitbox.tip = { size = [20, 4], at = [14, 0] }
hitbox.fist = { radius = 4 }
invincible = { after_hit = "0.5s" }
takes = { blunt = 0.5 }
[kind.hero.attack.thrust]
button = "attack"
startup = "3t"
active = "4t"
recovery = "12t"
live = ["tip"]
cancels.recovery = ["upper", "guard", "jump"]
[kind.hero.attack.upper]
button = "attack"
active = "4t"
live = { active = ["fist"] }
followup = true
[kind.hero.guard]
button = "guard"
arc = [-80, 80]
through = 0.25
meter = "stamina"
cost = 1
break_stun = "1s"
parry = { window = "6t", stun = "0.5s" }
[kind.foe]
meter.health = { max = 3 }
hurtbox.back = { radius = 6 }
hitbox.claw = { radius = 5 }
attack.swipe = { clock = { every = "2s" }, active = "5t", live = ["claw"] }
[[place]]
kind = "hero"
at = [50, 20]
[[place]]
kind = "foe"
at = [120, 20]
[[rule]]
name = "claw"
hitbox = "foe.claw"
hurtbox = "hero.torso"
damage = { amount = 1, type = "blunt" }
stun = "0.2s"
[[rule]]
name = "thrust"
hitbox = "hero.tip"
hurtbox = "foe.back"
gate = { from = "front", who = { attack = "thrust", phase = "active" }, whom = { meter.health = { at_least = 1 }, without = ["brave"] } }
beats = ["claw"]
damage = 1
drain = { share = 0.5 }
also = [{ to = "who", heal = 0.5 }]
[drill.d]
length = "2s"
input = [{ when = "0.5s", who = "hero", press = "attack" }]
[[rule]]
name = "upper"
hitbox = "hero.fist"
hurtbox = "foe.back"
repeat = "once-per-touch"
damage = 1
"##;

#[test]
fn one_fault_in_a_fight_one_finding() {
    use Code::*;
    assert_eq!(findings(FIGHT), []);
    #[rustfmt::skip]
    let cases: &[Case] = &[
        ("takes = { blunt", "takes = { blnt", UnknownName, 14, "did you mean `blunt`?"),
        ("takes = { blunt = 0.5", "takes = { blunt = -1", OutOfRange, 14, "-1 is not between 0"),
        ("button = \"attack\"\nstartup", "startup", MissingKey, 15, "nothing starts `thrust`"),
        ("startup = \"3t\"", "startup = 3", BadDuration, 17, "found 3 without a unit"),
        ("active = \"4t\"\nrecovery", "recovery", MissingKey, 15, "no `active` phase"),
        ("live = [\"tip\"]", "live = [\"tp\"]", UnknownName, 20, "did you mean `tip`?"),
        ("live = { active = [\"fist\"] }", "live = {}", NoEffect, 22, "makes no box live"),
        ("live = [\"tip\"]", "live = [\"tip\"]\ntargets = 0", OutOfRange, 21, "can hit nobody"),
        ("\"upper\", \"guard\"", "\"uper\", \"guard\"", UnknownName, 21, "did you mean `upper`?"),
        ("followup = true\n", "", Contradiction, 22, "start with the same button"),
        ("live = { active =", "live = { activ =", UnknownKey, 25, "did you mean `active`?"),
        ("button = \"guard\"\n", "", MissingKey, 27, "a guard needs a `button`"),
        ("arc = [-80, 80]", "arc = [80, -80]", OutOfRange, 29, "write the smaller angle first"),
        ("through = 0.25", "through = 25", OutOfRange, 30, "25 is not between 0 and 1"),
        ("meter = \"stamina\"", "meter = \"stamin\"", UnknownName, 31, "did you mean `stamina`?"),
        ("cost = 1", "cost = -1", OutOfRange, 32, "must not be negative"),
        ("window = \"6t\", ", "", MissingKey, 34, "`window` is required"),
        ("clock = { every = \"2s\" }", "clock = { every = \"0s\" }", OutOfRange, 39, "above zero"),
        ("clock = { every = \"2s\" }", "button = \"x\", clock = { every = \"2s\" }", Contradiction, 39, "both a `button` and a `clock`"),
        ("stun = \"0.2s\"", "stun = \"1t\"", ShortStun, 51, "blocks no input"),
        ("from = \"front\"", "from = \"frnt\"", UnknownName, 56, "did you mean `front`?"),
        ("from = \"front\"", "margin = 2", NoEffect, 56, "`margin` needs"),
        ("from = \"front\"", "from = { angle = [90, 0] }", OutOfRange, 56, "is empty"),
        ("from = \"front\"", "falling_at_least = -5", OutOfRange, 56, "-5 is not between 0"),
        ("attack = \"thrust\", phase", "attack = \"thrst\", phase", UnknownName, 56, "did you mean `thrust`?"),
        ("phase = \"active\" }", "phase = \"activ\" }", UnknownName, 56, "did you mean `active`?"),
        ("meter.health = { at_least = 1 }", "meter.helth = { at_least = 1 }", UnknownName, 56, "did you mean `health`?"),
        ("meter.health = { at_least = 1 }", "meter.health = {}", NoEffect, 56, "is empty"),
        ("without = [\"brave\"]", "without = [\"brav\"]", UnknownName, 56, "did you mean `brave`?"),
        ("beats = [\"claw\"]", "beats = [\"clw\"]", UnknownName, 57, "did you mean `claw`?"),
        ("beats = [\"claw\"]", "beats = [\"thrust\"]", BeatsCycle, 57, "`thrust` beats `thrust`"),
        ("beats = [\"claw\"]", "beats_for = \"1s\"", NoEffect, 57, "needs `beats`"),
        ("drain = { share = 0.5 }", "drain = { share = 0.5, meter = \"stamin\" }", UnknownName, 59, "did you mean `stamina`?"),
        ("to = \"who\"", "to = \"whose\"", UnknownName, 60, "did you mean `who`?"),
        ("to = \"who\", ", "", MissingKey, 60, "`to` is required"),
        ("heal = 0.5", "heel = 0.5", UnknownKey, 60, "did you mean `heal`?"),
        ("press = \"attack\"", "press = \"attak\"", UnknownName, 63, "did you mean `attack`?"),
    ];
    one_finding_each(FIGHT, cases);
}
