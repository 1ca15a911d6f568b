//! Boxes as written: one of five forms, and where it sits.

use crate::limits;
use crate::syntax::Table;
use crate::time::Duration;

/// A box around the actor's position. A kind may be `like` another and override parts of its boxes, so
/// every part is optional; together they must make one form.
///
/// A rectangle has `size` (and `turn`), a circle `radius`, a capsule `ends` and `radius`, a convex
/// polygon `points` (and `radius`, to round it).
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(parts = BoxSpec::beneath)]
pub struct BoxSpec {
    /// Width and height of a rectangle.
    #[key(range = limits::SIZE, absent = "another form")]
    pub size: Option<[f64; 2]>,
    /// Degrees by which a rectangle is turned, positive toward up.
    #[key(range = limits::ANGLE, default = "0", set = "")]
    pub turn: Option<f64>,
    /// The ends of a capsule's middle line.
    #[key(range = limits::COORDINATE, absent = "another form")]
    pub ends: Option<[[f64; 2]; 2]>,
    /// The corners of a convex polygon, in order, 3 to 8.
    #[key(range = limits::COORDINATE, absent = "another form")]
    pub points: Option<Vec<[f64; 2]>>,
    /// Radius of a circle or capsule, or rounding of a polygon.
    #[key(range = limits::SIZE, absent = "another form")]
    pub radius: Option<f64>,
    /// Offset from the actor's position, facing right.
    #[key(range = limits::COORDINATE, default = "[0, 0]", set = "")]
    pub at: Option<[f64; 2]>,
    /// From which height to which, from its owner's, where the arena has heights.
    #[key(range = limits::COORDINATE, absent = "all heights")]
    pub height: Option<[f64; 2]>,
    /// Whether it stays as it is when the actor turns round.
    #[key(default = "false", flag)]
    pub fixed: Option<bool>,
    /// Of a hitbox or hurtbox: it grows evenly from the first share of its size to the second.
    #[key(range = limits::GROWTH, absent = "no growth")]
    pub grows: Option<[f64; 2]>,
    /// How long that takes.
    #[key(absent = "the actor's `lifetime`")]
    pub grows_for: Option<Duration>,
    /// Of a hitbox or hurtbox: on and off by a clock.
    #[key(absent = "always on", whole, set = "")]
    pub pulse: Option<Pulse>,
}

/// On and off by a clock that counts from the actor's appearance.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Table)]
pub struct Pulse {
    /// How long it is on.
    #[key(required)]
    pub on: Option<Duration>,
    /// How long it is off.
    #[key(required)]
    pub off: Option<Duration>,
    /// How far into being on it begins.
    #[key(default = "\"0t\"")]
    pub phase: Option<Duration>,
}

impl BoxSpec {
    /// A rectangle, in units.
    pub fn rectangle(width: f64, height: f64) -> BoxSpec {
        BoxSpec {
            size: Some([width, height]),
            ..BoxSpec::default()
        }
    }

    /// A circle, in units.
    pub fn circle(radius: f64) -> BoxSpec {
        BoxSpec {
            radius: Some(radius),
            ..BoxSpec::default()
        }
    }

    /// All within `radius` of the line between two points.
    pub fn capsule(ends: [[f64; 2]; 2], radius: f64) -> BoxSpec {
        BoxSpec {
            ends: Some(ends),
            radius: Some(radius),
            ..BoxSpec::default()
        }
    }

    /// A convex polygon of 3 to 8 corners.
    pub fn polygon(points: impl Into<Vec<[f64; 2]>>) -> BoxSpec {
        BoxSpec {
            points: Some(points.into()),
            ..BoxSpec::default()
        }
    }

    /// What remains of `base` beneath this: naming another form replaces the whole form.
    fn beneath(&self, base: &BoxSpec) -> BoxSpec {
        let mut base = base.clone();
        if self.size.is_none() && self.ends.is_none() && self.points.is_none() {
            return base;
        }
        let same_form = self.size.is_some() && base.size.is_some()
            || self.ends.is_some() && base.ends.is_some()
            || self.points.is_some() && base.points.is_some();
        if !same_form {
            (base.turn, base.radius) = (None, None);
        }
        (base.size, base.ends, base.points) = (None, None, None);
        base
    }

    /// Sets the offset from the actor's position.
    #[must_use]
    pub fn at(mut self, x: f64, y: f64) -> BoxSpec {
        self.at = Some([x, y]);
        self
    }

    /// Turns a rectangle by degrees, positive toward up.
    #[must_use]
    pub fn turned(mut self, degrees: f64) -> BoxSpec {
        self.turn = Some(degrees);
        self
    }

    /// Switches it on and off by a clock that counts from the actor's appearance.
    #[must_use]
    pub fn pulse(mut self, on: Duration, off: Duration) -> BoxSpec {
        self.pulse = Some(Pulse {
            on: Some(on),
            off: Some(off),
            phase: None,
        });
        self
    }
}
