//! Respawns: where and when an actor comes back, and what is reset with it.

use serde::Serialize;

use super::Point;
use super::chance::Chance;
use crate::finding::Step;
use crate::geometry::Facing;
use crate::limits;
use crate::syntax::set::{self, Missed};
use crate::syntax::{At, Choice, Shape, Syntax, Table, Words};
use crate::text::Value;
use crate::time::Duration;

/// How an actor respawns after its death.
///
/// ```
/// use tin_crown::encounter::{RespawnSpec};
/// use tin_crown::{Kind};
///
/// let porter = Kind::new().respawn(RespawnSpec::default().lives(3).delay("1s".parse()?));
/// # Ok::<(), tin_crown::time::DurationError>(())
/// ```
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(parts)]
pub struct RespawnSpec {
    /// Where.
    #[key(default = "\"start\"", whole)]
    pub at: Option<ReturnTo>,
    /// How long after the last step of its death; the next tick at the earliest.
    #[key(default = "\"0t\"")]
    pub delay: Option<Duration>,
    /// How many lives it has, the first included.
    #[key(absent = "any number")]
    pub lives: Option<u32>,
    /// What else is reset as placed.
    #[key(default = "\"self\"", whole)]
    pub resets: Option<Resets>,
    /// What its meters hold.
    #[key(default = "\"start\"")]
    pub meters: Option<MetersAt>,
    /// It waits until none of these is near.
    #[key(absent = "none", whole)]
    pub unless_near: Option<Near>,
    /// Cues given over the delay, evenly.
    #[key(text = "cue", absent = "none", set = "countdown")]
    pub countdown: Option<Vec<String>>,
    /// The cue given when it is back.
    #[key(text = "cue", absent = "none")]
    pub cue: Option<String>,
}

/// Where an actor respawns.
#[derive(Clone, Debug, PartialEq, Choice)]
pub enum ReturnTo {
    /// Where it was placed.
    Start,
    /// At the last checkpoint that it reached, else where it was placed.
    Checkpoint,
    /// Where it fell; where it was placed, if that is outside the arena or within a solid.
    Here,
    /// At one of some places.
    #[choice(plain)]
    Places(Places),
}

/// Places to come back at.
#[derive(Clone, Debug, Default, PartialEq, Table)]
pub struct Places {
    /// The places, of which one is drawn: a list, or a point by chance.
    #[key(name = "places", required, range = limits::COORDINATE)]
    pub at: Spots,
    /// A place where a hitbox of one of these is live is passed over while there is another.
    #[key(text = "selector", absent = "none")]
    pub clear_of: Option<String>,
    /// Which way it faces.
    #[key(absent = "as placed")]
    pub facing: Option<Facing>,
}

/// Points of which one is drawn.
#[derive(Clone, Debug, PartialEq)]
pub enum Spots {
    /// One of these, each as likely: `[[0, 0], [40, 0]]`.
    List(Vec<Point>),
    /// As any point by chance: `{ range = [[0, 0], [40, 0]] }`.
    Drawn(Chance<Point>),
}

impl Default for Spots {
    fn default() -> Spots {
        Spots::Drawn(Chance::default())
    }
}

impl From<Chance<Point>> for Spots {
    fn from(points: Chance<Point>) -> Spots {
        Spots::Drawn(points)
    }
}

impl Syntax for Spots {
    fn read(at: At<'_>) -> Option<Spots> {
        match at.is_list_of_lists() {
            true => Vec::read(at).map(Spots::List),
            false => Chance::read(at).map(Spots::Drawn),
        }
    }

    fn write(&self) -> Value {
        match self {
            Spots::List(points) => points.write(),
            Spots::Drawn(points) => points.write(),
        }
    }

    fn shape() -> Shape {
        let list = <Vec<Point>>::shape();
        Shape::Any(vec![list, Chance::<Point>::shape()])
    }

    fn set(&mut self, steps: &[Step], at: At<'_>) -> Result<(), Missed> {
        match (self, steps) {
            (own, []) => set::whole(own, steps, at),
            (Spots::List(points), steps) => points.set(steps, at),
            (Spots::Drawn(points), steps) => points.set(steps, at),
        }
    }
}

/// What a respawn puts back.
#[derive(Clone, Debug, PartialEq, Choice)]
pub enum Resets {
    /// Only who comes back.
    #[choice(name = "self")]
    Itself,
    /// Everyone and everything, but lives and checkpoints reached; what was launched is taken away.
    Encounter,
    /// Also those whom selectors name.
    #[choice(plain, text = "selector")]
    Those(Vec<String>),
}

/// What the meters of who comes back hold.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Words)]
#[serde(rename_all = "kebab-case")]
pub enum MetersAt {
    /// What they held at the start.
    #[default]
    Start,
    /// All they can.
    Full,
    /// What they held before; health what it held at the start.
    Kept,
}

/// An actor who is near.
#[derive(Clone, Debug, Default, PartialEq, Table)]
pub struct Near {
    /// Whom.
    #[key(required, text = "selector")]
    pub who: String,
    /// How near.
    #[key(required, range = limits::LENGTH)]
    pub within: f64,
}
