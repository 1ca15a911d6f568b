//! Resets: others, or everything, put back as placed.

use super::appearing::{self, Return};
use super::{meters, shots};
use crate::encounter::Ending;
use crate::ledger::{LineId, What};
use crate::plan::{ActorIx, Group, Plan};
use crate::sim::state::State;

/// Puts back those whom groups name, but whoever comes back anyway.
pub(crate) fn those(plan: &Plan, state: &mut State, but: ActorIx, groups: &[Group], line: LineId) {
    let mut named: Vec<ActorIx> = groups
        .iter()
        .flat_map(|group| state.crowds.of(*group))
        .copied()
        .filter(|index| *index != but && index.index() < plan.actors.len())
        .collect();
    named.sort_unstable();
    named.dedup();
    for who in named {
        let life = &mut state.actors[who.index()].life;
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
        let index = state.lists.order[nth];
        if index.index() >= plan.actors.len() {
            shots::vanish_quietly(state, index, Ending::Reset, first.cause);
        }
    }
    let event = state.ledger.push(state.tick, Some(first.who), What::Reset);
    let line = event.caused_by(first.cause).id;
    let mut put_back = Vec::new();
    let mut fresh = State::new(plan, state.drill, state.tick);
    for (index, old) in state.actors.iter_mut().enumerate() {
        if let Some(actor) = fresh
            .actors
            .get_mut(index)
            .filter(|_| index < plan.actors.len())
        {
            actor.buttons = old.buttons;
            actor.life.lives = old.life.lives;
            actor.life.checkpoint = old.life.checkpoint;
            actor.life.reached = std::mem::take(&mut old.life.reached);
            actor.alive = actor.life.lives != Some(0);
            let (old, new) = (old.life.meters.clone(), actor.life.meters.clone());
            for (nth, meter) in plan.spec_of(actor.spec).meters.iter().enumerate() {
                let before = state.stock.meters[old.start + nth];
                let after = &mut fresh.stock.meters[new.start + nth];
                if actor.alive {
                    put_back.push((ActorIx::new(index), meter.name, before, *after));
                } else {
                    *after = before;
                }
            }
        }
    }
    // Those who were launched keep their numbers.
    for (mut old, legs) in state
        .actors
        .drain(plan.actors.len()..)
        .zip(state.legs.drain(plan.actors.len()..))
    {
        old.life.forget_lists();
        fresh.actors.push(old);
        fresh.legs.push(legs);
    }
    std::mem::swap(&mut fresh.ledger, &mut state.ledger);
    std::mem::swap(&mut fresh.script, &mut state.script);
    fresh.lines_before = state.lines_before;
    fresh.outcome = state.outcome;
    fresh.told = state.told;
    fresh.excess = state.excess;
    *state = fresh;
    for (owner, meter, before, after) in put_back {
        meters::tell(state, owner, meter, before, after, Some(line));
    }
    appearing::place(plan, state, &mut backs, Some(line));
    true
}
