//! The ledger: every event of a replay, with its cause.

mod alike;
mod cast;
mod columns;
mod event;
pub(crate) mod gates;
mod line;
mod names;
mod record;
mod replay;
mod summary;
mod table;

pub use crate::reason::{DeathCause, DryReason, GuardSaid};
pub(crate) use alike::Alike;
pub(crate) use cast::Cast;
pub(crate) use columns::Holds;
pub use columns::Line;
pub use event::{Bearing, Event, GateNo, Hit, LineId, What};
pub use line::{Header, LedgerError};
pub use record::{Record, RecordError};
pub use replay::Replay;
pub use summary::{ActorEnd, Dealt, MeterEnd, Summary};
pub use table::{Row, Tone};

use crate::plan::{ActorIx, Plan, RuleIx, SpecIx};
use crate::time::Tick;

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
    placed: usize,
    launched: Vec<Launched>,
}

/// An actor that was launched or left behind in the course of a replay.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Launched {
    /// Its id: `maker.launcher.k`.
    pub id: String,
    /// Its resolved kind.
    pub spec: SpecIx,
    /// Who launched it or left it behind.
    pub maker: ActorIx,
    /// The placed actor at the root of its makers.
    pub root: ActorIx,
}

impl Ledger {
    /// Without a line, and so many placed actors.
    pub(crate) fn new(placed: usize) -> Ledger {
        Ledger {
            placed,
            ..Ledger::default()
        }
    }

    /// Everyone who was launched or left behind, in the order of their numbers, which begin after
    /// those of the placed actors.
    pub fn launched(&self) -> &[Launched] {
        &self.launched
    }

    /// Adds an actor that was launched.
    pub(crate) fn launch(&mut self, launched: Launched) {
        self.launched.push(launched);
    }

    /// Who was launched, if the actor was.
    pub(crate) fn origin(&self, actor: ActorIx) -> Option<&Launched> {
        self.launched.get(actor.index().checked_sub(self.placed)?)
    }

    /// The id of an actor.
    pub(crate) fn id<'a>(&'a self, plan: &'a Plan, actor: ActorIx) -> &'a str {
        match self.origin(actor) {
            Some(launched) => &launched.id,
            None => &plan.actors[actor.index()].id,
        }
    }

    /// The events.
    pub fn events(&self) -> &[Event] {
        &self.events
    }

    /// The event of a line.
    pub fn get(&self, id: LineId) -> Option<&Event> {
        self.events.get((id.0 as usize).checked_sub(1)?)
    }

    /// How many lines there are.
    pub fn len(&self) -> usize {
        self.events.len()
    }

    /// Whether there are none.
    pub fn is_empty(&self) -> bool {
        self.events.is_empty()
    }

    /// Adds a line without cause, reason and place; the caller fills in what there is.
    pub(crate) fn push(&mut self, tick: Tick, who: Option<ActorIx>, what: What) -> &mut Event {
        let id = LineId(self.events.len() as u32 + 1);
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

    pub(crate) fn get_mut(&mut self, id: LineId) -> Option<&mut Event> {
        self.events.get_mut((id.0 as usize).checked_sub(1)?)
    }

    /// The events since there were so many lines.
    pub(crate) fn since(&mut self, lines: usize) -> &mut [Event] {
        &mut self.events[lines..]
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
