//! Checkpoints, exits, and what else wins a drill.

use super::placement::Facing;
use super::read::{At, Read};
use crate::time::Duration;

/// An upright rectangle, as written.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Region {
    /// The corner of least coordinates.
    pub min: [f64; 2],
    /// The corner of greatest coordinates.
    pub max: [f64; 2],
}

/// A place to come back to, once it was touched, as written.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Checkpoint {
    /// Its name.
    pub name: String,
    /// Where it is touched, by a body.
    pub area: Region,
    /// Where who touched it comes back.
    pub at: [f64; 2],
    /// Which way they face then; as placed when absent.
    pub facing: Option<Facing>,
    /// A selector of who may touch it; anyone when absent.
    pub by: Option<String>,
    /// Its place in an order: one that comes before the last reached does not count. Free when absent.
    pub order: Option<u32>,
    /// Whether it counts each time it is touched anew, not only the first time.
    pub again: bool,
    /// Meters that it fills.
    pub refills: Vec<String>,
    /// What is announced.
    pub cue: Option<String>,
}

/// Where a drill is won, as written.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Exit {
    /// Its name.
    pub name: String,
    /// Where it is touched, by a body.
    pub area: Region,
    /// A selector of who may leave; a player when absent.
    pub by: Option<String>,
    /// What is announced.
    pub cue: Option<String>,
}

/// What else wins a drill, as written.
#[derive(Clone, Debug, PartialEq)]
pub enum Clear {
    /// All whom a selector names are gone for good.
    Gone(String),
    /// So long has passed.
    Survive(Duration),
}

impl Region {
    /// The rectangle between two corners.
    pub fn new(min: [f64; 2], max: [f64; 2]) -> Region {
        Region { min, max }
    }
}

impl Checkpoint {
    /// Touched in an area, and returned to at a place.
    pub fn new(name: impl Into<String>, area: Region, at: [f64; 2]) -> Checkpoint {
        Checkpoint {
            name: name.into(),
            area,
            at,
            ..Checkpoint::default()
        }
    }
}

impl Read for Region {
    fn read(at: At<'_>) -> Option<Region> {
        at.table(|fields| {
            let min = fields.need("min");
            let max = fields.need("max");
            min.zip(max).map(|(min, max)| Region { min, max })
        })
    }
}

impl Read for Checkpoint {
    fn read(at: At<'_>) -> Option<Checkpoint> {
        at.table(|fields| {
            Some(Checkpoint {
                name: fields.need("name").unwrap_or_default(),
                area: fields
                    .need("area")
                    .unwrap_or(Region::new([0.0; 2], [1.0; 2])),
                at: fields.need("at").unwrap_or_default(),
                facing: fields.get("facing"),
                by: fields.get("by"),
                order: fields.get("order"),
                again: fields.get("again").unwrap_or(false),
                refills: fields.get("refills").unwrap_or_default(),
                cue: fields.get("cue"),
            })
        })
    }
}

impl Read for Exit {
    fn read(at: At<'_>) -> Option<Exit> {
        at.table(|fields| {
            Some(Exit {
                name: fields.need("name").unwrap_or_default(),
                area: fields
                    .need("area")
                    .unwrap_or(Region::new([0.0; 2], [1.0; 2])),
                by: fields.get("by"),
                cue: fields.get("cue"),
            })
        })
    }
}

impl Read for Clear {
    fn read(at: At<'_>) -> Option<Clear> {
        at.table(|fields| {
            let gone = fields.get("gone").map(Clear::Gone);
            let survive = fields.get("survive").map(Clear::Survive);
            fields.miss(&["gone", "survive"]);
            fields.clash("gone", "survive");
            gone.or(survive)
        })
    }
}
