//! Looking up the names of selectors.

use std::fmt;

use super::Plan;
use super::cast::Actor;
use super::index::{ActorIx, KindIx, TagIx};
use crate::encounter::Who;
use crate::nearest::nearest;

/// Nobody is called so.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct UnknownName {
    /// What was asked for.
    pub name: String,
    /// What to do.
    pub help: String,
}

impl fmt::Display for UnknownName {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let what = if self.name.starts_with('#') {
            "tag"
        } else {
            "actor or kind"
        };
        write!(f, "there is no {what} `{}`", self.name)
    }
}

impl std::error::Error for UnknownName {}

/// The actors that a selector names.
#[derive(Clone, Copy, Debug)]
pub struct Selection<'p> {
    plan: &'p Plan,
    names: Names,
}

impl<'p> Selection<'p> {
    pub(super) fn new(plan: &'p Plan, names: Names) -> Selection<'p> {
        Selection { plan, names }
    }

    /// Whether an actor is among them.
    pub fn contains(&self, actor: ActorIx) -> bool {
        self.names.matches(&Subject {
            actor: Some(actor),
            kind: self.plan.spec(actor).kind,
            tags: &self.plan.actors[actor.index()].tags,
        })
    }
}

/// What a selector is measured against: a placed actor, or a kind for itself.
pub(super) struct Subject<'a> {
    /// Absent for a kind.
    pub actor: Option<ActorIx>,
    pub kind: KindIx,
    pub tags: &'a [TagIx],
}

/// A selector's names, looked up.
#[derive(Clone, Copy, Debug)]
pub(super) enum Names {
    Actor(ActorIx),
    Kind(KindIx),
    Tag(TagIx),
    Anyone,
}

impl Names {
    pub fn matches(self, subject: &Subject<'_>) -> bool {
        match self {
            Names::Anyone => true,
            Names::Tag(tag) => subject.tags.contains(&tag),
            Names::Kind(kind) => subject.kind == kind,
            Names::Actor(actor) => subject.actor == Some(actor),
        }
    }
}

/// All that can be named.
pub(super) struct Directory<'a> {
    pub kinds: &'a [String],
    pub tags: &'a [String],
    pub actors: &'a [Actor],
}

impl Directory<'_> {
    pub fn look_up(&self, who: &Who) -> Result<Names, UnknownName> {
        let near = |name: &str, known: &mut dyn Iterator<Item = &str>| match nearest(name, known) {
            Some(near) => format!("did you mean `{near}`?"),
            None => "a selector is an actor's id, a kind, a #tag, or * for anyone".to_owned(),
        };
        match who {
            Who::Anyone => Ok(Names::Anyone),
            Who::Tag(tag) => match self.tags.binary_search(tag) {
                Ok(index) => Ok(Names::Tag(TagIx::new(index))),
                Err(_) => {
                    let help = match nearest(tag, self.tags.iter().map(String::as_str)) {
                        Some(near) => format!("did you mean `#{near}`?"),
                        None if self.tags.is_empty() => "nobody carries a tag".to_owned(),
                        None => format!("known here: #{}", self.tags.join(", #")),
                    };
                    Err(UnknownName {
                        name: format!("#{tag}"),
                        help,
                    })
                }
            },
            Who::Named(name) => {
                // A kind first: an actor called as its kind is that kind's only one.
                if let Ok(kind) = self.kinds.binary_search(name) {
                    return Ok(Names::Kind(KindIx::new(kind)));
                }
                let actor = self.actors.binary_search_by(|actor| actor.id.cmp(name));
                if let Ok(index) = actor {
                    return Ok(Names::Actor(ActorIx::new(index)));
                }
                let help = if self.tags.binary_search(name).is_ok() {
                    format!("write `#{name}` to mean all who carry that tag")
                } else {
                    let ids = self.actors.iter().map(|actor| actor.id.as_str());
                    near(name, &mut ids.chain(self.kinds.iter().map(String::as_str)))
                };
                Err(UnknownName {
                    name: name.clone(),
                    help,
                })
            }
        }
    }
}
