//! Phase 1, clocks: rests go on, meters are paid, attacks and lifetimes come to their end, and what was
//! taken comes back. Windows are over by themselves: they are compared with the tick.

use crate::encounter::Ending;
use crate::plan::{BoxSet, Plan};
use crate::sim::parts::actor::NEVER;
use crate::sim::parts::{attacks, deaths, meters, pickups, shots};
use crate::sim::slot::Slot;
use crate::sim::state::State;
use crate::time::{Tick, Ticks};

pub(crate) fn run(plan: &Plan, state: &mut State) {
    state.tick.0 += 1;
    let tick = state.tick;
    state.lists.swinging.clear();
    let (mut fills, mut mortal, mut mourned) = (false, false, false);
    let high = plan.arena.height.is_some();
    for nth in 0..state.lists.order.len() {
        let index = state.lists.order[nth];
        let actor = &mut state.actors[index];
        actor.start = actor.at;
        if high {
            actor.life.rise.start = actor.life.rise.at;
        }
        actor.cut = false;
        actor.spent = None;
        actor.turned = false;
        actor.jumps = false;
        actor.held = false;
        actor.live = if actor.alive {
            actor.always
        } else {
            BoxSet::default()
        };
        if actor.swing.is_some() || state.legs[index].pulses {
            state.lists.swinging.push(index);
        }
        fills |= state.legs[index].fills;
        mourned |= actor.dying || !actor.alive;
        mortal |= actor.ends <= tick + Ticks(1);
        if tick > actor.rests_until {
            actor.buttons.begin_tick();
        } else if actor.rests(tick) {
            rest(state, index);
        }
    }
    if fills {
        for nth in 0..state.lists.order.len() {
            let index = state.lists.order[nth];
            let actor = &state.actors[index];
            let up = (actor.alive || actor.absent) && !actor.dying && !actor.rests(tick);
            if state.legs[index].fills && up {
                meters::run(plan, state, index);
            }
        }
    }
    for nth in 0..state.lists.swinging.len() {
        let index = state.lists.swinging[nth];
        if !state.actors[index].rests(tick) {
            attacks::end_when_due(plan, state, index);
        }
    }
    if mourned {
        deaths::go_on(plan, state);
    }
    if mortal {
        for nth in 0..state.lists.order.len() {
            let index = state.lists.order[nth];
            let actor = &state.actors[index];
            if actor.ends <= tick && actor.alive && !actor.dying {
                let origin = actor.life.origin;
                shots::vanish(plan, state, index, Ending::Lifetime, origin, true);
            }
        }
    }
    if mourned {
        deaths::come_back(plan, state);
    }
    pickups::come_back(plan, state);
}

/// All that an actor waits for comes a tick later.
fn rest(state: &mut State, index: Slot) {
    let later = |tick: &mut Tick| tick.0 += 1;
    let actor = &mut state.actors[index];
    actor.rested += 1;
    if actor.ends != NEVER {
        later(&mut actor.ends);
    }
    later(&mut actor.stunned_until);
    later(&mut actor.undriven_until);
    if let Some(swing) = &mut actor.swing {
        later(&mut swing.since);
    }
    let life = &mut actor.life;
    for window in actor.windows.all_mut() {
        later(&mut window.until);
    }
    life.guard.iter_mut().for_each(later);
    if let Some(dying) = &mut life.dying {
        later(&mut dying.since);
    }
    later(&mut life.mind.since);
    for attack in &mut state.stock.attacks[life.own.attacks.clone()] {
        later(&mut attack.from);
        attack.pressed.iter_mut().for_each(later);
    }
    for barrel in &mut state.stock.barrels[life.own.launchers.clone()] {
        later(&mut barrel.from);
        later(&mut barrel.next);
    }
    for gauge in &mut state.stock.gauges[life.own.meters.clone()] {
        gauge.rest(state.tick);
    }
    for switch in &mut state.stock.switches[life.own.transitions.clone()] {
        later(&mut switch.from);
    }
}
