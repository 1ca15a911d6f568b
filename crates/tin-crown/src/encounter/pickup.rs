//! Pickups: what lies about to be taken.

use serde::Serialize;

use super::boxes::BoxSpec;
use super::respawn::Near;
use crate::syntax::{Table, Words};
use crate::time::Duration;

/// What an actor gains by touching it with its body.
///
/// ```
/// use tin_crown::encounter::{PickupSpec};
/// use tin_crown::{BoxSpec, Kind};
///
/// let tin = Kind::new().pickup(PickupSpec::new(BoxSpec::rectangle(12.0, 12.0), "#hero", "corks", 4.0));
/// assert!(tin.pickup.is_some());
/// ```
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(parts)]
pub struct PickupSpec {
    /// Where it is taken.
    #[key(due, whole)]
    pub area: Option<BoxSpec>,
    /// Who may take it.
    #[key(text = "selector", absent = "anyone")]
    pub by: Option<String>,
    /// What it gives, each up to what the meter holds.
    #[key(absent = "nothing", set = "gives")]
    pub gives: Option<Vec<Gift>>,
    /// How many lives it gives.
    #[key(absent = "none")]
    pub lives: Option<u32>,
    /// What becomes of it when there is no room for any of it.
    #[key(default = "\"stays\"")]
    pub when_full: Option<WhenFull>,
    /// How long after it was taken it is back.
    #[key(absent = "never")]
    pub back_after: Option<Duration>,
    /// It waits with that until none of these is near.
    #[key(absent = "none", whole)]
    pub unless_near: Option<Near>,
    /// The cue given when it is taken.
    #[key(text = "cue", absent = "none")]
    pub cue: Option<String>,
}

/// How much to which meter.
#[derive(Clone, Debug, Default, PartialEq, Table)]
pub struct Gift {
    /// The meter.
    #[key(required, text = "meter")]
    pub meter: String,
    /// How much.
    #[key(required, amount)]
    pub amount: f64,
}

/// What becomes of a pickup of which nothing finds room.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Words)]
#[serde(rename_all = "kebab-case")]
pub enum WhenFull {
    /// It is left lying.
    #[default]
    Stays,
    /// It is taken all the same.
    Taken,
}

impl PickupSpec {
    /// Gives so much to a meter of whoever a selector names and touches `area`.
    pub fn new(
        area: BoxSpec,
        by: impl Into<String>,
        meter: impl Into<String>,
        amount: f64,
    ) -> PickupSpec {
        PickupSpec {
            area: Some(area),
            by: Some(by.into()),
            gives: Some(vec![Gift {
                meter: meter.into(),
                amount,
            }]),
            ..PickupSpec::default()
        }
    }
}
