//! Phase 3, motion: moving solids with whom they carry and push, then actors.

use super::solids::{Mover, beneath, shift, sideways_out};
use super::state::{Actor, Ground, State};
use crate::encounter::Axis;
use crate::geometry::{TOUCH, Vec2};
use crate::ledger::DeathCause;
use crate::plan::drills::{DOWN, LEFT, RIGHT, UP};
use crate::plan::{ActorIx, BoxPlan, Drive, Plan};

const X: Vec2 = Vec2::new(1.0, 0.0);
const Y: Vec2 = Vec2::new(0.0, 1.0);

pub(super) fn run(plan: &Plan, state: &mut State) {
    for nth in 0..state.solids.len() {
        let index = state.solids[nth];
        let actor = &state.actors[index.index()];
        if actor.alive && !actor.rests(state.tick) {
            move_solid(plan, state, index);
        }
    }
    for index in plan.cast() {
        let (actor, legs) = (&mut state.actors[index.index()], &state.legs[index.index()]);
        if !actor.alive || legs.is_solid {
            continue;
        }
        if actor.rests(state.tick) {
            actor.set_out = Vec2::ZERO;
            continue;
        }
        let has_body = legs.has_body;
        let step = set_out(plan, state, index);
        let body = has_body.then(|| plan.spec(index).body.as_ref()).flatten();
        match body {
            Some(body) => move_body(plan, state, index, body, step),
            None => move_freely(&mut state.actors[index.index()], step),
        }
    }
}

/// A displacement, and where exactly it ends on an axis when that is known.
#[derive(Clone, Copy)]
struct Step {
    by: Vec2,
    x: Option<f64>,
    y: Option<f64>,
}

/// Gives an actor the velocity it sets out with, and says where that would take it.
fn set_out(plan: &Plan, state: &mut State, index: ActorIx) -> Step {
    let dt = 1.0 / f64::from(plan.rate);
    let up = plan.arena.up.sign();
    let legs = &state.legs[index.index()];
    let actor = &mut state.actors[index.index()];
    let driven = state.tick >= actor.undriven_until;
    let mut ends = (None, None);
    if driven {
        match legs.drive {
            Drive::Patrol { .. } if actor.held => {
                actor.velocity.x = 0.0;
                if legs.fall == 0.0 {
                    actor.velocity.y = 0.0;
                }
            }
            Drive::Still => {
                actor.velocity.x = 0.0;
                if legs.fall == 0.0 {
                    actor.velocity.y = 0.0;
                }
            }
            Drive::Patrol {
                axis,
                low,
                high,
                speed,
            } => {
                ends = patrol(actor, legs.fall, axis, (low, high), speed, dt);
            }
            Drive::Walk {
                speed,
                accel,
                brake,
                jump,
            } => {
                walk(actor, legs.fall, up, speed, [accel, brake], dt);
                if let (true, Some(jump)) = (actor.jumps, jump) {
                    actor.velocity.y = up * jump;
                }
            }
        }
    }
    let rising = actor.velocity.y * up;
    if actor.ground.is_some() && rising <= 0.0 {
        // A grounded actor sets out with no downward velocity.
        actor.velocity.y = 0.0;
    } else {
        actor.velocity.y -= up * legs.fall * dt;
    }
    actor.set_out = actor.velocity;
    Step {
        by: actor.velocity * dt,
        x: ends.0,
        y: ends.1,
    }
}

/// A patrol goes on along its axis, at the end of which it stops for the tick; off its line, it
/// returns to it.
fn patrol(
    actor: &mut Actor,
    fall: f64,
    axis: Axis,
    (low, high): (f64, f64),
    speed: f64,
    dt: f64,
) -> (Option<f64>, Option<f64>) {
    let end = if actor.heading > 0.0 { high } else { low };
    let (x, y) = match axis {
        Axis::X => (end, actor.home.y),
        Axis::Y => (actor.home.x, end),
    };
    let toward = |at: f64, goal: f64| {
        let gap = goal - at;
        if gap.abs() <= speed * dt {
            (gap / dt, Some(goal))
        } else {
            (speed * gap.signum(), None)
        }
    };
    let (along_x, end_x) = toward(actor.at.x, x);
    actor.velocity.x = along_x;
    // Who falls has no line to return to.
    if axis == Axis::X && fall != 0.0 {
        return (end_x, None);
    }
    let (along_y, end_y) = toward(actor.at.y, y);
    actor.velocity.y = along_y;
    (end_x, end_y)
}

/// Buttons pull the velocity toward the wanted one; who does not fall also goes up and down.
fn walk(
    actor: &mut Actor,
    fall: f64,
    up: f64,
    speed: f64,
    [accel, brake]: [Option<f64>; 2],
    dt: f64,
) {
    let free = fall == 0.0;
    let pull = |back, forth| {
        if actor.held {
            0.0
        } else {
            actor.buttons.pull(back, forth)
        }
    };
    let x = pull(LEFT, RIGHT);
    let y = if free { up * pull(DOWN, UP) } else { 0.0 };
    // As fast across as along.
    let share = if x != 0.0 && y != 0.0 {
        speed * 0.5f64.sqrt()
    } else {
        speed
    };
    let toward = |from: f64, pull: f64| {
        let goal = pull * share;
        let rate = if pull == 0.0 { brake } else { accel };
        match rate {
            Some(rate) if (goal - from).abs() > rate * dt => {
                from + rate * dt * (goal - from).signum()
            }
            _ => goal,
        }
    };
    actor.velocity.x = toward(actor.velocity.x, x);
    if free {
        actor.velocity.y = toward(actor.velocity.y, y);
    }
}

fn move_freely(actor: &mut Actor, step: Step) {
    actor.at += step.by;
    actor.at.x = step.x.unwrap_or(actor.at.x);
    actor.at.y = step.y.unwrap_or(actor.at.y);
    actor.stopped = [false; 2];
}

fn move_body(plan: &Plan, state: &mut State, index: ActorIx, body: &BoxPlan, step: Step) {
    if state.actors[index.index()].turned && !body.same_both_ways() {
        let out = sideways_out(plan, state, index, body);
        push(plan, state, index, body, X, out, None);
    }
    let (_, at_x) = shift(plan, state, index, body, X, step.by.x, None);
    let (_, at_y) = shift(plan, state, index, body, Y, step.by.y, None);
    let actor = &mut state.actors[index.index()];
    actor.stopped = [at_x.is_some(), at_y.is_some()];
    if at_x.is_some() {
        actor.velocity.x = 0.0;
    } else {
        actor.at.x = step.x.unwrap_or(actor.at.x);
    }
    if at_y.is_some() {
        actor.velocity.y = 0.0;
    } else {
        actor.at.y = step.y.unwrap_or(actor.at.y);
    }
    settle(plan, state, index, body);
}

/// Finds out what an actor stands on.
pub(super) fn settle(plan: &Plan, state: &mut State, index: ActorIx, body: &BoxPlan) {
    let rising = state.actors[index.index()].velocity.y * plan.arena.up.sign();
    let ground = if rising > 0.0 {
        None
    } else {
        beneath(plan, state, index, body)
    };
    let actor = &mut state.actors[index.index()];
    actor.ground = ground;
    if ground.is_some() {
        actor.chain = 0;
    }
}

/// Moves a solid on, carries who stands on it and pushes who is in its way: x, then y.
fn move_solid(plan: &Plan, state: &mut State, index: ActorIx) {
    let Some(solid) = &plan.spec(index).solid else {
        return;
    };
    let before = state.actors[index.index()].at;
    let step = set_out(plan, state, index);
    move_freely(&mut state.actors[index.index()], step);
    let after = state.actors[index.index()].at;
    let by = after - before;
    state.actors[index.index()].at = before;
    for (axis, by) in [(X, by.x), (Y, by.y)] {
        if by == 0.0 {
            continue;
        }
        let from = state.actors[index.index()].at;
        state.actors[index.index()].at += axis * by;
        for nth in 0..state.bodies.len() {
            let rider = state.bodies[nth];
            let actor = &state.actors[rider.index()];
            let Some(body) = plan.spec(rider).body.as_ref().filter(|_| actor.alive) else {
                continue;
            };
            // In its way: who would meet it if it stood still and they came toward it.
            let coming = Mover {
                shape: body.shape(actor.facing),
                at: actor.at,
                axis,
                by: -by,
            };
            let met = coming.meets(solid.shape(state.actors[index.index()].facing), from);
            let pushed = met.map_or(0.0, |gap| by + gap);
            if actor.ground == Some(Ground::Moving(index)) {
                // Carried all the way, but only made room for: no one is squeezed by being left
                // behind.
                let (moved, _) = shift(plan, state, rider, body, axis, by, Some(index));
                if moved.abs() + TOUCH < pushed.abs() {
                    state.doom_without_hit(plan, rider, DeathCause::Squeezed);
                }
            } else if pushed != 0.0 {
                push(plan, state, rider, body, axis, pushed, Some(index));
            }
        }
    }
    state.actors[index.index()].at = after;
}

/// Moves a body that must make room; if it cannot, it is squeezed.
fn push(
    plan: &Plan,
    state: &mut State,
    index: ActorIx,
    body: &BoxPlan,
    axis: Vec2,
    by: f64,
    except: Option<ActorIx>,
) {
    let (moved, _) = shift(plan, state, index, body, axis, by, except);
    if moved.abs() + TOUCH < by.abs() {
        state.doom_without_hit(plan, index, DeathCause::Squeezed);
    }
}
