//! Who acts in a ledger: the placed actors of its plan, and those that were launched.

use super::Launched;
use crate::plan::{ActorIx, Chosen, Plan, Spec, SpecIx};

/// A plan, and those that were launched, in the order of their numbers.
#[derive(Clone, Copy)]
pub(crate) struct Cast<'a> {
    pub plan: &'a Plan,
    pub launched: &'a [Launched],
}

impl<'a> Cast<'a> {
    pub fn id(self, actor: ActorIx) -> &'a str {
        match self.origin(actor) {
            Some(launched) => &launched.id,
            None => &self.plan.placed(actor).id,
        }
    }

    /// Who was launched, if the actor was.
    pub fn origin(self, actor: ActorIx) -> Option<&'a Launched> {
        let nth = actor.index().checked_sub(self.plan.actors.len())?;
        // Where nobody is left out, that is its place.
        let found = self.launched.get(nth).filter(|own| own.number == actor);
        found.or_else(|| {
            let place = self.launched.binary_search_by_key(&actor, |own| own.number);
            place.ok().map(|place| &self.launched[place])
        })
    }

    pub fn spec(self, actor: ActorIx) -> &'a Spec {
        &self.plan.specs[self.spec_index(actor).index()]
    }

    pub fn spec_index(self, actor: ActorIx) -> SpecIx {
        match self.origin(actor) {
            Some(launched) => launched.spec,
            None => self.plan.placed(actor).spec,
        }
    }

    pub fn is_chosen(self, chosen: &Chosen, actor: ActorIx) -> bool {
        let plan = self.plan;
        match self.origin(actor) {
            None => chosen.means(plan, self.id(actor), Ok(actor)),
            Some(launched) => {
                let subject = plan.kind_subject(plan.spec_of(launched.spec).kind);
                chosen.means(plan, &launched.id, Err(&subject))
            }
        }
    }

    /// The placed actor at the root of an actor's makers, or itself.
    pub fn root(self, actor: ActorIx) -> ActorIx {
        match self.origin(actor) {
            Some(launched) => launched.root,
            None => {
                self.plan.placed(actor);
                actor
            }
        }
    }

    pub fn acts_for(self, chosen: &Chosen, actor: ActorIx) -> bool {
        let maker = || self.origin(actor).and_then(|launched| launched.maker);
        self.is_chosen(chosen, actor) || maker().is_some_and(|maker| self.acts_for(chosen, maker))
    }
}
