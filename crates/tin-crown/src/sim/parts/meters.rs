//! Meters: every change has its line; what comes back by itself, and how they are filled again.

use super::actor::{Doom, NEVER};
use crate::amount::Amount;
use crate::encounter::Restart;
use crate::ledger::{Bearing, DeathCause, LineId, What};
use crate::plan::drills::{DOWN, LEFT, RIGHT, UP};
use crate::plan::{MeterIx, MeterPlan, Plan, RuleIx};
use crate::sim::phases::touch;
use crate::sim::phases::verdict::Candidate;
use crate::sim::slot::Slot;
use crate::sim::state::State;
use crate::time::{Tick, Ticks};
use crate::verdict::Verdict;
use serde::{Deserialize, Serialize};

/// What is remembered of a meter.
#[derive(Clone, Copy, Debug, Serialize, Deserialize)]
pub(crate) struct Gauge {
    /// The tick of the next payment.
    pub pays: Tick,
    /// Whether its clock stands still on this tick.
    paused: bool,
    /// The last tick of a rest that made the next payment come later.
    rested: Tick,
    /// When the reload under way is done, and its line.
    pub reloads: Option<(Tick, LineId)>,
    /// The first tick on which it is no longer frozen.
    frozen_until: Tick,
}

impl Gauge {
    pub fn new(meter: &MeterPlan, tick: Tick) -> Gauge {
        let every = meter.regen.as_ref().map_or(Ticks(0), |regen| regen.every);
        Gauge {
            pays: tick + every,
            paused: false,
            rested: NEVER,
            reloads: None,
            frozen_until: Tick(0),
        }
    }

    /// Its owner rests on this tick: all that it waits for comes a tick later.
    pub fn rest(&mut self, tick: Tick) {
        self.pays = self.pays + Ticks(1);
        self.rested = tick;
        self.frozen_until = self.frozen_until + Ticks(1);
        if let Some((done, _)) = &mut self.reloads {
            *done = *done + Ticks(1);
        }
    }
}

/// Who or what changes a meter.
#[derive(Clone, Copy, Debug, Default)]
pub(crate) struct Source {
    /// Who does it; the owner itself when absent.
    pub who: Option<Slot>,
    pub rule: Option<RuleIx>,
    pub cause: Option<LineId>,
    /// What empties the meter outright, when that is no damage.
    pub of: Option<DeathCause>,
}

/// Changes a meter by so much, writes the line, and begins the end when health is empty.
pub(crate) fn change(
    plan: &Plan,
    state: &mut State,
    owner: Slot,
    nth: usize,
    by: Amount,
    source: Source,
) {
    if by == Amount::ZERO {
        return;
    }
    let place = state.actors[owner].life.own.meters.start + nth;
    let meter = &state.spec(plan, owner).meters[nth];
    let before = state.stock.meters[place];
    let after = before + by;
    state.stock.meters[place] = after;
    let what = What::Meter {
        meter: meter.name,
        before,
        after,
        of: source.of,
    };
    let who = source.who.unwrap_or(owner);
    // What who does to itself has no whom.
    let whom = (owner != who).then(|| state.number(owner));
    let event = state.tell(Some(who), what);
    event.rule = source.rule;
    event.whom = whom;
    event.cause = source.cause;
    let line = event.id;
    if after >= before {
        return;
    }
    if let Some(delay) = meter.regen.as_ref().and_then(|regen| regen.delay) {
        let gauge = &mut state.stock.gauges[place];
        gauge.pays = state.tick + delay;
        gauge.rested = NEVER;
    }
    if after == Amount::ZERO && plan.is_health(meter.name) {
        let doom = Doom {
            of: DeathCause::Health,
            hit: Some(source.cause.unwrap_or(line)),
            by: source.who.map(|who| state.actors[who].life.root),
        };
        state.doom(owner, doom);
    }
}

/// Takes all that is left of an actor's health.
pub(crate) fn empty_health(plan: &Plan, state: &mut State, owner: Slot, source: Source) {
    let mut meters = state.spec(plan, owner).meters.iter();
    if let Some(nth) = meters.position(|meter| plan.is_health(meter.name)) {
        let held = state.stock.meters[state.actors[owner].life.own.meters.start + nth];
        change(plan, state, owner, nth, -held, source);
    }
}

/// Writes the line of a meter that is reset, when that changes it.
pub(crate) fn tell(
    state: &mut State,
    owner: Slot,
    meter: MeterIx,
    before: Amount,
    after: Amount,
    cause: Option<LineId>,
) {
    if before != after {
        let what = What::Meter {
            meter,
            before,
            after,
            of: None,
        };
        let event = state.tell(Some(owner), what);
        event.cause = cause;
    }
}

/// Phase 1: what is due is paid, and reloads are done.
pub(crate) fn run(plan: &Plan, state: &mut State, index: Slot) {
    let spec = state.spec(plan, index);
    let (tick, first) = (state.tick, state.actors[index].life.own.meters.start);
    let state_now = state.actors[index].life.mind.state;
    let paused = state_now.map(|state| 1u128 << state.index());
    for (nth, meter) in spec.meters.iter().enumerate() {
        let place = first + nth;
        if state.stock.gauges[place].frozen_until > tick {
            stand_still(state, place);
            continue;
        }
        if let Some(regen) = &meter.regen
            && paused.is_some_and(|bit| regen.paused_in & bit != 0)
        {
            pause(state, place);
        } else if let Some(regen) = &meter.regen
            && state.stock.gauges[place].pays <= tick
        {
            state.stock.gauges[place].pays = tick + regen.every;
            let room = (regen.up_to - state.stock.meters[place]).max(Amount::ZERO);
            change(
                plan,
                state,
                index,
                nth,
                regen.amount.min(room),
                Source::default(),
            );
        }
        if let Some((done, line)) = state.stock.gauges[place].reloads
            && done <= tick
        {
            state.stock.gauges[place].reloads = None;
            fill(plan, state, index, nth, line);
        }
    }
}

/// A reload is done: so much is filled in, and it goes on when there is more to fill.
fn fill(plan: &Plan, state: &mut State, index: Slot, nth: usize, line: LineId) {
    let spec = state.spec(plan, index);
    let meter = &spec.meters[nth];
    let Some(reload) = &meter.reload else { return };
    let first = state.actors[index].life.own.meters.start;
    let reserve = reload.from.and_then(|from| spec.meter(from));
    let room = meter.max - state.stock.meters[first + nth];
    let held = reserve.map_or(room, |reserve| state.stock.meters[first + reserve]);
    let part = reload.amount.unwrap_or(room).min(room).min(held);
    let source = Source {
        cause: Some(line),
        ..Source::default()
    };
    if let Some(reserve) = reserve {
        change(plan, state, index, reserve, -part, source);
    }
    change(plan, state, index, nth, part, source);
    crate::sim::phases::record::cue(state, index, reload.cue, Some(line));
    if reload.amount.is_some() && can_fill(plan, state, index, nth) {
        state.stock.gauges[first + nth].reloads = Some((state.tick + reload.takes, line));
    } else {
        say(state, index, Bearing::Reloaded, None, Some(line));
    }
}

/// Whether a meter has room, and there is something to fill it with.
fn can_fill(plan: &Plan, state: &State, index: Slot, nth: usize) -> bool {
    let spec = state.spec(plan, index);
    let meter = &spec.meters[nth];
    let first = state.actors[index].life.own.meters.start;
    let reserve = meter.reload.and_then(|reload| reload.from);
    let reserve = reserve.and_then(|from| spec.meter(from));
    state.stock.meters[first + nth] < meter.max
        && reserve.is_none_or(|reserve| state.stock.meters[first + reserve].is_positive())
}

/// Phase 2: reloads begin by button or when a meter is empty, and are broken off by walking.
pub(crate) fn heed(plan: &Plan, state: &mut State, index: Slot) {
    let spec = state.spec(plan, index);
    let tick = state.tick;
    for (nth, meter) in spec.meters.iter().enumerate() {
        let Some(reload) = &meter.reload else {
            continue;
        };
        let actor = &state.actors[index];
        let place = actor.life.own.meters.start + nth;
        let walks = [LEFT, RIGHT, UP, DOWN]
            .into_iter()
            .any(|button| actor.buttons.is_down(button));
        if state.stock.gauges[place].reloads.is_some() {
            if reload.broken_by_move && walks {
                break_off(state, index, nth, None);
            }
            continue;
        }
        let pressed = reload
            .button
            .is_some_and(|button| actor.buttons.is_pressed(button));
        let empty = reload.when_empty && state.stock.meters[place] == Amount::ZERO;
        let begins = (pressed || empty) && !(reload.broken_by_move && walks);
        if begins && can_fill(plan, state, index, nth) {
            let until = tick + reload.takes;
            let line = say(state, index, Bearing::Reloading, Some(until), None);
            state.stock.gauges[place].reloads = Some((until, line));
            if reload.takes == Ticks(0) {
                state.stock.gauges[place].reloads = None;
                fill(plan, state, index, nth, line);
            }
        }
    }
}

/// A reload under way is broken off.
pub(crate) fn break_off(state: &mut State, index: Slot, nth: usize, cause: Option<LineId>) {
    let place = state.actors[index].life.own.meters.start + nth;
    if let Some((_, line)) = state.stock.gauges[place].reloads.take() {
        say(
            state,
            index,
            Bearing::ReloadBroken,
            None,
            cause.or(Some(line)),
        );
    }
}

/// A meter's clock stands still on this tick.
fn pause(state: &mut State, place: usize) {
    if !std::mem::replace(&mut state.stock.gauges[place].paused, true) {
        state.pending.paused.push(place);
    }
}

/// Nothing comes into a meter by itself on this tick.
fn stand_still(state: &mut State, place: usize) {
    pause(state, place);
    if let Some((done, _)) = &mut state.stock.gauges[place].reloads {
        *done = *done + Ticks(1);
    }
}

/// A hit freezes a meter of an actor that has it. Of two times the later end stays.
pub(crate) fn freeze(
    plan: &Plan,
    state: &mut State,
    owner: Slot,
    meter: MeterIx,
    length: Ticks,
    cause: LineId,
) {
    let Some(nth) = state.spec(plan, owner).meter(meter) else {
        return;
    };
    let place = state.actors[owner].life.own.meters.start + nth;
    let until = state.tick + length;
    let before = state.stock.gauges[place].frozen_until;
    if until <= before {
        return;
    }
    if before <= state.tick {
        stand_still(state, place);
    }
    state.stock.gauges[place].frozen_until = until;
    say(
        state,
        owner,
        Bearing::Frozen(meter),
        Some(state.actors[owner].rested(until, state.tick)),
        Some(cause),
    );
}

/// Phase 6, after the hits: who is touched by an actor that pauses a meter is paid a tick later, and
/// so is who is in a state that does; however many there are.
pub(crate) fn wait(plan: &Plan, state: &mut State) {
    if !plan.pauses.is_empty() {
        for nth in 0..state.contacts.touching.now.len() {
            let touch = state.contacts.touching.now[nth];
            let [who, whom_slot] = touch.slots;
            let (who, whom) = (&state.actors[who], &state.actors[whom_slot]);
            if whom.dying || who.is_over(touch.moment) || whom.is_over(touch.moment) {
                continue;
            }
            let first = whom.life.own.meters.start;
            for pause in touch::pauses(plan, &touch) {
                let group = plan.pauses[pause.index()];
                let meters = state.spec(plan, whom_slot).meters.iter().enumerate();
                let regens = meters.filter_map(|(nth, meter)| Some((nth, meter.regen.as_ref()?)));
                for (nth, _) in regens.filter(|(_, regen)| regen.paused_by.contains(&group)) {
                    self::pause(state, first + nth);
                }
            }
        }
    }
    for nth in 0..state.pending.paused.len() {
        let gauge = &mut state.stock.gauges[state.pending.paused[nth]];
        gauge.paused = false;
        // A rest has done so already.
        if gauge.rested != state.tick {
            gauge.pays = gauge.pays + Ticks(1);
        }
    }
    state.pending.paused.clear();
}

/// A hit on an actor: what it restarts begins its delay anew. Losses do so where they are taken.
pub(crate) fn touched(plan: &Plan, state: &mut State, candidate: &Candidate) {
    let whom = candidate.whom;
    if !state.legs[whom].fills
        || state.actors[whom].dying
        || plan.rules[candidate.rule.index()].only_gives
    {
        return;
    }
    let restarts = |restart: Restart| match candidate.verdict {
        Verdict::Landed => restart != Restart::Loss,
        Verdict::Guarded | Verdict::Invincible => restart == Restart::Attempt,
        _ => false,
    };
    let first = state.actors[whom].life.own.meters.start;
    for (nth, meter) in state.spec(plan, whom).meters.iter().enumerate() {
        let Some(regen) = &meter.regen else { continue };
        if let Some(delay) = regen.delay.filter(|_| restarts(regen.restarted_by)) {
            state.stock.gauges[first + nth].pays = state.tick + delay;
        }
    }
}

/// A hit landed: what it breaks off is broken off.
pub(crate) fn shaken(plan: &Plan, state: &mut State, index: Slot, cause: LineId) {
    if !state.legs[index].fills {
        return;
    }
    for (nth, meter) in state.spec(plan, index).meters.iter().enumerate() {
        if meter.reload.is_some_and(|reload| reload.broken_by_hit) {
            break_off(state, index, nth, Some(cause));
        }
    }
}

fn say(
    state: &mut State,
    index: Slot,
    bearing: Bearing,
    until: Option<Tick>,
    cause: Option<LineId>,
) -> LineId {
    let what = What::State { bearing, until };
    let event = state.tell(Some(index), what);
    event.caused_by(cause).id
}
