//! What actors have: meters, attacks, launchers, sensors, transitions.

use std::ops::Range;

use serde::{Deserialize, Serialize};
use tin_crown_derive::CloneFrom;

use super::parts::attacks::Readiness;
use super::parts::launchers::Barrel;
use super::parts::meters::Gauge;
use super::parts::newcomer::Own;
use super::parts::sensors::Sight;
use super::parts::transitions::Switch;
use crate::amount::Amount;
use crate::plan::Spec;
use crate::time::Tick;

/// What all actors have, one actor's after the other's: their lives say from where to where.
#[derive(CloneFrom, Debug, Default, Serialize, Deserialize)]
pub(crate) struct Stock {
    pub meters: Vec<Amount>,
    pub gauges: Vec<Gauge>,
    pub attacks: Vec<Readiness>,
    pub barrels: Vec<Barrel>,
    pub sights: Vec<Sight>,
    pub switches: Vec<Switch>,
}

impl Stock {
    /// Makes room for what an actor has, and says where.
    pub fn grow(&mut self, spec: &Spec, seed: u32, id: &str, tick: Tick) -> Own {
        fn grow<T>(all: &mut Vec<T>, more: impl Iterator<Item = T>) -> Range<usize> {
            let from = all.len();
            all.extend(more);
            from..all.len()
        }
        let meters = spec.meters.iter();
        grow(
            &mut self.gauges,
            meters.clone().map(|meter| Gauge::new(meter, tick)),
        );
        let launchers = spec.launchers.iter();
        Own {
            meters: grow(&mut self.meters, meters.map(|meter| meter.start)),
            attacks: grow(
                &mut self.attacks,
                spec.attacks.iter().map(|_| Readiness::default()),
            ),
            launchers: grow(
                &mut self.barrels,
                launchers.map(|plan| Barrel::new(seed, id, plan)),
            ),
            sensors: grow(
                &mut self.sights,
                spec.sensors.iter().map(|_| Sight::new(tick)),
            ),
            transitions: grow(
                &mut self.switches,
                (0..spec.transitions()).map(|_| Switch::default()),
            ),
        }
    }

    /// What an actor has is as when it appears; but for what its meters hold, and its launchers.
    pub fn renew(&mut self, spec: &Spec, own: &Own, tick: Tick) {
        let meters = self.gauges[own.meters.clone()].iter_mut();
        for (gauge, meter) in meters.zip(&spec.meters) {
            *gauge = Gauge::new(meter, tick);
        }
        self.attacks[own.attacks.clone()].fill(Readiness::default());
        for sight in &mut self.sights[own.sensors.clone()] {
            *sight = Sight::new(tick);
        }
        self.switches[own.transitions.clone()].fill(Switch::default());
    }

    /// The meters hold what they begin with, and the launchers count and draw from the beginning.
    pub fn refill(&mut self, spec: &Spec, own: &Own, seed: u32, id: &str) {
        let meters = self.meters[own.meters.clone()].iter_mut();
        for (held, meter) in meters.zip(&spec.meters) {
            *held = meter.start;
        }
        let barrels = self.barrels[own.launchers.clone()].iter_mut();
        for (barrel, plan) in barrels.zip(&spec.launchers) {
            *barrel = Barrel::new(seed, id, plan);
        }
    }
}
