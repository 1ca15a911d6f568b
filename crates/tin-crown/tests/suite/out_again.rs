//! An encounter written out and read again is the same, and so is all that comes of it.

use proptest::prelude::*;
use serde_json::{Value, json};
use tin_crown::encounter::Setting;
use tin_crown::{Duration, Encounter, Path, check};

use crate::ambushes::ambush;
use crate::fights::fight;

/// Both forms give the encounter again; the text of the first.
fn out_and_in(encounter: &Encounter) -> String {
    let toml = encounter.to_toml();
    for text in [&toml, &encounter.to_json()] {
        let again = check(text.as_bytes()).encounter;
        assert_eq!(again.as_ref(), Some(encounter), "{text}");
    }
    toml
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(96))]

    #[test]
    fn random_encounters_come_back_the_same(encounter in prop_oneof![fight(), ambush()]) {
        let text = out_and_in(&encounter);
        let [built, read] = [encounter.check(), check(text.as_bytes())].map(|checked| {
            let plan = checked.plan.unwrap_or_else(|| panic!("{}\n{text}", checked.findings));
            plan.all_drills().map(|drill| plan.digest(drill).to_owned()).collect::<Vec<_>>()
        });
        prop_assert_eq!(built, read);
    }
}

#[test]
fn whole_files_come_back_the_same_with_their_findings() {
    let folder = concat!(env!("CARGO_MANIFEST_DIR"), "/demo");
    let demo = [
        "first-shelf",
        "second-shelf",
        "third-shelf",
        "attic",
        "starter",
    ]
    .map(|name| {
        let text = std::fs::read_to_string(format!("{folder}/{name}.toml"));
        (name.to_owned(), text.expect("the demo is there"))
    });
    // The recipes, and a drill that begins as others.
    let recipes = include_str!("../../docs/recipes.md")
        .split("```toml")
        .skip(1);
    let recipes = recipes.enumerate().map(|(nth, rest)| {
        let text = rest.split("```").next().unwrap_or_default();
        (format!("recipe {}", nth + 1), text.to_owned())
    });
    let begins = "[drill.more]\nlength = \"9s\"\nbegins = [{ drill = \"d\", until = \"1s\" }, \
                  { drill = \"d\", shift = \"2t\", after = { respawn = {} } }]\n[drill.d]\nlength = \"1s\"\n";
    let begins = [(
        "begins".to_owned(),
        format!(
            "edition = 1\ntitle = \"begins\"\n[arena]\nbounds = {{ min = [0, 0], max = [9, 9] }}\n{begins}"
        ),
    )];
    let all: Vec<_> = demo.into_iter().chain(recipes).chain(begins).collect();
    assert!(all.len() >= 18);
    for (name, bytes) in all {
        let checked = check(bytes.as_bytes());
        let encounter = checked.encounter.expect("it can be read");
        let text = out_and_in(&encounter);
        let told = |findings: &tin_crown::Findings| {
            let all = findings.iter();
            all.map(|finding| (finding.code, finding.path.clone(), finding.message.clone()))
                .collect::<Vec<_>>()
        };
        // Built in code it is found fault with as in the file.
        assert_eq!(
            told(&encounter.check().findings),
            told(&checked.findings),
            "{name}"
        );
        assert_eq!(
            told(&check(text.as_bytes()).findings),
            told(&checked.findings),
            "{name}"
        );
    }
}

/// What needs care when it is written: names, numbers, and keys that hold their default.
#[test]
fn odd_values_are_written_so_that_they_come_back() {
    let text = r#"
        edition = 1
        title = "quotes \" and \\, a tab \t and \u0001"
        tick_rate = 50
        [arena]
        bounds = { min = [-1e300, 0.1], max = [1e21, 123456789.123] }
        up = "-y"
        [kind."odd name ü"]
        meter."a b" = { max = 0.001 }
        hitbox.x = {}
        takes = {}
        [kind.none]
        tags = []
        [[place]]
        kind = "none"
        at = { choice = [[0, 0], [1.5, -2]] }
        tags = []
        [drill.d]
        length = "007.50s"
        expect = [{ hit = {}, times = { at_least = 0 } }, { hit = {}, times = { at_most = 2 } }]
    "#;
    let encounter = check(text.as_bytes()).encounter.expect("it can be read");
    let text = out_and_in(&encounter);
    assert!(text.contains("length = \"7.50s\""), "{text}");
    assert!(text.contains("[kind.\"odd name ü\"]"), "{text}");
}

/// Every number and duration within a tree, by its path and its JSON pointer.
fn leaves(value: &Value, path: &Path, pointer: &str, found: &mut Vec<(Path, String)>) {
    match value {
        Value::Object(map) => {
            for (key, value) in map {
                let escaped = key.replace('~', "~0").replace('/', "~1");
                leaves(
                    value,
                    &path.named(key),
                    &format!("{pointer}/{escaped}"),
                    found,
                );
            }
        }
        Value::Array(values) => {
            for (nth, value) in values.iter().enumerate() {
                leaves(value, &path.index(nth), &format!("{pointer}/{nth}"), found);
            }
        }
        Value::Number(_) => found.push((path.clone(), pointer.to_owned())),
        Value::String(text) if text.parse::<Duration>().is_ok() => {
            found.push((path.clone(), pointer.to_owned()));
        }
        _ => {}
    }
}

#[test]
fn what_is_set_by_its_path_is_as_if_it_were_written() {
    let folder = concat!(env!("CARGO_MANIFEST_DIR"), "/demo");
    for (name, least) in [("starter", 30), ("second-shelf", 150)] {
        let bytes = std::fs::read(format!("{folder}/{name}.toml")).expect("the demo is there");
        let encounter = check(&bytes).encounter.expect("it can be read");
        let tree: Value = serde_json::from_str(&encounter.to_json()).expect("it is JSON");
        let mut found = Vec::new();
        leaves(&tree, &Path::root(), "", &mut found);
        assert!(found.len() > least, "{name}: {}", found.len());
        for (path, pointer) in found.iter().filter(|(_, pointer)| pointer != "/edition") {
            let mut written = tree.clone();
            let here = written
                .pointer_mut(pointer)
                .expect("the pointer is of this tree");
            let mut set = encounter.clone();
            let done = match here {
                Value::Number(number) => {
                    let other = number.as_f64().expect("a number") + 7.0;
                    *here = json!(other);
                    set.set(path, other)
                }
                here => {
                    *here = json!("77t");
                    set.set(path, Duration::ticked(77))
                }
            };
            assert!(done.is_ok(), "{name}: {path}: {}", done.unwrap_err());
            let read = check(written.to_string().as_bytes()).encounter;
            assert_eq!(Some(set), read, "{name}: {path}");
        }
    }
}

#[test]
fn paths_find_what_is_named_and_say_where_they_end() {
    let file = tin_crown::demo::SECOND_SHELF.as_bytes();
    let encounter = check(file).encounter.expect("it can be read");
    let set = |path: &str, value: Setting| {
        let mut encounter = encounter.clone();
        let path: Path = path.parse().expect("a path");
        encounter.set(&path, value).map(|()| encounter)
    };
    for (path, value) in [
        // By name; a key that is not written yet, alone and with the table around it.
        ("rule.steam scalds.damage", Setting::from(2.0)),
        ("place.porter.at[2]", Setting::from(31.0)),
        ("kind.cork.drag", Setting::from(0.5)),
        ("kind.cork.flight.bounces", Setting::from(2.0)),
        ("kind.jack.state.open.motion.fall.most", Setting::from(9.0)),
        (
            "kind.paper-wasp.invincible.after_hit",
            Setting::from("0.5s"),
        ),
        ("drill.clumsy.input[1].when", Setting::from("0.3s")),
        ("arena.contact", Setting::from("sampled")),
    ] {
        let after = set(path, value).unwrap_or_else(|error| panic!("{path}: {error}"));
        assert_ne!(after, encounter, "{path}");
        assert!(after.resolve().is_ok(), "{path}");
    }
    for (path, value, words) in [
        (
            "kind.cork.dragg",
            Setting::from(1.0),
            "there is no `dragg` at kind.cork; did you mean `drag`?",
        ),
        (
            "kind.cark.drag",
            Setting::from(1.0),
            "there is no `cark` at kind; did you mean `cork`?",
        ),
        (
            "rule[99].damage",
            Setting::from(1.0),
            "there is no [99] at rule",
        ),
        (
            "rule.steam scolds.damage",
            Setting::from(1.0),
            "did you mean `steam scalds`?",
        ),
        (
            "place.porter.like",
            Setting::from("cork"),
            "there is no `like` at place.porter",
        ),
        (
            "kind.cork.lifetime",
            Setting::from(3.0),
            "found 3 without a unit",
        ),
        (
            "kind.cork.lifetime.most",
            Setting::from(3.0),
            "there is no `most` at kind.cork.lifetime",
        ),
        ("arena.up", Setting::from("up"), "unknown value `up`"),
    ] {
        let error = set(path, value).expect_err(path).to_string();
        assert!(error.contains(words), "{path}: {error}");
    }
    for text in ["", ".", "a..b", "a[0]", "a[x]", "a[1", "a\"b", "\"a"] {
        assert_eq!(text.parse::<Path>().is_ok(), text == "a\"b", "{text}");
    }
    let quoted: Path = "rule.\"a.b\".damage[2]".parse().expect("a path");
    assert_eq!(
        quoted,
        Path::root().key("rule").key("a.b").key("damage").index(1)
    );
}
