//! Faults in launchers, motions, sensors and states: one clear finding each, with its line.

use tin_crown::Code;

use crate::bad_input::{Case, findings, one_finding_each};

/// An encounter with all that shoots, waits and bursts, without fault, to be spoilt.
const AMBUSH: &str = r##"edition = 1
title = "ambush"
[arena]
bounds = { min = [0, 0], max = [400, 100] }
gravity = 900
solids = [{ min = [0, 0], max = [400, 10] }]
[kind.hero]
tags = ["brave"]
body = { size = [10, 20] }
walk = { speed = 60 }
hurtbox.torso = { size = [8, 18] }
invincible = { after_hit = "0.5s" }
meter.health = { max = 3, regen = { delay = "1s", every = "1s", amount = 1 } }
meter.corks = { max = 6, start = 2, reload = { from = "spare", button = "reload", takes = "1s" } }
meter.spare = { max = 9 }
[kind.hero.launcher.pop]
launches = "cork"
button = "shoot"
muzzle = [4, 2]
aim = "facing"
speed = 200
spread = 5
volley = { shots = 2, every = "4t" }
cooldown = "0.2s"
ammo = { meter = "corks", cost = 1 }
dry = "click"
[kind.cork]
body = { radius = 2 }
hitbox.tip = { radius = 3, grows = [0.5, 1], grows_for = "5t" }
flight = { targets = 2, bounces = 1, keeps = 0.5 }
lifetime = "1s"
leaves = [{ kind = "puff", on = ["hit"] }]
[kind.puff]
lifetime = "5t"
[kind.tin]
pickup = { area = { radius = 5 }, by = "#brave", gives = [{ meter = "corks", amount = 4 }] }
[kind.wasp]
hurtbox.wings = { radius = 5 }
hitbox.sting = { radius = 3, pulse = { on = "1s", off = "1s" } }
sensor.eyes = { area = { radius = 50 }, notices = "#brave", stopped_by = ["solids", "tin"] }
condition.near = { sees = "eyes", for = "3t", within = 40 }
starts = "calm"
attack.stab = { startup = "2t", active = "3t", live = ["sting"] }
[kind.wasp.state.calm]
motion.path = { keys = [{ when = "0t", at = [0, 0] }, { when = "60t", at = [0, 9] }], then = "returns" }
go = [{ to = "cross", when = "near", cooldown = "1s" }]
[kind.wasp.state.cross]
motion.chase = { whom = "#brave", speed = 50 }
attacks = ["stab"]
go = [{ to = "calm", when = { loses = "eyes" } }]
[[place]]
kind = "hero"
at = [50, 20]
[[place]]
kind = "wasp"
at = [120, 40]
[[place]]
kind = "tin"
at = [90, 15]
[[rule]]
name = "pop"
hitbox = "cork.tip"
hurtbox = "wasp.wings"
damage = { bands = [[5, 2], [9, 1]], meters = ["health"] }
[[rule]]
name = "sting"
hitbox = "wasp.sting"
hurtbox = "#brave.torso"
gate = { who = { state = "cross" }, line_of_sight = true }
damage = 1
cue = "ouch"
[drill.d]
length = "2s"
input = [{ when = "0.5s", who = "hero", press = "shoot" }, { when = "1s", who = "hero", press = "reload" }]
"##;

#[test]
fn one_fault_in_an_ambush_one_finding() {
    use Code::*;
    assert_eq!(findings(AMBUSH), []);
    #[rustfmt::skip]
    let cases: &[Case] = &[
        ("launches = \"cork\"", "launches = \"crok\"", UnknownName, 17, "did you mean `cork`?"),
        ("launches = \"cork\"\n", "", MissingKey, 16, "`pop` launches nothing"),
        ("attacks = [\"stab\"]\n", "", MissingKey, 43, "in the `attacks` of a state"),
        ("button = \"shoot\"", "button = \"shoot\"\nclock = { every = \"1s\" }", Contradiction, 16, "both a `button` and a `clock`"),
        ("cooldown = \"0.2s\"", "on = \"hold\"", ShotsWithoutEnd, 24, "on every tick that its button is held"),
        ("aim = \"facing\"", "aim = \"facin\"", UnknownName, 20, "did you mean `facing`?"),
        ("aim = \"facing\"", "aim = 15", WrongType, 20, "or a table with `angle` or"),
        ("aim = \"facing\"", "aim = { at = \"#brav\" }", UnknownName, 20, "did you mean `#brave`?"),
        ("aim = \"facing\"", "aim = { at = \"#brave.torso\" }", UnknownName, 20, "write \"#brave\""),
        ("aim = \"facing\"", "aim = { at = \"hero\", angle = 5 }", Contradiction, 20, "cannot be used together"),
        ("speed = 200", "speed = { choice = [] }", OutOfRange, 21, "`choice` is empty"),
        ("speed = 200", "speed = { range = [5] }", WrongType, 21, "a pair of numbers"),
        ("speed = 200", "speed = { rnge = [5, 6] }", UnknownKey, 21, "did you mean `range`?"),
        ("spread = 5", "spread = 500", OutOfRange, 22, "not between 0 and 360 degrees"),
        ("spread = 5", "fan = 50", NoEffect, 22, "`fan` needs"),
        ("spread = 5", "in_flight = 0", OutOfRange, 22, "never launch anything"),
        ("shots = 2, ", "", MissingKey, 23, "`shots` is required"),
        ("ammo = { meter = \"corks\"", "ammo = { meter = \"crks\"", UnknownName, 25, "did you mean `corks`?"),
        ("ammo = { meter = \"corks\", cost = 1 }\n", "", NoEffect, 25, "`dry` needs `ammo`"),
        ("from = \"spare\"", "from = \"corks\"", Contradiction, 14, "filled from itself"),
        ("from = \"spare\"", "from = \"spar\"", UnknownName, 14, "did you mean `spare`?"),
        ("every = \"1s\", amount = 1", "amount = 1", MissingKey, 13, "`regen` needs `every`"),
        ("every = \"1s\", amount = 1", "every = \"0s\"", OutOfRange, 13, "above zero"),
        ("muzzle = [4, 2]", "muzzle = [40, 2]", MuzzleBeyond, 19, "is passed over"),
        ("[kind.hero.launcher.pop]", "leaves = [{ kind = \"pop\" }]\n[kind.pop]\nlifetime = \"1s\"\n[kind.hero.launcher.pop]", Duplicate, 16, "the same ids"),
        ("targets = 2", "targets = 0", OutOfRange, 30, "hit nobody"),
        ("bounces = 1, keeps", "keeps", NoEffect, 30, "needs `bounces`"),
        ("keeps = 0.5", "ends_on = [\"wall\"]", UnknownName, 30, "known: edge, hit, solid"),
        ("lifetime = \"1s\"", "lifetime = \"0s\"", OutOfRange, 31, "above zero"),
        ("kind = \"puff\"", "kind = \"puf\"", UnknownName, 32, "did you mean `puff`?"),
        ("on = [\"hit\"]", "on = [\"hitt\"]", UnknownName, 32, "did you mean `hit`?"),
        ("[kind.puff]\nlifetime = \"5t\"", "[kind.puff]\ndrag = 1", NeverLeaves, 32, "nothing ever removes a `puff`"),
        ("area = { radius = 5 }, by", "by", MissingKey, 36, "needs an `area`"),
        ("by = \"#brave\"", "by = \"#bravo\"", UnknownName, 36, "did you mean `#brave`?"),
        ("gives = [{ meter = \"corks\", amount = 4 }]", "when_full = \"stays\"", NoEffect, 36, "gives nothing"),
        ("meter = \"corks\", amount = 4", "meter = \"cork\", amount = 4", UnknownName, 36, "did you mean `corks`?"),
        ("on = \"1s\", off", "on = \"0s\", off", OutOfRange, 39, "above zero for `on`"),
        ("area = { radius = 50 }, ", "", MissingKey, 40, "neither `area` nor `ray`"),
        ("notices = \"#brave\", ", "", MissingKey, 40, "notices nobody"),
        ("area = { radius = 50 }", "ray = { from = [1, 1], to = [1, 1] }", BadShape, 40, "ends where it begins"),
        ("\"solids\", \"tin\"", "\"solid\", \"tin\"", UnknownName, 40, "unknown actor or kind `solid`"),
        ("sees = \"eyes\", for", "sees = \"eye\", for", UnknownName, 41, "did you mean `eyes`?"),
        ("sees = \"eyes\", for = \"3t\", within = 40", "within = 40", NoEffect, 41, "needs `sees`"),
        ("starts = \"calm\"\n", "", MissingKey, 37, "no `starts`"),
        ("starts = \"calm\"", "starts = \"clam\"", UnknownName, 42, "did you mean `calm`?"),
        ("when = \"60t\"", "when = \"0t\"", Contradiction, 45, "in the order of their times"),
        ("then = \"returns\"", "then = \"loops\"", PathJumps, 45, "jumps back in one tick"),
        ("keys = [{ when = \"0t\", at = [0, 0] }, { when = \"60t\", at = [0, 9] }], ", "", MissingKey, 45, "a path needs `keys`"),
        ("to = \"cross\"", "to = \"cros\"", UnknownName, 46, "did you mean `cross`?"),
        ("when = \"near\"", "when = \"nera\"", UnknownName, 46, "did you mean `near`?"),
        ("when = { loses = \"eyes\" }", "when = {}", NoEffect, 50, "it always holds"),
        ("whom = \"#brave\", speed = 50", "whom = \"#brave\"", MissingKey, 48, "a chase needs a `speed`"),
        ("attacks = [\"stab\"]", "attacks = [\"stap\"]", UnknownName, 49, "did you mean `stab`?"),
        ("attacks = [\"stab\"]", "attacks = [\"stab\"]\nguard = true", NoEffect, 50, "has no `guard`"),
        ("loses = \"eyes\"", "after = \"1s\", meter.rage = { at_least = 1 }", UnknownName, 50, "unknown meter of this kind `rage`"),
        ("loses = \"eyes\"", "other = { who = \"hero\" }", MissingKey, 50, "`state` or `sees` is required"),
        ("loses = \"eyes\"", "other = { who = \"hero\", state = \"clam\" }", UnknownName, 50, "did you mean `calm`?"),
        ("hitbox = \"cork.tip\"", "hitbox = \"hero.tipp\"", UnknownName, 62, "did you mean `tip`?"),
        ("[[5, 2], [9, 1]]", "[[9, 2], [5, 1]]", Contradiction, 64, "further out"),
        ("bands = [[5, 2], [9, 1]]", "bands = [[5, 2]], amount = 1", Contradiction, 64, "cannot be used together"),
        ("state = \"cross\"", "state = \"cros\"", UnknownName, 69, "did you mean `cross`?"),
        ("press = \"reload\"", "press = \"relaod\"", UnknownName, 74, "did you mean `reload`?"),
    ];
    one_finding_each(AMBUSH, cases);
}

#[test]
fn a_muzzle_beyond_a_thin_wall() {
    let walled = AMBUSH.replace(
        "solids = [",
        "solids = [{ min = [200, 10], max = [203, 90] }, ",
    );
    assert_eq!(findings(&walled), []);
    // The body reaches to 5, the shot's box back from 12 to 9: 4 beyond, and the wall is 3 wide. A wasp
    // is 10 wide: none stands in between.
    let beyond = findings(&walled.replace("muzzle = [4, 2]", "muzzle = [12, 2]"));
    assert_eq!(beyond.len(), 1, "{beyond:#?}");
    assert_eq!((beyond[0].0, beyond[0].1), (Code::MuzzleBeyond, 19));
    assert!(
        beyond[0].2.contains("through a solid that is 3 wide"),
        "{beyond:?}"
    );
    assert_eq!(
        findings(&walled.replace("muzzle = [4, 2]", "muzzle = [10, 2]")),
        []
    );
}
