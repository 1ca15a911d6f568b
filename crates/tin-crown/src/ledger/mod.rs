//! The ledger: every event of a replay, with its cause.

mod alike;
mod cast;
mod columns;
mod event;
pub(crate) mod gates;
mod line;
mod lines;
mod names;
mod reading;
mod record;
mod replay;
mod summary;
mod table;
mod words;

pub use crate::reason::{DeathCause, Despite, DryReason, GuardSaid};
pub(crate) use alike::Alike;
pub(crate) use cast::Cast;
pub use columns::Line;
pub(crate) use columns::{Holds, Shortest};
pub use event::{Bearing, Event, GateNo, Hit, LineId, Unheeded, What};
pub use line::{Header, LedgerError};
pub use lines::Lines;
pub use reading::Reading;
pub use record::{Record, RecordError};
pub use replay::Replay;
pub use summary::{ActorEnd, Dealt, MeterEnd, Summary};
pub use table::{Row, Tone};

use serde::{Deserialize, Serialize};
use std::sync::Arc;

use crate::plan::{ActorIx, Plan, RuleIx, SpecIx};

/// Every event of a replay, in the order of the lines.
///
/// ```
/// # let file = tin_crown::demo::FIRST_SHELF.as_bytes();
/// use tin_crown::{Verdict, What};
///
/// let plan = tin_crown::check(file).plan.unwrap();
/// let replay = plan.replay("umbrella")?;
/// // From the last hit that landed back to what caused it.
/// let ledger = replay.ledger();
/// let landed = |event: &&tin_crown::Event| {
///     matches!(&event.what, What::Hit(hit) if hit.verdict == Verdict::Landed)
/// };
/// let jab = ledger.events().iter().find(landed).unwrap();
/// let thrust = ledger.get(jab.cause.unwrap()).unwrap();
/// let press = ledger.get(thrust.cause.unwrap()).unwrap();
/// assert_eq!((press.what.name(), press.tick.0), ("input", 84));
/// # Ok::<(), tin_crown::ReplayError>(())
/// ```
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Ledger {
    events: Vec<Event>,
    /// How many lines there were before.
    before: u32,
    launched: Vec<Launched>,
}

/// An actor that was launched or left behind in the course of a replay.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Launched {
    /// Its number, after those of the placed actors.
    pub number: ActorIx,
    /// Its id: `maker.launcher.k`.
    pub id: Arc<str>,
    /// Its resolved kind.
    pub spec: SpecIx,
    /// Who launched it or left it behind; nobody when a recording introduces it as nobody's.
    pub maker: Option<ActorIx>,
    /// The placed actor at the root of its makers; itself when there is none.
    pub root: ActorIx,
    /// Whether a recording introduced it, under the recording's name for it.
    pub recorded: bool,
}

impl Ledger {
    /// Everyone who was launched or left behind, in the order of their numbers, which begin after
    /// those of the placed actors.
    pub fn launched(&self) -> &[Launched] {
        &self.launched
    }

    /// Adds what a tick tells, and those that it launched.
    pub(crate) fn add(
        &mut self,
        events: impl Iterator<Item = Event>,
        launched: impl Iterator<Item = Launched>,
    ) {
        self.events.extend(events);
        self.launched.extend(launched);
    }

    /// Forgets the lines after so many, and who was launched from a number on; those of `known` were launched
    /// before.
    pub(crate) fn rewind(&mut self, lines: usize, next: ActorIx, known: &[Launched]) {
        let left = lines.checked_sub(self.before as usize);
        match left.filter(|left| *left <= self.events.len()) {
            Some(left) => self.events.truncate(left),
            None => {
                self.events.clear();
                self.before = lines as u32;
            }
        }
        self.launched.retain(|own| own.number < next);
        let is_known = |own: &Launched| {
            let found = self
                .launched
                .binary_search_by_key(&own.number, |own| own.number);
            found.is_ok()
        };
        if !known.iter().all(is_known) {
            // It goes on from another run: only those are known who are there.
            self.launched = known.to_vec();
        }
    }

    /// All lines up to now; the ledger goes on without them, and knows of those that were launched the ones
    /// that `stay`.
    pub(crate) fn take(&mut self, stay: &[Launched]) -> Ledger {
        let before = self.before + self.events.len() as u32;
        let rest = Ledger {
            events: Vec::new(),
            before,
            launched: stay.to_vec(),
        };
        std::mem::replace(self, rest)
    }

    /// The events.
    pub fn events(&self) -> &[Event] {
        &self.events
    }

    /// The event of a line.
    pub fn get(&self, id: LineId) -> Option<&Event> {
        self.events.get(id.0.checked_sub(self.before + 1)? as usize)
    }

    /// A line with its names, of a plan of which this is.
    ///
    /// # Panics
    ///
    /// When it is of another.
    pub fn line<'l>(&'l self, plan: &'l Plan, event: &Event) -> Line<'l> {
        let cast = Cast {
            plan,
            launched: &self.launched,
        };
        cast.line(event)
    }

    /// How many lines there are.
    pub fn len(&self) -> usize {
        self.events.len()
    }

    /// Whether there are none.
    pub fn is_empty(&self) -> bool {
        self.events.is_empty()
    }
}

impl Event {
    /// Says on whom and by which rule.
    pub(crate) fn on(&mut self, whom: ActorIx, rule: RuleIx) -> &mut Event {
        self.whom = Some(whom);
        self.rule = Some(rule);
        self
    }

    /// Says what brought it about.
    pub(crate) fn caused_by(&mut self, cause: Option<LineId>) -> &mut Event {
        self.cause = cause;
        self
    }
}
