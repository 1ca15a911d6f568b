//! `tin-crown check`.

use std::io::Write;

use serde_json::json;
use tin_crown::{Plan, Severity};

use crate::args::{Check, FindingFormat};
use crate::failure::{Done, Failure};
use crate::source::{self, Source};
use crate::{findings, sarif};

pub fn run(args: &Check) -> Result<Done, Failure> {
    let mut sources = Vec::new();
    let mut unread = None;
    for file in &args.files {
        match source::read(file) {
            Ok(source) => sources.push(source),
            // The others are checked all the same.
            Err(failure) => {
                failure.print();
                unread = Some(Failure::Found);
            }
        }
    }
    match args.format {
        FindingFormat::Text => text(&sources)?,
        FindingFormat::Json => machine(&sources)?,
        FindingFormat::Sarif => {
            writeln!(std::io::stdout().lock(), "{:#}", sarif::log(&sources))?;
        }
    }
    if let Some(failure) = unread {
        return Err(failure);
    }
    let worst = sources
        .iter()
        .flat_map(|source| &source.checked.findings)
        .map(|finding| finding.severity)
        .min();
    match worst {
        Some(Severity::Error) => Err(Failure::Found),
        Some(Severity::Warning) if args.strict => Ok(Done::Failed),
        _ => Ok(Done::Well),
    }
}

fn text(sources: &[Source]) -> Result<(), Failure> {
    let mut out = anstream::stdout().lock();
    for source in sources {
        for finding in &source.checked.findings {
            writeln!(
                out,
                "{}\n",
                findings::drawn(&source.name, &source.text, finding)
            )?;
        }
        writeln!(out, "{}: {}", source.name, counted(source))?;
    }
    Ok(())
}

/// What there is, and what was found.
fn counted(source: &Source) -> String {
    let count = |severity| {
        let findings = source.checked.findings.iter();
        findings
            .filter(|finding| finding.severity == severity)
            .count()
    };
    let mut found: Vec<String> = [
        (count(Severity::Error), "error"),
        (count(Severity::Warning), "warning"),
        (count(Severity::Note), "note"),
    ]
    .into_iter()
    .filter(|(count, _)| *count > 0)
    .map(|(count, what)| plural(count, what))
    .collect();
    let allowed = source.checked.findings.allowed().count();
    if allowed > 0 {
        found.push(format!("{allowed} allowed"));
    }
    let found = if found.is_empty() {
        "nothing to find fault with".to_owned()
    } else {
        found.join(", ")
    };
    match &source.checked.plan {
        Some(plan) => format!("{}; {found}", sized(plan)),
        None => found,
    }
}

fn sized(plan: &Plan) -> String {
    format!(
        "{}, {}, {}",
        plural(plan.actors.len(), "actor"),
        plural(plan.rules.len(), "rule"),
        plural(plan.drills.len(), "drill")
    )
}

fn plural(count: usize, what: &str) -> String {
    format!("{count} {what}{}", if count == 1 { "" } else { "s" })
}

fn machine(sources: &[Source]) -> Result<(), Failure> {
    let files: Vec<_> = sources
        .iter()
        .map(|source| {
            let found = source.checked.findings.iter();
            let findings: Vec<_> = found
                .map(|finding| findings::json(&source.text, finding))
                .collect();
            let allowed = source.checked.findings.allowed();
            let allowed: Vec<_> = allowed
                .map(|(finding, reason)| {
                    let finding = findings::json(&source.text, finding);
                    json!({ "reason": reason, "finding": finding })
                })
                .collect();
            json!({ "file": source.name, "findings": findings, "allowed": allowed })
        })
        .collect();
    let mut out = std::io::stdout().lock();
    writeln!(out, "{:#}", json!({ "files": files }))?;
    Ok(())
}
