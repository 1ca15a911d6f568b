//! A drill that is seen beside what is played: where its players were, and where the two part.

use std::sync::Arc;

use super::{PlayError, Session};
use crate::encounter::Facing;
use crate::geometry::Vec2;
use crate::plan::{ActorIx, Plan};
use crate::sim::Sim;
use crate::time::Tick;

/// Where the players of a drill, and whoever it steers, were on each of its ticks.
#[derive(Clone, Debug)]
pub struct Ghost {
    drill: String,
    actors: Vec<Haunt>,
    /// Of each tick, in the order of the actors.
    stances: Vec<Option<Stance>>,
}

#[derive(Clone, Debug)]
struct Haunt {
    actor: ActorIx,
    id: Arc<str>,
}

/// Where somebody stood.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Stance {
    /// Where.
    pub at: Vec2,
    /// How high, where the arena has heights.
    pub height: f64,
    /// Which way it faced.
    pub facing: Facing,
}

/// Where what is played parts from a ghost.
#[derive(Clone, Debug, PartialEq)]
pub struct Parting {
    /// The first tick on which somebody is not where the ghost was.
    pub tick: Tick,
    /// The id.
    pub who: Arc<str>,
}

fn stance(run: &Sim, actor: ActorIx) -> Option<Stance> {
    let view = run.actor(actor);
    (view.alive || view.dying).then_some(Stance {
        at: view.at,
        height: view.height,
        facing: view.facing,
    })
}

impl Ghost {
    pub(super) fn new(plan: &Arc<Plan>, drill: &str) -> Result<Ghost, PlayError> {
        let index = plan.drill(drill)?;
        let edges = &plan.drills()[index.index()].edges;
        let all = (0..plan.actors.len()).map(ActorIx::new);
        let seen = |actor: &ActorIx| {
            plan.spec(*actor).player() || edges.iter().any(|edge| edge.who == *actor)
        };
        let actors = all.filter(seen).map(|actor| Haunt {
            actor,
            id: plan.actors[actor.index()].id.as_str().into(),
        });
        let actors: Vec<Haunt> = actors.collect();
        let mut stances = Vec::new();
        let mut run = Sim::new(plan, index);
        loop {
            stances.extend(actors.iter().map(|own| stance(&run, own.actor)));
            if !run.step()? {
                break;
            }
        }
        Ok(Ghost {
            drill: drill.to_owned(),
            actors,
            stances,
        })
    }

    /// The drill.
    pub fn drill(&self) -> &str {
        &self.drill
    }

    /// Who is where on a tick; nobody after its end.
    pub fn at(&self, tick: Tick) -> impl Iterator<Item = (&str, Stance)> {
        let count = self.actors.len();
        let from = (tick.0 as usize).saturating_mul(count);
        let stances = self.stances.get(from..from + count).unwrap_or(&[]);
        let all = self.actors.iter().zip(stances);
        all.filter_map(|(own, stance)| Some((&*own.id, (*stance)?)))
    }

    /// Who is not where the ghost was, if anybody is not.
    pub(super) fn parting(&self, run: &Sim) -> Option<Parting> {
        let tick = run.tick();
        let count = self.actors.len();
        let from = tick.0 as usize * count;
        let stances = self.stances.get(from..from + count)?;
        let mut all = self.actors.iter().zip(stances);
        let (own, _) = all.find(|(own, was)| stance(run, own.actor) != **was)?;
        Some(Parting {
            tick,
            who: Arc::clone(&own.id),
        })
    }
}

impl Session {
    /// A drill to be seen beside what is played, or none.
    ///
    /// # Errors
    ///
    /// When there is no such drill, or it cannot be replayed.
    pub fn haunt(&mut self, drill: Option<&str>) -> Result<(), PlayError> {
        self.ghost = match drill {
            Some(drill) => Some(Ghost::new(&self.plan, drill)?),
            None => None,
        };
        // Where they part may lie behind.
        let take = self.replayed(self.take.stage.clone())?;
        self.settle(take);
        Ok(())
    }

    /// The drill that is seen beside what is played.
    pub fn ghost(&self) -> Option<&Ghost> {
        self.ghost.as_ref()
    }

    /// Where what is played first parts from the ghost, up to now.
    pub fn parting(&self) -> Option<&Parting> {
        self.take.parting.as_ref()
    }
}
