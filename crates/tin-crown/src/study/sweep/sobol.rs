//! Sobol sequences (I. Sobol, "On the distribution of points in a cube", USSR Computational Mathematics 7, 1967), with
//! the direction numbers of S. Joe and F. Kuo, "Constructing Sobol sequences with better two-dimensional projections",
//! SIAM Journal on Scientific Computing 30, 2008.

use super::design::share;

/// How many axes a sequence has.
pub(super) const AXES: usize = 10;

/// Of each axis after the first the coefficients of its polynomial, and its first direction numbers.
const NUMBERS: [(u32, &[u32]); AXES - 1] = [
    (0, &[1]),
    (1, &[1, 3]),
    (1, &[1, 3, 1]),
    (2, &[1, 1, 1]),
    (1, &[1, 1, 3, 3]),
    (4, &[1, 3, 5, 13]),
    (2, &[1, 1, 5, 5, 17]),
    (4, &[1, 1, 5, 5, 5]),
    (7, &[1, 1, 7, 11, 19]),
];

/// A sequence of points, each axis shifted by the seed.
#[derive(Clone, Debug)]
pub(super) struct Sobol {
    directions: Vec<[u32; 32]>,
    shifts: Vec<u32>,
}

impl Sobol {
    /// One of at most [`AXES`] axes.
    pub fn new(axes: usize, seed: u64) -> Sobol {
        let shift = |nth| (share(seed, nth) * 4_294_967_296.0) as u32;
        Sobol {
            directions: (0..axes).map(directions).collect(),
            shifts: (0..axes as u64).map(shift).collect(),
        }
    }

    /// From 0 to below 1: where a point is on an axis.
    pub fn share(&self, axis: usize, point: u64) -> f64 {
        let directions = self.directions[axis].iter().enumerate();
        let set = directions.filter(|(bit, _)| point >> bit & 1 == 1);
        let at = set.fold(self.shifts[axis], |at, (_, direction)| at ^ direction);
        f64::from(at) / 4_294_967_296.0
    }
}

fn directions(axis: usize) -> [u32; 32] {
    let mut all = [0; 32];
    let Some((coefficients, first)) = axis.checked_sub(1).map(|nth| NUMBERS[nth]) else {
        for (bit, direction) in all.iter_mut().enumerate() {
            *direction = 1 << (31 - bit);
        }
        return all;
    };
    let degree = first.len();
    for bit in 0..32 {
        all[bit] = match bit.checked_sub(degree) {
            None => first[bit] << (31 - bit),
            Some(before) => {
                let mut direction = all[before] ^ (all[before] >> degree);
                for term in 1..degree {
                    if coefficients >> (degree - 1 - term) & 1 == 1 {
                        direction ^= all[bit - term];
                    }
                }
                direction
            }
        };
    }
    all
}
