//! Attacks: what starts them, their phases, and which boxes they make live.

use serde::Serialize;

use crate::syntax::{Shape, Short, Syntax, Table, Words};
use crate::time::Duration;

/// An attack: startup, active, recovery. A box that an attack makes live is off otherwise.
///
/// ```
/// use tin_crown::{AttackSpec, BoxSpec, Kind};
///
/// let phases = ["4t".parse()?, "5t".parse()?, "14t".parse()?];
/// let porter = Kind::new()
///     .hitbox("umbrella", BoxSpec::rectangle(24.0, 4.0).at(19.0, 1.0))
///     .attack("thrust", AttackSpec::new("attack", phases, "umbrella"));
/// # Ok::<(), tin_crown::time::DurationError>(())
/// ```
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(parts)]
pub struct AttackSpec {
    /// The button that starts it.
    #[key(text = "button", absent = "this, `clock`, or a state")]
    pub button: Option<String>,
    /// When the button starts it.
    #[key(default = "\"press\"")]
    pub on: Option<Trigger>,
    /// The clock that starts it. A beat that finds the actor busy is missed.
    #[key(absent = "this, `button`, or a state", whole, set = "")]
    pub clock: Option<Clock>,
    /// How long it winds up.
    #[key(default = "\"0t\"")]
    pub startup: Option<Duration>,
    /// How long its boxes are live.
    #[key(due)]
    pub active: Option<Duration>,
    /// How long it winds down.
    #[key(default = "\"0t\"")]
    pub recovery: Option<Duration>,
    /// How long after its end it cannot start again.
    #[key(default = "\"0t\"")]
    pub cooldown: Option<Duration>,
    /// The boxes that are live in the active phase, or in each.
    #[key(absent = "none")]
    pub live: Live,
    /// It hits the same target again after so long.
    #[key(absent = "once")]
    pub every: Option<Duration>,
    /// How many it may hit.
    #[key(absent = "any number")]
    pub targets: Option<u32>,
    /// Whether its owner moves by itself meanwhile.
    #[key(default = "\"free\"")]
    pub movement: Option<Movement>,
    /// What may cut it short in each phase: attacks of this kind, `guard`, `jump`.
    #[key(absent = "nothing")]
    pub cancels: Cancels,
    /// How long a press that comes too early is remembered.
    #[key(default = "\"0t\"")]
    pub buffer: Option<Duration>,
    /// Whether it starts only by cutting another attack short.
    #[key(default = "false")]
    pub followup: Option<bool>,
    /// The cue given when it begins.
    #[key(text = "cue", absent = "none")]
    pub cue: Option<String>,
}

/// The boxes that are live in each phase of an attack.
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(short = Vec<String>, parts)]
pub struct Live {
    /// While it winds up.
    #[key(text = "box", absent = "none")]
    pub startup: Vec<String>,
    /// While it is active.
    #[key(text = "box", absent = "none")]
    pub active: Vec<String>,
    /// While it winds down.
    #[key(text = "box", absent = "none")]
    pub recovery: Vec<String>,
}

/// What may cut an attack short, in each phase.
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(parts)]
pub struct Cancels {
    /// While it winds up.
    #[key(text = "attack, `\"guard\"` or `\"jump\"`", absent = "nothing")]
    pub startup: Vec<String>,
    /// While it is active.
    #[key(text = "attack, `\"guard\"` or `\"jump\"`", absent = "nothing")]
    pub active: Vec<String>,
    /// While it winds down.
    #[key(text = "attack, `\"guard\"` or `\"jump\"`", absent = "nothing")]
    pub recovery: Vec<String>,
}

/// When a button starts something.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Words)]
#[serde(rename_all = "kebab-case")]
pub enum Trigger {
    /// When it goes down.
    #[default]
    Press,
    /// Whenever it is down and the actor is free.
    Hold,
}

/// A clock that counts from its actor's appearance, or from coming into the state that names what it
/// starts.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Table)]
pub struct Clock {
    /// From one beat to the next.
    #[key(required)]
    pub every: Option<Duration>,
    /// The first beat.
    #[key(absent = "`every`")]
    pub first: Option<Duration>,
}

/// Whether an actor moves by itself while it does something.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Words)]
#[serde(rename_all = "kebab-case")]
pub enum Movement {
    /// As always.
    #[default]
    Free,
    /// No walking, turning, jumping or patrolling.
    Locked,
}

/// `live = ["tip"]` for the active phase alone.
impl Short<Vec<String>> for Live {
    fn from_short(active: Vec<String>) -> Live {
        Live {
            active,
            ..Live::default()
        }
    }

    fn to_short(&self) -> Option<Vec<String>> {
        let only = self.startup.is_empty() && self.recovery.is_empty();
        only.then(|| self.active.clone())
    }

    fn short_shape() -> Shape {
        <Vec<String>>::shape().naming("box")
    }
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
}
