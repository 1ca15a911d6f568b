//! What ends a launched thing, and what it leaves behind.

use serde::Serialize;

use super::read::{At, Read, laid_over};
use crate::limits;
use crate::time::Duration;

/// How a launched thing flies and ends, as written.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct FlightSpec {
    /// How many it may hit; 1 for a shot when absent.
    pub targets: Option<u32>,
    /// The least time between two hits on the same target, for a shot that hits several times.
    pub every: Option<Duration>,
    /// How often it bounces off solids; never when absent.
    pub bounces: Option<u32>,
    /// The share of the speed across a solid that it keeps when it bounces; 1 when absent.
    pub keeps: Option<f64>,
    /// What ends it, besides its lifetime; for a shot all of them when absent, else nothing.
    pub ends_on: Option<Vec<Ending>>,
}

/// What ends something that was launched, or leaves without a death.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize)]
#[serde(rename_all = "kebab-case")]
pub enum Ending {
    /// The last target it may hit.
    Hit,
    /// A solid, after its last bounce.
    Solid,
    /// The arena's edge.
    Edge,
    /// Its lifetime.
    Lifetime,
    /// A state that says so.
    State,
    /// Its death.
    Death,
    /// Somebody took it.
    Taken,
    /// Everything was put back.
    Reset,
}

/// What is left behind at an end, as written.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Leave {
    /// The kind of what is left.
    pub kind: String,
    /// At which ends; at any when absent.
    pub on: Option<Vec<Ending>>,
    /// Whether it is one attack while it is there, as a shot is.
    pub shot: bool,
}

impl Ending {
    /// As in files and the ledger.
    pub const fn as_str(self) -> &'static str {
        match self {
            Ending::Hit => "hit",
            Ending::Solid => "solid",
            Ending::Edge => "edge",
            Ending::Lifetime => "lifetime",
            Ending::State => "state",
            Ending::Death => "death",
            Ending::Taken => "taken",
            Ending::Reset => "reset",
        }
    }
}

impl FlightSpec {
    pub(crate) fn over(&self, base: &FlightSpec) -> FlightSpec {
        laid_over!(
            self,
            base,
            FlightSpec {
                targets,
                every,
                bounces,
                keeps,
                ends_on
            }
        )
    }
}

impl Leave {
    /// Something left behind at any end.
    pub fn new(kind: impl Into<String>) -> Leave {
        Leave {
            kind: kind.into(),
            ..Leave::default()
        }
    }
}

impl Read for FlightSpec {
    fn read(at: At<'_>) -> Option<FlightSpec> {
        at.table(|fields| {
            Some(FlightSpec {
                targets: fields.get("targets"),
                every: fields.get("every"),
                bounces: fields.get("bounces"),
                keeps: fields.get("keeps"),
                ends_on: fields.with("ends_on", |at| {
                    at.list(limits::LIST, |at| {
                        at.word(&[
                            ("hit", Ending::Hit),
                            ("solid", Ending::Solid),
                            ("edge", Ending::Edge),
                        ])
                    })
                }),
            })
        })
    }
}

impl Read for Leave {
    fn read(at: At<'_>) -> Option<Leave> {
        at.table(|fields| {
            Some(Leave {
                kind: fields.need("kind").unwrap_or_default(),
                on: fields.get("on"),
                shot: fields.get("shot").unwrap_or(false),
            })
        })
    }
}

impl Read for Ending {
    fn read(at: At<'_>) -> Option<Ending> {
        at.word(&[
            ("hit", Ending::Hit),
            ("solid", Ending::Solid),
            ("edge", Ending::Edge),
            ("lifetime", Ending::Lifetime),
            ("state", Ending::State),
            ("death", Ending::Death),
            ("taken", Ending::Taken),
        ])
    }
}
