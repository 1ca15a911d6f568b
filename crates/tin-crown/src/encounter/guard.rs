//! The guard: what it covers, what it lets through, what it costs, and when it breaks.

use super::attack::Movement;
use super::read::{At, Read};
use super::rule::Push;
use crate::time::Duration;

/// A guard, as written.
///
/// ```
/// use tin_crown::{GuardSpec, Kind, MeterSpec};
///
/// let guard = GuardSpec {
///     through: Some(0.25),
///     meter: Some("stamina".into()),
///     break_stun: Some("0.8s".parse()?),
///     ..GuardSpec::new("guard")
/// };
/// let porter = Kind::new().meter("stamina", MeterSpec::new(3.0)).guard(guard);
/// # Ok::<(), tin_crown::DurationError>(())
/// ```
#[derive(Clone, Debug, Default, PartialEq)]
pub struct GuardSpec {
    /// The button that holds it up.
    pub button: Option<String>,
    /// The time between the button and the guard.
    pub startup: Option<Duration>,
    /// The angles it covers, in degrees from the way its owner faces, positive toward up; from -90
    /// to 90 when absent.
    pub arc: Option<[f64; 2]>,
    /// The share of damage that comes through, from 0 to 1; 0 when absent.
    pub through: Option<f64>,
    /// The meter that it costs.
    pub meter: Option<String>,
    /// What a guarded hit costs; 1 when absent.
    pub cost: Option<f64>,
    /// How long its owner is stunned when the meter is empty.
    pub break_stun: Option<Duration>,
    /// Whether its owner moves by itself meanwhile; free when absent.
    pub movement: Option<Movement>,
    /// What it does at its beginning.
    pub parry: Option<ParrySpec>,
}

/// A guard raised just in time, as written.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct ParrySpec {
    /// How long from the guard's beginning.
    pub window: Option<Duration>,
    /// The share of damage that comes through; 0 when absent.
    pub through: Option<f64>,
    /// What it costs; 0 when absent.
    pub cost: Option<f64>,
    /// How long who hit is stunned.
    pub stun: Option<Duration>,
    /// How who hit is thrown.
    pub push: Option<Push>,
}

impl GuardSpec {
    /// A guard that a button holds up.
    pub fn new(button: impl Into<String>) -> GuardSpec {
        GuardSpec {
            button: Some(button.into()),
            ..GuardSpec::default()
        }
    }

    pub(crate) fn over(&self, base: &GuardSpec) -> GuardSpec {
        GuardSpec {
            button: self.button.clone().or_else(|| base.button.clone()),
            startup: self.startup.or(base.startup),
            arc: self.arc.or(base.arc),
            through: self.through.or(base.through),
            meter: self.meter.clone().or_else(|| base.meter.clone()),
            cost: self.cost.or(base.cost),
            break_stun: self.break_stun.or(base.break_stun),
            movement: self.movement.or(base.movement),
            parry: self.parry.or(base.parry),
        }
    }
}

impl Read for GuardSpec {
    fn read(at: At<'_>) -> Option<GuardSpec> {
        at.table(|fields| {
            Some(GuardSpec {
                button: fields.get("button"),
                startup: fields.get("startup"),
                arc: fields.get("arc"),
                through: fields.get("through"),
                meter: fields.get("meter"),
                cost: fields.get("cost"),
                break_stun: fields.get("break_stun"),
                movement: fields.get("movement"),
                parry: fields.get("parry"),
            })
        })
    }
}

impl Read for ParrySpec {
    fn read(at: At<'_>) -> Option<ParrySpec> {
        at.table(|fields| {
            Some(ParrySpec {
                window: fields.need("window"),
                through: fields.get("through"),
                cost: fields.get("cost"),
                stun: fields.get("stun"),
                push: fields.get("push"),
            })
        })
    }
}
