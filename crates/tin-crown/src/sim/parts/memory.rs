//! What is remembered of two actors and a rule from one tick to the next.

use crate::ledger::LineId;
use crate::plan::{ActorIx, RuleIx};
use crate::sim::phases::verdict::Candidate;
use crate::time::Tick;
use crate::verdict::Verdict;
use serde::{Deserialize, Serialize};
use tin_crown_derive::CloneFrom;

/// What is remembered of every two actors and rule that is worth it, in their order.
#[derive(CloneFrom, Debug, Default, Serialize, Deserialize)]
pub(crate) struct Pairs {
    now: Vec<Pair>,
    #[scratch]
    #[serde(skip)]
    last: Vec<Pair>,
}

/// Who, whom and by which rule.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
pub(crate) struct PairKey {
    pub who: ActorIx,
    pub whom: ActorIx,
    pub rule: RuleIx,
}

#[derive(Clone, Copy, Debug, Serialize, Deserialize)]
pub(crate) struct Pair {
    pub key: PairKey,
    /// The last tick on which boxes that the rule pairs touched.
    pub touched: Tick,
    /// Whether the rule took effect since they came together.
    pub landed_in_touch: bool,
    /// When a box that no swing makes live last took effect, under a rule that asks for one hit.
    still_hit: Option<Tick>,
    /// The swing that took effect last, and when.
    swing_hit: Option<(u32, Tick)>,
    /// Whether who has rebounded since they came together, and by which swing last.
    pub rebounded: bool,
    pub rebounded_by: u32,
    /// The last hit that took effect.
    pub hit: Option<LineId>,
    /// The first tick on which `every` lets it land again.
    pub next: Tick,
    /// The verdict that was recorded last since they came together.
    pub told: Option<Told>,
}

/// What was recorded of a touch.
#[derive(Clone, Copy, Debug, Serialize, Deserialize)]
pub(crate) struct Told {
    pub verdict: Verdict,
    /// The gate that said no.
    pub gate: Option<u8>,
    pub line: LineId,
}

impl Pair {
    fn new(key: PairKey) -> Pair {
        Pair {
            key,
            touched: Tick(0),
            landed_in_touch: false,
            still_hit: None,
            swing_hit: None,
            rebounded: false,
            rebounded_by: 0,
            hit: None,
            next: Tick(0),
            told: None,
        }
    }

    /// They touch on this tick.
    fn touch(&mut self, tick: Tick) {
        if self.touched.0 + 1 != tick.0 {
            // They parted in between.
            self.landed_in_touch = false;
            self.rebounded = false;
            self.told = None;
        }
        self.touched = tick;
    }

    /// When the swing (0: a box that is always live) last used up its hit on whom.
    pub fn spent(&self, swing: u32) -> Option<Tick> {
        match swing {
            0 => self.still_hit,
            _ => self
                .swing_hit
                .filter(|(by, _)| *by == swing)
                .map(|(_, on)| on),
        }
    }

    /// The swing (0: a box that is always live) uses up its hit on whom. Neither makes the other
    /// forgotten.
    pub fn spend(&mut self, swing: u32, tick: Tick) {
        match swing {
            0 => self.still_hit = Some(tick),
            _ => self.swing_hit = Some((swing, tick)),
        }
    }

    fn is_spent(&self) -> bool {
        self.still_hit.is_some() || self.swing_hit.is_some()
    }
}

impl Pairs {
    /// Brings the memory to this tick. The candidates are in the order of keys, and are told where
    /// their memory is.
    pub fn begin_tick(&mut self, tick: Tick, candidates: &mut [Candidate]) {
        // As long as the same meet as on the last tick, they stay where they are.
        let met = self.now.iter_mut().zip(&mut *candidates);
        let mut same = 0;
        for (pair, candidate) in met.take_while(|(pair, own)| pair.key == own.key) {
            pair.touch(tick);
            candidate.memory = same;
            same += 1;
        }
        let candidates = &mut candidates[same as usize..];
        let worth = |pair: &Pair| pair.next > tick || pair.is_spent();
        if self.now.len() == same as usize && candidates.is_empty() {
            return;
        }
        self.last.clear();
        // All of them may have to move some day.
        self.last.reserve(self.now.capacity());
        self.last.extend(self.now.drain(same as usize..));
        let mut earlier = self.last.drain(..).peekable();
        for candidate in candidates {
            let key = candidate.key;
            while let Some(pair) = earlier.next_if(|pair| pair.key < key) {
                if worth(&pair) {
                    self.now.push(pair);
                }
            }
            let known = earlier.next_if(|pair| pair.key == key);
            let mut pair = known.unwrap_or(Pair::new(key));
            pair.touch(tick);
            candidate.memory = self.now.len() as u32;
            self.now.push(pair);
        }
        self.now.extend(earlier.filter(worth));
    }

    /// Keeps what is worth remembering.
    pub fn retain(&mut self, worth: impl Fn(&PairKey) -> bool) {
        self.now.retain(|pair| worth(&pair.key));
    }

    /// An actor appears anew: nothing is remembered of them.
    pub fn forget(&mut self, index: ActorIx) {
        self.retain(|key| key.who != index && key.whom != index);
    }

    pub fn get(&self, candidate: &Candidate) -> &Pair {
        &self.now[candidate.memory as usize]
    }

    pub fn get_mut(&mut self, candidate: &Candidate) -> &mut Pair {
        &mut self.now[candidate.memory as usize]
    }

    /// All that is remembered of two actors, whatever the rule.
    pub fn between(&self, key: &PairKey) -> &[Pair] {
        let both = |pair: &Pair| (pair.key.who, pair.key.whom);
        let own = (key.who, key.whom);
        let from = self.now.partition_point(|pair| both(pair) < own);
        let more = self.now[from..].partition_point(|pair| both(pair) == own);
        &self.now[from..from + more]
    }
}
