//! Upright rectangles.

use serde::Serialize;

use super::Vec2;

/// An upright rectangle, from its corner of least coordinates to that of greatest.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
pub struct Bounds {
    /// The least x and y.
    pub min: Vec2,
    /// The greatest x and y.
    pub max: Vec2,
}

impl Bounds {
    /// Whether a point is within, or on the edge.
    pub(crate) fn has(&self, point: Vec2) -> bool {
        let (min, max) = (self.min, self.max);
        (min.x..=max.x).contains(&point.x) && (min.y..=max.y).contains(&point.y)
    }

    /// The rectangle that holds nothing, and into which everything can be joined.
    pub const EMPTY: Bounds = Bounds {
        min: Vec2::new(f64::INFINITY, f64::INFINITY),
        max: Vec2::new(f64::NEG_INFINITY, f64::NEG_INFINITY),
    };

    /// From corners.
    pub fn new(min: impl Into<Vec2>, max: impl Into<Vec2>) -> Bounds {
        Bounds {
            min: min.into(),
            max: max.into(),
        }
    }

    /// Moved by `by`.
    pub fn moved(self, by: Vec2) -> Bounds {
        Bounds {
            min: self.min + by,
            max: self.max + by,
        }
    }

    /// The least rectangle that holds both.
    pub fn joined(self, other: Bounds) -> Bounds {
        Bounds {
            min: self.min.min(other.min),
            max: self.max.max(other.max),
        }
    }

    /// Whether the two have a point in common, edges included.
    pub fn meets(self, other: Bounds) -> bool {
        // Without branches: which of them fails cannot be foreseen.
        (self.min.x <= other.max.x)
            & (other.min.x <= self.max.x)
            & (self.min.y <= other.max.y)
            & (other.min.y <= self.max.y)
    }

    /// Whether this holds nothing.
    pub fn is_empty(self) -> bool {
        self.min.x > self.max.x
    }

    /// Width and height.
    pub fn size(self) -> Vec2 {
        self.max - self.min
    }

    /// The middle.
    pub fn centre(self) -> Vec2 {
        (self.min + self.max) * 0.5
    }
}
