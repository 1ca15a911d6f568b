//! The encounter that is studied.

use std::path::Path;
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};

use tin_crown::encounter::ReadAlone;
use tin_crown::plan::DrillIx;
use tin_crown::{Encounter, Plan, limits};

use crate::failure::Failure;
use crate::progress::Bar;
use crate::source::Source;
use crate::{findings, source, trial};

/// An encounter that is studied, with all that is expected of it.
pub struct Subject {
    pub source: Source,
    pub encounter: Encounter,
    /// Its plan, which has the recordings of the drills that are studied.
    pub plan: Arc<Plan>,
    /// The names of its drills, as they are written.
    drills: Vec<String>,
}

impl Subject {
    /// Reads an encounter, and the expectations beside it.
    pub fn read(path: &Path) -> Result<Subject, Failure> {
        let source = source::read(path)?;
        let mut plan = source.plan()?;
        let drills = plan.all_drills();
        let drills = drills.map(|drill| plan.drills()[drill.index()].name().to_owned());
        let drills = drills.collect();
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
            drills,
        })
    }

    /// The drills that are named, or all, as they are written.
    pub fn names(&self, named: &[String]) -> Vec<String> {
        match named {
            [] => self.drills.clone(),
            named => named.to_vec(),
        }
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

/// Set once ctrl-C is pressed: what is being played is finished, and kept.
pub fn interrupt() -> Arc<AtomicBool> {
    let stop = Arc::new(AtomicBool::new(false));
    let flag = Arc::clone(&stop);
    // Asked twice: at once.
    crate::interrupt::ask(move || !flag.swap(true, Ordering::Relaxed));
    stop
}

/// Long work that shows how far it is, and that ctrl-C stops.
pub struct Watched {
    what: &'static str,
    bar: Option<Bar>,
    stop: Arc<AtomicBool>,
}

impl Watched {
    pub fn new(what: &'static str) -> Watched {
        Watched {
            what,
            bar: None,
            stop: interrupt(),
        }
    }

    /// So many steps of so many are done; says whether to go on.
    pub fn goes_on(&mut self, done: u64, all: u64) -> bool {
        self.bar
            .get_or_insert_with(|| Bar::new(all, self.what))
            .at(done);
        !self.is_stopped()
    }

    pub fn is_stopped(&self) -> bool {
        self.stop.load(Ordering::Relaxed)
    }

    pub fn finish(&self) {
        if let Some(bar) = &self.bar {
            bar.finish();
        }
    }
}
