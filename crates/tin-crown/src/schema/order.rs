//! The order of keys in a file.

use std::sync::LazyLock;

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
    /// A file of either sort; its shape is made once.
    static FILES: LazyLock<[Shape; 2]> =
        LazyLock::new(|| [Encounter::table(), Beside::table()].map(Shape::Table));
    let found = FILES.iter().find_map(|file| within(file, path))?;
    // Of the whole file.
    let first = path.is_empty().then_some("edition");
    Some(
        first
            .into_iter()
            .chain(found.keys.iter().map(|key| key.name))
            .collect(),
    )
}

/// The table at a path within a shape.
fn within<'s>(shape: &'s Shape, path: &[&str]) -> Option<&'s TableShape> {
    match shape {
        Shape::Table(table) => match path.split_first() {
            None => Some(table),
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
