//! What leads from state to state, in phase 2: conditions are looked at for all, then states change.

use super::actor::Swing;
use super::appearing::Return;
use super::{attacks, posing, sensors, shots};
use crate::amount::Amount;
use crate::encounter::Ending;
use crate::ledger::{LineId, What};
use crate::limits;
use crate::plan::{ActorIx, ConditionPlan, Group, OtherAsk, Plan, SensorIx, StateIx};
use crate::sim::phases::record;
use crate::sim::slot::Slot;
use crate::sim::state::{Excess, State};
use crate::time::Tick;
use serde::{Deserialize, Serialize};

/// What is remembered of a transition.
#[derive(Clone, Copy, Debug, Default, Serialize, Deserialize)]
pub(crate) struct Switch {
    /// The first tick on which it can be taken again.
    pub from: Tick,
    pub taken: bool,
}

/// An actor that is to change its state.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Turn {
    who: Slot,
    /// From which state, by which of its transitions.
    from: StateIx,
    nth: usize,
    why: Why,
}

/// What made a condition hold.
#[derive(Clone, Copy, Debug, Default)]
pub(crate) struct Why {
    cause: Option<LineId>,
    noticed: Option<ActorIx>,
}

/// All conditions are looked at, in the world as phase 1 left it.
pub(crate) fn decide(plan: &Plan, state: &mut State) {
    state.pending.turns.clear();
    for nth in 0..state.lists.thinking.len() {
        let index = state.lists.thinking[nth];
        let actor = &state.actors[index];
        let acts = actor.alive
            && !actor.dying
            && !actor.rests(state.tick)
            && !actor.is_stunned(state.tick);
        let Some(from) = actor.life.mind.state.filter(|_| acts) else {
            continue;
        };
        // Of who is told its state, the transition that leads there says why.
        let told = actor
            .posed
            .then(|| posing::told_state(state, index))
            .flatten();
        if told == Some(from) {
            continue;
        }
        let go = &state.spec(plan, index).states[from.index()].go;
        let first = actor.life.own.transitions.start;
        let found = go.iter().enumerate().find_map(|(nth, go)| {
            let switch = &state.stock.switches[first + usize::from(go.slot)];
            let open = state.tick >= switch.from && !(go.once && switch.taken);
            let asked = told.is_none_or(|told| told == go.to);
            let why = (open && asked)
                .then(|| holds(plan, state, index, &go.when))
                .flatten()?;
            Some((nth, why))
        });
        if let Some((nth, why)) = found {
            state.pending.turns.push(Turn {
                who: index,
                from,
                nth,
                why,
            });
            if state.pending.turns.len() > limits::TRANSITIONS {
                let number = state.number(index);
                state
                    .excess
                    .get_or_insert(Excess::Transitions(number, go[nth].to));
            }
        }
    }
    for nth in 0..state.lists.thinking.len() {
        let index = state.lists.thinking[nth];
        let actor = &mut state.actors[index];
        if !actor.rests(state.tick) && !actor.is_stunned(state.tick) {
            actor.life.mind.hurt = None;
            actor.landed = false;
        }
    }
    // As a stack, the first on top.
    state.pending.turns.reverse();
}

/// Changes an actor's state, if it is to.
pub(crate) fn turn(plan: &Plan, state: &mut State, index: Slot) {
    let Some(turn) = state.pending.turns.pop_if(|turn| turn.who == index) else {
        return;
    };
    let go = &state.spec(plan, index).states[turn.from.index()].go[turn.nth];
    let first = state.actors[index].life.own.transitions.start;
    let switch = &mut state.stock.switches[first + usize::from(go.slot)];
    switch.taken = true;
    switch.from = state.tick + go.cooldown;
    enter(plan, state, index, go.to, turn.why);
}

/// An actor is in the state that it is told to be in.
pub(crate) fn tell(plan: &Plan, state: &mut State, index: Slot, told: StateIx) {
    if state.actors[index].life.mind.state != Some(told) {
        enter(plan, state, index, told, Why::default());
    }
}

/// An actor comes into a state.
fn enter(plan: &Plan, state: &mut State, index: Slot, new: StateIx, why: Why) {
    let spec = state.spec(plan, index);
    let (tick, to) = (state.tick, &spec.states[new.index()]);
    let from = state.actors[index].life.mind.state.unwrap_or(new);
    let event = state.tell(Some(index), What::Enter { state: new, from });
    let line = event.caused_by(why.cause).id;
    let actor = &mut state.actors[index];
    let mind = &mut actor.life.mind;
    mind.state = Some(new);
    mind.since = tick;
    mind.line = Some(line);
    mind.noticed = why.noticed.or(mind.noticed);
    actor.entered = true;
    record::cue(state, index, to.cue, Some(line));
    let (by_states, _) = spec.by_states();
    let swing = state.actors[index].swing;
    let barred = |swing: Swing| {
        let bit = 1 << swing.attack.0;
        by_states & bit != 0 && to.attacks & bit == 0
    };
    if swing.is_some_and(barred) {
        attacks::end(plan, state, index, Some(line), true);
    }
    if to.ends {
        shots::vanish(plan, state, index, Ending::State, Some(line), true);
        return;
    }
    state.set_off(plan, index);
    if let Some(teleport) = &to.teleport {
        let at = state.actors[index].life.places.point(teleport);
        state.pending.returns.push(Return {
            who: index,
            at,
            rise: to.teleport_rise,
            facing: None,
            anew: false,
            respawn: false,
            just_there: false,
            cause: Some(line),
        });
    }
}

/// Why a condition holds, if it does.
pub(crate) fn holds(plan: &Plan, state: &State, index: Slot, asked: &ConditionPlan) -> Option<Why> {
    let (tick, actor) = (state.tick, &state.actors[index]);
    let mind = &actor.life.mind;
    let mut why = Why {
        cause: mind.line,
        noticed: None,
    };
    let is = |asked: Option<bool>, so: bool| asked.is_none_or(|asked| asked == so);
    let first = actor.life.own.meters.start;
    let level = |&(place, least, most): &(u8, Option<Amount>, Option<Amount>)| {
        let held = state.stock.meters[first + usize::from(place)];
        least.is_none_or(|least| held >= least) && most.is_none_or(|most| held <= most)
    };
    let plain = asked.after.is_none_or(|after| tick - mind.since >= after)
        && is(asked.lands, actor.landed)
        && is(asked.grounded, actor.ground.is_some())
        && is(asked.arrives, actor.arrived)
        && is(asked.hurt, mind.hurt.is_some())
        && asked.meters.iter().all(level);
    if !plain {
        return None;
    }
    if asked.hurt == Some(true) {
        why.cause = mind.hurt;
    }
    if let Some((group, ask)) = asked.other {
        let members = state.crowds.of(group).iter();
        let mut so = members.filter_map(|&other| other_is(plan, state, index, other, ask));
        why = so.next()?;
    }
    if let Some((sensor, sees)) = asked.sense {
        let sight = &state.stock.sights[actor.life.own.sensors.start + sensor.index()];
        if !sees {
            let empty = sight.seen.is_empty() && tick - sight.empty >= asked.lasting;
            return empty.then(|| Why {
                cause: sight.lost.or(why.cause),
                ..why
            });
        }
        let counts = |seen: &&sensors::Seen| {
            tick - seen.since >= asked.lasting
                && asked
                    .within
                    .is_none_or(|within| seen.distance <= within + crate::geometry::TOUCH)
        };
        let seen = sight.seen.iter().filter(counts);
        let nearest = seen.min_by(|a, b| a.distance.total_cmp(&b.distance))?;
        why = Why {
            cause: Some(nearest.line),
            noticed: Some(nearest.whom),
        };
    }
    Some(why)
}

/// Whether one of a group, but for an actor itself, is as asked.
pub(crate) fn any_is(
    plan: &Plan,
    state: &State,
    index: Slot,
    (group, ask): (Group, OtherAsk),
) -> bool {
    let mut members = state.crowds.of(group).iter();
    members.any(|&other| other_is(plan, state, index, other, ask).is_some())
}

/// Whether another is as asked, and what made it so.
fn other_is(plan: &Plan, state: &State, index: Slot, other: Slot, ask: OtherAsk) -> Option<Why> {
    let actor = &state.actors[other];
    // Who dies is in the state, if any, to which a step of its death has brought it.
    let entered = actor.life.dying.is_some_and(|dying| dying.entered);
    let counts = match ask {
        OtherAsk::State(_) => !actor.dying || entered,
        OtherAsk::Sees(_) => !actor.dying,
    };
    if other == index || !actor.alive || !counts {
        return None;
    }
    let spec = state.spec(plan, other);
    let mind = &actor.life.mind;
    match ask {
        OtherAsk::State(name) => {
            let own = mind.state.map(|state| spec.states[state.index()].name);
            (own == Some(name)).then_some(Why {
                cause: mind.line,
                noticed: mind.noticed,
            })
        }
        OtherAsk::Sees(name) => {
            let sensor = spec.sensors.iter().position(|sensor| sensor.name == name)?;
            let sensor = SensorIx::new(sensor);
            let sight = &state.stock.sights[actor.life.own.sensors.start + sensor.index()];
            let seen = sight.seen.iter();
            let nearest = seen.min_by(|a, b| a.distance.total_cmp(&b.distance))?;
            Some(Why {
                cause: Some(nearest.line),
                noticed: Some(nearest.whom),
            })
        }
    }
}
