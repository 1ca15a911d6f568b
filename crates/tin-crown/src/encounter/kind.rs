//! Kinds: reusable actor definitions.

use serde::Serialize;

use super::{
    AttackSpec, BoxSpec, Condition, DeathStep, Faces, FlightSpec, GuardSpec, LauncherSpec, Leave,
    MeterSpec, Motion, PickupSpec, RespawnSpec, SensorSpec, SpriteSpec, StateSpec, Turns, Walk,
};
use crate::limits;
use crate::map::Map;
use crate::syntax::{Table, Words};
use crate::time::Duration;

/// A reusable actor definition. A kind may be `like` another and override parts, and a
/// placement may override parts of its kind, so everything is optional.
///
/// ```
/// use tin_crown::encounter::{Walk};
/// use tin_crown::{BoxSpec, Kind, MeterSpec};
///
/// let porter = Kind::new()
///     .side("crown")
///     .player()
///     .tag("hero")
///     .body(BoxSpec::rectangle(14.0, 28.0))
///     .walk(Walk::new(90.0).jump(320.0))
///     .meter("health", MeterSpec::new(4.0))
///     .hurtbox("torso", BoxSpec::rectangle(12.0, 20.0).at(0.0, 2.0))
///     .invincible_after_hit("0.5s".parse()?);
/// assert_eq!(porter.hurtboxes.len(), 1);
/// # Ok::<(), tin_crown::time::DurationError>(())
/// ```
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(most = limits::KINDS, parts)]
pub struct Kind {
    /// The kind whose parts it takes over, tags and side too, where it does not say otherwise.
    #[key(text = "kind", absent = "none")]
    pub like: Option<String>,
    /// Whom it fights for. A hit on the same side is `ally`, unless the rule is `friendly`.
    #[key(text = "side", absent = "nobody's ally")]
    pub side: Option<String>,
    /// Whether its lives decide the drill: it is lost when the last player is gone.
    #[key(default = "false", flag)]
    pub player: Option<bool>,
    /// Labels for selectors. A kind's own replace those of the kind it is like; a placement's are added.
    #[key(text = "tag", absent = "none", set = "tag")]
    pub tags: Option<Vec<String>>,
    /// What collides with solids; without one, it passes through everything.
    #[key(absent = "none")]
    pub body: Option<BoxSpec>,
    /// What bodies collide with: an upright rectangle that moves as the actor does, carries and pushes.
    #[key(absent = "none")]
    pub solid: Option<BoxSpec>,
    /// How many times the arena's gravity acts on it.
    #[key(range = limits::FACTOR, absent = "`1` with `walk` or `motion = \"fall\"`, else `0`")]
    pub gravity: Option<f64>,
    /// What becomes of it when it faces another way.
    #[key(default = "\"mirrors\"")]
    pub turns: Option<Turns>,
    /// What turns it, when it rotates.
    #[key(absent = "its motion")]
    pub faces: Option<Faces>,
    /// Buttons drive it.
    #[key(absent = "none")]
    pub walk: Option<Walk>,
    /// How it moves by itself.
    #[key(absent = "`\"still\"`; `\"coast\"` once launched")]
    pub motion: Option<Motion>,
    /// A bounded number that it carries: `health`, `shield`, `stamina`…
    #[key(name = "meter", absent = "none")]
    pub meters: Map<String, MeterSpec>,
    /// A box that gives.
    #[key(name = "hitbox", absent = "none")]
    pub hitboxes: Map<String, BoxSpec>,
    /// A box that takes.
    #[key(name = "hurtbox", absent = "none")]
    pub hurtboxes: Map<String, BoxSpec>,
    /// How many times it takes damage of that type: 2 is weak to it, 0 immune.
    #[key(range = limits::TIMES, absent = "`1`")]
    pub takes: Map<String, f64>,
    /// When it cannot be hurt.
    #[key(absent = "never")]
    pub invincible: Invincible,
    /// What becomes of it wholly outside the arena.
    #[key(default = "\"stays\"")]
    pub outside: Option<Outside>,
    /// An attack.
    #[key(name = "attack", absent = "none")]
    pub attacks: Map<String, AttackSpec>,
    /// Its guard.
    #[key(absent = "none")]
    pub guard: Option<GuardSpec>,
    /// What it shoots, throws, drops or lets loose.
    #[key(name = "launcher", absent = "none")]
    pub launchers: Map<String, LauncherSpec>,
    /// How it flies and ends when it is launched.
    #[key(absent = "none")]
    pub flight: Option<FlightSpec>,
    /// What it leaves behind where it ends.
    #[key(absent = "none", set = "leaves")]
    pub leaves: Option<Vec<Leave>>,
    /// How long it exists.
    #[key(absent = "no limit")]
    pub lifetime: Option<Duration>,
    /// The share of its speed that it loses per second while nothing drives it.
    #[key(range = limits::DRAG, default = "0")]
    pub drag: Option<f64>,
    /// What it gives to whoever touches it with their body.
    #[key(absent = "none")]
    pub pickup: Option<PickupSpec>,
    /// The state that it starts in.
    #[key(text = "state", absent = "none")]
    pub starts: Option<String>,
    /// A region or ray that notices.
    #[key(name = "sensor", absent = "none")]
    pub sensors: Map<String, SensorSpec>,
    /// A condition that several states use.
    #[key(name = "condition", absent = "none")]
    pub conditions: Map<String, Condition>,
    /// A state.
    #[key(name = "state", absent = "none")]
    pub states: Map<String, StateSpec>,
    /// What plays out when it dies, step by step.
    #[key(absent = "gone at once", set = "death")]
    pub death: Option<Vec<DeathStep>>,
    /// How it comes back.
    #[key(absent = "never")]
    pub respawn: Option<RespawnSpec>,
    /// The drawing under its boxes.
    #[key(absent = "none")]
    pub sprite: Option<SpriteSpec>,
}

/// When an actor cannot be hurt.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Table)]
#[table(parts)]
pub struct Invincible {
    /// For so long from the tick of a hit that landed.
    #[key(default = "\"0t\"")]
    pub after_hit: Option<Duration>,
    /// Against whom that window holds.
    #[key(default = "\"everyone\"")]
    pub against: Option<Against>,
    /// For so long from the tick on which it comes back, against everyone.
    #[key(default = "\"0t\"")]
    pub after_respawn: Option<Duration>,
}

/// Against what a window of invincibility holds.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Words)]
#[serde(rename_all = "kebab-case")]
pub enum Against {
    /// Everyone and every rule.
    #[default]
    Everyone,
    /// Only the actor whose hit opened it.
    Source,
    /// Only the rule whose hit opened it.
    Rule,
}

/// What becomes of an actor that is wholly outside the arena.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Words)]
#[serde(rename_all = "kebab-case")]
pub enum Outside {
    /// Nothing.
    #[default]
    Stays,
    /// It dies.
    Dies,
    /// It is gone, without a death.
    Vanishes,
}

impl Kind {
    /// A kind of which nothing is said yet.
    pub fn new() -> Kind {
        Kind::default()
    }

    /// Makes it invincible for so long from the tick of a hit that landed.
    #[must_use]
    pub fn invincible_after_hit(mut self, length: Duration) -> Kind {
        self.invincible.after_hit = Some(length);
        self
    }
}
