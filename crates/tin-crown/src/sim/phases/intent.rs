//! Phase 2, intent: buttons, what sensors notice, which conditions hold, then what actors set out to
//! do.

use crate::geometry::Facing;
use crate::ledger::{Unheeded, What};
use crate::plan::drills::{JUMP, LEFT};
use crate::plan::{Drive, Edge, Plan};
use crate::sim::observer::Observer;
use crate::sim::parts::turning::Can;
use crate::sim::parts::{
    attacks, driving, feed, guards, launchers, meters, posing, script, sensors, transitions,
    turning,
};
use crate::sim::slot::Slot;
use crate::sim::state::State;
use crate::time::Ticks;

pub(crate) fn run(plan: &Plan, state: &mut State, observer: &mut impl Observer) {
    for nth in 0..state.lists.rotating.len() {
        let index = state.lists.rotating[nth];
        state.actors[index].life.turning = 0;
    }
    feed::hear(plan, state);
    press(plan, state);
    turning::tell(plan, state);
    posing::tell(plan, state);
    sensors::run(plan, state);
    observer.perceived(plan, state);
    transitions::decide(plan, state);
    for nth in 0..state.lists.order.len() {
        let index = state.lists.order[nth];
        let actor = &state.actors[index];
        if actor.is_posed() {
            posing::act(plan, state, index);
            continue;
        }
        if !actor.alive || actor.dying || actor.rests(state.tick) {
            continue;
        }
        if actor.is_stunned(state.tick) {
            state.actors[index].held = true;
            turning::turn(plan, state, index, Can::Nothing);
            continue;
        }
        transitions::turn(plan, state, index);
        if !state.actors[index].alive {
            continue;
        }
        let legs = &state.legs[index];
        let (fills, launches) = (legs.fills, legs.launches);
        if legs.fights {
            attacks::start_one(plan, state, index);
            guards::heed(plan, state, index);
        }
        if fills {
            meters::heed(plan, state, index);
        }
        let launched = state.pending.births.len();
        if launches {
            launchers::heed(plan, state, index);
        }
        state.actors[index].entered = false;
        decide(plan, state, index);
        // What is launched goes where its maker faces after it has turned, as attacks do.
        let facing = state.actors[index].facing;
        for birth in &mut state.pending.births[launched..] {
            birth.facing = facing;
        }
    }
}

/// Buttons that go down or up on this tick, as the drill says or as they are pressed from outside.
fn press(plan: &Plan, state: &mut State) {
    let begun = state.script.begun();
    let edges = script::edges(plan, state.played, &begun);
    while let Some(edge) = next(edges, state.script.next, state)
        && edge.tick <= state.tick
    {
        state.script.next += 1;
        heed(plan, state, *edge);
    }
    if state.script.live.is_empty() {
        return;
    }
    let mut live = std::mem::take(&mut state.script.live);
    let due = live.partition_point(|edge| edge.tick <= state.tick);
    for nth in 0..due {
        if let Some(edge) = next(&live[..due], nth, state) {
            heed(plan, state, *edge);
        }
    }
    live.drain(..due);
    state.script.live = live;
}

/// A button goes down or up.
fn heed(plan: &Plan, state: &mut State, edge: Edge) {
    let (tick, who) = (state.tick, Slot::placed(edge.who));
    let actor = &mut state.actors[who];
    actor.buttons.set(edge.button, edge.down);
    if !actor.alive || actor.dying {
        return;
    }
    if edge.ignored {
        let button = edge.button;
        let what = What::Ignored(Unheeded::Press(button));
        state.tell(Some(who), what);
        return;
    }
    let (rests, stunned) = (actor.rests(tick), actor.is_stunned(tick));
    if rests && edge.down {
        actor.buttons.wait(edge.button);
    }
    let what = What::Input {
        button: edge.button,
        down: edge.down,
    };
    let line = state.tell(Some(who), what).id;
    if edge.down && (rests || !stunned) {
        // A press of who rests counts as of the tick after, and comes later with each rest.
        let heard = if rests { tick + Ticks(1) } else { tick };
        attacks::press(plan, state, who, edge.button, heard, line);
        launchers::press(plan, state, who, edge.button, line);
    }
}

/// The next edge: of left and right at once, the way its actor faces comes first.
fn next<'p>(edges: &'p [Edge], nth: usize, state: &State) -> Option<&'p Edge> {
    let edge = edges.get(nth)?;
    let faces_right = state.actors[Slot::placed(edge.who)].facing.sign() > 0.0;
    let twin = if edge.button == LEFT {
        edges.get(nth + 1)
    } else {
        nth.checked_sub(1).and_then(|before| edges.get(before))
    };
    Some(
        twin.filter(|twin| faces_right && edge.is_twin(twin))
            .unwrap_or(edge),
    )
}

fn decide(plan: &Plan, state: &mut State, index: Slot) {
    let tick = state.tick;
    let (held, cancels) = if state.legs[index].fights {
        occupied(plan, state, index)
    } else {
        (false, false)
    };
    let actor = &state.actors[index];
    let jumps = match state.legs[index].drive {
        Drive::Walk { jump, .. } => {
            jump.is_some() && actor.ground.is_some() && actor.buttons.is_pressed(JUMP)
        }
        _ => false,
    };
    let driven = tick >= actor.undriven_until;
    if jumps && driven && cancels {
        attacks::end(plan, state, index, None, true);
    }
    let actor = &mut state.actors[index];
    actor.held = held && !(jumps && cancels);
    if driven && !actor.held {
        actor.jumps = jumps;
        driving::steer(plan, state, index);
    }
    if let Facing::Angle(_) = state.actors[index].facing {
        let can = match (state.actors[index].held, driven) {
            (true, _) => Can::Spin,
            (false, false) => Can::Turn,
            (false, true) => Can::Move,
        };
        turning::turn(plan, state, index, can);
    }
}

/// Whether an attack or a guard keeps an actor from moving, and whether a jump cuts the attack short.
fn occupied(plan: &Plan, state: &State, index: Slot) -> (bool, bool) {
    let (spec, actor) = (state.spec(plan, index), &state.actors[index]);
    let under_way = attacks::under_way(plan, actor, state.tick);
    let attack = under_way.map(|(attack, phase)| (&spec.attacks[attack.index()], phase));
    let guard = spec.guard.as_ref().filter(|_| actor.life.guard.is_some());
    let held =
        attack.is_some_and(|(attack, _)| attack.locked) || guard.is_some_and(|guard| guard.locked);
    (
        held,
        attack.is_some_and(|(attack, phase)| attack.cancels[phase as usize].jump),
    )
}
