//! Flight: how what is launched goes straight on, bounces, and ends once.

use super::actor::Cut;
use super::driving::Step;
use super::{appearing, rising, solids};
use crate::encounter::Ending;
use crate::geometry::Vec2;
use crate::ledger::{LineId, What};
use crate::plan::{BoxPlan, BoxSet, Plan};
use crate::sim::slot::Slot;
use crate::sim::state::State;

/// The end of a flight.
#[derive(Clone, Copy, Debug)]
pub(crate) struct End {
    pub who: Slot,
    pub ending: Ending,
    /// After which part of its way, from 0 to 1.
    pub part: f64,
    /// The hit that did it.
    pub hit: Option<LineId>,
}

/// Straight on, up to the first contact with a solid, which ends it.
pub(crate) fn fly(plan: &Plan, state: &mut State, index: Slot, body: &BoxPlan, step: Step) {
    let path = step.by;
    let up = rising::way(plan, &state.actors[index]);
    let met = solids::first_contact(plan, state, index, body, path);
    let actor = &mut state.actors[index];
    actor.stopped = [false; 2];
    actor.ground = None;
    let Some(part) = met else {
        actor.at = actor.start + path;
        actor.life.rise.at += up;
        return;
    };
    actor.at = actor.start + path * part;
    actor.life.rise.at += up * part;
    actor.life.rise.cut = up;
    actor.cut = true;
    actor.life.cut = Cut { path, part };
    state.pending.ended.push(End {
        who: index,
        ending: Ending::Solid,
        part,
        hit: None,
    });
}

/// What stopped on an axis turns round and keeps a share of its speed, or ends.
pub(crate) fn bounce(plan: &Plan, state: &mut State, index: Slot, before: Vec2) {
    let actor = &mut state.actors[index];
    let flight = &plan.spec_of(actor.spec).flight;
    let landed = plan.arena.height.is_some() && actor.ground.is_some();
    if (actor.stopped == [false; 2] && !landed) || actor.life.maker.is_none() {
        return;
    }
    if actor.bounces > 0 {
        actor.bounces -= 1;
        if actor.stopped[0] {
            actor.velocity.x = -before.x * flight.keeps;
        }
        if actor.stopped[1] {
            actor.velocity.y = -before.y * flight.keeps;
            actor.ground = None;
        }
        if landed {
            actor.life.rise.velocity = -actor.life.rise.set_out * flight.keeps;
            actor.ground = None;
        }
    } else if flight.ends_at(Ending::Solid, actor.shot) {
        state.pending.ended.push(End {
            who: index,
            ending: Ending::Solid,
            part: 1.0,
            hit: None,
        });
    }
}

/// Flights end: each once, at the earliest of what ends it.
pub(crate) fn end_all(plan: &Plan, state: &mut State) {
    if state.pending.ended.is_empty() {
        return;
    }
    let mut ended = std::mem::take(&mut state.pending.ended);
    ended.sort_by(|a, b| {
        let rank = |end: &End| state.actors[end.who].rank;
        rank(a).cmp(&rank(b)).then(a.part.total_cmp(&b.part))
    });
    ended.dedup_by_key(|end| end.who);
    for end in &ended {
        let actor = &mut state.actors[end.who];
        if end.part < actor.part() {
            let path = actor.path();
            actor.at = actor.start + path * end.part;
        }
        vanish(plan, state, end.who, end.ending, end.hit, false);
    }
    ended.clear();
    state.pending.ended = ended;
}

/// An actor is gone without a death, and leaves behind what it leaves.
pub(crate) fn vanish(
    plan: &Plan,
    state: &mut State,
    index: Slot,
    ending: Ending,
    cause: Option<LineId>,
    same_tick: bool,
) {
    let actor = &mut state.actors[index];
    if !actor.alive {
        return;
    }
    actor.alive = false;
    if same_tick {
        actor.live = BoxSet::default();
    }
    let what = What::Vanish { of: ending };
    let event = state.tell(Some(index), what);
    let line = event.caused_by(cause).id;
    gone(plan, state, index);
    appearing::leave(plan, state, index, ending, line, same_tick);
}

/// An actor is gone and leaves nothing behind.
pub(crate) fn vanish_quietly(
    state: &mut State,
    index: Slot,
    ending: Ending,
    cause: Option<LineId>,
) {
    if std::mem::take(&mut state.actors[index].alive) {
        let what = What::Vanish { of: ending };
        state.tell(Some(index), what).caused_by(cause);
    }
}

/// An actor is gone, by a death or without: its launcher may launch another, whoever will not come
/// back is taken off the lists, and the drill may be lost.
pub(crate) fn gone(plan: &Plan, state: &mut State, index: Slot) {
    state.lists.stale = true;
    state.pending.player_gone |= state.spec(plan, index).player;
    let life = &state.actors[index].life;
    let maker = life.maker.and_then(|maker| state.find(maker));
    if let (Some(maker), Some(launcher)) = (maker, life.launcher) {
        let barrel = maker.life.own.launchers.start + launcher.index();
        let flying = &mut state.stock.barrels[barrel].flying;
        *flying = flying.saturating_sub(1);
    }
}
