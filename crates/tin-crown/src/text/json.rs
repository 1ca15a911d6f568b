//! JSON into the tree.

use jsonc_parser::ast::{self, ObjectPropName};
use jsonc_parser::common::Ranged;
use jsonc_parser::{CollectOptions, ParseOptions, parse_to_ast};

use super::{Entry, Node, Value, syntax};
use crate::finding::{Findings, Span};
use crate::map::Set;

/// Plain JSON: none of the parser's extensions.
const STRICT: ParseOptions = ParseOptions {
    allow_comments: false,
    allow_loose_object_property_names: false,
    allow_trailing_commas: false,
    allow_missing_commas: false,
    allow_single_quoted_strings: false,
    allow_hexadecimal_numbers: false,
    allow_unary_plus_numbers: false,
    allow_bare_decimal_point_numbers: false,
    allow_non_finite_numbers: false,
    allow_extended_string_escapes: false,
};

pub(super) fn parse(text: &str) -> Result<Node, Findings> {
    let mut findings = Findings::new();
    // A byte order mark is nothing to JSON; as many blanks keep every place where it is.
    let blanked = text
        .strip_prefix('\u{feff}')
        .map(|rest| format!("   {rest}"));
    let text = blanked.as_deref().unwrap_or(text);
    match parse_to_ast(text, &CollectOptions::default(), &STRICT) {
        Ok(parsed) => {
            if let Some(value) = parsed.value {
                let root = node(value, &mut findings);
                if findings.is_empty() {
                    return Ok(root);
                }
            }
        }
        Err(error) => {
            let message = error.kind().to_string();
            let range = error.range();
            let span = Span {
                start: range.start,
                end: range.end,
            };
            findings.push(syntax(&message, span));
        }
    }
    Err(findings)
}

fn span(ranged: &impl Ranged) -> Span {
    Span {
        start: ranged.start(),
        end: ranged.end(),
    }
}

fn node(value: ast::Value<'_>, findings: &mut Findings) -> Node {
    let span = span(&value);
    let value = match value {
        ast::Value::StringLit(text) => Value::Text(text.value.into_owned()),
        ast::Value::NumberLit(number) => Value::Number(number.value.parse().unwrap_or(f64::NAN)),
        ast::Value::BooleanLit(flag) => Value::Flag(flag.value),
        ast::Value::NullKeyword(_) => Value::Foreign("null"),
        ast::Value::Array(array) => Value::Array(
            array
                .elements
                .into_iter()
                .map(|element| node(element, findings))
                .collect(),
        ),
        ast::Value::Object(object) => entries(object, findings),
    };
    Node { span, value }
}

fn entries(object: ast::Object<'_>, findings: &mut Findings) -> Value {
    let mut entries: Vec<Entry> = Vec::with_capacity(object.properties.len());
    let mut seen = Set::new();
    for property in object.properties {
        let key_span = span(&property.name);
        let key = match property.name {
            ObjectPropName::String(text) => text.value.into_owned(),
            ObjectPropName::Word(word) => word.value.to_owned(),
        };
        if !seen.insert(key.clone()) {
            findings.push(syntax(&format!("duplicate key `{key}`"), key_span));
        }
        entries.push(Entry {
            key,
            key_span,
            node: node(property.value, findings),
        });
    }
    Value::table(entries)
}
