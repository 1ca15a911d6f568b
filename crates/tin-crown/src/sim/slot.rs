//! Slots: where the actors that are there are kept.

use serde::{Deserialize, Serialize};
use std::ops::{Index, IndexMut};

use crate::plan::ActorIx;

/// The place of an actor among those that are there. Placed actors keep theirs, which is their number; that
/// of one that was launched is given on when it is gone for good. What outlives a tick is therefore known by
/// its number, [`ActorIx`], which is never given to another.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
pub(crate) struct Slot(pub u32);

impl Slot {
    /// # Panics
    ///
    /// When there are more than the limits let pass.
    pub fn new(index: usize) -> Slot {
        match u32::try_from(index) {
            Ok(index) => Slot(index),
            Err(_) => unreachable!("{index} actors are within the limits"),
        }
    }

    /// The slot of a placed actor.
    pub fn placed(actor: ActorIx) -> Slot {
        Slot(actor.0)
    }

    /// The position in the list of actors.
    pub fn index(self) -> usize {
        self.0 as usize
    }
}

/// Something of each actor, found by its slot.
#[derive(Debug, Serialize, Deserialize)]
pub(crate) struct Slots<T>(Vec<T>);

impl<T> Slots<T> {
    pub fn with_capacity(capacity: usize) -> Slots<T> {
        Slots(Vec::with_capacity(capacity))
    }

    pub fn len(&self) -> usize {
        self.0.len()
    }

    /// All, in the order of slots.
    pub fn iter(&self) -> impl Iterator<Item = &T> {
        self.0.iter()
    }

    /// Adds one in a new slot.
    pub fn push(&mut self, own: T) -> Slot {
        self.0.push(own);
        Slot::new(self.0.len() - 1)
    }
}

impl<T: Clone> Clone for Slots<T> {
    fn clone(&self) -> Slots<T> {
        Slots(self.0.clone())
    }

    fn clone_from(&mut self, other: &Slots<T>) {
        self.0.clone_from(&other.0);
    }
}

impl<T> Index<Slot> for Slots<T> {
    type Output = T;

    fn index(&self, slot: Slot) -> &T {
        &self.0[slot.index()]
    }
}

impl<T> IndexMut<Slot> for Slots<T> {
    fn index_mut(&mut self, slot: Slot) -> &mut T {
        &mut self.0[slot.index()]
    }
}
