//! The lines of the tick under way. When it is over, they go into the history.

use crate::ledger::{Event, LineId, What};
use crate::plan::ActorIx;
use crate::time::Tick;
use serde::{Deserialize, Serialize};
use tin_crown_derive::CloneFrom;

/// What is told on a tick.
#[derive(CloneFrom, Debug, Default, Serialize, Deserialize)]
pub(crate) struct Log {
    /// How many lines there were when the tick began.
    before: u32,
    #[serde(skip)]
    events: Vec<Event>,
}

impl Log {
    /// How many lines there ever were.
    pub fn len(&self) -> usize {
        self.before as usize + self.events.len()
    }

    /// The lines of this tick.
    pub fn events(&self) -> &[Event] {
        &self.events
    }

    /// The same, to be filled in.
    pub fn events_mut(&mut self) -> &mut [Event] {
        &mut self.events
    }

    /// Adds a line without cause, reason and place; the caller fills in what there is.
    pub fn push(&mut self, tick: Tick, who: Option<ActorIx>, what: What) -> &mut Event {
        let id = LineId(self.len() as u32 + 1);
        self.events.push(Event {
            tick,
            id,
            cause: None,
            because: None,
            who,
            whom: None,
            rule: None,
            at: None,
            height: 0.0,
            facing: None,
            what,
        });
        let last = self.events.len() - 1;
        &mut self.events[last]
    }

    /// A line of this tick.
    pub fn get_mut(&mut self, id: LineId) -> Option<&mut Event> {
        let nth = id.0.checked_sub(self.before + 1)?;
        self.events.get_mut(nth as usize)
    }

    /// The tick is over: its lines are handed out.
    pub fn drain(&mut self) -> impl Iterator<Item = Event> {
        self.before = self.len() as u32;
        self.events.drain(..)
    }
}
