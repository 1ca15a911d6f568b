//! A drill as the page needs it: its film, where everyone is, and its hits explained, from one pass.

use std::cell::Cell;
use std::sync::Arc;

use tin_crown::plan::DrillIx;
use tin_crown::sim::Inquest;
use tin_crown::study::{Came, ToldHits};
use tin_crown::{Plan, Replay, ReplayError};

use crate::film::{Film, Recorder};
use crate::page::poses::{Poser, Poses};

/// So many hits of a drill are explained on the page.
const EXPLAINED: usize = 1500;

/// A drill played for the page.
#[derive(Clone, Debug)]
pub struct Take {
    pub(super) film: Film,
    pub(super) poses: Poses,
    pub(super) explained: Vec<Came>,
}

impl Take {
    /// Plays a drill once.
    ///
    /// # Errors
    ///
    /// When it cannot be replayed.
    pub fn shoot(plan: &Arc<Plan>, drill: DrillIx) -> Result<Take, ReplayError> {
        // Once enough are explained, nothing more is asked.
        let asks = Cell::new(true);
        let mut inquest = Inquest::new(plan, drill, |_, _| asks.get());
        let mut recorder = Recorder::default();
        let mut poser = Poser::default();
        let mut told = ToldHits::new(EXPLAINED);
        let mut last = tin_crown::Tick(0);
        while let Some((sim, judged)) = inquest.play()? {
            last = sim.tick();
            recorder.see(sim);
            poser.see(sim);
            told.see(sim, judged);
            asks.set(!told.is_full());
        }
        let replay = inquest.into_replay()?;
        let poses = poser.done(&replay, last);
        let explained = told.explain(&replay);
        Ok(Take {
            film: recorder.develop(replay, last),
            poses,
            explained,
        })
    }

    /// What happened.
    pub fn replay(&self) -> &Replay {
        self.film.replay()
    }
}
