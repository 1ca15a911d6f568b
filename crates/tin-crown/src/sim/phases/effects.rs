//! Phase 6, effects: hits in candidate order, ends of flights, pickups, then who left the arena, then
//! deaths.

use super::record;
use super::touch::PARTS;
use super::verdict::Candidate;
use crate::amount::Amount;
use crate::encounter::{Ending, Outside};
use crate::ledger::{DeathCause, Hit, LineId, What};
use crate::plan::Plan;
use crate::sim::parts::actor::LastHit;
use crate::sim::parts::hits::Strike;
use crate::sim::parts::memory::Told;
use crate::sim::parts::shots::{self, End};
use crate::sim::parts::windows::Because;
use crate::sim::parts::{deaths, edge, goals, hits, meters, outside, pickups};
use crate::sim::state::State;
use crate::verdict::Verdict;

pub(crate) fn run(plan: &Plan, state: &mut State) {
    outside::run(plan, state);
    for nth in 0..state.contacts.judgement.order.len() {
        let index = state.contacts.judgement.order[nth];
        if is_quiet(plan, state, index) {
            continue;
        }
        let candidate = state.contacts.judgement.candidates[index as usize];
        meters::touched(plan, state, &candidate);
        if candidate.verdict.took_effect() {
            // Before its lines, which say how long it makes windows last.
            hits::rest(plan, state, &candidate);
        }
        let line = record(plan, state, index, &candidate);
        let strike = Strike {
            plan,
            candidate,
            line: line.unwrap_or(LineId(0)),
        };
        match candidate.verdict {
            Verdict::Landed => strike.land(state),
            Verdict::Guarded => strike.meet_guard(state),
            Verdict::Invincible => strike.rebound(state),
            _ => {}
        }
        if candidate.verdict.took_effect() {
            let cue = plan.rules[candidate.rule.index()].cue;
            record::cue(state, candidate.who, cue, line);
        }
        if candidate.last {
            state.pending.ended.push(End {
                who: candidate.who,
                ending: Ending::Hit,
                part: f64::from(candidate.moment) / PARTS,
                hit: line,
            });
        }
    }
    if !plan.precedence.is_empty() {
        settle_reasons(state);
    }
    meters::wait(plan, state);
    shots::end_all(plan, state);
    pickups::run(plan, state);
    goals::run(plan, state);
    leave(plan, state);
    deaths::begin_all(plan, state);
    goals::clear(plan, state);
}

/// Whether a candidate does nothing, and nothing new is to be said of it.
fn is_quiet(plan: &Plan, state: &State, index: u32) -> bool {
    let candidate = &state.contacts.judgement.candidates[index as usize];
    if candidate.withheld {
        return true;
    }
    if candidate.verdict.took_effect() || !plan.precedence.is_empty() {
        return false;
    }
    let gate = candidate
        .gate
        .filter(|_| candidate.verdict == Verdict::Gate);
    let gate = gate.map(|gate| gate.index);
    let told = state.contacts.pairs.get(candidate).told;
    let same = told.is_some_and(|told| told.verdict == candidate.verdict && told.gate == gate);
    // A touch that comes to nothing may throw who back, and let regeneration wait.
    let bounces = plan.rules[candidate.rule.index()].rebound.is_some();
    same && !bounces && !state.legs[candidate.whom].fills
}

/// Writes the line of a candidate, when there is something to say: always when it took effect, else
/// when the verdict or its gate changed since the two came together.
fn record(plan: &Plan, state: &mut State, index: u32, candidate: &Candidate) -> Option<LineId> {
    let told = state.contacts.pairs.get(candidate).told;
    // Another check may have said no before the gate was asked.
    let no = candidate
        .gate
        .filter(|_| candidate.verdict == Verdict::Gate);
    let gate = no.map(|gate| gate.index);
    let same = told.is_some_and(|told| told.verdict == candidate.verdict && told.gate == gate);
    let took_effect = candidate.verdict.took_effect();
    // A mark is set by each win, told or not, and refers to the last line that is.
    if candidate.verdict == Verdict::Ally || (same && !took_effect) {
        if let Some(told) = told.filter(|_| !plan.precedence.is_empty()) {
            state.contacts.marks.written(candidate, index, told.line);
        }
        return None;
    }
    let because = match candidate.because {
        Some(Because::Line(line)) => Some(line),
        Some(Because::Candidate(index)) => written(state, index),
        None => None,
    };
    let whom = &state.actors[candidate.whom];
    let what = What::Hit(Hit {
        verdict: candidate.verdict,
        hitbox: candidate.hitbox,
        hurtbox: candidate.hurtbox,
        moment: candidate.moment,
        gate: no,
        guard: candidate.guard,
        amount: None,
        blocked: Amount::ZERO,
        overkill: Amount::ZERO,
        kills: false,
        chain: None,
        until: candidate.until.map(|until| whom.rested(until, state.tick)),
    });
    let who = &state.actors[candidate.who];
    let swing = who.swing.filter(|_| !who.shot);
    let cause = swing
        .filter(|swing| swing.serial == candidate.swing)
        .map(|swing| swing.line)
        .or(who.life.origin);
    let credit = who.life.root;
    let line = state.tell(Some(candidate.who), what);
    line.on(candidate.key.whom, candidate.rule).because = because;
    line.cause = cause;
    let line = line.id;
    let pair = state.contacts.pairs.get_mut(candidate);
    pair.told = Some(Told {
        verdict: candidate.verdict,
        gate,
        line,
    });
    // Windows and marks that this hit set know its line from now on.
    if took_effect {
        pair.hit = Some(line);
        let whom = &mut state.actors[candidate.whom];
        let life = &mut whom.life;
        if candidate.verdict == Verdict::Landed {
            life.last_hit = Some(LastHit {
                tick: state.tick,
                line,
                by: credit,
            });
        }
        for window in whom.windows.all_mut() {
            if matches!(window.because, Because::Candidate(opener) if opener == index) {
                window.because = Because::Line(line);
            }
        }
    }
    state.contacts.marks.written(candidate, index, line);
    Some(line)
}

/// The winner over a candidate may come later in candidate order: its line is known only now.
fn settle_reasons(state: &mut State) {
    for nth in 0..state.contacts.judgement.order.len() {
        let candidate =
            state.contacts.judgement.candidates[state.contacts.judgement.order[nth] as usize];
        if candidate.verdict != Verdict::Beaten || candidate.withheld {
            continue;
        }
        let Some(Because::Candidate(winner)) = candidate.because else {
            continue;
        };
        let told = state
            .contacts
            .pairs
            .get(&candidate)
            .told
            .map(|told| told.line);
        let because = written(state, winner);
        if let Some(event) = told.and_then(|line| state.log.get_mut(line))
            && event.tick == state.tick
        {
            event.because = because;
        }
    }
}

/// The line that a candidate of this tick has, if it has one by now.
pub(crate) fn written(state: &State, index: u32) -> Option<LineId> {
    let candidate = &state.contacts.judgement.candidates[index as usize];
    state
        .contacts
        .pairs
        .get(candidate)
        .told
        .map(|told| told.line)
}

/// Who is wholly outside the arena.
fn leave(plan: &Plan, state: &mut State) {
    for nth in 0..state.lists.confined.len() {
        let index = state.lists.confined[nth];
        let actor = &state.actors[index];
        let spec = plan.spec_of(actor.spec);
        if !actor.alive || actor.dying {
            continue;
        }
        if !edge::is_outside(plan, actor) {
            continue;
        }
        let flies = actor.life.maker.is_some();
        let ends = flies && spec.flight.ends_at(Ending::Edge, actor.shot);
        if spec.outside == Outside::Vanishes || ends {
            shots::vanish(plan, state, index, Ending::Edge, None, false);
        } else if spec.outside == Outside::Dies {
            state.doom_without_hit(plan, index, DeathCause::Outside);
        }
    }
}
