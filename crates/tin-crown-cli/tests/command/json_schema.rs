//! As much of JSON Schema as the schemas here use; any other word of it is a panic.

use regex_lite::Regex;
use serde_json::{Map, Value};

pub struct Schema(Value);

impl Schema {
    pub fn read(text: &str) -> Schema {
        Schema(serde_json::from_str(text).expect("a schema is JSON"))
    }

    pub fn is_valid(&self, value: &Value) -> bool {
        self.validate(value).is_ok()
    }

    /// The first thing that is wrong, with its place.
    pub fn validate(&self, value: &Value) -> Result<(), String> {
        self.holds(&self.0, value, "")
    }

    fn holds(&self, schema: &Value, value: &Value, at: &str) -> Result<(), String> {
        let words = match schema {
            Value::Bool(true) => return Ok(()),
            Value::Bool(false) => return Err(format!("{at}: nothing is allowed here")),
            schema => schema.as_object().expect("a schema is a table or a flag"),
        };
        for (word, asked) in words {
            if !self.word(words, word, asked, value, at)? {
                return Err(format!("{at}: {value} is not as `{word}` has it: {asked}"));
            }
        }
        Ok(())
    }

    /// Whether one word of a schema holds; what is wrong within a part of the value is told by that part.
    fn word(
        &self,
        words: &Map<String, Value>,
        word: &str,
        asked: &Value,
        value: &Value,
        at: &str,
    ) -> Result<bool, String> {
        let all = |key: &str| asked.as_array().unwrap_or_else(|| panic!("{key}: a list"));
        let number = || asked.as_f64().expect("a number");
        let fitting = || {
            let fits = |schema: &&Value| self.holds(schema, value, at).is_ok();
            all(word).iter().filter(fits).count()
        };
        Ok(match word {
            "$schema" | "$id" | "$defs" | "definitions" | "title" | "description" | "default"
            | "examples" | "format" => true,
            "$ref" => {
                let place = asked.as_str().and_then(|own| own.strip_prefix('#'));
                let schema = place.and_then(|place| self.0.pointer(place));
                self.holds(schema.expect("it is defined"), value, at)?;
                true
            }
            "type" => match asked {
                Value::Array(sorts) => sorts.iter().any(|sort| is(value, sort)),
                sort => is(value, sort),
            },
            "enum" => all(word).contains(value),
            "const" => value == asked,
            "allOf" => {
                for schema in all(word) {
                    self.holds(schema, value, at)?;
                }
                true
            }
            "anyOf" => fitting() > 0,
            "oneOf" => fitting() == 1,
            "not" => self.holds(asked, value, at).is_err(),
            "minimum" => value.as_f64().is_none_or(|own| own >= number()),
            "maximum" => value.as_f64().is_none_or(|own| own <= number()),
            "pattern" => value.as_str().is_none_or(|text| {
                let pattern = Regex::new(asked.as_str().expect("a text"));
                pattern.expect("a pattern").is_match(text)
            }),
            "required" => value.as_object().is_none_or(|own| {
                let mut names = all(word).iter().map(|name| name.as_str().expect("a name"));
                names.all(|name| own.contains_key(name))
            }),
            "properties" | "additionalProperties" => {
                for (key, part) in value.as_object().into_iter().flatten() {
                    let at = format!("{at}/{key}");
                    let declared = words.get("properties").and_then(|all| all.get(key));
                    match (word, declared) {
                        ("properties", Some(schema)) => self.holds(schema, part, &at)?,
                        ("additionalProperties", None) => self.holds(asked, part, &at)?,
                        _ => {}
                    }
                }
                true
            }
            "items" => {
                for (nth, part) in value.as_array().into_iter().flatten().enumerate() {
                    self.holds(asked, part, &format!("{at}/{nth}"))?;
                }
                true
            }
            "minItems" => value
                .as_array()
                .is_none_or(|own| own.len() as f64 >= number()),
            "maxItems" => value
                .as_array()
                .is_none_or(|own| own.len() as f64 <= number()),
            "uniqueItems" => value.as_array().is_none_or(|own| {
                let again = |(nth, one)| own[..nth].contains(one);
                *asked == false || !own.iter().enumerate().any(again)
            }),
            word => panic!("a schema with `{word}`"),
        })
    }
}

fn is(value: &Value, sort: &Value) -> bool {
    match sort.as_str().expect("a sort") {
        "object" => value.is_object(),
        "array" => value.is_array(),
        "string" => value.is_string(),
        "boolean" => value.is_boolean(),
        "null" => value.is_null(),
        "number" => value.is_number(),
        "integer" => value.as_f64().is_some_and(|own| own.fract() == 0.0),
        sort => panic!("a sort `{sort}`"),
    }
}
