//! An outlook: a drill played with what some actors perceive and weigh in phase 2, told or not.

use std::sync::Arc;

use crate::plan::{ActorIx, DrillIx, Plan, SensorIx, StateIx};
use crate::sim::observer::Observer;
pub use crate::sim::parts::sensors::Unseen;
pub use crate::sim::parts::weighing::{Part, Weight};
use crate::sim::parts::{sensors, weighing};
use crate::sim::state::State;
use crate::sim::{ReplayError, Run, Sim};

/// A drill played tick by tick, with what those that `wanted` says yes to perceive and weigh.
pub struct Outlook<W> {
    run: Run,
    wanted: W,
}

/// What an actor perceives and weighs on a tick, before it decides.
#[derive(Clone, Debug, PartialEq)]
pub struct Considered {
    /// Who.
    pub who: ActorIx,
    /// Whom each sensor could notice, and how far off they are, or why they are not noticed.
    pub sights: Vec<(SensorIx, ActorIx, Result<f64, Unseen>)>,
    /// The state that it is in.
    pub state: Option<StateIx>,
    /// What each transition of the state asks, in the order of the file.
    pub turns: Vec<Vec<Weight>>,
}

impl<W: Fn(ActorIx) -> bool> Outlook<W> {
    /// A drill that has not begun.
    pub fn new(plan: &Arc<Plan>, drill: DrillIx, wanted: W) -> Outlook<W> {
        Outlook {
            run: Run::new(plan, drill),
            wanted,
        }
    }

    /// Plays a tick, from tick 0 on, and gives what was considered on it, in the order of ids; nothing
    /// when the drill is over. Who is dying, rests or is stunned considers nothing.
    ///
    /// # Errors
    ///
    /// As [`Sim::step`].
    pub fn play(&mut self) -> Result<Option<(&Sim, Vec<Considered>)>, ReplayError> {
        let mut notes = Notes {
            wanted: &self.wanted,
            all: Vec::new(),
        };
        let sim = self.run.play(&mut notes)?;
        Ok(sim.map(|sim| (sim, notes.all)))
    }
}

struct Notes<'w, W> {
    wanted: &'w W,
    all: Vec<Considered>,
}

impl<W: Fn(ActorIx) -> bool> Observer for Notes<'_, W> {
    fn perceived(&mut self, plan: &Plan, state: &State) {
        for &slot in &state.lists.thinking {
            let actor = &state.actors[slot];
            let who = actor.number;
            let rests = actor.rests(state.tick) || actor.is_stunned(state.tick);
            if !(self.wanted)(who) || !actor.alive || actor.dying || rests {
                continue;
            }
            let spec = state.spec(plan, slot);
            let mut sights = Vec::new();
            for (nth, sensor) in spec.sensors.iter().enumerate() {
                sensors::views(plan, state, slot, sensor, |whom, view| {
                    sights.push((SensorIx::new(nth), whom, view));
                });
            }
            let own = actor.life.mind.state;
            let go = own.map_or(&[][..], |own| &spec.states[own.index()].go);
            self.all.push(Considered {
                who,
                sights,
                state: own,
                turns: go
                    .iter()
                    .map(|go| weighing::weigh(plan, state, slot, go))
                    .collect(),
            });
        }
    }
}
