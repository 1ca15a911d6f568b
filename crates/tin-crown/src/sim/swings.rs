//! Attacks under way: what starts them, what cuts them short, and which boxes they make live.

use super::state::{Actor, State, Swing};
use crate::encounter::Phase;
use crate::ledger::{LineId, What};
use crate::plan::{ActorIx, AttackIx, AttackPlan, BoxSet, ButtonIx, Plan, Start};
use crate::time::{Tick, Ticks};

/// The phase of an attack so long after its beginning; none when it is over. Phases of no length are
/// passed at once.
pub(super) fn phase(attack: &AttackPlan, since: Tick, tick: Tick) -> Option<Phase> {
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
pub(super) fn under_way(
    plan: &Plan,
    index: ActorIx,
    actor: &Actor,
    tick: Tick,
) -> Option<(AttackIx, Phase)> {
    let swing = actor.swing?;
    let attack = &plan.spec(index).attacks[swing.attack.index()];
    phase(attack, swing.since, tick).map(|phase| (swing.attack, phase))
}

/// The boxes that are live: all but those of attacks, and those of the phase under way.
pub(super) fn live(plan: &Plan, index: ActorIx, actor: &Actor, tick: Tick) -> BoxSet {
    match under_way(plan, index, actor, tick) {
        Some((attack, phase)) => {
            let attack = &plan.spec(index).attacks[attack.index()];
            actor.always.with(attack.live[phase as usize])
        }
        None => actor.always,
    }
}

/// Ends a swing whose last phase is over.
pub(super) fn end_when_due(plan: &Plan, state: &mut State, index: ActorIx) {
    if under_way(plan, index, &state.actors[index.index()], state.tick).is_none() {
        end(plan, state, index, None, false);
    }
}

/// Ends a swing, and lets its cooldown begin.
pub(super) fn end(
    plan: &Plan,
    state: &mut State,
    index: ActorIx,
    cause: Option<LineId>,
    cut: bool,
) {
    let actor = &mut state.actors[index.index()];
    let Some(swing) = actor.swing.take() else {
        return;
    };
    let attack = &plan.spec(index).attacks[swing.attack.index()];
    state.attacks[actor.fight.first_attack + swing.attack.index()].from =
        state.tick + attack.cooldown;
    let what = What::Attack {
        attack: swing.attack,
        over: Some(cut),
    };
    let event = state.ledger.push(state.tick, Some(index), what);
    event.caused_by(cause.or(Some(swing.line)));
}

/// A button went down: whatever it could start remembers that, from `tick` on.
pub(super) fn press(
    plan: &Plan,
    state: &mut State,
    index: ActorIx,
    button: ButtonIx,
    tick: Tick,
    line: LineId,
) {
    let first = state.actors[index.index()].fight.first_attack;
    for (nth, attack) in plan.spec(index).attacks.iter().enumerate() {
        if let Start::Press(own) | Start::Hold(own) = attack.starts
            && own == button
        {
            let readiness = &mut state.attacks[first + nth];
            readiness.pressed = Some(tick);
            readiness.line = Some(line);
        }
    }
}

/// Starts the first attack that its owner's buttons and clocks call for, and that may start now.
pub(super) fn start_one(plan: &Plan, state: &mut State, index: ActorIx) {
    let spec = plan.spec(index);
    let actor = &state.actors[index.index()];
    let allowed = match under_way(plan, index, actor, state.tick) {
        Some((attack, phase)) => spec.attacks[attack.index()].cancels[phase as usize].attacks,
        None => spec
            .attacks
            .iter()
            .enumerate()
            .filter(|(_, attack)| !attack.followup)
            .fold(0, |bits, (nth, _)| bits | 1 << nth),
    };
    let called = |&nth: &usize| {
        allowed & (1 << nth) != 0
            && calls(
                &spec.attacks[nth],
                state,
                actor,
                actor.fight.first_attack + nth,
            )
    };
    let Some(nth) = (0..spec.attacks.len()).find(called) else {
        return;
    };
    let first = actor.fight.first_attack;
    let by_clock = matches!(spec.attacks[nth].starts, Start::Clock { .. });
    let cause = state.attacks[first + nth].line.filter(|_| !by_clock);
    end(plan, state, index, cause, true);
    // One press starts one attack.
    if let Start::Press(button) = spec.attacks[nth].starts {
        for (other, attack) in spec.attacks.iter().enumerate() {
            if attack.starts == Start::Press(button) {
                state.attacks[first + other].pressed = None;
            }
        }
    }
    let attack = AttackIx::new(nth);
    let what = What::Attack { attack, over: None };
    let event = state.ledger.push(state.tick, Some(index), what);
    let line = event.caused_by(cause).id;
    state.swinging.push(index);
    let actor = &mut state.actors[index.index()];
    actor.fight.swings += 1;
    actor.fight.swing_hits.clear();
    actor.swing = Some(Swing {
        attack,
        since: state.tick,
        serial: actor.fight.swings,
        line,
    });
}

/// Whether something calls for an attack now.
fn calls(attack: &AttackPlan, state: &State, actor: &Actor, place: usize) -> bool {
    let (tick, readiness) = (state.tick, &state.attacks[place]);
    if tick < readiness.from {
        return false;
    }
    match attack.starts {
        Start::Press(_) => readiness
            .pressed
            .is_some_and(|pressed| pressed == tick || tick < pressed + attack.buffer),
        Start::Hold(button) => actor.buttons.is_down(button),
        Start::Clock { first, every } => {
            let age = (tick - actor.appeared).0 - actor.fight.rested;
            age >= first.0 && (age - first.0).is_multiple_of(every.0.max(1))
        }
    }
}
