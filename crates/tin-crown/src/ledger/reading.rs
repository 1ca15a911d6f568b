//! A ledger with the names of its plan, to be put into words.

use super::{Cast, Ledger, Replay};
use crate::plan::{ActorIx, Plan};

/// A ledger with the names of its plan: of a replay, or of a run that still goes on.
///
/// ```
/// # let file = tin_crown::demo::FIRST_SHELF.as_bytes();
/// use tin_crown::Sim;
///
/// let plan = tin_crown::check(file).plan.unwrap();
/// let run = Sim::open(&plan, 0);
/// let rows = run.reading().rows(run.events());
/// assert_eq!((rows[0].who, rows[0].what.as_str()), ("beetle_1", "appears"));
/// ```
#[derive(Clone, Copy, Debug)]
pub struct Reading<'a> {
    plan: &'a Plan,
    ledger: &'a Ledger,
}

impl<'a> Reading<'a> {
    pub(crate) fn new(plan: &'a Plan, ledger: &'a Ledger) -> Reading<'a> {
        Reading { plan, ledger }
    }

    /// The plan.
    pub fn plan(self) -> &'a Plan {
        self.plan
    }

    /// The ledger.
    pub fn ledger(self) -> &'a Ledger {
        self.ledger
    }

    pub(super) fn cast(self) -> Cast<'a> {
        Cast {
            plan: self.plan,
            launched: self.ledger.launched(),
        }
    }

    /// The id of an actor, placed or launched.
    ///
    /// # Panics
    ///
    /// When an index is of another plan.
    pub fn id(self, actor: ActorIx) -> &'a str {
        self.cast().id(actor)
    }
}

impl Replay {
    /// Its ledger with its names.
    pub fn reading(&self) -> Reading<'_> {
        Reading::new(self.plan(), self.ledger())
    }
}
