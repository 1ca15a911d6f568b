//! Looking up the names of selectors.

use std::fmt;

use serde::{Deserialize, Serialize};
use tin_crown_derive::Getters;

use super::Plan;
use super::index::{ActorIx, KindIx, TagIx};

/// No actor, kind or tag has this name.
#[derive(Clone, Debug, Eq, Getters, PartialEq)]
pub struct UnknownName {
    /// What was asked for.
    pub(crate) name: String,
    /// What to do.
    pub(crate) help: String,
}

impl fmt::Display for UnknownName {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let what = if self.name.starts_with('#') {
            "tag"
        } else {
            "actor or kind"
        };
        write!(f, "unknown {what} `{}`", self.name)
    }
}

impl std::error::Error for UnknownName {}

/// The actors that a selector names.
#[derive(Clone, Copy, Debug)]
pub struct Selection<'p> {
    plan: &'p Plan,
    names: Group,
}

impl<'p> Selection<'p> {
    pub(super) fn new(plan: &'p Plan, names: Group) -> Selection<'p> {
        Selection { plan, names }
    }

    /// Whether one of a kind who is not placed is among them.
    pub(crate) fn is_of_kind(&self, kind: KindIx) -> bool {
        self.names.matches(&Subject {
            actor: None,
            kind,
            tags: &self.plan.kind_tags[kind.index()],
        })
    }

    /// Whether a placed actor is among them.
    ///
    /// # Panics
    ///
    /// When an index is of another plan.
    pub fn contains(&self, actor: ActorIx) -> bool {
        self.names.matches(&Subject {
            actor: Some(actor),
            kind: self.plan.spec(actor).kind,
            tags: &self.plan.actors[actor.index()].tags,
        })
    }
}

/// What a selector is measured against: a placed actor, or a kind for itself.
pub(crate) struct Subject<'a> {
    /// Absent for a kind.
    pub actor: Option<ActorIx>,
    pub kind: KindIx,
    pub tags: &'a [TagIx],
}

/// The actors that a selector names, looked up.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
pub enum Group {
    /// A placed actor.
    Actor(ActorIx),
    /// All of a kind.
    Kind(KindIx),
    /// All who carry a tag.
    Tag(TagIx),
    /// Anyone.
    Anyone,
}

impl Group {
    pub(crate) fn matches(self, subject: &Subject<'_>) -> bool {
        match self {
            Group::Anyone => true,
            Group::Tag(tag) => subject.tags.contains(&tag),
            Group::Kind(kind) => subject.kind == kind,
            Group::Actor(actor) => subject.actor == Some(actor),
        }
    }
}
