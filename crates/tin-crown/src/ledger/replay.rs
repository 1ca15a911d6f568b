//! A replay: a plan, one of its drills, and its ledger.

use std::sync::Arc;

use super::{Cast, Ledger};
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

    pub(crate) fn cast(&self) -> Cast<'_> {
        Cast {
            plan: &self.plan,
            launched: self.ledger.launched(),
        }
    }

    /// The id of an actor, placed or launched.
    ///
    /// # Panics
    ///
    /// When an index is of another plan.
    pub fn id(&self, actor: ActorIx) -> &str {
        self.cast().id(actor)
    }

    /// The resolved kind of an actor, placed or launched.
    ///
    /// # Panics
    ///
    /// When an index is of another plan.
    pub fn spec(&self, actor: ActorIx) -> &Spec {
        self.cast().spec(actor)
    }

    /// Where that stands in the plan.
    ///
    /// # Panics
    ///
    /// When an index is of another plan.
    pub fn spec_index(&self, actor: ActorIx) -> SpecIx {
        self.cast().spec_index(actor)
    }

    /// Whether an actor, or one of its makers, is among those that a selection names.
    ///
    /// # Panics
    ///
    /// When an index is of another plan.
    pub fn is_of(&self, selection: &Selection<'_>, actor: ActorIx) -> bool {
        let kind = self.spec(actor).kind;
        match self.cast().origin(actor) {
            None => selection.contains(actor),
            Some(launched) => {
                let made = |maker| self.is_of(selection, maker);
                selection.is_of_kind(kind) || launched.maker.is_some_and(made)
            }
        }
    }

    /// Whether an actor itself is asked for.
    ///
    /// # Panics
    ///
    /// When an index is of another plan.
    pub fn is_chosen(&self, chosen: &Chosen, actor: ActorIx) -> bool {
        self.cast().is_chosen(chosen, actor)
    }

    /// Whether an actor, or one of its makers, is asked for.
    ///
    /// # Panics
    ///
    /// When an index is of another plan.
    pub fn acts_for(&self, chosen: &Chosen, actor: ActorIx) -> bool {
        self.cast().acts_for(chosen, actor)
    }

    /// The placed actor that an actor's hits are credited to: itself, or the root of its makers.
    ///
    /// # Panics
    ///
    /// When an index is of another plan.
    pub fn root(&self, actor: ActorIx) -> ActorIx {
        self.cast().root(actor)
    }
}
