//! The log's health in place of that of the rules: what follows from one difference does not hide the next.

use std::sync::Arc;

use crate::encounter::Effect;
use crate::order;
use crate::plan::{self, ActorIx, ApplyPlan, DrillIx, Named, Plan};
use crate::sim::{ReplayError, Sim};
use crate::time::{Tick, Ticks};
use crate::track::{GameLog, Party};

/// A plan whose drill takes over the health that a log tells: wherever it is another than by the rules, `within` ticks
/// after the hit of the log, an effect from outside puts it right on the tick after. Who is dead by the rules stays so.
///
/// # Errors
///
/// When the drill cannot be replayed.
///
/// # Panics
///
/// When the index is of another plan.
pub fn resync(
    plan: &Arc<Plan>,
    drill: DrillIx,
    log: &GameLog,
    within: Ticks,
) -> Result<Arc<Plan>, ReplayError> {
    let mut told: Vec<(Tick, ActorIx, f64)> = Vec::new();
    for (nth, hit) in log.hits.iter().enumerate() {
        let (Party::Placed(whom), Some(health)) = (&hit.whom, hit.health) else {
            continue;
        };
        let due = hit.tick + within;
        // A later row tells better.
        let later = log.hits[nth + 1..]
            .iter()
            .take_while(|other| other.tick <= due);
        let mut later = later.filter(|other| other.whom == hit.whom && other.health.is_some());
        if later.next().is_none() {
            told.push((due, *whom, health.as_f64()));
        }
    }
    order::sort_by_key(&mut told, |(due, whom, _)| (*due, *whom));
    let mut told = told.into_iter().peekable();
    let mut sim = Sim::new(plan, drill);
    let mut effects: Vec<ApplyPlan> = Vec::new();
    loop {
        while let Some((_, whom, health)) = told.next_if(|(due, ..)| *due <= sim.tick()) {
            let Some(effect) = correction(&sim, whom, health) else {
                continue;
            };
            if let Ok(does) = plan::effect_of(plan, &effect, false) {
                let applied = ApplyPlan {
                    tick: sim.tick() + Ticks(1),
                    who: None,
                    whom: Named::Placed(whom),
                    does,
                };
                sim.add_effect(applied.clone());
                effects.push(applied);
            }
        }
        if !sim.step()? {
            break;
        }
    }
    if effects.is_empty() {
        return Ok(Arc::clone(plan));
    }
    let mut plan = Plan::clone(plan);
    let own = &mut plan.drills[drill.index()].effects;
    own.extend(effects);
    order::sort_by_key(own, |effect| effect.tick);
    Ok(Arc::new(plan))
}

/// The effect that gives an actor so much health, if it lives and has another.
fn correction(sim: &Sim, whom: ActorIx, health: f64) -> Option<Effect> {
    let view = sim.actor(whom);
    let spec = sim.spec(whom);
    let nth = spec
        .meters()
        .iter()
        .position(|meter| sim.plan().is_health(meter.name()))?;
    let own = view.meters[nth].as_f64();
    match view.alive {
        true if own > health => Some(Effect::damage_of(thousandths(own - health))),
        true if own < health => Some(Effect::heal_of(thousandths(health - own))),
        _ => None,
    }
}

/// A difference of two amounts without what floating point adds to it.
fn thousandths(number: f64) -> f64 {
    (number * 1000.0).round() / 1000.0
}
