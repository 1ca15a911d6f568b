//! Resolved states, and what leads from one to another.

use serde::Serialize;
use tin_crown_derive::Getters;

use super::attacks::{self, BoxSet, Boxes};
use super::checker::Checker;
use super::conditions::{self, ConditionPlan};
use super::drives::Drive;
use super::faces::{self, FacesPlan};
use super::heights::{self, is_zero};
use super::index::{CueIx, StateIx, StateNameIx};
use super::motions::Drives;
use super::scope::Scope;
use crate::encounter::{Chance, Kind, StateSpec, Transition, When};
use crate::finding::{Code, Finding, Path};
use crate::geometry::Vec2;
use crate::limits;
use crate::time::Ticks;

/// A resolved state.
#[derive(Clone, Debug, Getters, PartialEq, Serialize)]
pub struct StatePlan {
    /// Its name.
    pub(crate) name: StateNameIx,
    /// What drives its owner; as ever when absent.
    #[getters(copy)]
    pub(crate) drive: Option<Drive>,
    /// The speed of that, when it is drawn by chance.
    pub(crate) pace: Option<Chance<f64>>,
    /// What turns its owner, when it rotates; as ever when absent.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[getters(copy)]
    pub(crate) faces: Option<FacesPlan>,
    /// The boxes that are live.
    #[getters(copy)]
    pub(crate) live: BoxSet,
    /// Bits of the attacks that may start.
    pub(crate) attacks: u64,
    /// Bits of the launchers that may be set off.
    pub(crate) launchers: u64,
    /// Whether the guard is up.
    pub(crate) guard: bool,
    /// Where its owner appears anew.
    pub(crate) teleport: Option<Chance<Vec2>>,
    /// At which height.
    #[serde(skip_serializing_if = "is_zero")]
    pub(crate) teleport_rise: f64,
    /// Whether its owner is gone when it begins.
    pub(crate) ends: bool,
    /// What is announced when it begins.
    pub(crate) cue: Option<CueIx>,
    /// What leads to other states, in the order in which it is tried.
    pub(crate) go: Vec<TransitionPlan>,
}

/// What leads to another state.
#[derive(Clone, Debug, Getters, PartialEq, Serialize)]
pub struct TransitionPlan {
    /// The other state.
    pub(crate) to: StateIx,
    /// What must be so.
    pub(crate) when: ConditionPlan,
    /// How long after it was taken it cannot be taken again.
    pub(crate) cooldown: Ticks,
    /// Whether it is taken once in a life only.
    pub(crate) once: bool,
    /// Its place among all transitions of its kind.
    #[getters(skip)]
    pub(crate) slot: u16,
}

/// What the states of a kind are made of.
pub(super) struct Parts<'a> {
    pub kind: &'a Kind,
    pub scope: &'a Scope<'a>,
    pub boxes: &'a Boxes<'a>,
}

/// The states of a kind, and the one it starts in.
pub(super) fn resolve(
    check: &mut Checker,
    base: &Path,
    parts: &Parts<'_>,
    drives: &mut Drives<'_>,
) -> (Vec<StatePlan>, Option<StateIx>) {
    let kind = parts.kind;
    let path = base.key("state");
    let mut slots = 0;
    let states: Vec<StatePlan> = kind
        .states
        .iter()
        .map(|(name, state)| {
            let path = path.named(name);
            check.name(path.clone(), name, "a state");
            one(check, &path, name, state, parts, drives, &mut slots)
        })
        .collect();
    for (name, condition) in &kind.conditions {
        let path = base.key("condition").named(name);
        check.name(path.clone(), name, "a condition");
        let used = kind
            .states
            .values()
            .flat_map(|state| state.go.iter().flatten());
        let mut names = used.filter_map(|go| match &go.when {
            When::Named(name) => Some(name),
            When::Inline(_) => None,
        });
        if !names.any(|used| used == name) {
            let message = format!("no state uses condition `{name}`");
            check.report(Finding::new(Code::NoEffect, path.clone(), message).at_key());
        }
        // Found to be wrong once, not in every state that uses it.
        conditions::resolve(check, &path, condition, parts);
    }
    let start = start(check, base, kind);
    (states, start)
}

fn start(check: &mut Checker, base: &Path, kind: &Kind) -> Option<StateIx> {
    let state = |name: &str| kind.states.keys().position(|known| known == name);
    match &kind.starts {
        None if kind.states.is_empty() => None,
        None => {
            let message = "this kind has states, but no `starts`";
            let first = kind.states.keys().next().map_or("", String::as_str);
            check.report(
                Finding::new(Code::MissingKey, base.clone(), message)
                    .at_key()
                    .help(format!("add starts = \"{first}\"")),
            );
            None
        }
        Some(name) => {
            let found = state(name).map(StateIx::new);
            if found.is_none() {
                let known = kind.states.keys().map(String::as_str);
                check.unknown(base.key("starts"), "state of this kind", name, known);
            }
            found
        }
    }
}

fn one(
    check: &mut Checker,
    base: &Path,
    name: &str,
    state: &StateSpec,
    parts: &Parts<'_>,
    drives: &mut Drives<'_>,
    slots: &mut u16,
) -> StatePlan {
    let Parts { kind, scope, boxes } = *parts;
    let driven = state
        .motion
        .as_ref()
        .map(|motion| drives.motion(check, &base.key("motion"), motion));
    if kind.walk.is_some() && driven.is_some() {
        let message = "`walk` and `motion` cannot be used together";
        check.report(
            Finding::new(Code::Contradiction, base.key("motion"), message)
                .help("remove `walk` or `motion`"),
        );
    }
    let (drive, pace) = driven.map_or((None, None), |(drive, pace)| (Some(drive), pace));
    let live = state.live.as_deref().unwrap_or_default();
    let mut bits =
        |key: &'static str, what: &str, list: &Option<Vec<String>>, known: Vec<&String>| {
            let mut bits = 0u64;
            for (nth, name) in list.iter().flatten().enumerate() {
                match known.iter().position(|known| *known == name) {
                    Some(place) => bits |= 1 << place.min(63),
                    None => {
                        let known = known.iter().map(|known| known.as_str());
                        check.unknown(base.key(key).index(nth), what, name, known);
                    }
                }
            }
            bits
        };
    let attack_names = kind.attacks.keys().collect();
    let attacks = bits(
        "attacks",
        "attack of this kind",
        &state.attacks,
        attack_names,
    );
    let launcher_names = kind.launchers.keys().collect();
    let launchers = bits(
        "launchers",
        "launcher of this kind",
        &state.launchers,
        launcher_names,
    );
    if state.guard == Some(true) && kind.guard.is_none() {
        let message = "this kind has no `guard`";
        check.report(Finding::new(Code::NoEffect, base.key("guard"), message));
    }
    let go = state.go.as_deref().unwrap_or_default();
    let go = go.iter().enumerate();
    let go = go
        .filter_map(|(nth, go)| {
            *slots += 1;
            transition(check, &base.key("go").index(nth), go, parts, *slots - 1)
        })
        .collect();
    StatePlan {
        name: scope.names.states.place(name),
        drive,
        pace,
        faces: state
            .faces
            .as_ref()
            .and_then(|faces| faces::resolve(check, &base.key("faces"), faces, kind, scope)),
        live: attacks::box_set(check, &base.key("live"), live, boxes),
        attacks,
        launchers,
        guard: state.guard.unwrap_or(false),
        teleport: state.teleport.as_ref().map(|to| {
            check.chance(&base.key("teleport"), to, |check, path, to| {
                check.pair(&path, to.at, &limits::COORDINATE).into()
            })
        }),
        teleport_rise: state.teleport.as_ref().map_or(0.0, |to| {
            heights::of_place(check, &base.key("teleport"), to)
        }),
        ends: state.ends.unwrap_or(false),
        cue: scope.cue(check, base.key("cue"), state.cue.as_deref()),
        go,
    }
}

fn transition(
    check: &mut Checker,
    base: &Path,
    go: &Transition,
    parts: &Parts<'_>,
    slot: u16,
) -> Option<TransitionPlan> {
    let kind = parts.kind;
    let when = match &go.when {
        When::Inline(condition) => conditions::resolve(check, &base.key("when"), condition, parts),
        When::Named(name) => match kind.conditions.get(name) {
            Some(condition) => {
                let mut silent = Checker {
                    findings: crate::finding::Findings::new(),
                    rate: check.rate,
                };
                conditions::resolve(&mut silent, base, condition, parts)
            }
            None => {
                let known = kind.conditions.keys().map(String::as_str);
                check.unknown(base.key("when"), "condition of this kind", name, known);
                ConditionPlan::default()
            }
        },
    };
    let cooldown = go.cooldown.map_or(Ticks(0), |cooldown| {
        check.duration(base.key("cooldown"), cooldown)
    });
    let to = kind.states.keys().position(|known| *known == go.to);
    if to.is_none() {
        let known = kind.states.keys().map(String::as_str);
        check.unknown(base.key("to"), "state of this kind", &go.to, known);
    }
    to.map(|to| TransitionPlan {
        to: StateIx::new(to),
        when,
        cooldown,
        once: go.once,
        slot,
    })
}
