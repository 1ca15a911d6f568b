//! Heights, resolved: only arenas that have them may speak of them.

use super::checker::Checker;
use super::kinds::{self, Laid};
use crate::encounter::{
    ArenaHeight, BoxSpec, Chance, Encounter, Floor, Kind, Motion, Point, Ray, Region, ReturnTo,
    SensorSpec, Spots,
};
use crate::finding::{Code, Finding, Path};
use crate::geometry::{HeightSpan, Vec2};
use crate::limits;
use serde::Serialize;
use tin_crown_derive::Getters;

/// Height above the plane, resolved.
#[derive(Clone, Copy, Debug, Getters, PartialEq, Serialize)]
pub struct HeightPlan {
    /// Acceleration downward, in units a second squared.
    pub(crate) gravity: f64,
    /// The height of the ground, which is everywhere, where there is any.
    pub(crate) ground: Option<f64>,
}

pub(super) fn resolve(check: &mut Checker, base: &Path, height: &ArenaHeight) -> HeightPlan {
    HeightPlan {
        gravity: check.number(base.key("gravity"), height.gravity, &limits::GRAVITY),
        ground: match height.ground {
            Floor::At(height) => {
                Some(check.number(base.key("ground"), height, &limits::COORDINATE))
            }
            Floor::None => None,
        },
    }
}

/// Whether a height is left out where it is written.
pub(super) fn is_zero(height: &f64) -> bool {
    *height == 0.0
}

/// From which height to which.
pub(super) fn span(
    check: &mut Checker,
    base: &Path,
    height: Option<[f64; 2]>,
) -> Option<HeightSpan> {
    let path = base.key("height");
    let [low, high] = check.pair(&path, height?, &limits::COORDINATE);
    if low >= high {
        let message = format!("the heights are inverted: {low} is not below {high}");
        check.report(
            Finding::new(Code::BadBounds, path, message)
                .help("write the lower height first: height = [0, 20]"),
        );
    }
    Some(HeightSpan::new(low, high))
}

/// The height of a point.
pub(super) fn of_point(check: &mut Checker, path: &Path, point: &Point) -> f64 {
    let height = point.height;
    height.map_or(0.0, |height| {
        check.number(path.index(2), height, &limits::COORDINATE)
    })
}

/// A point of the plane, and its height.
pub(super) fn point(check: &mut Checker, path: &Path, point: &Point) -> (Vec2, f64) {
    let at = check.pair(path, point.at, &limits::COORDINATE);
    (at.into(), of_point(check, path, point))
}

/// The height of a place, which is the same wherever chance puts it.
pub(super) fn of_place(check: &mut Checker, path: &Path, places: &Chance<Point>) -> f64 {
    let mut all = places.all().map(Point::height);
    let first = all.next().unwrap_or(0.0);
    if all.any(|other| other != first) {
        let message = "these places are at several heights";
        check.report(
            Finding::new(Code::Contradiction, path.clone(), message)
                .help("give all of them the same height"),
        );
    }
    if first == 0.0 {
        return 0.0;
    }
    check.number(path.clone(), first, &limits::COORDINATE)
}

/// Reports every height that an arena without height cannot have, and gravity in the plane of one with.
pub(super) fn check(check: &mut Checker, encounter: &Encounter, laid: &Laid<'_>) {
    let arena = Path::root().key("arena");
    if encounter.arena.height.is_some() {
        if encounter.arena.gravity != 0.0 {
            let message = "`gravity` and `height` of an arena cannot be used together";
            check.report(
                Finding::new(Code::Contradiction, arena.key("gravity"), message)
                    .help("write `gravity` within `height`: [arena.height] gravity = 900"),
            );
        }
        return;
    }
    let mut found = Vec::new();
    let mut see = |path: Path, high: bool| {
        if high {
            found.push(path);
        }
    };
    let region = |path: Path, region: &Region| (path.key("height"), region.height.is_some());
    let (path, high) = region(arena.key("bounds"), &encounter.arena.bounds);
    see(path, high);
    for (nth, solid) in encounter.arena.solids.iter().enumerate() {
        let path = arena.key("solids").index(nth).key("height");
        see(path, solid.height.is_some());
    }
    for name in laid.keys() {
        if let Some(kind) = encounter.kinds.get(*name) {
            of_kind(&kinds::path(name), kind, &mut see);
        }
    }
    for (nth, place) in encounter.placements.iter().enumerate() {
        let path = Path::root().key("place").index(nth);
        let high = place.at.all().any(is_high);
        see(path.key("at"), high);
        let step = place.copies.as_ref().map(|copies| &copies.step);
        see(path.key("copies").key("step"), step.is_some_and(is_high));
        of_kind(&path, &place.with, &mut see);
    }
    for (nth, point) in encounter.checkpoints.iter().enumerate() {
        let path = Path::root().key("checkpoint").index(nth);
        see(path.key("at"), is_high(&point.at));
        let (path, high) = region(path.key("area"), &point.area);
        see(path, high);
    }
    for (nth, exit) in encounter.exits.iter().enumerate() {
        let path = Path::root().key("exit").index(nth);
        let (path, high) = region(path.key("area"), &exit.area);
        see(path, high);
    }
    for path in found {
        check.report(none(path));
    }
}

/// There is a height where there can be none.
pub(super) fn none(path: Path) -> Finding {
    Finding::new(Code::Contradiction, path, "the arena has no height")
        .at_key()
        .help("add [arena.height], or remove this height")
}

fn is_high(point: &Point) -> bool {
    point.height() != 0.0
}

fn of_kind(base: &Path, kind: &Kind, see: &mut impl FnMut(Path, bool)) {
    let mut own = |path: Path, spec: &BoxSpec| see(path.key("height"), spec.height.is_some());
    for (key, spec) in [("body", &kind.body), ("solid", &kind.solid)] {
        if let Some(spec) = spec {
            own(base.key(key), spec);
        }
    }
    for (key, boxes) in [("hitbox", &kind.hitboxes), ("hurtbox", &kind.hurtboxes)] {
        for (name, spec) in boxes {
            own(base.key(key).named(name), spec);
        }
    }
    for (name, SensorSpec { area, .. }) in &kind.sensors {
        if let Some(area) = area {
            own(base.key("sensor").named(name).key("area"), area);
        }
    }
    if let Some(area) = kind.pickup.as_ref().and_then(|pickup| pickup.area.as_ref()) {
        own(base.key("pickup").key("area"), area);
    }
    for (name, sensor) in &kind.sensors {
        let path = base.key("sensor").named(name).key("ray");
        if let Some(Ray { from, to }) = &sensor.ray {
            see(path.key("from"), is_high(from));
            see(path.key("to"), is_high(to));
        }
    }
    let states = kind.states.iter().filter_map(|(name, state)| {
        let path = base.key("state").named(name).key("motion");
        Some((path, state.motion.as_ref()?))
    });
    let own = kind.motion.iter().map(|own| (base.key("motion"), own));
    for (path, motion) in own.chain(states) {
        match motion {
            Motion::Path(route) => {
                for (nth, key) in route.keys.iter().flatten().enumerate() {
                    let path = path.key("path").key("keys").index(nth).key("at");
                    see(path, is_high(&key.at));
                }
            }
            Motion::Hover(hover) => {
                let size = hover.size.as_ref();
                see(path.key("hover").key("size"), size.is_some_and(is_high));
            }
            Motion::Follow(follow) => {
                let offset = follow.offset.as_ref();
                see(
                    path.key("follow").key("offset"),
                    offset.is_some_and(is_high),
                );
            }
            _ => {}
        }
    }
    for (name, state) in &kind.states {
        let path = base.key("state").named(name).key("teleport");
        let mut all = state.teleport.iter().flat_map(Chance::all);
        see(path, all.any(is_high));
    }
    let places = kind.respawn.as_ref().and_then(|own| own.at.as_ref());
    if let Some(ReturnTo::Places(places)) = places {
        let path = base.key("respawn").key("at").key("places");
        let high = match &places.at {
            Spots::List(points) => points.iter().any(is_high),
            Spots::Drawn(points) => points.all().any(is_high),
        };
        see(path, high);
    }
    for (name, launcher) in &kind.launchers {
        let path = base.key("launcher").named(name);
        let high = launcher.muzzle.as_ref().is_some_and(is_high);
        see(path.key("muzzle"), high);
        see(path.key("rise"), launcher.rise.is_some());
    }
}
