//! Edits of TOML.

use tin_crown::Drill;
use tin_crown::finding::Step;
use tin_crown::play::Change;
use toml_edit::{DocumentMut, InlineTable, Item, Table, TableLike, Value};

use super::{LABELS, no_place};
use crate::failure::Failure;

pub fn set(text: &str, changes: &[Change]) -> Result<String, Failure> {
    let mut document: DocumentMut = text
        .parse()
        .map_err(|_| Failure::new("the file cannot be parsed"))?;
    for change in changes {
        let value: Value = change
            .value
            .to_string()
            .parse()
            .map_err(|_| no_place(&change.path))?;
        let steps = change.path.steps();
        put(document.as_item_mut(), &steps, value).ok_or_else(|| no_place(&change.path))?;
    }
    let edited = document.to_string();
    // The parser drops the carriage returns of a file that has them.
    Ok(match text.contains("\r\n") {
        true => edited.replace("\r\n", "\n").replace('\n', "\r\n"),
        false => edited,
    })
}

/// Puts a value at the end of some steps; what is missing on the way is written as dotted keys.
fn put(item: &mut Item, steps: &[Step], value: Value) -> Option<()> {
    let (step, rest) = steps.split_first()?;
    if let Item::Value(own) = item {
        return put_in(own, steps, value);
    }
    match (step, item) {
        (Step::Key(key), Item::Table(table)) => within(table, key, rest, value),
        (step, Item::ArrayOfTables(all)) => {
            let place = place(step, all.iter().map(|table| label(table)))?;
            let table = all.get_mut(place)?;
            let (Step::Key(key), rest) = (rest.first()?, &rest[1..]) else {
                return None;
            };
            within(table, key, rest, value)
        }
        _ => None,
    }
}

/// The same within a table.
fn within(table: &mut Table, key: &str, rest: &[Step], value: Value) -> Option<()> {
    if rest.is_empty() {
        return replace(table, key, value);
    }
    if !table.contains_key(key) {
        let mut new = Table::new();
        new.set_dotted(true);
        table.insert(key, Item::Table(new));
    }
    put(table.get_mut(key)?, rest, value)
}

/// The same within a value.
fn put_in(own: &mut Value, steps: &[Step], value: Value) -> Option<()> {
    let (step, rest) = steps.split_first()?;
    match (step, own) {
        (Step::Key(key), Value::InlineTable(table)) => {
            if rest.is_empty() {
                return replace(table, key, value);
            }
            if !table.contains_key(key) {
                let mut new = InlineTable::new();
                new.set_dotted(true);
                table.insert(key.as_ref(), new.into());
            }
            put_in(table.get_mut(key)?, rest, value)
        }
        (step, Value::Array(all)) => {
            let labels = all.iter().map(|own| label(own.as_inline_table()?));
            let place = place(step, labels)?;
            let element = all.get_mut(place)?;
            if rest.is_empty() {
                *element = dressed(element, value);
                return Some(());
            }
            put_in(element, rest, value)
        }
        _ => None,
    }
}

/// The place of an element of a list: by its number, or by its name.
fn place<'t>(step: &Step, mut labels: impl Iterator<Item = Option<&'t str>>) -> Option<usize> {
    match step {
        Step::Index(nth) => Some(*nth),
        Step::Key(name) => labels.position(|label| label == Some(name)),
    }
}

/// The name of an element of a list.
fn label(table: &dyn TableLike) -> Option<&str> {
    LABELS.iter().find_map(|key| table.get(key)?.as_str())
}

/// A value in the place of another, or as a key more.
fn replace(table: &mut dyn TableLike, key: &str, value: Value) -> Option<()> {
    match table.get_mut(key) {
        Some(Item::Value(own)) => *own = dressed(own, value),
        Some(_) => return None,
        None => {
            table.insert(key, Item::Value(value));
        }
    }
    Some(())
}

/// A value with the spaces and comments around another.
fn dressed(own: &Value, mut value: Value) -> Value {
    *value.decor_mut() = own.decor().clone();
    value
}

pub fn add_drill(text: &str, name: &str, drill: &Drill) -> String {
    let mut added = drill.to_toml(name);
    let mut edited = text.to_owned();
    if text.contains("\r\n") {
        added = added.replace('\n', "\r\n");
    }
    let newline = if text.contains("\r\n") { "\r\n" } else { "\n" };
    if !edited.is_empty() && !edited.ends_with('\n') {
        edited += newline;
    }
    edited + newline + &added
}
