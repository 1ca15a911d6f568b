//! Which way actors that rotate face: in phase 2, at most one turn a tick.

use super::actor::Actor;
use super::{clocked, driving};
use crate::encounter::Axis;
use crate::geometry::{Angle, Facing, Vec2};
use crate::ledger::What;
use crate::plan::drills::{DOWN, LEFT, RIGHT, UP};
use crate::plan::{Drive, FaceAim, Plan};
use crate::sim::parts::script;
use crate::sim::slot::Slot;
use crate::sim::state::State;

/// Who is told on this tick which way to face keeps it in mind until it faces that way.
pub(crate) fn tell(plan: &Plan, state: &mut State) {
    while let Some(told) = script::due(plan, state, |drill| &drill.told, |script| &mut script.told)
    {
        let who = Slot::placed(told.who);
        let actor = &mut state.actors[who];
        actor.life.told = Some(told.to);
        if actor.alive && !actor.dying {
            let what = What::Face { to: told.to };
            state.tell(Some(who), what);
        }
    }
}

/// What an actor can do on a tick.
#[derive(Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub(crate) enum Can {
    /// Nothing: it is stunned.
    Nothing,
    /// It is held, by an attack or its guard.
    Spin,
    /// It turns, but nothing drives it: it was pushed.
    Turn,
    /// It moves by itself.
    Move,
}

/// Turns an actor toward what it is told, or what its kind or state says.
pub(crate) fn turn(plan: &Plan, state: &mut State, index: Slot, can: Can) {
    let actor = &state.actors[index];
    let Facing::Angle(old) = actor.facing else {
        return;
    };
    let up = plan.arena.up.sign();
    let spec = plan.spec_of(actor.spec);
    let own = actor.life.mind.state;
    let own = own.and_then(|own| spec.states[own.index()].faces);
    let faces = own.unwrap_or(spec.faces);
    let told = actor.life.told.filter(|_| can >= Can::Turn);
    // Where it turns, and by how much when that is little by little.
    let by = |part: i64| (old.plus(part as i32), part);
    let to = |aim: Option<Angle>| match (aim, faces.most) {
        (Some(aim), Some(most)) => {
            let new = old.toward(aim, most, up);
            (new, i64::from(old.to(new)))
        }
        (aim, _) => (aim.unwrap_or(old), 0),
    };
    let (new, turning) = match faces.aim {
        _ if told.is_some() => to(told),
        FaceAim::Spin(part) => by(part),
        _ if can < Can::Turn => to(None),
        FaceAim::Motion if can < Can::Move => to(None),
        FaceAim::Motion => match state.legs[index].drive {
            Drive::Walk {
                turn: Some(most), ..
            } => {
                let pull = actor.buttons.pull(RIGHT, LEFT) * up;
                by((f64::from(most) * pull) as i64)
            }
            _ => to(Angle::of(heading(plan, state, index))),
        },
        FaceAim::To(aim) => to(Some(aim)),
        FaceAim::Toward(target) => {
            let whom = state.target(plan, index, (actor.at, actor.life.rise.at), target);
            let way = whom.map(|whom| state.actors[whom].at - actor.at);
            to(way.and_then(Angle::of))
        }
        FaceAim::Keeps => to(None),
    };
    let actor = &mut state.actors[index];
    actor.facing = Facing::Angle(new);
    actor.life.turning = turning;
    if told == Some(new) {
        actor.life.told = None;
    }
}

/// The way an actor moves on this tick.
fn heading(plan: &Plan, state: &State, index: Slot) -> Vec2 {
    let actor = &state.actors[index];
    let legs = &state.legs[index];
    let up = plan.arena.up.sign();
    match legs.drive {
        Drive::Patrol { axis: Axis::X, .. } => Vec2::new(actor.heading, 0.0),
        Drive::Patrol { axis: Axis::Y, .. } => Vec2::new(0.0, actor.heading),
        Drive::Walk { .. } => {
            let free = legs.fall == 0.0;
            let y = if free {
                up * actor.buttons.pull(DOWN, UP)
            } else {
                0.0
            };
            Vec2::new(actor.buttons.pull(LEFT, RIGHT), y)
        }
        Drive::Chase { .. } => actor.life.course,
        Drive::Path { .. } | Drive::Hover { .. } | Drive::Swing { .. } => {
            clocked::next_place(plan, actor, legs.drive) - actor.at
        }
        Drive::Return { .. } => actor.life.home - actor.at,
        Drive::Follow {
            whom, offset, rise, ..
        } => {
            let place = driving::leader(plan, state, index, whom, (offset, rise));
            place.map_or(Vec2::ZERO, |(place, _)| place - actor.at)
        }
        Drive::Coast | Drive::Fall { .. } => actor.velocity,
        Drive::Still => Vec2::ZERO,
    }
}

/// In how many parts a tick is tested in which an actor turns so far: none turns by more than 5 degrees.
pub(crate) fn parts(turning: i64) -> u32 {
    // 72 times 5 degrees are a turn. Of two facings each is rounded to half of a 2^32th of a turn: what is at
    // most one of those over a multiple of 5 degrees is that multiple.
    let fives = (turning.unsigned_abs() * 72).saturating_sub(72);
    (fives.div_ceil(1 << 32) as u32).max(1)
}

/// Which way an actor faces after some of so many equal parts of the tick.
pub(crate) fn meanwhile(actor: &Actor, nth: u32, parts: u32) -> Facing {
    match actor.facing {
        Facing::Angle(end) => {
            let left = actor.life.turning * i64::from(parts - nth) / i64::from(parts);
            Facing::Angle(end.plus(-(left as i32)))
        }
        facing => facing,
    }
}
