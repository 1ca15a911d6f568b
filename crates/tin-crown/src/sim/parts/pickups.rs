//! Pickups: bodies that touch what lies about, in phase 6 after the hits.

use super::actor::Actor;
use super::appearing::Return;
use super::meters::{self, Source};
use super::{groups, shots};
use crate::amount::Amount;
use crate::encounter::{Contact, Ending, WhenFull};
use crate::geometry::{Bounds, HeightSpan, Vec2, sweep};
use crate::ledger::What;
use crate::plan::{BoxPlan, PickupPlan, Plan};
use crate::sim::phases::record;
use crate::sim::phases::touch::PARTS;
use crate::sim::slot::Slot;
use crate::sim::state::State;

/// A body that touches a pickup.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub(crate) struct Grab {
    moment: u16,
    pickup: u32,
    taker: u32,
    pickup_ix: Slot,
    taker_ix: Slot,
}

/// A body, and the stretch along x that it takes up over the tick.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Taker {
    from: f64,
    to: f64,
    who: Slot,
}

/// What is touched is taken, by moment, then id.
pub(crate) fn run(plan: &Plan, state: &mut State) {
    if state.lists.pickups.is_empty() {
        return;
    }
    let mut grabs = std::mem::take(&mut state.pending.grabs);
    let mut takers = std::mem::take(&mut state.pending.takers);
    let bodies = state.lists.bodies.iter().filter_map(|&who| {
        let own = &state.actors[who];
        let body = plan.spec_of(own.spec).body.as_deref();
        let body = body.filter(|_| own.alive)?.unturned(own.facing);
        let [from, to] = stretch(own, body.bounds());
        Some(Taker { from, to, who })
    });
    takers.clear();
    takers.extend(bodies);
    takers.sort_unstable_by(|one, other| one.from.total_cmp(&other.from));
    let widest = takers
        .iter()
        .map(|own| own.to - own.from)
        .fold(0.0, f64::max);
    for &index in &state.lists.pickups {
        let actor = &state.actors[index];
        let spec = plan.spec_of(actor.spec);
        let Some(pickup) = spec.pickup.as_deref().filter(|_| actor.alive) else {
            continue;
        };
        let [from, to] = stretch(actor, pickup.area.shape(actor.facing).bounds());
        let first = takers.partition_point(|own| own.from < from - widest);
        let near = takers[first..].iter().take_while(|own| own.from <= to);
        for &Taker { who: taker, .. } in near.filter(|own| own.to >= from) {
            let own = &state.actors[taker];
            let body = plan.spec_of(own.spec).body.as_deref();
            if taker != index
                && groups::is_of(plan, own, pickup.by)
                && let Some(moment) =
                    body.and_then(|body| touches(plan, state, index, pickup, taker, body))
            {
                grabs.push(Grab {
                    moment,
                    pickup: actor.rank,
                    taker: own.rank,
                    pickup_ix: index,
                    taker_ix: taker,
                });
            }
        }
    }
    grabs.sort_unstable();
    for grab in grabs.drain(..) {
        take(plan, state, grab.pickup_ix, grab.taker_ix);
    }
    state.pending.grabs = grabs;
    state.pending.takers = takers;
}

/// The stretch along x that something around an actor takes up over the tick, and a little more: what only just
/// touches is not lost to rounding.
fn stretch(own: &Actor, around: Bounds) -> [f64; 2] {
    let (from, to) = (own.start.x.min(own.at.x), own.start.x.max(own.at.x));
    let more = 1e-9 * from.abs().max(to.abs()).max(1.0);
    [from + around.min.x - more, to + around.max.x + more]
}

/// When a body touches a pickup on this tick.
fn touches(
    plan: &Plan,
    state: &State,
    index: Slot,
    pickup: &PickupPlan,
    taker: Slot,
    body: &BoxPlan,
) -> Option<u16> {
    let (lies, comes) = (&state.actors[index], &state.actors[taker]);
    let spans = [pickup.area.span, body.span];
    let (area, body) = (pickup.area.shape(lies.facing), body.unturned(comes.facing));
    let appeared = lies.came == state.tick || comes.came == state.tick;
    if plan.arena.contact == Contact::Sampled || appeared {
        let offset = comes.height_at(1.0) - lies.height_at(1.0);
        let meets = sweep(&area, body, comes.at - lies.at, Vec2::ZERO);
        let meets = HeightSpan::cut(meets, spans[0], spans[1], offset, 0.0);
        return meets.is_some_time().then_some(PARTS as u16);
    }
    let path = (comes.at - comes.start) - (lies.at - lies.start);
    let met = sweep(&area, body, comes.start - lies.start, path);
    let offset = comes.height_at(0.0) - lies.height_at(0.0);
    let rise = comes.way_up() - lies.way_up();
    let first = HeightSpan::cut(met, spans[0], spans[1], offset, rise).first_moment()?;
    Some(libm::floor(first * PARTS) as u16)
}

fn take(plan: &Plan, state: &mut State, index: Slot, taker: Slot) {
    let (lies, comes) = (&state.actors[index], &state.actors[taker]);
    let dying = comes.life.doom.is_some() || comes.dying || !comes.alive;
    let Some(pickup) = plan
        .spec_of(lies.spec)
        .pickup
        .as_deref()
        .filter(|_| lies.alive && !dying)
    else {
        return;
    };
    let spec = plan.spec_of(comes.spec);
    let first = comes.life.own.meters.start;
    let room = |meter, state: &State| {
        let nth = spec.meter(meter)?;
        let room = spec.meters[nth].max - state.stock.meters[first + nth];
        Some((nth, room)).filter(|(_, room)| *room > Amount::ZERO)
    };
    let full = !pickup
        .gives
        .iter()
        .any(|(meter, _)| room(*meter, state).is_some());
    let counts = comes.life.lives.is_some() && pickup.lives > 0;
    if full && !counts && pickup.when_full == WhenFull::Stays && !pickup.gives.is_empty() {
        return;
    }
    let whom = state.number(index);
    let event = state.tell(Some(taker), What::Pickup);
    event.whom = Some(whom);
    let line = event.id;
    record::cue(state, taker, pickup.cue, Some(line));
    for (meter, amount) in &pickup.gives {
        if let Some((nth, room)) = room(*meter, state) {
            let source = Source {
                cause: Some(line),
                ..Source::default()
            };
            meters::change(plan, state, taker, nth, (*amount).min(room), source);
        }
    }
    if let Some(before) = state.actors[taker].life.lives.filter(|_| pickup.lives > 0) {
        let after = before.saturating_add(pickup.lives);
        state.actors[taker].life.lives = Some(after);
        let what = What::Life { before, after };
        state.tell(Some(taker), what).caused_by(Some(line));
    }
    shots::vanish(plan, state, index, Ending::Taken, Some(line), false);
    let back = pickup.back_after.map(|after| state.tick + after);
    let life = &mut state.actors[index].life;
    life.back = back;
    life.taken = true;
}

/// Phase 1: what was taken is back where it lay.
pub(crate) fn come_back(plan: &Plan, state: &mut State) {
    for nth in 0..state.lists.pickups.len() {
        let index = state.lists.pickups[nth];
        let actor = &state.actors[index];
        let (back, home, rise) = (actor.life.back, actor.life.home, actor.life.rise.home);
        let pickup = plan.spec_of(actor.spec).pickup.as_deref();
        let near = pickup.and_then(|pickup| pickup.unless_near);
        let waits = || near.is_some_and(|near| state.is_near(plan, near, index, (home, rise)));
        if back.is_some_and(|back| back <= state.tick) && !waits() {
            state.pending.returns.push(Return {
                who: index,
                at: home,
                rise,
                facing: None,
                anew: true,
                respawn: false,
                just_there: false,
                cause: None,
            });
        }
    }
}
