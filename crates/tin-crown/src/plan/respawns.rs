//! Resolved respawns.

use serde::Serialize;
use tin_crown_derive::Getters;

use super::checker::Checker;
use super::faces;
use super::heights::{self, is_zero};
use super::index::CueIx;
use super::scope::Scope;
use super::select::Group;
use crate::encounter::{Chance, Facing, MetersAt, Near, Resets, RespawnSpec, ReturnTo, Spots};
use crate::finding::{Code, Finding, Path};
use crate::geometry::Vec2;
use crate::limits;
use crate::time::Ticks;

/// How an actor respawns after its death.
#[derive(Clone, Debug, Getters, PartialEq, Serialize)]
pub struct RespawnPlan {
    /// Where.
    pub(crate) at: ReturnPlan,
    /// How long after the last step of its death.
    pub(crate) delay: Ticks,
    /// How many lives it has, the first included; any number when absent.
    pub(crate) lives: Option<u32>,
    /// What else is reset.
    pub(crate) resets: ResetPlan,
    /// What its meters hold.
    pub(crate) meters: MetersAt,
    /// It waits until none of these is that near.
    pub(crate) unless_near: Option<(Group, f64)>,
    /// Cues that count the delay down, evenly.
    pub(crate) countdown: Vec<CueIx>,
    /// What is announced when it is back.
    pub(crate) cue: Option<CueIx>,
}

/// Where an actor respawns.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub enum ReturnPlan {
    /// Where it was placed.
    Start,
    /// At the last checkpoint that it reached, else where it was placed.
    Checkpoint,
    /// Where it fell, unless that is outside the arena or within a solid.
    Here,
    /// At one of some places.
    Places {
        /// One is drawn.
        at: Chance<Vec2>,
        /// A place where a hitbox of one of these is live is passed over while there is another.
        clear_of: Option<Group>,
        /// Which way it faces.
        facing: Option<Facing>,
        /// At which height all of them are.
        #[serde(skip_serializing_if = "is_zero")]
        rise: f64,
    },
}

/// What a respawn puts back besides who comes back.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
pub enum ResetPlan {
    /// Nothing.
    Itself,
    /// Those.
    Those(Vec<Group>),
    /// Everything.
    Encounter,
}

pub(super) fn resolve(
    check: &mut Checker,
    base: &Path,
    respawn: &RespawnSpec,
    scope: &Scope<'_>,
) -> RespawnPlan {
    let base = base.key("respawn");
    let at = match &respawn.at {
        None | Some(ReturnTo::Start) => ReturnPlan::Start,
        Some(ReturnTo::Checkpoint) => ReturnPlan::Checkpoint,
        Some(ReturnTo::Here) => ReturnPlan::Here,
        Some(ReturnTo::Places(places)) => {
            let base = base.key("at");
            let (at, rise) = spots(check, &base.key("places"), &places.at);
            ReturnPlan::Places {
                at,
                rise,
                clear_of: places
                    .clear_of
                    .as_ref()
                    .and_then(|text| scope.group(check, &base.key("clear_of"), text)),
                facing: places.facing.map(|facing| faces::facing(facing, scope.up)),
            }
        }
    };
    if respawn.lives == Some(0) {
        let message = "`lives` must be at least 1: it includes the first life";
        check.report(Finding::new(Code::OutOfRange, base.key("lives"), message));
    }
    let delay = respawn
        .delay
        .map_or(Ticks(0), |delay| check.duration(base.key("delay"), delay));
    let resets = match &respawn.resets {
        None | Some(Resets::Itself) => ResetPlan::Itself,
        Some(Resets::Encounter) => ResetPlan::Encounter,
        Some(Resets::Those(texts)) => {
            let texts = texts.iter().enumerate();
            let path = base.key("resets");
            ResetPlan::Those(
                texts
                    .filter_map(|(nth, text)| scope.group(check, &path.index(nth), text))
                    .collect(),
            )
        }
    };
    let unless_near = respawn
        .unless_near
        .as_ref()
        .and_then(|near| self::near(check, &base, near, scope));
    let countdown = respawn.countdown.iter().flatten().enumerate();
    let countdown: Vec<CueIx> = countdown
        .filter_map(|(nth, cue)| scope.cue(check, base.key("countdown").index(nth), Some(cue)))
        .collect();
    if !countdown.is_empty() && delay == Ticks(0) {
        let message = "`countdown` needs a `delay`";
        check.report(Finding::new(Code::NoEffect, base.key("countdown"), message));
    }
    RespawnPlan {
        at,
        delay,
        lives: respawn.lives,
        resets,
        meters: respawn.meters.unwrap_or_default(),
        unless_near,
        countdown,
        cue: scope.cue(check, base.key("cue"), respawn.cue.as_deref()),
    }
}

/// The places, and at which height all of them are.
fn spots(check: &mut Checker, path: &Path, spots: &Spots) -> (Chance<Vec2>, f64) {
    let rise = match spots {
        Spots::List(points) => heights::of_place(check, path, &Chance::Choice(points.clone())),
        Spots::Drawn(points) => heights::of_place(check, path, points),
    };
    let at = match spots {
        Spots::List(points) => {
            let points = points.iter().enumerate();
            let points = points.map(|(nth, at)| {
                let at = check.pair(&path.index(nth), at.at, &limits::COORDINATE);
                Vec2::from(at)
            });
            Chance::Choice(points.collect())
        }
        Spots::Drawn(points) => check.chance(path, points, |check, path, at| {
            check.pair(&path, at.at, &limits::COORDINATE).into()
        }),
    };
    (at, rise)
}

/// Actors that a respawn waits for, and how near they may be.
pub(super) fn near(
    check: &mut Checker,
    base: &Path,
    near: &Near,
    scope: &Scope<'_>,
) -> Option<(Group, f64)> {
    let base = base.key("unless_near");
    let within = check.number(base.key("within"), near.within, &limits::LENGTH);
    Some((scope.group(check, &base.key("who"), &near.who)?, within))
}
