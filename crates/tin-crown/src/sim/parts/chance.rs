//! Chance: one stream of numbers for each actor and purpose, so that adding an actor never changes
//! what another draws. `docs/ticks.md` fixes the generator, the derivation and the mapping.

use crate::encounter::Chance;
use crate::geometry::Vec2;
use crate::random;
use serde::{Deserialize, Serialize};

/// A stream of pseudo-random numbers.
#[derive(Clone, Copy, Debug, Serialize, Deserialize)]
pub(crate) struct Stream(u64);

impl Stream {
    /// The stream of an actor for a purpose: its state is the FNV-1a hash (64 bits) of the drill's
    /// seed in four bytes, least first, the id, a zero byte, and the purpose.
    pub fn new(seed: u32, id: &str, purpose: &[&str]) -> Stream {
        let seed = seed.to_le_bytes();
        let purpose = purpose.iter().flat_map(|word| word.as_bytes());
        let bytes = seed.iter().chain(id.as_bytes()).chain(&[0]).chain(purpose);
        Stream(bytes.fold(0xcbf2_9ce4_8422_2325, |hash, byte| {
            (hash ^ u64::from(*byte)).wrapping_mul(0x0000_0100_0000_01b3)
        }))
    }

    fn next(&mut self) -> u64 {
        self.0 = self.0.wrapping_add(random::STEP);
        random::mix(self.0)
    }

    /// From 0 to just below 1, in steps of 2⁻⁵³.
    fn unit(&mut self) -> f64 {
        random::unit(self.next())
    }

    /// From -1 to just below 1.
    pub fn either_way(&mut self) -> f64 {
        2.0 * self.unit() - 1.0
    }

    /// A number; one that is fixed takes nothing from the stream.
    pub fn number(&mut self, chance: &Chance<f64>) -> f64 {
        match chance {
            Chance::Fixed(number) => *number,
            Chance::Choice(numbers) => numbers[self.below(numbers.len())],
            Chance::Range([from, to]) => from + (to - from) * self.unit(),
        }
    }

    /// A point: of a range x is drawn before y.
    pub fn point(&mut self, chance: &Chance<Vec2>) -> Vec2 {
        match chance {
            Chance::Fixed(point) => *point,
            Chance::Choice(points) => points[self.below(points.len())],
            Chance::Range([from, to]) => {
                let (x, y) = (self.unit(), self.unit());
                Vec2::new(from.x + (to.x - from.x) * x, from.y + (to.y - from.y) * y)
            }
        }
    }

    /// A whole number below a count, each as likely.
    pub fn below(&mut self, count: usize) -> usize {
        (self.unit() * count as f64) as usize
    }
}
