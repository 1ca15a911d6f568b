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

#[cfg(test)]
mod tests {
    use tin_crown::Path;

    use super::*;

    fn change(path: &str, value: &str) -> Change {
        let path: Path = path.parse().expect("a path");
        let value = match value.parse::<f64>() {
            Ok(number) => number.into(),
            Err(_) => value.into(),
        };
        Change { path, value }
    }

    #[test]
    fn values_are_put_where_they_are_written_and_nothing_else_changes() {
        let text = "# head\n[kind.hero] # the hero\nwalk = { speed = 90,  jump = 320 } # fast\n\n\
                    [[rule]]\nname = \"a b\"\ndamage = 1   # one\n\n[[rule]]\nname = \"c\"\n\n\
                    [[place]]\nkind = \"hero\"\nat = [10,  20] # here\n";
        let changes = [
            change("kind.hero.walk.speed", "95"),
            change("rule.a b.damage", "2.5"),
            change("rule[2].damage", "3"),
            change("place.hero.at[2]", "21"),
            change("kind.hero.invincible.after_hit", "0.5s"),
        ];
        let edited = set(text, &changes).unwrap_or_else(|_| panic!("they have places"));
        let expected = text
            .replace("speed = 90", "speed = 95")
            .replace("damage = 1 ", "damage = 2.5 ")
            .replace("name = \"c\"\n", "name = \"c\"\ndamage = 3\n")
            .replace("[10,  20]", "[10,  21]")
            .replace("# fast\n", "# fast\ninvincible.after_hit = \"0.5s\"\n");
        assert_eq!(edited, expected);
        assert!(set(text, &[change("place.nobody.at[1]", "1")]).is_err());
        assert!(set(text, &[change("kind.hero.walk.speed.more", "1")]).is_err());
    }
}
