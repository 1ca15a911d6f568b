//! Bad input: one clear finding each, with its line, and never a panic or a hang.

use tin_crown::{Code, Encounter, Kind, Placement, Severity, check, limits};

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
pub fn findings(text: &str) -> Vec<(Code, usize, String)> {
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
        ("edition = 1", "edition = 2", Edition, 1, "does not read edition 2"),
        ("edition = 1\n", "", MissingKey, 0, "`edition` is required"),
        ("edition = 1\n", "editoin = 1\n", MissingKey, 0, "`edition` is required"),
        ("edition = 1\n", "edition = \"1\"\n", WrongType, 1, "expected a number"),
        ("title = \"good\"", "titel = \"good\"\ntitle = \"x\"", UnknownKey, 2, "did you mean `title`?"),
        ("title = \"good\"", "title = 5", WrongType, 2, "expected a string, found a number"),
        ("title = \"good\"\n", "title = \"good\"\ntick_rate = 0\n", OutOfRange, 3, "between 1 and 1000 ticks per second"),
        ("max = [200, 100] }", "max = [-200, 100] }", BadBounds, 4, "are inverted"),
        ("max = [200, 100] }", "max = [200, inf] }", OutOfRange, 4, "a number this large is not between"),
        ("max = [200, 10] }", "max = [200, 10], colour = 1 }", UnknownKey, 5, "unknown key `colour`"),
        ("bounds = { min = [0, 0], max = [200, 100] }", "", MissingKey, 3, "`bounds` is required"),
        ("side = \"ours\"", "sid = \"ours\"", UnknownKey, 7, "did you mean `side`?"),
        ("tags = [\"brave\"]", "tags = \"brave\"", WrongType, 8, "expected an array"),
        ("size = [10, 20]", "size = [0, 20]", OutOfRange, 9, "0 is not between 0.001"),
        ("size = [10, 20]", "size = [-10, 20]", OutOfRange, 9, "-10 is not between 0.001"),
        ("size = [10, 20]", "size = [nan, 20]", OutOfRange, 9, "nan is not between"),
        ("size = [10, 20]", "size = [10]", WrongType, 9, "a pair of numbers"),
        ("size = [10, 20]", "size = [10, 20], radius = 3", BadShape, 9, "two forms at once"),
        ("body = { size = [10, 20] }", "body = { at = [1, 2] }", BadShape, 9, "`body` has no form"),
        ("walk = { speed = 60 }", "walk = { jump = 60 }", MissingKey, 10, "a walk needs a `speed`"),
        ("walk = { speed = 60 }", "walk = { speed = 60, accell = 5 }", UnknownKey, 10, "did you mean `accel`?"),
        ("max = 3", "max = 3.0001", OutOfRange, 11, "at most three decimals"),
        ("max = 3", "max = 0", BadMeter, 11, "holds nothing"),
        ("max = 3", "max = 3, start = 4", BadMeter, 11, "starts with 4 but holds at most 3"),
        ("max = 3", "max = 3, start = 0", BadMeter, 11, "dead before the drill begins"),
        ("\"0.5s\" }\n[kind.foe]", "0.5 }\n[kind.foe]", BadDuration, 13, "found 0.5 without a unit"),
        ("\"0.5s\" }\n[kind.foe]", "\"0.5\" }\n[kind.foe]", BadDuration, 13, "needs a unit"),
        ("\"0.5s\" }\n[kind.foe]", "\"25ms\" }\n[kind.foe]", Rounded, 13, "25ms becomes 2t at 60 ticks a second, 33 % off"),
        ("[kind.foe]\n", "[kind.foe]\nlike = \"her\"\n", UnknownName, 15, "did you mean `hero`?"),
        ("[kind.foe]\n", "[kind.foe]\nlike = \"foe\"\n", LikeCycle, 15, "foe → foe"),
        ("[kind.foe]\n", "[kind.a]\nlike = \"b\"\n[kind.b]\nlike = \"a\"\n[kind.foe]\n", LikeCycle, 17, "a → b → a"),
        ("radius = 5", "radius = -5", OutOfRange, 15, "-5 is not between"),
        ("radius = 5", "points = [[0, 0], [9, 0], [1, 1], [0, 9]]", BadShape, 15, "convex outline"),
        ("radius = 5", "points = [[0, 0], [9, 0]]", BadShape, 15, "3 to 8 points"),
        ("radius = 5", "ends = [[0, 0], [9, 0]]", BadShape, 15, "no `radius`"),
        ("hurtbox.torso", "meter.\"a.b\" = { max = 1 }\nhurtbox.torso", BadName, 12, "have a meaning in selectors"),
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
        ("id = \"foe_1\"", "id = \"foe_1\"\nmeter.helth = { max = 3 }", UnknownName, 23, "there are none"),
        ("id = \"foe_1\"", "id = \"foe_1\"\nhitbox.clow = { radius = 7 }", UnknownName, 23, "did you mean `claw`?"),
        ("id = \"foe_1\"", "id = \"foe_1\"\nhitbox.claw = { radius = -7 }", OutOfRange, 23, "-7 is not between"),
        ("[[rule]]", "[[rul]]", UnknownKey, 24, "did you mean `rule`?"),
        ("foe.claw", "fo.claw", UnknownName, 26, "did you mean `foe`?"),
        ("foe.claw", "Foe.claw", UnknownName, 26, "did you mean `foe`?"),
        ("foe.claw", "foe.claws", UnknownName, 26, "did you mean `claw`?"),
        ("foe.claw", "hero.torso", UnknownName, 26, "`torso` is a hurtbox"),
        ("foe.claw", "foe.claw.tip", UnknownName, 26, "at most one dot"),
        ("#brave.torso", "#brav.torso", UnknownName, 27, "did you mean `#brave`?"),
        ("#brave.torso", "brave.torso", UnknownName, 27, "write `#brave`"),
        ("damage = 1", "damage = -1", OutOfRange, 28, "must not be negative"),
        ("damage = 1", "damage = { amount = 1, meters = [\"helth\"] }", UnknownName, 28, "did you mean `health`?"),
        ("damage = 1\nknockback = { away = 50 }", "", NoEffect, 24, "has no effect"),
        ("knockback = { away = 50 }", "knockback = { away = 50, along = 5 }", Contradiction, 29, "only one of"),
        ("knockback = { away = 50 }", "repeat = \"per-atack\"", UnknownName, 29, "did you mean `per-attack`?"),
        ("length = \"2s\"", "length = \"99999s\"", TooMany, 31, "at most 1000000"),
        ("length = \"2s\"", "length = \"-2s\"", BadDuration, 31, "not a duration"),
        ("who = \"hero\"", "who = \"villain\"", UnknownName, 32, "unknown actor `villain`"),
        ("who = \"hero\"", "who = \"foe_1\"", UnknownName, 32, "buttons do not move it"),
        ("hold = \"right\"", "hold = \"rihgt\"", UnknownName, 32, "did you mean `right`?"),
        ("hold = \"right\"", "hold = \"jump\"", UnknownName, 32, "no button `jump`"),
        ("hold = \"right\", for = \"1s\"", "press = \"right\", for = \"1s\"", Contradiction, 32, "cannot be used together"),
        ("hold = \"right\", for = \"1s\"", "", MissingKey, 32, "one of `press`, `hold`, `release`, `face` is required"),
        ("when = \"0.5s\"", "when = \"5s\"", NoEffect, 32, "after the end of the drill"),
        ("invincible = { after_hit = \"0.5s\" }\n", "", DrainsInABlink, 23, "on every tick of a touch"),
    ];
    one_finding_each(GOOD, cases);
}

/// What is replaced by what; the finding, its line, and what it says.
pub type Case = (&'static str, &'static str, Code, usize, &'static str);

pub fn one_finding_each(good: &str, cases: &[Case]) {
    let mut wrong = Vec::new();
    for (old, new, code, line, words) in cases {
        assert!(good.contains(old), "{old} is not in the good one");
        let found = findings(&good.replacen(old, new, 1));
        let as_due = matches!(&found[..], [(own, at, said)]
            if (own, at) == (code, line) && said.contains(words) && !said.ends_with("| "));
        if !as_due {
            wrong.push(format!("{old} → {new}: `{words}` not in {found:?}"));
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

#[test]
fn the_solid_that_a_body_is_in_is_the_one_of_the_file() {
    // The floor comes third here, after a wall further right and a one-way board further up.
    let text = GOOD.replace("at = [50, 20]", "at = [50, 15]").replace(
        "solids = [",
        "solids = [{ min = [180, 50], max = [190, 60] }, { min = [0, 90], max = [9, 95], one_way = true }, ",
    );
    let checked = check(text.as_bytes());
    let finding = checked.findings.iter().next().expect("one is told");
    let (path, _, span) = &finding.related[0];
    assert_eq!(path.to_string(), "arena.solids[3]");
    let span = span.as_ref().expect("it is in the text");
    assert_eq!(
        text[span.start..span.end].trim(),
        "{ min = [0, 0], max = [200, 10] }"
    );
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
    let findings = check(format!("{many}{GOOD}").as_bytes()).findings;
    let more = findings.left_out(Severity::Error);
    assert_eq!((findings.len(), more), (limits::FINDINGS, 4800));
    assert!(findings.to_string().ends_with("\nand 4800 more"));
}

#[test]
fn what_is_left_out_is_counted_and_changes_nothing() {
    // Presses 1.05 ticks apart are moved by up to 5 %, and more than that is told: here of 300 holds
    // of 1.4 ticks each, which become 1.
    let notes: String = (0..300)
        .map(|nth| {
            format!("  {{ when = \"{nth}t\", who = \"hero\", hold = \"left\", for = \"23ms\" }},\n")
        })
        .collect();
    let noted = format!("{GOOD}\n[drill.noted]\nlength = \"9s\"\ninput = [\n{notes}]\n");
    let checked = check(noted.as_bytes());
    let count = |severity| {
        let listed = checked.findings.iter();
        let listed = listed.filter(|finding| finding.severity == severity);
        (listed.count(), checked.findings.left_out(severity))
    };
    assert_eq!(count(Severity::Note), (200, 100));
    assert_eq!(count(Severity::Error), (0, 0));
    assert!(checked.plan.is_some());
    // Nor do they hide an error, or a warning, that comes after them.
    let spoilt = noted.replacen("length = \"9s\"", "length = \"9s\"\nsed = 3", 1);
    let checked = check(spoilt.as_bytes());
    let unknown = |finding: &tin_crown::Finding| finding.code == Code::UnknownKey;
    assert!(checked.findings.iter().any(unknown) && checked.plan.is_none());
    // All of a sort can be allowed, however many there are.
    let allowed =
        format!("{noted}\n[[allow]]\nfinding = \"rounded\"\nreason = \"as it is played\"\n");
    let findings = check(allowed.as_bytes()).findings;
    assert_eq!(
        (findings.to_string(), findings.allowed().count()),
        (String::new(), 300)
    );
}

#[test]
fn nothing_is_left_out_or_misspelt_in_silence() {
    let mut seen = std::collections::BTreeSet::new();
    for file in [
        "first-shelf",
        "second-shelf",
        "third-shelf",
        "attic",
        "starter",
    ] {
        let folder = concat!(env!("CARGO_MANIFEST_DIR"), "/demo/");
        let text = std::fs::read_to_string(format!("{folder}{file}.toml")).expect("it is there");
        let lines: Vec<&str> = text.lines().collect();
        for (nth, line) in lines.iter().enumerate() {
            if line.trim().is_empty() || line.starts_with('#') {
                continue;
            }
            // A key that comes again is read by the same code.
            let key = line.split(['=', '.', ' ']).next().unwrap_or_default();
            if !line.starts_with('[') && !seen.insert(key.to_owned()) {
                continue;
            }
            // `findings` wants a plan, or an error that says why there is none.
            let mut spoilt = lines.clone();
            spoilt.remove(nth);
            findings(&spoilt.join("\n"));
            // The first letter of the first key of the line twice.
            let written = line.split('#').next().unwrap_or_default();
            let Some(key) = written.find(|letter: char| letter.is_ascii_lowercase()) else {
                continue;
            };
            let twice = format!("{}{}", &line[..=key], &line[key..]);
            spoilt.insert(nth, &twice);
            let found = findings(&spoilt.join("\n"));
            assert!(!found.is_empty(), "{twice} is as good as {line}");
        }
    }
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
            "error[unknown-name] at place[1].kind: unknown kind `goblin` (known: ghost)",
            "error[out-of-range] at kind.ghost.gravity: nan is not between -100 and 100 (choose a number within that range)",
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
