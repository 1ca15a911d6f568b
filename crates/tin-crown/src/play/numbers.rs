//! What changes when a number is changed.

use crate::encounter::Setting;
use crate::finding::Path;
use crate::sim::Sim;
use crate::study;
use crate::time::Ticks;

/// So many changes are told.
const TOLD: usize = 12;

/// A value that was changed.
#[derive(Clone, Debug, PartialEq)]
pub struct Change {
    /// Where.
    pub path: Path,
    /// What it is now.
    pub value: Setting,
}

/// What became of a run under other numbers.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Changed {
    /// What is not as it was, in lines, the most important first; empty when nothing is.
    pub lines: Vec<String>,
    /// The first tick on which something is not as it was.
    pub first: Option<u32>,
    /// How many inputs are of nobody any more.
    pub unfit: usize,
}

impl Changed {
    pub(super) fn between(old: &Sim, new: &Sim, unfit: usize) -> Changed {
        let (old, new) = (old.record(), new.record());
        let comparison = study::compare(&old, &new, Ticks(0));
        let ticks = comparison.changes.iter().filter_map(|change| {
            let lines = [change.old, change.new].into_iter().flatten();
            lines.map(|line| line.tick).min()
        });
        Changed {
            first: ticks.min(),
            lines: comparison.brief(TOLD),
            unfit,
        }
    }
}
