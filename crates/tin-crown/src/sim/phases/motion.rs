//! Phase 3, motion: moving solids with whom they carry and push, then actors, then what appears.

use crate::geometry::{Facing, HeightSpan, TOUCH, Vec2};
use crate::ledger::DeathCause;
use crate::plan::{BoxPlan, Drive, Plan};
use crate::sim::parts::actor::{Actor, Ground};
use crate::sim::parts::driving::{Step, set_out};
use crate::sim::parts::rising;
use crate::sim::parts::solids::{Mover, beneath, height_of, shift, sideways_out};
use crate::sim::parts::{appearing, posing, shots};
use crate::sim::slot::Slot;
use crate::sim::state::State;

const X: Vec2 = Vec2::new(1.0, 0.0);
const Y: Vec2 = Vec2::new(0.0, 1.0);

pub(crate) fn run(plan: &Plan, state: &mut State) {
    for nth in 0..state.lists.solids.len() {
        let index = state.lists.solids[nth];
        let actor = &state.actors[index];
        if actor.alive && (actor.is_posed() || !actor.rests(state.tick)) {
            move_solid(plan, state, index);
        }
    }
    // Who follows somebody moves after those who do not.
    let mut followers = false;
    for nth in 0..state.lists.order.len() {
        let index = state.lists.order[nth];
        if matches!(state.legs[index].drive, Drive::Follow { .. }) {
            followers = true;
        } else {
            move_one(plan, state, index);
        }
    }
    if followers {
        for nth in 0..state.lists.order.len() {
            let index = state.lists.order[nth];
            if matches!(state.legs[index].drive, Drive::Follow { .. }) {
                move_one(plan, state, index);
            }
        }
    }
    appearing::appear(plan, state);
}

fn move_one(plan: &Plan, state: &mut State, index: Slot) {
    let (actor, legs) = (&mut state.actors[index], &state.legs[index]);
    if !actor.alive || legs.is_solid {
        return;
    }
    if actor.is_posed() {
        posing::go(plan, state, index);
        return;
    }
    if actor.rests(state.tick) {
        actor.set_out = Vec2::ZERO;
        return;
    }
    if legs.stands && actor.velocity == Vec2::ZERO && plan.arena.height.is_none() {
        actor.set_out = Vec2::ZERO;
        actor.stopped = [false; 2];
        return;
    }
    let has_body = legs.has_body;
    let step = set_out(plan, state, index);
    let body = has_body
        .then(|| state.spec(plan, index).body.as_ref())
        .flatten();
    let actor = &mut state.actors[index];
    match body {
        Some(body) if actor.shot && actor.bounces == 0 => {
            shots::fly(plan, state, index, body, step);
        }
        Some(body) => {
            let before = actor.velocity;
            move_body(plan, state, index, body, step);
            shots::bounce(plan, state, index, before);
        }
        None => {
            move_freely(actor, step);
            rising::go(plan, state, index, None);
        }
    }
}

fn move_freely(actor: &mut Actor, step: Step) {
    actor.at += step.by;
    actor.at.x = step.x.unwrap_or(actor.at.x);
    actor.at.y = step.y.unwrap_or(actor.at.y);
    actor.stopped = [false; 2];
}

fn move_body(plan: &Plan, state: &mut State, index: Slot, body: &BoxPlan, step: Step) {
    if state.actors[index].turned && !body.same_both_ways() {
        let out = sideways_out(plan, state, index, body);
        push(plan, state, index, body, X, out, None);
    }
    let (_, at_x) = shift(plan, state, index, body, X, step.by.x, None);
    let (_, at_y) = shift(plan, state, index, body, Y, step.by.y, None);
    let actor = &mut state.actors[index];
    actor.stopped = [at_x.is_some(), at_y.is_some()];
    if actor.stopped != [false; 2] {
        actor.life.stoppers = [at_x, at_y];
    }
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
    if plan.arena.height.is_some() {
        rising::go(plan, state, index, Some(body));
    } else {
        settle(plan, state, index, body);
    }
}

/// Finds out what an actor stands on.
pub(crate) fn settle(plan: &Plan, state: &mut State, index: Slot, body: &BoxPlan) {
    if plan.arena.height.is_some() {
        rising::settle(plan, state, index, body);
        return;
    }
    let (actor, legs) = (&state.actors[index], &state.legs[index]);
    let rising = actor.velocity.y * plan.arena.up.sign();
    // Who rotates stands on nothing where nothing pulls it down.
    let floats = legs.fall == 0.0 && matches!(actor.facing, Facing::Angle(_));
    let ground = if rising > 0.0 || floats {
        None
    } else {
        beneath(plan, state, index, body)
    };
    let actor = &mut state.actors[index];
    actor.landed |= ground.is_some() && actor.ground.is_none();
    actor.ground = ground;
    if ground.is_some() {
        actor.chain = 0;
    }
}

/// Moves a solid on, carries who stands on it and pushes who is in its way: x, then y.
fn move_solid(plan: &Plan, state: &mut State, index: Slot) {
    let Some(solid) = &state.spec(plan, index).solid else {
        return;
    };
    let own = &state.actors[index];
    let (before, low) = (own.at, own.life.rise.at);
    let posed = own.is_posed();
    let up = if posed {
        // A jump carries nobody.
        if posing::go(plan, state, index) {
            return;
        }
        let rise = &mut state.actors[index].life.rise;
        std::mem::replace(&mut rise.at, low) - low
    } else {
        let step = set_out(plan, state, index);
        move_freely(&mut state.actors[index], step);
        state.actors[index].life.rise.velocity / f64::from(plan.rate)
    };
    let after = state.actors[index].at;
    let by = after - before;
    state.actors[index].at = before;
    for (axis, by) in [(X, by.x), (Y, by.y)] {
        if by == 0.0 {
            continue;
        }
        let from = state.actors[index].at;
        state.actors[index].at += axis * by;
        for nth in 0..state.lists.bodies.len() {
            let rider = state.lists.bodies[nth];
            let actor = &state.actors[rider];
            let Some(body) = plan
                .spec_of(actor.spec)
                .body
                .as_ref()
                .filter(|_| actor.alive && !actor.is_posed())
            else {
                continue;
            };
            // In its way: who would meet it if it stood still and they came toward it.
            let coming = Mover {
                shape: body.unturned(actor.facing),
                at: actor.at,
                axis,
                by: -by,
                span: height_of(actor, body),
            };
            let lift = &state.actors[index];
            let high = HeightSpan::meet(height_of(lift, solid), coming.span, 0.0);
            let met = coming.meets(solid.unturned(state.actors[index].facing), from);
            let pushed = met.filter(|_| high).map_or(0.0, |gap| by + gap);
            if actor.ground == Some(Ground::Moving(lift.number)) {
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
    state.actors[index].at = after;
    if plan.arena.height.is_some() {
        rising::lift(plan, state, index, up);
    }
}

/// Moves a body that must make room; if it cannot, it is squeezed.
fn push(
    plan: &Plan,
    state: &mut State,
    index: Slot,
    body: &BoxPlan,
    axis: Vec2,
    by: f64,
    except: Option<Slot>,
) {
    let (moved, _) = shift(plan, state, index, body, axis, by, except);
    if moved.abs() + TOUCH < by.abs() {
        state.doom_without_hit(plan, index, DeathCause::Squeezed);
    }
}
