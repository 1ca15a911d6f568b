//! Meters as written.

use super::read::{At, Read};

/// A bounded number an actor carries, as written: from 0 to `max`.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct MeterSpec {
    /// The most it holds.
    pub max: Option<f64>,
    /// What it holds at the start; `max` when absent.
    pub start: Option<f64>,
}

impl MeterSpec {
    /// A meter that starts full.
    pub fn new(max: f64) -> MeterSpec {
        MeterSpec {
            max: Some(max),
            start: None,
        }
    }

    /// Sets what it holds at the start.
    #[must_use]
    pub fn start(mut self, start: f64) -> MeterSpec {
        self.start = Some(start);
        self
    }

    pub(crate) fn over(&self, base: &MeterSpec) -> MeterSpec {
        MeterSpec {
            max: self.max.or(base.max),
            // A new max alone means full again, not the start of the old one.
            start: self
                .start
                .or(if self.max.is_some() { None } else { base.start }),
        }
    }
}

impl Read for MeterSpec {
    fn read(at: At<'_>) -> Option<MeterSpec> {
        at.table(|fields| {
            Some(MeterSpec {
                max: fields.get("max"),
                start: fields.get("start"),
            })
        })
    }
}
