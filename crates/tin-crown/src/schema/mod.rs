//! What files hold, for machines and for people: JSON Schemas (2020-12) of the encounter, of
//! expectations beside it and of the ledger, and the tables of the reference. All of it comes from what
//! is declared of the keys and columns.
//!
//! A schema knows sorts of values, ranges, required keys and keys that exclude each other; it does not
//! know names. Whatever it refuses, [`check`](crate::check) refuses too.

mod json;
mod order;
mod reference;

pub use order::key_order;
pub use reference::{ledger_table, table};

use serde_json::{Map, Value, json};

use crate::encounter::{Beside, Encounter};
use crate::ledger::{Holds, Line};
use crate::limits;
use crate::syntax::Table;

const DIALECT: &str = "https://json-schema.org/draft/2020-12/schema";

/// The JSON Schema of an encounter file.
///
/// ```
/// let schema = tin_crown::schema::encounter();
/// assert!(schema.contains("\"tick_rate\""));
/// ```
pub fn encounter() -> String {
    file::<Encounter>("An encounter of Tin Crown")
}

/// The JSON Schema of a file of expectations beside an encounter.
pub fn expectations() -> String {
    file::<Beside>("Expectations of a Tin Crown encounter")
}

/// The JSON Schema of a line of a ledger in JSON Lines: a header, or an event.
pub fn ledger() -> String {
    let properties: Map<String, Value> = Line::COLUMNS
        .iter()
        .map(|column| {
            let sort = match column.holds {
                Holds::Text => json!({ "type": "string" }),
                Holds::Count => json!({ "type": "integer", "minimum": 0 }),
                Holds::Number => json!({ "type": "number" }),
                Holds::Flag => json!({ "type": "boolean" }),
            };
            (column.name.to_owned(), json::described(sort, column.about))
        })
        .collect();
    let required: Vec<&str> = Line::COLUMNS
        .iter()
        .filter(|column| column.always)
        .map(|column| column.name)
        .collect();
    let text = json!({ "type": "string" });
    let count = json!({ "type": "integer", "minimum": 0 });
    pretty(&json!({
        "$schema": DIALECT,
        "title": "A line of a Tin Crown ledger",
        "oneOf": [
            {
                "title": "Header",
                "type": "object",
                "properties": {
                    "edition": { "const": limits::EDITION },
                    "title": text,
                    "digest": text,
                    "drill": text,
                    "seed": count,
                    "rate": count,
                },
                "required": ["edition", "title", "drill", "seed", "rate"],
                "additionalProperties": false,
            },
            {
                "title": "Event",
                "type": "object",
                "properties": properties,
                "required": required,
                "additionalProperties": false,
            },
        ],
    }))
}

/// The schema of a file that begins with its edition.
fn file<T: Table>(title: &str) -> String {
    let mut definitions = json::Definitions::default();
    let mut root = definitions.table(&T::table());
    if let Value::Object(root) = &mut root {
        let edition = json!({
            "const": limits::EDITION,
            "description": "The edition of the format.",
        });
        let schema = json!({ "type": "string", "description": "The schema, for editors." });
        let properties = json::entry(root, "properties");
        properties.insert("$schema".to_owned(), schema);
        properties.insert("edition".to_owned(), edition);
        let required = root.entry("required").or_insert_with(|| json!([]));
        if let Value::Array(required) = required {
            required.insert(0, json!("edition"));
        }
        root.insert("title".to_owned(), json!(title));
        root.insert("$schema".to_owned(), json!(DIALECT));
        root.insert("$defs".to_owned(), definitions.into());
    }
    pretty(&root)
}

fn pretty(schema: &Value) -> String {
    // A tree of texts, numbers, arrays and tables is JSON.
    serde_json::to_string_pretty(schema).unwrap_or_default() + "\n"
}
