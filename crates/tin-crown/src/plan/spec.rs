//! Resolved kinds: all that is the same for every actor of a kind.

use std::collections::BTreeMap;

use serde::Serialize;

use super::attacks::{self, AttackPlan, BoxSet};
use super::boxes::{BoxPlan, shape};
use super::checker::Checker;
use super::guard::{self, GuardPlan};
use super::index::{ButtonIx, KindIx, MeterIx, SideIx, SortIx};
use crate::amount::Amount;
use crate::encounter::{Against, Axis, BoxSpec, Facing, Kind, Motion, Outside, Up, Walk};
use crate::finding::{Code, Finding, Path};
use crate::geometry::Bounds;
use crate::limits;
use crate::time::Ticks;

/// A resolved kind, or a placement's variant of one.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Spec {
    /// The kind.
    pub kind: KindIx,
    /// Whom it fights for.
    pub side: Option<SideIx>,
    /// Whether its lives decide the drill.
    pub player: bool,
    /// What collides with solids.
    pub body: Option<Box<BoxPlan>>,
    /// What bodies collide with.
    pub solid: Option<Box<BoxPlan>>,
    /// What gives, in the order of names.
    pub hitboxes: Vec<BoxPlan>,
    /// What takes, in the order of names.
    pub hurtboxes: Vec<BoxPlan>,
    /// Its meters, in the order of names.
    pub meters: Vec<MeterPlan>,
    /// Its acceleration downward, in units a second squared.
    pub fall: f64,
    /// What drives it.
    pub drive: Drive,
    /// Its attacks, in the order of names.
    pub attacks: Vec<AttackPlan>,
    /// The boxes that attacks make live: they are off otherwise.
    pub by_attack: BoxSet,
    /// Its guard.
    pub guard: Option<Box<GuardPlan>>,
    /// How many thousandths of damage of a type it takes.
    pub takes: Vec<(SortIx, Amount)>,
    /// How long it is invincible from the tick of a hit that landed.
    pub after_hit: Ticks,
    /// Against whom that holds.
    pub against: Against,
    /// What becomes of it outside the arena.
    pub outside: Outside,
}

/// A resolved meter.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct MeterPlan {
    /// Its name.
    pub name: MeterIx,
    /// The most it holds.
    pub max: Amount,
    /// What it holds at the start.
    pub start: Amount,
}

/// What drives an actor: its own motion.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub enum Drive {
    /// It stays.
    Still,
    /// To and fro.
    Patrol {
        /// Along which axis.
        axis: Axis,
        /// The lesser turning point.
        low: f64,
        /// The greater turning point.
        high: f64,
        /// Units a second.
        speed: f64,
    },
    /// By buttons.
    Walk {
        /// Units a second.
        speed: f64,
        /// Units a second squared; at once when absent.
        accel: Option<f64>,
        /// Units a second squared; at once when absent.
        brake: Option<f64>,
        /// Units a second upward; no jump when absent.
        jump: Option<f64>,
    },
}

impl Spec {
    /// The rectangle around all its boxes, on or off, around its position.
    pub fn extent(&self, facing: Facing) -> Bounds {
        let boxes = self.hitboxes.iter().chain(&self.hurtboxes);
        boxes
            .chain(self.body.as_deref())
            .chain(self.solid.as_deref())
            .fold(Bounds::EMPTY, |bounds, plan| {
                bounds.joined(plan.shape(facing).bounds())
            })
    }

    /// What damage of a type comes to: rounded half up to thousandths.
    pub(crate) fn taken(&self, amount: Amount, sort: Option<SortIx>) -> Amount {
        let factor = sort.and_then(|sort| self.takes.iter().find(|(own, _)| *own == sort));
        factor.map_or(amount, |(_, times)| amount.times(*times))
    }

    /// Where its meter of that name stands among its meters.
    pub fn meter(&self, name: MeterIx) -> Option<usize> {
        self.meters.iter().position(|meter| meter.name == name)
    }
}

/// What specs need to know of the rest of the plan.
pub(super) struct Names<'a> {
    pub sides: &'a [String],
    pub meters: &'a [String],
    pub attacks: &'a [String],
    pub sorts: &'a [String],
    pub buttons: &'a [String],
    pub up: Up,
    pub gravity: f64,
}

impl Names<'_> {
    /// A button, which is known because somebody names it.
    pub fn button(&self, name: &str) -> ButtonIx {
        let found = self.buttons.iter().position(|known| known == name);
        ButtonIx::new(found.unwrap_or(0))
    }
}

/// Resolves a kind whose `like` is already laid beneath it. `base` is where it is written.
pub(super) fn resolve(
    check: &mut Checker,
    base: &Path,
    index: KindIx,
    kind: &Kind,
    names: &Names<'_>,
) -> Spec {
    let mut named = |key: &str, boxes: &BTreeMap<String, BoxSpec>| -> Vec<BoxPlan> {
        let base = base.key(key);
        check.at_most(
            base.clone(),
            boxes.len(),
            limits::BOXES,
            "boxes of one sort",
        );
        let of = boxes.iter().take(limits::BOXES);
        of.filter_map(|(name, spec)| {
            let path = base.key(name);
            check.name(path.clone(), name, "a box");
            shape(check, &path, name, spec, names.up)
        })
        .collect()
    };
    let hitboxes = named("hitbox", &kind.hitboxes);
    let hurtboxes = named("hurtbox", &kind.hurtboxes);
    let mut single = |key: &str, spec: &Option<BoxSpec>| {
        let spec = spec.as_ref()?;
        shape(check, &base.key(key), key, spec, names.up).map(Box::new)
    };
    let body = single("body", &kind.body);
    let solid = single("solid", &kind.solid);
    let upright = |spec: &BoxSpec| {
        let quarters = spec.turn.unwrap_or(0.0) / 90.0;
        spec.size.is_some() && quarters == quarters.trunc()
    };
    if kind.solid.as_ref().is_some_and(|spec| !upright(spec)) {
        check.report(Finding::new(
            Code::BadShape,
            base.key("solid"),
            "a solid is an upright rectangle: give it a `size`, and no `turn` but quarters",
        ));
    }
    if let (Some(_), Some(_)) = (&body, &solid) {
        check.report(Finding::new(
            Code::Contradiction,
            base.key("solid"),
            "who has a body meets solids, and a solid meets none: it cannot be both",
        ));
    }
    let walks = kind.walk.is_some();
    let gravity = kind.gravity.unwrap_or(if walks { 1.0 } else { 0.0 });
    let gravity = check.number(base.key("gravity"), gravity, &limits::FACTOR);
    let after_hit = kind.invincible.after_hit.map_or(Ticks(0), |length| {
        check.duration(base.key("invincible").key("after_hit"), length)
    });
    let side = kind.side.as_deref().and_then(|side| {
        check.name(base.key("side"), side, "a side");
        position(names.sides, side).map(SideIx::new)
    });
    let boxes = attacks::Boxes {
        hit: &hitboxes,
        hurt: &hurtboxes,
    };
    let attacks = attacks::resolve(check, base, kind, &boxes, names);
    let guard = kind
        .guard
        .as_ref()
        .map(|guard| Box::new(guard::resolve(check, base, kind, guard, names)));
    let mut takes = Vec::new();
    for (sort, times) in &kind.takes {
        let path = base.key("takes").key(sort);
        let times = check.number(path.clone(), *times, &limits::TIMES);
        let times = check.amount(path.clone(), times);
        match position(names.sorts, sort) {
            Some(index) => takes.push((SortIx::new(index), times)),
            None => {
                let known = names.sorts.iter().map(String::as_str);
                check.unknown(path, "type of damage in any rule", sort, known);
            }
        }
    }
    let live = attacks.iter().flat_map(|attack| attack.live);
    let by_attack = live.fold(BoxSet::default(), BoxSet::with);
    Spec {
        kind: index,
        side,
        player: kind.player.unwrap_or(false),
        body,
        solid,
        hitboxes,
        hurtboxes,
        meters: meters(check, base, kind, names),
        fall: gravity * names.gravity,
        drive: drive(check, base, kind),
        attacks,
        by_attack,
        guard,
        takes,
        after_hit,
        against: kind.invincible.against.unwrap_or_default(),
        outside: kind.outside.unwrap_or_default(),
    }
}

fn position(names: &[String], name: &str) -> Option<usize> {
    names
        .binary_search_by(|known| known.as_str().cmp(name))
        .ok()
}

fn meters(check: &mut Checker, base: &Path, kind: &Kind, names: &Names<'_>) -> Vec<MeterPlan> {
    let base = base.key("meter");
    check.at_most(base.clone(), kind.meters.len(), limits::METERS, "meters");
    let mut meters = Vec::new();
    for (name, spec) in &kind.meters {
        let path = base.key(name);
        check.name(path.clone(), name, "a meter");
        let Some(max) = spec.max else {
            check.report(
                Finding::new(Code::MissingKey, path, format!("`{name}` has no `max`")).at_key(),
            );
            continue;
        };
        let max = check.amount(path.key("max"), max);
        let start = spec
            .start
            .map_or(max, |start| check.amount(path.key("start"), start));
        if max == Amount::ZERO {
            check.report(
                Finding::new(
                    Code::BadMeter,
                    path.key("max"),
                    format!("`{name}` can hold nothing"),
                )
                .help("give it a `max` above 0"),
            );
        } else if start > max {
            let message = format!("`{name}` starts with {start} and holds {max} at the most");
            check.report(Finding::new(Code::BadMeter, path.key("start"), message));
        } else if name == super::HEALTH && start == Amount::ZERO {
            check.report(
                Finding::new(
                    Code::BadMeter,
                    path.key("start"),
                    "who starts without health is dead before the drill begins",
                )
                .help("leave `start` out, or make it more than 0"),
            );
        }
        if let Some(index) = position(names.meters, name) {
            meters.push(MeterPlan {
                name: MeterIx::new(index),
                max,
                start,
            });
        }
    }
    meters
}

fn drive(check: &mut Checker, base: &Path, kind: &Kind) -> Drive {
    match (&kind.walk, &kind.motion) {
        (Some(_), Some(Motion::Patrol(_))) => {
            check.report(
                Finding::new(
                    Code::Contradiction,
                    base.key("motion"),
                    "who walks by buttons cannot patrol as well",
                )
                .help("leave out `walk` or `motion`"),
            );
            Drive::Still
        }
        (Some(walk), _) => walking(check, &base.key("walk"), walk),
        (None, Some(Motion::Patrol(patrol))) => {
            let base = base.key("motion").key("patrol");
            let (Some(between), Some(speed)) = (patrol.between, patrol.speed) else {
                let message = "a patrol needs `between` (two coordinates) and `speed`";
                check.report(
                    Finding::new(Code::MissingKey, base, message)
                        .at_key()
                        .help("for example: patrol = { between = [200, 330], speed = 40 }"),
                );
                return Drive::Still;
            };
            let [a, b] = check.pair(&base.key("between"), between, &limits::COORDINATE);
            Drive::Patrol {
                axis: patrol.axis.unwrap_or_default(),
                low: a.min(b),
                high: a.max(b),
                speed: check.number(base.key("speed"), speed, &limits::SPEED),
            }
        }
        (None, Some(Motion::Still) | None) => Drive::Still,
    }
}

fn walking(check: &mut Checker, base: &Path, walk: &Walk) -> Drive {
    if walk.speed.is_none() {
        let message = "a walk needs a `speed`";
        check.report(
            Finding::new(Code::MissingKey, base.clone(), message)
                .at_key()
                .help("for example: walk = { speed = 90, jump = 320 }"),
        );
    }
    let mut number = |key: &str, value: Option<f64>, range| {
        value.map(|value| check.number(base.key(key), value, range))
    };
    let accel = number("accel", walk.accel, &limits::ACCELERATION);
    Drive::Walk {
        speed: number("speed", walk.speed, &limits::SPEED).unwrap_or(0.0),
        accel,
        brake: number("brake", walk.brake, &limits::ACCELERATION).or(accel),
        jump: number("jump", walk.jump, &limits::SPEED),
    }
}
