//! An encounter that names a file with more drills.

use std::collections::BTreeMap;

use tin_crown::{Checked, check, check_with};

const EMPTY: &str = r#"edition = 1
title = "A walk"
drill_file = "walks.toml"
arena = { bounds = { min = [0, 0], max = [99, 99] } }
[kind.hero]
player = true
walk = { speed = 60 }
[[place]]
kind = "hero"
at = [10, 10]
[drill.zigzag]
length = "1s"
"#;

fn beside(name: &str, drills: &str) -> Checked {
    let files = BTreeMap::from([(name.to_owned(), drills.as_bytes().to_vec())]);
    check_with(EMPTY.as_bytes(), &files)
}

#[test]
fn its_drills_are_drills_of_the_encounter() {
    let checked = beside(
        "walks.toml",
        "edition = 1\n[drill.on]\nlength = \"1s\"\ninput = [{ when = \"1t\", who = \"hero\", hold = \"right\" }]\n\
         [drill.again]\nlength = \"1s\"\nbegins = { drill = \"on\", shift = \"10t\" }\n",
    );
    let plan = checked
        .plan
        .unwrap_or_else(|| panic!("{}", checked.findings));
    // After its own, in the order of that file.
    let names: Vec<&str> = plan
        .all_drills()
        .map(|drill| plan.drills()[drill.index()].name())
        .collect();
    assert_eq!(names, ["zigzag", "on", "again"]);
    let replay = plan.replay("again").expect("it is there");
    let press = replay
        .ledger()
        .events()
        .iter()
        .find(|event| event.what.name() == "input");
    assert_eq!(press.expect("a press").tick.0, 11);
    // It has them now, and names no file any more: as text it is whole.
    let whole = checked.encounter.expect("it is read");
    assert_eq!(whole.drill_file, None);
    assert_eq!(check(whole.to_toml().as_bytes()).encounter, Some(whole));
    // Read without files it is as it is written.
    let alone = check(EMPTY.as_bytes()).encounter.expect("it is read");
    assert_eq!(
        (alone.drill_file.as_deref(), alone.drills.len()),
        (Some("walks.toml"), 1)
    );
}

#[test]
fn what_is_wrong_with_them_is_told_with_their_file() {
    for (name, drills, expected) in [
        (
            "walks.toml",
            "edition = 1\n\n[drill.on]\nlength = \"1s\"\ninput = [{ when = \"1t\", who = \"hera\", press = \"left\" }]\n",
            "error[unknown-name] at walks.toml:5:31: unknown actor `hera`",
        ),
        (
            "walks.toml",
            "edition = 1\n[drill.on]\nlenght = \"1s\"\n",
            "error[unknown-key] at walks.toml:3:1: unknown key `lenght`",
        ),
        (
            "walks.toml",
            "edition = 1\n[drill.zigzag]\nlength = \"1s\"\n",
            "error[duplicate] at walks.toml:2:8: the encounter has a drill `zigzag` of its own",
        ),
        (
            "walks.toml",
            "edition = 1\n[drill.on\n",
            "error[syntax] at walks.toml:2:",
        ),
        (
            "walks.toml",
            "edition = 1\n[kind.other]\n",
            "error[unknown-key] at walks.toml:2:2: unknown key `kind`",
        ),
        (
            "others.toml",
            "",
            "error[unreadable] at 3:14 (drill_file): cannot read `walks.toml`: there is no such file",
        ),
    ] {
        let checked = beside(name, drills);
        let found: Vec<String> = checked.findings.iter().map(ToString::to_string).collect();
        assert!(
            checked.plan.is_none() && found.iter().any(|own| own.starts_with(expected)),
            "{expected}\n{found:#?}"
        );
    }
    let text = EMPTY.replace("walks.toml", "../walks.toml");
    let checked = check_with(text.as_bytes(), &BTreeMap::new());
    assert!(
        checked
            .findings
            .to_string()
            .contains("a name without a path is expected"),
        "{}",
        checked.findings
    );
}
