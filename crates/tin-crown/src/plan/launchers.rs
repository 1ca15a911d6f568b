//! Resolved launchers, how launched things fly and end, and what they leave behind.

use serde::Serialize;
use tin_crown_derive::Getters;

use super::attacks::{Start, Starter};
use super::checker::Checker;
use super::drives::Target;
use super::index::{CueIx, KindIx, MeterIx};
use super::spec::{Names, position};
use crate::amount::Amount;
use crate::encounter::{Aim, Chance, Ending, EndsOn, FlightSpec, Kind, LauncherSpec};
use crate::finding::{Code, Finding, Path};
use crate::geometry::Vec2;
use crate::limits;
use crate::nearest::nearest;
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
    /// At somebody as they stand.
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
    names: &Names<'_>,
) -> Vec<LauncherPlan> {
    let base = base.key("launcher");
    let all = kind.launchers.iter();
    all.map(|(name, launcher)| {
        let path = base.key(name);
        check.name(path.clone(), name, "a launcher");
        one(check, &path, name, launcher, kind, names)
    })
    .collect()
}

fn one(
    check: &mut Checker,
    base: &Path,
    name: &str,
    launcher: &LauncherSpec,
    kind: &Kind,
    names: &Names<'_>,
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
        names,
    );
    if matches!(starts, Start::Hold(_)) && launcher.cooldown.is_none() {
        let message = format!("`{name}` launches on every tick that its button is held");
        check.report(
            Finding::new(Code::ShotsWithoutEnd, base.key("on"), message)
                .help("add a `cooldown`, or use `on = \"press\"`"),
        );
    }
    let muzzle = launcher.muzzle.unwrap_or_default();
    let muzzle = check
        .pair(&base.key("muzzle"), muzzle, &limits::COORDINATE)
        .into();
    let aim = aim(check, &base.key("aim"), launcher.aim.as_ref(), names);
    let speed = launcher.speed.clone().unwrap_or_default();
    let speed = check.chance(&base.key("speed"), &speed, |check, path, speed| {
        check.number(path, *speed, &limits::SPEED)
    });
    let mut angle = |key: &str, angle: Option<f64>| {
        check.number(base.key(key), angle.unwrap_or(0.0), &limits::ARC)
    };
    let (spread, fan) = (angle("spread", launcher.spread), angle("fan", launcher.fan));
    let mut count = |path: Path, count: Option<u32>| {
        let count = count.unwrap_or(1);
        check.number(path, f64::from(count), &limits::AT_ONCE);
        count.max(1)
    };
    let number = count(base.key("count"), launcher.count);
    let volley = launcher.volley.unwrap_or_default();
    let shots = count(base.key("volley").key("shots"), volley.shots);
    if launcher.fan.is_some() && number < 2 {
        let message = "`fan` needs a `count` above 1";
        check.report(Finding::new(Code::NoEffect, base.key("fan"), message));
    }
    if launcher.in_flight == Some(0) {
        let message = format!("`{name}` can never launch anything");
        check.report(Finding::new(
            Code::OutOfRange,
            base.key("in_flight"),
            message,
        ));
    }
    let every = volley.every.map_or(Ticks(0), |every| {
        check.duration(base.key("volley").key("every"), every)
    });
    let cooldown = launcher.cooldown.map_or(Ticks(0), |cooldown| {
        check.duration(base.key("cooldown"), cooldown)
    });
    let ammo = launcher.ammo.as_ref().and_then(|ammo| {
        let base = base.key("ammo");
        let cost = ammo.cost.map_or(Amount::whole(1), |cost| {
            check.amount(base.key("cost"), cost)
        });
        let meter = names.own_meter(check, base.key("meter"), &ammo.meter, kind)?;
        Some((meter, cost))
    });
    if launcher.dry.is_some() && launcher.ammo.is_none() {
        let message = "`dry` needs `ammo`";
        check.report(Finding::new(Code::NoEffect, base.key("dry"), message));
    }
    let launches = match &launcher.launches {
        Some(kind) => names.kind(check, base.key("launches"), kind),
        None => {
            let message = format!("`{name}` launches nothing");
            check.report(
                Finding::new(Code::MissingKey, base.clone(), message)
                    .at_key()
                    .help("add launches = \"…\""),
            );
            None
        }
    };
    // Any kind keeps the launcher, so that others who name its button are not blamed.
    let launches = launches.unwrap_or(KindIx(0));
    LauncherPlan {
        name: name.to_owned(),
        launches,
        starts,
        muzzle,
        aim,
        speed,
        spread,
        count: number,
        fan,
        shots,
        every: every.max(Ticks(1)),
        cooldown,
        ammo,
        in_flight: launcher.in_flight,
        shot: launcher.shot.unwrap_or(true),
        cue: names.cue(check, base.key("cue"), launcher.cue.as_deref()),
        dry: names.cue(check, base.key("dry"), launcher.dry.as_deref()),
    }
}

fn aim(check: &mut Checker, base: &Path, aim: Option<&Aim>, names: &Names<'_>) -> AimPlan {
    match aim {
        None | Some(Aim::Facing) => AimPlan::Facing,
        Some(Aim::Angle(angle)) => {
            AimPlan::Angle(check.number(base.key("angle"), *angle, &limits::ANGLE))
        }
        Some(Aim::At(text)) => names
            .target(check, &base.key("at"), text)
            .map_or(AimPlan::Facing, AimPlan::At),
        Some(Aim::Lead(text)) => names
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
    names: &Names<'_>,
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
        if let Some(kind) = names.kind(check, path.key("kind"), &leave.kind) {
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

impl Names<'_> {
    /// A kind by its name.
    pub fn kind(&self, check: &mut Checker, path: Path, name: &str) -> Option<KindIx> {
        let kinds = || self.directory.kinds.iter().map(String::as_str);
        let found = position(self.directory.kinds, name);
        if found.is_none() {
            check.unknown(path, "kind", name, kinds());
        }
        // The kind that was probably meant keeps others from missing it.
        let meant = || position(self.directory.kinds, nearest(name, kinds())?);
        found.or_else(meant).map(KindIx::new)
    }

    /// A meter of a kind itself.
    pub fn own_meter(
        &self,
        check: &mut Checker,
        path: Path,
        name: &str,
        kind: &Kind,
    ) -> Option<MeterIx> {
        if !kind.meters.contains_key(name) {
            let known = kind.meters.keys().map(String::as_str);
            check.unknown(path, "meter of this kind", name, known);
            return None;
        }
        position(self.meters, name).map(MeterIx::new)
    }
}
