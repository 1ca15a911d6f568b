//! Snapshots of a run, close to each other near the present and further apart the longer ago they were.

use crate::map::Map;
use crate::sim::{Live, Snapshot};
use crate::time::Tick;

/// Near the present there is one every so many ticks.
const CLOSE: u32 = 16;
/// So far from it; twice as far they are twice as far apart.
const NEAR: u32 = 512;

/// Snapshots of a run by their ticks; one of tick 0 is always there.
#[derive(Clone, Debug, Default)]
pub(super) struct Snapshots {
    all: Map<u32, Snapshot>,
    /// One that is not needed any more, for its memory.
    spare: Option<Snapshot>,
}

/// How far apart they are at a distance from the present.
fn apart(distance: u32) -> u32 {
    CLOSE
        << (distance / NEAR)
            .checked_ilog2()
            .map_or(0, |octave| octave + 1)
}

impl Snapshots {
    /// Takes one on the way to a tick, where one is due.
    pub fn pass(&mut self, run: &Live, to: Tick) {
        let tick = run.tick();
        if !tick.0.is_multiple_of(apart((to - tick).0)) || self.all.contains_key(&tick.0) {
            return;
        }
        let snapshot = match self.spare.take() {
            Some(mut spare) => {
                run.save(&mut spare);
                spare
            }
            None => run.snapshot(),
        };
        self.all.insert(tick.0, snapshot);
        self.thin(tick);
    }

    /// Leaves out what is too close, as seen from a tick.
    fn thin(&mut self, now: Tick) {
        let stays = |tick: u32| tick.is_multiple_of(apart(tick.abs_diff(now.0)));
        let rest: Vec<u32> = self
            .all
            .keys()
            .copied()
            .filter(|own| !stays(*own))
            .collect();
        for tick in rest {
            self.spare = self.all.remove(&tick);
        }
    }

    /// The last one up to a tick.
    pub fn before(&self, tick: Tick) -> Option<&Snapshot> {
        let mut latest = self.all.iter().rev();
        latest.find(|(own, _)| **own <= tick.0).map(|(_, own)| own)
    }

    /// Forgets those after a tick.
    pub fn cut(&mut self, tick: Tick) {
        self.all.retain(|own, _| *own <= tick.0);
    }
}
