//! `tin-crown check`.

use std::io::Write;
use std::sync::Arc;

use serde_json::{Value, json};
use tin_crown::{Plan, Severity, limits};

use crate::args::{Check, FindingFormat};
use crate::failure::{Done, Failure};
use crate::findings::{self, Shown, plural};
use crate::source::{self, Source};
use crate::{sarif, terminal, trial};

pub fn run(args: &Check) -> Result<Done, Failure> {
    let dashes = args.files.iter().filter(|file| source::is_dash(file));
    if dashes.count() > 1 {
        return Err(Failure::new("standard input can be read once").help("name `-` once"));
    }
    let mut sources = Vec::new();
    let mut unread = None;
    // The others are checked all the same.
    let mut missed = |failure: Failure| {
        failure.print();
        unread = Some(Failure::Found);
    };
    for file in &args.files {
        match source::read(file) {
            Ok(mut source) => {
                let files = Arc::clone(&source.files);
                source.checked.record(source.text.as_bytes(), files);
                let beside = beside(&source).transpose();
                sources.push(source);
                match beside {
                    Some(Ok(beside)) => sources.push(beside),
                    Some(Err(failure)) => missed(failure),
                    None => {}
                }
            }
            Err(failure) => missed(failure),
        }
    }
    let mut out = terminal::out();
    match args.format {
        FindingFormat::Text => text(&mut out, &sources)?,
        FindingFormat::Json => writeln!(out, "{}", terminal::json(&machine(&sources)))?,
        FindingFormat::Sarif => writeln!(out, "{}", terminal::json(&sarif::log(&sources)))?,
    }
    out.flush()?;
    if let Some(failure) = unread {
        return Err(failure);
    }
    let worst = sources
        .iter()
        .flat_map(|source| &source.checked.findings)
        .map(|finding| finding.severity)
        .min();
    // What is left out is no graver than what is listed.
    match worst {
        Some(Severity::Error) => Err(Failure::Found),
        Some(Severity::Warning) if args.strict => Ok(Done::Failed),
        _ => Ok(Done::Well),
    }
}

/// The expectations that stand beside an encounter, when it can be replayed.
fn beside(source: &Source) -> Result<Option<Source>, Failure> {
    let (Some(path), Some(plan)) = (&source.path, &source.checked.plan) else {
        return Ok(None);
    };
    let Some(path) = trial::expectations_beside(path) else {
        return Ok(None);
    };
    let (name, bytes) = source::bytes(&path, limits::FILE_BYTES)?;
    let findings = tin_crown::check_expectations(plan, &bytes).findings;
    Ok(Some(source::found(name, path, &bytes, findings)))
}

fn text(out: &mut impl Write, sources: &[Source]) -> Result<(), Failure> {
    for source in sources {
        let shown = Shown::new(&source.text);
        for finding in &source.checked.findings {
            writeln!(out, "{}\n", findings::drawn(&source.name, &shown, finding))?;
        }
        if let Some(more) = findings::left_out(&source.checked.findings) {
            writeln!(out, "{more}\n")?;
        }
        writeln!(out, "{}: {}", source.name, counted(source))?;
    }
    Ok(())
}

/// What there is, and what was found.
fn counted(source: &Source) -> String {
    let count = |severity| {
        let findings = &source.checked.findings;
        let listed = findings.iter();
        let listed = listed.filter(|finding| finding.severity == severity);
        listed.count() + findings.left_out(severity)
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
        "no findings".to_owned()
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
        plural(plan.actors().len(), "actor"),
        plural(plan.rules().len(), "rule"),
        plural(plan.drills().len(), "drill")
    )
}

fn machine(sources: &[Source]) -> Value {
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
            let mut file = json!({ "file": source.name, "findings": findings, "allowed": allowed });
            let left_out = |severity| source.checked.findings.left_out(severity);
            let counts = [Severity::Error, Severity::Warning, Severity::Note].map(left_out);
            if counts != [0; 3] {
                let [errors, warnings, notes] = counts;
                file["left_out"] =
                    json!({ "errors": errors, "warnings": warnings, "notes": notes });
            }
            file
        })
        .collect();
    json!({ "files": files })
}
