//! What differs between two ledgers, as people read it.

use std::fmt;

use super::{Change, Comparison, FieldChange};
use crate::ledger::Line;
use crate::time::Ticks;

impl Comparison<'_> {
    /// The same in up to so many lines, and how many changes there are besides.
    pub fn brief(&self, most: usize) -> Vec<String> {
        let mut lines = self.told(most);
        if lines.len() > most {
            lines.truncate(most);
            lines.push(format!("… {} changes in all", self.changes.len()));
        }
        lines
    }

    /// Each [divergence](Self::divergences) in a line, and below it, indented, up to `most` of what follows
    /// from it, and how many more there are.
    pub fn told(&self, most: usize) -> Vec<String> {
        let mut lines = Vec::new();
        if let Some([old, new]) = self.rates {
            lines.push(format!(
                "tick rate changed from {old} to {new}: times are compared in seconds"
            ));
        }
        for divergence in self.divergences() {
            lines.push(self.changes[divergence.first].to_string());
            let follows = divergence.follows.iter();
            let told = follows.take(most);
            lines.extend(told.map(|nth| format!("  {}", self.changes[*nth])));
            match divergence.follows.len().saturating_sub(most) {
                0 => {}
                1 => lines.push("  … and 1 more change that follows".to_owned()),
                more => lines.push(format!("  … and {more} more changes that follow")),
            }
        }
        lines
    }
}

/// What became of it, when, and the event: `new        1.250 s  porter on beetle_1 by `boots crush lid`: landed 1`.
impl fmt::Display for Change<'_> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let [before, now] = self.rates;
        let seconds = |tick: u32, rate: u32| format!("{:.3} s", f64::from(tick) / f64::from(rate));
        let Some(line) = self.line() else {
            return Ok(());
        };
        let (sort, words) = (self.sort(), words(line, &self.fields));
        let rate = if self.new.is_some() { now } else { before };
        write!(f, "{sort:<8} {:>9}  {words}", seconds(line.tick, rate))?;
        if let (Some(old), true) = (&self.old, self.moved != 0) {
            let side = if self.moved > 0 { "later" } else { "earlier" };
            let moved = u32::try_from(self.moved.unsigned_abs()).unwrap_or(u32::MAX);
            let by = match before == now {
                true => Ticks(moved).in_words(),
                false => seconds(moved, now),
            };
            write!(f, ", {by} {side} than {}", seconds(old.tick, before))?;
        }
        for field in &self.fields {
            let [old, new] =
                [&field.old, &field.new].map(|value| value.as_deref().unwrap_or("none"));
            write!(f, ", {} {old} → {new}", field.key)?;
        }
        Ok(())
    }
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
