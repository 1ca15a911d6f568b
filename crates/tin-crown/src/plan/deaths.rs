//! Resolved death sequences.

use serde::Serialize;
use tin_crown_derive::Getters;

use super::attacks::{BoxSet, Boxes, box_set};
use super::checker::Checker;
use super::drives::Drive;
use super::hits::{self, PushPlan};
use super::index::{CueIx, KindIx, StateIx};
use super::motions::Drives;
use super::scope::Scope;
use crate::encounter::Kind;
use crate::finding::{Code, Finding, Path};
use crate::limits;
use crate::time::Ticks;

/// A step of a death.
#[derive(Clone, Debug, Getters, PartialEq, Serialize)]
pub struct DeathPlan {
    /// How long after the death began.
    pub(crate) after: Ticks,
    /// How it is thrown.
    #[getters(copy)]
    pub(crate) throw: Option<PushPlan>,
    /// Whether it stays where it is from here on.
    pub(crate) freeze: bool,
    /// The boxes that are live from here on, when it says so.
    #[getters(copy)]
    pub(crate) live: Option<BoxSet>,
    /// How it moves by itself from here on.
    #[getters(copy)]
    pub(crate) drive: Option<Drive>,
    /// The state that it comes into.
    pub(crate) state: Option<StateIx>,
    /// What it leaves where it is, and whether that is one attack.
    pub(crate) leaves: Vec<(KindIx, bool)>,
    /// Of which one is left: the kind, or nothing, and its weight.
    pub(crate) drops: Vec<(Option<KindIx>, u32)>,
    /// What is announced.
    pub(crate) cue: Option<CueIx>,
    /// Where what it leaves begins among all that its kind brings forth.
    #[getters(skip)]
    pub(crate) offspring: u16,
}

impl DeathPlan {
    /// The kinds of all that it may leave, in their order.
    pub(crate) fn kinds(&self) -> impl Iterator<Item = KindIx> {
        let leaves = self.leaves.iter().map(|(kind, _)| *kind);
        leaves.chain(self.drops.iter().filter_map(|(kind, _)| *kind))
    }
}

/// The steps of a kind's death. `others` is how much else it brings forth.
pub(super) fn resolve(
    check: &mut Checker,
    base: &Path,
    kind: &Kind,
    boxes: &Boxes<'_>,
    drives: &mut Drives<'_>,
    others: usize,
) -> Vec<DeathPlan> {
    let base = base.key("death");
    let steps = kind.death.as_deref().unwrap_or_default();
    let scope: &Scope<'_> = drives.scope;
    let mut plans: Vec<DeathPlan> = Vec::new();
    let mut offspring = others;
    for (nth, step) in steps.iter().enumerate() {
        let path = base.index(nth);
        let after = check.duration(path.key("after"), step.after);
        if plans.last().is_some_and(|last| last.after > after) {
            let message = "this step comes before the one above it";
            check.report(
                Finding::new(Code::Contradiction, path.key("after"), message)
                    .help("write the steps in the order of their times"),
            );
        }
        if step.freeze && (step.throw.is_some() || step.motion.is_some()) {
            let message = "`freeze` excludes `throw` and `motion`";
            check.report(Finding::new(
                Code::Contradiction,
                path.key("freeze"),
                message,
            ));
        }
        let throw = step
            .throw
            .as_ref()
            .map(|throw| hits::push(check, &path.key("throw"), throw, Ticks(0)));
        if step
            .throw
            .is_some_and(|throw| throw.away.is_some() || throw.along.is_some())
        {
            let message = "a death has no other party: use `up` and `forward`";
            check.report(Finding::new(Code::NoEffect, path.key("throw"), message));
        }
        let mut leaves = Vec::new();
        for (nth, leaving) in step.leaves.iter().enumerate() {
            let path = path.key("leaves").index(nth).key("kind");
            let kind = scope.kind(check, path, &leaving.kind);
            leaves.extend(kind.map(|kind| (kind, leaving.shot)));
        }
        let mut drops = Vec::new();
        for (nth, drop) in step.drops.iter().enumerate() {
            let path = path.key("drops").index(nth);
            let weight = drop.weight.unwrap_or(1);
            check.number(path.key("weight"), f64::from(weight), &limits::WEIGHT);
            match &drop.kind {
                None => drops.push((None, weight)),
                Some(kind) => {
                    let kind = scope.kind(check, path.key("kind"), kind);
                    drops.extend(kind.map(|kind| (Some(kind), weight)));
                }
            }
        }
        let state = step.state.as_ref().and_then(|name| {
            let found = kind.states.keys().position(|known| known == name);
            if found.is_none() {
                let known = kind.states.keys().map(String::as_str);
                check.unknown(path.key("state"), "state of this kind", name, known);
            }
            found.map(StateIx::new)
        });
        let live = step.live.as_ref();
        let live = live.map(|live| box_set(check, &path.key("live"), live, boxes));
        let motion = step.motion.as_ref();
        let drive = motion.map(|motion| drives.motion(check, &path.key("motion"), motion).0);
        let plan = DeathPlan {
            after,
            throw,
            freeze: step.freeze,
            live,
            drive,
            state,
            leaves,
            drops,
            cue: scope.cue(check, path.key("cue"), step.cue.as_deref()),
            offspring: u16::try_from(offspring).unwrap_or_else(|_| unreachable!("lists are short")),
        };
        offspring += plan.kinds().count();
        plans.push(plan);
    }
    plans
}
