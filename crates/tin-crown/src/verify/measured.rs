//! Measures: numbers read off a replay.

use super::seen::{self, Seen};
use super::{Probe, stand};
use crate::amount::Amount;
use crate::ledger::{Replay, What};
use crate::plan::{ExpectPlan, ExpectedPlan, Gauge, MeasurePlan};
use crate::time::Ticks;

impl Replay {
    /// The places of the expectations that are not met, counted from 0, in the order of
    /// [`verify`](Replay::verify): the same without words, for those who ask a thousand times.
    pub fn missed(&self) -> Vec<usize> {
        let expected: Vec<&ExpectPlan> = self.plan().expectations.of(self.drill()).collect();
        let seen = self.seen(&expected);
        let probe = |expected| Probe {
            replay: self,
            expected,
            seen: &seen,
        };
        let nth = expected.iter().enumerate();
        nth.filter(|(_, expected)| probe(expected).miss().is_some())
            .map(|(nth, _)| nth)
            .collect()
    }

    /// What expectations ask for and the ledger does not tell.
    pub(super) fn seen(&self, expected: &[&ExpectPlan]) -> Seen {
        match expected.iter().any(|expected| seen::needed(expected)) {
            true => Seen::of(self, expected),
            false => Seen::default(),
        }
    }

    /// A number read off the replay; none when there is nothing to read it off: no first of what never
    /// happens, no meter of who never comes.
    pub fn measure(&self, measure: &MeasurePlan) -> Option<f64> {
        let seen = self.seen(&[&measure.of]);
        let probe = Probe {
            replay: self,
            expected: &measure.of,
            seen: &seen,
        };
        match &measure.of.what {
            ExpectedPlan::Stand(stand) => {
                let held = stand::held(&probe, stand);
                held_as(measure.gauge, held)
            }
            ExpectedPlan::Happens(pattern) => {
                let found = probe.matches(pattern);
                let seconds = |ticks: Ticks| f64::from(ticks.0) / f64::from(self.plan().rate);
                match measure.gauge {
                    Gauge::First => Some(found.first()?.tick.seconds(self.plan().rate)),
                    Gauge::Last => Some(found.last()?.tick.seconds(self.plan().rate)),
                    Gauge::LeastApart => {
                        let apart = found.windows(2).map(|pair| pair[1].tick - pair[0].tick);
                        apart.min().map(seconds)
                    }
                    Gauge::Total => {
                        let hits = found.iter().filter_map(|found| self.ledger().get(found.id));
                        let sum = hits.fold(Amount::ZERO, |sum, hit| sum + taken(&hit.what));
                        Some(sum.as_f64())
                    }
                    _ => Some(found.len() as f64),
                }
            }
            _ => None,
        }
    }
}

fn held_as(gauge: Gauge, held: Vec<Vec<Amount>>) -> Option<f64> {
    let all = held.iter().flatten();
    let amount = match gauge {
        Gauge::Lowest => all.min().copied(),
        Gauge::Highest => all.max().copied(),
        _ => held.iter().filter_map(|own| own.last()).min().copied(),
    };
    amount.map(Amount::as_f64)
}

/// How much damage an event did to meters.
pub(crate) fn taken(what: &What) -> Amount {
    match what {
        What::Hit(hit) if hit.verdict.took_effect() => {
            hit.amount.unwrap_or_default() - hit.overkill
        }
        What::Apply {
            amount, overkill, ..
        } => amount.unwrap_or_default() - *overkill,
        _ => Amount::ZERO,
    }
}
