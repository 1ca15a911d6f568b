//! What a study varies: a value of the encounter by its path, and the values that it takes.

mod decimal;
mod paths;
mod values;

pub(crate) use paths::written;
pub use paths::{Number, numbers, paths};
pub use values::{Value, Values};

use std::fmt;
use std::str::FromStr;

use decimal::FINE;

use super::workbench::Workbench;
use crate::encounter::{Encounter, SetError, Setting};
use crate::finding::{Path, Step};

/// Something of the encounter that a study varies: `kind.beetle.motion.patrol.speed=20..120/10`.
///
/// | values | |
/// |---|---|
/// | `20,40,swept` | these |
/// | `20..120/10` | from 20 to 120 in steps of 10 |
/// | `20..1280/x2` | from 20 to 1280, each twice the one before |
/// | `20..120:11` | 11 from 20 to 120, evenly spaced |
/// | `20..1280:7x` | 7 from 20 to 1280, evenly spaced by factor |
/// | `20..120` | any from 20 to 120: samples only |
///
/// Numbers may have the unit of a duration: `0.2s..1s/0.1s`, `12t..40t/1t`. The path `seed` is the seed of every
/// drill that is studied.
///
/// ```
/// use tin_crown::study::Axis;
///
/// let axis: Axis = "kind.hero.invincible.after_hit=0.1s..0.5s/0.2s".parse()?;
/// let values: Vec<String> = (0..axis.len().unwrap()).map(|nth| axis.value(nth).to_string()).collect();
/// assert_eq!(values, ["0.1s", "0.3s", "0.5s"]);
/// # Ok::<(), tin_crown::study::VaryError>(())
/// ```
#[derive(Clone, Debug, PartialEq)]
pub struct Axis {
    target: Target,
    values: Values,
    written: String,
}

/// What an axis changes.
#[derive(Clone, Debug, PartialEq)]
enum Target {
    Value(Path),
    /// The seed of every drill that is studied.
    Seed,
}

/// Why something cannot be varied so.
#[derive(Debug, thiserror::Error)]
#[non_exhaustive]
pub enum VaryError {
    /// There is no `=`, or nothing before or after it.
    #[error("`{0}` has no path or no values")]
    NoValues(String),
    /// What stands before the `=` is no path.
    #[error("`{text}`: {why}")]
    NoPath {
        /// The path as given.
        text: String,
        /// What a path is.
        why: crate::finding::PathError,
    },
    /// The path leads nowhere, or takes no such value.
    #[error("{path}: {why}")]
    Set {
        /// The path.
        path: String,
        /// Why.
        why: Box<SetError>,
    },
    /// What stands after the `=` is no range of numbers.
    #[error("`{values}` are no values: {why}")]
    Values {
        /// The values as given.
        values: String,
        /// Why.
        why: &'static str,
    },
    /// A range without steps, in a grid.
    #[error("`{0}` has no steps, and a grid needs them")]
    NoSteps(String),
    /// Two axes change the same thing.
    #[error("`{0}` and `{1}` change the same thing")]
    Twice(String, String),
    /// It belongs to a drill that is not studied.
    #[error("`{0}` belongs to a drill that is not studied")]
    OtherDrill(String),
    /// One of the values is none that the encounter can have.
    #[error("{path} = {value}: {why}")]
    Impossible {
        /// The path.
        path: String,
        /// The value.
        value: String,
        /// What is wrong with it.
        why: String,
    },
}

impl VaryError {
    /// What to do about it.
    pub fn help(&self) -> Option<&'static str> {
        match self {
            VaryError::NoValues(_) => Some(
                "write PATH=VALUES: kind.beetle.motion.patrol.speed=20..120/10, or place.hero.at[1]=40,60,80",
            ),
            VaryError::NoPath { .. } | VaryError::Impossible { .. } | VaryError::Set { .. } => None,
            VaryError::Values { .. } => Some(
                "write 20,40,80, or 20..120/10 (steps of 10), 20..160/x2 (each twice the one before), 20..120:11 \
                 (11 values) or 20..160:4x (4, evenly by factor)",
            ),
            VaryError::NoSteps(_) => {
                Some("add the step: 20..120/10; or draw from the whole range with --samples")
            }
            VaryError::Twice(..) => Some("vary one of them"),
            VaryError::OtherDrill(_) => Some("study that drill too, or vary something else"),
        }
    }
}

impl FromStr for Axis {
    type Err = VaryError;

    fn from_str(text: &str) -> Result<Axis, VaryError> {
        let Some((path, values)) = parts(text) else {
            return Err(VaryError::NoValues(text.to_owned()));
        };
        let target = match path {
            "seed" => Target::Seed,
            path => Target::Value(path.parse().map_err(|why| VaryError::NoPath {
                text: path.to_owned(),
                why,
            })?),
        };
        let values = Values::read(values).map_err(|why| VaryError::Values {
            values: values.to_owned(),
            why,
        })?;
        Ok(Axis {
            target,
            values,
            written: text.to_owned(),
        })
    }
}

/// The path and the values, of which neither is empty. A key in quotes may have a `=` of its own.
fn parts(text: &str) -> Option<(&str, &str)> {
    let mut quoted = false;
    let at = text.find(|c| {
        quoted ^= c == '"';
        c == '=' && !quoted
    })?;
    let (path, values) = (text[..at].trim(), text[at + 1..].trim());
    (!path.is_empty() && !values.is_empty()).then_some((path, values))
}

impl Axis {
    /// The path, as an axis of a chart has it.
    pub fn path(&self) -> String {
        match &self.target {
            Target::Value(path) => path.to_string(),
            Target::Seed => "seed".to_owned(),
        }
    }

    /// How many values there are; none for a range without steps.
    pub fn len(&self) -> Option<u64> {
        self.values.len()
    }

    /// Whether it has no steps.
    pub fn is_empty(&self) -> bool {
        self.len() == Some(0)
    }

    /// A value by its place.
    ///
    /// # Panics
    ///
    /// When it has no steps.
    pub fn value(&self, nth: u64) -> Value {
        self.values.value(nth)
    }

    /// The value at a share of the way, from 0 to below 1: of several each as much of it.
    pub fn drawn(&self, share: f64) -> Value {
        self.values.drawn(share)
    }

    /// What the encounter has there now, if it is written.
    pub fn present(&self, encounter: &Encounter) -> Option<String> {
        match &self.target {
            Target::Value(path) => written(encounter, path),
            Target::Seed => None,
        }
    }

    /// Whether it decides who is there, or what they are called.
    pub(crate) fn changes_cast(&self) -> bool {
        let Target::Value(path) = &self.target else {
            return false;
        };
        let steps = path.steps();
        let casts = |step: &Step| matches!(step, Step::Key(key) if ["copies", "count", "id", "kind"].contains(&&**key));
        steps.first() == Some(&Step::Key("place".into())) && steps.iter().skip(2).any(casts)
    }

    /// The drill of which it changes something, if it does.
    pub(crate) fn drill(&self) -> Option<String> {
        let Target::Value(path) = &self.target else {
            return None;
        };
        match path.steps().as_slice() {
            [Step::Key(drill), Step::Key(name), ..] if drill == "drill" => Some(name.to_string()),
            _ => None,
        }
    }

    /// Whether both change something in one place.
    pub(crate) fn meets(&self, other: &Axis) -> bool {
        match (&self.target, &other.target) {
            (Target::Seed, Target::Seed) => true,
            (Target::Value(one), Target::Value(other)) => {
                one.contains(other) || other.contains(one)
            }
            _ => false,
        }
    }

    /// Draws numbers of no more decimals than the encounter takes there: any, thousandths, or whole ones.
    pub(in crate::study) fn suits(&mut self, bench: &Workbench) {
        /// No range that is not a single number is whole at all of these.
        const SHARES: [f64; 3] = [0.123_45, 0.5, 0.712_36];
        let takes = |axis: &Axis, share: f64| {
            let mut bench = bench.clone();
            let value = axis.drawn(share);
            axis.set(&mut bench.encounter, &value).is_ok() && bench.plan().is_ok()
        };
        if self.len().is_some() || !takes(self, 0.0) {
            return;
        }
        let mut rounder = self.clone();
        for places in [FINE, 3, 0] {
            rounder.values.round(places);
            if SHARES.into_iter().all(|share| takes(&rounder, share)) {
                *self = rounder;
                return;
            }
        }
    }

    /// Gives the encounter a value.
    pub(crate) fn set(&self, encounter: &mut Encounter, value: &Value) -> Result<(), VaryError> {
        let fail = |why| VaryError::Set {
            path: self.path(),
            why: Box::new(why),
        };
        match &self.target {
            Target::Value(path) => {
                let set = encounter.set(path, value.setting());
                match (set, value.as_text()) {
                    // What looks like a number may be the name of something.
                    (Err(SetError::Value(_)), Some(text)) if value.is_number() => {
                        encounter.set(path, Setting::from(text)).map_err(fail)
                    }
                    (set, _) => set.map_err(fail),
                }
            }
            Target::Seed => {
                let names: Vec<String> = encounter.drills.keys().cloned().collect();
                for name in names {
                    let path = Path::root().key("drill").named(&name).key("seed");
                    encounter.set(&path, value.setting()).map_err(fail)?;
                }
                Ok(())
            }
        }
    }
}

impl fmt::Display for Axis {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(&self.written)
    }
}
