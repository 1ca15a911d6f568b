//! Effects from outside: at the beginning of phase 6, in the order given, whatever gates, guards and windows say.

use super::impact::Impact;
use super::script;
use crate::amount::Amount;
use crate::encounter::Party;
use crate::ledger::{LineId, Unheeded, What};
use crate::plan::{ApplyPlan, DamagePlan, Named, Plan};
use crate::sim::phases::touch;
use crate::sim::slot::Slot;
use crate::sim::state::State;

pub(crate) fn run(plan: &Plan, state: &mut State) {
    while let Some(effect) = script::due(
        plan,
        state,
        |drill| &drill.effects,
        |script| &mut script.effects,
    ) {
        apply(plan, state, &effect);
    }
}

fn apply(plan: &Plan, state: &mut State, effect: &ApplyPlan) {
    let who = effect.who.as_ref().and_then(|who| find(state, who));
    let whom = find(state, &effect.whom);
    let Some(whom) = whom.filter(|whom| state.actors[*whom].alive) else {
        state.tell(whom, What::Ignored(Unheeded::Effect));
        return;
    };
    let what = What::Apply {
        amount: None,
        overkill: Amount::ZERO,
        kills: false,
    };
    let number = state.number(whom);
    let event = state.tell(who, what);
    event.whom = Some(number);
    let impact = Impact {
        plan,
        who,
        whom,
        rule: None,
        line: event.id,
        moment: touch::END,
    };
    let dose = |_: &State, damage: &DamagePlan| damage.after(0, || 0.0);
    let taken = impact.effect(state, Party::Whom, &effect.does, dose);
    note(
        state,
        impact.line,
        taken.found.then_some(taken.all + taken.overkill),
        taken.overkill,
    );
}

/// Writes into an effect's line how much it did.
fn note(state: &mut State, line: LineId, did: Option<Amount>, over: Amount) {
    let event = state.log.get_mut(line).map(|event| &mut event.what);
    if let Some(What::Apply {
        amount, overkill, ..
    }) = event
    {
        *amount = did;
        *overkill = over;
    }
}

/// Where an actor is kept that a text names, if it is there or may come back.
fn find(state: &State, named: &Named) -> Option<Slot> {
    match named {
        Named::Placed(actor) => Some(Slot::placed(*actor)),
        Named::Launched(id) => {
            let own = state.roll.all().iter().find(|own| own.id == *id)?;
            state.roll.slot(own.number)
        }
    }
}
