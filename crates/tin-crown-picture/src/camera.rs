//! A camera: plays a drill, and takes frames on the way.

use std::collections::{BTreeMap, VecDeque};
use std::sync::Arc;

use tin_crown::geometry::Vec2;
use tin_crown::plan::{ActorIx, DrillIx};
use tin_crown::{Outcome, Plan, Sim, Tick};

use crate::frame::{Frame, FrameError};

/// Plays a drill, and takes frames on the way.
pub(crate) struct Camera {
    pub sim: Sim,
    drill: DrillIx,
    /// Where everyone was over the last half second, oldest first.
    trails: BTreeMap<ActorIx, VecDeque<(Tick, Vec2)>>,
}

impl Camera {
    pub fn new(plan: &Arc<Plan>, drill: DrillIx) -> Camera {
        let mut camera = Camera {
            sim: Sim::new(plan, drill),
            drill,
            trails: BTreeMap::new(),
        };
        camera.follow();
        camera
    }

    /// Plays on to a tick.
    pub fn play_to(&mut self, tick: Tick) -> Result<(), FrameError> {
        while self.sim.tick() < tick {
            if !self.sim.step()? {
                let plan = self.sim.plan();
                return Err(FrameError::Over {
                    drill: plan.drills()[self.drill.index()].name().to_owned(),
                    last: self.sim.tick(),
                    lost: self.sim.outcome() == Some(Outcome::Lost),
                });
            }
            self.follow();
        }
        Ok(())
    }

    fn follow(&mut self) {
        let (tick, half_second) = (self.sim.tick(), self.sim.plan().rate().div_ceil(2));
        for actor in self.sim.cast() {
            let trail = self.trails.entry(actor).or_default();
            trail.push_back((tick, self.sim.actor(actor).at));
            while trail
                .front()
                .is_some_and(|(since, _)| (tick - *since).0 > half_second)
            {
                trail.pop_front();
            }
        }
    }

    /// Everyone as they stand, and where they came from.
    pub fn frame(&self) -> Frame {
        Frame::with_trails(&self.sim, |actor| {
            let trail = self.trails.get(&actor).into_iter().flatten();
            trail.map(|(_, at)| *at).collect()
        })
    }
}

impl Frame {
    /// Plays a drill up to a tick.
    ///
    /// # Errors
    ///
    /// When the drill is over before, or cannot be replayed so far.
    ///
    /// # Panics
    ///
    /// When an index is of another plan.
    pub fn capture(plan: &Arc<Plan>, drill: DrillIx, tick: Tick) -> Result<Frame, FrameError> {
        let mut camera = Camera::new(plan, drill);
        camera.play_to(tick)?;
        Ok(camera.frame())
    }
}
