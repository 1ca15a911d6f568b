//! Which way something faces, and what that does to what hangs on it.

use serde::{Deserialize, Serialize};

use super::{Angle, Shape, Vec2};

/// Which way an actor faces. What hangs on it is written facing right: it is mirrored facing left, and
/// turned about its place by an angle.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Facing {
    /// Toward +x.
    #[default]
    Right,
    /// Toward -x: mirrored.
    Left,
    /// That way, of who rotates.
    Angle(Angle),
}

impl Facing {
    /// -1 to the left, 1 to the right and straight up or down.
    pub fn sign(self) -> f64 {
        if self.ahead().x < 0.0 { -1.0 } else { 1.0 }
    }

    /// -1 when mirrored, else 1.
    pub(crate) fn hand(self) -> f64 {
        match self {
            Facing::Left => -1.0,
            Facing::Right | Facing::Angle(_) => 1.0,
        }
    }

    /// The other way.
    #[must_use]
    pub fn turned(self) -> Facing {
        match self {
            Facing::Right => Facing::Left,
            Facing::Left => Facing::Right,
            Facing::Angle(angle) => Facing::Angle(angle.plus(i32::MIN)),
        }
    }

    /// The unit vector that way.
    pub fn ahead(self) -> Vec2 {
        match self {
            Facing::Right => Vec2::new(1.0, 0.0),
            Facing::Left => Vec2::new(-1.0, 0.0),
            Facing::Angle(angle) => angle.direction(),
        }
    }

    /// The angle of that way.
    pub(crate) fn angle(self) -> Angle {
        match self {
            Facing::Right => Angle::ZERO,
            Facing::Left => Angle::HALF,
            Facing::Angle(angle) => angle,
        }
    }

    /// An offset that is written facing right.
    pub fn turn(self, offset: Vec2) -> Vec2 {
        match self {
            Facing::Right => offset,
            Facing::Left => offset.mirrored(),
            Facing::Angle(angle) => {
                let Vec2 { x: cos, y: sin } = angle.direction();
                offset.turned(cos, sin)
            }
        }
    }

    /// An offset as its owner sees it: the reverse of [`turn`](Facing::turn).
    pub fn seen(self, offset: Vec2) -> Vec2 {
        match self {
            Facing::Right | Facing::Left => self.turn(offset),
            Facing::Angle(angle) => {
                let Vec2 { x: cos, y: sin } = angle.direction();
                offset.turned(cos, -sin)
            }
        }
    }

    /// A shape that is written facing right.
    pub fn shape(self, shape: &Shape) -> Shape {
        match self {
            Facing::Right => *shape,
            Facing::Left => shape.mirrored(),
            Facing::Angle(angle) => {
                let Vec2 { x: cos, y: sin } = angle.direction();
                shape.turned(cos, sin)
            }
        }
    }
}
