//! TOML into the tree.

use toml::Spanned;
use toml::de::{DeTable, DeValue};

use super::{Entry, Node, Value, syntax};
use crate::finding::{Findings, Severity, Span};
use crate::limits;

pub(super) fn parse(text: &str) -> Result<Node, Findings> {
    let (table, errors) = DeTable::parse_recoverable(text);
    if errors.is_empty() {
        let span = span(table.span());
        return Ok(Node {
            span,
            value: entries(table.into_inner()),
        });
    }
    let mut findings = Findings::new();
    if errors.len() > limits::SYNTAX_ERRORS_AT_ALL {
        // A page, a log, a picture: no line of it is worth a finding of its own.
        let count = errors.len();
        let first = errors.into_iter().next();
        if let Some(error) = first {
            let span = error.span().map_or(Span { start: 0, end: 0 }, span);
            let help = format!("{count} places are no TOML: is this an encounter file?");
            findings.push(syntax(error.message(), span).help(help));
        }
        return Err(findings);
    }
    // The first mistake makes many more.
    let more = errors.len().saturating_sub(limits::SYNTAX_ERRORS);
    findings.leave_out(Severity::Error, more);
    for error in errors.into_iter().take(limits::SYNTAX_ERRORS) {
        let span = error.span().map_or(Span { start: 0, end: 0 }, span);
        findings.push(syntax(error.message(), span));
    }
    Err(findings)
}

fn span(range: std::ops::Range<usize>) -> Span {
    Span {
        start: range.start,
        end: range.end,
    }
}

fn entries(table: DeTable<'_>) -> Value {
    let entry = |(key, value): (Spanned<_>, _)| Entry {
        key_span: span(key.span()),
        key: std::borrow::Cow::into_owned(key.into_inner()),
        node: node(value),
    };
    Value::table(table.into_iter().map(entry).collect())
}

fn node(value: Spanned<DeValue<'_>>) -> Node {
    let span = span(value.span());
    let value = match value.into_inner() {
        DeValue::String(text) => Value::Text(text.into_owned()),
        DeValue::Integer(number) => Value::Number(
            i64::from_str_radix(number.as_str(), number.radix()).map_or_else(
                |_| number.as_str().parse().unwrap_or(f64::INFINITY),
                |number| number as f64,
            ),
        ),
        DeValue::Float(number) => Value::Number(number.as_str().parse().unwrap_or(f64::NAN)),
        DeValue::Boolean(flag) => Value::Flag(flag),
        DeValue::Datetime(_) => Value::Foreign("a date or time"),
        DeValue::Array(array) => Value::Array(array.into_iter().map(node).collect()),
        DeValue::Table(table) => entries(table),
    };
    Node { span, value }
}
