//! What a drill, or a program, brings about from outside: effects and poses, resolved.

use std::sync::Arc;

use serde::{Deserialize, Serialize};
use tin_crown_derive::Getters;

use super::checker::Checker;
use super::hits::{self, DamagePlan, EffectPlan, PushPlan};
use super::index::{ActorIx, AttackIx, MeterIx, StateIx};
use super::names::Names;
use super::pairing::World;
use super::scope::Scope;
use super::spec::Spec;
use super::{Plan, faces, heights};
use crate::encounter::{Apply, Effect, Point, PoseInput, Stance, Up};
use crate::finding::{Code, Finding, Findings, Path, Severity};
use crate::geometry::{Facing, Vec2};
use crate::limits;
use crate::nearest::nearest;
use crate::time::{Tick, Ticks};

/// The word for no attack.
pub(crate) const NO_ATTACK: &str = "none";

/// An effect from outside.
#[derive(Clone, Debug, Getters, PartialEq, Serialize, Deserialize)]
pub struct ApplyPlan {
    /// When.
    pub(crate) tick: Tick,
    /// To whose credit.
    pub(crate) who: Option<Named>,
    /// On whom.
    pub(crate) whom: Named,
    /// What it does.
    #[serde(with = "Whole")]
    pub(crate) does: EffectPlan,
}

/// An [`EffectPlan`] with nothing left out, as bytes need it.
#[derive(Serialize, Deserialize)]
#[serde(remote = "EffectPlan")]
struct Whole {
    damage: Option<DamagePlan>,
    heal: Option<DamagePlan>,
    kill: bool,
    knockback: Option<PushPlan>,
    stun: Ticks,
    freeze: Vec<(MeterIx, Ticks)>,
}

/// An actor that a text names.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub enum Named {
    /// A placed one.
    Placed(ActorIx),
    /// Something launched, by its id: who that is shows only then.
    Launched(Arc<str>),
}

/// A pose of an actor from outside.
#[derive(Clone, Copy, Debug, Getters, PartialEq, Serialize, Deserialize)]
pub struct PosePlan {
    /// When.
    pub(crate) tick: Tick,
    /// Whose.
    pub(crate) who: ActorIx,
    /// What is told of it.
    #[getters(copy)]
    pub(crate) pose: Pose,
}

/// Where an actor that something else moves stands, and what else is told of it.
///
/// ```
/// use tin_crown::plan::Pose;
///
/// let pose = Pose::at([120.0, 30.0]).velocity([90.0, 0.0]).grounded(true);
/// assert_eq!(pose.place().x, 120.0);
/// ```
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub struct Pose {
    pub(crate) at: Vec2,
    pub(crate) height: f64,
    pub(crate) facing: Option<Facing>,
    pub(crate) jump: bool,
    pub(crate) velocity: Option<(Vec2, f64)>,
    pub(crate) grounded: bool,
    pub(crate) state: Option<StateIx>,
    pub(crate) attack: Option<AttackTold>,
}

/// What is told of an actor's attacks.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub(crate) struct AttackTold {
    /// The one that it is in, if it is in any.
    pub attack: Option<AttackIx>,
    /// Which of them, where they are counted.
    pub count: Option<u32>,
}

impl Pose {
    /// There, in units; what is not told of it stays as it is, or is found out.
    pub fn at(at: impl Into<Vec2>) -> Pose {
        Pose {
            at: at.into(),
            height: 0.0,
            facing: None,
            jump: false,
            velocity: None,
            grounded: false,
            state: None,
            attack: None,
        }
    }

    /// So high, where the arena has heights.
    #[must_use]
    pub fn height(mut self, height: f64) -> Pose {
        self.height = height;
        self
    }

    /// Facing that way, with angles from +x toward +y, as an [`ActorView`](crate::sim::ActorView) has them. Without
    /// it, the actor faces as before.
    #[must_use]
    pub fn facing(mut self, facing: Facing) -> Pose {
        self.facing = Some(facing);
        self
    }

    /// It comes there without a way: it is touched where it stands, and not on the way.
    #[must_use]
    pub fn jump(mut self) -> Pose {
        self.jump = true;
        self
    }

    /// Its velocity in units a second, which gates and aims ask for. Without it, its way over the tick times the
    /// rate.
    #[must_use]
    pub fn velocity(mut self, velocity: impl Into<Vec2>) -> Pose {
        let up = self.velocity.map_or(0.0, |(_, up)| up);
        self.velocity = Some((velocity.into(), up));
        self
    }

    /// How fast it rises, where the arena has heights, if its velocity is told.
    #[must_use]
    pub fn rising(mut self, up: f64) -> Pose {
        let plane = self.velocity.map_or(Vec2::ZERO, |(plane, _)| plane);
        self.velocity = Some((plane, up));
        self
    }

    /// Whether it stands on something; it does not unless this says so.
    #[must_use]
    pub fn grounded(mut self, grounded: bool) -> Pose {
        self.grounded = grounded;
        self
    }

    /// In that state of its kind. Without it, its own transitions run.
    #[must_use]
    pub fn state(mut self, state: StateIx) -> Pose {
        self.state = Some(state);
        self
    }

    /// In that attack of its kind, which begins on the first tick on which it is told, and is cut short on the first
    /// on which it is not; in none when absent. Without this, its own attacks start as ever.
    #[must_use]
    pub fn attack(mut self, attack: Option<AttackIx>) -> Pose {
        let count = self.attack.and_then(|told| told.count);
        self.attack = Some(AttackTold { attack, count });
        self
    }

    /// Which of its attacks it is in: another number is another attack, though of the same name.
    #[must_use]
    pub fn count(mut self, count: u32) -> Pose {
        let attack = self.attack.and_then(|told| told.attack);
        let count = Some(count);
        self.attack = Some(AttackTold { attack, count });
        self
    }

    /// Where it stands.
    pub fn place(&self) -> Vec2 {
        self.at
    }

    /// Which of its numbers is out of its range, if any is.
    pub(crate) fn beyond(&self) -> Option<(&'static str, limits::Range)> {
        let (plane, up) = self.velocity.unwrap_or_default();
        let numbers = [
            ("its x", self.at.x, limits::COORDINATE),
            ("its y", self.at.y, limits::COORDINATE),
            ("its height", self.height, limits::COORDINATE),
            ("its velocity along x", plane.x, limits::VELOCITY),
            ("its velocity along y", plane.y, limits::VELOCITY),
            ("its velocity upward", up, limits::VELOCITY),
        ];
        let mut beyond = numbers
            .iter()
            .filter(|(_, one, range)| !range.contains(*one));
        beyond.next().map(|(what, _, range)| (*what, *range))
    }

    /// Whether it speaks of a height.
    pub(crate) fn is_high(&self) -> bool {
        self.height != 0.0 || self.velocity.is_some_and(|(_, up)| up != 0.0)
    }
}

impl PosePlan {
    /// The same so much later.
    pub(crate) fn later(&self, shift: Ticks) -> PosePlan {
        PosePlan {
            tick: self.tick + shift,
            ..*self
        }
    }
}

impl ApplyPlan {
    /// The same so much later.
    pub(crate) fn later(&self, shift: Ticks) -> ApplyPlan {
        ApplyPlan {
            tick: self.tick + shift,
            ..self.clone()
        }
    }
}

/// An effect from outside on somebody of a plan.
///
/// # Errors
///
/// When it is impossible, or does nothing.
pub(crate) fn effect_of(
    plan: &Plan,
    written: &Effect,
    by_somebody: bool,
) -> Result<EffectPlan, Findings> {
    let mut check = Checker::new(plan.rate);
    let does = effect(&mut check, &Path::root(), written, by_somebody, &plan.names);
    let mut all = check.findings.iter();
    match all.any(|finding| finding.severity == Severity::Error || finding.code == Code::NoEffect) {
        true => Err(check.findings),
        false => Ok(does),
    }
}

/// An effect from outside, of which nobody's box says how far off somebody is.
fn effect(
    check: &mut Checker,
    base: &Path,
    effect: &Effect,
    by_somebody: bool,
    names: &Names,
) -> EffectPlan {
    let does = hits::effect(check, base, effect, names);
    for (key, damage) in [("damage", &effect.damage), ("heal", &effect.heal)] {
        let Some(damage) = damage else { continue };
        let path = base.key(key);
        if damage.bands.is_some() {
            let message = "`bands` are measured from a hitbox, and an effect from outside has none";
            let finding = Finding::new(Code::NoEffect, path.key("bands"), message).at_key();
            check.report(finding.help("write `amount`"));
        }
        if damage.chain_add.is_some() {
            let message = "an effect from outside is part of no chain";
            let finding = Finding::new(Code::NoEffect, path.key("chain_add"), message);
            check.report(finding.at_key().help("remove it"));
        }
    }
    let push = effect.knockback.filter(|_| !by_somebody);
    let from_who = push.and_then(|push| match (push.away, push.along) {
        (Some(_), _) => Some("away"),
        (_, Some(_)) => Some("along"),
        _ => None,
    });
    if let Some(key) = from_who {
        let message = format!("`{key}` is measured from who, and nobody is named");
        let finding = Finding::new(Code::NoEffect, base.key("knockback").key(key), message);
        check.report(finding.at_key().help("name who, or write `forward`"));
    }
    if !does.is_any() {
        let message = "this effect does nothing";
        let finding = Finding::new(Code::NoEffect, base.clone(), message);
        check.report(finding.help("add damage, heal, kill, knockback, stun or freeze"));
    }
    does
}

/// An effect of a drill, on a tick.
pub(super) fn apply(
    check: &mut Checker,
    base: &Path,
    apply: &Apply,
    tick: Tick,
    world: &World<'_>,
) -> Option<ApplyPlan> {
    let names = world.scope.names;
    let does = effect(check, base, &apply.does, apply.who.is_some(), names);
    let who = match &apply.who {
        Some(who) => Some(named(check, base.key("who"), who, names)?),
        None => None,
    };
    Some(ApplyPlan {
        tick,
        who,
        whom: named(check, base.key("whom"), &apply.whom, names)?,
        does,
    })
}

/// The actor of an id, placed or launched.
fn named(check: &mut Checker, path: Path, id: &str, names: &Names) -> Option<Named> {
    // Only what is launched has two dots in its id.
    let maker = id.split('.').next().unwrap_or_default();
    if id.matches('.').count() < 2 {
        let found = check.find(path, "actor", id, &names.ids);
        return found.map(Named::Placed);
    }
    if names.ids.find(maker).is_some() {
        return Some(Named::Launched(id.into()));
    }
    let message = format!("unknown actor `{maker}` that launches anything");
    let finding = Finding::new(Code::UnknownName, path, message).missing(maker);
    let near = nearest(maker, names.ids.iter());
    check.report(match near {
        Some(near) => finding.help(format!("did you mean `{near}`?")),
        None => finding,
    });
    None
}

/// The place of a name among those of a kind.
fn own_place<'n>(
    check: &mut Checker,
    path: Path,
    what: &str,
    name: &str,
    own: impl Iterator<Item = &'n str> + Clone,
) -> Option<usize> {
    let place = own.clone().position(|own| own == name);
    if place.is_none() {
        let known: Vec<&str> = own.collect();
        check.unknown(path, &format!("{what} of its kind"), name, known);
    }
    place
}

/// A pose of a drill, on a tick.
pub(super) fn pose(
    check: &mut Checker,
    base: &Path,
    input: &PoseInput,
    tick: Tick,
    world: &World<'_>,
) -> Option<PosePlan> {
    let names = world.scope.names;
    let who = check.find(base.key("who"), "actor", &input.who, &names.ids);
    let spec = who.map(|who| &world.specs[world.actors[who.index()].spec.index()]);
    let Scope { up, height, .. } = *world.scope;
    let pose = stance(check, base, &input.stance, (names, spec), (up, height));
    Some(PosePlan {
        tick,
        who: who?,
        pose,
    })
}

/// A pose of an actor of a plan, as it is told while it is played.
///
/// # Errors
///
/// When it is impossible.
pub(crate) fn pose_of(plan: &Plan, who: ActorIx, told: &Stance) -> Result<Pose, Findings> {
    let mut check = Checker::new(plan.rate);
    let of = (&plan.names, Some(plan.spec(who)));
    let arena = (plan.arena.up, plan.arena.height.is_some());
    let pose = stance(&mut check, &Path::root(), told, of, arena);
    match check.findings.is_empty() {
        true => Ok(pose),
        false => Err(check.findings),
    }
}

/// Where an actor of a kind stands, and how, as far as it is known who it is.
fn stance(
    check: &mut Checker,
    base: &Path,
    input: &Stance,
    (names, spec): (&Names, Option<&Spec>),
    (up, high): (Up, bool),
) -> Pose {
    let (at, height) = heights::point(check, &base.key("at"), &input.at);
    let velocity = input.velocity.map(|velocity| {
        let path = base.key("velocity");
        let plane = check.pair(&path, velocity.at, &limits::VELOCITY);
        let up = check.number(path.index(2), velocity.height(), &limits::VELOCITY);
        (Vec2::from(plane), up)
    });
    let above = |point: &Point| point.height() != 0.0;
    for (key, point) in [
        ("at", Some(&input.at)),
        ("velocity", input.velocity.as_ref()),
    ] {
        if !high && point.is_some_and(above) {
            check.report(heights::none(base.key(key)));
        }
    }
    let state = input.state.as_ref().zip(spec).and_then(|(name, spec)| {
        let own = spec.states.iter();
        let own = own.map(|own| names.states[own.name].as_str());
        own_place(check, base.key("state"), "state", name, own).map(StateIx::new)
    });
    let attack = input.attack.as_ref().zip(spec).and_then(|(name, spec)| {
        let own = spec.attacks.iter();
        let own = own.map(|own| names.attacks[own.name].as_str());
        let none = name == NO_ATTACK && !own.clone().any(|own| own == NO_ATTACK);
        let attack = match none {
            true => None,
            false => Some(own_place(check, base.key("attack"), "attack", name, own)?),
        };
        Some(AttackTold {
            attack: attack.map(AttackIx::new),
            count: input.count,
        })
    });
    if input.count.is_some() && input.attack.is_none() {
        let message = "`count` has no effect without `attack`";
        check.report(Finding::new(Code::NoEffect, base.key("count"), message).at_key());
    }
    let rotates = spec.is_some_and(|spec| spec.rotates);
    Pose {
        at,
        height,
        facing: input
            .facing
            .map(|facing| faces::facing(facing, up).of_kind(rotates)),
        jump: input.jump,
        velocity,
        grounded: input.grounded,
        state,
        attack,
    }
}
