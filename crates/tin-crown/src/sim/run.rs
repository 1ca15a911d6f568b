//! A drill played from its beginning under an observer.

use std::sync::Arc;

use crate::ledger::Replay;
use crate::plan::{DrillIx, Plan};
use crate::sim::observer::Observer;
use crate::sim::{ReplayError, Sim};

pub(super) struct Run {
    plan: Arc<Plan>,
    drill: DrillIx,
    /// None before tick 0.
    sim: Option<Sim>,
}

impl Run {
    pub fn new(plan: &Arc<Plan>, drill: DrillIx) -> Run {
        Run {
            plan: Arc::clone(plan),
            drill,
            sim: None,
        }
    }

    /// Plays a tick, from tick 0 on; nothing when the drill is over.
    pub fn play(&mut self, observer: &mut impl Observer) -> Result<Option<&Sim>, ReplayError> {
        match &mut self.sim {
            None => self.sim = Some(Sim::observed(&self.plan, self.drill, observer)),
            Some(sim) => {
                if !sim.step_observed(observer)? {
                    return Ok(None);
                }
            }
        }
        if let Some(sim) = &self.sim {
            sim.check()?;
        }
        Ok(self.sim.as_ref())
    }

    pub fn into_replay(self) -> Result<Replay, ReplayError> {
        match self.sim {
            Some(sim) => sim.into_replay(),
            None => Sim::new(&self.plan, self.drill).into_replay(),
        }
    }
}
