//! Pseudo-random numbers: SplitMix64 (G. Steele, D. Lea, C. Flood, "Fast splittable pseudorandom number
//! generators", OOPSLA 2014).

/// How far the state goes on with each number.
pub(crate) const STEP: u64 = 0x9e37_79b9_7f4a_7c15;

/// The number of a state.
pub(crate) fn mix(state: u64) -> u64 {
    let mut mixed = state;
    mixed = (mixed ^ (mixed >> 30)).wrapping_mul(0xbf58_476d_1ce4_e5b9);
    mixed = (mixed ^ (mixed >> 27)).wrapping_mul(0x94d0_49bb_1331_11eb);
    mixed ^ (mixed >> 31)
}

/// From 0 to just below 1, in steps of 2⁻⁵³.
pub(crate) fn unit(number: u64) -> f64 {
    (number >> 11) as f64 * (1.0 / (1u64 << 53) as f64)
}

/// A sequence of numbers.
#[derive(Clone, Debug)]
pub(crate) struct Sequence(u64);

impl Sequence {
    /// One for a seed and a purpose: what is drawn for one purpose does not depend on others.
    pub fn new(seed: u64, purpose: &[u64]) -> Sequence {
        let all = purpose.iter();
        Sequence(all.fold(mix(seed), |state, more| {
            mix(state.wrapping_add(STEP) ^ mix(more.wrapping_add(STEP)))
        }))
    }

    pub fn next(&mut self) -> u64 {
        self.0 = self.0.wrapping_add(STEP);
        mix(self.0)
    }

    pub fn unit(&mut self) -> f64 {
        unit(self.next())
    }

    /// A whole number below a count, each as likely.
    pub fn below(&mut self, count: usize) -> usize {
        (self.unit() * count as f64) as usize
    }

    /// A whole number from `-most` to `most`.
    pub fn within(&mut self, most: i64) -> i64 {
        self.below(2 * most as usize + 1) as i64 - most
    }
}
