//! The order of keys in a file.

use crate::encounter::{Beside, Encounter};
use crate::syntax::{Shape, Table, TableShape};

/// The keys of the table at a path of an encounter file (or of a file of expectations), in the order in
/// which they are written. `None` where a file has no table of declared keys. An index stands for
/// itself, and any name stands for a name of the author's.
///
/// ```
/// let arena = tin_crown::schema::key_order(&["arena"]).unwrap();
/// assert_eq!(arena, ["bounds", "up", "height", "gravity", "contact", "solids"]);
/// let meter = tin_crown::schema::key_order(&["kind", "beetle", "meter", "health"]).unwrap();
/// assert_eq!(meter[0], "max");
/// ```
pub fn key_order(path: &[&str]) -> Option<Vec<&'static str>> {
    let beside = Beside::table();
    let top = Encounter::table();
    let names = |table: &TableShape| table.keys.iter().map(|key| key.name).collect::<Vec<_>>();
    if path.is_empty() {
        let mut all = vec!["edition"];
        all.extend(names(&top));
        return Some(all);
    }
    let found = within(&Shape::Table(top), path).or_else(|| within(&Shape::Table(beside), path));
    found.map(|table| names(&table))
}

/// The table at a path within a shape.
fn within(shape: &Shape, path: &[&str]) -> Option<TableShape> {
    match shape {
        Shape::Table(table) => match path.split_first() {
            None => Some(table.clone()),
            Some((first, rest)) => {
                let key = table.keys.iter().find(|key| key.name == *first)?;
                within(&key.shape, rest)
            }
        },
        Shape::Map(one) | Shape::List(one, _) | Shape::Pair(one) | Shape::Triple(one) => {
            path.split_first().and_then(|(_, rest)| within(one, rest))
        }
        Shape::Any(all) => all.iter().find_map(|shape| within(shape, path)),
        _ => None,
    }
}
