//! Resolved checkpoints, exits, and what else wins a drill.

use serde::Serialize;
use tin_crown_derive::Getters;

use super::checker::Checker;
use super::conditions::{self, OtherAsk};
use super::faces;
use super::heights::{self, is_zero};
use super::index::{CueIx, MeterIx};
use super::pairing::World;
use super::portion::PortionPlan;
use super::select::Group;
use super::sprites::{self, SpritePlan};
use crate::encounter::{Clear, Encounter, Facing, Needs, Portion, Region};
use crate::finding::{Code, Finding, Path};
use crate::geometry::{Bounds, HeightSpan, Vec2};
use crate::limits;
use crate::map::Map;
use crate::order;
use crate::time::Tick;

/// A respawn place.
#[derive(Clone, Debug, Getters, PartialEq, Serialize)]
pub struct CheckpointPlan {
    /// Its place in the file, counted from 0.
    #[serde(skip)]
    #[getters(skip)]
    pub(crate) written: usize,
    /// Its name.
    pub(crate) name: String,
    /// Where it is touched.
    pub(crate) area: Bounds,
    /// From which height to which; through all when absent.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[getters(copy)]
    pub(crate) span: Option<HeightSpan>,
    /// Where who touched it comes back.
    pub(crate) at: Vec2,
    /// At which height.
    #[serde(skip_serializing_if = "is_zero")]
    pub(crate) rise: f64,
    /// Which way they face then.
    #[getters(copy)]
    pub(crate) facing: Option<Facing>,
    /// Who may touch it.
    #[getters(copy)]
    pub(crate) by: Group,
    /// Its place in an order.
    pub(crate) order: Option<u32>,
    /// Whether it counts each time.
    pub(crate) again: bool,
    /// Meters that it fills.
    pub(crate) refills: Vec<MeterIx>,
    /// What is announced.
    pub(crate) cue: Option<CueIx>,
    /// The drawing in the middle of its area.
    #[serde(skip)]
    pub(crate) sprite: Option<Box<SpritePlan>>,
}

/// Where a drill is won.
#[derive(Clone, Debug, Getters, PartialEq, Serialize)]
pub struct ExitPlan {
    /// Its place in the file, counted from 0.
    #[serde(skip)]
    #[getters(skip)]
    pub(crate) written: usize,
    /// Its name.
    pub(crate) name: String,
    /// Where it is touched.
    pub(crate) area: Bounds,
    /// From which height to which; through all when absent.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[getters(copy)]
    pub(crate) span: Option<HeightSpan>,
    /// Who may leave; players when absent.
    pub(crate) by: Option<Group>,
    /// What must hold before it opens.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub(crate) needs: Option<NeedsPlan>,
    /// What is announced.
    pub(crate) cue: Option<CueIx>,
    /// The drawing in the middle of its area.
    #[serde(skip)]
    pub(crate) sprite: Option<Box<SpritePlan>>,
}

/// What must hold before an exit opens: all that is named.
#[derive(Clone, Debug, Default, Getters, PartialEq, Serialize)]
pub struct NeedsPlan {
    /// All of these are gone for good.
    pub(crate) gone: Option<Group>,
    /// All of these pickups have been taken.
    pub(crate) taken: Option<Group>,
    /// Meters of who leaves, with the least and the most that they hold.
    pub(crate) meters: Vec<(MeterIx, Option<PortionPlan>, Option<PortionPlan>)>,
    /// What must be so of one of these.
    pub(crate) other: Option<(Group, OtherAsk)>,
}

/// What else wins a drill.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
pub enum ClearPlan {
    /// All of these are gone for good.
    Gone(Group),
    /// This tick has come.
    Survive(Tick),
}

/// All that wins a drill, and what is come back to on the way.
pub(super) struct Goals {
    pub checkpoints: Vec<CheckpointPlan>,
    pub exits: Vec<ExitPlan>,
    pub clear: Vec<ClearPlan>,
}

pub(super) fn resolve(check: &mut Checker, encounter: &Encounter, world: &World<'_>) -> Goals {
    let scope = world.scope;
    let base = Path::root().key("checkpoint");
    let points = encounter.checkpoints.iter();
    let named = points.clone().map(|point| point.name.as_str());
    unlike(check, &base, named, "a checkpoint");
    let mut checkpoints: Vec<CheckpointPlan> = points
        .enumerate()
        .map(|(nth, point)| {
            let path = base.index(nth);
            let mut refills = Vec::new();
            for (nth, name) in point.refills.iter().enumerate() {
                let (path, meters) = (path.key("refills").index(nth), &scope.names.meters);
                refills.extend(scope.find(check, path, "meter", name, meters));
            }
            let by = point.by.as_ref();
            let by = by.and_then(|by| scope.group(check, &path.key("by"), by));
            CheckpointPlan {
                written: nth,
                name: point.name.clone(),
                area: area(check, &path.key("area"), &point.area),
                at: check
                    .pair(&path.key("at"), point.at.at, &limits::COORDINATE)
                    .into(),
                rise: heights::of_point(check, &path.key("at"), &point.at),
                span: heights::span(check, &path.key("area"), point.area.height),
                facing: point.facing.map(|facing| faces::facing(facing, scope.up)),
                by: by.unwrap_or(Group::Anyone),
                order: point.order,
                again: point.again,
                refills,
                cue: scope.cue(check, path.key("cue"), point.cue.as_deref()),
                sprite: sprites::of_goal(check, &path, point.sprite.as_ref(), scope.up),
            }
        })
        .collect();
    let base = Path::root().key("exit");
    let all = encounter.exits.iter();
    unlike(
        check,
        &base,
        all.clone().map(|exit| exit.name.as_str()),
        "an exit",
    );
    let mut exits: Vec<ExitPlan> = all
        .enumerate()
        .map(|(nth, exit)| {
            let path = base.index(nth);
            let by = exit.by.as_ref();
            ExitPlan {
                written: nth,
                name: exit.name.clone(),
                area: area(check, &path.key("area"), &exit.area),
                span: heights::span(check, &path.key("area"), exit.area.height),
                by: by.and_then(|by| scope.group(check, &path.key("by"), by)),
                needs: (exit.needs.as_ref())
                    .map(|needs| self::needs(check, &path.key("needs"), needs, world)),
                cue: scope.cue(check, path.key("cue"), exit.cue.as_deref()),
                sprite: sprites::of_goal(check, &path, exit.sprite.as_ref(), scope.up),
            }
        })
        .collect();
    let base = Path::root().key("clear");
    let clear = encounter.clear.iter().enumerate();
    let clear = clear
        .filter_map(|(nth, clear)| {
            let path = base.index(nth);
            match clear {
                Clear::Gone(text) => scope
                    .group(check, &path.key("gone"), text)
                    .map(ClearPlan::Gone),
                Clear::Survive(length) => {
                    let ticks = check.duration(path.key("survive"), *length);
                    Some(ClearPlan::Survive(Tick(ticks.0)))
                }
            }
        })
        .collect();
    order::sort_by(&mut checkpoints, |a, b| a.name.cmp(&b.name));
    order::sort_by(&mut exits, |a, b| a.name.cmp(&b.name));
    Goals {
        checkpoints,
        exits,
        clear,
    }
}

fn needs(check: &mut Checker, base: &Path, needs: &Needs, world: &World<'_>) -> NeedsPlan {
    let scope = world.scope;
    let mut group = |key: &'static str, text: &Option<String>| {
        let text = text.as_ref()?;
        scope.group(check, &base.key(key), text)
    };
    let (gone, taken) = (group("gone", &needs.gone), group("taken", &needs.taken));
    if let Some(group) = taken
        && !world.any(group, |spec| spec.pickup.is_some())
    {
        let who = needs.taken.as_deref().unwrap_or_default();
        let message = format!("no pickup is among `{who}`: this exit never opens");
        let path = base.key("taken");
        check.report(Finding::new(Code::NoEffect, path, message).help("name a pickup"));
    }
    let mut meters = Vec::new();
    for (name, level) in &needs.meters {
        let path = base.key("meter").named(name);
        let meter = scope.find(check, path.clone(), "meter", name, &scope.names.meters);
        let mut portion =
            |key, level: Option<Portion>| level.map(|level| check.portion(path.key(key), level));
        let (least, most) = (
            portion("at_least", level.at_least),
            portion("at_most", level.at_most),
        );
        meters.extend(meter.map(|meter| (meter, least, most)));
    }
    let other = needs.other.as_ref();
    NeedsPlan {
        gone,
        taken,
        meters,
        other: other.and_then(|other| conditions::other(check, &base.key("other"), other, scope)),
    }
}

fn area(check: &mut Checker, path: &Path, region: &Region) -> Bounds {
    super::arena::bounds(check, path, region.min, region.max, "an area")
}

/// Names are names, and each is there once.
fn unlike<'n>(check: &mut Checker, base: &Path, names: impl Iterator<Item = &'n str>, what: &str) {
    let mut known: Map<&str, usize> = Map::new();
    for (nth, name) in names.enumerate() {
        let path = base.index(nth).key("name");
        if !check.name(path.clone(), name, what) {
            continue;
        }
        if let Some(first) = known.insert(name, nth) {
            let message = format!("`{name}` is defined twice");
            check.report(
                Finding::new(Code::Duplicate, path, message)
                    .related(base.index(first).key("name"), "the other is here"),
            );
        }
    }
}
