//! The guard: what it covers, what it lets through, what it costs, and when it breaks.

use super::attack::Movement;
use super::rule::Push;
use crate::limits;
use crate::syntax::Table;
use crate::time::Duration;

/// A guard: what it covers, what it lets through, what it costs, and when it breaks.
///
/// ```
/// use tin_crown::encounter::{GuardSpec};
/// use tin_crown::{Kind, MeterSpec};
///
/// let guard = GuardSpec::new("guard")
///     .through(0.25)
///     .meter("stamina")
///     .break_stun("0.8s".parse()?);
/// let porter = Kind::new().meter("stamina", MeterSpec::new(3.0)).guard(guard);
/// # Ok::<(), tin_crown::time::DurationError>(())
/// ```
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(parts)]
pub struct GuardSpec {
    /// The button that holds it up.
    #[key(text = "button", absent = "this, or a state with `guard = true`")]
    pub button: Option<String>,
    /// The time between the button and the guard.
    #[key(default = "\"0t\"")]
    pub startup: Option<Duration>,
    /// The angles it covers, in degrees from the way its owner faces, positive toward up.
    #[key(range = limits::ANGLE, default = "[-90, 90]")]
    pub arc: Option<[f64; 2]>,
    /// The share of damage that comes through.
    #[key(range = limits::SHARE, default = "0")]
    pub through: Option<f64>,
    /// The meter that it costs. Empty, the guard does not hold.
    #[key(text = "meter", absent = "none")]
    pub meter: Option<String>,
    /// What a guarded hit costs.
    #[key(amount, default = "1")]
    pub cost: Option<f64>,
    /// How long its owner is stunned when the meter becomes empty.
    #[key(default = "\"0t\"")]
    pub break_stun: Option<Duration>,
    /// Whether its owner moves by itself meanwhile.
    #[key(default = "\"free\"")]
    pub movement: Option<Movement>,
    /// A guard just in time.
    #[key(absent = "none", whole)]
    pub parry: Option<ParrySpec>,
}

/// A guard raised just in time.
#[derive(Clone, Copy, Debug, Default, PartialEq, Table)]
pub struct ParrySpec {
    /// How long from the guard's beginning.
    #[key(required)]
    pub window: Option<Duration>,
    /// The share of damage that comes through.
    #[key(range = limits::SHARE, default = "0")]
    pub through: Option<f64>,
    /// What it costs.
    #[key(amount, default = "0")]
    pub cost: Option<f64>,
    /// How long who is stunned.
    #[key(default = "\"0t\"")]
    pub stun: Option<Duration>,
    /// How who is thrown.
    #[key(absent = "none")]
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
}
