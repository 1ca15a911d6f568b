//! Kinds: reusable actor definitions.

use std::collections::BTreeMap;

use serde::Serialize;

use super::read::{At, Fields, Read};
use super::{
    AttackSpec, BoxSpec, Condition, DeathStep, FlightSpec, GuardSpec, LauncherSpec, Leave,
    MeterSpec, Motion, PickupSpec, RespawnSpec, SensorSpec, StateSpec, Walk,
};
use crate::time::Duration;

/// A reusable actor definition, as written. A kind may be `like` another and override parts, and a
/// placement may override parts of its kind, so everything is optional.
///
/// ```
/// use tin_crown::{BoxSpec, Kind, MeterSpec, Walk};
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
/// # Ok::<(), tin_crown::DurationError>(())
/// ```
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Kind {
    /// The kind whose parts it takes over where it does not say otherwise.
    pub like: Option<String>,
    /// Whom it fights for; nobody's ally when absent.
    pub side: Option<String>,
    /// Whether its lives decide the drill.
    pub player: Option<bool>,
    /// Labels, for selectors. A kind's own replace those of the kind it is like.
    pub tags: Option<Vec<String>>,
    /// What collides with solids.
    pub body: Option<BoxSpec>,
    /// What bodies collide with: an upright rectangle that moves as the actor does.
    pub solid: Option<BoxSpec>,
    /// What gives, by name.
    pub hitboxes: BTreeMap<String, BoxSpec>,
    /// What takes, by name.
    pub hurtboxes: BTreeMap<String, BoxSpec>,
    /// Bounded numbers it carries, by name.
    pub meters: BTreeMap<String, MeterSpec>,
    /// How many times the arena's gravity acts on it; 1 for who walks, else 0, when absent.
    pub gravity: Option<f64>,
    /// How buttons drive it.
    pub walk: Option<Walk>,
    /// How it moves by itself.
    pub motion: Option<Motion>,
    /// Its attacks, by name.
    pub attacks: BTreeMap<String, AttackSpec>,
    /// Its guard.
    pub guard: Option<GuardSpec>,
    /// How many times it takes damage of some type, by type: 2 for weak to it, 0 for immune.
    pub takes: BTreeMap<String, f64>,
    /// When it cannot be hurt.
    pub invincible: Invincible,
    /// What becomes of it outside the arena.
    pub outside: Option<Outside>,
    /// What it launches, by name.
    pub launchers: BTreeMap<String, LauncherSpec>,
    /// How it flies and ends when it is launched.
    pub flight: Option<FlightSpec>,
    /// What it leaves behind.
    pub leaves: Option<Vec<Leave>>,
    /// How long it is there.
    pub lifetime: Option<Duration>,
    /// The share of its speed that it loses in a second.
    pub drag: Option<f64>,
    /// What it gives to who touches it with their body.
    pub pickup: Option<PickupSpec>,
    /// What it notices, by name.
    pub sensors: BTreeMap<String, SensorSpec>,
    /// Conditions that several states use, by name.
    pub conditions: BTreeMap<String, Condition>,
    /// Its states, by name.
    pub states: BTreeMap<String, StateSpec>,
    /// The state that it starts in.
    pub starts: Option<String>,
    /// What plays out when it dies.
    pub death: Option<Vec<DeathStep>>,
    /// How it comes back.
    pub respawn: Option<RespawnSpec>,
}

/// When an actor cannot be hurt, as written.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Invincible {
    /// For so long from the tick of a hit that landed.
    pub after_hit: Option<Duration>,
    /// Against whom that is; everyone when absent.
    pub against: Option<Against>,
    /// For so long from the tick on which it comes back, against everyone.
    pub after_respawn: Option<Duration>,
}

/// Against what a window of invincibility holds.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize)]
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
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize)]
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

    /// Takes over the parts of another kind.
    #[must_use]
    pub fn like(mut self, kind: impl Into<String>) -> Kind {
        self.like = Some(kind.into());
        self
    }

    /// Sets whom it fights for.
    #[must_use]
    pub fn side(mut self, side: impl Into<String>) -> Kind {
        self.side = Some(side.into());
        self
    }

    /// Lets its lives decide the drill.
    #[must_use]
    pub fn player(mut self) -> Kind {
        self.player = Some(true);
        self
    }

    /// Adds a label.
    #[must_use]
    pub fn tag(mut self, tag: impl Into<String>) -> Kind {
        self.tags.get_or_insert_default().push(tag.into());
        self
    }

    /// Sets what collides with solids.
    #[must_use]
    pub fn body(mut self, body: BoxSpec) -> Kind {
        self.body = Some(body);
        self
    }

    /// Makes it a solid that moves as it does.
    #[must_use]
    pub fn solid(mut self, solid: BoxSpec) -> Kind {
        self.solid = Some(solid);
        self
    }

    /// Adds what gives.
    #[must_use]
    pub fn hitbox(mut self, name: impl Into<String>, hitbox: BoxSpec) -> Kind {
        self.hitboxes.insert(name.into(), hitbox);
        self
    }

    /// Adds what takes.
    #[must_use]
    pub fn hurtbox(mut self, name: impl Into<String>, hurtbox: BoxSpec) -> Kind {
        self.hurtboxes.insert(name.into(), hurtbox);
        self
    }

    /// Adds a meter.
    #[must_use]
    pub fn meter(mut self, name: impl Into<String>, meter: MeterSpec) -> Kind {
        self.meters.insert(name.into(), meter);
        self
    }

    /// Sets how many times the arena's gravity acts on it.
    #[must_use]
    pub fn gravity(mut self, factor: f64) -> Kind {
        self.gravity = Some(factor);
        self
    }

    /// Lets buttons drive it.
    #[must_use]
    pub fn walk(mut self, walk: Walk) -> Kind {
        self.walk = Some(walk);
        self
    }

    /// Sets how it moves by itself.
    #[must_use]
    pub fn motion(mut self, motion: Motion) -> Kind {
        self.motion = Some(motion);
        self
    }

    /// Adds an attack.
    #[must_use]
    pub fn attack(mut self, name: impl Into<String>, attack: AttackSpec) -> Kind {
        self.attacks.insert(name.into(), attack);
        self
    }

    /// Gives it a guard.
    #[must_use]
    pub fn guard(mut self, guard: GuardSpec) -> Kind {
        self.guard = Some(guard);
        self
    }

    /// Sets how many times it takes damage of some type.
    #[must_use]
    pub fn takes(mut self, sort: impl Into<String>, times: f64) -> Kind {
        self.takes.insert(sort.into(), times);
        self
    }

    /// Makes it invincible for so long from the tick of a hit that landed.
    #[must_use]
    pub fn invincible_after_hit(mut self, length: Duration) -> Kind {
        self.invincible.after_hit = Some(length);
        self
    }

    /// Sets what becomes of it outside the arena.
    #[must_use]
    pub fn outside(mut self, outside: Outside) -> Kind {
        self.outside = Some(outside);
        self
    }

    /// Adds what it launches.
    #[must_use]
    pub fn launcher(mut self, name: impl Into<String>, launcher: LauncherSpec) -> Kind {
        self.launchers.insert(name.into(), launcher);
        self
    }

    /// Sets how it flies and ends when it is launched.
    #[must_use]
    pub fn flight(mut self, flight: FlightSpec) -> Kind {
        self.flight = Some(flight);
        self
    }

    /// Adds what it leaves behind.
    #[must_use]
    pub fn leaves(mut self, leave: Leave) -> Kind {
        self.leaves.get_or_insert_default().push(leave);
        self
    }

    /// Sets how long it is there.
    #[must_use]
    pub fn lifetime(mut self, length: Duration) -> Kind {
        self.lifetime = Some(length);
        self
    }

    /// Lets it be picked up.
    #[must_use]
    pub fn pickup(mut self, pickup: PickupSpec) -> Kind {
        self.pickup = Some(pickup);
        self
    }

    /// Adds what it notices.
    #[must_use]
    pub fn sensor(mut self, name: impl Into<String>, sensor: SensorSpec) -> Kind {
        self.sensors.insert(name.into(), sensor);
        self
    }

    /// Adds a condition that several states can use.
    #[must_use]
    pub fn condition(mut self, name: impl Into<String>, condition: Condition) -> Kind {
        self.conditions.insert(name.into(), condition);
        self
    }

    /// Adds a state.
    #[must_use]
    pub fn state(mut self, name: impl Into<String>, state: StateSpec) -> Kind {
        self.states.insert(name.into(), state);
        self
    }

    /// Sets the state that it starts in.
    #[must_use]
    pub fn starts(mut self, state: impl Into<String>) -> Kind {
        self.starts = Some(state.into());
        self
    }

    /// Adds a step to what plays out when it dies.
    #[must_use]
    pub fn death(mut self, step: DeathStep) -> Kind {
        self.death.get_or_insert_default().push(step);
        self
    }

    /// Sets how it comes back.
    #[must_use]
    pub fn respawn(mut self, respawn: RespawnSpec) -> Kind {
        self.respawn = Some(respawn);
        self
    }

    /// These parts laid over those of `base`.
    pub(crate) fn over(&self, base: &Kind) -> Kind {
        Kind {
            like: self.like.clone(),
            side: self.side.clone().or_else(|| base.side.clone()),
            player: self.player.or(base.player),
            tags: self.tags.clone().or_else(|| base.tags.clone()),
            body: over(&self.body, &base.body, BoxSpec::over),
            solid: over(&self.solid, &base.solid, BoxSpec::over),
            hitboxes: all_over(&self.hitboxes, &base.hitboxes, BoxSpec::over),
            hurtboxes: all_over(&self.hurtboxes, &base.hurtboxes, BoxSpec::over),
            meters: all_over(&self.meters, &base.meters, MeterSpec::over),
            gravity: self.gravity.or(base.gravity),
            walk: over(&self.walk, &base.walk, Walk::over),
            motion: over(&self.motion, &base.motion, Motion::over),
            attacks: all_over(&self.attacks, &base.attacks, AttackSpec::over),
            guard: over(&self.guard, &base.guard, GuardSpec::over),
            takes: all_over(&self.takes, &base.takes, |own, _| *own),
            invincible: Invincible {
                after_hit: self.invincible.after_hit.or(base.invincible.after_hit),
                against: self.invincible.against.or(base.invincible.against),
                after_respawn: self
                    .invincible
                    .after_respawn
                    .or(base.invincible.after_respawn),
            },
            outside: self.outside.or(base.outside),
            launchers: all_over(&self.launchers, &base.launchers, LauncherSpec::over),
            flight: over(&self.flight, &base.flight, FlightSpec::over),
            leaves: self.leaves.clone().or_else(|| base.leaves.clone()),
            lifetime: self.lifetime.or(base.lifetime),
            drag: self.drag.or(base.drag),
            pickup: over(&self.pickup, &base.pickup, PickupSpec::over),
            sensors: all_over(&self.sensors, &base.sensors, SensorSpec::over),
            conditions: all_over(&self.conditions, &base.conditions, |own, _| own.clone()),
            states: all_over(&self.states, &base.states, StateSpec::over),
            starts: self.starts.clone().or_else(|| base.starts.clone()),
            death: self.death.clone().or_else(|| base.death.clone()),
            respawn: over(&self.respawn, &base.respawn, RespawnSpec::over),
        }
    }

    /// The keys that a kind and a placement have in common.
    pub(super) fn parts(fields: &mut Fields<'_>) -> Kind {
        Kind {
            like: None,
            side: fields.get("side"),
            player: fields.get("player"),
            tags: fields.get("tags"),
            body: fields.get("body"),
            solid: fields.get("solid"),
            hitboxes: fields.get("hitbox").unwrap_or_default(),
            hurtboxes: fields.get("hurtbox").unwrap_or_default(),
            meters: fields.get("meter").unwrap_or_default(),
            gravity: fields.get("gravity"),
            walk: fields.get("walk"),
            motion: fields.get("motion"),
            attacks: fields.get("attack").unwrap_or_default(),
            guard: fields.get("guard"),
            takes: fields.get("takes").unwrap_or_default(),
            invincible: fields.get("invincible").unwrap_or_default(),
            outside: fields.with("outside", |at| {
                at.word(&[
                    ("stays", Outside::Stays),
                    ("dies", Outside::Dies),
                    ("vanishes", Outside::Vanishes),
                ])
            }),
            launchers: fields.get("launcher").unwrap_or_default(),
            flight: fields.get("flight"),
            leaves: fields.get("leaves"),
            lifetime: fields.get("lifetime"),
            drag: fields.get("drag"),
            pickup: fields.get("pickup"),
            sensors: fields.get("sensor").unwrap_or_default(),
            conditions: fields.get("condition").unwrap_or_default(),
            states: fields.get("state").unwrap_or_default(),
            starts: fields.get("starts"),
            death: fields.get("death"),
            respawn: fields.get("respawn"),
        }
    }
}

/// One part laid over another, when both are there.
fn over<T: Clone>(part: &Option<T>, base: &Option<T>, over: fn(&T, &T) -> T) -> Option<T> {
    match (part, base) {
        (Some(part), Some(base)) => Some(over(part, base)),
        _ => part.clone().or_else(|| base.clone()),
    }
}

/// Named parts laid over those of the same name.
fn all_over<T: Clone>(
    parts: &BTreeMap<String, T>,
    base: &BTreeMap<String, T>,
    over: fn(&T, &T) -> T,
) -> BTreeMap<String, T> {
    let mut all = base.clone();
    for (name, part) in parts {
        let laid = base
            .get(name)
            .map_or_else(|| part.clone(), |base| over(part, base));
        all.insert(name.clone(), laid);
    }
    all
}

impl Read for Kind {
    fn read(at: At<'_>) -> Option<Kind> {
        at.table(|fields| {
            let like = fields.get("like");
            Some(Kind {
                like,
                ..Kind::parts(fields)
            })
        })
    }
}

impl Read for Invincible {
    fn read(at: At<'_>) -> Option<Invincible> {
        at.table(|fields| {
            Some(Invincible {
                after_hit: fields.get("after_hit"),
                against: fields.with("against", |at| {
                    at.word(&[
                        ("everyone", Against::Everyone),
                        ("source", Against::Source),
                        ("rule", Against::Rule),
                    ])
                }),
                after_respawn: fields.get("after_respawn"),
            })
        })
    }
}
