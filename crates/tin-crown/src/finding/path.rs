//! Where in the tree of an encounter a thing stands.

use std::borrow::Cow;
use std::cmp::Ordering;
use std::fmt;
use std::str::FromStr;
use std::sync::Arc;

use serde::{Serialize, Serializer};

/// Where in the tree of an encounter a thing stands: `kind.beetle.hitbox.horns.size`.
///
/// Longer ones share what they begin with: one is made for every number that is looked at.
#[derive(Clone, Debug, Default, PartialEq, Eq, Hash)]
pub struct Path(Option<Arc<Link>>);

#[derive(Clone, Debug, PartialEq, Eq, Hash)]
struct Link {
    within: Path,
    step: Step,
}

/// One step of a [`Path`].
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Step {
    /// A key of a table.
    Key(Cow<'static, str>),
    /// An element of an array, counted from 0.
    Index(usize),
}

impl Path {
    /// The whole file.
    pub fn root() -> Path {
        Path::default()
    }

    /// This path and one key more.
    pub fn key(&self, key: impl Into<Cow<'static, str>>) -> Path {
        self.with(Step::Key(key.into()))
    }

    /// This path and one key more, which is a name that somebody gave.
    pub fn named(&self, name: &str) -> Path {
        self.with(Step::Key(name.to_owned().into()))
    }

    /// This path and one index more, counted from 0.
    pub fn index(&self, index: usize) -> Path {
        self.with(Step::Index(index))
    }

    /// The steps, outermost first.
    pub fn steps(&self) -> Vec<Step> {
        let links = std::iter::successors(self.0.as_ref(), |link| link.within.0.as_ref());
        let mut steps: Vec<Step> = links.map(|link| link.step.clone()).collect();
        steps.reverse();
        steps
    }

    /// Whether it is the whole file.
    pub fn is_root(&self) -> bool {
        self.0.is_none()
    }

    /// Whether `other` is this place or lies within it.
    pub fn contains(&self, other: &Path) -> bool {
        other.steps().starts_with(&self.steps())
    }

    fn with(&self, step: Step) -> Path {
        let within = self.clone();
        Path(Some(Arc::new(Link { within, step })))
    }
}

impl PartialOrd for Path {
    fn partial_cmp(&self, other: &Path) -> Option<Ordering> {
        Some(self.cmp(other))
    }
}

/// By steps, outermost first.
impl Ord for Path {
    fn cmp(&self, other: &Path) -> Ordering {
        self.steps().cmp(&other.steps())
    }
}

impl FromIterator<Step> for Path {
    fn from_iter<I: IntoIterator<Item = Step>>(steps: I) -> Path {
        let steps = steps.into_iter();
        steps.fold(Path::root(), |path, step| path.with(step))
    }
}

/// A text that is no path.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
#[error("a path is keys with dots between them, and places in lists from 1 on: `rule[2].damage`")]
pub struct PathError;

/// As it is displayed. A key with a dot or bracket stands in quotes: `rule."a.b".damage`.
impl FromStr for Path {
    type Err = PathError;

    fn from_str(text: &str) -> Result<Path, PathError> {
        let mut steps = Vec::new();
        let mut rest = text;
        loop {
            let key;
            if let Some(quoted) = rest.strip_prefix('"') {
                (key, rest) = quoted.split_once('"').ok_or(PathError)?;
            } else {
                let end = rest.find(['.', '[']).unwrap_or(rest.len());
                (key, rest) = rest.split_at(end);
            }
            if key.is_empty() {
                return Err(PathError);
            }
            steps.push(Step::Key(key.to_owned().into()));
            while let Some(bracket) = rest.strip_prefix('[') {
                let (place, after) = bracket.split_once(']').ok_or(PathError)?;
                let place: usize = place.parse().map_err(|_| PathError)?;
                steps.push(Step::Index(place.checked_sub(1).ok_or(PathError)?));
                rest = after;
            }
            if rest.is_empty() {
                return Ok(steps.into_iter().collect());
            }
            rest = rest.strip_prefix('.').ok_or(PathError)?;
        }
    }
}

impl fmt::Display for Path {
    /// Elements of arrays are counted from 1 for people: `rule[2].damage`.
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        for (i, step) in self.steps().iter().enumerate() {
            match step {
                Step::Key(key) if i == 0 => f.write_str(key)?,
                Step::Key(key) => write!(f, ".{key}")?,
                Step::Index(index) => write!(f, "[{}]", index + 1)?,
            }
        }
        Ok(())
    }
}

impl Serialize for Path {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.collect_str(self)
    }
}
