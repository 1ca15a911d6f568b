//! Which hurtboxes may touch a hitbox: of few, those that some rule pairs are looked at one by one; of many, those
//! that a grid finds near.

use super::grid::{Grid, Listed};
use crate::geometry::{Bounds, Vec2};
use crate::plan::Plan;

/// What is near what, found in whichever way is quicker.
#[derive(Clone, Debug, Default)]
pub(crate) struct Nearby {
    /// Of each hitbox, where its partners begin; one more than there are. Nothing when there are too many boxes.
    starts: Vec<u32>,
    /// The hurtboxes that some rule pairs with each.
    partners: Vec<u32>,
    /// The space that each hurtbox takes up over the tick; nothing of one that is off.
    spaces: Vec<Bounds>,
    /// The same as words, where there are enough partners for that to pay.
    by_words: bool,
    words: Vec<u64>,
    ruler: Ruler,
    /// Those that are on, for the grid.
    listed: Vec<Listed>,
    grid: Grid,
}

/// With up to so many pairs of hitboxes and hurtboxes, partners are looked at one by one: measured in a crowd.
const FEW_PAIRS: usize = 64 * 64;

/// With more partners of each than that, most are told apart by a word: measured, too.
const MANY_PARTNERS: usize = 16;

/// Takes up no space.
const NOWHERE: Bounds = Bounds {
    min: Vec2::new(f64::INFINITY, f64::INFINITY),
    max: Vec2::new(f64::NEG_INFINITY, f64::NEG_INFINITY),
};

impl Nearby {
    /// Boxes about as many and as large as `sample`.
    pub fn new(plan: &Plan, sample: impl Iterator<Item = Bounds>) -> Nearby {
        Nearby {
            grid: Grid::new(plan.arena.bounds, sample),
            ruler: Ruler::new(plan.arena.bounds),
            ..Nearby::default()
        }
    }

    /// There are so many hitboxes and hurtboxes now, of which some are partners.
    pub fn list(&mut self, gives: usize, takes: usize, pairs: impl Fn(usize, usize) -> bool) {
        self.starts.clear();
        self.partners.clear();
        if gives.saturating_mul(takes) > FEW_PAIRS {
            return;
        }
        self.starts.push(0);
        for give in 0..gives {
            let own = (0..takes).filter(|take| pairs(give, *take));
            self.partners.extend(own.map(|take| take as u32));
            self.starts.push(self.partners.len() as u32);
        }
        self.by_words = self.partners.len() > gives * MANY_PARTNERS;
    }

    fn is_direct(&self) -> bool {
        !self.starts.is_empty()
    }

    /// The space that each hurtbox takes up over the tick, if it is on.
    pub fn fill(&mut self, spaces: impl Iterator<Item = Option<Bounds>>) {
        if self.is_direct() {
            self.spaces.clear();
            self.spaces
                .extend(spaces.map(|space| space.unwrap_or(NOWHERE)));
            if self.by_words {
                self.words.clear();
                let ruler = self.ruler;
                let words = self.spaces.iter().map(|space| ruler.taken(*space));
                self.words.extend(words);
            }
            return;
        }
        self.listed.clear();
        let on = spaces.enumerate().filter_map(|(index, space)| {
            Some(Listed {
                bounds: space?,
                index: index as u32,
            })
        });
        self.listed.extend(on);
        self.grid.fill(&self.listed);
    }

    /// Puts the hurtboxes into `near`, in order, whose space meets that of a hitbox; without a grid only its partners.
    pub fn find(&self, give: usize, space: Bounds, near: &mut Vec<u32>) {
        near.clear();
        if self.is_direct() {
            let own = self.starts[give] as usize..self.starts[give + 1] as usize;
            let own = self.partners[own].iter().copied();
            let meets = |take: &u32| self.spaces[*take as usize].meets(space);
            if self.by_words {
                let asked = self.ruler.asked(space);
                let may = |take: &u32| Ruler::may_meet(asked, self.words[*take as usize]);
                near.extend(own.filter(may).filter(meets));
            } else {
                near.extend(own.filter(meets));
            }
            return;
        }
        self.grid
            .query(&self.listed, space, |index| near.push(index));
        near.sort_unstable();
    }
}

/// Writes rectangles as words of four whole numbers, of which one subtraction tells whether two may meet.
#[derive(Clone, Copy, Debug, Default)]
struct Ruler {
    origin: Vec2,
    /// How many steps there are to a unit.
    steps: f64,
}

/// The highest bit of each of the four.
const GUARDS: u64 = 0x8000_8000_8000_8000;
const MOST: f64 = 32767.0;
/// Added to a number that is not negative and less than it, it leaves the number, rounded, in the lowest bits.
const WHOLE: f64 = 4_503_599_627_370_496.0;

impl Ruler {
    fn new(arena: Bounds) -> Ruler {
        let size = arena.size();
        Ruler {
            origin: arena.min,
            steps: MOST / size.x.max(size.y),
        }
    }

    /// Never less for what is further along; what lies outside the arena counts to its edge.
    fn step(self, at: f64, origin: f64) -> u64 {
        (((at - origin) * self.steps).clamp(0.0, MOST) + WHOLE).to_bits() & 0x7fff
    }

    fn steps(self, of: Vec2) -> [u64; 2] {
        [
            self.step(of.x, self.origin.x),
            self.step(of.y, self.origin.y),
        ]
    }

    /// Of what is listed: its least edges, and its greatest counted from the far end.
    fn taken(self, bounds: Bounds) -> u64 {
        let ([left, low], [right, high]) = (self.steps(bounds.min), self.steps(bounds.max));
        left | (0x7fff - right) << 16 | low << 32 | (0x7fff - high) << 48
    }

    /// Of what is asked for: its greatest edges, and its least counted from the far end.
    fn asked(self, bounds: Bounds) -> u64 {
        let ([left, low], [right, high]) = (self.steps(bounds.min), self.steps(bounds.max));
        right | (0x7fff - left) << 16 | high << 32 | (0x7fff - low) << 48 | GUARDS
    }

    /// Whether none of the four is greater than what is asked for.
    fn may_meet(asked: u64, taken: u64) -> bool {
        asked.wrapping_sub(taken) & GUARDS == GUARDS
    }
}
