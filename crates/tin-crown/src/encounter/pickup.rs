//! Pickups: what lies about to be taken.

use serde::Serialize;

use super::boxes::BoxSpec;
use super::read::{At, Read, laid_over};
use super::respawn::Near;
use crate::time::Duration;

/// What somebody gains who touches it with their body, as written.
///
/// ```
/// use tin_crown::{BoxSpec, Kind, PickupSpec};
///
/// let tin = Kind::new().pickup(PickupSpec::new(BoxSpec::rectangle(12.0, 12.0), "#hero", "corks", 4.0));
/// assert!(tin.pickup.is_some());
/// ```
#[derive(Clone, Debug, Default, PartialEq)]
pub struct PickupSpec {
    /// Where it is taken.
    pub area: Option<BoxSpec>,
    /// A selector of who may take it; anyone when absent.
    pub by: Option<String>,
    /// What it gives.
    pub gives: Option<Vec<Gift>>,
    /// How many lives it gives.
    pub lives: Option<u32>,
    /// What becomes of it when who comes has no room for any of it; it stays when absent.
    pub when_full: Option<WhenFull>,
    /// How long after it was taken it is back; never when absent.
    pub back_after: Option<Duration>,
    /// It waits with that until nobody is near.
    pub unless_near: Option<Near>,
    /// What is announced when it is taken.
    pub cue: Option<String>,
}

/// How much to which meter, as written.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Gift {
    /// The meter.
    pub meter: String,
    /// How much, up to what the meter holds.
    pub amount: f64,
}

/// What becomes of a pickup of which nothing finds room.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize)]
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

    pub(crate) fn over(&self, base: &PickupSpec) -> PickupSpec {
        laid_over!(
            self,
            base,
            PickupSpec {
                area,
                by,
                gives,
                lives,
                when_full,
                back_after,
                unless_near,
                cue
            }
        )
    }
}

impl Read for PickupSpec {
    fn read(at: At<'_>) -> Option<PickupSpec> {
        at.table(|fields| {
            Some(PickupSpec {
                area: fields.get("area"),
                by: fields.get("by"),
                gives: fields.get("gives"),
                lives: fields.get("lives"),
                when_full: fields.with("when_full", |at| {
                    at.word(&[("stays", WhenFull::Stays), ("taken", WhenFull::Taken)])
                }),
                back_after: fields.get("back_after"),
                unless_near: fields.get("unless_near"),
                cue: fields.get("cue"),
            })
        })
    }
}

impl Read for Gift {
    fn read(at: At<'_>) -> Option<Gift> {
        at.table(|fields| {
            Some(Gift {
                meter: fields.need("meter").unwrap_or_default(),
                amount: fields.need("amount").unwrap_or_default(),
            })
        })
    }
}
