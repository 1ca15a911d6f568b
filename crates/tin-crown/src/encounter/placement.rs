//! Placements: actors, each a kind, an id and a position.

use super::chance::Chance;
use super::{Kind, Point};
use crate::geometry::Facing;
use crate::limits;
use crate::syntax::Table;

/// An actor, or a row of copies. It may also override parts of its kind, with the same keys.
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(most = limits::PLACED, label = Placement::label)]
pub struct Placement {
    /// Its kind.
    #[key(required, text = "kind", set = "")]
    pub kind: String,
    /// Its id; unique. An id equal to a kind's name must be that kind's only actor.
    #[key(text = "id", absent = "the kind's name")]
    pub id: Option<String>,
    /// Its position.
    #[key(required, range = limits::COORDINATE, set = "")]
    pub at: Chance<Point>,
    /// Which way it faces.
    #[key(default = "\"right\"")]
    pub facing: Facing,
    /// Places a row: `id_1`, `id_2`…, each a step further.
    #[key(absent = "one", set = "")]
    pub copies: Option<Copies>,
    /// What it overrides of its kind.
    #[key(flatten, hides = "like sprite")]
    pub with: Kind,
}

/// A row of copies.
#[derive(Clone, Copy, Debug, PartialEq, Table)]
#[table(no_builder)]
pub struct Copies {
    /// How many.
    #[key(required, range = limits::COPIES)]
    pub count: u32,
    /// From one to the next.
    #[key(required, range = limits::COORDINATE)]
    pub step: Point,
}

impl Default for Copies {
    fn default() -> Copies {
        Copies {
            count: 1,
            step: Point::default(),
        }
    }
}

impl Placement {
    fn label(&self) -> Option<&str> {
        Some(self.id.as_deref().unwrap_or(&self.kind))
    }

    /// An actor of `kind` at a position, called as its kind.
    pub fn new(kind: impl Into<String>, at: impl Into<Chance<Point>>) -> Placement {
        Placement {
            kind: kind.into(),
            at: at.into(),
            ..Placement::default()
        }
    }

    /// Overrides parts of its kind.
    #[must_use]
    pub fn with(mut self, parts: Kind) -> Placement {
        self.with = parts;
        self
    }

    /// Places a row of `count`, each `step` further than the last.
    #[must_use]
    pub fn copies(mut self, count: u32, step: impl Into<Point>) -> Placement {
        let step = step.into();
        self.copies = Some(Copies { count, step });
        self
    }
}
