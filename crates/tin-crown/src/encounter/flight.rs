//! What ends a launched thing, and what it leaves behind.

use serde::Serialize;

use crate::limits;
use crate::syntax::{At, Shape, Syntax, Table, Word, Words};
use crate::text::Value;
use crate::time::Duration;

/// How a launched thing flies and ends. Its `lifetime` always ends it.
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(parts)]
pub struct FlightSpec {
    /// How many it may hit.
    #[key(absent = "`1` for a shot, else any number")]
    pub targets: Option<u32>,
    /// A shot that stays hits the same target again after so long.
    #[key(absent = "once")]
    pub every: Option<Duration>,
    /// How often it bounces off solids. Only a `body` meets solids.
    #[key(default = "0")]
    pub bounces: Option<u32>,
    /// The share of the speed across a solid that it keeps when it bounces.
    #[key(range = limits::SHARE, default = "1")]
    pub keeps: Option<f64>,
    /// What ends it.
    #[key(absent = "all of them for a shot, else none")]
    pub ends_on: Option<Vec<EndsOn>>,
}

/// What may end the flight of something, besides its lifetime.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Words)]
#[non_exhaustive]
pub enum EndsOn {
    /// The last target it may hit.
    Hit,
    /// A solid, after its last bounce.
    Solid,
    /// The arena's edge.
    Edge,
}

/// What ends something that was launched, or leaves without a death.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Words)]
#[serde(rename_all = "kebab-case")]
#[non_exhaustive]
pub enum Ending {
    /// The last target it may hit.
    Hit,
    /// A solid, after its last bounce.
    Solid,
    /// The arena's edge.
    Edge,
    /// Its lifetime.
    Lifetime,
    /// A state that says so.
    State,
    /// Its death.
    Death,
    /// An actor took it.
    Taken,
    /// Everything was put back.
    #[word(told)]
    Reset,
    /// Its recording has it nowhere.
    #[word(told)]
    Absent,
}

/// What made something vanish, as an expectation asks for it: whatever a ledger tells.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Vanished(pub Ending);

impl Syntax for Vanished {
    fn read(at: At<'_>) -> Option<Vanished> {
        let word = at.word(&Ending::ALL.map(Ending::as_str))?;
        Some(Vanished(Ending::ALL[word]))
    }

    fn write(&self) -> Value {
        Value::Text(self.0.as_str().to_owned())
    }

    fn shape() -> Shape {
        let mut shape = Ending::shape();
        if let Shape::Words(words) = &mut shape {
            let word = |word, about| Word { word, about };
            words.push(word("reset", "Everything was put back."));
            words.push(word("absent", "Its recording has it nowhere."));
        }
        shape
    }
}

/// What is left behind at an end. A blast is a kind with a `lifetime`.
#[derive(Clone, Debug, Default, PartialEq, Table)]
pub struct Leave {
    /// The kind of what is left.
    #[key(required, text = "kind", set = "")]
    pub kind: String,
    /// At which ends.
    #[key(absent = "any", set = "on")]
    pub on: Option<Vec<Ending>>,
    /// Whether it is one attack while it exists: it hits everyone once.
    #[key(default = "false", flag)]
    pub shot: bool,
}

impl Leave {
    /// Something left behind at any end.
    pub fn new(kind: impl Into<String>) -> Leave {
        Leave {
            kind: kind.into(),
            ..Leave::default()
        }
    }
}
