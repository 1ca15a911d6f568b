//! `tidy` and `schema`: the layout of files, and what machines are told of them.

use std::path::Path;

use serde_json::{Value, json};
use tin_crown::schema;

use crate::json_schema::Schema;
use crate::tool::{Run, demo, folder, tool, tool_reading};

fn run(args: &[&str]) -> Run {
    tool(&demo(), args)
}

fn tidied(text: &str) -> Run {
    tool_reading(&demo(), &["tidy", "-"], text)
}

const UNTIDY: &str = r##"# A duel, of which
#   these lines are the heading.


# about the title
title="x"   # why
edition   =   1

  [arena]  # the place
bounds={min=[0,0],max=[640,240]}
solids = [
   {  max=[640,16], min=[0,0] },   # the shelf
# above the ruler
      { min = [340, 60], max = [384, 66], one_way = true }]
   gravity = 900
[[place]]
at=[1,2]
kind="a"


# who
[kind.a]
# boxes of it
  hurtbox . torso = { at = [0, 2], size = [12,20] }  # torso
meter.health={max=4}
# last words
side="crown"
[kind."b c"]
like="a"
[[kind.a.death]]
cue = "bang"
after="0s"
# the end
"##;

#[test]
fn tidy_orders_keys_and_keeps_comments() {
    let once = tidied(UNTIDY);
    insta::assert_snapshot!("tidied", once.out);
    assert_eq!(once.code, 0);
    assert_eq!(tidied(&once.out).out, once.out);
    let crlf = tidied(&UNTIDY.replace('\n', "\r\n"));
    assert_eq!(crlf.out, once.out.replace('\n', "\r\n"));
}

#[test]
fn tidy_writes_files_in_place_or_only_says_which_are_not_tidy() {
    let folder = folder();
    let path = folder.path().join("duel.toml");
    std::fs::write(&path, UNTIDY).expect("the file can be written");
    let name = path.to_str().expect("a path of this test");
    let asked = run(&["tidy", "--check", name]);
    assert_eq!(
        (asked.code, asked.out),
        (1, format!("{name} is not tidy\n"))
    );
    assert_eq!(std::fs::read_to_string(&path).ok().as_deref(), Some(UNTIDY));
    assert_eq!(run(&["tidy", name]).out, format!("wrote {name}\n"));
    assert_eq!(run(&["tidy", name]).out, "");
    assert_eq!(run(&["tidy", "--check", name]).code, 0);

    for (text, words) in [
        ("edition = 1\ntitle = ", "cannot be parsed"),
        ("{ \"edition\": 1 }", "is JSON"),
    ] {
        std::fs::write(&path, text).expect("the file can be written");
        let refused = run(&["tidy", name]);
        assert_eq!(refused.code, 2, "{text}");
        assert!(refused.err.contains(words), "{text}: {}", refused.err);
        assert_eq!(std::fs::read_to_string(&path).ok().as_deref(), Some(text));
    }
}

/// Every encounter that comes with the command, or stands in its docs.
fn shipped() -> Vec<(String, String)> {
    let files = std::fs::read_dir(demo()).expect("the demo is there");
    let paths = files.map(|entry| entry.expect("an entry").path());
    let mut all: Vec<(String, String)> = paths
        .filter(|path| path.extension().is_some_and(|ending| ending == "toml"))
        .map(|path| {
            let text = std::fs::read_to_string(&path).expect("the file can be read");
            (path.display().to_string(), text)
        })
        .collect();
    for page in ["format.md", "recipes.md"] {
        let path = Path::new(env!("CARGO_MANIFEST_DIR"))
            .join("docs")
            .join(page);
        let text = std::fs::read_to_string(path).expect("the page is there");
        let blocks = text.split("```toml\n").skip(1);
        let blocks = blocks.map(|block| block.split("```").next().unwrap_or_default());
        let whole = blocks.filter(|block| block.contains("edition = 1"));
        all.extend(whole.map(|block| (page.to_owned(), block.to_owned())));
    }
    all
}

fn tree(toml: &str) -> Value {
    toml::from_str(toml).expect("the file is TOML")
}

#[test]
fn every_shipped_file_is_tidy_valid_and_names_its_schema() {
    let valid = Schema::read(&schema::encounter());
    let all = shipped();
    assert!(all.len() >= 6, "{} files", all.len());
    for (name, text) in &all {
        assert_eq!(valid.validate(&tree(text)), Ok(()), "{name}");
    }
    for (name, text) in all.iter().filter(|(name, _)| name.ends_with(".toml")) {
        assert_eq!(run(&["tidy", "--check", name]).code, 0, "{name}");
        let starter = name.ends_with("starter.toml");
        let named = text.starts_with("#:schema ./encounter.schema.json\n");
        assert!(named || starter, "{name}");
    }
}

/// Every tree that is like `tree` but for one value that is changed, left out or added.
fn mutants(tree: &Value) -> Vec<Value> {
    let mut all = Vec::new();
    let mut paths = vec![String::new()];
    while let Some(path) = paths.pop() {
        let put = |value: Value| {
            let mut mutant = tree.clone();
            *mutant.pointer_mut(&path).expect("the path is of this tree") = value;
            mutant
        };
        let here = tree.pointer(&path).expect("the path is of this tree");
        let child = |key: &str| format!("{path}/{}", key.replace('~', "~0").replace('/', "~1"));
        match here {
            Value::Object(map) => {
                for key in map.keys() {
                    paths.push(child(key));
                    let mut less = map.clone();
                    less.remove(key);
                    all.push(put(less.into()));
                }
                let mut more = map.clone();
                more.insert("colour".to_owned(), json!(1));
                all.push(put(more.into()));
                all.push(put(json!(7)));
            }
            Value::Array(values) => {
                paths.extend((0..values.len()).map(|nth| child(&nth.to_string())));
                all.extend([json!({}), json!([true])].map(put));
            }
            Value::Number(_) => {
                all.extend([json!(-1e9), json!(-0.5), json!(3e9), json!("1")].map(put));
            }
            Value::String(_) => all.extend([json!(5), json!("-1s"), json!([])].map(put)),
            Value::Bool(_) => all.extend([json!(1), json!("true")].map(put)),
            Value::Null => {}
        }
    }
    all
}

#[test]
fn what_the_schema_refuses_check_refuses_too() {
    let valid = Schema::read(&schema::encounter());
    let (_, whole) = shipped()
        .into_iter()
        .find(|(name, _)| name == "format.md")
        .expect("the reference has an encounter with every key");
    let mutants = mutants(&tree(&whole));
    let mut refused = 0;
    for mutant in &mutants {
        let Err(error) = valid.validate(mutant) else {
            continue;
        };
        refused += 1;
        let checked = tin_crown::check(mutant.to_string().as_bytes());
        assert!(checked.findings.has_errors(), "{error}");
    }
    // The rest is for `check` alone: names, and what numbers mean together.
    assert!(
        2 * refused > mutants.len(),
        "{refused} of {}",
        mutants.len()
    );
}

#[test]
fn every_line_of_a_ledger_is_valid() {
    let printed = run(&["schema", "ledger"]);
    assert_eq!(printed.code, 0);
    let valid = Schema::read(&printed.out);
    for name in ["first-shelf", "second-shelf", "third-shelf", "attic"] {
        let ledger = run(&["replay", &format!("{name}.toml"), "--format", "jsonl"]);
        for line in ledger.out.lines() {
            let line: Value = serde_json::from_str(line).expect("a line is JSON");
            assert_eq!(valid.validate(&line), Ok(()), "{line}");
        }
    }
    assert!(!valid.is_valid(&json!({ "tick": 1, "event": "hit", "colour": "red" })));
    let beside = Schema::read(&run(&["schema", "expectations"]).out);
    assert!(beside.is_valid(&json!({ "edition": 1, "expect": [{ "outcome": "won" }] })));
    assert!(!beside.is_valid(&json!({ "edition": 1, "expect": [{ "outcome": "draw" }] })));
}
