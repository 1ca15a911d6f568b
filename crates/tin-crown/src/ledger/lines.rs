//! The lines of a ledger, one by one.

use std::borrow::Cow;

use super::{Line, Reading, Record, Replay};

/// The lines of a ledger: of a run, each made when it is asked for, or as they were read.
#[derive(Clone, Copy, Debug)]
pub enum Lines<'r> {
    /// Of a run.
    Run(Reading<'r>),
    /// As they were read, or are kept.
    Record(&'r Record<'r>),
}

impl<'r> From<&'r Replay> for Lines<'r> {
    fn from(replay: &'r Replay) -> Lines<'r> {
        Lines::Run(replay.reading())
    }
}

impl<'r> From<&'r Record<'r>> for Lines<'r> {
    fn from(record: &'r Record<'r>) -> Lines<'r> {
        Lines::Record(record)
    }
}

impl<'r> Lines<'r> {
    /// Ticks a second.
    pub(crate) fn rate(self) -> u32 {
        match self {
            Lines::Run(run) => run.plan().rate,
            Lines::Record(record) => record.header.rate,
        }
    }

    /// Whether it is a golden record, or one of a run that goes on: without inputs.
    pub(crate) fn is_golden(self) -> bool {
        matches!(self, Lines::Record(record) if record.header.digest.is_empty())
    }

    pub(crate) fn len(self) -> usize {
        match self {
            Lines::Run(run) => run.ledger().events().len(),
            Lines::Record(record) => record.lines.len(),
        }
    }

    /// The tick of a line.
    pub(crate) fn tick(self, nth: usize) -> u32 {
        match self {
            Lines::Run(run) => run.ledger().events()[nth].tick.0,
            Lines::Record(record) => record.lines[nth].tick,
        }
    }

    /// A line.
    pub(crate) fn line(self, nth: usize) -> Cow<'r, Line<'r>> {
        match self {
            Lines::Run(run) => Cow::Owned(run.cast().line(&run.ledger().events()[nth])),
            Lines::Record(record) => Cow::Borrowed(&record.lines[nth]),
        }
    }

    /// All lines.
    pub(crate) fn iter(self) -> impl Iterator<Item = Cow<'r, Line<'r>>> {
        (0..self.len()).map(move |nth| self.line(nth))
    }
}
