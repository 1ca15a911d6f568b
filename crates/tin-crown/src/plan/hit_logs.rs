//! Hit logs of the game, against which drills are held: how their rows are read, resolved.

use super::checker::Checker;
use super::index::RuleIx;
use super::pairing::World;
use super::tracks::{self, RowsPlan, TrackPlan};
use crate::encounter::{Drill, LogColumns, RowFormat, Rule};
use crate::finding::Path;
use crate::map::Map;

/// How the rows of a hit log are read.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct LogPlan {
    pub rows: RowsPlan,
    pub columns: LogColumns,
    /// None stands for what is not told.
    pub rules: Map<String, Option<RuleIx>>,
}

/// The hit log of a drill.
pub(super) fn resolve(
    check: &mut Checker,
    base: &Path,
    drill: &Drill,
    rules: &[Rule],
    world: &World<'_>,
) -> Option<LogPlan> {
    let log = drill.log.as_ref()?;
    let base = base.key("log");
    let mut own = Map::new();
    for (name, rule) in &log.rules {
        let found = rules.iter().position(|own| own.name == *rule);
        if found.is_none() && !rule.is_empty() {
            let known: Vec<&str> = rules.iter().map(|own| own.name.as_str()).collect();
            check.unknown(base.key("rules").named(name), "rule", rule, known);
        }
        own.insert(name.clone(), found.map(RuleIx::new));
    }
    Some(LogPlan {
        rows: tracks::rows(check, &base, &log.rows, world),
        columns: log.columns.clone(),
        rules: own,
    })
}

impl LogPlan {
    /// A log of which the encounter says nothing: its times and names are those of a recording, if there is one.
    pub fn plain(track: Option<&TrackPlan>) -> LogPlan {
        LogPlan {
            rows: track.map_or_else(RowsPlan::plain, |track| track.rows.clone()),
            columns: LogColumns::default(),
            rules: Map::new(),
        }
    }

    /// The same in another file.
    #[must_use]
    pub fn of(mut self, file: &str) -> LogPlan {
        let jsonl = [".jsonl", ".ndjson"]
            .iter()
            .any(|ending| file.ends_with(ending));
        let csv = [".csv", ".tsv", ".txt"]
            .iter()
            .any(|ending| file.ends_with(ending));
        if jsonl {
            self.rows.format = RowFormat::Jsonl;
        } else if csv {
            self.rows.format = RowFormat::Csv;
        }
        file.clone_into(&mut self.rows.file);
        self
    }
}

impl RowsPlan {
    /// Times in ticks, names that are ids, commas between columns.
    fn plain() -> RowsPlan {
        RowsPlan {
            file: String::new(),
            format: RowFormat::Csv,
            separator: b',',
            comma: false,
            ticks: 1.0,
            zero: 0.0,
            ids: Map::new(),
            ignores: Default::default(),
        }
    }
}
