//! What differs between two ledgers, as people read it.

use super::{Change, Comparison, FieldChange};
use crate::ledger::Line;

impl Comparison<'_> {
    /// One line for each change, up to so many, and how many more there are.
    pub fn told(&self, most: usize) -> Vec<String> {
        let mut lines = Vec::new();
        if let Some([old, new]) = self.rates {
            lines.push(format!(
                "tick rate changed from {old} to {new}: ticks do not compare"
            ));
        }
        let changes = self.changes.iter();
        lines.extend(changes.take(most).map(|change| one(change, self.rate)));
        let more = self.changes.len().saturating_sub(most);
        if more > 0 {
            lines.push(format!("… and {more} more"));
        }
        lines
    }
}

fn one(change: &Change<'_>, rate: u32) -> String {
    let seconds = |tick: u32| format!("{:.3} s", f64::from(tick) / f64::from(rate));
    let Some(line) = change.line() else {
        return String::new();
    };
    let sort = change.sort();
    let mut text = format!(
        "{sort:<8} {:>9}  {}",
        seconds(line.tick),
        words(line, &change.fields)
    );
    if let (Some(old), true) = (change.old, change.moved != 0) {
        let ticks = change.moved.unsigned_abs();
        let unit = if ticks == 1 { "tick" } else { "ticks" };
        let side = if change.moved > 0 { "later" } else { "earlier" };
        text.push_str(&format!(
            ", {ticks} {unit} {side} than {}",
            seconds(old.tick)
        ));
    }
    let none = || "none".to_owned();
    for field in &change.fields {
        let (old, new) = (&field.old, &field.new);
        let (old, new) = (
            old.clone().unwrap_or_else(none),
            new.clone().unwrap_or_else(none),
        );
        text.push_str(&format!(", {} {old} → {new}", field.key));
    }
    text
}

/// An event in words, without what is told of it as a change.
fn words(line: &Line<'_>, fields: &[FieldChange]) -> String {
    let told = |key: &str| fields.iter().any(|field| field.key == key);
    let name =
        |name: &Option<std::borrow::Cow<'_, str>>| name.as_deref().unwrap_or_default().to_owned();
    let (who, whom, rule) = (name(&line.who), name(&line.whom), name(&line.rule));
    match &*line.event {
        "hit" => {
            let mut text = format!("{who} on {whom} by `{rule}`");
            if !told("verdict") {
                text.push_str(&format!(": {}", name(&line.verdict)));
            }
            if let Some(amount) = line.amount.filter(|_| !told("amount")) {
                text.push_str(&format!(" {amount}"));
            }
            text
        }
        "meter" => {
            let owner = if whom.is_empty() { who } else { whom };
            let mut text = format!("{} of {owner}", name(&line.meter));
            if let (Some(before), Some(after)) = (line.before, line.after)
                && !told("before")
                && !told("after")
            {
                text.push_str(&format!(" {before} → {after}"));
            }
            text
        }
        event => {
            let abouts = [
                &line.button,
                &line.attack,
                &line.launcher,
                &line.state,
                &line.sensor,
                &line.checkpoint,
                &line.exit,
                &line.cue,
                &line.outcome,
            ];
            let about = abouts.into_iter().flatten().next();
            let over = line.over.as_deref().map(|over| format!("({over})"));
            let seen = line.seen.filter(|seen| !seen).map(|_| "(lost)".to_owned());
            let up = line.down.filter(|down| !down).map(|_| "(up)".to_owned());
            let parts = [
                Some(who),
                Some(event.to_owned()),
                about.map(|about| format!("`{about}`")),
                over,
                seen,
                up,
                Some(whom),
            ];
            let parts: Vec<String> = parts
                .into_iter()
                .flatten()
                .filter(|part| !part.is_empty())
                .collect();
            parts.join(" ")
        }
    }
}
