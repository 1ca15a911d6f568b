//! What all parts of resolving share: collecting findings about numbers, durations and names.

use super::index::Ix;
use super::names::List;
use super::portion::PortionPlan;
use crate::amount::Amount;
use crate::encounter::{Chance, Portion};
use crate::finding::{Code, Finding, Findings, Path};
use crate::limits::{self, Range};
use crate::printable::{escaped, is_printable, number};
use crate::time::{Duration, Ticks};

/// What is wrong with a name that has characters which cannot be seen.
const UNSEEN: &str = "it contains a control character, or one that changes the direction of text";

/// Collects findings while an encounter is resolved. Every method gives something to go on with.
pub(super) struct Checker {
    pub findings: Findings,
    pub rate: u32,
}

/// A number as it is told: one may be written that is too large for any `f64`.
fn written(value: f64) -> String {
    match value {
        value if value.is_nan() => "nan".to_owned(),
        f64::INFINITY => "a number this large".to_owned(),
        f64::NEG_INFINITY => "a number this small".to_owned(),
        value => number(value),
    }
}

impl Checker {
    /// One without findings, at so many ticks a second.
    pub fn new(rate: u32) -> Checker {
        Checker {
            findings: Findings::new(),
            rate,
        }
    }

    /// One with findings of its own.
    pub fn alone(&self) -> Checker {
        Checker::new(self.rate)
    }

    pub fn report(&mut self, finding: Finding) {
        self.findings.push(finding);
    }

    /// A number within a range.
    pub fn number(&mut self, path: Path, value: f64, range: &Range) -> f64 {
        if range.contains(value) {
            return if value == 0.0 { 0.0 } else { value };
        }
        let Range { least, most, unit } = range;
        let message = format!(
            "{} is not between {least} and {most} {unit}",
            written(value)
        );
        self.report(Finding::new(Code::OutOfRange, path, message.trim_end()));
        if value < *least { *least } else { *most }
    }

    /// A pair of numbers within a range.
    pub fn pair(&mut self, path: &Path, value: [f64; 2], range: &Range) -> [f64; 2] {
        let [x, y] = value;
        [
            self.number(path.index(0), x, range),
            self.number(path.index(1), y, range),
        ]
    }

    /// A value that may be drawn by chance, each of those that are written resolved by `resolve`.
    pub fn chance<T, U>(
        &mut self,
        path: &Path,
        chance: &Chance<T>,
        mut resolve: impl FnMut(&mut Checker, Path, &T) -> U,
    ) -> Chance<U> {
        if matches!(chance, Chance::Choice(values) if values.is_empty()) {
            let message = "`choice` is empty";
            self.report(
                Finding::new(Code::OutOfRange, path.key("choice"), message).help("add some values"),
            );
        }
        chance.map_placed(|place, value| {
            let path = match place {
                Some((key, nth)) => path.key(key).index(nth),
                None => path.clone(),
            };
            resolve(self, path, value)
        })
    }

    /// A number of whole thousandths that is not negative.
    pub fn amount(&mut self, path: Path, value: f64) -> Amount {
        let problem = match Amount::try_from(value) {
            Ok(amount) if amount >= Amount::ZERO => return amount,
            Ok(_) => "an amount must not be negative".to_owned(),
            Err(error) => error.to_string(),
        };
        let message = format!("{} is not an amount", written(value));
        self.report(Finding::new(Code::OutOfRange, path, message).help(problem));
        Amount::whole(1)
    }

    /// How much of a meter.
    pub fn portion(&mut self, path: Path, portion: Portion) -> PortionPlan {
        match portion {
            Portion::Amount(amount) => PortionPlan::Amount(self.amount(path, amount)),
            Portion::Percent(percent) => PortionPlan::Share {
                percent: self.amount(path, percent),
            },
        }
    }

    /// A duration in ticks, with a note when rounding moved it by more than 5 %.
    pub fn duration(&mut self, path: Path, duration: Duration) -> Ticks {
        let ticks = duration.ticks(self.rate);
        let moved = duration.rounding(self.rate);
        if moved > 0.05 {
            let message = format!(
                "{duration} becomes {ticks} at {} a second, {:.0} % off",
                Ticks(self.rate).in_words(),
                moved * 100.0
            );
            self.report(
                Finding::new(Code::Rounded, path, message)
                    .help("write whole ticks, such as \"2t\", to be exact"),
            );
        }
        ticks
    }

    /// Whether a name can be one.
    pub fn name(&mut self, path: Path, name: &str, what: &str) -> bool {
        let problem = if name.is_empty() {
            "it is empty".to_owned()
        } else if name.len() > limits::NAME_BYTES {
            format!("it has more than {} bytes", limits::NAME_BYTES)
        } else if name.starts_with(['#', '*']) || name.contains('.') {
            "`.`, and `#` or `*` in front, have a meaning in selectors".to_owned()
        } else if name.trim() != name {
            "it begins or ends with a space".to_owned()
        } else if !name.chars().all(is_printable) {
            UNSEEN.to_owned()
        } else {
            return true;
        };
        let name = escaped(name);
        let message = format!("`{name}` is not a valid name for {what}: {problem}");
        self.report(Finding::new(Code::BadName, path, message).at_key());
        false
    }

    /// Whether a name that selectors do not know can be one: of a rule.
    pub fn free_name(&mut self, path: Path, name: &str, what: &str) -> bool {
        let message = if name.trim().is_empty() || name.len() > limits::NAME_BYTES {
            format!(
                "the name of {what} must have 1 to {} bytes",
                limits::NAME_BYTES
            )
        } else if !name.chars().all(is_printable) {
            let name = escaped(name);
            format!("`{name}` is not a valid name for {what}: {UNSEEN}")
        } else {
            return true;
        };
        self.report(Finding::new(Code::BadName, path, message));
        false
    }

    /// Reports more of something than there may be.
    pub fn at_most(&mut self, path: Path, count: usize, most: usize, what: &str) -> bool {
        if count <= most {
            return true;
        }
        let message = format!("{count} {what}, but at most {most} are allowed");
        self.report(Finding::new(Code::TooMany, path, message).at_key());
        false
    }

    /// The index of a name; one that means nothing is reported.
    pub fn find<I: Ix>(&mut self, path: Path, what: &str, name: &str, list: &List<I>) -> Option<I> {
        let found = list.find(name);
        if found.is_none() {
            self.unknown(path, what, name, list.iter());
        }
        found
    }

    /// Reports a name that means nothing here.
    pub fn unknown<'a>(
        &mut self,
        path: Path,
        what: &str,
        name: &str,
        known: impl IntoIterator<Item = &'a str> + Clone,
    ) {
        self.report(Finding::unknown(path, what, name, known));
    }
}
