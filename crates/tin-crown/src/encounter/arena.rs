//! The arena: bounds, which way is up, gravity, solids, and how contact is tested.

use serde::Serialize;

use super::read::{At, Read};
use crate::limits;

/// The place of an encounter.
#[derive(Clone, Debug, PartialEq)]
pub struct Arena {
    /// The corner of least coordinates.
    pub min: [f64; 2],
    /// The corner of greatest coordinates.
    pub max: [f64; 2],
    /// Which way is up.
    pub up: Up,
    /// Acceleration downward of those who fall, in units a second squared; 0 for a top view.
    pub gravity: f64,
    /// How contact is tested.
    pub contact: Contact,
    /// Walls and floors.
    pub solids: Vec<Solid>,
}

impl Default for Arena {
    fn default() -> Arena {
        Arena {
            min: [0.0, 0.0],
            max: [640.0, 360.0],
            up: Up::Plus,
            gravity: 0.0,
            contact: Contact::Swept,
            solids: Vec::new(),
        }
    }
}

/// Which way is up.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize)]
#[serde(rename_all = "kebab-case")]
pub enum Up {
    /// y grows upward.
    #[default]
    Plus,
    /// y grows downward.
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
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize)]
#[serde(rename_all = "kebab-case")]
pub enum Contact {
    /// Along the whole straight path of the tick: nothing is too fast to be hit.
    #[default]
    Swept,
    /// Only where things stand at the end of the tick.
    Sampled,
}

/// An upright rectangle that bodies cannot enter.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Solid {
    /// The corner of least coordinates.
    pub min: [f64; 2],
    /// The corner of greatest coordinates.
    pub max: [f64; 2],
    /// Whether it only stops who comes down on it from above.
    pub one_way: bool,
}

impl Solid {
    /// A wall or floor between two corners.
    pub fn new(min: [f64; 2], max: [f64; 2]) -> Solid {
        Solid {
            min,
            max,
            one_way: false,
        }
    }
}

impl Read for Arena {
    fn read(at: At<'_>) -> Option<Arena> {
        at.table(|fields| {
            let plain = Arena::default();
            let (min, max) = fields
                .with("bounds", corners)
                .unwrap_or((plain.min, plain.max));
            fields.miss(&["bounds"]);
            Some(Arena {
                min,
                max,
                up: fields
                    .with("up", |at| at.word(&[("+y", Up::Plus), ("-y", Up::Minus)]))
                    .unwrap_or_default(),
                gravity: fields.get("gravity").unwrap_or(0.0),
                contact: fields
                    .with("contact", |at| {
                        at.word(&[("swept", Contact::Swept), ("sampled", Contact::Sampled)])
                    })
                    .unwrap_or_default(),
                solids: fields.get("solids").unwrap_or_default(),
            })
        })
    }
}

/// `{ min = [x, y], max = [x, y] }`.
fn corners(at: At<'_>) -> Option<([f64; 2], [f64; 2])> {
    at.table(|fields| {
        let min = fields.need("min");
        let max = fields.need("max");
        min.zip(max)
    })
}

impl Read for Solid {
    const MOST: usize = limits::SOLIDS;

    fn read(at: At<'_>) -> Option<Solid> {
        at.table(|fields| {
            Some(Solid {
                min: fields.need("min").unwrap_or_default(),
                max: fields.need("max").unwrap_or([1.0, 1.0]),
                one_way: fields.get("one_way").unwrap_or(false),
            })
        })
    }
}
