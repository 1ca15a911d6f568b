//! Why an actor died, vanished, or is not there.

use super::feet::Feet;
use super::{Scope, Tell, Topic};
use crate::encounter::Ending;
use crate::ledger::{DeathCause, Event, What};
use crate::plan::ActorIx;

pub(super) fn tells(scope: &Scope<'_>, actor: ActorIx, feet: &Feet) -> Vec<Tell> {
    let own = scope.lines.of(actor).iter().copied();
    match scope.when {
        None => own
            .filter(|event| is_end(&event.what))
            .map(|event| end(scope, actor, event, feet))
            .collect(),
        Some(when) => {
            let comes = |event: &&Event| is_end(&event.what) || matches!(event.what, What::Appear);
            let last = own
                .clone()
                .filter(comes)
                .take_while(|event| event.tick <= when)
                .last();
            match last {
                Some(event) if is_end(&event.what) => vec![end(scope, actor, event, feet)],
                Some(_) => Vec::new(),
                None => {
                    let mut later = own.filter(comes);
                    let says = match later.next() {
                        Some(event) => {
                            format!("not there yet: it appears {}", scope.at(event.tick))
                        }
                        None => "never there".to_owned(),
                    };
                    vec![scope.tell(Topic::End, when, says)]
                }
            }
        }
    }
}

fn is_end(what: &What) -> bool {
    matches!(what, What::Death { .. } | What::Vanish { .. })
}

fn end(scope: &Scope<'_>, actor: ActorIx, event: &Event, feet: &Feet) -> Tell {
    let rows = scope.replay.rows([event]);
    let (what, outcome) = rows
        .first()
        .map_or(("", ""), |row| (row.what.as_str(), row.outcome.as_str()));
    let mut says = format!("{what} {}: {outcome}", scope.at(event.tick));
    let left = matches!(
        event.what,
        What::Death {
            of: DeathCause::Outside,
            ..
        } | What::Vanish { of: Ending::Edge }
    );
    if let (true, Some(left)) = (left, feet.left_before(event.tick)) {
        says.push_str(&format!("; it {}", left.says(scope)));
    }
    scope.line(Topic::End, actor, event, says)
}
