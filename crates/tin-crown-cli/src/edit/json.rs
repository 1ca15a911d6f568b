//! Edits of JSON, in which comments may be.

use jsonc_parser::ParseOptions;
use jsonc_parser::cst::{CstInputValue, CstNode, CstObject, CstRootNode};
use serde_json::Value;
use tin_crown::finding::Step;
use tin_crown::play::Change;
use tin_crown::{Drill, Encounter};

use super::{LABELS, no_place};
use crate::failure::Failure;

fn parsed(text: &str) -> Result<(CstRootNode, CstObject), Failure> {
    let broken = || Failure::new("the file cannot be parsed");
    let root = CstRootNode::parse(text, &ParseOptions::default()).map_err(|_| broken())?;
    let object = root.object_value().ok_or_else(broken)?;
    Ok((root, object))
}

pub fn set(text: &str, changes: &[Change]) -> Result<String, Failure> {
    let (root, object) = parsed(text)?;
    for change in changes {
        let value: Value =
            serde_json::from_str(&change.value.to_string()).map_err(|_| no_place(&change.path))?;
        let steps = change.path.steps();
        put(&object, &steps, value).ok_or_else(|| no_place(&change.path))?;
    }
    Ok(root.to_string())
}

/// Puts a value at the end of some steps; what is missing on the way is added.
fn put(object: &CstObject, steps: &[Step], value: Value) -> Option<()> {
    let (Step::Key(key), rest) = (steps.first()?, &steps[1..]) else {
        return None;
    };
    if rest.is_empty() {
        match object.get(key) {
            Some(own) => own.set_value(input(value)),
            None => drop(object.append(key, input(value))),
        }
        return Some(());
    }
    match rest.first()? {
        Step::Key(_) if object.array_value(key).is_none() => {
            put(&object.object_value_or_create(key)?, rest, value)
        }
        step => {
            let all = object.array_value(key)?.elements();
            let place = match step {
                Step::Index(nth) => *nth,
                Step::Key(name) => all
                    .iter()
                    .position(|own| label(own).as_deref() == Some(name))?,
            };
            element(all.get(place)?.clone(), &rest[1..], value)
        }
    }
}

/// The same within an element of a list.
fn element(node: CstNode, rest: &[Step], value: Value) -> Option<()> {
    if !rest.is_empty() {
        return put(&node.as_object()?, rest, value);
    }
    if let Some(number) = node.as_number_lit() {
        number.replace_with(input(value))?;
    } else {
        node.as_string_lit()?.replace_with(input(value))?;
    }
    Some(())
}

fn label(node: &CstNode) -> Option<String> {
    let object = node.as_object()?;
    LABELS.iter().find_map(|key| {
        let value = object.get(key)?.value()?;
        value.as_string_lit()?.decoded_value().ok()
    })
}

fn input(value: Value) -> CstInputValue {
    match value {
        Value::Null => CstInputValue::Null,
        Value::Bool(flag) => CstInputValue::Bool(flag),
        Value::Number(number) => CstInputValue::Number(number.to_string()),
        Value::String(text) => CstInputValue::String(text),
        Value::Array(all) => CstInputValue::Array(all.into_iter().map(input).collect()),
        Value::Object(all) => {
            let all = all.into_iter().map(|(key, value)| (key, input(value)));
            CstInputValue::Object(all.collect())
        }
    }
}

pub fn add_drill(text: &str, name: &str, drill: &Drill) -> Result<String, Failure> {
    let (root, object) = parsed(text)?;
    let written = Encounter::new("").drill(name, drill.clone()).to_json();
    let mut written: Value = serde_json::from_str(&written).unwrap_or_default();
    let drill = written["drill"][name].take();
    let broken = || Failure::new("`drill` is not an object in the file");
    let drills = object.object_value_or_create("drill").ok_or_else(broken)?;
    drills.append(name, input(drill));
    Ok(root.to_string())
}
