//! Attacks: what starts them, their phases, and which boxes they make live.

use serde::Serialize;

use super::read::{At, Read};
use crate::time::Duration;

/// An attack, as written: startup, active, recovery. A box that an attack makes live is off
/// otherwise.
///
/// ```
/// use tin_crown::{AttackSpec, BoxSpec, Kind};
///
/// let phases = ["4t".parse()?, "5t".parse()?, "14t".parse()?];
/// let porter = Kind::new()
///     .hitbox("umbrella", BoxSpec::rectangle(24.0, 4.0).at(19.0, 1.0))
///     .attack("thrust", AttackSpec::new("attack", phases, "umbrella"));
/// # Ok::<(), tin_crown::DurationError>(())
/// ```
#[derive(Clone, Debug, Default, PartialEq)]
pub struct AttackSpec {
    /// The button that starts it.
    pub button: Option<String>,
    /// Whether the button starts it when it goes down, or whenever it is down; press when absent.
    pub on: Option<Trigger>,
    /// The clock that starts it.
    pub clock: Option<Clock>,
    /// How long it winds up.
    pub startup: Option<Duration>,
    /// How long its boxes are live.
    pub active: Option<Duration>,
    /// How long it winds down.
    pub recovery: Option<Duration>,
    /// How long after its end it cannot start again.
    pub cooldown: Option<Duration>,
    /// Boxes live in each phase.
    pub live: Live,
    /// The least time between two hits on the same target, for an attack that hits several times.
    pub every: Option<Duration>,
    /// How many it may hit; any number when absent.
    pub targets: Option<u32>,
    /// Whether its owner moves by itself meanwhile; free when absent.
    pub movement: Option<Movement>,
    /// What may cut it short, in each phase: names of attacks, `guard`, `jump`.
    pub cancels: Cancels,
    /// How long a press that comes too early is remembered.
    pub buffer: Option<Duration>,
    /// Whether it starts only by cutting another short.
    pub followup: Option<bool>,
    /// What is announced when it begins.
    pub cue: Option<String>,
}

/// Names of boxes in each phase of an attack.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Live {
    /// While it winds up.
    pub startup: Vec<String>,
    /// While it is active.
    pub active: Vec<String>,
    /// While it winds down.
    pub recovery: Vec<String>,
}

/// What may cut an attack short, in each phase.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Cancels {
    /// While it winds up.
    pub startup: Vec<String>,
    /// While it is active.
    pub active: Vec<String>,
    /// While it winds down.
    pub recovery: Vec<String>,
}

/// When a button starts something.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize)]
#[serde(rename_all = "kebab-case")]
pub enum Trigger {
    /// When it goes down.
    #[default]
    Press,
    /// Whenever it is down.
    Hold,
}

/// A clock that counts from its actor's appearance, as written.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Clock {
    /// From one beat to the next.
    pub every: Option<Duration>,
    /// The first beat; `every` when absent.
    pub first: Option<Duration>,
}

/// Whether an actor moves by itself while it does something.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize)]
#[serde(rename_all = "kebab-case")]
pub enum Movement {
    /// As ever.
    #[default]
    Free,
    /// It stays, and does not turn round or jump.
    Locked,
}

impl AttackSpec {
    /// An attack that a press of a button starts, with its three phases and the box live in the
    /// second.
    pub fn new(
        button: impl Into<String>,
        [startup, active, recovery]: [Duration; 3],
        live: impl Into<String>,
    ) -> AttackSpec {
        AttackSpec {
            button: Some(button.into()),
            startup: Some(startup),
            active: Some(active),
            recovery: Some(recovery),
            live: Live {
                active: vec![live.into()],
                ..Live::default()
            },
            ..AttackSpec::default()
        }
    }

    /// Lets a clock start it instead of a button.
    #[must_use]
    pub fn clock(mut self, first: Duration, every: Duration) -> AttackSpec {
        self.button = None;
        self.clock = Some(Clock {
            every: Some(every),
            first: Some(first),
        });
        self
    }

    /// Whether `live` says no more than which boxes are live in the active phase.
    pub(crate) fn live_is_a_list(&self) -> bool {
        self.live.startup.is_empty() && self.live.recovery.is_empty()
    }

    pub(crate) fn over(&self, base: &AttackSpec) -> AttackSpec {
        let phases = |own: &[String], base: &[String]| {
            if own.is_empty() {
                base.to_vec()
            } else {
                own.to_vec()
            }
        };
        AttackSpec {
            button: self.button.clone().or_else(|| base.button.clone()),
            on: self.on.or(base.on),
            clock: self.clock.or(base.clock),
            startup: self.startup.or(base.startup),
            active: self.active.or(base.active),
            recovery: self.recovery.or(base.recovery),
            cooldown: self.cooldown.or(base.cooldown),
            live: Live {
                startup: phases(&self.live.startup, &base.live.startup),
                active: phases(&self.live.active, &base.live.active),
                recovery: phases(&self.live.recovery, &base.live.recovery),
            },
            every: self.every.or(base.every),
            targets: self.targets.or(base.targets),
            movement: self.movement.or(base.movement),
            cancels: Cancels {
                startup: phases(&self.cancels.startup, &base.cancels.startup),
                active: phases(&self.cancels.active, &base.cancels.active),
                recovery: phases(&self.cancels.recovery, &base.cancels.recovery),
            },
            buffer: self.buffer.or(base.buffer),
            followup: self.followup.or(base.followup),
            cue: self.cue.clone().or_else(|| base.cue.clone()),
        }
    }
}

impl Read for AttackSpec {
    fn read(at: At<'_>) -> Option<AttackSpec> {
        at.table(|fields| {
            Some(AttackSpec {
                button: fields.get("button"),
                on: fields.get("on"),
                clock: fields.get("clock"),
                startup: fields.get("startup"),
                active: fields.get("active"),
                recovery: fields.get("recovery"),
                cooldown: fields.get("cooldown"),
                live: fields.get("live").unwrap_or_default(),
                every: fields.get("every"),
                targets: fields.get("targets"),
                movement: fields.get("movement"),
                cancels: fields.get("cancels").unwrap_or_default(),
                buffer: fields.get("buffer"),
                followup: fields.get("followup"),
                cue: fields.get("cue"),
            })
        })
    }
}

/// `live = ["tip"]` for the active phase alone, or a table of phases.
impl Read for Live {
    fn read(at: At<'_>) -> Option<Live> {
        if at.is_table() {
            return at.table(|fields| {
                Some(Live {
                    startup: fields.get("startup").unwrap_or_default(),
                    active: fields.get("active").unwrap_or_default(),
                    recovery: fields.get("recovery").unwrap_or_default(),
                })
            });
        }
        let active = Read::read(at)?;
        Some(Live {
            active,
            ..Live::default()
        })
    }
}

impl Read for Cancels {
    fn read(at: At<'_>) -> Option<Cancels> {
        at.table(|fields| {
            Some(Cancels {
                startup: fields.get("startup").unwrap_or_default(),
                active: fields.get("active").unwrap_or_default(),
                recovery: fields.get("recovery").unwrap_or_default(),
            })
        })
    }
}

impl Read for Clock {
    fn read(at: At<'_>) -> Option<Clock> {
        at.table(|fields| {
            Some(Clock {
                every: fields.need("every"),
                first: fields.get("first"),
            })
        })
    }
}

impl Read for Trigger {
    fn read(at: At<'_>) -> Option<Trigger> {
        at.word(&[("press", Trigger::Press), ("hold", Trigger::Hold)])
    }
}

impl Read for Movement {
    fn read(at: At<'_>) -> Option<Movement> {
        at.word(&[("free", Movement::Free), ("locked", Movement::Locked)])
    }
}
