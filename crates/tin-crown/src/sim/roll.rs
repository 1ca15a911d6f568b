//! The roll of those that were launched: their numbers, names and makers, and where they are kept.

use super::slot::Slot;
use crate::ledger::Launched;
use crate::plan::{ActorIx, SpecIx};
use serde::{Deserialize, Serialize};
use tin_crown_derive::CloneFrom;

/// Those that were launched and are there, or whom something there comes from, in the order of their numbers.
#[derive(CloneFrom, Debug, Serialize, Deserialize)]
pub(crate) struct Roll {
    placed: u32,
    /// The number that the next is given.
    next: u32,
    all: Vec<Launched>,
    /// Where each is kept; nowhere when it is gone.
    slots: Vec<Option<Slot>>,
    /// Slots that are free, by what kept them.
    free: Vec<(SpecIx, Slot)>,
    #[serde(skip)]
    keep: Vec<bool>,
}

impl Roll {
    pub fn new(placed: usize) -> Roll {
        let placed = Slot::new(placed).0;
        Roll {
            placed,
            next: placed,
            all: Vec::new(),
            slots: Vec::new(),
            free: Vec::new(),
            keep: Vec::new(),
        }
    }

    /// The number of the next that is launched.
    pub fn next(&self) -> ActorIx {
        ActorIx(self.next)
    }

    /// Whether nothing in it leads beyond so many slots and kinds.
    pub fn is_sound(&self, placed: usize, slots: usize, kinds: usize) -> bool {
        let there = |slot: &Slot| (placed..slots).contains(&slot.index());
        self.placed as usize == placed
            && self.next >= self.placed
            && self.slots.len() == self.all.len()
            && self.slots.iter().flatten().all(there)
            && self.free.iter().all(|(_, slot)| there(slot))
            && self
                .all
                .is_sorted_by(|one, other| one.number < other.number)
            && self.all.iter().all(|own| {
                (self.placed..self.next).contains(&own.number.0)
                    && own.spec.index() < kinds
                    && own.root.index() < placed
            })
    }

    /// How many there ever were.
    pub fn launched(&self) -> usize {
        (self.next - self.placed) as usize
    }

    /// Those known, in the order of their numbers.
    pub fn all(&self) -> &[Launched] {
        &self.all
    }

    /// A free slot that kept another of a kind.
    pub fn reuse(&mut self, spec: SpecIx) -> Option<Slot> {
        let place = self.free.iter().rposition(|(own, _)| *own == spec)?;
        Some(self.free.swap_remove(place).1)
    }

    /// Enters one that was launched under the next number.
    pub fn enter(&mut self, launched: Launched, slot: Slot) {
        self.next += 1;
        self.all.push(launched);
        self.slots.push(Some(slot));
    }

    /// Where an actor is kept; nowhere when it is gone for good.
    pub fn slot(&self, actor: ActorIx) -> Option<Slot> {
        if actor.0 < self.placed {
            return Some(Slot::placed(actor));
        }
        let place = self.all.binary_search_by_key(&actor, |own| own.number);
        self.slots[place.ok()?]
    }

    /// Gives on the slot of one that is gone.
    pub fn free(&mut self, actor: ActorIx) {
        let place = self.all.binary_search_by_key(&actor, |own| own.number);
        if let Ok(place) = place
            && let Some(slot) = self.slots[place].take()
        {
            self.free.push((self.all[place].spec, slot));
        }
    }

    /// Forgets those that are gone, and from whom nothing comes that is there.
    pub fn forget(&mut self) {
        // Who comes from another is further on.
        self.keep.clear();
        self.keep.extend(self.slots.iter().map(Option::is_some));
        for nth in (0..self.all.len()).rev() {
            if self.keep[nth]
                && let Some(maker) = self.all[nth].maker
                && let Ok(place) = self.all.binary_search_by_key(&maker, |own| own.number)
            {
                self.keep[place] = true;
            }
        }
        let mut keep = self.keep.iter();
        self.all.retain(|_| keep.next().is_some_and(|keep| *keep));
        let mut keep = self.keep.iter();
        self.slots.retain(|_| keep.next().is_some_and(|keep| *keep));
    }

    /// Forgets all and every slot; the numbers go on.
    pub fn clear(&mut self) {
        self.all.clear();
        self.slots.clear();
        self.free.clear();
    }
}
