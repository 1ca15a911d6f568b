//! A replay: a plan, one of its drills, and its ledger.

use std::sync::Arc;

use super::Ledger;
use crate::plan::{ActorIx, Chosen, DrillIx, Plan, Selection, Spec, SpecIx};

/// A drill replayed from beginning to end.
///
/// ```
/// # let file = tin_crown::demo::FIRST_SHELF.as_bytes();
/// let plan = tin_crown::check(file).plan.unwrap();
/// let replay = plan.replay("careless")?;
/// let first = &replay.summary().dealt[0];
/// assert_eq!((first.hits, first.first.0), (3, 64));
/// let mut jsonl = Vec::new();
/// replay.write_jsonl(&mut jsonl, replay.ledger().events())?;
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Clone, Debug)]
pub struct Replay {
    plan: Arc<Plan>,
    drill: DrillIx,
    ledger: Ledger,
}

impl Replay {
    pub(crate) fn new(plan: Arc<Plan>, drill: DrillIx, ledger: Ledger) -> Replay {
        Replay {
            plan,
            drill,
            ledger,
        }
    }

    /// The plan that was replayed.
    pub fn plan(&self) -> &Arc<Plan> {
        &self.plan
    }

    /// The drill that was replayed.
    pub fn drill(&self) -> DrillIx {
        self.drill
    }

    /// Everything that happened.
    pub fn ledger(&self) -> &Ledger {
        &self.ledger
    }

    /// The id of an actor, placed or launched.
    ///
    /// # Panics
    ///
    /// When an index is of another plan.
    pub fn id(&self, actor: ActorIx) -> &str {
        self.ledger.id(&self.plan, actor)
    }

    /// The resolved kind of an actor, placed or launched.
    ///
    /// # Panics
    ///
    /// When an index is of another plan.
    pub fn spec(&self, actor: ActorIx) -> &Spec {
        &self.plan.specs[self.spec_index(actor).index()]
    }

    /// Where that stands in the plan.
    ///
    /// # Panics
    ///
    /// When an index is of another plan.
    pub fn spec_index(&self, actor: ActorIx) -> SpecIx {
        match self.ledger.origin(actor) {
            Some(launched) => launched.spec,
            None => self.plan.actors[actor.index()].spec,
        }
    }

    /// Whether an actor, or one of its makers, is among those that a selection names.
    ///
    /// # Panics
    ///
    /// When an index is of another plan.
    pub fn is_of(&self, selection: &Selection<'_>, actor: ActorIx) -> bool {
        let kind = self.spec(actor).kind;
        match self.ledger.origin(actor) {
            None => selection.contains(actor),
            Some(launched) => selection.is_of_kind(kind) || self.is_of(selection, launched.maker),
        }
    }

    /// Whether an actor itself is asked for.
    ///
    /// # Panics
    ///
    /// When an index is of another plan.
    pub fn is_chosen(&self, chosen: &Chosen, actor: ActorIx) -> bool {
        let plan = &self.plan;
        match self.ledger.origin(actor) {
            None => chosen.means(plan, self.id(actor), Ok(actor)),
            Some(launched) => {
                let subject = plan.kind_subject(plan.spec_of(launched.spec).kind);
                chosen.means(plan, &launched.id, Err(&subject))
            }
        }
    }

    /// Whether an actor, or one of its makers, is asked for.
    ///
    /// # Panics
    ///
    /// When an index is of another plan.
    pub fn acts_for(&self, chosen: &Chosen, actor: ActorIx) -> bool {
        let maker = || self.ledger.origin(actor).map(|launched| launched.maker);
        self.is_chosen(chosen, actor) || maker().is_some_and(|maker| self.acts_for(chosen, maker))
    }

    /// The placed actor that an actor's hits are credited to: itself, or the root of its makers.
    ///
    /// # Panics
    ///
    /// When an index is of another plan.
    pub fn root(&self, actor: ActorIx) -> ActorIx {
        self.ledger
            .origin(actor)
            .map_or(actor, |launched| launched.root)
    }
}
