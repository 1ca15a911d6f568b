//! The chain of causes of a touch.

use serde::Serialize;

use crate::ledger::Replay;
use crate::ledger::{Event, LineId, What};
use crate::map::Map;
use crate::plan::ActorIx;
use crate::sim::Judged;
use crate::time::Tick;

/// Something in a chain of causes.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
pub struct Step {
    /// Its line of the ledger.
    pub line: u32,
    /// When.
    pub tick: u32,
    /// What happened.
    pub says: String,
    /// Whether the ledger names it as a cause; else it only came before.
    pub cause: bool,
}

/// What actors were told, when they changed their state, and when they came to be there: the lines in
/// which chains of causes begin.
pub(in crate::study) struct Origins<'r> {
    replay: &'r Replay,
    inputs: Map<ActorIx, Vec<&'r Event>>,
    states: Map<ActorIx, Vec<&'r Event>>,
    appearances: Map<ActorIx, Vec<&'r Event>>,
}

impl<'r> Origins<'r> {
    pub fn new(replay: &'r Replay) -> Origins<'r> {
        let mut origins = Origins {
            replay,
            inputs: Map::new(),
            states: Map::new(),
            appearances: Map::new(),
        };
        for event in replay.ledger().events() {
            let lines = match event.what {
                What::Input { down: true, .. } => &mut origins.inputs,
                What::Enter { .. } => &mut origins.states,
                What::Appear => &mut origins.appearances,
                _ => continue,
            };
            if let Some(who) = event.who {
                lines.or_default(who).push(event);
            }
        }
        origins
    }

    /// From a touch back to the input or the placement that it comes from: what launched who and set off
    /// its attack, or else the state that it is in and why; then what they were told last, then how they came to
    /// be there. Of states that follow one another over and over, only the last round.
    pub fn of(&self, judged: &Judged) -> Vec<Step> {
        let own = judged.line.and_then(|line| self.replay.ledger().get(line));
        self.behind(judged.who, own, judged.tick)
    }

    /// The same of a line of an actor, or of what comes of it on a tick without a line.
    pub fn behind(&self, actor: ActorIx, own: Option<&Event>, tick: Tick) -> Vec<Step> {
        let replay = self.replay;
        let ledger = replay.ledger();
        let mut steps = Vec::new();
        let mut actor = actor;
        let mut next = own.and_then(|event| event.cause);
        let mut before = own.map_or(LineId(u32::MAX), |event| event.id);
        let mut cause = next.is_some();
        if !cause {
            next = last(&self.states, actor, before, tick).map(|event| event.id);
        }
        let mut states = Vec::new();
        while let Some(event) = next.and_then(|line| ledger.get(line)) {
            if let What::Enter { state, .. } = event.what {
                if states.contains(&(event.who, state)) {
                    break;
                }
                states.push((event.who, state));
            }
            steps.push(step(replay, event, cause));
            cause = true;
            actor = event.who.unwrap_or(actor);
            // A line comes after what causes it: this ends.
            before = event.id;
            next = event.cause.filter(|cause| *cause < event.id);
        }
        if !steps.iter().any(|step| is_input(replay, step)) {
            let own = last(&self.inputs, actor, before, tick);
            steps.extend(own.map(|event| step(replay, event, false)));
        }
        let own = last(&self.appearances, actor, before, tick);
        steps.extend(own.map(|event| step(replay, event, false)));
        steps
    }
}

fn is_input(replay: &Replay, step: &Step) -> bool {
    let event = replay.ledger().get(LineId(step.line));
    event.is_some_and(|event| matches!(event.what, What::Input { .. }))
}

/// The last of an actor's lines up to a tick and before a line.
fn last<'r>(
    lines: &Map<ActorIx, Vec<&'r Event>>,
    actor: ActorIx,
    before: LineId,
    tick: Tick,
) -> Option<&'r Event> {
    let own = lines.get(&actor)?;
    let past = own.partition_point(|event| event.id < before && event.tick <= tick);
    own[..past].last().copied()
}

fn step(replay: &Replay, event: &Event, cause: bool) -> Step {
    let rows = replay.rows([event]);
    let says = rows.first().map_or_else(String::new, |row| {
        let words = [row.who, &row.what, row.whom, row.rule];
        let words: Vec<&str> = words.into_iter().filter(|word| !word.is_empty()).collect();
        let join = match (&event.what, row.outcome.is_empty()) {
            (_, true) => "",
            (What::Appear, _) => " ",
            _ => ", ",
        };
        format!("{}{join}{}", words.join(" "), row.outcome)
    });
    let placed = matches!(event.what, What::Appear) && event.tick.0 == 0;
    Step {
        cause,
        line: event.id.0,
        tick: event.tick.0,
        says: if placed {
            says.replacen(" appears ", " is placed ", 1)
        } else {
            says
        },
    }
}
