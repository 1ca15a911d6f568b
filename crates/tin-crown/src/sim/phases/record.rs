//! Phase 7, record: the outcome, and where everyone is at the tick's end.

use crate::geometry::Facing;
use crate::ledger::{LineId, What};
use crate::outcome::Outcome;
use crate::plan::{ActorIx, CueIx, Plan};
use crate::sim::parts::script;
use crate::sim::state::State;

/// Something is announced.
pub(crate) fn cue(state: &mut State, who: ActorIx, cue: Option<CueIx>, cause: Option<LineId>) {
    if let Some(cue) = cue {
        let event = state.ledger.push(state.tick, Some(who), What::Cue { cue });
        event.cause = cause;
    }
}

pub(crate) fn run(plan: &Plan, state: &mut State) {
    script::begin(plan, state);
    state
        .contacts
        .marks
        .end_tick(plan, &state.actors, state.tick);
    if state.outcome.is_none() && state.is_over(plan) {
        state.outcome = Some(Outcome::Ended);
    }
    if let Some(outcome) = state.outcome.filter(|_| !state.told) {
        state.told = true;
        state.ledger.push(state.tick, None, What::Outcome(outcome));
    }
    for event in state.ledger.since(state.lines_before) {
        let subject = event.whom.or(event.who);
        let subject = subject.map(|actor| &state.actors[actor.index()]);
        event.at = subject.map(|actor| actor.at);
        if let (Some(_), Some(actor)) = (plan.arena.height, subject) {
            event.height = actor.life.rise.at;
        }
        event.facing = subject.and_then(|actor| match actor.facing {
            Facing::Angle(angle) => Some(angle),
            Facing::Right | Facing::Left => None,
        });
    }
}
