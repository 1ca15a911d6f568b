//! How actors move, as written. The formulas are in `docs/ticks.md`.

use serde::Serialize;

use super::read::{At, Read};

/// What moves an actor that nobody steers.
#[derive(Clone, Debug, Default, PartialEq)]
pub enum Motion {
    /// It stays where it is.
    #[default]
    Still,
    /// To and fro between two coordinates.
    Patrol(Patrol),
}

/// To and fro between two coordinates at a constant speed.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Patrol {
    /// The two coordinates, in units, in either order.
    pub between: Option<[f64; 2]>,
    /// Units a second.
    pub speed: Option<f64>,
    /// Along which axis; x when absent.
    pub axis: Option<Axis>,
}

/// One of the two axes.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize)]
#[serde(rename_all = "kebab-case")]
pub enum Axis {
    /// Sideways.
    #[default]
    X,
    /// Up and down.
    Y,
}

/// An actor driven by the buttons left, right, up, down and jump.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Walk {
    /// Top speed, in units a second.
    pub speed: Option<f64>,
    /// Toward the wanted speed, in units a second squared; at once when absent.
    pub accel: Option<f64>,
    /// As `accel`, while no direction is held; `accel` when absent.
    pub brake: Option<f64>,
    /// Upward speed of a jump, in units a second; none when absent.
    pub jump: Option<f64>,
}

impl Motion {
    /// To and fro between two x coordinates, `speed` units a second.
    pub fn patrol(from: f64, to: f64, speed: f64) -> Motion {
        Motion::Patrol(Patrol {
            between: Some([from, to]),
            speed: Some(speed),
            axis: None,
        })
    }

    pub(crate) fn over(&self, base: &Motion) -> Motion {
        match (self, base) {
            (Motion::Patrol(patrol), Motion::Patrol(base)) => Motion::Patrol(Patrol {
                between: patrol.between.or(base.between),
                speed: patrol.speed.or(base.speed),
                axis: patrol.axis.or(base.axis),
            }),
            _ => self.clone(),
        }
    }
}

impl Walk {
    /// A walk at `speed` units a second, at once and without a jump.
    pub fn new(speed: f64) -> Walk {
        Walk {
            speed: Some(speed),
            ..Walk::default()
        }
    }

    /// Sets the upward speed of a jump, in units a second.
    #[must_use]
    pub fn jump(mut self, speed: f64) -> Walk {
        self.jump = Some(speed);
        self
    }

    /// Sets the acceleration toward the wanted speed, in units a second squared.
    #[must_use]
    pub fn accel(mut self, accel: f64) -> Walk {
        self.accel = Some(accel);
        self
    }

    pub(crate) fn over(&self, base: &Walk) -> Walk {
        Walk {
            speed: self.speed.or(base.speed),
            accel: self.accel.or(base.accel),
            brake: self.brake.or(base.brake),
            jump: self.jump.or(base.jump),
        }
    }
}

impl Read for Motion {
    fn read(at: At<'_>) -> Option<Motion> {
        if at.is_table() {
            return at.table(|fields| {
                let patrol = fields.get("patrol").map(Motion::Patrol);
                fields.miss(&["patrol"]);
                patrol
            });
        }
        at.word(&[("still", ())]).map(|()| Motion::Still)
    }
}

impl Read for Patrol {
    fn read(at: At<'_>) -> Option<Patrol> {
        at.table(|fields| {
            Some(Patrol {
                between: fields.get("between"),
                speed: fields.get("speed"),
                axis: fields.with("axis", |at| at.word(&[("x", Axis::X), ("y", Axis::Y)])),
            })
        })
    }
}

impl Read for Walk {
    fn read(at: At<'_>) -> Option<Walk> {
        at.table(|fields| {
            Some(Walk {
                speed: fields.get("speed"),
                accel: fields.get("accel"),
                brake: fields.get("brake"),
                jump: fields.get("jump"),
            })
        })
    }
}
