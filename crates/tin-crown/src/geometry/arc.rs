//! Ranges of directions.

use serde::Serialize;

use super::Vec2;
use crate::printable::hundredths;

/// How near an edge counts as within.
const EDGE: f64 = 1e-6;

/// All directions within some angle of a middle one. Angles are in degrees, counter-clockwise from
/// +x with y upward.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
pub struct Arc {
    middle: Vec2,
    /// The cosine of half the span; below -1 for all directions.
    cos_half: f64,
}

impl Arc {
    /// From one angle on to the other; all directions when they are a full turn apart or more.
    pub fn new([from, to]: [f64; 2]) -> Arc {
        let radians = |degrees: f64| degrees * (core::f64::consts::PI / 180.0);
        let (middle, half) = (radians((from + to) / 2.0), radians((to - from) / 2.0));
        let all = to - from >= 360.0;
        Arc {
            middle: Vec2::new(libm::cos(middle), libm::sin(middle)),
            cos_half: if all { -2.0 } else { libm::cos(half) },
        }
    }

    /// The unit vector in the middle.
    pub fn middle(&self) -> Vec2 {
        self.middle
    }

    /// Half the span, in radians.
    pub fn half(&self) -> f64 {
        libm::acos(self.cos_half.max(-1.0))
    }

    /// The angles at its ends, the lesser first, in degrees.
    pub fn degrees(&self) -> [f64; 2] {
        let middle = libm::atan2(self.middle.y, self.middle.x);
        let half = self.half();
        [middle - half, middle + half].map(|angle| hundredths(angle.to_degrees()))
    }

    /// Whether a direction of any length but 0 is among them, edges included.
    pub fn contains(&self, direction: Vec2) -> bool {
        direction.unit().dot(self.middle) >= self.cos_half - EDGE
    }
}
