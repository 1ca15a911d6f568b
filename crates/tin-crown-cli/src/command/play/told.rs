//! What the pages are told, beside the ticks.

use serde_json::{Value, json};
use tin_crown::play::{Changed, Draft, Kept};
use tin_crown::study::Came;

use crate::failure::Failure;

pub fn note(says: &str) -> Value {
    json!({ "is": "said", "tone": "note", "says": says })
}

/// What a change brought about.
pub fn changed(what: &str, changed: &Changed) -> Value {
    json!({
        "is": "changed",
        "what": what,
        "lines": changed.lines,
        "first": changed.first,
        "unfit": changed.unfit,
    })
}

/// Why a line came about; nothing when it tells of no hit.
pub fn why(line: u32, came: Option<&Came>) -> Value {
    let known = came.map(|came| {
        let checks = came.checks.iter();
        let checks: Vec<Value> = checks
            .map(|check| json!([check.passed, check.check, check.says]))
            .collect();
        let causes = came.causes.iter();
        let causes: Vec<Value> = causes.map(|step| json!([step.line, step.says])).collect();
        json!({ "says": came.says, "checks": checks, "change": came.change, "causes": causes })
    });
    json!({ "is": "why", "line": line, "known": known })
}

/// A drill that could be kept.
pub fn draft(name: &str, kept: &Kept, drafts: &[Draft]) -> Value {
    let said: Vec<&str> = drafts.iter().map(|draft| draft.said.as_str()).collect();
    json!({
        "is": "draft",
        "name": name,
        "length": kept.drill.length.to_string(),
        "toml": kept.drill.to_toml(name),
        "expect": said,
    })
}

/// A drill was kept.
pub fn kept(name: &str, says: &str) -> Value {
    json!({ "is": "kept", "name": name, "says": says })
}

/// A failure in one text.
pub fn failure(failure: &Failure) -> String {
    match failure {
        Failure::Said { what, help: None } => what.clone(),
        Failure::Said {
            what,
            help: Some(help),
        } => format!("{what}: {help}"),
        Failure::Found => "it has errors".to_owned(),
    }
}
