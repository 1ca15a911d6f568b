//! A frame: an encounter at one tick of a drill, ready to be drawn.

use std::collections::BTreeMap;
use std::sync::Arc;

use tin_crown::geometry::Vec2;
use tin_crown::{
    ActorIx, ActorView, Amount, BoxSet, DrillIx, Facing, Outcome, Plan, ReplayError, Sim, Spec,
    Tick, Ticks,
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
    pub id: String,
    pub spec: Spec,
    pub at: Vec2,
    pub facing: Facing,
    /// How long it has been there, by which boxes grow.
    pub age: Ticks,
    pub invincible: bool,
    pub live: BoxSet,
    pub guarding: bool,
    /// Of each of its sensors, whether it notices somebody.
    pub sees: Vec<bool>,
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
        let mut trails: BTreeMap<ActorIx, Vec<Vec2>> = BTreeMap::new();
        loop {
            if sim.tick().0 + half_second >= tick.0 {
                for actor in sim.cast() {
                    let view = sim.actor(actor);
                    if view.alive || view.dying {
                        trails.entry(actor).or_default().push(view.at);
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
        let figures = sim
            .cast()
            .filter_map(|actor| {
                let view = sim.actor(actor);
                (view.alive || view.dying).then(|| Figure {
                    id: sim.id(actor).to_owned(),
                    spec: sim.spec(actor).clone(),
                    at: view.at,
                    facing: view.facing,
                    age: view.age,
                    invincible: view.invincible,
                    live: view.live,
                    guarding: view.guarding,
                    sees: (0..sim.spec(actor).sensors.len())
                        .map(|sensor| sim.noticed(actor, sensor).next().is_some())
                        .collect(),
                    doing: doing(plan, sim.spec(actor), &view),
                    meters: view.meters.to_vec(),
                    trail: trails.remove(&actor).unwrap_or_default(),
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

/// What an actor is in the middle of: a state, an attack, a guard, a stun, a rest.
fn doing(plan: &Plan, spec: &Spec, view: &ActorView<'_>) -> Vec<String> {
    let state = view.state.map(|state| {
        let name = spec.states[state.index()].name;
        plan.states[name.index()].clone()
    });
    let attack = view.attack.map(|(attack, phase)| {
        let name = spec.attacks[attack.index()].name;
        format!("{}: {}", plan.attacks[name.index()], phase.as_str())
    });
    let states = [
        (view.guarding, "guard up"),
        (view.stunned, "stunned"),
        (view.resting, "hitstop"),
        (view.dying, "dying"),
    ];
    let states = states.into_iter().filter(|(is, _)| *is);
    state
        .into_iter()
        .chain(attack)
        .chain(states.map(|(_, words)| words.to_owned()))
        .collect()
}
