//! For a game's own tests: an encounter file is replayed, and what it expects is asserted.
//!
//! ```
//! # let folder = concat!(env!("CARGO_MANIFEST_DIR"), "/demo");
//! # std::env::set_current_dir(folder).unwrap();
//! use tin_crown::testing::assert_met;
//!
//! assert_met("first-shelf.toml");
//! ```

use std::fs;
use std::io::ErrorKind;
use std::path::Path;
use std::sync::Arc;

use crate::finding::Findings;
use crate::ledger::Record;
use crate::plan::Plan;
use crate::track::{Files, Folder, plainly};
use crate::verify::{Measure, Source, Trial};
use crate::{check_expectations, check_with};

/// Asserts that an encounter file has no errors, and that each of its drills meets its expectations:
/// in the file, in `duel.expect.toml` beside `duel.toml`, and in `duel.golden.jsonl`, where these exist. Files that the
/// encounter names, its `drill_file` and the recordings of its drills, are read from its folder.
///
/// # Panics
///
/// When something is not so. The message lists the findings, or each expectation that is not met with
/// its place and the lines of the ledger around it.
#[track_caller]
pub fn assert_met(path: impl AsRef<Path>) {
    assert(path.as_ref(), false);
}

/// The same, and the encounter has to have golden records: see `tin-crown replay FILE --accept`.
///
/// # Panics
///
/// When there are none, or one of its drills has none, or as [`assert_met`].
#[track_caller]
pub fn assert_golden(path: impl AsRef<Path>) {
    assert(path.as_ref(), true);
}

#[track_caller]
fn assert(path: &Path, golden: bool) {
    if let Err(message) = tested(path, golden) {
        panic!("{message}");
    }
}

fn tested(path: &Path, golden: bool) -> Result<(), String> {
    let name = path.display().to_string();
    let cannot = |error| format!("cannot read {name}: {}", plainly(&error));
    let bytes = fs::read(path).map_err(cannot)?;
    let files: Arc<dyn Files> = Arc::new(Folder::of(path));
    let checked = check_with(&bytes, &*files);
    let Some(plan) = checked.plan else {
        return Err(found(&name, &checked.findings));
    };
    let mut read = plan.record(plan.all_drills(), files);
    read.findings.locate_in(&bytes);
    let Some(plan) = read.plan else {
        return Err(found(&name, &read.findings));
    };
    let text = String::from_utf8_lossy(&bytes);
    let own = Source {
        name: &name,
        text: &text,
    };

    let expect_path = path.with_extension("expect.toml");
    let expect_name = expect_path.display().to_string();
    let expect_bytes = optional(&expect_path)?;
    let expect_text = String::from_utf8_lossy(expect_bytes.as_deref().unwrap_or_default());
    let mut measure = Measure::new(own);
    if let Some(bytes) = &expect_bytes {
        let checked = check_expectations(&plan, bytes);
        let Some(expectations) = checked.expectations else {
            return Err(found(&expect_name, &checked.findings));
        };
        let file = Source {
            name: &expect_name,
            text: &expect_text,
        };
        measure = measure.beside(file, expectations);
    }

    let golden_path = path.with_extension("golden.jsonl");
    let golden_name = golden_path.display().to_string();
    let records = match optional(&golden_path)? {
        Some(bytes) => Record::read(&bytes).map_err(|error| format!("{golden_name}: {error}"))?,
        None => Vec::new(),
    };
    if golden {
        recorded(&plan, &name, &records)?;
    }
    if !records.is_empty() {
        measure = measure.golden(&golden_name, records);
    }
    outcome(&plan, &name, &measure)
}

/// Plays every drill; all that is not met, if anything is.
fn outcome(plan: &Arc<Plan>, name: &str, measure: &Measure<'_>) -> Result<(), String> {
    let mut trials = Vec::new();
    for drill in plan.all_drills() {
        let drill = &plan.drills[drill.index()].name;
        let replay = plan
            .replay(drill)
            .map_err(|error| format!("{name}: {error}"))?;
        trials.push(measure.trial(&replay));
    }
    trials.extend(measure.orphans(plan));
    let all: usize = trials.iter().map(|trial| trial.tests.len()).sum();
    let failed: usize = trials.iter().map(Trial::failed).sum();
    if all == 0 {
        return Err(format!("{name} has no expectations"));
    }
    if failed == 0 {
        return Ok(());
    }
    let told: String = trials.iter().map(Trial::to_string).collect();
    Err(format!(
        "{name}: {failed} of {all} expectations not met\n{told}"
    ))
}

/// Whether every drill has its golden record.
fn recorded(plan: &Plan, name: &str, records: &[Record<'_>]) -> Result<(), String> {
    let has = |drill: &str| records.iter().any(|record| record.header.drill == drill);
    let mut drills = plan.drills.iter().map(|drill| drill.name.as_str());
    match drills.find(|drill| !has(drill)) {
        Some(drill) => Err(format!(
            "{name}: drill `{drill}` has no golden record; write one with: tin-crown replay {name} --accept"
        )),
        None => Ok(()),
    }
}

fn optional(path: &Path) -> Result<Option<Vec<u8>>, String> {
    match fs::read(path) {
        Ok(bytes) => Ok(Some(bytes)),
        Err(error) if error.kind() == ErrorKind::NotFound => Ok(None),
        Err(error) => Err(format!(
            "cannot read {}: {}",
            path.display(),
            plainly(&error)
        )),
    }
}

fn found(name: &str, findings: &Findings) -> String {
    format!("{name} has errors:\n{findings}")
}
