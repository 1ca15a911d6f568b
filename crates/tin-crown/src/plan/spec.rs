//! Resolved kinds: all that is the same for every actor of a kind.

use serde::Serialize;
use tin_crown_derive::Getters;

use super::arena::ArenaPlan;
use super::attacks::{self, AttackPlan, BoxSet};
use super::boxes::{BoxPlan, shape};
use super::checker::Checker;
use super::deaths::{self, DeathPlan};
use super::drives::Drive;
use super::faces::{self, FacesPlan};
use super::guard::{self, GuardPlan};
use super::index::{KindIx, MeterIx, SideIx, SortIx, StateIx};
use super::launchers::{self, FlightPlan, LauncherPlan, LeavePlan};
use super::meters::{self, MeterPlan};
use super::motions::Drives;
use super::respawns::{self, RespawnPlan};
use super::routes::RoutePlan;
use super::scope::Scope;
use super::sensors::{self, PickupPlan, SensorPlan};
use super::sprites::{self, SpritePlan};
use super::states::{self, StatePlan};
use crate::amount::Amount;
use crate::encounter::{Against, BoxSpec, Chance, Facing, Kind, Outside, Up};
use crate::finding::{Code, Finding, Path};
use crate::geometry::{Angle, Bounds, HeightSpan};
use crate::limits;
use crate::time::Ticks;

/// A resolved kind, or a placement's variant of one.
#[derive(Clone, Debug, Getters, PartialEq, Serialize)]
pub struct Spec {
    /// The kind.
    pub(crate) kind: KindIx,
    /// Whom it fights for.
    pub(crate) side: Option<SideIx>,
    /// Whether its lives decide the drill.
    pub(crate) player: bool,
    /// Whether it faces any way, and turns; else it faces left or right, mirrored.
    #[serde(skip_serializing_if = "std::ops::Not::not")]
    pub(crate) rotates: bool,
    /// What turns it when it rotates.
    #[serde(skip_serializing_if = "FacesPlan::is_motion")]
    #[getters(copy)]
    pub(crate) faces: FacesPlan,
    /// What collides with solids.
    pub(crate) body: Option<Box<BoxPlan>>,
    /// What bodies collide with.
    pub(crate) solid: Option<Box<BoxPlan>>,
    /// What gives, in the order of names.
    pub(crate) hitboxes: Vec<BoxPlan>,
    /// What takes, in the order of names.
    pub(crate) hurtboxes: Vec<BoxPlan>,
    /// Its meters, in the order of names.
    pub(crate) meters: Vec<MeterPlan>,
    /// How many times the arena's gravity acts on it, when the kind says so.
    pub(crate) gravity: Option<f64>,
    /// The share of its speed that it loses in a second.
    pub(crate) drag: f64,
    /// What drives it.
    #[getters(copy)]
    pub(crate) drive: Drive,
    /// Whether it goes on as it was sent off when it is launched: its kind says nothing of its motion.
    pub(crate) coasts: bool,
    /// The speed of that, when it is drawn by chance.
    pub(crate) pace: Option<Chance<f64>>,
    /// The routes of its motions.
    pub(crate) routes: Vec<RoutePlan>,
    /// Its attacks, in the order of names.
    pub(crate) attacks: Vec<AttackPlan>,
    /// The boxes that attacks make live: they are off otherwise.
    #[getters(copy)]
    pub(crate) by_attack: BoxSet,
    /// The boxes that states make live: they are off otherwise.
    #[getters(copy)]
    pub(crate) by_state: BoxSet,
    /// Its guard.
    pub(crate) guard: Option<Box<GuardPlan>>,
    /// How many thousandths of damage of a type it takes.
    pub(crate) takes: Vec<(SortIx, Amount)>,
    /// How long it is invincible from the tick of a hit that landed.
    pub(crate) after_hit: Ticks,
    /// Against whom that holds.
    #[getters(copy)]
    pub(crate) against: Against,
    /// What becomes of it outside the arena.
    #[getters(copy)]
    pub(crate) outside: Outside,
    /// What it launches, in the order of names.
    pub(crate) launchers: Vec<LauncherPlan>,
    /// How it flies and ends when it is launched.
    #[getters(copy)]
    pub(crate) flight: FlightPlan,
    /// What it leaves behind.
    pub(crate) leaves: Vec<LeavePlan>,
    /// How long it is there.
    pub(crate) lifetime: Option<Ticks>,
    /// What it gives to who touches it.
    pub(crate) pickup: Option<Box<PickupPlan>>,
    /// What it notices, in the order of names.
    pub(crate) sensors: Vec<SensorPlan>,
    /// Its states, in the order of names.
    pub(crate) states: Vec<StatePlan>,
    /// The state it starts in.
    pub(crate) start: Option<StateIx>,
    /// What plays out when it dies.
    pub(crate) death: Vec<DeathPlan>,
    /// How it comes back.
    pub(crate) respawn: Option<Box<RespawnPlan>>,
    /// How long it is invincible from the tick on which it comes back.
    pub(crate) after_respawn: Ticks,
    /// The drawing under its boxes: no part of what is replayed, nor of the digest.
    #[serde(skip)]
    pub(crate) sprite: Option<Box<SpritePlan>>,
}

impl Spec {
    /// The rectangle around all its boxes, on or off, around its position.
    pub fn extent(&self, facing: Facing) -> Bounds {
        let facing = facing.of_kind(self.rotates);
        let boxes = self.hitboxes.iter().chain(&self.hurtboxes);
        boxes
            .chain(self.body.as_deref())
            .chain(self.solid.as_deref())
            .fold(Bounds::EMPTY, |bounds, plan| {
                bounds.joined(plan.shape(facing).bounds())
            })
    }

    /// Whether at a height it is below what the arena's bounds say of height.
    pub(crate) fn is_below(&self, arena: &ArenaPlan, height: f64) -> bool {
        let Some(bounds) = arena.span.filter(|_| arena.height.is_some()) else {
            return false;
        };
        let boxes = self.hitboxes.iter().chain(&self.hurtboxes);
        let tops = boxes.filter_map(|part| part.span).map(|span| span.high);
        let top = match &self.body {
            Some(body) => body.span.map(|span| span.high),
            None => tops.reduce(f64::max).or(Some(0.0)),
        };
        top.is_some_and(|top| top + height < bounds.low)
    }

    /// How far above its own height it ends below: its body, else its boxes.
    pub(crate) fn sole(&self) -> f64 {
        let boxes = self.hitboxes.iter().chain(&self.hurtboxes);
        let lows = boxes.filter_map(|part| part.span).map(|span| span.low);
        let body = self.body.as_ref().and_then(|body| body.span);
        let sole = body.map(|span| span.low).or(lows.reduce(f64::min));
        sole.unwrap_or(0.0)
    }

    /// The span of heights at which one of its boxes is when it stands on a ground at 0, where it has one.
    pub(crate) fn standing(&self, part: &BoxPlan) -> Option<HeightSpan> {
        Some(part.span?.moved(-self.sole()))
    }

    /// The ways that it may face: both, or of who rotates, sixteen evenly about.
    pub fn ways(&self) -> impl Iterator<Item = Facing> + use<> {
        let rotates = self.rotates;
        (0..if rotates { 16 } else { 2 }).map(move |nth| match (rotates, nth) {
            (true, nth) => Facing::Angle(Angle::from_degrees(22.5 * f64::from(nth))),
            (false, 0) => Facing::Right,
            (false, _) => Facing::Left,
        })
    }

    /// The boxes that neither an attack nor a state makes live.
    pub fn always_live(&self) -> BoxSet {
        let all = |boxes: &[BoxPlan]| (0..boxes.len()).fold(0u64, |bits, nth| bits | 1 << nth);
        let own = BoxSet {
            hit: all(&self.hitboxes),
            hurt: all(&self.hurtboxes),
        };
        own.without(self.by_attack.with(self.by_state))
    }

    /// Its acceleration downward under a drive, in units a second squared, in an arena of that
    /// gravity.
    pub(crate) fn fall(&self, drive: &Drive, gravity: f64) -> f64 {
        let usual = if drive.falls() { 1.0 } else { 0.0 };
        self.gravity.unwrap_or(usual) * gravity
    }

    /// The kinds of all that it may bring forth: by its launchers, at its ends, in its death.
    pub(crate) fn offspring(&self) -> impl Iterator<Item = KindIx> {
        let launched = self.launchers.iter().map(|launcher| launcher.launches);
        let left = self.leaves.iter().map(|leave| leave.kind);
        launched
            .chain(left)
            .chain(self.death.iter().flat_map(DeathPlan::kinds))
    }

    /// How many ways lead from one of its states to another.
    pub(crate) fn transitions(&self) -> usize {
        self.states.iter().map(|state| state.go.len()).sum()
    }

    /// Bits of the attacks and launchers that act only in the states that name them.
    pub(crate) fn by_states(&self) -> (u64, u64) {
        let states = self.states.iter();
        states.fold((0, 0), |(attacks, launchers), state| {
            (attacks | state.attacks, launchers | state.launchers)
        })
    }

    /// Damage of a type after the kind's factor, rounded half up to thousandths.
    pub(crate) fn taken(&self, amount: Amount, sort: Option<SortIx>) -> Amount {
        let factor = sort.and_then(|sort| self.takes.iter().find(|(own, _)| *own == sort));
        factor.map_or(amount, |(_, times)| amount.times(*times))
    }

    /// Where its meter of that name stands among its meters.
    pub fn meter(&self, name: MeterIx) -> Option<usize> {
        self.meters.iter().position(|meter| meter.name == name)
    }
}

/// Resolves a kind whose `like` is already laid beneath it. `base` is where it is written.
pub(super) fn resolve(
    check: &mut Checker,
    base: &Path,
    index: KindIx,
    kind: &Kind,
    scope: &Scope<'_>,
) -> Spec {
    let [hitboxes, hurtboxes] = named_boxes(check, base, kind, scope.up);
    let (rotates, faces) = faces::of_kind(check, base, kind, scope);
    let mut single = |key: &'static str, spec: &Option<BoxSpec>| {
        let spec = spec.as_ref()?;
        shape(check, &base.key(key), key, spec, scope.up, kind.lifetime).map(Box::new)
    };
    let body = single("body", &kind.body);
    let solid = single("solid", &kind.solid);
    solid_alone(check, base, kind);
    let gravity = kind
        .gravity
        .map(|gravity| check.number(base.key("gravity"), gravity, &limits::FACTOR));
    let drag = check.number(base.key("drag"), kind.drag.unwrap_or(0.0), &limits::DRAG);
    let [after_hit, after_respawn] = grace(check, base, kind);
    let side = kind.side.as_deref().and_then(|side| {
        check.name(base.key("side"), side, "a side");
        scope.names.sides.find(side)
    });
    let boxes = attacks::Boxes {
        hit: &hitboxes,
        hurt: &hurtboxes,
    };
    let attacks = attacks::resolve(check, base, kind, &boxes, scope);
    let guard = kind.guard.as_ref();
    let guard = guard.map(|guard| guard::resolve(check, base, kind, guard, scope));
    let live = attacks.iter().flat_map(|attack| attack.live);
    let by_attack = live.fold(BoxSet::default(), BoxSet::with);
    let mut drives = Drives {
        scope,
        routes: Vec::new(),
    };
    let (drive, pace) = drives.of_kind(check, base, kind);
    let parts = states::Parts {
        kind,
        scope,
        boxes: &boxes,
    };
    let (states, start) = states::resolve(check, base, &parts, &mut drives);
    let live = states.iter().map(|state| state.live);
    let by_state = live.fold(BoxSet::default(), BoxSet::with);
    let others = kind.launchers.len() + kind.leaves.as_ref().map_or(0, |leaves| leaves.len());
    let death = deaths::resolve(check, base, kind, &boxes, &mut drives, others);
    let sprite = sprites::of_kind(check, base, kind, (&attacks, &death), scope.up);
    let respawn = kind.respawn.as_ref();
    let respawn = respawn.map(|respawn| respawns::resolve(check, base, respawn, scope));
    let flight = kind.flight.as_ref();
    let flight = flight.map(|flight| launchers::flight(check, base, flight));
    let pickup = kind
        .pickup
        .as_ref()
        .and_then(|pickup| sensors::pickup(check, base, pickup, scope, rotates))
        .map(Box::new);
    Spec {
        kind: index,
        side,
        player: kind.player.unwrap_or(false),
        rotates,
        faces,
        body,
        solid,
        hitboxes,
        hurtboxes,
        meters: meters::resolve(check, base, kind, scope),
        gravity,
        drag,
        drive,
        coasts: kind.motion.is_none() && kind.walk.is_none(),
        pace,
        routes: drives.routes,
        attacks,
        by_attack,
        by_state,
        guard: guard.map(Box::new),
        takes: takes(check, base, kind, scope),
        after_hit,
        against: kind.invincible.against.unwrap_or_default(),
        outside: kind.outside.unwrap_or_default(),
        launchers: launchers::resolve(check, base, kind, scope),
        flight: flight.unwrap_or_default(),
        leaves: launchers::leaves(check, base, kind, scope),
        lifetime: lifetime(check, base, kind),
        pickup,
        sensors: sensors::resolve(check, base, kind, scope),
        states,
        start,
        death,
        respawn: respawn.map(Box::new),
        after_respawn,
        sprite,
    }
}

/// Its hitboxes and hurtboxes.
fn named_boxes(check: &mut Checker, base: &Path, kind: &Kind, up: Up) -> [Vec<BoxPlan>; 2] {
    [("hitbox", &kind.hitboxes), ("hurtbox", &kind.hurtboxes)].map(|(key, boxes)| {
        let base = base.key(key);
        let of = boxes.iter();
        of.filter_map(|(name, spec)| {
            let path = base.named(name);
            check.name(path.clone(), name, "a box");
            let plan = shape(check, &path, name, spec, up, kind.lifetime)?;
            Some(plan.of_kind(faces::rotates(kind)))
        })
        .collect()
    })
}

/// How long it is invincible after a hit, and after a respawn.
fn grace(check: &mut Checker, base: &Path, kind: &Kind) -> [Ticks; 2] {
    let base = base.key("invincible");
    let windows = [
        ("after_hit", kind.invincible.after_hit),
        ("after_respawn", kind.invincible.after_respawn),
    ];
    windows.map(|(key, length)| {
        length.map_or(Ticks(0), |length| check.duration(base.key(key), length))
    })
}

/// Reports a solid that is no upright rectangle, or that has a body, too.
fn solid_alone(check: &mut Checker, base: &Path, kind: &Kind) {
    let Some(solid) = &kind.solid else { return };
    let quarters = solid.turn.unwrap_or(0.0) / 90.0;
    if solid.size.is_none() || quarters != quarters.trunc() {
        check.report(Finding::new(
            Code::BadShape,
            base.key("solid"),
            "a solid must be an upright rectangle: `size`, and `turn` in steps of 90",
        ));
    }
    if kind.body.is_some() {
        check.report(Finding::new(
            Code::Contradiction,
            base.key("solid"),
            "an actor cannot be both a `body` and a `solid`",
        ));
    }
}

/// How many times a kind takes damage of each type.
fn takes(
    check: &mut Checker,
    base: &Path,
    kind: &Kind,
    scope: &Scope<'_>,
) -> Vec<(SortIx, Amount)> {
    let mut takes = Vec::new();
    for (sort, times) in &kind.takes {
        let path = base.key("takes").named(sort);
        let times = check.number(path.clone(), *times, &limits::TIMES);
        let times = check.amount(path.clone(), times);
        let (what, sorts) = ("type of damage in any rule", &scope.names.sorts);
        let sort = scope.find(check, path, what, sort, sorts);
        takes.extend(sort.map(|sort| (sort, times)));
    }
    takes
}

fn lifetime(check: &mut Checker, base: &Path, kind: &Kind) -> Option<Ticks> {
    let lifetime = kind
        .lifetime
        .map(|lifetime| check.duration(base.key("lifetime"), lifetime));
    if lifetime == Some(Ticks(0)) {
        let message = "`lifetime` must be above zero";
        check.report(Finding::new(
            Code::OutOfRange,
            base.key("lifetime"),
            message,
        ));
    }
    lifetime
}
