//! Who acts in a ledger: the placed actors of its plan, and those that were launched.

use super::Ledger;
use crate::plan::{ActorIx, Chosen, Plan, Spec, SpecIx};

/// A plan and a ledger of one of its drills, whole or on its way.
#[derive(Clone, Copy)]
pub(crate) struct Cast<'a> {
    pub plan: &'a Plan,
    pub ledger: &'a Ledger,
}

impl<'a> Cast<'a> {
    pub fn id(self, actor: ActorIx) -> &'a str {
        self.ledger.id(self.plan, actor)
    }

    pub fn spec(self, actor: ActorIx) -> &'a Spec {
        &self.plan.specs[self.spec_index(actor).index()]
    }

    pub fn spec_index(self, actor: ActorIx) -> SpecIx {
        match self.ledger.origin(actor) {
            Some(launched) => launched.spec,
            None => self.plan.actors[actor.index()].spec,
        }
    }

    pub fn is_chosen(self, chosen: &Chosen, actor: ActorIx) -> bool {
        let plan = self.plan;
        match self.ledger.origin(actor) {
            None => chosen.means(plan, self.id(actor), Ok(actor)),
            Some(launched) => {
                let subject = plan.kind_subject(plan.spec_of(launched.spec).kind);
                chosen.means(plan, &launched.id, Err(&subject))
            }
        }
    }

    pub fn acts_for(self, chosen: &Chosen, actor: ActorIx) -> bool {
        let maker = || self.ledger.origin(actor).map(|launched| launched.maker);
        self.is_chosen(chosen, actor) || maker().is_some_and(|maker| self.acts_for(chosen, maker))
    }
}
