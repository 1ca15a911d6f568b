//! Shapes as JSON Schema.

use serde_json::{Map, Value, json};

use crate::limits::Range;
use crate::syntax::{Key, Shape, TableShape, Together, Word};

/// The tables that a schema refers to, by name.
#[derive(Default)]
pub(super) struct Definitions(Map<String, Value>);

impl From<Definitions> for Value {
    fn from(definitions: Definitions) -> Value {
        Value::Object(definitions.0)
    }
}

impl Definitions {
    fn shape(&mut self, shape: &Shape) -> Value {
        match shape {
            Shape::Text(what) => match *what {
                "string" => json!({ "type": "string" }),
                what => json!({ "type": "string", "title": what.replace('`', "") }),
            },
            Shape::Number(range) => number("number", range.as_deref()),
            Shape::Whole(None) => json!({ "type": "integer", "minimum": 0, "maximum": u32::MAX }),
            Shape::Whole(range) => number("integer", range.as_deref()),
            Shape::Amount => json!({ "type": "number", "minimum": 0, "maximum": 1_000_000_000 }),
            Shape::Percent => json!({ "type": "string", "pattern": "^[0-9]+(\\.[0-9]+)?%$" }),
            Shape::Flag => json!({ "type": "boolean" }),
            Shape::Duration => {
                let duration = json!({
                    "type": "string",
                    "pattern": "^([0-9]+t|[0-9]+(\\.[0-9]+)?(ms|s))$",
                    "examples": ["12t", "250ms", "1.5s"],
                    "description": "A length of time: ticks, milliseconds or seconds.",
                });
                self.named("Duration", duration)
            }
            Shape::Words(words) => words_schema(words),
            Shape::Pair(one) => {
                json!({ "type": "array", "items": self.shape(one), "minItems": 2, "maxItems": 2 })
            }
            Shape::Triple(one) => {
                json!({ "type": "array", "items": self.shape(one), "minItems": 3, "maxItems": 3 })
            }
            Shape::List(one, most) => {
                json!({ "type": "array", "items": self.shape(one), "maxItems": most })
            }
            Shape::Map(one) => {
                json!({ "type": "object", "additionalProperties": self.shape(one) })
            }
            Shape::Table(table) => {
                let schema = self.table(table);
                self.named(table.name.trim_start_matches("Written"), schema)
            }
            Shape::Any(all) => {
                let all: Vec<Value> = all.iter().map(|shape| self.shape(shape)).collect();
                json!({ "anyOf": all })
            }
        }
    }

    /// A reference to a definition; the schema itself when the name means something else already.
    fn named(&mut self, name: &str, schema: Value) -> Value {
        let known = self.0.entry(name).or_insert_with(|| schema.clone());
        if *known == schema {
            json!({ "$ref": format!("#/$defs/{name}") })
        } else {
            schema
        }
    }

    pub fn table(&mut self, table: &TableShape) -> Value {
        let mut properties = Map::new();
        for key in &table.keys {
            properties.insert(key.name.to_owned(), self.key(key));
        }
        let required: Vec<&str> = table
            .keys
            .iter()
            .filter(|key| key.required)
            .map(|key| key.name)
            .collect();
        let together: Vec<Value> = table.together.iter().map(together).collect();
        let mut schema = json!({
            "type": "object",
            "description": table.about,
            "properties": properties,
            "additionalProperties": false,
        });
        if let Value::Object(schema) = &mut schema {
            if !required.is_empty() {
                schema.insert("required".to_owned(), json!(required));
            }
            if !together.is_empty() {
                schema.insert("allOf".to_owned(), json!(together));
            }
        }
        schema
    }

    fn key(&mut self, key: &Key) -> Value {
        let mut schema = described(self.shape(&key.shape), key.about);
        // A default is written as TOML, of which every value used is JSON, too.
        let default = key.default.and_then(|text| serde_json::from_str(text).ok());
        if let (Value::Object(schema), Some(default)) = (&mut schema, default) {
            schema.insert("default".to_owned(), default);
        }
        schema
    }
}

/// A schema with a sentence; that of a list of words is kept.
pub(super) fn described(mut schema: Value, about: &str) -> Value {
    if let Value::Object(schema) = &mut schema {
        let about = match schema.get("description") {
            Some(Value::String(own)) => format!("{about}\n\n{own}"),
            _ => about.to_owned(),
        };
        schema.insert("description".to_owned(), json!(about));
    }
    schema
}

/// The object under a key.
pub(super) fn entry<'m>(map: &'m mut Map<String, Value>, key: &str) -> &'m mut Map<String, Value> {
    let value = map.entry(key).or_insert_with(|| json!({}));
    value
        .as_object_mut()
        .unwrap_or_else(|| unreachable!("`{key}` of a schema is an object"))
}

fn number(sort: &str, range: Option<&Range>) -> Value {
    match range {
        None => json!({ "type": sort }),
        Some(range) => json!({ "type": sort, "minimum": range.least, "maximum": range.most }),
    }
}

fn words_schema(words: &[Word]) -> Value {
    let all: Vec<&str> = words.iter().map(|word| word.word).collect();
    let about: Vec<String> = words
        .iter()
        .map(|Word { word, about }| format!("- `\"{word}\"`: {about}"))
        .collect();
    json!({ "enum": all, "description": about.join("\n") })
}

fn together(together: &Together) -> Value {
    let required = |keys: &[&str]| json!({ "required": keys });
    let each = |keys: &[&str]| -> Vec<Value> { keys.iter().map(|key| required(&[key])).collect() };
    match together {
        Together::OneOf(keys) => json!({ "oneOf": each(keys) }),
        Together::SomeOf(keys) => json!({ "anyOf": each(keys) }),
        Together::AtMostOne(keys) => {
            let pairs: Vec<Value> = keys
                .iter()
                .enumerate()
                .flat_map(|(nth, one)| keys[nth + 1..].iter().map(move |other| [*one, *other]))
                .map(|pair| required(&pair))
                .collect();
            json!({ "not": { "anyOf": pairs } })
        }
    }
}
