//! The guard: raised and lowered in phase 2, asked in phase 5.

use super::actor::Actor;
use super::attacks;
use crate::geometry::Vec2;
use crate::ledger::{Bearing, GuardSaid, LineId, What};
use crate::plan::{GuardPlan, Plan, RulePlan};
use crate::sim::slot::Slot;
use crate::sim::state::State;
use crate::time::{Tick, Ticks};

/// Whether a guard is up on a tick: its button counts, and its startup is over.
pub(crate) fn is_up(plan: &GuardPlan, guard: Option<Tick>, tick: Tick) -> bool {
    guard.is_some_and(|since| tick >= since + plan.startup)
}

/// Raises or lowers an actor's guard as its button asks.
pub(crate) fn heed(plan: &Plan, state: &mut State, index: Slot) {
    let spec = state.spec(plan, index);
    let Some(guard) = &spec.guard else {
        return;
    };
    let tick = state.tick;
    let actor = &state.actors[index];
    let pressed = guard
        .button
        .is_some_and(|button| actor.buttons.is_pressed(button));
    let down = guard
        .button
        .is_some_and(|button| actor.buttons.is_down(button));
    let held = actor
        .life
        .mind
        .state
        .is_some_and(|state| spec.states[state.index()].guard);
    let asked = pressed || down || held;
    if !asked {
        return lower(state, index, None, Bearing::GuardDown);
    }
    if let Some((attack, phase)) = attacks::under_way(plan, actor, tick) {
        let cancels = spec.attacks[attack.index()].cancels[phase as usize].guard;
        if !cancels || !pressed {
            return lower(state, index, None, Bearing::GuardDown);
        }
        attacks::end(plan, state, index, None, true);
    }
    let actor = &mut state.actors[index];
    if actor.life.guard.is_none() {
        actor.life.guard = Some(tick);
        let what = What::State {
            bearing: Bearing::GuardUp,
            until: None,
        };
        state.tell(Some(index), what);
    }
}

/// Lowers a guard that is up.
pub(crate) fn lower(state: &mut State, index: Slot, cause: Option<LineId>, bearing: Bearing) {
    if state.actors[index].life.guard.take().is_some() {
        let what = What::State {
            bearing,
            until: None,
        };
        let event = state.tell(Some(index), what);
        event.caused_by(cause);
    }
}

/// What the guard of whom says to a touch by who at a moment; nothing when it is down.
pub(crate) fn says(
    plan: &Plan,
    rule: &RulePlan,
    [who, whom]: [&Actor; 2],
    moment: u16,
    meters: &[crate::amount::Amount],
    tick: Tick,
) -> Option<GuardSaid> {
    let spec = plan.spec_of(whom.spec);
    let guard = spec.guard.as_ref()?;
    let since = whom.life.guard?;
    if rule.pierces_guard {
        return Some(GuardSaid::Pierced);
    }
    if !is_up(guard, Some(since), tick) {
        return Some(GuardSaid::TooLate);
    }
    let place = guard.meter.and_then(|meter| spec.meter(meter));
    if place.is_some_and(|place| !meters[whom.life.own.meters.start + place].is_positive()) {
        return Some(GuardSaid::Spent);
    }
    if !guard.arc.contains(ahead(plan, [who, whom], moment)) {
        return Some(GuardSaid::WrongSide);
    }
    let parried = guard
        .parry
        .as_ref()
        .is_some_and(|parry| tick < since + guard.startup + parry.window);
    Some(if parried {
        GuardSaid::Parried
    } else {
        GuardSaid::Held
    })
}

/// Where who is at a moment, as whom sees it that faces right, with y upward.
pub(crate) fn ahead(plan: &Plan, [who, whom]: [&Actor; 2], moment: u16) -> Vec2 {
    let mut ahead = whom.facing.seen(seen_from(who, whom, moment));
    ahead.y *= plan.arena.up.sign();
    ahead
}

/// For how long a guard has been up.
pub(crate) fn up_for(plan: &GuardPlan, guard: Option<Tick>, tick: Tick) -> Option<Ticks> {
    guard
        .filter(|_| is_up(plan, guard, tick))
        .map(|since| tick - (since + plan.startup))
}

/// Where who is, seen from whom, at a moment. In one place, who came from behind itself.
pub(crate) fn seen_from(who: &Actor, whom: &Actor, moment: u16) -> Vec2 {
    let offset = who.at_moment(moment) - whom.at_moment(moment);
    if offset.x == 0.0 && offset.y == 0.0 {
        who.facing.ahead() * -1.0
    } else {
        offset
    }
}
