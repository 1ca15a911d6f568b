//! The tables of the reference are what the code declares.

use std::collections::BTreeSet;
use std::path::Path;

use serde_json::Value;
use tin_crown::{check, schema};

/// Set to write the tables instead of comparing them.
const UPDATE: &str = "UPDATE_REFERENCE";

/// A page with every table between its marks made anew.
fn made_anew(page: &str) -> String {
    let mut text = String::new();
    let mut rest = page;
    while let Some((before, after)) = rest.split_once("<!-- ") {
        let (mark, after) = after.split_once(" -->\n").expect("a mark ends its line");
        let (_, after) = after
            .split_once("<!-- end -->")
            .unwrap_or_else(|| panic!("`{mark}` has an end"));
        let words: Vec<&str> = mark
            .split([' ', ','])
            .filter(|word| !word.is_empty())
            .collect();
        let table = match words[..] {
            ["ledger"] => schema::ledger_table(),
            ["table", name, ..] => {
                let only = words.get(3..).unwrap_or_default();
                schema::table(name, only).unwrap_or_else(|| panic!("there is no table `{name}`"))
            }
            _ => panic!("unknown mark `{mark}`"),
        };
        text.push_str(before);
        text.push_str(&format!("<!-- {mark} -->\n{table}<!-- end -->"));
        rest = after;
    }
    text + rest
}

#[test]
fn the_tables_of_the_reference_are_what_the_code_declares() {
    let docs = Path::new(env!("CARGO_MANIFEST_DIR")).join("docs");
    for (name, tables) in [("format.md", 40), ("ticks.md", 1), ("pipe.md", 1)] {
        let path = docs.join(name);
        let page = std::fs::read_to_string(&path).expect("the page is there");
        assert!(page.matches("<!-- end -->").count() >= tables, "{name}");
        let anew = made_anew(&page);
        if std::env::var_os(UPDATE).is_some() {
            std::fs::write(&path, anew).expect("the page can be written");
        } else {
            assert!(
                page == anew,
                "{name} is out of date: run this test with {UPDATE}=1"
            );
        }
    }
}

#[test]
fn the_schema_beside_the_demo_is_that_of_the_code() {
    let path = Path::new(env!("CARGO_MANIFEST_DIR")).join("demo/encounter.schema.json");
    let beside = std::fs::read_to_string(&path).expect("the demo has its schema");
    if std::env::var_os(UPDATE).is_some() {
        std::fs::write(&path, schema::encounter()).expect("the schema can be written");
    } else {
        assert!(
            beside == schema::encounter(),
            "out of date: run this test with {UPDATE}=1"
        );
    }
}

/// The tables of a file, each with a pointer to it and the keys that have a declared default there.
fn defaults(
    value: &Value,
    schema: &Value,
    root: &Value,
    pointer: &str,
    found: &mut Vec<(String, String, Value)>,
) {
    if let Some(name) = schema["$ref"].as_str() {
        let name = name.trim_start_matches("#/$defs/");
        return defaults(value, &root["$defs"][name], root, pointer, found);
    }
    for one in schema["anyOf"].as_array().into_iter().flatten() {
        defaults(value, one, root, pointer, found);
    }
    let child = |key: &str| format!("{pointer}/{}", key.replace('~', "~0").replace('/', "~1"));
    match value {
        Value::Object(map) => {
            // Of several shapes the one that has all these keys.
            let properties = schema["properties"].as_object();
            let properties = properties.filter(|own| map.keys().all(|key| own.contains_key(key)));
            for (key, own) in properties.into_iter().flatten() {
                match map.get(key) {
                    Some(value) => defaults(value, own, root, &child(key), found),
                    None if !own["default"].is_null() => {
                        found.push((pointer.to_owned(), key.clone(), own["default"].clone()));
                    }
                    None => {}
                }
            }
            let named = &schema["additionalProperties"];
            if named.is_object() {
                for (key, value) in map {
                    defaults(value, named, root, &child(key), found);
                }
            }
        }
        Value::Array(values) => {
            for (nth, value) in values.iter().enumerate() {
                defaults(
                    value,
                    &schema["items"],
                    root,
                    &child(&nth.to_string()),
                    found,
                );
            }
        }
        _ => {}
    }
}

/// What decides how each drill goes, whatever is found on the way.
fn digests(tree: &Value) -> Option<Vec<String>> {
    let encounter = check(tree.to_string().as_bytes()).encounter?;
    let plan = encounter.resolve().ok()?;
    Some(plan.all_drills().map(|drill| plan.digest(drill)).collect())
}

#[test]
fn a_declared_default_that_is_written_out_changes_nothing() {
    let schema: Value = serde_json::from_str(&schema::encounter()).expect("it is JSON");
    let (mut written, mut refused) = (0, Vec::new());
    for (name, text) in tin_crown::demo::FILES {
        let encounter = check(text.as_bytes())
            .encounter
            .expect("the demo can be read");
        let tree: Value = serde_json::from_str(&encounter.to_json()).expect("it is JSON");
        let (mut found, mut seen) = (Vec::new(), BTreeSet::new());
        defaults(&tree, &schema, &schema, "", &mut found);
        // What overrides something else is no default there.
        found.retain(|(pointer, key, default)| {
            let kind = pointer
                .split('/')
                .nth(2)
                .filter(|_| pointer.starts_with("/kind/"));
            let like = kind.is_some_and(|kind| !tree["kind"][kind]["like"].is_null());
            let first = seen.insert((key.clone(), default.to_string()));
            first && !like && !pointer.starts_with("/place/")
        });
        let before = digests(&tree);
        for (pointer, key, default) in found {
            let mut more = tree.clone();
            more.pointer_mut(&pointer)
                .expect("the pointer is of this tree")[&key] = default.clone();
            match digests(&more) {
                // Beside what is there already it may be a contradiction.
                None => refused.push(format!("{pointer}/{key}")),
                after => {
                    written += 1;
                    assert_eq!(after, before, "{name}: {pointer}/{key} = {default}");
                }
            }
        }
    }
    assert!(written > 100, "{written}");
    assert!(refused.len() * 20 < written, "{refused:#?}");
}
