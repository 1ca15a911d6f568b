//! Checkpoints and exits, in phase 6 after the pickups; and what else wins a drill.

use super::meters::{self, Source};
use super::{deaths, groups, transitions};
use crate::encounter::Contact;
use crate::geometry::{Bounds, HeightSpan, Vec2, sweep_upright};
use crate::ledger::What;
use crate::outcome::Outcome;
use crate::plan::{CheckpointIx, ClearPlan, ExitIx, Group, MeterIx, NeedsPlan, Plan, PortionPlan};
use crate::sim::phases::record;
use crate::sim::phases::touch::{END, PARTS};
use crate::sim::slot::Slot;
use crate::sim::state::State;

/// A body in a region.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub(crate) struct Visit {
    moment: u16,
    rank: u32,
    goal: Goal,
    who: Slot,
}

#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
enum Goal {
    Checkpoint(CheckpointIx),
    Exit(ExitIx),
}

/// Checkpoints and exits are reached, by moment, then id.
pub(crate) fn run(plan: &Plan, state: &mut State) {
    if plan.checkpoints.is_empty() && plan.exits.is_empty() {
        return;
    }
    let mut visits = std::mem::take(&mut state.pending.visits);
    for nth in 0..state.lists.bodies.len() {
        let who = state.lists.bodies[nth];
        let mut on = std::mem::take(&mut state.actors[who].life.on);
        let actor = &state.actors[who];
        let up = actor.alive && !actor.dying && actor.life.doom.is_none();
        if !up {
            on.clear();
        } else {
            let rank = actor.rank;
            let mut visit = |goal, moment| {
                visits.push(Visit {
                    moment,
                    rank,
                    goal,
                    who,
                });
            };
            for (nth, point) in plan.checkpoints.iter().enumerate() {
                let index = CheckpointIx::new(nth);
                let moment = groups::is_of(plan, actor, point.by)
                    .then(|| touches(plan, state, who, (point.area, point.span)))
                    .flatten();
                match moment {
                    None => on.retain(|other| *other != index),
                    Some(moment) if !on.contains(&index) => {
                        on.push(index);
                        visit(Goal::Checkpoint(index), moment);
                    }
                    Some(_) => {}
                }
            }
            for (nth, exit) in plan.exits.iter().enumerate() {
                let may = match exit.by {
                    Some(group) => groups::is_of(plan, actor, group),
                    None => plan.spec_of(actor.spec).player,
                };
                if may
                    && let Some(moment) = touches(plan, state, who, (exit.area, exit.span))
                    && exit
                        .needs
                        .as_ref()
                        .is_none_or(|needs| is_open(plan, state, needs, who))
                {
                    visit(Goal::Exit(ExitIx::new(nth)), moment);
                }
            }
        }
        state.actors[who].life.on = on;
    }
    visits.sort_unstable();
    for visit in visits.drain(..) {
        match visit.goal {
            Goal::Checkpoint(checkpoint) => reach(plan, state, visit.who, checkpoint),
            Goal::Exit(exit) if state.outcome.is_none() => {
                let event = state.tell(Some(visit.who), What::Exit { exit });
                let line = event.id;
                record::cue(state, visit.who, plan.exits[exit.index()].cue, Some(line));
                state.outcome = Some(Outcome::Won);
            }
            Goal::Exit(_) => {}
        }
    }
    state.pending.visits = visits;
}

/// Whether an exit is open to an actor.
fn is_open(plan: &Plan, state: &State, needs: &NeedsPlan, who: Slot) -> bool {
    let all = |group: Option<Group>, is: &dyn Fn(Slot) -> bool| {
        group.is_none_or(|group| {
            let members = state.crowds.of(group);
            !members.is_empty() && members.iter().all(|&index| is(index))
        })
    };
    let actor = &state.actors[who];
    let spec = plan.spec_of(actor.spec);
    let level = |&(meter, least, most): &(MeterIx, Option<PortionPlan>, Option<PortionPlan>)| {
        spec.meter(meter).is_some_and(|nth| {
            let held = state.stock.meters[actor.life.own.meters.start + nth];
            let max = spec.meters[nth].max;
            least.is_none_or(|least| held >= least.of(max))
                && most.is_none_or(|most| held <= most.of(max))
        })
    };
    all(needs.gone, &|index| deaths::is_gone(state, index))
        && all(needs.taken, &|index| state.actors[index].life.taken)
        && needs.meters.iter().all(level)
        && needs
            .other
            .is_none_or(|asked| transitions::any_is(plan, state, who, asked))
}

/// When a body touches a region on this tick.
fn touches(
    plan: &Plan,
    state: &State,
    who: Slot,
    (area, span): (Bounds, Option<HeightSpan>),
) -> Option<u16> {
    let actor = &state.actors[who];
    let body = plan.spec_of(actor.spec).body.as_ref()?;
    let bounds = body.unturned(actor.facing).bounds();
    if plan.arena.contact == Contact::Sampled || actor.came == state.tick {
        let inside = sweep_upright(area, bounds, actor.at, Vec2::ZERO);
        let inside = HeightSpan::cut(inside, span, body.span, actor.height_at(1.0), 0.0);
        return inside.is_some_time().then_some(END);
    }
    let met = sweep_upright(area, bounds, actor.start, actor.at - actor.start);
    let rise = &actor.life.rise;
    let met = HeightSpan::cut(met, span, body.span, rise.start, rise.at - rise.start);
    let first = met.first_moment()?;
    Some(libm::floor(first * PARTS) as u16)
}

fn reach(plan: &Plan, state: &mut State, who: Slot, checkpoint: CheckpointIx) {
    let point = &plan.checkpoints[checkpoint.index()];
    let life = &mut state.actors[who].life;
    let last = life
        .checkpoint
        .and_then(|last| plan.checkpoints[last.index()].order);
    let before = point.order.zip(last).is_some_and(|(own, last)| own < last);
    let known = life.reached.contains(&checkpoint);
    if before || (known && !point.again) {
        return;
    }
    life.checkpoint = Some(checkpoint);
    if !known {
        life.reached.push(checkpoint);
    }
    let event = state.tell(Some(who), What::Checkpoint { checkpoint });
    let line = event.id;
    record::cue(state, who, point.cue, Some(line));
    let spec = state.spec(plan, who);
    for meter in &point.refills {
        if let Some(nth) = spec.meter(*meter) {
            let first = state.actors[who].life.own.meters.start;
            let room = spec.meters[nth].max - state.stock.meters[first + nth];
            let source = Source {
                cause: Some(line),
                ..Source::default()
            };
            meters::change(plan, state, who, nth, room, source);
        }
    }
}

/// After the deaths: what else wins the drill.
pub(crate) fn clear(plan: &Plan, state: &mut State) {
    if state.outcome.is_some() {
        return;
    }
    let won = plan.clear.iter().any(|clear| match clear {
        ClearPlan::Survive(tick) => state.tick >= *tick,
        ClearPlan::Gone(group) => {
            let members = state.crowds.of(*group);
            !members.is_empty() && members.iter().all(|&index| deaths::is_gone(state, index))
        }
    });
    if won {
        state.outcome = Some(Outcome::Won);
    }
}
