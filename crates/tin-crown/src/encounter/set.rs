//! Setting one value of an encounter by its path.

use std::cell::RefCell;
use std::fmt;

use super::Encounter;
use crate::finding::{Findings, Path, Step};
use crate::nearest::nearest;
use crate::syntax::set::Missed;
use crate::syntax::{At, Syntax};
use crate::text::{Document, Value};
use crate::time::Duration;

/// A value to set: a number, a string (a duration, too), or true or false.
#[derive(Clone, Debug)]
pub struct Setting(Value);

impl PartialEq for Setting {
    fn eq(&self, other: &Setting) -> bool {
        self.to_string() == other.to_string()
    }
}

/// As it stands in a file.
impl fmt::Display for Setting {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match &self.0 {
            Value::Number(number) => write!(f, "{number}"),
            Value::Flag(flag) => write!(f, "{flag}"),
            // JSON writes texts as TOML does.
            other => f.write_str(&serde_json::to_string(other).map_err(|_| fmt::Error)?),
        }
    }
}

impl From<f64> for Setting {
    fn from(number: f64) -> Setting {
        Setting(Value::Number(number))
    }
}

impl From<&str> for Setting {
    fn from(text: &str) -> Setting {
        Setting(Value::Text(text.to_owned()))
    }
}

impl From<bool> for Setting {
    fn from(flag: bool) -> Setting {
        Setting(Value::Flag(flag))
    }
}

impl From<Duration> for Setting {
    fn from(duration: Duration) -> Setting {
        Setting(duration.write())
    }
}

/// Why a value could not be set.
#[derive(Debug, thiserror::Error)]
#[non_exhaustive]
pub enum SetError {
    /// The path leads nowhere.
    #[error("{}", nowhere(.path, *.depth, .nearest))]
    Nowhere {
        /// The path.
        path: Path,
        /// How many of its steps lead somewhere.
        depth: usize,
        /// The nearest step that would lead on.
        nearest: Option<String>,
    },
    /// The value is of the wrong type.
    #[error("{0}")]
    Value(Findings),
}

fn nowhere(path: &Path, depth: usize, nearest: &Option<String>) -> String {
    let steps = path.steps();
    let (before, rest) = steps.split_at(depth.min(steps.len()));
    let step = rest.first().map_or(String::new(), |step| match step {
        Step::Key(key) => format!("`{key}`"),
        Step::Index(index) => format!("[{}]", index + 1),
    });
    let place = match before {
        [] => String::new(),
        before => format!(" at {}", Path::from_iter(before.iter().cloned())),
    };
    match nearest {
        Some(near) => format!("there is no {step}{place}; did you mean `{near}`?"),
        None => format!("there is no {step}{place}"),
    }
}

impl Encounter {
    /// Sets the value at a path of the file: `kind.beetle.motion.patrol.speed`. An element of a list is
    /// found by its place or, where it has one, by its name: `rule[2].damage`,
    /// `rule.boots crush lid.damage`, `place.beetle_1.at[1]`. Keys that are not written yet can be set;
    /// names have to exist.
    ///
    /// Nothing is read again, and nothing is checked but the type of the value: follow it with
    /// [`Encounter::resolve`].
    ///
    /// # Errors
    ///
    /// When the path leads nowhere, or the value is of the wrong type there; then nothing is changed.
    ///
    /// ```
    /// # let file = tin_crown::demo::FIRST_SHELF.as_bytes();
    /// let mut encounter = tin_crown::check(file).encounter.unwrap();
    /// encounter.set(&"kind.beetle.motion.patrol.speed".parse()?, 55.0)?;
    /// encounter.set(&"rule.boots crush lid.hitstop".parse()?, "3t")?;
    /// let plan = encounter.resolve()?;
    /// assert!(plan.replay("careful").is_ok());
    ///
    /// let error = encounter.set(&"kind.beetle.motion.patrol.sped".parse()?, 55.0).unwrap_err();
    /// assert_eq!(
    ///     error.to_string(),
    ///     "there is no `sped` at kind.beetle.motion.patrol; did you mean `speed`?"
    /// );
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    pub fn set(&mut self, path: &Path, value: impl Into<Setting>) -> Result<(), SetError> {
        let document = Document::of(value.into().0);
        let findings = RefCell::new(Findings::new());
        let at = At::new(&document, path, &findings);
        let steps = path.steps();
        Syntax::set(self, &steps, at).map_err(|Missed { depth, known }| {
            let step = steps.get(depth);
            let near = match step {
                Some(Step::Key(key)) => nearest(key, known.iter().map(String::as_str)),
                _ => None,
            };
            SetError::Nowhere {
                path: path.clone(),
                depth,
                nearest: near.map(str::to_owned),
            }
        })?;
        let findings = findings.into_inner();
        if findings.is_empty() {
            Ok(())
        } else {
            Err(SetError::Value(findings))
        }
    }
}
