//! The arena: bounds, which way is up, gravity, solids, and how contact is tested.

use serde::Serialize;

use super::goal::Region;
use super::height::ArenaHeight;
use crate::limits;
use crate::syntax::{Table, Words};

/// The place of an encounter.
#[derive(Clone, Debug, PartialEq, Table)]
pub struct Arena {
    /// The corners of least and greatest coordinates.
    #[key(required)]
    pub bounds: Region,
    /// Which way y grows. "Above", "below", gravity, upward speeds and angles follow; nothing else does.
    #[key(default = "\"+y\"")]
    pub up: Up,
    /// Height above the plane, seen from above; instead of `gravity`.
    #[key(absent = "none")]
    pub height: Option<ArenaHeight>,
    /// Acceleration downward of those who fall. With 0, a top view: who walks also goes up and down.
    #[key(range = limits::GRAVITY, default = "0")]
    pub gravity: f64,
    /// How contact is tested.
    #[key(default = "\"swept\"")]
    pub contact: Contact,
    /// Walls and floors.
    #[key(absent = "none", set = "solid")]
    pub solids: Vec<Solid>,
}

impl Default for Arena {
    fn default() -> Arena {
        Arena {
            bounds: Region::new([0.0, 0.0], [640.0, 360.0]),
            up: Up::Plus,
            height: None,
            gravity: 0.0,
            contact: Contact::Swept,
            solids: Vec::new(),
        }
    }
}

/// Which way is up.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Words)]
#[serde(rename_all = "kebab-case")]
pub enum Up {
    /// y grows upward.
    #[default]
    #[word("+y")]
    Plus,
    /// y grows downward.
    #[word("-y")]
    Minus,
}

impl Up {
    /// 1 when y grows upward, else -1.
    pub fn sign(self) -> f64 {
        match self {
            Up::Plus => 1.0,
            Up::Minus => -1.0,
        }
    }
}

/// How contact between boxes is tested.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Words)]
#[serde(rename_all = "kebab-case")]
pub enum Contact {
    /// Along the whole straight path of the tick: nothing is too fast to be hit.
    #[default]
    Swept,
    /// Only where things stand at the end of the tick.
    Sampled,
}

/// An upright rectangle that bodies cannot enter.
#[derive(Clone, Debug, PartialEq, Table)]
#[table(most = limits::SOLIDS)]
pub struct Solid {
    /// The corner of least coordinates.
    #[key(required, range = limits::COORDINATE)]
    pub min: [f64; 2],
    /// The corner of greatest coordinates.
    #[key(required, range = limits::COORDINATE)]
    pub max: [f64; 2],
    /// From which height to which, where the arena has heights.
    #[key(range = limits::COORDINATE, absent = "all heights")]
    pub height: Option<[f64; 2]>,
    /// Whether it stops only who comes down on it.
    #[key(default = "false", flag)]
    pub one_way: bool,
}

impl Default for Solid {
    fn default() -> Solid {
        Solid::new([0.0; 2], [1.0; 2])
    }
}

impl Solid {
    /// A wall or floor between two corners.
    pub fn new(min: [f64; 2], max: [f64; 2]) -> Solid {
        Solid {
            min,
            max,
            height: None,
            one_way: false,
        }
    }
}
