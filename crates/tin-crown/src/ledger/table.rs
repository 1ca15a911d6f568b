//! The ledger as rows that a person likes to read: one for each hit with what it did, one for each
//! other event.

use super::{Event, LineId, What};
use super::{Reading, Replay};
use crate::geometry::Vec2;
use crate::time::Tick;

/// A row of the table: who did what to whom, by which rule, and with what outcome.
#[derive(Clone, Debug, PartialEq)]
pub struct Row<'a> {
    /// When.
    pub tick: Tick,
    /// The same in seconds.
    pub seconds: f64,
    /// The line of the ledger it tells of.
    pub id: LineId,
    /// The line that brought it about.
    pub cause: Option<LineId>,
    /// The line that decided the verdict.
    pub because: Option<LineId>,
    /// Where whom, else who, is at the end of the tick.
    pub at: Option<Vec2>,
    /// Who acts; empty for the drill itself.
    pub who: &'a str,
    /// What they do.
    pub what: String,
    /// Who is acted on; empty when nobody is.
    pub whom: &'a str,
    /// The rule; empty when there is none.
    pub rule: &'a str,
    /// Its outcome.
    pub outcome: String,
    /// What kind of thing it is, to be told apart at a glance.
    pub tone: Tone,
}

/// What kind of thing a row tells.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Tone {
    /// Damage or death.
    Harm,
    /// Something that did not come about.
    Rejected,
    /// Anything else.
    Plain,
}

impl<'a> Reading<'a> {
    /// The chosen events as rows. Changes of meters that a hit, a return or the like brought about are
    /// told in its row when they are of who is acted on, or else of who acts.
    pub fn rows(self, events: impl IntoIterator<Item = &'a Event>) -> Vec<Row<'a>> {
        let mut rows: Vec<Row<'a>> = Vec::new();
        for event in events {
            // Lines come in their order, so a cause is found among the rows by its number.
            let cause = event
                .cause
                .filter(|_| matches!(event.what, What::Meter { .. }));
            let place =
                cause.and_then(|cause| rows.binary_search_by_key(&cause, |row| row.id).ok());
            if let Some(row) = place.map(|place| &mut rows[place])
                && row.tick == event.tick
                && self.subject(event.cause) == event.whom.or(event.who)
            {
                let told = self.told(event);
                row.outcome = match row.outcome.as_str() {
                    "" => told,
                    outcome => format!("{told}, {outcome}"),
                };
                continue;
            }
            rows.push(self.row(event));
        }
        rows
    }

    /// Whom a line is about: who is acted on, else who acts.
    fn subject(self, line: Option<LineId>) -> Option<crate::plan::ActorIx> {
        let event = self.ledger().get(line?)?;
        event.whom.or(event.who)
    }

    fn row(self, event: &'a Event) -> Row<'a> {
        let plan = self.plan();
        let name = |actor: Option<crate::plan::ActorIx>| actor.map_or("", |actor| self.id(actor));
        let tone = match &event.what {
            What::Hit(hit) if !hit.verdict.took_effect() => Tone::Rejected,
            What::DryFire { .. } | What::Ignored(_) => Tone::Rejected,
            What::Hit(_) | What::Death { .. } => Tone::Harm,
            What::Apply { amount, kills, .. } if amount.is_some() || *kills => Tone::Harm,
            _ => Tone::Plain,
        };
        Row {
            tick: event.tick,
            seconds: event.tick.seconds(plan.rate),
            id: event.id,
            cause: event.cause,
            because: event.because,
            at: event.at,
            who: name(event.who),
            what: self.does(event),
            whom: name(event.whom),
            rule: event
                .rule
                .map_or("", |rule| plan.rules[rule.index()].name.as_str()),
            outcome: self.told(event),
            tone,
        }
    }
}

impl Replay {
    /// The chosen events as [rows](Reading::rows).
    pub fn rows<'a>(&'a self, events: impl IntoIterator<Item = &'a Event>) -> Vec<Row<'a>> {
        self.reading().rows(events)
    }

    /// The outcome of an event, in words.
    pub fn told(&self, event: &Event) -> String {
        self.reading().told(event)
    }
}
