//! Findings as SARIF 2.1.0, the open format for what checkers find.

use std::collections::BTreeMap;

use percent_encoding::{AsciiSet, CONTROLS, utf8_percent_encode};
use serde_json::{Value, json};
use tin_crown::finding::{RowPlace, Span};
use tin_crown::{Code, Finding, Severity};

use crate::findings::{self, line_and_column, within};
use crate::source::Source;

const SCHEMA: &str =
    "https://docs.oasis-open.org/sarif/sarif/v2.1.0/errata01/os/schemas/sarif-schema-2.1.0.json";

/// What cannot stand for itself in the path of a URI.
const NOT_PATH: &AsciiSet = &CONTROLS
    .add(b' ')
    .add(b'"')
    .add(b'#')
    .add(b'%')
    .add(b'<')
    .add(b'>')
    .add(b'?')
    .add(b'[')
    .add(b'\\')
    .add(b']')
    .add(b'^')
    .add(b'`')
    .add(b'{')
    .add(b'|')
    .add(b'}');

/// All that was found in some files, as one run.
pub fn log(sources: &[Source]) -> Value {
    let places: BTreeMap<Code, usize> = Code::ALL.iter().copied().zip(0..).collect();
    let rules: Vec<Value> = Code::ALL
        .iter()
        .map(|code| {
            json!({
                "id": code.as_str(),
                "shortDescription": { "text": code.summary() },
                "help": { "text": format!("docs/findings.md#{code} says how to fix it.") },
                "defaultConfiguration": { "level": level(code.severity()) },
            })
        })
        .collect();
    let results = sources.iter().flat_map(|source| {
        let findings = source.checked.findings.iter();
        let kept = findings.map(|finding| result(&places, source, finding, None));
        let allowed = source.checked.findings.allowed();
        let allowed =
            allowed.map(|(finding, reason)| result(&places, source, finding, Some(reason)));
        kept.chain(allowed).collect::<Vec<_>>()
    });
    json!({
        "$schema": SCHEMA,
        "version": "2.1.0",
        "runs": [{
            "tool": { "driver": {
                "name": "Tin Crown",
                "version": env!("CARGO_PKG_VERSION"),
                "rules": rules,
            }},
            "columnKind": "unicodeCodePoints",
            "results": results.collect::<Vec<_>>(),
        }],
    })
}

fn result(
    places: &BTreeMap<Code, usize>,
    source: &Source,
    finding: &Finding,
    allowed: Option<&str>,
) -> Value {
    let text = match &finding.help {
        Some(help) => format!("{}: {help}", finding.message),
        None => finding.message.clone(),
    };
    let mut place = match &finding.row {
        Some(row) => of_row(row),
        None => location(source, finding.span),
    };
    if !finding.path.steps().is_empty() {
        let path = finding.path.to_string();
        place["logicalLocations"] = json!([{ "fullyQualifiedName": path }]);
    }
    let related = finding.related.iter().map(|(_, words, span)| {
        let mut place = location(source, *span);
        place["message"] = json!({ "text": words });
        place
    });
    let mut result = json!({
        "ruleId": finding.code.as_str(),
        "ruleIndex": places[&finding.code],
        "level": level(finding.severity),
        "message": { "text": text },
        "locations": [place],
        "relatedLocations": related.collect::<Vec<_>>(),
    });
    if let Some(reason) = allowed {
        result["suppressions"] = json!([{ "kind": "inSource", "justification": reason }]);
    }
    result
}

/// A place in a recording.
fn of_row(row: &RowPlace) -> Value {
    let uri = row.file.replace('\\', "/");
    let place = findings::of_row(row);
    json!({ "physicalLocation": {
        "artifactLocation": { "uri": utf8_percent_encode(&uri, NOT_PATH).to_string() },
        "region": {
            "startLine": place["line"], "startColumn": place["column"],
            "endLine": place["end_line"], "endColumn": place["end_column"],
        },
    } })
}

fn location(source: &Source, span: Option<Span>) -> Value {
    let uri = match &source.path {
        Some(_) => utf8_percent_encode(&source.name.replace('\\', "/"), NOT_PATH).to_string(),
        None => "stdin".to_owned(),
    };
    let mut physical = json!({ "artifactLocation": { "uri": uri } });
    if let Some(span) = span {
        let range = within(&source.text, span);
        let (line, column) = line_and_column(&source.text, range.start);
        let (end_line, end_column) = line_and_column(&source.text, range.end);
        physical["region"] = json!({
            "startLine": line, "startColumn": column,
            "endLine": end_line, "endColumn": end_column,
        });
    }
    json!({ "physicalLocation": physical })
}

fn level(severity: Severity) -> &'static str {
    match severity {
        Severity::Error => "error",
        Severity::Warning => "warning",
        Severity::Note => "note",
    }
}
