//! Phase 1, clocks: rests go on, and attacks come to their end. Windows are over by themselves: they
//! are compared with the tick.

use super::state::{Actor, Readiness, State};
use super::swings;
use crate::plan::Plan;
use crate::time::Tick;

pub(super) fn run(plan: &Plan, state: &mut State) {
    state.tick.0 += 1;
    state.lines_before = state.ledger.len();
    let tick = state.tick;
    state.swinging.clear();
    for (index, actor) in plan.cast().zip(&mut state.actors) {
        actor.start = actor.at;
        actor.turned = false;
        actor.jumps = false;
        actor.held = false;
        actor.live = actor.always;
        if actor.swing.is_some() {
            state.swinging.push(index);
        }
        if tick > actor.rests_until {
            actor.buttons.begin_tick();
        } else if actor.rests(tick) {
            let attacks = plan.spec(index).attacks.len();
            let own = actor.fight.first_attack..actor.fight.first_attack + attacks;
            rest(actor, &mut state.attacks[own]);
        }
    }
    for nth in 0..state.swinging.len() {
        let index = state.swinging[nth];
        if !state.actors[index.index()].rests(tick) {
            swings::end_when_due(plan, state, index);
        }
    }
}

/// All that an actor waits for comes a tick later.
fn rest(actor: &mut Actor, attacks: &mut [Readiness]) {
    let later = |tick: &mut Tick| tick.0 += 1;
    actor.fight.rested += 1;
    actor
        .fight
        .windows
        .iter_mut()
        .for_each(|window| later(&mut window.until));
    later(&mut actor.stunned_until);
    later(&mut actor.undriven_until);
    actor
        .swing
        .iter_mut()
        .for_each(|swing| later(&mut swing.since));
    actor.fight.guard.iter_mut().for_each(later);
    for attack in attacks {
        later(&mut attack.from);
        attack.pressed.iter_mut().for_each(later);
    }
}
