//! Phase 7, record: the outcome, and where everyone is at the tick's end.

use crate::geometry::Facing;
use crate::ledger::{LineId, What};
use crate::outcome::Outcome;
use crate::plan::{CueIx, Plan};
use crate::sim::parts::script;
use crate::sim::slot::Slot;
use crate::sim::state::State;

/// Something is announced.
pub(crate) fn cue(state: &mut State, who: Slot, cue: Option<CueIx>, cause: Option<LineId>) {
    if let Some(cue) = cue {
        let event = state.tell(Some(who), What::Cue { cue });
        event.cause = cause;
    }
}

pub(crate) fn run(plan: &Plan, state: &mut State) {
    script::begin(plan, state);
    state
        .contacts
        .marks
        .end_tick(plan, &state.actors, &state.roll, state.tick);
    if state.outcome.is_none() && state.is_over(plan) {
        state.outcome = Some(Outcome::Ended);
    }
    if let Some(outcome) = state.outcome.filter(|_| !state.told) {
        state.told = true;
        state.tell(None, What::Outcome(outcome));
    }
    places(plan, state);
    state.give_on();
}

/// Says of the lines of this tick where those are of whom they tell; those who are gone are where they were.
pub(crate) fn places(plan: &Plan, state: &mut State) {
    let State {
        log, roll, actors, ..
    } = state;
    for event in log.events_mut() {
        let Some(slot) = event.whom.or(event.who).and_then(|actor| roll.slot(actor)) else {
            continue;
        };
        let actor = &actors[slot];
        event.at = Some(actor.at);
        if plan.arena.height.is_some() {
            event.height = actor.life.rise.at;
        }
        event.facing = match actor.facing {
            Facing::Angle(angle) => Some(angle),
            Facing::Right | Facing::Left => None,
        };
    }
}
