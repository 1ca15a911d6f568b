//! Boxes as written: one of five forms, and where it sits.

use super::read::{At, Read};
use crate::time::Duration;

/// A box as written. A kind may be `like` another and override parts of its boxes, so every part is
/// optional here; together they must make one form.
///
/// A rectangle has `size` (and `turn`), a circle `radius`, a capsule `ends` and `radius`, a convex
/// polygon `points` (and `radius`, to round it).
#[derive(Clone, Debug, Default, PartialEq)]
pub struct BoxSpec {
    /// Width and height of a rectangle, in units.
    pub size: Option<[f64; 2]>,
    /// Degrees by which a rectangle is turned, positive toward up.
    pub turn: Option<f64>,
    /// Radius of a circle or capsule, or rounding of a polygon, in units.
    pub radius: Option<f64>,
    /// The ends of a capsule's middle line.
    pub ends: Option<[[f64; 2]; 2]>,
    /// The corners of a convex polygon, in order, 3 to 8.
    pub points: Option<Vec<[f64; 2]>>,
    /// Offset from the actor's position, facing right.
    pub at: Option<[f64; 2]>,
    /// Whether it stays as it is when the actor turns round.
    pub fixed: Option<bool>,
    /// Grows from the first share of its size to the second.
    pub grows: Option<[f64; 2]>,
    /// How long that takes; its owner's lifetime when absent.
    pub grows_for: Option<Duration>,
    /// Switches it on and off by a clock.
    pub pulse: Option<Pulse>,
}

/// On and off by a clock that counts from the actor's appearance, as written.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Pulse {
    /// How long it is on.
    pub on: Option<Duration>,
    /// How long it is off.
    pub off: Option<Duration>,
    /// How far into being on it begins; not at all when absent.
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

    /// Keeps it as it is when the actor turns round.
    #[must_use]
    pub fn fixed(mut self) -> BoxSpec {
        self.fixed = Some(true);
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

    /// These parts laid over those of `base`. Naming another form replaces the whole form.
    pub(crate) fn over(&self, base: &BoxSpec) -> BoxSpec {
        let reformed = self.size.is_some() || self.ends.is_some() || self.points.is_some();
        let form = if reformed { &BoxSpec::default() } else { base };
        let same_form = self.size.is_some() && base.size.is_some()
            || self.ends.is_some() && base.ends.is_some()
            || self.points.is_some() && base.points.is_some();
        let numbers = if same_form { base } else { form };
        BoxSpec {
            size: self.size.or(form.size),
            turn: self.turn.or(numbers.turn),
            radius: self.radius.or(numbers.radius),
            ends: self.ends.or(form.ends),
            points: self.points.clone().or_else(|| form.points.clone()),
            at: self.at.or(base.at),
            fixed: self.fixed.or(base.fixed),
            grows: self.grows.or(base.grows),
            grows_for: self.grows_for.or(base.grows_for),
            pulse: self.pulse.or(base.pulse),
        }
    }
}

impl Read for BoxSpec {
    fn read(at: At<'_>) -> Option<BoxSpec> {
        at.table(|fields| {
            Some(BoxSpec {
                size: fields.get("size"),
                turn: fields.get("turn"),
                radius: fields.get("radius"),
                ends: fields.get("ends"),
                points: fields.get("points"),
                at: fields.get("at"),
                fixed: fields.get("fixed"),
                grows: fields.get("grows"),
                grows_for: fields.get("grows_for"),
                pulse: fields.get("pulse"),
            })
        })
    }
}

impl Read for Pulse {
    fn read(at: At<'_>) -> Option<Pulse> {
        at.table(|fields| {
            Some(Pulse {
                on: fields.need("on"),
                off: fields.need("off"),
                phase: fields.get("phase"),
            })
        })
    }
}
