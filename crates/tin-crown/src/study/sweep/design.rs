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

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_permutation_meets_everything_once() {
        for count in [1_u64, 2, 3, 17, 64, 1000] {
            for seed in 0..3 {
                let mut met: Vec<u64> = (0..count)
                    .map(|nth| permuted([seed, 5], count, nth))
                    .collect();
                if count == 1000 {
                    assert_ne!(met[..10], [0, 1, 2, 3, 4, 5, 6, 7, 8, 9]);
                }
                met.sort_unstable();
                assert!(met.into_iter().eq(0..count), "{count}");
            }
        }
    }

    #[test]
    fn each_part_of_each_axis_is_drawn_once() {
        let axes: Vec<Axis> = ["a=0..8", "b=0..800", "c=0..80"]
            .map(|text| text.parse().unwrap())
            .to_vec();
        for spread in [Spread::Latin, Spread::Sobol] {
            // A power of two, of which a Sobol sequence has one in each part as well.
            let samples = Samples {
                count: 8,
                spread,
                seed: 7,
            };
            let design = Design::new(&axes, Some(samples)).unwrap();
            for (nth, width) in [(0, 1.0), (1, 100.0), (2, 10.0)] {
                let drawn = (0..8).map(|cell| design.values(&axes, cell)[nth].place().unwrap());
                let mut parts: Vec<u32> = drawn.map(|place| (place / width) as u32).collect();
                parts.sort_unstable();
                assert_eq!(parts, [0, 1, 2, 3, 4, 5, 6, 7], "{spread:?} {nth}");
            }
        }
    }
}
