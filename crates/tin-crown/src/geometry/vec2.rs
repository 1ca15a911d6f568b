//! Points and displacements.

use std::ops::{Add, AddAssign, Mul, Neg, Sub};

use serde::{Deserialize, Serialize};

/// A point, a displacement or a velocity, in the author's units (a second).
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Vec2 {
    /// To the right.
    pub x: f64,
    /// Along y: upward or downward, as the arena says.
    pub y: f64,
}

impl Vec2 {
    /// The origin, or no displacement.
    pub const ZERO: Vec2 = Vec2 { x: 0.0, y: 0.0 };

    /// From components.
    pub const fn new(x: f64, y: f64) -> Vec2 {
        Vec2 { x, y }
    }

    /// The scalar product.
    pub fn dot(self, other: Vec2) -> f64 {
        self.x * other.x + self.y * other.y
    }

    /// The z component of the vector product: positive when `other` is counter-clockwise of `self`
    /// (with y upward).
    pub fn cross(self, other: Vec2) -> f64 {
        self.x * other.y - self.y * other.x
    }

    /// The length.
    pub fn length(self) -> f64 {
        self.dot(self).sqrt()
    }

    /// The length of a way that also goes up or down.
    pub(crate) fn length_with(self, up: f64) -> f64 {
        (self.dot(self) + up * up).sqrt()
    }

    /// The mirror image in the line x = 0.
    pub fn mirrored(self) -> Vec2 {
        Vec2::new(-self.x, self.y)
    }

    /// Turned by an angle whose cosine and sine are given: counter-clockwise when y is upward.
    pub(crate) fn turned(self, cos: f64, sin: f64) -> Vec2 {
        Vec2::new(self.x * cos - self.y * sin, self.x * sin + self.y * cos)
    }

    /// Turned a quarter: to the right of the direction when y is upward.
    pub(crate) fn right(self) -> Vec2 {
        Vec2::new(self.y, -self.x)
    }

    /// Of length 1; `ZERO` stays `ZERO`.
    pub(crate) fn unit(self) -> Vec2 {
        let length = self.length();
        if length == 0.0 {
            Vec2::ZERO
        } else {
            Vec2::new(self.x / length, self.y / length)
        }
    }

    pub(crate) fn min(self, other: Vec2) -> Vec2 {
        Vec2::new(self.x.min(other.x), self.y.min(other.y))
    }

    pub(crate) fn max(self, other: Vec2) -> Vec2 {
        Vec2::new(self.x.max(other.x), self.y.max(other.y))
    }

    pub(crate) fn is_finite(self) -> bool {
        self.x.is_finite() && self.y.is_finite()
    }
}

impl From<[f64; 2]> for Vec2 {
    fn from([x, y]: [f64; 2]) -> Vec2 {
        Vec2 { x, y }
    }
}

impl From<Vec2> for [f64; 2] {
    fn from(v: Vec2) -> [f64; 2] {
        [v.x, v.y]
    }
}

impl Serialize for Vec2 {
    fn serialize<S: serde::Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        [self.x, self.y].serialize(serializer)
    }
}

impl<'de> Deserialize<'de> for Vec2 {
    fn deserialize<D: serde::Deserializer<'de>>(deserializer: D) -> Result<Vec2, D::Error> {
        <[f64; 2]>::deserialize(deserializer).map(Vec2::from)
    }
}

impl Add for Vec2 {
    type Output = Vec2;
    fn add(self, other: Vec2) -> Vec2 {
        Vec2::new(self.x + other.x, self.y + other.y)
    }
}

impl AddAssign for Vec2 {
    fn add_assign(&mut self, other: Vec2) {
        *self = *self + other;
    }
}

impl Sub for Vec2 {
    type Output = Vec2;
    fn sub(self, other: Vec2) -> Vec2 {
        Vec2::new(self.x - other.x, self.y - other.y)
    }
}

impl Neg for Vec2 {
    type Output = Vec2;
    fn neg(self) -> Vec2 {
        Vec2::new(-self.x, -self.y)
    }
}

impl Mul<f64> for Vec2 {
    type Output = Vec2;
    fn mul(self, factor: f64) -> Vec2 {
        Vec2::new(self.x * factor, self.y * factor)
    }
}
