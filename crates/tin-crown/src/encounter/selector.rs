//! Selectors: who, and which of their boxes.

use std::fmt;
use std::str::FromStr;

/// Names actors, and perhaps one of their boxes: `beetle_1`, `beetle.horns`, `#windup.lid`, `*`.
///
/// ```
/// use tin_crown::encounter::{Selector, Who};
///
/// let lids: Selector = "#windup.lid".parse()?;
/// assert_eq!(lids.who, Who::Tag("windup".into()));
/// assert_eq!(lids.part.as_deref(), Some("lid"));
/// # Ok::<(), tin_crown::encounter::SelectorError>(())
/// ```
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Selector {
    /// The actors.
    pub who: Who,
    /// The box; any when absent.
    pub part: Option<String>,
}

/// The actors that a selector names.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Who {
    /// An actor by its id, or all of a kind by its name.
    Named(String),
    /// All who carry a tag.
    Tag(String),
    /// Anyone.
    Anyone,
}

/// Why a text is not a selector.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
pub enum SelectorError {
    /// It matches no actor.
    #[error("a selector is an actor's id, a kind, a #tag or *, with an optional .box")]
    Empty,
    /// It has more than one dot.
    #[error("a selector has at most one dot, between the actor and its box")]
    Dots,
}

impl FromStr for Selector {
    type Err = SelectorError;

    fn from_str(text: &str) -> Result<Selector, SelectorError> {
        let (who, part) = match text.split_once('.') {
            Some((_, part)) if part.contains('.') => return Err(SelectorError::Dots),
            Some((_, "")) => return Err(SelectorError::Empty),
            Some((who, part)) => (who, Some(part.to_owned())),
            None => (text, None),
        };
        let who = match who.strip_prefix('#') {
            _ if who == "*" => Who::Anyone,
            Some("") => return Err(SelectorError::Empty),
            Some(tag) => Who::Tag(tag.to_owned()),
            None if who.is_empty() => return Err(SelectorError::Empty),
            None => Who::Named(who.to_owned()),
        };
        Ok(Selector { who, part })
    }
}

impl fmt::Display for Who {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Who::Named(name) => f.write_str(name),
            Who::Tag(tag) => write!(f, "#{tag}"),
            Who::Anyone => f.write_str("*"),
        }
    }
}

impl fmt::Display for Selector {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        self.who.fmt(f)?;
        match &self.part {
            Some(part) => write!(f, ".{part}"),
            None => Ok(()),
        }
    }
}
