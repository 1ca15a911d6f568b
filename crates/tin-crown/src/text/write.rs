//! The tree as TOML text, laid out as the files of the demo are, and as JSON.

use std::fmt::Write as _;

use serde::ser::{Serialize, SerializeMap, SerializeSeq, Serializer};

use super::{Entry, Value};

/// What fits on a line.
const WIDTH: usize = 100;

/// A table as a TOML document. Tables and arrays of tables at the top are sections; within a section a
/// value stands on one line where it fits, else a table is a section of its own and an array has a line
/// for each element.
pub(crate) fn toml(entries: &[Entry]) -> String {
    let mut text = String::new();
    let (sections, lines): (Vec<_>, Vec<_>) = entries.iter().partition(|entry| {
        matches!(&entry.node.value, Value::Table(_)) || is_array_of_tables(&entry.node.value)
    });
    for entry in lines {
        line(&mut text, &key(&entry.key), &entry.node.value);
    }
    for entry in sections {
        let path = key(&entry.key);
        match &entry.node.value {
            Value::Table(entries) if is_group(entries) && entry.key != "arena" => {
                for one in entries {
                    section(
                        &mut text,
                        &format!("{path}.{}", key(&one.key)),
                        &one.node.value,
                    );
                }
            }
            Value::Array(nodes) => {
                for node in nodes {
                    array_section(&mut text, &path, &node.value);
                }
            }
            table => section(&mut text, &path, table),
        }
    }
    text
}

fn section(text: &mut String, path: &str, table: &Value) {
    header(text, &format!("[{path}]"));
    body(text, path, table);
}

fn array_section(text: &mut String, path: &str, table: &Value) {
    header(text, &format!("[[{path}]]"));
    body(text, path, table);
}

fn header(text: &mut String, header: &str) {
    if !text.is_empty() {
        text.push('\n');
    }
    text.push_str(header);
    text.push('\n');
}

/// The keys of a section: those that fit on lines, then those that need a section of their own.
fn body(text: &mut String, path: &str, table: &Value) {
    let Value::Table(entries) = table else { return };
    let mut later = String::new();
    for entry in entries {
        let name = key(&entry.key);
        match &entry.node.value {
            Value::Table(parts) if is_group(parts) => {
                let fit = parts
                    .iter()
                    .all(|part| fits(&format!("{name}.{}", key(&part.key)), &part.node.value));
                for part in parts {
                    let part_name = format!("{name}.{}", key(&part.key));
                    if fit {
                        line(text, &part_name, &part.node.value);
                    } else {
                        section(&mut later, &format!("{path}.{part_name}"), &part.node.value);
                    }
                }
            }
            value @ Value::Table(_) if !fits(&name, value) => {
                section(&mut later, &format!("{path}.{name}"), value);
            }
            Value::Array(nodes)
                if is_array_of_tables(&entry.node.value)
                    && !nodes.iter().all(|node| fits("", &node.value)) =>
            {
                for node in nodes {
                    array_section(&mut later, &format!("{path}.{name}"), &node.value);
                }
            }
            value => line(text, &name, value),
        }
    }
    if !later.is_empty() {
        if !later.starts_with('\n') {
            text.push('\n');
        }
        text.push_str(&later);
    }
}

/// Whether all entries are tables: each has a line or a section of its own.
fn is_group(entries: &[Entry]) -> bool {
    let table = |entry: &Entry| matches!(entry.node.value, Value::Table(_));
    !entries.is_empty() && entries.iter().all(table)
}

fn is_array_of_tables(value: &Value) -> bool {
    let Value::Array(nodes) = value else {
        return false;
    };
    let table = |value: &Value| matches!(value, Value::Table(_));
    !nodes.is_empty() && nodes.iter().all(|node| table(&node.value))
}

fn fits(name: &str, value: &Value) -> bool {
    name.len() + " = ".len() + inline(value).len() <= WIDTH
}

/// A key and its value, on one line or, when too long, an array with a line for each element.
fn line(text: &mut String, name: &str, value: &Value) {
    if let Value::Array(nodes) = value
        && !fits(name, value)
    {
        let _ = writeln!(text, "{name} = [");
        for node in nodes {
            let _ = writeln!(text, "  {},", inline(&node.value));
        }
        text.push_str("]\n");
    } else {
        let _ = writeln!(text, "{name} = {}", inline(value));
    }
}

/// A value on one line.
fn inline(value: &Value) -> String {
    match value {
        Value::Text(string) => quoted(string),
        Value::Number(number) => number_text(*number),
        Value::Flag(flag) => flag.to_string(),
        Value::Foreign(_) => String::new(),
        Value::Array(nodes) => {
            let all: Vec<String> = nodes.iter().map(|node| inline(&node.value)).collect();
            format!("[{}]", all.join(", "))
        }
        Value::Table(entries) if entries.is_empty() => "{}".to_owned(),
        Value::Table(entries) => {
            let each =
                |entry: &Entry| format!("{} = {}", key(&entry.key), inline(&entry.node.value));
            let all: Vec<String> = entries.iter().map(each).collect();
            format!("{{ {} }}", all.join(", "))
        }
    }
}

/// Shortest text that reads as the same number; a whole one without a point.
fn number_text(number: f64) -> String {
    if let Some(whole) = whole(number) {
        return whole.to_string();
    }
    match number.to_string().as_str() {
        "NaN" => "nan".to_owned(),
        text => text.to_owned(),
    }
}

/// The number as a whole one, where that is exact.
fn whole(number: f64) -> Option<i64> {
    (number == number.trunc() && number.abs() < 9e15).then_some(number as i64)
}

fn key(key: &str) -> String {
    let bare = |letter: char| letter.is_ascii_alphanumeric() || letter == '-' || letter == '_';
    if !key.is_empty() && key.chars().all(bare) {
        key.to_owned()
    } else {
        quoted(key)
    }
}

/// A basic string of TOML.
fn quoted(string: &str) -> String {
    let mut text = String::from('"');
    for letter in string.chars() {
        match letter {
            '"' => text.push_str("\\\""),
            '\\' => text.push_str("\\\\"),
            '\n' => text.push_str("\\n"),
            '\t' => text.push_str("\\t"),
            '\r' => text.push_str("\\r"),
            control if control.is_control() => {
                let _ = write!(text, "\\u{:04X}", u32::from(control));
            }
            other => text.push(other),
        }
    }
    text.push('"');
    text
}

/// Keys in the order of the tree.
impl Serialize for Value {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        match self {
            Value::Text(string) => serializer.serialize_str(string),
            Value::Number(number) => match whole(*number) {
                Some(whole) => serializer.serialize_i64(whole),
                None => serializer.serialize_f64(*number),
            },
            Value::Flag(flag) => serializer.serialize_bool(*flag),
            Value::Foreign(_) => serializer.serialize_unit(),
            Value::Array(nodes) => {
                let mut sequence = serializer.serialize_seq(Some(nodes.len()))?;
                for node in nodes {
                    sequence.serialize_element(&node.value)?;
                }
                sequence.end()
            }
            Value::Table(entries) => {
                let mut map = serializer.serialize_map(Some(entries.len()))?;
                for entry in entries {
                    map.serialize_entry(&entry.key, &entry.node.value)?;
                }
                map.end()
            }
        }
    }
}
