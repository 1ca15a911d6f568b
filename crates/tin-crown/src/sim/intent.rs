//! Phase 2, intent: buttons, what sensors notice, which conditions hold, then what actors set out to
//! do.

use super::state::State;
use super::{drive, fill, guard, launch, minds, sense, swings};
use crate::ledger::What;
use crate::plan::drills::JUMP;
use crate::plan::{ActorIx, Drive, Plan};
use crate::time::Ticks;

pub(super) fn run(plan: &Plan, state: &mut State) {
    press(plan, state);
    sense::run(plan, state);
    minds::decide(plan, state);
    for nth in 0..state.order.len() {
        let index = state.order[nth];
        let actor = &state.actors[index.index()];
        if !actor.alive || actor.dying || actor.rests(state.tick) {
            continue;
        }
        if actor.is_stunned(state.tick) {
            state.actors[index.index()].held = true;
            continue;
        }
        minds::turn(plan, state, index);
        if !state.actors[index.index()].alive {
            continue;
        }
        let legs = &state.legs[index.index()];
        let (fills, launches) = (legs.fills, legs.launches);
        if legs.fights {
            swings::start_one(plan, state, index);
            guard::heed(plan, state, index);
        }
        if fills {
            fill::heed(plan, state, index);
        }
        if launches {
            launch::heed(plan, state, index);
        }
        state.actors[index.index()].entered = false;
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
        if !actor.alive || actor.dying {
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
            launch::press(plan, state, edge.who, edge.button, line);
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
        _ => false,
    };
    let driven = tick >= actor.undriven_until;
    if jumps && driven && cancels {
        swings::end(plan, state, index, None, true);
    }
    let actor = &mut state.actors[index.index()];
    actor.held = held && !(jumps && cancels);
    if driven && !actor.held {
        actor.jumps = jumps;
        drive::steer(plan, state, index);
    }
}

/// Whether an attack or a guard keeps an actor from moving, and whether a jump cuts the attack short.
fn occupied(plan: &Plan, state: &State, index: ActorIx) -> (bool, bool) {
    let (spec, actor) = (state.spec(plan, index), &state.actors[index.index()]);
    let under_way = swings::under_way(plan, actor, state.tick);
    let attack = under_way.map(|(attack, phase)| (&spec.attacks[attack.index()], phase));
    let guard = spec.guard.as_ref().filter(|_| actor.life.guard.is_some());
    let held =
        attack.is_some_and(|(attack, _)| attack.locked) || guard.is_some_and(|guard| guard.locked);
    (
        held,
        attack.is_some_and(|(attack, phase)| attack.cancels[phase as usize].jump),
    )
}
