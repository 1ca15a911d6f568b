//! Phase 2, intent: buttons, then what actors set out to do.

use super::state::{Actor, State};
use super::{guard, swings};
use crate::encounter::{Axis, Facing};
use crate::ledger::What;
use crate::plan::drills::{JUMP, LEFT, RIGHT};
use crate::plan::{ActorIx, Drive, Plan};
use crate::time::Ticks;

pub(super) fn run(plan: &Plan, state: &mut State) {
    press(plan, state);
    for index in plan.cast() {
        let actor = &state.actors[index.index()];
        if !actor.alive || actor.rests(state.tick) {
            continue;
        }
        if actor.is_stunned(state.tick) {
            state.actors[index.index()].held = true;
            continue;
        }
        if state.legs[index.index()].fights {
            swings::start_one(plan, state, index);
            guard::heed(plan, state, index);
        }
        decide(plan, state, index);
    }
}

/// Buttons that go down or up on this tick.
fn press(plan: &Plan, state: &mut State) {
    let edges = &plan.drills[state.drill.index()].edges;
    let tick = state.tick;
    while let Some(edge) = edges.get(state.next_edge)
        && edge.tick <= tick
    {
        state.next_edge += 1;
        let actor = &mut state.actors[edge.who.index()];
        actor.buttons.set(edge.button, edge.down);
        if !actor.alive {
            continue;
        }
        let (rests, stunned) = (actor.rests(tick), actor.is_stunned(tick));
        if rests && edge.down {
            actor.buttons.wait(edge.button);
        }
        let what = What::Input {
            button: edge.button,
            down: edge.down,
        };
        let line = state.ledger.push(tick, Some(edge.who), what).id;
        if edge.down && (rests || !stunned) {
            // A press of who rests counts as of the tick after, and comes later with each rest.
            let heard = if rests { tick + Ticks(1) } else { tick };
            swings::press(plan, state, edge.who, edge.button, heard, line);
        }
    }
}

fn decide(plan: &Plan, state: &mut State, index: ActorIx) {
    let tick = state.tick;
    let (held, cancels) = if state.legs[index.index()].fights {
        occupied(plan, state, index)
    } else {
        (false, false)
    };
    let actor = &state.actors[index.index()];
    let jumps = match state.legs[index.index()].drive {
        Drive::Walk { jump, .. } => {
            jump.is_some() && actor.ground.is_some() && actor.buttons.is_pressed(JUMP)
        }
        Drive::Still | Drive::Patrol { .. } => false,
    };
    let driven = tick >= actor.undriven_until;
    if jumps && driven && cancels {
        swings::end(plan, state, index, None, true);
    }
    let actor = &mut state.actors[index.index()];
    actor.held = held && !(jumps && cancels);
    if driven && !actor.held {
        actor.jumps = jumps;
        steer(&state.legs[index.index()].drive, actor);
    }
}

/// Whether an attack or a guard keeps an actor from moving, and whether a jump cuts the attack short.
fn occupied(plan: &Plan, state: &State, index: ActorIx) -> (bool, bool) {
    let (spec, actor) = (plan.spec(index), &state.actors[index.index()]);
    let under_way = swings::under_way(plan, index, actor, state.tick);
    let attack = under_way.map(|(attack, phase)| (&spec.attacks[attack.index()], phase));
    let guard = spec.guard.as_ref().filter(|_| actor.fight.guard.is_some());
    let held =
        attack.is_some_and(|(attack, _)| attack.locked) || guard.is_some_and(|guard| guard.locked);
    (
        held,
        attack.is_some_and(|(attack, phase)| attack.cancels[phase as usize].jump),
    )
}

/// Where an actor turns and heads.
fn steer(drive: &Drive, actor: &mut Actor) {
    let way = match *drive {
        Drive::Still => return,
        Drive::Patrol {
            axis, low, high, ..
        } => {
            let (at, stopped) = match axis {
                Axis::X => (actor.at.x, actor.stopped[0]),
                Axis::Y => (actor.at.y, actor.stopped[1]),
            };
            actor.heading = if at >= high {
                -1.0
            } else if at <= low {
                1.0
            } else if stopped {
                -actor.heading
            } else {
                actor.heading
            };
            match axis {
                Axis::X => actor.heading,
                Axis::Y => 0.0,
            }
        }
        Drive::Walk { .. } => actor.buttons.pull(LEFT, RIGHT),
    };
    let facing = if way > 0.0 {
        Facing::Right
    } else if way < 0.0 {
        Facing::Left
    } else {
        actor.facing
    };
    actor.turned = facing != actor.facing;
    actor.facing = facing;
}
