//! The chain of causes of a touch.

use serde::Serialize;

use crate::ledger::{Event, LineId, What};
use crate::plan::ActorIx;
use crate::sim::{Judged, Replay};

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

/// From a touch back to the input or the placement that it comes from: what launched who and set off
/// its attack, or else the state that it is in and why; then what they were told last, then how they came to
/// be there. Of states that follow one another over and over, only the last round.
pub(super) fn of(replay: &Replay, judged: &Judged) -> Vec<Step> {
    let ledger = replay.ledger();
    let mut steps = Vec::new();
    let mut actor = judged.who;
    let own = judged.line.and_then(|line| ledger.get(line));
    let mut next = own.and_then(|event| event.cause);
    let mut before = own.map_or(LineId(u32::MAX), |event| event.id);
    let mut cause = next.is_some();
    if !cause {
        let turned = |event: &Event| matches!(event.what, What::Enter { .. });
        next = last(replay, actor, before, judged, turned).map(|event| event.id);
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
    let told = |event: &Event| matches!(event.what, What::Input { down: true, .. });
    if !steps.iter().any(|step| is_input(replay, step)) {
        let own = last(replay, actor, before, judged, told);
        steps.extend(own.map(|event| step(replay, event, false)));
    }
    let appeared = |event: &Event| matches!(event.what, What::Appear);
    let own = last(replay, actor, before, judged, appeared);
    steps.extend(own.map(|event| step(replay, event, false)));
    steps
}

fn is_input(replay: &Replay, step: &Step) -> bool {
    let event = replay.ledger().get(LineId(step.line));
    event.is_some_and(|event| matches!(event.what, What::Input { .. }))
}

/// The last such line of an actor, up to a touch and before a line.
fn last<'r>(
    replay: &'r Replay,
    actor: ActorIx,
    before: LineId,
    judged: &Judged,
    is: impl Fn(&Event) -> bool,
) -> Option<&'r Event> {
    let events = replay.ledger().events();
    let past = events.partition_point(|event| event.id < before && event.tick <= judged.tick);
    let mut past = events[..past].iter().rev();
    past.find(|event| event.who == Some(actor) && is(event))
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
