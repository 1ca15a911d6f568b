//! Respawns: where and when somebody comes back, and what is put back with them.

use serde::Serialize;

use super::chance::Chance;
use super::placement::Facing;
use super::read::{At, Read, laid_over};
use crate::time::Duration;

/// How somebody comes back after a death, as written.
///
/// ```
/// use tin_crown::{Kind, RespawnSpec};
///
/// let porter = Kind::new().respawn(RespawnSpec {
///     lives: Some(3),
///     delay: Some("1s".parse()?),
///     ..RespawnSpec::default()
/// });
/// # Ok::<(), tin_crown::DurationError>(())
/// ```
#[derive(Clone, Debug, Default, PartialEq)]
pub struct RespawnSpec {
    /// Where; where it was placed when absent.
    pub at: Option<ReturnTo>,
    /// How long after the last step of its death.
    pub delay: Option<Duration>,
    /// How many lives it has, the first included; any number when absent.
    pub lives: Option<u32>,
    /// What is put back as it was placed; only itself when absent.
    pub resets: Option<Resets>,
    /// What its meters hold; what they held at the start when absent.
    pub meters: Option<MetersAt>,
    /// It waits until nobody is near.
    pub unless_near: Option<Near>,
    /// Cues that count the delay down, evenly.
    pub countdown: Option<Vec<String>>,
    /// What is announced when it is back.
    pub cue: Option<String>,
}

/// Where somebody comes back, as written.
#[derive(Clone, Debug, PartialEq)]
pub enum ReturnTo {
    /// Where it was placed.
    Start,
    /// At the last checkpoint that it reached, else where it was placed.
    Checkpoint,
    /// At one of some places.
    Places(Places),
}

/// Places to come back at, as written.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Places {
    /// The places: one is drawn.
    pub at: Chance<[f64; 2]>,
    /// A selector: a place where a hitbox of one of these is live is passed over while there is
    /// another.
    pub clear_of: Option<String>,
    /// Which way it faces; as it was placed when absent.
    pub facing: Option<Facing>,
}

/// What a respawn puts back, as written.
#[derive(Clone, Debug, PartialEq)]
pub enum Resets {
    /// Only who comes back.
    Itself,
    /// Also those whom selectors name.
    Those(Vec<String>),
    /// Everyone and everything.
    Encounter,
}

/// What the meters of who comes back hold.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize)]
#[serde(rename_all = "kebab-case")]
pub enum MetersAt {
    /// What they held at the start.
    #[default]
    Start,
    /// All they can.
    Full,
    /// What they held before; health what it held at the start.
    Kept,
}

/// Somebody who is near, as written.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Near {
    /// A selector.
    pub who: String,
    /// How near, in units.
    pub within: f64,
}

impl RespawnSpec {
    pub(crate) fn over(&self, base: &RespawnSpec) -> RespawnSpec {
        laid_over!(
            self,
            base,
            RespawnSpec {
                at,
                delay,
                lives,
                resets,
                meters,
                unless_near,
                countdown,
                cue,
            }
        )
    }
}

impl Read for RespawnSpec {
    fn read(at: At<'_>) -> Option<RespawnSpec> {
        at.table(|fields| {
            Some(RespawnSpec {
                at: fields.get("at"),
                delay: fields.get("delay"),
                lives: fields.get("lives"),
                resets: fields.get("resets"),
                meters: fields.with("meters", |at| {
                    at.word(&[
                        ("start", MetersAt::Start),
                        ("full", MetersAt::Full),
                        ("kept", MetersAt::Kept),
                    ])
                }),
                unless_near: fields.get("unless_near"),
                countdown: fields.get("countdown"),
                cue: fields.get("cue"),
            })
        })
    }
}

impl Read for ReturnTo {
    fn read(at: At<'_>) -> Option<ReturnTo> {
        if at.is_table() {
            return at.table(|fields| {
                Some(ReturnTo::Places(Places {
                    at: fields.need("places").unwrap_or_default(),
                    clear_of: fields.get("clear_of"),
                    facing: fields.get("facing"),
                }))
            });
        }
        at.word(&[("start", false), ("checkpoint", true)])
            .map(|checkpoint| {
                if checkpoint {
                    ReturnTo::Checkpoint
                } else {
                    ReturnTo::Start
                }
            })
    }
}

impl Read for Resets {
    fn read(at: At<'_>) -> Option<Resets> {
        if at.text().is_some() {
            return at.word(&[("self", false), ("encounter", true)]).map(|all| {
                if all {
                    Resets::Encounter
                } else {
                    Resets::Itself
                }
            });
        }
        Read::read(at).map(Resets::Those)
    }
}

impl Read for Near {
    fn read(at: At<'_>) -> Option<Near> {
        at.table(|fields| {
            Some(Near {
                who: fields.need("who").unwrap_or_default(),
                within: fields.need("within").unwrap_or_default(),
            })
        })
    }
}
