//! Placements: actors, each a kind, an id and a position.

use serde::Serialize;

use super::Kind;
use super::chance::Chance;
use super::read::{At, Read};
use crate::limits;

/// An actor, or a row of copies, as written.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Placement {
    /// The name of its kind.
    pub kind: String,
    /// Its id; the kind's name when absent.
    pub id: Option<String>,
    /// Its position, in units.
    pub at: Chance<[f64; 2]>,
    /// Which way it faces.
    pub facing: Facing,
    /// Places a row of them.
    pub copies: Option<Copies>,
    /// What it overrides of its kind. Its `tags` are added to the kind's.
    pub with: Kind,
}

/// Which way an actor faces. Boxes are written facing right.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash, Serialize)]
#[serde(rename_all = "kebab-case")]
pub enum Facing {
    /// Toward +x.
    #[default]
    Right,
    /// Toward -x.
    Left,
}

impl Facing {
    /// 1 to the right, -1 to the left.
    pub fn sign(self) -> f64 {
        match self {
            Facing::Right => 1.0,
            Facing::Left => -1.0,
        }
    }

    /// The other way.
    #[must_use]
    pub fn turned(self) -> Facing {
        match self {
            Facing::Right => Facing::Left,
            Facing::Left => Facing::Right,
        }
    }
}

/// A row of copies: `id_1`, `id_2`…, each a step further.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Copies {
    /// How many.
    pub count: u32,
    /// From one to the next, in units.
    pub step: [f64; 2],
}

impl Placement {
    /// An actor of `kind` at a position, called as its kind.
    pub fn new(kind: impl Into<String>, at: impl Into<Chance<[f64; 2]>>) -> Placement {
        Placement {
            kind: kind.into(),
            at: at.into(),
            ..Placement::default()
        }
    }

    /// Sets its id.
    #[must_use]
    pub fn id(mut self, id: impl Into<String>) -> Placement {
        self.id = Some(id.into());
        self
    }

    /// Sets which way it faces.
    #[must_use]
    pub fn facing(mut self, facing: Facing) -> Placement {
        self.facing = facing;
        self
    }

    /// Places a row of `count`, each `step` further than the last.
    #[must_use]
    pub fn copies(mut self, count: u32, step: [f64; 2]) -> Placement {
        self.copies = Some(Copies { count, step });
        self
    }

    /// Overrides parts of its kind.
    #[must_use]
    pub fn with(mut self, parts: Kind) -> Placement {
        self.with = parts;
        self
    }
}

impl Read for Facing {
    fn read(at: At<'_>) -> Option<Facing> {
        at.word(&[("right", Facing::Right), ("left", Facing::Left)])
    }
}

impl Read for Placement {
    const MOST: usize = limits::PLACED;

    fn read(at: At<'_>) -> Option<Placement> {
        at.table(|fields| {
            Some(Placement {
                kind: fields.need("kind").unwrap_or_default(),
                id: fields.get("id"),
                at: fields.need("at").unwrap_or_default(),
                facing: fields.get("facing").unwrap_or_default(),
                copies: fields.get("copies"),
                with: Kind::parts(fields),
            })
        })
    }
}

impl Read for Copies {
    fn read(at: At<'_>) -> Option<Copies> {
        at.table(|fields| {
            Some(Copies {
                count: fields.need("count").unwrap_or(1),
                step: fields.need("step").unwrap_or_default(),
            })
        })
    }
}
