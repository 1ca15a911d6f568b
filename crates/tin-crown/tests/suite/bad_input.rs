//! Bad input: one clear finding each, with its line, and never a panic or a hang.

use tin_crown::{Code, Encounter, Kind, Placement, Severity, check};

/// An encounter without fault, to be spoilt.
const GOOD: &str = r##"edition = 1
title = "good"
[arena]
bounds = { min = [0, 0], max = [200, 100] }
solids = [{ min = [0, 0], max = [200, 10] }]
[kind.hero]
side = "ours"
tags = ["brave"]
body = { size = [10, 20] }
walk = { speed = 60 }
meter.health = { max = 3 }
hurtbox.torso = { size = [8, 18] }
invincible = { after_hit = "0.5s" }
[kind.foe]
hitbox.claw = { radius = 5 }
motion = { patrol = { between = [100, 150], speed = 30 } }
[[place]]
kind = "hero"
at = [50, 20]
[[place]]
kind = "foe"
id = "foe_1"
at = [120, 20]
[[rule]]
name = "claw"
hitbox = "foe.claw"
hurtbox = "#brave.torso"
damage = 1
knockback = { away = 50 }
[drill.d]
length = "2s"
input = [{ when = "0.5s", who = "hero", hold = "right", for = "1s" }]
"##;

fn line_of(text: &str, at: usize) -> usize {
    text[..at].matches('\n').count() + 1
}

/// All findings: code, line, message and help.
fn findings(text: &str) -> Vec<(Code, usize, String)> {
    let checked = check(text.as_bytes());
    let silent = checked.plan.is_none() && checked.findings.is_empty();
    assert!(!silent, "no plan, and nobody says why");
    let errors = checked
        .findings
        .iter()
        .any(|finding| finding.severity == Severity::Error);
    assert_eq!(
        checked.plan.is_none(),
        errors,
        "a plan exactly when there is no error"
    );
    checked
        .findings
        .iter()
        .map(|finding| {
            let line = finding.span.map_or(0, |span| line_of(text, span.start));
            let help = finding.help.clone().unwrap_or_default();
            (finding.code, line, format!("{} | {help}", finding.message))
        })
        .collect()
}

#[test]
fn the_good_one_has_no_finding() {
    assert_eq!(findings(GOOD), []);
}

#[test]
fn one_fault_one_finding() {
    use Code::*;
    // What is replaced, by what, and the code, line and words of the one finding.
    #[rustfmt::skip]
    let cases: &[Case] = &[
        ("edition = 1", "edition = 2", Edition, 1, "edition 2 is not one"),
        ("edition = 1\n", "", MissingKey, 0, "`edition` is missing"),
        ("edition = 1\n", "editoin = 1\n", MissingKey, 0, "`edition` is missing"),
        ("edition = 1\n", "edition = \"1\"\n", WrongType, 1, "a number is due"),
        ("title = \"good\"", "titel = \"good\"\ntitle = \"x\"", UnknownKey, 2, "did you mean `title`?"),
        ("title = \"good\"", "title = 5", WrongType, 2, "a text is due here, and this is a number"),
        ("title = \"good\"\n", "title = \"good\"\ntick_rate = 0\n", OutOfRange, 3, "between 1 and 1000 ticks a second"),
        ("max = [200, 100] }", "max = [-200, 100] }", BadBounds, 4, "inside out"),
        ("max = [200, 100] }", "max = [200, inf] }", OutOfRange, 4, "inf is not between"),
        ("max = [200, 10] }", "max = [200, 10], colour = 1 }", UnknownKey, 5, "no key is called `colour`"),
        ("bounds = { min = [0, 0], max = [200, 100] }", "", MissingKey, 3, "`bounds` is missing"),
        ("side = \"ours\"", "sid = \"ours\"", UnknownKey, 7, "did you mean `side`?"),
        ("tags = [\"brave\"]", "tags = \"brave\"", WrongType, 8, "an array is due"),
        ("size = [10, 20]", "size = [0, 20]", OutOfRange, 9, "0 is not between 0.001"),
        ("size = [10, 20]", "size = [-10, 20]", OutOfRange, 9, "-10 is not between 0.001"),
        ("size = [10, 20]", "size = [nan, 20]", OutOfRange, 9, "NaN is not between"),
        ("size = [10, 20]", "size = [10]", WrongType, 9, "a pair of numbers"),
        ("size = [10, 20]", "size = [10, 20], radius = 3", BadShape, 9, "two forms at once"),
        ("body = { size = [10, 20] }", "body = { at = [1, 2] }", BadShape, 9, "`body` has no form"),
        ("walk = { speed = 60 }", "walk = { jump = 60 }", MissingKey, 10, "a walk needs a `speed`"),
        ("walk = { speed = 60 }", "walk = { speed = 60, accell = 5 }", UnknownKey, 10, "did you mean `accel`?"),
        ("max = 3", "max = 3.0001", OutOfRange, 11, "at most three places"),
        ("max = 3", "max = 0", BadMeter, 11, "can hold nothing"),
        ("max = 3", "max = 3, start = 4", BadMeter, 11, "starts with 4 and holds 3"),
        ("max = 3", "max = 3, start = 0", BadMeter, 11, "dead before the drill begins"),
        ("\"0.5s\" }\n[kind.foe]", "0.5 }\n[kind.foe]", BadDuration, 13, "0.5 has no unit"),
        ("\"0.5s\" }\n[kind.foe]", "\"0.5\" }\n[kind.foe]", BadDuration, 13, "needs a unit"),
        ("\"0.5s\" }\n[kind.foe]", "\"25ms\" }\n[kind.foe]", Rounded, 13, "25ms becomes 2t at 60 ticks a second, 33 % off"),
        ("[kind.foe]\n", "[kind.foe]\nlike = \"her\"\n", UnknownName, 15, "did you mean `hero`?"),
        ("[kind.foe]\n", "[kind.foe]\nlike = \"foe\"\n", LikeCycle, 15, "foe → foe"),
        ("[kind.foe]\n", "[kind.a]\nlike = \"b\"\n[kind.b]\nlike = \"a\"\n[kind.foe]\n", LikeCycle, 17, "a → b → a"),
        ("radius = 5", "radius = -5", OutOfRange, 15, "-5 is not between"),
        ("radius = 5", "points = [[0, 0], [9, 0], [1, 1], [0, 9]]", BadShape, 15, "convex outline"),
        ("radius = 5", "points = [[0, 0], [9, 0]]", BadShape, 15, "3 to 8 points"),
        ("radius = 5", "ends = [[0, 0], [9, 0]]", BadShape, 15, "no `radius`"),
        ("hurtbox.torso", "meter.\"a.b\" = { max = 1 }\nhurtbox.torso", BadName, 12, "mean something in selectors"),
        ("patrol =", "patrole =", UnknownKey, 16, "did you mean `patrol`?"),
        (", speed = 30", "", MissingKey, 16, "a patrol needs a `speed`"),
        ("kind = \"hero\"", "kind = \"heros\"", UnknownName, 18, "did you mean `hero`?"),
        ("at = [50, 20]", "at = [50, 15]", InsideSolid, 19, "placed inside a solid"),
        ("at = [50, 20]", "at = [50, 320]", OutsideArena, 19, "placed outside the arena"),
        ("id = \"foe_1\"", "id = \"foe_1\"\ncopies = { count = 0, step = [9, 0] }", OutOfRange, 23, "not between 1 and"),
        ("id = \"foe_1\"", "id = \"foe_1\"\nfacing = \"lft\"", UnknownName, 23, "did you mean `left`?"),
        ("id = \"foe_1\"", "id = \"hero\"", Duplicate, 22, "the name of another kind"),
        ("id = \"foe_1\"", "id = \"\"", BadName, 22, "it is empty"),
        ("[[rule]]", "[[place]]\nkind = \"foe\"\nid = \"foe_1\"\nat = [9, 30]\n[[rule]]", Duplicate, 26, "two actors are called `foe_1`"),
        ("[[rule]]", "[[place]]\nkind = \"foe\"\nat = [9, 30]\n[[rule]]", Duplicate, 24, "not the only one"),
        ("id = \"foe_1\"", "id = \"foe_1\"\nmeter.helth = { max = 3 }", UnknownName, 23, "there is none of that sort"),
        ("id = \"foe_1\"", "id = \"foe_1\"\nhitbox.clow = { radius = 7 }", UnknownName, 23, "did you mean `claw`?"),
        ("id = \"foe_1\"", "id = \"foe_1\"\nhitbox.claw = { radius = -7 }", OutOfRange, 23, "-7 is not between"),
        ("[[rule]]", "[[rul]]", UnknownKey, 24, "did you mean `rule`?"),
        ("foe.claw", "fo.claw", UnknownName, 26, "did you mean `foe`?"),
        ("foe.claw", "Foe.claw", UnknownName, 26, "did you mean `foe`?"),
        ("foe.claw", "foe.claws", UnknownName, 26, "did you mean `claw`?"),
        ("foe.claw", "hero.torso", UnknownName, 26, "`torso` is a hurtbox"),
        ("foe.claw", "foe.claw.tip", UnknownName, 26, "one dot at the most"),
        ("#brave.torso", "#brav.torso", UnknownName, 27, "did you mean `#brave`?"),
        ("#brave.torso", "brave.torso", UnknownName, 27, "write `#brave`"),
        ("damage = 1", "damage = -1", OutOfRange, 28, "not negative"),
        ("damage = 1", "damage = { amount = 1, meters = [\"helth\"] }", UnknownName, 28, "did you mean `health`?"),
        ("damage = 1\nknockback = { away = 50 }", "", NoEffect, 24, "does nothing"),
        ("knockback = { away = 50 }", "knockback = { away = 50, along = 5 }", Contradiction, 29, "name one"),
        ("knockback = { away = 50 }", "repeat = \"per-atack\"", UnknownName, 29, "did you mean `per-attack`?"),
        ("length = \"2s\"", "length = \"99999s\"", TooMany, 31, "longer than 1000000"),
        ("length = \"2s\"", "length = \"-2s\"", BadDuration, 31, "not a duration"),
        ("who = \"hero\"", "who = \"villain\"", UnknownName, 32, "there is no actor `villain`"),
        ("who = \"hero\"", "who = \"foe_1\"", UnknownName, 32, "no button steers it"),
        ("hold = \"right\"", "hold = \"rihgt\"", UnknownName, 32, "did you mean `right`?"),
        ("hold = \"right\"", "hold = \"jump\"", UnknownName, 32, "no button `jump`"),
        ("hold = \"right\", for = \"1s\"", "press = \"right\", for = \"1s\"", Contradiction, 32, "cannot stand together"),
        ("hold = \"right\", for = \"1s\"", "", MissingKey, 32, "`press` or `hold` or `release` is missing"),
        ("when = \"0.5s\"", "when = \"5s\"", NoEffect, 32, "after the drill's end"),
        ("invincible = { after_hit = \"0.5s\" }\n", "", DrainsInABlink, 23, "on every tick of a touch"),
    ];
    one_finding_each(GOOD, cases);
}

type Case = (&'static str, &'static str, Code, usize, &'static str);

fn one_finding_each(good: &str, cases: &[Case]) {
    for (old, new, code, line, words) in cases {
        assert!(good.contains(old), "{old} is not in the good one");
        let found = findings(&good.replacen(old, new, 1));
        assert_eq!(found.len(), 1, "{old} → {new}: {found:#?}");
        assert_eq!(
            (found[0].0, found[0].1),
            (*code, *line),
            "{old} → {new}: {found:?}"
        );
        assert!(found[0].2.contains(words), "{old} → {new}: {found:?}");
        assert!(!found[0].2.ends_with("| "), "no advice: {found:?}");
    }
}

/// An encounter with all that a fight can have, without fault, to be spoilt.
const FIGHT: &str = r##"edition = 1
title = "fight"
[arena]
bounds = { min = [0, 0], max = [200, 100] }
[kind.hero]
tags = ["brave"]
walk = { speed = 60, jump = 100 }
meter.health = { max = 3 }
meter.poise = { max = 2 }
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
meter = "poise"
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
        ("startup = \"3t\"", "startup = 3", BadDuration, 17, "3 has no unit"),
        ("active = \"4t\"\nrecovery", "recovery", MissingKey, 15, "no `active` phase"),
        ("live = [\"tip\"]", "live = [\"tp\"]", UnknownName, 20, "did you mean `tip`?"),
        ("live = { active = [\"fist\"] }", "live = {}", NoEffect, 22, "makes no box live"),
        ("live = [\"tip\"]", "live = [\"tip\"]\ntargets = 0", OutOfRange, 21, "may hit nobody"),
        ("\"upper\", \"guard\"", "\"uper\", \"guard\"", UnknownName, 21, "did you mean `upper`?"),
        ("followup = true\n", "", Contradiction, 22, "start with the same button"),
        ("live = { active =", "live = { activ =", UnknownKey, 25, "did you mean `active`?"),
        ("button = \"guard\"\n", "", MissingKey, 27, "a guard needs a `button`"),
        ("arc = [-80, 80]", "arc = [80, -80]", OutOfRange, 29, "write the lesser one first"),
        ("through = 0.25", "through = 25", OutOfRange, 30, "25 is not between 0 and 1"),
        ("meter = \"poise\"", "meter = \"pose\"", UnknownName, 31, "did you mean `poise`?"),
        ("cost = 1", "cost = -1", OutOfRange, 32, "not negative"),
        ("window = \"6t\", ", "", MissingKey, 34, "`window` is missing"),
        ("clock = { every = \"2s\" }", "clock = { every = \"0s\" }", OutOfRange, 39, "needs some time"),
        ("clock = { every = \"2s\" }", "button = \"x\", clock = { every = \"2s\" }", Contradiction, 39, "both a `button` and a `clock`"),
        ("stun = \"0.2s\"", "stun = \"1t\"", ShortStun, 51, "eats no input"),
        ("from = \"front\"", "from = \"frnt\"", UnknownName, 56, "did you mean `front`?"),
        ("from = \"front\"", "margin = 2", NoEffect, 56, "`margin` widens"),
        ("from = \"front\"", "from = { angle = [90, 0] }", OutOfRange, 56, "is empty"),
        ("from = \"front\"", "falling_at_least = -5", OutOfRange, 56, "-5 is not between 0"),
        ("attack = \"thrust\", phase", "attack = \"thrst\", phase", UnknownName, 56, "did you mean `thrust`?"),
        ("phase = \"active\" }", "phase = \"activ\" }", UnknownName, 56, "did you mean `active`?"),
        ("meter.health = { at_least = 1 }", "meter.helth = { at_least = 1 }", UnknownName, 56, "did you mean `health`?"),
        ("meter.health = { at_least = 1 }", "meter.health = {}", NoEffect, 56, "asks nothing"),
        ("without = [\"brave\"]", "without = [\"brav\"]", UnknownName, 56, "did you mean `brave`?"),
        ("beats = [\"claw\"]", "beats = [\"clw\"]", UnknownName, 57, "did you mean `claw`?"),
        ("beats = [\"claw\"]", "beats = [\"thrust\"]", BeatsCycle, 57, "`thrust` beats `thrust`"),
        ("beats = [\"claw\"]", "beats_for = \"1s\"", NoEffect, 57, "there is none"),
        ("drain = { share = 0.5 }", "drain = { share = 0.5, meter = \"pois\" }", UnknownName, 59, "did you mean `poise`?"),
        ("to = \"who\"", "to = \"whose\"", UnknownName, 60, "did you mean `who`?"),
        ("to = \"who\", ", "", MissingKey, 60, "`to` is missing"),
        ("heal = 0.5", "heel = 0.5", UnknownKey, 60, "did you mean `heal`?"),
        ("press = \"attack\"", "press = \"attak\"", UnknownName, 63, "did you mean `attack`?"),
    ];
    one_finding_each(FIGHT, cases);
}

#[test]
fn a_kind_that_nobody_placed_is_told_and_its_rule_with_it() {
    let alone = GOOD
        .replace(
            "kind = \"foe\"\nid = \"foe_1\"",
            "kind = \"hero\"\nid = \"hero_2\"",
        )
        .replace(
            "kind = \"hero\"\nat",
            "kind = \"hero\"\nid = \"hero_1\"\nat",
        )
        .replace("who = \"hero\"", "who = \"hero_1\"");
    let found = findings(&alone);
    assert_eq!(found.len(), 1, "{found:?}");
    assert_eq!(found[0].0, Code::NobodyPlaced);
}

#[test]
fn all_faults_at_once_in_the_order_of_the_text() {
    let spoilt = GOOD
        .replace("side = ", "sied = ")
        .replace("radius = 5", "radius = 0")
        .replace("foe.claw", "foe.clow")
        .replace("length = \"2s\"", "length = 2");
    let lines: Vec<usize> = findings(&spoilt).iter().map(|(_, line, _)| *line).collect();
    assert_eq!(lines, [7, 15, 26, 31]);
}

#[test]
fn what_is_not_an_encounter_at_all() {
    for (name, bytes, code) in [
        ("empty", b"".to_vec(), Code::MissingKey),
        ("binary", vec![0xff, 0xfe, 0x00, 0x80], Code::NotText),
        ("large", vec![b'#'; 9 << 20], Code::TooLarge),
        ("not TOML", b"edition = = 1".to_vec(), Code::Syntax),
        (
            "a key twice",
            b"edition = 1\nedition = 1".to_vec(),
            Code::Syntax,
        ),
        ("not JSON", b"{\"edition\": 1,}".to_vec(), Code::Syntax),
        (
            "a JSON key twice",
            b"{\"edition\": 1, \"edition\": 1}".to_vec(),
            Code::Syntax,
        ),
        (
            "a deep TOML array",
            format!("a = {}", "[".repeat(100_000)).into_bytes(),
            Code::Syntax,
        ),
        (
            "a deep JSON array",
            format!("{{\"a\": {}", "[".repeat(100_000)).into_bytes(),
            Code::Syntax,
        ),
        ("a JSON array", b"[1]".to_vec(), Code::MissingKey),
    ] {
        let checked = check(&bytes);
        assert!(checked.plan.is_none(), "{name}");
        assert_eq!(
            checked.findings.iter().next().map(|finding| finding.code),
            Some(code),
            "{name}: {}",
            checked.findings
        );
    }
}

#[test]
fn a_million_copies_are_refused_without_being_made() {
    for count in ["1000000", "4000000000"] {
        let many = GOOD.replace(
            "at = [50, 20]",
            &format!("at = [50, 20]\ncopies = {{ count = {count}, step = [0, 0] }}"),
        );
        let found = findings(&many);
        assert!(
            found.iter().any(|(code, ..)| *code == Code::TooMany),
            "{found:?}"
        );
    }
}

#[test]
fn findings_without_end_are_cut_short() {
    let many: String = (0..5000).map(|nth| format!("k{nth} = 1\n")).collect();
    assert_eq!(
        check(format!("{many}{GOOD}").as_bytes()).findings.len(),
        201
    );
}

#[test]
fn an_encounter_built_in_code_is_checked_alike() {
    let encounter = Encounter::new("x")
        .kind("ghost", Kind::new().gravity(f64::NAN))
        .place(Placement::new("goblin", [0.0, 0.0]));
    let findings = encounter.plan().expect_err("two faults");
    let told: Vec<String> = findings.iter().map(ToString::to_string).collect();
    assert_eq!(
        told,
        [
            "error[unknown-name] at place[1].kind: there is no kind `goblin` (known here: ghost)",
            "error[out-of-range] at kind.ghost.gravity: NaN is not between -100 and 100 times (choose a number within that range)",
        ]
    );
}

#[test]
fn twenty_thousand_in_one_spot_are_an_error_and_not_a_hang() {
    let kind = Kind::new()
        .hitbox("a", tin_crown::BoxSpec::circle(5.0))
        .hurtbox("b", tin_crown::BoxSpec::circle(5.0));
    let encounter = crate::stage::stage(60, "1s")
        .kind("k", kind)
        .place(
            Placement::new("k", [0.0, 0.0])
                .id("k_")
                .copies(20_000, [0.0, 0.0]),
        )
        .rule(
            tin_crown::Rule::new("r", "*", "*")
                .knockback(1.0, 0.0)
                .every("1s".parse().unwrap()),
        );
    let error = crate::stage::plan(&encounter).replay("d").unwrap_err();
    assert!(
        error
            .to_string()
            .contains("more than 500000 pairs of boxes touch"),
        "{error}"
    );
}

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
        ("aim = \"facing\"", "aim = { at = \"#brav\" }", UnknownName, 20, "did you mean `#brave`?"),
        ("aim = \"facing\"", "aim = { at = \"#brave.torso\" }", UnknownName, 20, "write \"#brave\""),
        ("aim = \"facing\"", "aim = { at = \"hero\", angle = 5 }", Contradiction, 20, "cannot stand together"),
        ("speed = 200", "speed = { choice = [] }", OutOfRange, 21, "nothing to choose from"),
        ("speed = 200", "speed = { range = [5] }", WrongType, 21, "a pair of numbers"),
        ("speed = 200", "speed = { rnge = [5, 6] }", UnknownKey, 21, "did you mean `range`?"),
        ("spread = 5", "spread = 500", OutOfRange, 22, "not between 0 and 360 degrees"),
        ("spread = 5", "fan = 50", NoEffect, 22, "a fan of one"),
        ("spread = 5", "in_flight = 0", OutOfRange, 22, "never launch anything"),
        ("shots = 2, ", "", MissingKey, 23, "`shots` is missing"),
        ("ammo = { meter = \"corks\"", "ammo = { meter = \"crks\"", UnknownName, 25, "did you mean `corks`?"),
        ("ammo = { meter = \"corks\", cost = 1 }\n", "", NoEffect, 25, "it costs nothing"),
        ("from = \"spare\"", "from = \"corks\"", Contradiction, 14, "filled from itself"),
        ("from = \"spare\"", "from = \"spar\"", UnknownName, 14, "did you mean `spare`?"),
        ("every = \"1s\", amount = 1", "amount = 1", MissingKey, 13, "needs an `every`"),
        ("every = \"1s\", amount = 1", "every = \"0s\"", OutOfRange, 13, "some time to the next"),
        ("muzzle = [4, 2]", "muzzle = [40, 2]", MuzzleBeyond, 19, "is passed over"),
        ("[kind.hero.launcher.pop]", "leaves = [{ kind = \"pop\" }]\n[kind.pop]\nlifetime = \"1s\"\n[kind.hero.launcher.pop]", Duplicate, 16, "the same ids"),
        ("targets = 2", "targets = 0", OutOfRange, 30, "hit nobody"),
        ("bounces = 1, keeps", "keeps", NoEffect, 30, "it has none"),
        ("keeps = 0.5", "ends_on = [\"wall\"]", UnknownName, 30, "known here: edge, hit, solid"),
        ("lifetime = \"1s\"", "lifetime = \"0s\"", OutOfRange, 31, "takes some time"),
        ("kind = \"puff\"", "kind = \"puf\"", UnknownName, 32, "did you mean `puff`?"),
        ("on = [\"hit\"]", "on = [\"hitt\"]", UnknownName, 32, "did you mean `hit`?"),
        ("[kind.puff]\nlifetime = \"5t\"", "[kind.puff]\ndrag = 1", NeverLeaves, 32, "nothing ever ends a `puff`"),
        ("area = { radius = 5 }, by", "by", MissingKey, 36, "needs an `area`"),
        ("by = \"#brave\"", "by = \"#bravo\"", UnknownName, 36, "did you mean `#brave`?"),
        ("gives = [{ meter = \"corks\", amount = 4 }]", "when_full = \"stays\"", NoEffect, 36, "gives nothing"),
        ("meter = \"corks\", amount = 4", "meter = \"cork\", amount = 4", UnknownName, 36, "did you mean `corks`?"),
        ("on = \"1s\", off", "on = \"0s\", off", OutOfRange, 39, "some time `on`"),
        ("area = { radius = 50 }, ", "", MissingKey, 40, "neither `area` nor `ray`"),
        ("notices = \"#brave\", ", "", MissingKey, 40, "notices nobody"),
        ("area = { radius = 50 }", "ray = { from = [1, 1], to = [1, 1] }", BadShape, 40, "ends where it begins"),
        ("\"solids\", \"tin\"", "\"solid\", \"tin\"", UnknownName, 40, "no actor or kind `solid`"),
        ("sees = \"eyes\", for", "sees = \"eye\", for", UnknownName, 41, "did you mean `eyes`?"),
        ("sees = \"eyes\", for = \"3t\", within = 40", "within = 40", NoEffect, 41, "of what a sensor `sees`"),
        ("starts = \"calm\"\n", "", MissingKey, 37, "starts in none"),
        ("starts = \"calm\"", "starts = \"clam\"", UnknownName, 42, "did you mean `calm`?"),
        ("when = \"60t\"", "when = \"0t\"", Contradiction, 45, "in the order of their times"),
        ("then = \"returns\"", "then = \"loops\"", PathJumps, 45, "jumps there in one tick"),
        ("keys = [{ when = \"0t\", at = [0, 0] }, { when = \"60t\", at = [0, 9] }], ", "", MissingKey, 45, "a path needs `keys`"),
        ("to = \"cross\"", "to = \"cros\"", UnknownName, 46, "did you mean `cross`?"),
        ("when = \"near\"", "when = \"nera\"", UnknownName, 46, "did you mean `near`?"),
        ("when = { loses = \"eyes\" }", "when = {}", NoEffect, 50, "it always holds"),
        ("whom = \"#brave\", speed = 50", "whom = \"#brave\"", MissingKey, 48, "a chase needs a `speed`"),
        ("attacks = [\"stab\"]", "attacks = [\"stap\"]", UnknownName, 49, "did you mean `stab`?"),
        ("attacks = [\"stab\"]", "attacks = [\"stab\"]\nguard = true", NoEffect, 50, "has no `guard`"),
        ("loses = \"eyes\"", "after = \"1s\", meter.rage = { at_least = 1 }", UnknownName, 50, "no meter of this kind `rage`"),
        ("loses = \"eyes\"", "other = { who = \"hero\" }", MissingKey, 50, "`state` or `sees` is missing"),
        ("loses = \"eyes\"", "other = { who = \"hero\", state = \"clam\" }", UnknownName, 50, "did you mean `calm`?"),
        ("hitbox = \"cork.tip\"", "hitbox = \"hero.tipp\"", UnknownName, 62, "did you mean `tip`?"),
        ("[[5, 2], [9, 1]]", "[[9, 2], [5, 1]]", Contradiction, 64, "bands go outward"),
        ("bands = [[5, 2], [9, 1]]", "bands = [[5, 2]], amount = 1", Contradiction, 64, "cannot stand together"),
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
"##;

#[test]
fn one_fault_in_an_afterlife_one_finding() {
    use Code::*;
    assert_eq!(findings(AFTERLIFE), []);
    #[rustfmt::skip]
    let cases: &[Case] = &[
        ("paused_by = [\"urchin\"]", "paused_by = [\"urchn\"]", UnknownName, 14, "did you mean `urchin`?"),
        ("paused_by = [\"urchin\"]", "paused_in = [\"calm\"]", UnknownName, 14, "state of this kind"),
        ("paused_by = [\"urchin\"]", "up_to = 9", NoEffect, 14, "holds 2 at the most"),
        ("delay = \"2s\", every = \"1s\", amount = 1", "delay = \"0.1s\", every = \"0.1s\", amount = 1", RegenOutruns, 14, "gets back between two hits"),
        ("meter.health = { max = 3 }", "meter.vigour = { max = 3 }", UnknownName, 32, "no meter `health`"),
        ("lives = 2", "lives = 0", OutOfRange, 16, "never there"),
        ("at = \"checkpoint\"", "at = \"lamp\"", UnknownName, 16, "known here: checkpoint, start"),
        ("at = \"checkpoint\"", "at = { places = [50, 12] }", InsideSolid, 16, "come back inside a solid"),
        ("at = \"checkpoint\"", "at = { places = [999, 20] }", OutsideArena, 16, "come back outside the arena"),
        ("at = \"checkpoint\"", "at = { places = [121, 20] }", RespawnInHazard, 16, "longer `invincible.after_respawn`"),
        ("resets = [\"#brave\"]", "resets = \"everything\"", UnknownName, 16, "known here: encounter, self"),
        ("resets = [\"#brave\"]", "resets = [\"#brav\"]", UnknownName, 16, "did you mean `#brave`?"),
        ("delay = \"1s\", lives", "lives", NoEffect, 16, "no `delay` to count down"),
        ("who = \"urchin\", within", "who = \"urchn\", within", UnknownName, 16, "did you mean `urchin`?"),
        ("after = \"0.5s\"", "after = \"-1s\"", BadDuration, 17, "not a duration"),
        ("{ after = \"0s\"", "{ after = \"2s\"", Contradiction, 17, "in the order of their times"),
        ("throw = { up = 100 }", "throw = { up = 100 }, freeze = true", Contradiction, 17, "neither thrown nor moved"),
        ("throw = { up = 100 }", "throw = { away = 100 }", NoEffect, 17, "no other party"),
        ("live = [\"chill\"]", "live = [\"chil\"]", UnknownName, 17, "did you mean `chill`?"),
        ("kind = \"coin\", weight = 2", "kind = \"con\", weight = 2", UnknownName, 17, "did you mean `coin`?"),
        ("kind = \"coin\", weight = 2", "kind = \"coin\", weight = 0", OutOfRange, 17, "not between 1"),
        (", meters = [\"shield\", \"health\"], overflow = false", ", overflow = false", NoEffect, 32, "goes on to the next meter"),
        ("name = \"lamp\"", "name = \"door.lamp\"", BadName, 34, "mean something in selectors"),
        ("area = { min = [80, 10], max = [90, 40] }", "area = { min = [80, 50], max = [90, 40] }", BadBounds, 35, "inside out"),
        ("area = { min = [80, 10], max = [90, 40] }", "area = { min = [80, 1], max = [90, 9] }", OutOfReach, 35, "inside a solid"),
        ("area = { min = [380, 10], max = [390, 40] }", "area = { min = [980, 10], max = [990, 40] }", OutOfReach, 41, "outside the arena"),
        ("at = [85, 20]", "at = [85, 12]", InsideSolid, 36, "come back inside a solid"),
        ("by = \"#brave\"", "by = \"urchin\"", OutOfReach, 35, "nobody with a body"),
        ("refills = [\"shield\"]", "refills = [\"shild\"]", UnknownName, 38, "did you mean `shield`?"),
        ("survive = \"9s\"", "gone = \"#windup\"", UnknownName, 43, "there is no tag"),
        ("survive = \"9s\"", "", MissingKey, 42, "`gone` or `survive` is missing"),
        ("length = \"2s\"", "length = \"2s\"\nafterwards = \"loud\"", UnknownName, 46, "known here: goes-on, quiet"),
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
