//! A frame: an encounter at one tick of a drill, ready to be drawn.

use std::sync::Arc;

use tin_crown::geometry::Vec2;
use tin_crown::{
    ActorIx, ActorView, Amount, BoxSet, DrillIx, Facing, Outcome, Plan, ReplayError, Sim, Tick,
};

use crate::look::Look;
use crate::scene;

/// An encounter at the end of one tick of a drill.
#[derive(Clone, Debug)]
pub struct Frame {
    pub(crate) plan: Arc<Plan>,
    pub(crate) drill: DrillIx,
    pub(crate) tick: Tick,
    pub(crate) figures: Vec<Figure>,
}

/// An actor in a frame.
#[derive(Clone, Debug)]
pub(crate) struct Figure {
    pub actor: ActorIx,
    pub at: Vec2,
    pub facing: Facing,
    pub invincible: bool,
    pub live: BoxSet,
    pub guarding: bool,
    /// What it is in the middle of, in words.
    pub doing: Vec<String>,
    pub meters: Vec<Amount>,
    /// Where it was over the last half second, oldest first.
    pub trail: Vec<Vec2>,
}

/// A frame that cannot be.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum FrameError {
    /// The drill cannot be replayed so far.
    #[error(transparent)]
    Replay(#[from] ReplayError),
    /// The drill is over by then.
    #[error("drill `{drill}` is over after tick {last}{}", if *.lost { " (lost)" } else { "" })]
    Over {
        /// The drill.
        drill: String,
        /// Its last tick.
        last: Tick,
        /// Whether it ended early because it was lost.
        lost: bool,
    },
}

impl Frame {
    /// Plays a drill up to a tick.
    ///
    /// # Errors
    ///
    /// When the drill is over before, or cannot be replayed so far.
    pub fn capture(plan: &Arc<Plan>, drill: DrillIx, tick: Tick) -> Result<Frame, FrameError> {
        let half_second = plan.rate.div_ceil(2);
        let mut sim = Sim::new(plan, drill);
        let mut trails: Vec<Vec<Vec2>> = vec![Vec::new(); plan.actors.len()];
        loop {
            if sim.tick().0 + half_second >= tick.0 {
                for (trail, actor) in trails.iter_mut().zip(plan.cast()) {
                    let view = sim.actor(actor);
                    if view.alive {
                        trail.push(view.at);
                    }
                }
            }
            if sim.tick() >= tick {
                break;
            }
            if !sim.step()? {
                return Err(FrameError::Over {
                    drill: plan.drills[drill.index()].name.clone(),
                    last: sim.tick(),
                    lost: sim.outcome() == Some(Outcome::Lost),
                });
            }
        }
        let figures = plan
            .cast()
            .zip(trails)
            .filter_map(|(actor, trail)| {
                let view = sim.actor(actor);
                view.alive.then(|| Figure {
                    actor,
                    at: view.at,
                    facing: view.facing,
                    invincible: view.invincible,
                    live: view.live,
                    guarding: view.guarding,
                    doing: doing(plan, actor, &view),
                    meters: view.meters.to_vec(),
                    trail,
                })
            })
            .collect();
        Ok(Frame {
            plan: Arc::clone(plan),
            drill,
            tick,
            figures,
        })
    }

    /// The arena at that tick, with every box, as an SVG document about 1280 pixels wide.
    pub fn svg(&self, look: &Look) -> String {
        scene::draw(self, look)
    }
}

/// What an actor is in the middle of: an attack, a guard, a stun, a rest.
fn doing(plan: &Plan, actor: ActorIx, view: &ActorView<'_>) -> Vec<String> {
    let attack = view.attack.map(|(attack, phase)| {
        let name = plan.spec(actor).attacks[attack.index()].name;
        format!("{}: {}", plan.attacks[name.index()], phase.as_str())
    });
    let states = [
        (view.guarding, "guard up"),
        (view.stunned, "stunned"),
        (view.resting, "hitstop"),
    ];
    let states = states.into_iter().filter(|(is, _)| *is);
    attack
        .into_iter()
        .chain(states.map(|(_, words)| words.to_owned()))
        .collect()
}
