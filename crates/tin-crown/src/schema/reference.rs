//! The tables of the reference, as Markdown.

use std::fmt::Write as _;

use crate::encounter::{Beside, Encounter};
use crate::ledger::Line;
use crate::limits::Range;
use crate::pipe::PipeLine;
use crate::syntax::{Key, Shape, Table, TableShape, Word};

/// The table of the reference for a table of the file, by the name of the type that it is read into:
/// `"Rule"`, `"MeterSpec"`; with `only`, these keys alone.
///
/// ```
/// let rules = tin_crown::schema::table("Solid", &[]).unwrap();
/// assert!(rules.contains("| `one_way` | true or false | `false` |"));
/// assert_eq!(tin_crown::schema::table("Nothing", &[]), None);
/// ```
pub fn table(name: &str, only: &[&str]) -> Option<String> {
    let top = [
        Shape::Table(Encounter::table()),
        Shape::Table(Beside::table()),
        Shape::Table(PipeLine::table()),
    ];
    let table = top.iter().find_map(|shape| find(shape, name))?;
    // Of a choice one key is there, and none has a default.
    let choice = table.is_choice();
    let mut text = String::from(if choice {
        "| key | value | |\n|---|---|---|\n"
    } else {
        "| key | value | default | |\n|---|---|---|---|\n"
    });
    for key in &table.keys {
        if !only.is_empty() && !only.contains(&key.name) {
            continue;
        }
        let _ = write!(text, "| {} | {} |", key_cell(key), value_cell(&key.shape));
        if !choice {
            let _ = write!(text, " {} |", default_cell(key));
        }
        let _ = write!(text, " {}", key.about);
        for Word { word, about } in words(&key.shape) {
            let _ = write!(text, " `\"{word}\"`: {}", lowered(about));
        }
        text.push_str(" |\n");
    }
    Some(text)
}

/// The table of the reference for the columns of a ledger.
pub fn ledger_table() -> String {
    let mut text = String::from("| key | |\n|---|---|\n");
    for column in Line::COLUMNS {
        let _ = writeln!(text, "| `{}` | {} |", column.name, column.about);
    }
    text
}

/// A table by its name, wherever it stands.
fn find(shape: &Shape, name: &str) -> Option<TableShape> {
    match shape {
        Shape::Table(table) if table.name == name => Some(table.clone()),
        Shape::Table(table) => table.keys.iter().find_map(|key| find(&key.shape, name)),
        Shape::Map(one) | Shape::List(one, _) | Shape::Pair(one) | Shape::Triple(one) => {
            find(one, name)
        }
        Shape::Any(all) => all.iter().find_map(|shape| find(shape, name)),
        _ => None,
    }
}

fn default_cell(key: &Key) -> String {
    if key.due {
        "required".to_owned()
    } else if let Some(default) = key.default {
        format!("`{default}`")
    } else {
        key.absent.unwrap_or_default().to_owned()
    }
}

/// The words that a value may be.
fn words(shape: &Shape) -> Vec<Word> {
    match shape {
        Shape::Words(words) => words.clone(),
        Shape::List(one, _) => words(one),
        Shape::Any(all) => all.iter().flat_map(words).collect(),
        _ => Vec::new(),
    }
}

/// A sentence as it goes on after a colon.
fn lowered(sentence: &str) -> String {
    let mut letters = sentence.chars();
    let first = letters.next();
    first
        .into_iter()
        .flat_map(char::to_lowercase)
        .chain(letters)
        .collect()
}

fn key_cell(key: &Key) -> String {
    match key.shape {
        Shape::Map(_) => format!("`{}.NAME`", key.name),
        _ => format!("`{}`", key.name),
    }
}

/// What a value may be.
fn value_cell(shape: &Shape) -> String {
    match shape {
        Shape::Text(what) => text_cell(what),
        Shape::Number(range) => ranged("number", range.as_deref()),
        Shape::Whole(range) => ranged("whole number", range.as_deref()),
        Shape::Amount => "amount".to_owned(),
        Shape::Percent => "`\"50%\"` of its `max`".to_owned(),
        Shape::Flag => "true or false".to_owned(),
        Shape::Duration => "duration".to_owned(),
        Shape::Pair(one) => match &**one {
            Shape::Pair(point) => format!("two points{}", unit(point)),
            number => format!("pair{}", unit(number)),
        },
        Shape::Triple(number) => format!("three numbers{}", unit(number)),
        Shape::List(one, _) => format!("array of {}", plural(one)),
        Shape::Map(one) => value_cell(one),
        Shape::Table(table) => table_cell(table),
        Shape::Words(_) | Shape::Any(_) => {
            let mut cells = Vec::new();
            let by_chance = alternatives(shape, &mut cells);
            format!(
                "{}{}",
                listed(&cells),
                if by_chance { ", by chance" } else { "" }
            )
        }
    }
}

/// All that a value may be, one by one; whether it may be drawn by chance.
fn alternatives(shape: &Shape, cells: &mut Vec<String>) -> bool {
    match shape {
        Shape::Words(words) => {
            cells.extend(words.iter().map(|word| format!("`\"{}\"`", word.word)));
            false
        }
        Shape::Any(all) => {
            let mut by_chance = false;
            for one in all {
                by_chance |= alternatives(one, cells);
            }
            by_chance
        }
        Shape::Table(table) if table.name == "Chance" => true,
        Shape::Table(table) if table.is_choice() && !table_cell(table).starts_with('[') => {
            let keys = table.keys.iter();
            cells.extend(keys.map(|key| format!("`{{ {} }}`", key.name)));
            false
        }
        other => {
            cells.push(value_cell(other));
            false
        }
    }
}

/// What a text names.
fn text_cell(what: &str) -> String {
    let itself = ["string", "selector", "id", "finding", "checkpoint or exit"];
    if itself.contains(&what) || what.contains('`') {
        what.to_owned()
    } else {
        format!("{what} name")
    }
}

/// A table by its keys, or by its name when there are many.
fn table_cell(table: &TableShape) -> String {
    let name = table.name.trim_start_matches("Written");
    let known = [
        ("BoxSpec", "[box](#boxes)"),
        ("MeterSpec", "[meter](#meters)"),
        ("AttackSpec", "[attack](#attacks)"),
        ("LauncherSpec", "[launcher](#launchers)"),
        ("SensorSpec", "[sensor](#sensors)"),
        ("StateSpec", "[state](#states)"),
        ("SpriteSpec", "[sprite](#sprites)"),
        ("Clip", "[clip](#sprites)"),
        ("Condition", "[condition](#states)"),
        ("Motion", "[motion](#motion)"),
        ("Push", "[push](#effects)"),
        ("Damage", "[damage](#effects)"),
        ("Gate", "[gate](#gates)"),
        ("PartyGate", "[party](#gates)"),
        ("Expectation", "[expectation](#expect)"),
        ("Input", "[input](#drillname)"),
        ("Apply", "[effect](#drillname)"),
        ("PoseInput", "[pose](#drillname)"),
        ("Kind", "[kind](#kindname)"),
        ("Placement", "[placement](#place)"),
        ("Rule", "[rule](#rule)"),
        ("Drill", "[drill](#drillname)"),
        ("Pattern", "[event](#expect)"),
    ];
    if let Some((_, link)) = known.iter().find(|(known, _)| *known == name) {
        return (*link).to_owned();
    }
    if table.keys.len() > 6 {
        return "table".to_owned();
    }
    let keys: Vec<&str> = table.keys.iter().map(|key| key.name).collect();
    if table.is_choice() {
        let each: Vec<String> = keys.iter().map(|key| format!("`{{ {key} }}`")).collect();
        return listed(&each);
    }
    format!("`{{ {} }}`", keys.join(", "))
}

fn ranged(sort: &str, range: Option<&Range>) -> String {
    let Some(Range { least, most, unit }) = range else {
        return sort.to_owned();
    };
    let unit = short(unit);
    // A million either way is the limit of everything, and said once.
    if most.abs() >= 1e5 {
        let floor = match *least {
            0.0 => " ≥ 0",
            1.0 => " ≥ 1",
            0.001 => " > 0",
            _ => "",
        };
        return format!("{sort}{floor}{}", comma(&unit));
    }
    format!(
        "{sort}, {least} to {most}{}",
        if unit.is_empty() {
            unit
        } else {
            format!(" {unit}")
        }
    )
}

fn unit(shape: &Shape) -> String {
    match shape {
        Shape::Number(Some(range)) => comma(&short(range.unit)),
        _ => String::new(),
    }
}

fn comma(unit: &str) -> String {
    if unit.is_empty() {
        String::new()
    } else {
        format!(", {unit}")
    }
}

/// A unit as in tables.
fn short(unit: &str) -> String {
    unit.replace(" per second squared", "/s²")
        .replace(" per second", "/s")
}

fn listed(all: &[String]) -> String {
    match all {
        [] => String::new(),
        [one] => one.clone(),
        [most @ .., last] => format!("{} or {last}", most.join(", ")),
    }
}

/// Several of a value.
fn plural(one: &Shape) -> String {
    match one {
        Shape::Pair(number) => format!("pairs{}", unit(number)),
        Shape::Any(_) => format!("({})", value_cell(one)),
        one => {
            let cell = value_cell(one);
            let ends_a_name = |letter: char| letter == '`' || letter == ')';
            if cell.ends_with(ends_a_name) {
                cell
            } else {
                format!("{cell}s")
            }
        }
    }
}
