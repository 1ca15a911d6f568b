//! The names of an encounter, each with the index that takes its place.

use std::marker::PhantomData;
use std::ops::Index;

use serde::{Serialize, Serializer};
use tin_crown_derive::Getters;

use super::drills::BUTTONS;
use super::index::{
    ActorIx, AttackNameIx, ButtonIx, CueIx, Ix, KindIx, MeterIx, SensorNameIx, SideIx, SortIx,
    StateNameIx, TagIx,
};
use super::select::{Group, UnknownName};
use crate::encounter::Who;
use crate::map::Set;
use crate::nearest::nearest;

/// The names of one sort of thing, in the order of their bytes; of buttons those of a walk come first.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct List<I> {
    names: Vec<String>,
    /// How many of the first have an order of their own.
    fixed: usize,
    index: PhantomData<fn() -> I>,
}

impl<I: Ix> List<I> {
    /// All of them once, in order.
    pub(super) fn new(names: impl Iterator<Item = String>) -> List<I> {
        let set: Set<String> = names.collect();
        List::of(set.into_iter().collect(), 0)
    }

    fn of(names: Vec<String>, fixed: usize) -> List<I> {
        List {
            names,
            fixed,
            index: PhantomData,
        }
    }

    /// The index of a name.
    pub fn find(&self, name: &str) -> Option<I> {
        let (fixed, sorted) = self.names.split_at(self.fixed);
        let found = fixed.iter().position(|known| known == name).or_else(|| {
            let place = sorted.binary_search_by(|known| known.as_str().cmp(name));
            place.ok().map(|place| place + self.fixed)
        });
        found.map(I::new)
    }

    /// The index of a name of this encounter: all are collected before any is looked up.
    pub(super) fn place(&self, name: &str) -> I {
        let found = self.find(name);
        found.unwrap_or_else(|| unreachable!("every name is collected, `{name}` too"))
    }

    /// Every name, in the order of indices.
    pub fn iter(&self) -> impl ExactSizeIterator<Item = &str> + Clone {
        self.names.iter().map(String::as_str)
    }

    /// How many there are.
    pub fn len(&self) -> usize {
        self.names.len()
    }

    /// Whether there are none.
    pub fn is_empty(&self) -> bool {
        self.names.is_empty()
    }
}

impl List<ButtonIx> {
    /// The buttons of a walk, then others.
    pub(super) fn buttons(others: &Set<&str>) -> List<ButtonIx> {
        let names = BUTTONS.iter().chain(others);
        List::of(
            names.map(|name| (*name).to_owned()).collect(),
            BUTTONS.len(),
        )
    }
}

impl<I> Default for List<I> {
    fn default() -> List<I> {
        List {
            names: Vec::new(),
            fixed: 0,
            index: PhantomData,
        }
    }
}

/// # Panics
///
/// When the index is of another plan, which has more names.
impl<I: Ix> Index<I> for List<I> {
    type Output = String;

    fn index(&self, index: I) -> &String {
        &self.names[index.index()]
    }
}

impl<I> Serialize for List<I> {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        self.names.serialize(serializer)
    }
}

/// The names of an encounter.
#[derive(Clone, Debug, Default, Getters, PartialEq, Serialize)]
pub struct Names {
    /// The names of the kinds.
    pub(crate) kinds: List<KindIx>,
    /// The names of the sides.
    pub(crate) sides: List<SideIx>,
    /// The names of the tags.
    pub(crate) tags: List<TagIx>,
    /// The names of the meters.
    pub(crate) meters: List<MeterIx>,
    /// The names of the attacks.
    pub(crate) attacks: List<AttackNameIx>,
    /// The types of damage.
    pub(crate) sorts: List<SortIx>,
    /// The names of the sensors.
    pub(crate) sensors: List<SensorNameIx>,
    /// The names of the states.
    pub(crate) states: List<StateNameIx>,
    /// The cues.
    pub(crate) cues: List<CueIx>,
    /// The buttons: left, right, up, down, jump, then others by name.
    pub(crate) buttons: List<ButtonIx>,
    /// The ids of the placed actors.
    #[serde(skip)]
    pub(crate) ids: List<ActorIx>,
}

impl Names {
    /// Those whom a selector names.
    pub(super) fn look_up(&self, who: &Who) -> Result<Group, UnknownName> {
        match who {
            Who::Anyone => Ok(Group::Anyone),
            Who::Tag(tag) => self.tags.find(tag).map(Group::Tag).ok_or_else(|| {
                let help = match nearest(tag, self.tags.iter()) {
                    Some(near) => format!("did you mean `#{near}`?"),
                    None if self.tags.is_empty() => "nobody has a tag".to_owned(),
                    None => format!("known: #{}", self.tags.names.join(", #")),
                };
                UnknownName {
                    name: format!("#{tag}"),
                    help,
                }
            }),
            // A kind first: an actor called as its kind is that kind's only one.
            Who::Named(name) => (self.kinds.find(name).map(Group::Kind))
                .or_else(|| self.ids.find(name).map(Group::Actor))
                .ok_or_else(|| {
                    let near = || nearest(name, self.ids.iter().chain(self.kinds.iter()));
                    let help = if self.tags.find(name).is_some() {
                        format!("write `#{name}` to match all who carry that tag")
                    } else if let Some(near) = near() {
                        format!("did you mean `{near}`?")
                    } else {
                        "a selector is an actor's id, a kind, a #tag, or * for anyone".to_owned()
                    };
                    UnknownName {
                        name: name.clone(),
                        help,
                    }
                }),
        }
    }
}
