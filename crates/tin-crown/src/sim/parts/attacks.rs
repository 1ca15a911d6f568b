//! Attacks under way: what starts them, what cuts them short, and which boxes they make live.

use super::actor::{Actor, Swing};
use crate::encounter::Phase;
use crate::ledger::{LineId, What};
use crate::plan::{AttackIx, AttackPlan, BoxPlan, BoxSet, ButtonIx, Plan, Start};
use crate::reason::Despite;
use crate::sim::phases::record;
use crate::sim::slot::Slot;
use crate::sim::state::State;
use crate::time::{Tick, Ticks};
use serde::{Deserialize, Serialize};

/// What is remembered of each attack of each actor.
#[derive(Clone, Copy, Debug, Default, Serialize, Deserialize)]
pub(crate) struct Readiness {
    /// The first tick on which it can start again.
    pub from: Tick,
    /// When its button went down last, unless that press is used.
    pub pressed: Option<Tick>,
    /// The line that says so.
    pub line: Option<LineId>,
}

/// The phase of an attack so long after its beginning; none when it is over. Phases of no length are
/// passed at once.
pub(crate) fn phase(attack: &AttackPlan, since: Tick, tick: Tick) -> Option<Phase> {
    let mut elapsed = (tick - since).0;
    for (phase, Ticks(length)) in [Phase::Startup, Phase::Active, Phase::Recovery]
        .into_iter()
        .zip(attack.phases)
    {
        if elapsed < length {
            return Some(phase);
        }
        elapsed -= length;
    }
    None
}

/// The attack that an actor is in, and its phase.
pub(crate) fn under_way(plan: &Plan, actor: &Actor, tick: Tick) -> Option<(AttackIx, Phase)> {
    let swing = actor.swing?;
    let attack = &plan.spec_of(actor.spec).attacks[swing.attack.index()];
    phase(attack, swing.since, tick).map(|phase| (swing.attack, phase))
}

/// The boxes that are live: all but those of attacks, and those of the phase under way; of those that
/// go on and off the ones that are on.
pub(crate) fn live(plan: &Plan, actor: &Actor, tick: Tick) -> BoxSet {
    let spec = plan.spec_of(actor.spec);
    let mut live = actor.always;
    if let Some((attack, phase)) = under_way(plan, actor, tick) {
        live = live.with(spec.attacks[attack.index()].live[phase as usize]);
    }
    let age = actor.age(tick);
    let off = |boxes: &[BoxPlan]| {
        let pulses = boxes.iter().map(|plan| plan.pulse);
        let off = pulses
            .enumerate()
            .filter(|(_, pulse)| pulse.is_some_and(|pulse| !pulse.is_on(age)));
        off.fold(0u64, |bits, (nth, _)| bits | 1 << nth)
    };
    live.without(BoxSet {
        hit: off(&spec.hitboxes),
        hurt: off(&spec.hurtboxes),
    })
}

/// Ends a swing whose last phase is over.
pub(crate) fn end_when_due(plan: &Plan, state: &mut State, index: Slot) {
    if under_way(plan, &state.actors[index], state.tick).is_none() {
        end(plan, state, index, None, false);
    }
}

/// Ends a swing, and lets its cooldown begin.
pub(crate) fn end(plan: &Plan, state: &mut State, index: Slot, cause: Option<LineId>, cut: bool) {
    let actor = &mut state.actors[index];
    let Some(swing) = actor.swing.take() else {
        return;
    };
    let attack = &plan.spec_of(actor.spec).attacks[swing.attack.index()];
    state.stock.attacks[actor.life.own.attacks.start + swing.attack.index()].from =
        state.tick + attack.cooldown;
    let what = What::Attack {
        attack: swing.attack,
        over: Some(cut),
        despite: None,
    };
    let event = state.tell(Some(index), what);
    event.caused_by(cause.or(Some(swing.line)));
}

/// A button went down: whatever it could start remembers that, from `tick` on.
pub(crate) fn press(
    plan: &Plan,
    state: &mut State,
    index: Slot,
    button: ButtonIx,
    tick: Tick,
    line: LineId,
) {
    let first = state.actors[index].life.own.attacks.start;
    for (nth, attack) in state.spec(plan, index).attacks.iter().enumerate() {
        if let Start::Press(own) | Start::Hold(own) = attack.starts
            && own == button
        {
            let readiness = &mut state.stock.attacks[first + nth];
            readiness.pressed = Some(tick);
            readiness.line = Some(line);
        }
    }
}

/// Starts the first attack that its owner's buttons and clocks call for, and that may start now.
pub(crate) fn start_one(plan: &Plan, state: &mut State, index: Slot) {
    let spec = state.spec(plan, index);
    let actor = &state.actors[index];
    let mind = &actor.life.mind;
    let (by_states, _) = spec.by_states();
    let named = mind
        .state
        .map_or(0, |state| spec.states[state.index()].attacks);
    let allowed = match under_way(plan, actor, state.tick) {
        Some((attack, phase)) => spec.attacks[attack.index()].cancels[phase as usize].attacks,
        None => spec
            .attacks
            .iter()
            .enumerate()
            .filter(|(_, attack)| !attack.followup)
            .fold(0, |bits, (nth, _)| bits | 1 << nth),
    };
    let allowed = allowed & (!by_states | named);
    let called = |&nth: &usize| {
        let by_state = by_states & (1 << nth) != 0;
        let place = actor.life.own.attacks.start + nth;
        allowed & (1 << nth) != 0 && calls(&spec.attacks[nth], state, actor, place, by_state)
    };
    let Some(nth) = (0..spec.attacks.len()).find(called) else {
        return;
    };
    let first = actor.life.own.attacks.start;
    let cause = match spec.attacks[nth].starts {
        Start::Press(_) | Start::Hold(_) => state.stock.attacks[first + nth].line,
        Start::Entry => mind.line,
        Start::Told => None,
        Start::Clock { .. } => mind.line.filter(|_| by_states & (1 << nth) != 0),
    };
    start(plan, state, index, AttackIx::new(nth), cause, None);
}

/// What would keep an actor from starting an attack now, but for what calls for it.
pub(crate) fn obstacle(
    plan: &Plan,
    state: &State,
    index: Slot,
    attack: AttackIx,
) -> Option<Despite> {
    let (actor, bit) = (&state.actors[index], 1 << attack.0);
    let spec = plan.spec_of(actor.spec);
    let (by_states, _) = spec.by_states();
    let own = actor.life.mind.state;
    let named = own.map_or(0, |own| spec.states[own.index()].attacks);
    let cancels = under_way(plan, actor, state.tick).map(|(other, phase)| {
        let cancels = &spec.attacks[other.index()].cancels;
        cancels[phase as usize].attacks
    });
    let readiness = &state.stock.attacks[actor.life.own.attacks.start + attack.index()];
    if by_states & bit & !named != 0 {
        Some(Despite::State)
    } else if cancels.is_some_and(|cancels| cancels & bit == 0) {
        Some(Despite::Attack)
    } else if state.tick < readiness.from {
        Some(Despite::Cooldown)
    } else {
        None
    }
}

/// An attack begins; one that is under way is cut short.
pub(crate) fn start(
    plan: &Plan,
    state: &mut State,
    index: Slot,
    attack: AttackIx,
    cause: Option<LineId>,
    despite: Option<Despite>,
) {
    end(plan, state, index, cause, true);
    let spec = state.spec(plan, index);
    let own = &spec.attacks[attack.index()];
    // One press starts one attack.
    if let Start::Press(button) = own.starts {
        let first = state.actors[index].life.own.attacks.start;
        for (other, attack) in spec.attacks.iter().enumerate() {
            if attack.starts == Start::Press(button) {
                state.stock.attacks[first + other].pressed = None;
            }
        }
    }
    let what = What::Attack {
        attack,
        over: None,
        despite,
    };
    let event = state.tell(Some(index), what);
    let line = event.caused_by(cause).id;
    record::cue(state, index, own.cue, Some(line));
    state.lists.swinging.push(index);
    let actor = &mut state.actors[index];
    actor.life.swings += 1;
    actor.life.swing_hits.clear();
    actor.swing = Some(Swing {
        attack,
        since: state.tick,
        serial: actor.life.swings,
        line,
    });
}

/// Whether something calls for an attack now.
fn calls(attack: &AttackPlan, state: &State, actor: &Actor, place: usize, by_state: bool) -> bool {
    let (tick, readiness) = (state.tick, &state.stock.attacks[place]);
    if tick < readiness.from {
        return false;
    }
    match attack.starts {
        Start::Press(_) => readiness
            .pressed
            .is_some_and(|pressed| pressed == tick || tick < pressed + attack.buffer),
        Start::Hold(button) => actor.buttons.is_down(button),
        Start::Clock { first, every } => {
            let age = if by_state {
                tick - actor.life.mind.since
            } else {
                actor.age(tick)
            };
            age >= first && (age.0 - first.0).is_multiple_of(every.0.max(1))
        }
        Start::Entry => actor.entered,
        Start::Told => false,
    }
}
