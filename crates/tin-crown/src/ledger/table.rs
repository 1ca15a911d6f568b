//! The ledger as rows that a person likes to read: one for each hit with what it did, one for each
//! other event.

use super::{Event, Hit, LineId, Verdict, What};
use crate::sim::Replay;
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
    /// Who acts; empty for the drill itself.
    pub who: &'a str,
    /// What they do.
    pub what: String,
    /// Who is acted on; empty when nobody is.
    pub whom: &'a str,
    /// The rule; empty when there is none.
    pub rule: &'a str,
    /// What came of it.
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

impl Replay {
    /// The chosen events as rows. Changes of meters that a hit brought about are told in the row of
    /// that hit.
    pub fn rows<'a>(&'a self, events: impl IntoIterator<Item = &'a Event>) -> Vec<Row<'a>> {
        let mut rows: Vec<Row<'a>> = Vec::new();
        for event in events {
            if let What::Meter { .. } = event.what
                && let Some(row) = rows
                    .iter_mut()
                    .rev()
                    .take_while(|row| row.tick == event.tick)
                    .find(|row| Some(row.id) == event.cause)
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

    fn row<'a>(&'a self, event: &'a Event) -> Row<'a> {
        let plan = self.plan();
        let name = |actor: Option<crate::ActorIx>| {
            actor.map_or("", |actor| plan.actors[actor.index()].id.as_str())
        };
        let what = match &event.what {
            What::Appear => "appears".to_owned(),
            What::Vanish => "vanishes".to_owned(),
            What::Input { down: true, button } => format!("presses {}", plan.button(*button)),
            What::Input { button, .. } => format!("lets go of {}", plan.button(*button)),
            What::Hit(hit) if hit.verdict == Verdict::Landed => "hits".to_owned(),
            What::Hit(_) => "touches".to_owned(),
            What::Meter { meter, .. } => plan.meters[meter.index()].clone(),
            What::Death { .. } => "dies".to_owned(),
            What::Gone => "is gone".to_owned(),
            What::Outcome(outcome) => format!("drill {}", outcome.as_str()),
        };
        let tone = match &event.what {
            What::Hit(hit) if hit.verdict != Verdict::Landed => Tone::Rejected,
            What::Hit(_) | What::Death { .. } => Tone::Harm,
            _ => Tone::Plain,
        };
        Row {
            tick: event.tick,
            seconds: event.tick.seconds(plan.rate),
            id: event.id,
            who: name(event.who),
            what,
            whom: name(event.whom),
            rule: event
                .rule
                .map_or("", |rule| plan.rules[rule.index()].name.as_str()),
            outcome: self.told(event),
            tone,
        }
    }

    /// What came of an event, in words.
    pub fn told(&self, event: &Event) -> String {
        let plan = self.plan();
        match &event.what {
            What::Appear => {
                let at = event.at.unwrap_or_default();
                format!("at {}, {}", round(at.x), round(at.y))
            }
            What::Hit(hit) => self.hit_told(hit),
            What::Meter {
                meter,
                before,
                after,
            } => {
                format!("{} {before} → {after}", plan.meters[meter.index()])
            }
            What::Death { by, of } => {
                let of = match of {
                    super::DeathCause::Health => "health is empty",
                    super::DeathCause::Outside => "left the arena",
                    super::DeathCause::Squeezed => "squeezed by a solid",
                };
                match by {
                    Some(by) => format!("{of}, by {}", plan.actors[by.index()].id),
                    None => of.to_owned(),
                }
            }
            What::Vanish => "left the arena".to_owned(),
            What::Input { .. } | What::Gone | What::Outcome(_) => String::new(),
        }
    }

    fn hit_told(&self, hit: &Hit) -> String {
        let until =
            |tick: Tick| format!("invincible until {:.3} s", tick.seconds(self.plan().rate));
        match hit.verdict {
            Verdict::Landed => {
                let mut parts = Vec::new();
                if hit.overkill.is_positive() {
                    parts.push(format!("overkill {}", hit.overkill));
                }
                parts.extend(hit.until.map(until));
                parts.join(", ")
            }
            Verdict::Down => "nothing: already dying".to_owned(),
            Verdict::Ally => "nothing: same side".to_owned(),
            Verdict::Repeat => "nothing: not again yet".to_owned(),
            Verdict::Invincible => match hit.until {
                Some(tick) => format!("nothing: {}", until(tick)),
                None => "nothing: invincible".to_owned(),
            },
        }
    }
}

/// To a hundredth, without trailing zeros.
fn round(number: f64) -> f64 {
    let rounded = (number * 100.0).round() / 100.0;
    if rounded == 0.0 { 0.0 } else { rounded }
}
