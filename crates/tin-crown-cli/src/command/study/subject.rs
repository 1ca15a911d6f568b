//! The encounter that is studied.

use std::path::Path;
use std::sync::Arc;

use tin_crown::encounter::ReadAlone;
use tin_crown::plan::DrillIx;
use tin_crown::{Encounter, Plan, limits};

use crate::failure::Failure;
use crate::source::Source;
use crate::{findings, source, trial};

/// An encounter that is studied, with all that is expected of it.
pub struct Subject {
    pub source: Source,
    pub encounter: Encounter,
    /// Its plan, which has the recordings of the drills that are studied.
    pub plan: Arc<Plan>,
}

impl Subject {
    /// Reads an encounter, and the expectations beside it.
    pub fn read(path: &Path) -> Result<Subject, Failure> {
        let source = source::read(path)?;
        let mut plan = source.plan()?;
        // Whatever has a plan was read.
        let Some(mut encounter) = source.checked.encounter.clone() else {
            return Err(Failure::Found);
        };
        let beside = source.path.as_deref().and_then(trial::expectations_beside);
        if let Some(path) = beside {
            trial::Beside::read(&source, &plan, Some(&path))?;
            let (_, bytes) = source::bytes(&path, limits::FILE_BYTES)?;
            encounter.expect_beside(&bytes);
            plan = encounter.resolve().map_err(|found| {
                findings::say_all(&source.name, &source.text, &found);
                Failure::Found
            })?;
        }
        Ok(Subject {
            source,
            encounter,
            plan,
        })
    }

    /// Reads the recordings of some drills.
    pub fn record(&mut self, drills: &[DrillIx]) -> Result<(), Failure> {
        self.plan = self.source.record(&self.plan, drills)?;
        Ok(())
    }
}

/// What was read from an argument, or what is wrong with it, said.
pub fn value<T>(option: &str, read: ReadAlone<T>) -> Result<T, Failure> {
    findings::say_all(option, &read.text, &read.findings);
    read.value.ok_or(Failure::Found)
}
