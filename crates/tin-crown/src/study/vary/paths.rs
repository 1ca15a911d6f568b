//! The paths of an encounter that hold a value.

use crate::encounter::{Encounter, Setting};
use crate::finding::{Path, Step};
use crate::text::{Entry, Node, Value};

/// A value that is written in an encounter.
#[derive(Clone, Debug, PartialEq)]
pub struct Number {
    /// Its path, as [`Encounter::set`] and an [`Axis`](super::Axis) take it.
    pub path: String,
    /// What it is.
    pub value: Setting,
}

/// All numbers, durations, words and switches that are written in an encounter, in the order of its keys.
///
/// ```
/// # let file = tin_crown::demo::FIRST_SHELF.as_bytes();
/// let encounter = tin_crown::check(file).encounter.unwrap();
/// let numbers = tin_crown::study::numbers(&encounter);
/// let speed = numbers.iter().find(|own| own.path == "kind.beetle.motion.patrol.speed");
/// assert_eq!(speed.unwrap().value.to_string(), "40");
/// ```
pub fn numbers(encounter: &Encounter) -> Vec<Number> {
    let mut all = Vec::new();
    for entry in encounter.written() {
        let path = key("", &entry.key);
        match &entry.node.value {
            Value::Array(nodes) if LABELLED.contains(&entry.key.as_str()) => {
                for (nth, node) in nodes.iter().enumerate() {
                    let path = match label(node) {
                        Some(name) => key(&path, name),
                        None => format!("{path}[{}]", nth + 1),
                    };
                    walk(&node.value, &path, &mut all);
                }
            }
            value => walk(value, &path, &mut all),
        }
    }
    all
}

/// The paths of all [`numbers`] of an encounter, as an [`Axis`](super::Axis) takes them; `seed` comes last.
///
/// ```
/// # let file = tin_crown::demo::FIRST_SHELF.as_bytes();
/// let encounter = tin_crown::check(file).encounter.unwrap();
/// let paths = tin_crown::study::paths(&encounter);
/// assert!(paths.iter().any(|path| path == "kind.beetle.motion.patrol.speed"));
/// ```
pub fn paths(encounter: &Encounter) -> Vec<String> {
    let paths = numbers(encounter).into_iter().map(|own| own.path);
    paths.chain(["seed".to_owned()]).collect()
}

/// The lists whose elements paths find by their names.
const LABELLED: [&str; 4] = ["place", "checkpoint", "exit", "rule"];

/// A path and one key more.
fn key(path: &str, key: &str) -> String {
    let quoted = match key.contains(['.', '[', '=']) {
        true => format!("\"{key}\""),
        false => key.to_owned(),
    };
    match path {
        "" => quoted,
        path => format!("{path}.{quoted}"),
    }
}

fn walk(value: &Value, path: &str, all: &mut Vec<Number>) {
    match value {
        Value::Table(entries) => {
            for entry in entries {
                walk(&entry.node.value, &key(path, &entry.key), all);
            }
        }
        Value::Array(nodes) => {
            // A list of names is set as a whole.
            let parts = nodes.iter().enumerate();
            let parts = parts.filter(|(_, node)| !matches!(node.value, Value::Text(_)));
            for (nth, node) in parts {
                walk(&node.value, &format!("{path}[{}]", nth + 1), all);
            }
        }
        Value::Foreign(_) => {}
        Value::Text(text) => all.push(number(path, text.as_str().into())),
        Value::Number(own) => all.push(number(path, (*own).into())),
        Value::Flag(flag) => all.push(number(path, (*flag).into())),
    }
}

fn number(path: &str, value: Setting) -> Number {
    Number {
        path: path.to_owned(),
        value,
    }
}

/// The name by which a path finds an element of a list.
fn label(node: &Node) -> Option<&str> {
    let Value::Table(entries) = &node.value else {
        return None;
    };
    let name = |key: &str| {
        let entry = entries.iter().find(|entry| entry.key == key)?;
        match &entry.node.value {
            Value::Text(text) => Some(text.as_str()),
            _ => None,
        }
    };
    // A placement without an id has the name of its kind.
    let placed = entries.iter().any(|entry| entry.key == "at");
    name("name")
        .or_else(|| name("id"))
        .or_else(|| name("kind").filter(|_| placed))
}

/// What is written at a path.
pub(crate) fn written(encounter: &Encounter, path: &Path) -> Option<String> {
    let entries = encounter.written();
    let root = Value::table(entries);
    let mut value = &root;
    for step in &path.steps() {
        value = match (step, value) {
            (Step::Key(key), Value::Table(entries)) => within(entries, key)?,
            (Step::Key(name), Value::Array(nodes)) => {
                let mut all = nodes.iter();
                &all.find(|node| label(node) == Some(name))?.value
            }
            (Step::Index(nth), Value::Array(nodes)) => &nodes.get(*nth)?.value,
            _ => return None,
        };
    }
    match value {
        Value::Text(text) => Some(text.clone()),
        Value::Number(number) => Some(number.to_string()),
        Value::Flag(flag) => Some(flag.to_string()),
        _ => None,
    }
}

fn within<'v>(entries: &'v [Entry], key: &str) -> Option<&'v Value> {
    let entry = entries.iter().find(|entry| entry.key == key)?;
    Some(&entry.node.value)
}
