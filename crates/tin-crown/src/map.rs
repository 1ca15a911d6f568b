//! Maps and sets as lists in the order of their keys.
//!
//! What an encounter names are a handful of things: a sorted list finds them as fast as anything, is iterated in
//! order, and is a fraction of the code of a tree, of which every pair of types would have its own.

use std::borrow::Borrow;
use std::fmt;
use std::ops::Index;

use serde::ser::{Serialize, Serializer};

use crate::order;

/// A map in the order of its keys. Looking up takes the logarithm of its length, adding somewhere in the middle as
/// long as moving what comes after.
#[derive(Clone, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct Map<K, V>(Vec<(K, V)>);

/// A set in order, as [`Map`] is one.
#[derive(Clone, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct Set<T>(Vec<T>);

impl<K, V> Map<K, V> {
    /// An empty one.
    pub const fn new() -> Map<K, V> {
        Map(Vec::new())
    }

    /// How many keys it has.
    pub const fn len(&self) -> usize {
        self.0.len()
    }

    /// Whether it has none.
    pub const fn is_empty(&self) -> bool {
        self.0.is_empty()
    }

    /// The keys and values, in order.
    pub fn iter(&self) -> Iter<'_, K, V> {
        Iter(self.0.iter())
    }

    /// The keys and values, in order; the values to be changed.
    pub fn iter_mut(&mut self) -> impl Iterator<Item = (&K, &mut V)> {
        self.0.iter_mut().map(|(key, value)| (&*key, value))
    }

    /// The keys, in order.
    pub fn keys(&self) -> Keys<'_, K, V> {
        Keys(self.0.iter())
    }

    /// The values, in the order of their keys.
    pub fn values(&self) -> Values<'_, K, V> {
        Values(self.0.iter())
    }

    /// The values, to be changed.
    pub fn values_mut(&mut self) -> impl Iterator<Item = &mut V> {
        self.0.iter_mut().map(|(_, value)| value)
    }

    /// The values, in the order of their keys.
    pub fn into_values(self) -> impl Iterator<Item = V> {
        self.0.into_iter().map(|(_, value)| value)
    }

    /// Keeps those of which `stays` is true.
    pub fn retain(&mut self, mut stays: impl FnMut(&K, &V) -> bool) {
        self.0.retain(|(key, value)| stays(key, value));
    }

    /// Leaves nothing.
    pub fn clear(&mut self) {
        self.0.clear();
    }
}

impl<K: Ord, V> Map<K, V> {
    fn place<Q: Ord + ?Sized>(&self, key: &Q) -> Result<usize, usize>
    where
        K: Borrow<Q>,
    {
        order::search(self.0.len(), |at| self.0[at].0.borrow().cmp(key))
    }

    /// The value of a key.
    pub fn get<Q: Ord + ?Sized>(&self, key: &Q) -> Option<&V>
    where
        K: Borrow<Q>,
    {
        match self.place(key) {
            Ok(at) => Some(&self.0[at].1),
            Err(_) => None,
        }
    }

    /// The value of a key, to be changed.
    pub fn get_mut<Q: Ord + ?Sized>(&mut self, key: &Q) -> Option<&mut V>
    where
        K: Borrow<Q>,
    {
        match self.place(key) {
            Ok(at) => Some(&mut self.0[at].1),
            Err(_) => None,
        }
    }

    /// A key as it is here, and its value.
    pub fn get_key_value<Q: Ord + ?Sized>(&self, key: &Q) -> Option<(&K, &V)>
    where
        K: Borrow<Q>,
    {
        match self.place(key) {
            Ok(at) => Some((&self.0[at].0, &self.0[at].1)),
            Err(_) => None,
        }
    }

    /// Whether it has a key.
    pub fn contains_key<Q: Ord + ?Sized>(&self, key: &Q) -> bool
    where
        K: Borrow<Q>,
    {
        self.place(key).is_ok()
    }

    /// Sets the value of a key; the one that it had.
    pub fn insert(&mut self, key: K, value: V) -> Option<V> {
        match self.place(&key) {
            Ok(at) => Some(std::mem::replace(&mut self.0[at].1, value)),
            Err(at) => {
                self.0.insert(at, (key, value));
                None
            }
        }
    }

    /// Takes a key out; the value that it had.
    pub fn remove<Q: Ord + ?Sized>(&mut self, key: &Q) -> Option<V>
    where
        K: Borrow<Q>,
    {
        match self.place(key) {
            Ok(at) => Some(self.0.remove(at).1),
            Err(_) => None,
        }
    }

    /// The value of a key, which is put there when there is none.
    pub fn or_insert_with(&mut self, key: K, value: impl FnOnce() -> V) -> &mut V {
        let at = match self.place(&key) {
            Ok(at) => at,
            Err(at) => {
                self.0.insert(at, (key, value()));
                at
            }
        };
        &mut self.0[at].1
    }

    /// The value of a key, which is the default when there is none.
    pub fn or_default(&mut self, key: K) -> &mut V
    where
        V: Default,
    {
        self.or_insert_with(key, V::default)
    }
}

impl<K, V> Default for Map<K, V> {
    fn default() -> Map<K, V> {
        Map::new()
    }
}

impl<K: Ord, V> FromIterator<(K, V)> for Map<K, V> {
    /// Of several of one key the last stays.
    fn from_iter<I: IntoIterator<Item = (K, V)>>(all: I) -> Map<K, V> {
        let mut all = Vec::from_iter(all);
        order::sort_by(&mut all, |(one, _), (other, _)| one.cmp(other));
        all.dedup_by(|later, earlier| {
            let same = later.0 == earlier.0;
            if same {
                std::mem::swap(later, earlier);
            }
            same
        });
        Map(all)
    }
}

impl<K: Ord, V> Extend<(K, V)> for Map<K, V> {
    fn extend<I: IntoIterator<Item = (K, V)>>(&mut self, more: I) {
        for (key, value) in more {
            self.insert(key, value);
        }
    }
}

impl<K: Ord, V, const N: usize> From<[(K, V); N]> for Map<K, V> {
    fn from(all: [(K, V); N]) -> Map<K, V> {
        Map::from_iter(all)
    }
}

impl<K: Ord + Borrow<Q>, V, Q: Ord + ?Sized> Index<&Q> for Map<K, V> {
    type Output = V;

    fn index(&self, key: &Q) -> &V {
        self.get(key).expect("the map has the key")
    }
}

/// The keys and values of a [`Map`], in order.
pub struct Iter<'m, K, V>(std::slice::Iter<'m, (K, V)>);

/// The keys of a [`Map`], in order.
pub struct Keys<'m, K, V>(std::slice::Iter<'m, (K, V)>);

/// The values of a [`Map`], in the order of their keys.
pub struct Values<'m, K, V>(std::slice::Iter<'m, (K, V)>);

macro_rules! iterator {
    ($name:ident, $item:ty, $entry:pat => $part:expr) => {
        impl<'m, K, V> Iterator for $name<'m, K, V> {
            type Item = $item;

            fn next(&mut self) -> Option<$item> {
                match self.0.next() {
                    Some($entry) => Some($part),
                    None => None,
                }
            }

            fn size_hint(&self) -> (usize, Option<usize>) {
                self.0.size_hint()
            }
        }

        impl<K, V> DoubleEndedIterator for $name<'_, K, V> {
            fn next_back(&mut self) -> Option<Self::Item> {
                match self.0.next_back() {
                    Some($entry) => Some($part),
                    None => None,
                }
            }
        }

        impl<K, V> ExactSizeIterator for $name<'_, K, V> {}

        impl<K, V> Clone for $name<'_, K, V> {
            fn clone(&self) -> Self {
                $name(self.0.clone())
            }
        }
    };
}

iterator!(Iter, (&'m K, &'m V), (key, value) => (key, value));
iterator!(Keys, &'m K, (key, _) => key);
iterator!(Values, &'m V, (_, value) => value);

impl<'m, K, V> IntoIterator for &'m Map<K, V> {
    type Item = (&'m K, &'m V);
    type IntoIter = Iter<'m, K, V>;

    fn into_iter(self) -> Iter<'m, K, V> {
        self.iter()
    }
}

impl<K, V> IntoIterator for Map<K, V> {
    type Item = (K, V);
    type IntoIter = std::vec::IntoIter<(K, V)>;

    fn into_iter(self) -> Self::IntoIter {
        self.0.into_iter()
    }
}

impl<K: fmt::Debug, V: fmt::Debug> fmt::Debug for Map<K, V> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.debug_map().entries(self.iter()).finish()
    }
}

impl<K: Serialize, V: Serialize> Serialize for Map<K, V> {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.collect_map(self.iter())
    }
}

impl<T> Set<T> {
    /// An empty one.
    pub const fn new() -> Set<T> {
        Set(Vec::new())
    }

    /// How many it has.
    pub const fn len(&self) -> usize {
        self.0.len()
    }

    /// Whether it has none.
    pub const fn is_empty(&self) -> bool {
        self.0.is_empty()
    }

    /// All of them, in order.
    pub fn iter(&self) -> std::slice::Iter<'_, T> {
        self.0.iter()
    }

    /// All of them, in order.
    pub fn as_slice(&self) -> &[T] {
        &self.0
    }

    /// Keeps those of which `stays` is true.
    pub fn retain(&mut self, stays: impl FnMut(&T) -> bool) {
        self.0.retain(stays);
    }

    /// Leaves nothing.
    pub fn clear(&mut self) {
        self.0.clear();
    }
}

impl<T: Ord> Set<T> {
    fn place<Q: Ord + ?Sized>(&self, one: &Q) -> Result<usize, usize>
    where
        T: Borrow<Q>,
    {
        order::search(self.0.len(), |at| self.0[at].borrow().cmp(one))
    }

    /// Whether it has one.
    pub fn contains<Q: Ord + ?Sized>(&self, one: &Q) -> bool
    where
        T: Borrow<Q>,
    {
        self.place(one).is_ok()
    }

    /// Puts one in; whether it was not there.
    pub fn insert(&mut self, one: T) -> bool {
        match self.place(&one) {
            Ok(_) => false,
            Err(at) => {
                self.0.insert(at, one);
                true
            }
        }
    }

    /// Takes one out; whether it was there.
    pub fn remove<Q: Ord + ?Sized>(&mut self, one: &Q) -> bool
    where
        T: Borrow<Q>,
    {
        let found = self.place(one);
        if let Ok(at) = found {
            self.0.remove(at);
        }
        found.is_ok()
    }

    /// Whether the other has all of this.
    pub fn is_subset(&self, other: &Set<T>) -> bool {
        self.iter().all(|one| other.contains(one))
    }
}

impl<T> Default for Set<T> {
    fn default() -> Set<T> {
        Set::new()
    }
}

impl<T: Ord> FromIterator<T> for Set<T> {
    fn from_iter<I: IntoIterator<Item = T>>(all: I) -> Set<T> {
        let mut all = Vec::from_iter(all);
        order::sort(&mut all);
        all.dedup();
        Set(all)
    }
}

impl<T: Ord> Extend<T> for Set<T> {
    fn extend<I: IntoIterator<Item = T>>(&mut self, more: I) {
        for one in more {
            self.insert(one);
        }
    }
}

impl<T: Ord, const N: usize> From<[T; N]> for Set<T> {
    fn from(all: [T; N]) -> Set<T> {
        Set::from_iter(all)
    }
}

impl<'s, T> IntoIterator for &'s Set<T> {
    type Item = &'s T;
    type IntoIter = std::slice::Iter<'s, T>;

    fn into_iter(self) -> Self::IntoIter {
        self.0.iter()
    }
}

impl<T> IntoIterator for Set<T> {
    type Item = T;
    type IntoIter = std::vec::IntoIter<T>;

    fn into_iter(self) -> Self::IntoIter {
        self.0.into_iter()
    }
}

impl<T: fmt::Debug> fmt::Debug for Set<T> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.debug_set().entries(&self.0).finish()
    }
}
