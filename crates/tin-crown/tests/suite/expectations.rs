//! What is expected of drills: met or not, and what is said when not.

use std::sync::Arc;

use tin_crown::{Code, Plan, Replay, check, check_expectations};

/// The porter walks into everything: horns land on 64, 95, 146 and 176, the last one kills.
fn careless() -> Replay {
    demo().replay("careless").expect("the drill is there")
}

fn demo() -> Arc<Plan> {
    let file = tin_crown::demo::FIRST_SHELF.as_bytes();
    check(file).plan.expect("the demo has no errors")
}

/// Why an expectation, written as in a file, is not met; nothing when it is.
fn miss(replay: &Replay, expectation: &str) -> Option<tin_crown::verify::Miss> {
    let text = format!("edition = 1\nexpect = [{expectation}]\n");
    let beside = check_expectations(replay.plan(), text.as_bytes());
    let expectations = beside
        .expectations
        .unwrap_or_else(|| panic!("{}\n{text}", beside.findings));
    let mut tested = replay.test_all(expectations.of(replay.drill())).into_iter();
    tested.next().expect("one is written").miss
}

#[test]
fn what_is_met_and_what_is_not() {
    let replay = careless();
    #[rustfmt::skip]
    let cases: &[(&str, Option<&str>)] = &[
        (r##"{ hit = { who = "beetle_1", whom = "porter" } }"##, None),
        (r##"{ hit = { who = "#windup", whom = "#hero" } }"##, None),
        (r##"{ hit = { whom = "porter", rule = "horns gore porter", amount = 1 }, times = 4 }"##, None),
        (r##"{ hit = { whom = "porter" }, times = 3 }"##, Some("it happens 4 times: at 1.067 s, 1.600 s, 2.450 s and 2.950 s")),
        (r##"{ hit = { whom = "porter" }, times = { at_least = 5 } }"##, Some("it happens 4 times: at 1.067 s, 1.600 s, 2.450 s and 2.950 s")),
        (r##"{ hit = { whom = "porter" }, times = { at_least = 2, at_most = 4 } }"##, None),
        // 64 at 60 a second is 1.0667 s: 1.05s is tick 63.
        (r##"{ hit = { whom = "porter" }, when = "1.05s", within = "1t" }"##, None),
        (r##"{ hit = { whom = "porter" }, when = "1.05s" }"##, Some("it does not happen then")),
        (r##"{ hit = { whom = "porter" }, from = "65t", to = "95t" }"##, Some("it does not happen then")),
        (r##"{ never = { hit = { whom = "porter" } }, from = "65t", to = "95t" }"##, None),
        (r##"{ never = { hit = { whom = "porter" } }, from = "65t", to = "96t" }"##, Some("it happens at 1.600 s, tick 96")),
        // Landed or guarded, unless it says which.
        (r##"{ hit = { who = "beetle_2", whom = "porter" }, times = 1 }"##, None),
        (r##"{ hit = { who = "beetle_2", whom = "porter", verdict = "invincible" }, times = 1, when = "173t" }"##, None),
        (r##"{ never = { hit = { whom = "porter", verdict = "guarded" } } }"##, None),
        // 64, 96, 147 and 177: 32, 51 and 30 apart.
        (r##"{ hit = { whom = "porter" }, apart = "30t" }"##, None),
        (r##"{ hit = { whom = "porter" }, apart = "31t" }"##, Some("two are 30 ticks apart: at 2.450 s, tick 147 and at 2.950 s, tick 177")),
        (r##"{ hit = { who = "beetle_1" }, before = { hit = { who = "beetle_2" } } }"##, None),
        (r##"{ hit = { who = "beetle_2" }, before = { hit = { who = "beetle_1" } } }"##, Some("it comes at 2.950 s, tick 177, after the other at 1.067 s, tick 64")),
        (r##"{ hit = { who = "beetle_2" }, after = { death = { who = "stag" } } }"##, Some("there is no death of stag")),
        (r##"{ death = { who = "porter" }, after = { hit = { who = "beetle_2" } }, by = "0t" }"##, None),
        (r##"{ gone = { who = "porter" }, after = { hit = { who = "beetle_1" } }, by = "30t" }"##, Some("after the one at 1.067 s, tick 64 it comes 113 ticks later, at 2.950 s, tick 177")),
        (r##"{ never = { hit = { who = "beetle_1" } }, after = { hit = { who = "beetle_2" } } }"##, None),
        (r##"{ never = { hit = { who = "beetle_2" } }, after = { hit = { who = "beetle_1" } } }"##, Some("it happens at 2.950 s, tick 177")),
        (r##"{ never = { hit = { whom = "porter" } }, before = { hit = { who = "beetle_2" } } }"##, Some("it happens 3 times, first at 1.067 s, tick 64")),
        (r##"{ never = { death = { who = "porter" } }, after = { death = { who = "stag" } } }"##, None),
        (r##"{ death = { who = "porter" } }"##, None),
        (r##"{ death = { who = "#windup" } }"##, Some("it does not happen")),
        (r##"{ outcome = "lost" }"##, None),
        (r##"{ outcome = "lost", when = "3s", within = "5t" }"##, None),
        (r##"{ outcome = "won" }"##, Some("it was lost at 2.950 s, tick 177")),
        (r##"{ meter = { who = "porter", meter = "health", is = 0 } }"##, None),
        // It ends on tick 177.
        (r##"{ meter = { who = "porter", meter = "health", is = 0 }, when = "3s" }"##, Some("the drill ends before, at 2.950 s, tick 177")),
        (r##"{ meter = { who = "porter", meter = "health", is = 0 }, when = "3s", within = "3t" }"##, None),
        (r##"{ meter = { who = "porter", meter = "health", is = 1 } }"##, Some("health of porter is 0 at the end")),
        (r##"{ meter = { who = "porter", meter = "health", is = 3 }, when = "1.2s" }"##, None),
        // At the end of tick 64 it is 3 already.
        (r##"{ meter = { who = "porter", meter = "health", is = 4 }, when = "64t" }"##, Some("health of porter is 3 at 1.067 s, tick 64")),
        (r##"{ meter = { who = "porter", meter = "health", is = 4 }, when = "64t", within = "1t" }"##, None),
        (r##"{ meter = { who = "porter", meter = "health", at_least = 1 } }"##, Some("health of porter is 0 at 2.950 s, tick 177")),
        (r##"{ meter = { who = "porter", meter = "health", at_least = 1 }, to = "176t" }"##, None),
        (r##"{ meter = { who = "*", meter = "health", at_most = 4 } }"##, None),
        (r##"{ meter = { who = "porter", meter = "health", passes = 2 }, when = "96t" }"##, None),
        (r##"{ meter = { who = "porter", meter = "health", passes = 2.5 }, times = 1 }"##, None),
        (r##"{ never = { hit = { whom = "porter" } }, while = { who = "porter", meter.health = { at_most = 1 } } }"##, Some("it happens at 2.950 s, tick 177")),
        (r##"{ never = { hit = { whom = "porter" } }, while = { who = "porter", dying = true } }"##, None),
        (r##"{ attack = { who = "porter" } }"##, Some("it does not happen, nor anything of that sort")),
        // Half of 4 is 2.
        (r##"{ meter = { who = "porter", meter = "health", passes = "50%" }, when = "96t" }"##, None),
        (r##"{ meter = { who = "porter", meter = "health", at_least = "50%" }, to = "146t" }"##, None),
        (r##"{ meter = { who = "porter", meter = "health", at_least = "50%" } }"##, Some("health of porter is 1 at 2.450 s, tick 147")),
        (r##"{ never = { hit = { whom = "porter" } }, while = { who = "porter", meter.health = { at_most = "25%" } } }"##, Some("it happens at 2.950 s, tick 177")),
        (r##"{ death = { who = "porter", by = "beetle_2", of = "health" } }"##, None),
        (r##"{ death = { who = "porter", of = "kill" } }"##, Some("it does not happen")),
        (r##"{ death = { who = "porter", by = "beetle_1" } }"##, Some("it does not happen")),
        (r##"{ input = { who = "porter", button = "right", down = true }, when = "12t", times = 1 }"##, None),
        (r##"{ input = { who = "porter", button = "right", down = false } }"##, Some("it does not happen")),
        (r##"{ appear = { who = "beetle" }, when = "0t", times = 2 }"##, None),
        (r##"{ vanish = {} }"##, Some("it does not happen, nor anything of that sort")),
        // Each of the four hits knocks the porter back, off the floor.
        (r##"{ push = { whom = "porter", who = "#windup", rule = "horns gore porter" }, times = 4 }"##, None),
        (r##"{ push = { whom = "beetle" } }"##, Some("it does not happen")),
        (r##"{ landing = { who = "porter" }, after = { push = { whom = "porter" } } }"##, None),
        (r##"{ landing = { who = "porter" }, to = "64t" }"##, Some("it does not happen then")),
        // Pressed on 12, at 90 / 60 = 1.5 a tick: from 60 to 61.5.
        (r##"{ place = { who = "porter", inside = { min = [59, 29], max = [61, 31] } }, when = "11t" }"##, None),
        (r##"{ place = { who = "porter", inside = { min = [59, 29], max = [61, 31] } }, when = "12t" }"##, Some("porter is at 61.5, 30 at 0.200 s, tick 12")),
        (r##"{ place = { who = "porter", inside = { min = [59, 29], max = [61, 31] }, holds = "always" } }"##, Some("porter is at 61.5, 30 at 0.200 s, tick 12")),
        (r##"{ place = { who = "porter", inside = { min = [59, 29], max = [61, 31] }, holds = "always" }, to = "11t" }"##, None),
        (r##"{ place = { who = "porter", inside = { min = [61, 29], max = [62, 31] }, holds = "ever" } }"##, None),
        (r##"{ place = { who = "porter", inside = { min = [0, 29], max = [50, 31] }, holds = "ever" } }"##, Some("it never is; at its nearest porter is at 60, 30 at 0.000 s, tick 0")),
        (r##"{ place = { who = "porter", outside = { min = [0, 0], max = [61, 240] } } }"##, None),
        (r##"{ place = { who = "#windup", outside = { min = [0, 0], max = [149, 240] }, holds = "always" } }"##, None),
        (r##"{ place = { who = "porter", facing = "right" } }"##, None),
        (r##"{ place = { who = "porter", facing = 180 }, when = "11t" }"##, Some("porter is at 60, 30 facing right, at 0.183 s, tick 11")),
        (r##"{ place = { who = "porter", inside = { min = [61, 29], max = [62, 31] }, facing = "left", holds = "ever" } }"##, Some("it never is; at its nearest porter is at 61.5, 30 facing right, at 0.200 s, tick 12")),
    ];
    for (expectation, because) in cases {
        let found = miss(&replay, expectation).map(|miss| miss.because);
        assert_eq!(found.as_deref(), *because, "{expectation}");
    }
}

#[test]
fn a_miss_shows_the_nearest_thing_and_lines_around_it() {
    let replay = careless();
    let nearest = |expectation: &str| {
        let miss = miss(&replay, expectation).expect("it is not met");
        let line = miss.line.expect("something of that sort happens");
        let differs = miss.differs.expect("it is not the same");
        let tick = replay.ledger().get(line).expect("it is a line").tick.0;
        assert!(miss.around.contains(&line) && miss.around.len() <= 5);
        (tick, differs)
    };
    #[rustfmt::skip]
    let cases = [
        (r##"{ hit = { who = "beetle_1", whom = "porter" }, when = "1.2s" }"##, 64, "8 ticks too early"),
        (r##"{ hit = { who = "stag", whom = "porter" }, when = "64t" }"##, 64, "it is beetle_1, not stag"),
        (r##"{ hit = { who = "beetle_1", amount = 2 }, when = "64t" }"##, 64, "its amount is 1"),
        (r##"{ hit = { who = "beetle_2", whom = "porter" }, when = "173t" }"##, 173, "its verdict is `invincible`: invincible until 2.950 s"),
    ];
    for (expectation, tick, differs) in cases {
        assert_eq!(
            nearest(expectation),
            (tick, differs.to_owned()),
            "{expectation}"
        );
    }
}

#[test]
fn what_is_expected_of_everyone_and_of_one_drill() {
    let text = r#"
        edition = 1
        [[expect]]
        outcome = "lost"
        [drill.careful]
        expect = [{ outcome = "ended" }]
    "#;
    let plan = demo();
    let beside = check_expectations(&plan, text.as_bytes())
        .expectations
        .expect("no errors");
    let count = |drill| beside.of(plan.drill(drill).unwrap()).count();
    assert_eq!((count("careful"), count("careless")), (2, 1));
    // Those of the encounter itself are all met.
    for drill in plan.drills() {
        let replay = plan.replay(drill.name()).unwrap();
        assert!(replay.verify().len() >= 3);
        assert!(replay.verify().iter().all(|tested| tested.miss.is_none()));
    }
}

#[test]
fn one_fault_in_an_expectation_one_finding() {
    use Code::*;
    let plan = demo();
    #[rustfmt::skip]
    let cases: &[(&str, Code, &str)] = &[
        (r##"{ hit = { who = "portr" } }"##, UnknownName, "did you mean `porter`?"),
        (r##"{ hit = { who = "#heroo" } }"##, UnknownName, "did you mean `#hero`?"),
        (r##"{ hit = { who = "porter.boots" } }"##, UnknownName, "write `porter`"),
        (r##"{ hit = { rule = "boots crush ld" } }"##, UnknownName, "did you mean `boots crush lid`?"),
        (r##"{ hit = { verdict = "landd" } }"##, UnknownName, "did you mean `landed`?"),
        (r##"{ hti = { who = "porter" } }"##, UnknownKey, "did you mean `hit`?"),
        (r##"{ hit = { whoo = "porter" } }"##, UnknownKey, "did you mean `who`?"),
        (r##"{ when = "1s" }"##, MissingKey, "is required"),
        (r##"{ hit = {}, death = {} }"##, Contradiction, "cannot be used together"),
        (r##"{ cue = "boing" }"##, UnknownName, "unknown cue `boing`"),
        (r##"{ reach = { who = "porter", at = "lamp" } }"##, UnknownName, "unknown checkpoint or exit `lamp`"),
        (r##"{ attack = { who = "porter", attack = "thrst" } }"##, UnknownName, "did you mean `thrust`?"),
        (r##"{ meter = { who = "porter", meter = "stamina", is = { at_least = 1 } } }"##, WrongType, "stand by themselves"),
        (r##"{ meter = { who = "porter", meter = "stamin", is = 1 } }"##, UnknownName, "did you mean `stamina`?"),
        (r##"{ meter = { who = "beetle", meter = "stamina", is = 1 } }"##, UnknownName, "has a meter `stamina`"),
        (r##"{ meter = { who = "porter", meter = "health" } }"##, MissingKey, "is required"),
        (r##"{ hit = {}, from = "2s", to = "1s" }"##, Contradiction, "there is no time"),
        (r##"{ hit = {}, times = { at_least = 3, at_most = 1 } }"##, Contradiction, "no number"),
        (r##"{ hit = {}, within = "3t" }"##, NoEffect, "within"),
        (r##"{ hit = {}, by = "3t" }"##, NoEffect, "needs `after`"),
        (r##"{ never = { hit = {} }, when = "3t" }"##, NoEffect, "use `from` and `to`"),
        (r##"{ never = { hit = {} }, times = 3 }"##, NoEffect, "needs something that happens"),
        (r##"{ hit = {}, while = { who = "porter" } }"##, MissingKey, "is required"),
        (r##"{ hit = {}, when = 3 }"##, BadDuration, "without a unit"),
        (r##"{ hit = {}, times = 2, after = { hit = {} }, by = "3t" }"##, NoEffect, "expects one after each `after`"),
        (r##"{ lives = { who = "porter", is = 1 } }"##, NoEffect, "respawn = { lives = 3 }"),
        (r##"{ meter = { who = "porter", meter = "health", is = "50" } }"##, OutOfRange, "a share of its `max`"),
        (r##"{ meter = { who = "porter", meter = "health", is = "150%" } }"##, OutOfRange, "from 0 to 100"),
        (r##"{ place = { who = "porter" } }"##, MissingKey, "is required"),
        (r##"{ place = { who = "porter", inside = "lamp" } }"##, UnknownName, "unknown checkpoint or exit `lamp`"),
        (r##"{ place = { who = "porter", inside = { min = [9, 0], max = [0, 9] } } }"##, BadShape, "is empty"),
        (r##"{ place = { who = "porter", inside = 3 } }"##, WrongType, "expected the name of a checkpoint or exit"),
        (r##"{ death = { of = "sadness" } }"##, UnknownName, "unknown value `sadness`"),
        (r##"{ state = { who = "porter", state = "stuned" } }"##, UnknownName, "did you mean `stunned`?"),
    ];
    let mut wrong = Vec::new();
    for (expectation, code, words) in cases {
        let text = format!("edition = 1\nexpect = [{expectation}]\n");
        let findings = check_expectations(&plan, text.as_bytes()).findings;
        let found: Vec<_> = findings.iter().collect();
        let as_due = matches!(found[..], [one]
            if one.code == *code && one.to_string().contains(words) && one.span.is_some());
        if !as_due {
            wrong.push(format!("{expectation}: `{words}` not in {findings}"));
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
    // The same in the encounter's own file, and of a drill that is not there.
    let own = tin_crown::demo::FIRST_SHELF;
    let own = own.replacen(
        "rule = \"boots crush lid\" }",
        "rule = \"boots crsh lid\" }",
        1,
    );
    let findings = check(own.as_bytes()).findings;
    assert_eq!(
        findings
            .iter()
            .map(|finding| finding.code)
            .collect::<Vec<_>>(),
        [UnknownName]
    );
    let text = "edition = 1\n[drill.carefull]\nexpect = [{ outcome = \"won\" }]\n";
    let findings = check_expectations(&plan, text.as_bytes()).findings;
    assert!(
        findings.to_string().contains("did you mean `careful`?"),
        "{findings}"
    );
}

#[test]
fn lives_are_expected_and_every_parry_stun_and_broken_guard() {
    // The first hit, on 0, kills; the second, on 1 + 30, kills for good. Lives: 2, 1, 0.
    let lives = r#"edition = 1
title = "two lives"
[arena]
bounds = { min = [0, 0], max = [100, 100] }
[kind.hero]
player = true
meter.health = { max = 1 }
hurtbox.all = { size = [8, 8] }
respawn = { delay = "30t", lives = 2 }
[kind.spike]
hitbox.tip = { radius = 2 }
[[place]]
kind = "hero"
at = [50, 50]
[[place]]
kind = "spike"
at = [50, 50]
[[rule]]
name = "spike pricks"
hitbox = "spike.tip"
hurtbox = "hero.all"
damage = 1
[drill.d]
length = "2s"
"#;
    let replay = crate::stage::text_replay(lives);
    #[rustfmt::skip]
    let cases = [
        (r##"{ lives = { who = "hero", is = 1 }, when = "29t" }"##, None),
        (r##"{ lives = { who = "hero", passes = 1 }, when = "0t" }"##, None),
        (r##"{ lives = { who = "hero", passes = 0 }, after = { respawn = { who = "hero" } } }"##, None),
        (r##"{ lives = { who = "hero", at_least = 1 } }"##, Some("lives of hero is 0 at 0.500 s, tick 30")),
        (r##"{ lives = { who = "hero", at_most = 2 } }"##, None),
        (r##"{ place = { who = "spike", inside = { min = [50, 50], max = [50, 50] }, holds = "always" } }"##, None),
        // It dies of each first touch, and is gone within the tick.
        (r##"{ place = { who = "hero", inside = { min = [0, 0], max = [99, 99] } } }"##, Some("no actor that `hero` matches exists at the end of any tick")),
    ];
    for (expectation, because) in cases {
        let found = miss(&replay, expectation).map(|miss| miss.because);
        assert_eq!(found.as_deref(), because, "{expectation}");
    }
    // The recipe of the guard: two hits held, then the guard breaks, and its owner is stunned.
    let recipes = include_str!("../../docs/recipes.md");
    let guard = recipes
        .split("## A guard that works")
        .nth(1)
        .expect("it is there");
    let guard = guard
        .split("```toml")
        .nth(1)
        .and_then(|rest| rest.split("```").next());
    let plan = check(guard.expect("a file").as_bytes())
        .plan
        .expect("no errors");
    for (drill, expectation) in [
        (
            "until-it-breaks",
            r##"{ guard_break = { who = "hero" }, times = 1, when = "1.6s" }"##,
        ),
        (
            "until-it-breaks",
            r##"{ stun = { who = "hero" }, times = 1, before = { guard_break = {} } }"##,
        ),
        (
            "until-it-breaks",
            r##"{ state = { who = "hero", state = "stunned" }, times = 1 }"##,
        ),
        (
            "just-in-time",
            r##"{ parry = { who = "clapper", whom = "hero" }, times = 1 }"##,
        ),
        (
            "just-in-time",
            r##"{ hit = { whom = "hero", guard = "parried" }, times = 1 }"##,
        ),
        (
            "just-in-time",
            r##"{ attack = { who = "clapper", over = "cut-short" }, after = { parry = {} } }"##,
        ),
        (
            "back-turned",
            r##"{ hit = { whom = "hero", guard = "wrong-side" }, times = 1 }"##,
        ),
    ] {
        let replay = plan.replay(drill).expect("it is there");
        assert_eq!(miss(&replay, expectation), None, "{drill}: {expectation}");
    }
}
