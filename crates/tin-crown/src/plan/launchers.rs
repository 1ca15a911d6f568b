//! Resolved launchers, how launched things fly and end, and what they leave behind.

use serde::Serialize;
use tin_crown_derive::Getters;

use super::attacks::{Start, Starter};
use super::checker::Checker;
use super::drives::Target;
use super::heights::{self, is_zero};
use super::index::{CueIx, KindIx, MeterIx};
use super::scope::Scope;
use crate::amount::Amount;
use crate::encounter::{Aim, Ammo, Chance, Ending, EndsOn, FlightSpec, Kind, LauncherSpec, Volley};
use crate::finding::{Code, Finding, Path};
use crate::geometry::Vec2;
use crate::limits;
use crate::time::Ticks;

/// A resolved launcher.
#[derive(Clone, Debug, Getters, PartialEq, Serialize)]
pub struct LauncherPlan {
    /// Its name.
    pub(crate) name: String,
    /// The kind of what it launches.
    pub(crate) launches: KindIx,
    /// What sets it off.
    #[getters(copy)]
    pub(crate) starts: Start,
    /// Where it sets things down, facing right.
    pub(crate) muzzle: Vec2,
    /// How far above its owner.
    #[serde(skip_serializing_if = "is_zero")]
    pub(crate) muzzle_rise: f64,
    /// How fast upward, when it is not aimed at another, in units a second.
    #[serde(skip_serializing_if = "is_zero")]
    pub(crate) rise: f64,
    /// Where it points.
    #[getters(copy)]
    pub(crate) aim: AimPlan,
    /// How fast, in units a second.
    pub(crate) speed: Chance<f64>,
    /// How many degrees either way it may be off.
    pub(crate) spread: f64,
    /// How many at once.
    pub(crate) count: u32,
    /// The angle between the first and the last of them, in degrees.
    pub(crate) fan: f64,
    /// How often it launches once it is set off.
    pub(crate) shots: u32,
    /// From one launch of a volley to the next.
    pub(crate) every: Ticks,
    /// How long after the last it cannot be set off again.
    pub(crate) cooldown: Ticks,
    /// What each launch costs.
    pub(crate) ammo: Option<(MeterIx, Amount)>,
    /// How many of its things may be there at once.
    pub(crate) in_flight: Option<u32>,
    /// Whether what it launches is one attack for its whole flight.
    pub(crate) shot: bool,
    /// What is announced with each launch.
    pub(crate) cue: Option<CueIx>,
    /// What is announced when it cannot pay.
    pub(crate) dry: Option<CueIx>,
}

/// Where a launcher points.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
pub enum AimPlan {
    /// The way its owner faces.
    Facing,
    /// So many degrees from that, positive toward up.
    Angle(f64),
    /// At an actor where it stands.
    At(Target),
    /// Where they will be when the shot gets there.
    Lead(Target),
}

/// How something launched flies and ends.
#[derive(Clone, Copy, Debug, Default, Getters, PartialEq, Serialize)]
pub struct FlightPlan {
    /// How many it may hit, when the kind says so.
    pub(crate) targets: Option<u32>,
    /// The least time between two hits on one target, when it hits several times.
    pub(crate) every: Option<Ticks>,
    /// How often it bounces.
    pub(crate) bounces: u32,
    /// The share of the speed across a solid that it keeps.
    pub(crate) keeps: f64,
    /// Whether hit, solid and edge end it, when the kind says so.
    pub(crate) ends_on: Option<[bool; 3]>,
}

/// What is left behind at an end.
#[derive(Clone, Copy, Debug, Eq, Getters, PartialEq, Serialize)]
pub struct LeavePlan {
    /// The kind of what is left.
    pub(crate) kind: KindIx,
    /// At which ends, in their order.
    pub(crate) on: [bool; ENDINGS.len()],
    /// Whether it is one attack while it is there.
    pub(crate) shot: bool,
}

/// Every way to end, in their order.
pub(crate) const ENDINGS: [Ending; 7] = [
    Ending::Hit,
    Ending::Solid,
    Ending::Edge,
    Ending::Lifetime,
    Ending::State,
    Ending::Death,
    Ending::Taken,
];

impl FlightPlan {
    /// Whether an end of that sort is one for it.
    pub(crate) fn ends_at(&self, ending: Ending, shot: bool) -> bool {
        let ends = self.ends_on.unwrap_or([shot; 3]);
        ENDINGS[..3]
            .iter()
            .position(|own| *own == ending)
            .is_some_and(|nth| ends[nth])
    }

    /// How many it may hit.
    pub(crate) fn most_targets(&self, shot: bool) -> Option<u32> {
        self.targets.or(shot.then_some(1))
    }
}

impl LeavePlan {
    /// Whether it is left at that end.
    pub(crate) fn comes_of(&self, ending: Ending) -> bool {
        ENDINGS
            .iter()
            .zip(self.on)
            .any(|(own, on)| on && *own == ending)
    }
}

pub(super) fn resolve(
    check: &mut Checker,
    base: &Path,
    kind: &Kind,
    scope: &Scope<'_>,
) -> Vec<LauncherPlan> {
    let base = base.key("launcher");
    let all = kind.launchers.iter();
    all.map(|(name, launcher)| {
        let path = base.named(name);
        check.name(path.clone(), name, "a launcher");
        one(check, &path, name, launcher, kind, scope)
    })
    .collect()
}

fn one(
    check: &mut Checker,
    base: &Path,
    name: &str,
    launcher: &LauncherSpec,
    kind: &Kind,
    scope: &Scope<'_>,
) -> LauncherPlan {
    let starts = super::attacks::start(
        check,
        base,
        &Starter {
            name,
            button: launcher.button.as_deref(),
            on: launcher.on,
            clock: launcher.clock.as_ref(),
            by_state: super::attacks::names_it(
                name,
                kind.states
                    .values()
                    .flat_map(|state| state.launchers.iter().flatten()),
                kind.launchers.keys(),
            ),
            list: "launchers",
        },
        scope,
    );
    if matches!(starts, Start::Hold(_)) && launcher.cooldown.is_none() {
        let message = format!("`{name}` launches on every tick that its button is held");
        check.report(
            Finding::new(Code::ShotsWithoutEnd, base.key("on"), message)
                .help("add a `cooldown`, or use `on = \"press\"`"),
        );
    }
    let (muzzle, muzzle_rise, rise) = self::muzzle(check, base, launcher);
    let aim = aim(check, &base.key("aim"), launcher.aim.as_ref(), scope);
    let speed = launcher.speed.clone().unwrap_or_default();
    let speed = check.chance(&base.key("speed"), &speed, |check, path, speed| {
        check.number(path, *speed, &limits::SPEED)
    });
    let mut angle = |key: &'static str, angle: Option<f64>| {
        check.number(base.key(key), angle.unwrap_or(0.0), &limits::ARC)
    };
    let (spread, fan) = (angle("spread", launcher.spread), angle("fan", launcher.fan));
    let count = at_once(check, base.key("count"), launcher.count);
    if launcher.fan.is_some() && count < 2 {
        let message = "`fan` needs a `count` above 1";
        check.report(Finding::new(Code::NoEffect, base.key("fan"), message));
    }
    let (shots, every) = volley(
        check,
        &base.key("volley"),
        launcher.volley.unwrap_or_default(),
    );
    if launcher.in_flight == Some(0) {
        let message = format!("`{name}` can never launch anything");
        check.report(Finding::new(
            Code::OutOfRange,
            base.key("in_flight"),
            message,
        ));
    }
    let cooldown = launcher.cooldown.map_or(Ticks(0), |cooldown| {
        check.duration(base.key("cooldown"), cooldown)
    });
    let ammo = launcher.ammo.as_ref();
    let ammo = ammo.and_then(|ammo| self::ammo(check, &base.key("ammo"), ammo, kind, scope));
    if launcher.dry.is_some() && launcher.ammo.is_none() {
        let message = "`dry` needs `ammo`";
        check.report(Finding::new(Code::NoEffect, base.key("dry"), message));
    }
    LauncherPlan {
        name: name.to_owned(),
        // Any kind keeps the launcher, so that others who name its button are not blamed.
        launches: launched(check, base, name, launcher, scope).unwrap_or(KindIx(0)),
        starts,
        muzzle,
        muzzle_rise,
        rise,
        aim,
        speed,
        spread,
        count,
        fan,
        shots,
        every,
        cooldown,
        ammo,
        in_flight: launcher.in_flight,
        shot: launcher.shot.unwrap_or(true),
        cue: scope.cue(check, base.key("cue"), launcher.cue.as_deref()),
        dry: scope.cue(check, base.key("dry"), launcher.dry.as_deref()),
    }
}

/// Where a launcher sets things down: in the plane, how far above its owner, and how fast upward.
fn muzzle(check: &mut Checker, base: &Path, launcher: &LauncherSpec) -> (Vec2, f64, f64) {
    let (path, muzzle) = (base.key("muzzle"), launcher.muzzle.unwrap_or_default());
    let at = check.pair(&path, muzzle.at, &limits::COORDINATE).into();
    let height = heights::of_point(check, &path, &muzzle);
    let rise = launcher.rise.unwrap_or(0.0);
    (
        at,
        height,
        check.number(base.key("rise"), rise, &limits::VELOCITY),
    )
}

/// How many at once.
fn at_once(check: &mut Checker, path: Path, count: Option<u32>) -> u32 {
    let count = count.unwrap_or(1);
    check.number(path, f64::from(count), &limits::AT_ONCE);
    count.max(1)
}

/// How many one after the other, and the time between them.
fn volley(check: &mut Checker, base: &Path, volley: Volley) -> (u32, Ticks) {
    let shots = at_once(check, base.key("shots"), volley.shots);
    let every = volley
        .every
        .map_or(Ticks(0), |every| check.duration(base.key("every"), every));
    (shots, every.max(Ticks(1)))
}

/// The meter that pays, and how much.
fn ammo(
    check: &mut Checker,
    base: &Path,
    ammo: &Ammo,
    kind: &Kind,
    scope: &Scope<'_>,
) -> Option<(MeterIx, Amount)> {
    let cost = ammo.cost.map_or(Amount::whole(1), |cost| {
        check.amount(base.key("cost"), cost)
    });
    let meter = scope.own_meter(check, base.key("meter"), &ammo.meter, kind)?;
    Some((meter, cost))
}

/// The kind that it launches.
fn launched(
    check: &mut Checker,
    base: &Path,
    name: &str,
    launcher: &LauncherSpec,
    scope: &Scope<'_>,
) -> Option<KindIx> {
    if let Some(kind) = &launcher.launches {
        return scope.kind(check, base.key("launches"), kind);
    }
    let message = format!("`{name}` launches nothing");
    check.report(
        Finding::new(Code::MissingKey, base.clone(), message)
            .at_key()
            .help("add launches = \"…\""),
    );
    None
}

fn aim(check: &mut Checker, base: &Path, aim: Option<&Aim>, scope: &Scope<'_>) -> AimPlan {
    match aim {
        None | Some(Aim::Facing) => AimPlan::Facing,
        Some(Aim::Angle(angle)) => {
            AimPlan::Angle(check.number(base.key("angle"), *angle, &limits::ANGLE))
        }
        Some(Aim::At(text)) => scope
            .target(check, &base.key("at"), text)
            .map_or(AimPlan::Facing, AimPlan::At),
        Some(Aim::Lead(text)) => scope
            .target(check, &base.key("lead"), text)
            .map_or(AimPlan::Facing, AimPlan::Lead),
    }
}

pub(super) fn flight(check: &mut Checker, base: &Path, flight: &FlightSpec) -> FlightPlan {
    let base = base.key("flight");
    if flight.targets == Some(0) {
        let message = "this can hit nobody: `targets` is 0";
        check.report(Finding::new(Code::OutOfRange, base.key("targets"), message));
    }
    let keeps = check.number(
        base.key("keeps"),
        flight.keeps.unwrap_or(1.0),
        &limits::SHARE,
    );
    if flight.keeps.is_some() && flight.bounces.is_none() {
        let message = "`keeps` needs `bounces`";
        check.report(Finding::new(Code::NoEffect, base.key("keeps"), message));
    }
    FlightPlan {
        targets: flight.targets,
        every: flight
            .every
            .map(|every| check.duration(base.key("every"), every)),
        bounces: flight.bounces.unwrap_or(0),
        keeps,
        ends_on: flight
            .ends_on
            .as_ref()
            .map(|ends| [EndsOn::Hit, EndsOn::Solid, EndsOn::Edge].map(|end| ends.contains(&end))),
    }
}

pub(super) fn leaves(
    check: &mut Checker,
    base: &Path,
    kind: &Kind,
    scope: &Scope<'_>,
) -> Vec<LeavePlan> {
    let base = base.key("leaves");
    let all = kind.leaves.as_deref().unwrap_or_default();
    let mut plans = Vec::new();
    for (nth, leave) in all.iter().enumerate() {
        let path = base.index(nth);
        if kind.launchers.contains_key(&leave.kind) {
            let message = format!(
                "a launcher of this kind is also called `{}`: what they launch would have the same ids",
                leave.kind
            );
            check.report(Finding::new(Code::Duplicate, path.key("kind"), message));
        }
        if let Some(kind) = scope.kind(check, path.key("kind"), &leave.kind) {
            plans.push(LeavePlan {
                kind,
                on: ENDINGS.map(|ending| {
                    let on = leave.on.as_ref();
                    on.is_none_or(|on| on.contains(&ending))
                }),
                shot: leave.shot,
            });
        }
    }
    plans
}
