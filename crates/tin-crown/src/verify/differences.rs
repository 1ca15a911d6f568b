//! In what an event differs from what is expected.

use crate::ledger::{Alike, Event, Replay, What};
use crate::plan::{ActorIx, Chosen};

/// In what an event of the same sort differs; none when it is of another.
pub(super) fn differences(
    replay: &Replay,
    alike: &Alike<'_>,
    event: &Event,
) -> Option<Vec<String>> {
    let pattern = alike.pattern;
    if !alike.is_of_its_sort(event) {
        return None;
    }
    let name = |actor: Option<ActorIx>| {
        actor.map_or("nobody".to_owned(), |actor| replay.id(actor).to_owned())
    };
    let line = replay.line(event);
    let mut differs = Vec::new();
    if !alike.who(event) {
        differs.push(format!(
            "it is {}, not {}",
            name(alike.actor(event)),
            text(&pattern.who)
        ));
    }
    if !alike.whom(event) {
        differs.push(format!(
            "it is on {}, not on {}",
            name(event.whom),
            text(&pattern.whom)
        ));
    }
    if !alike.rule(event) {
        differs.push(format!("it is by `{}`", line.rule.unwrap_or_default()));
    }
    if !alike.verdict(event) {
        let verdict = line.verdict.unwrap_or_default();
        let told = replay.told(event);
        let told = told.strip_prefix("nothing: ").unwrap_or(&told);
        differs.push(match told {
            "" => format!("its verdict is `{verdict}`"),
            told => format!("its verdict is `{verdict}`: {told}"),
        });
    }
    if !alike.amount(event) {
        let amount = line.amount.unwrap_or_default();
        differs.push(format!("its amount is {amount}"));
    }
    if !alike.about(event) {
        let about = [
            line.cue,
            line.checkpoint,
            line.exit,
            line.launcher,
            line.attack,
            line.state,
            line.sensor,
            line.meter,
            line.button,
        ];
        let about = about.into_iter().flatten().next().unwrap_or_default();
        differs.push(format!("it is `{about}`"));
    } else if !alike.passes(event) {
        let (before, after) = (
            line.before.unwrap_or_default(),
            line.after.unwrap_or_default(),
        );
        differs.push(format!("it goes from {before} to {after}"));
    }
    if !alike.reason(event) {
        let reason = [line.of, line.guard, line.over, line.despite];
        differs.push(match (reason.into_iter().flatten().next(), &event.what) {
            (Some(reason), _) => format!("it is `{reason}`"),
            (None, What::Attack { .. }) => "nothing stood in its way".to_owned(),
            (None, What::Ignored(_)) => "it is a press".to_owned(),
            (None, What::Apply { .. }) => "it does not kill outright".to_owned(),
            (None, _) => "no guard was up".to_owned(),
        });
    }
    if !alike.by(event) {
        differs.push(match line.by {
            Some(by) => format!("it is credited to {by}"),
            None => "it is credited to nobody".to_owned(),
        });
    }
    if !alike.down(event) {
        let way = if line.down == Some(true) {
            "down"
        } else {
            "up"
        };
        differs.push(format!("it goes {way}"));
    }
    Some(differs)
}

fn text(chosen: &Option<Chosen>) -> String {
    chosen.as_ref().map_or_else(String::new, Chosen::to_string)
}
