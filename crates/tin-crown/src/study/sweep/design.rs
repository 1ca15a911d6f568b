//! Which values each cell of a sweep has.

use super::sobol::Sobol;
use crate::random::{Sequence, mix, unit};
use crate::study::vary::{Axis, Value};

/// How samples are drawn.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Spread {
    /// A Latin hypercube: of *n* samples each axis has one in each *n*-th of its range (M. McKay, R. Beckman,
    /// W. Conover, "A comparison of three methods for selecting values of input variables", Technometrics 21, 1979).
    #[default]
    Latin,
    /// A Sobol sequence, shifted by the seed: evenly spread from the first sample on.
    Sobol,
}

/// Samples instead of a grid.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Samples {
    /// How many.
    pub count: u64,
    /// How they are spread.
    pub spread: Spread,
    /// What they are drawn from.
    pub seed: u64,
}

/// Which values each cell has.
#[derive(Clone, Debug)]
pub(super) enum Design {
    /// Every combination; the last axis goes fastest.
    Grid(Vec<u64>),
    Latin(Samples),
    Sobol(u64, Sobol),
}

impl Design {
    /// The cells of a grid of axes that all have steps, or samples. None when there are more than can be counted.
    pub fn new(axes: &[Axis], samples: Option<Samples>) -> Option<Design> {
        match samples {
            Some(samples) => Some(match samples.spread {
                Spread::Latin => Design::Latin(samples),
                Spread::Sobol => Design::Sobol(samples.count, Sobol::new(axes.len(), samples.seed)),
            }),
            None => {
                let lengths: Vec<u64> = axes.iter().filter_map(Axis::len).collect();
                let all = lengths
                    .iter()
                    .try_fold(1_u64, |all, own| all.checked_mul(*own));
                all.map(|_| Design::Grid(lengths))
            }
        }
    }

    pub fn cells(&self) -> u64 {
        match self {
            Design::Grid(lengths) => lengths.iter().product(),
            Design::Latin(samples) => samples.count,
            Design::Sobol(count, _) => *count,
        }
    }

    /// The value of each axis.
    pub fn values(&self, axes: &[Axis], cell: u64) -> Vec<Value> {
        match self {
            Design::Grid(lengths) => {
                let mut rest = cell;
                let mut places: Vec<u64> = lengths
                    .iter()
                    .rev()
                    .map(|length| {
                        let place = rest % length;
                        rest /= length;
                        place
                    })
                    .collect();
                places.reverse();
                axes.iter()
                    .zip(places)
                    .map(|(axis, place)| axis.value(place))
                    .collect()
            }
            Design::Latin(Samples { count, seed, .. }) => {
                let nth = axes.iter().zip(0_u64..);
                let drawn = nth.map(|(axis, nth)| {
                    let own = [*seed, nth];
                    let stratum = permuted(own, *count, cell) as f64;
                    let within = Sequence::new(*seed, &[nth, cell]).unit();
                    axis.drawn((stratum + within) / *count as f64)
                });
                drawn.collect()
            }
            Design::Sobol(_, sobol) => {
                let nth = axes.iter().enumerate();
                nth.map(|(nth, axis)| axis.drawn(sobol.share(nth, cell)))
                    .collect()
            }
        }
    }
}

/// Where an element of `0..count` comes in an order drawn from two keys. No order is kept: it is a Feistel network
/// over the least even number of bits, walked until it is back within (J. Black, P. Rogaway, "Ciphers with arbitrary
/// finite domains", CT-RSA 2002).
fn permuted(keys: [u64; 2], count: u64, element: u64) -> u64 {
    const ROUNDS: u64 = 4;
    let bits = 64 - count.saturating_sub(1).leading_zeros();
    let half = bits.div_ceil(2).max(1);
    let mask = (1 << half) - 1;
    let key = mix(mix(keys[0]) ^ keys[1]);
    let mut at = element;
    loop {
        let (mut left, mut right) = (at >> half, at & mask);
        for round in 0..ROUNDS {
            let mixed = mix(key ^ mix(right ^ (round << 60)));
            (left, right) = (right, left ^ (mixed & mask));
        }
        at = left << half | right;
        if at < count {
            return at;
        }
    }
}

/// A share from 0 to below 1, from two numbers.
pub(super) fn share(seed: u64, nth: u64) -> f64 {
    unit(mix(mix(seed) ^ mix(nth)))
}
