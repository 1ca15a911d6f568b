//! What was pressed, and the branches that it makes when time is turned back.

use std::sync::Arc;

use crate::time::Tick;

/// So many branches are kept.
const KEPT: usize = 24;

/// A button goes down or up after a tick.
#[derive(Clone, Debug, PartialEq, Eq)]
pub(super) struct Call {
    pub after: Tick,
    pub who: Arc<str>,
    pub button: Arc<str>,
    pub down: bool,
}

impl Call {
    pub fn is(&self, who: &str, button: &str) -> bool {
        *self.who == *who && *self.button == *button
    }
}

/// A way in which the encounter was played.
#[derive(Clone, Debug)]
pub struct Branch {
    /// Its number, counted from 1.
    pub id: u32,
    /// The last tick that was played.
    pub end: Tick,
    /// From which branch it parts, and on which tick.
    pub from: Option<(u32, Tick)>,
    /// In the order of ticks; of one tick in the order in which they came.
    calls: Vec<Call>,
}

impl Branch {
    pub(super) fn push(&mut self, call: Call) {
        let place = self.calls.partition_point(|own| own.after <= call.after);
        self.calls.insert(place, call);
    }

    /// What is pressed between a tick and the next.
    pub(super) fn at(&self, tick: Tick) -> &[Call] {
        let from = self.calls.partition_point(|call| call.after < tick);
        let to = self.calls.partition_point(|call| call.after <= tick);
        &self.calls[from..to]
    }

    /// Up to which tick another is the same.
    fn common(&self, other: &Branch) -> Tick {
        let mut pairs = self.calls.iter().zip(&other.calls);
        let differ = pairs.find(|(own, other)| own != other);
        let first = differ.map(|(own, other)| own.after.min(other.after));
        let shorter = self.calls.len().min(other.calls.len());
        let longer = match self.calls.len() < other.calls.len() {
            true => &other.calls,
            false => &self.calls,
        };
        let parts = first.or_else(|| longer.get(shorter).map(|call| call.after));
        // Nothing is known of what comes after the end of either.
        let ends = self.end.min(other.end);
        parts.map_or(ends, |parts| parts.min(ends))
    }
}

/// All branches, one of which is played. There is always one.
#[derive(Clone, Debug)]
pub(super) struct Branches {
    all: Vec<Branch>,
    current: usize,
    next: u32,
}

impl Branches {
    pub fn new() -> Branches {
        Branches {
            all: vec![Branch {
                id: 1,
                end: Tick(0),
                from: None,
                calls: Vec::new(),
            }],
            current: 0,
            next: 2,
        }
    }

    pub fn all(&self) -> impl Iterator<Item = &Branch> {
        self.all.iter()
    }

    pub fn all_mut(&mut self) -> impl Iterator<Item = &mut Branch> {
        self.all.iter_mut()
    }

    pub fn current(&self) -> &Branch {
        &self.all[self.current]
    }

    pub fn current_mut(&mut self) -> &mut Branch {
        &mut self.all[self.current]
    }

    /// Begins a branch on a tick, in which someone has not pressed anything from there on; what others did stays.
    pub fn fork(&mut self, now: Tick, who: Option<&str>) {
        let old = self.current();
        let stays = |call: &&Call| call.after < now || Some(&*call.who) != who;
        let branch = Branch {
            id: self.next,
            end: now,
            from: Some((old.id, now)),
            calls: old.calls.iter().filter(stays).cloned().collect(),
        };
        self.next += 1;
        self.all.push(branch);
        if self.all.len() > KEPT {
            self.all.remove(0);
        }
        self.current = self.all.len() - 1;
    }

    /// Goes over to another branch, and says up to which tick it is the same.
    pub fn switch(&mut self, id: u32) -> Tick {
        let Some(place) = self.all.iter().position(|own| own.id == id) else {
            return self.current().end;
        };
        let common = self.current().common(&self.all[place]);
        self.current = place;
        common
    }
}
