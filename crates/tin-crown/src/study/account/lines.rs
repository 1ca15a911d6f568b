//! Lines of a ledger by who acts in them.

use crate::ledger::Event;
use crate::order;
use crate::plan::ActorIx;

/// Lines of a ledger by who acts in them, and of one actor in their order.
pub(super) struct Lines<'r>(Vec<&'r Event>);

impl<'r> Lines<'r> {
    pub fn new(events: &'r [Event]) -> Lines<'r> {
        let mut all: Vec<&Event> = events.iter().filter(|event| event.who.is_some()).collect();
        order::sort_by_key(&mut all, |event| event.who);
        Lines(all)
    }

    pub fn of(&self, actor: ActorIx) -> &[&'r Event] {
        let from = self.0.partition_point(|event| event.who < Some(actor));
        let own = &self.0[from..];
        &own[..own.partition_point(|event| event.who == Some(actor))]
    }
}
