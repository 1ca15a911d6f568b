//! Weighing a condition part by part, to say what it lacks.

use super::sensors::Seen;
use super::transitions;
use crate::amount::Amount;
use crate::geometry::TOUCH;
use crate::plan::{ActorIx, ConditionPlan, Group, OtherAsk, Plan, SensorIx, TransitionPlan};
use crate::sim::slot::Slot;
use crate::sim::state::State;
use crate::time::Ticks;

/// A part of what must be so for a transition, and whether it is.
#[derive(Clone, Debug, PartialEq)]
pub struct Weight {
    /// What is asked.
    pub part: Part,
    /// Whether it is so.
    pub holds: bool,
}

/// What a transition asks, and what there is.
#[derive(Clone, Copy, Debug, PartialEq)]
#[non_exhaustive]
pub enum Part {
    /// It was not taken in this life.
    Once,
    /// Its cooldown is over.
    Cooldown {
        /// How long it still runs.
        left: Ticks,
    },
    /// So long in the state.
    After {
        /// How long it was.
        have: Ticks,
        /// How long it must be.
        need: Ticks,
    },
    /// It has come to stand on something, or not.
    Lands(bool),
    /// It stands on something, or not.
    Grounded(bool),
    /// Its motion has arrived, or not.
    Arrives(bool),
    /// A hit landed on it, or not.
    Hurt(bool),
    /// What one of its meters holds.
    Meter {
        /// Its place among those of its kind.
        meter: usize,
        /// What it holds.
        have: Amount,
        /// The least that it must hold.
        least: Option<Amount>,
        /// The most.
        most: Option<Amount>,
    },
    /// Another is as asked.
    Other(Group, OtherAsk),
    /// A sensor notices an actor.
    Sees {
        /// Which sensor.
        sensor: SensorIx,
        /// The one that comes nearest to what is asked: who, for how long, how far off.
        nearest: Option<(ActorIx, Ticks, f64)>,
        /// For how long it must have noticed it.
        lasting: Ticks,
        /// How near it must be.
        within: Option<f64>,
    },
    /// A sensor notices nobody.
    Loses {
        /// Which sensor.
        sensor: SensorIx,
        /// Whom it notices.
        noticed: Option<ActorIx>,
        /// How long it has noticed nobody.
        have: Ticks,
        /// How long that must be.
        lasting: Ticks,
    },
}

/// Every part of what a transition asks of an actor, in the world as sensors see it now.
pub(crate) fn weigh(plan: &Plan, state: &State, index: Slot, go: &TransitionPlan) -> Vec<Weight> {
    let (tick, actor) = (state.tick, &state.actors[index]);
    let mut weights = Vec::new();
    let mut weigh = |part, holds| weights.push(Weight { part, holds });
    let switch = &state.stock.switches[actor.life.own.transitions.start + usize::from(go.slot)];
    if go.once {
        weigh(Part::Once, !switch.taken);
    }
    if go.cooldown > Ticks(0) {
        let left = Ticks(switch.from.0.saturating_sub(tick.0));
        weigh(Part::Cooldown { left }, left == Ticks(0));
    }
    let when = &go.when;
    let mind = &actor.life.mind;
    if let Some(need) = when.after {
        let have = tick - mind.since;
        weigh(Part::After { have, need }, have >= need);
    }
    let mut flag = |asked: Option<bool>, so: bool, part: fn(bool) -> Part| {
        if let Some(asked) = asked {
            weigh(part(asked), asked == so);
        }
    };
    flag(when.lands, actor.landed, Part::Lands);
    flag(when.grounded, actor.ground.is_some(), Part::Grounded);
    flag(when.arrives, actor.arrived, Part::Arrives);
    flag(when.hurt, mind.hurt.is_some(), Part::Hurt);
    for &(place, least, most) in &when.meters {
        let held = state.stock.meters[actor.life.own.meters.start + usize::from(place)];
        let holds = least.is_none_or(|least| held >= least) && most.is_none_or(|most| held <= most);
        let part = Part::Meter {
            meter: usize::from(place),
            have: held,
            least,
            most,
        };
        weigh(part, holds);
    }
    if let Some((group, ask)) = when.other {
        let holds = transitions::any_is(plan, state, index, (group, ask));
        weigh(Part::Other(group, ask), holds);
    }
    if let Some((sensor, sees)) = when.sense {
        let (part, holds) = sense(state, index, when, sensor, sees);
        weigh(part, holds);
    }
    let open = weights
        .iter()
        .take_while(|weight| matches!(weight.part, Part::Once | Part::Cooldown { .. }));
    debug_assert_eq!(
        weights.iter().all(|weight| weight.holds),
        open.clone().all(|weight| weight.holds)
            && transitions::holds(plan, state, index, when).is_some(),
        "what is weighed is what decides"
    );
    weights
}

fn sense(
    state: &State,
    index: Slot,
    when: &ConditionPlan,
    sensor: SensorIx,
    sees: bool,
) -> (Part, bool) {
    let first = state.actors[index].life.own.sensors.start;
    let sight = &state.stock.sights[first + sensor.index()];
    let lasting = when.lasting;
    if !sees {
        let have = match sight.seen.is_empty() {
            true => state.tick - sight.empty,
            false => Ticks(0),
        };
        let noticed = sight.seen.first().map(|seen| seen.whom);
        let part = Part::Loses {
            sensor,
            noticed,
            have,
            lasting,
        };
        return (part, noticed.is_none() && have >= lasting);
    }
    let long = |seen: &Seen| state.tick - seen.since >= lasting;
    let near = |seen: &Seen| {
        when.within
            .is_none_or(|within| seen.distance <= within + TOUCH)
    };
    let nearest = sight.seen.iter().max_by(|a, b| {
        let met = |seen: &Seen| u8::from(long(seen)) + u8::from(near(seen));
        let distance = || b.distance.total_cmp(&a.distance);
        met(a).cmp(&met(b)).then_with(distance)
    });
    let part = Part::Sees {
        sensor,
        nearest: nearest.map(|seen| (seen.whom, state.tick - seen.since, seen.distance)),
        lasting,
        within: when.within,
    };
    (part, nearest.is_some_and(|seen| long(seen) && near(seen)))
}
