//! Resets: others, or everything, put back as placed.

use super::appearing::{self, Return};
use super::posing::Posed;
use super::{feed, meters, shots};
use crate::encounter::Ending;
use crate::ledger::{LineId, What};
use crate::plan::{Group, Plan};
use crate::sim::phases::record;
use crate::sim::slot::Slot;
use crate::sim::state::State;

/// Puts back those whom groups name, but whoever comes back anyway.
pub(crate) fn those(plan: &Plan, state: &mut State, but: Slot, groups: &[Group], line: LineId) {
    let mut named: Vec<Slot> = groups
        .iter()
        .flat_map(|group| state.crowds.of(*group))
        .copied()
        .filter(|index| *index != but && index.index() < plan.actors.len())
        .collect();
    named.sort_unstable();
    named.dedup();
    for who in named {
        let life = &mut state.actors[who].life;
        if life.lives == Some(0) {
            continue;
        }
        life.comeback = None;
        let (at, rise) = (life.home, life.rise.home);
        state.pending.returns.push(Return {
            who,
            at,
            rise,
            facing: Some(plan.actors[who.index()].facing),
            anew: true,
            respawn: false,
            just_there: false,
            cause: Some(line),
        });
    }
}

/// Everyone and everything as on tick 0, but for lives, checkpoints reached and the ledger; whoever
/// comes back does so at their place. Whether there was anything to reset.
pub(crate) fn everything(plan: &Plan, state: &mut State) -> bool {
    let mut backs = std::mem::take(&mut state.pending.resets);
    let Some(first) = backs.first().copied() else {
        return false;
    };
    for nth in 0..state.lists.order.len() {
        let slot = state.lists.order[nth];
        if state.actors[slot].life.maker.is_some() {
            shots::vanish_quietly(state, slot, Ending::Reset, first.cause);
        }
    }
    let event = state.tell(Some(first.who), What::Reset);
    let line = event.caused_by(first.cause).id;
    // Those who were launched are where they were.
    record::places(plan, state);
    let mut put_back = Vec::new();
    let mut fresh = State::new(plan, state.played, state.tick);
    for slot in plan.cast().map(Slot::placed) {
        let (actor, old) = (&mut fresh.actors[slot], &mut state.actors[slot]);
        actor.buttons = old.buttons;
        actor.posed = old.posed;
        actor.life.lives = old.life.lives;
        actor.life.checkpoint = old.life.checkpoint;
        actor.life.reached = std::mem::take(&mut old.life.reached);
        actor.alive = actor.life.lives != Some(0);
        let first = actor.life.own.meters.start;
        for (nth, meter) in plan.spec_of(actor.spec).meters.iter().enumerate() {
            let before = state.stock.meters[old.life.own.meters.start + nth];
            let after = &mut fresh.stock.meters[first + nth];
            if actor.alive {
                put_back.push((slot, meter.name, before, *after));
            } else {
                *after = before;
            }
        }
    }
    std::mem::swap(&mut fresh.log, &mut state.log);
    std::mem::swap(&mut fresh.script, &mut state.script);
    std::mem::swap(&mut fresh.posed, &mut state.posed);
    // Those who were introduced are gone.
    fresh
        .posed
        .retain(|posed| posed.who.index() < plan.actors.len());
    std::mem::swap(&mut fresh.feed, &mut state.feed);
    fresh.posed.iter_mut().for_each(Posed::begin_anew);
    std::mem::swap(&mut fresh.roll, &mut state.roll);
    fresh.roll.clear();
    fresh.outcome = state.outcome;
    fresh.told = state.told;
    fresh.excess = state.excess;
    *state = fresh;
    for nth in 0..state.posed.len() {
        let who = state.posed[nth].who;
        if state.posed[nth].away && state.actors[who].alive {
            feed::settle(state, who);
        }
    }
    for (owner, meter, before, after) in put_back {
        meters::tell(state, owner, meter, before, after, Some(line));
    }
    appearing::place(plan, state, &mut backs, Some(line));
    true
}
