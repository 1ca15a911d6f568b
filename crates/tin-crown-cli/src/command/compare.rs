//! `tin-crown compare`.

use std::collections::BTreeSet;
use std::io::Write;
use std::path::Path;
use std::sync::Arc;

use anstyle::Style;
use serde_json::json;
use tin_crown::ledger::Lines;
use tin_crown::study::{self, Comparison, PairSum};
use tin_crown::{Line, Plan, Record, Replay, limits};

use crate::args::{Compare, CompareFormat};
use crate::failure::{Done, Failure};
use crate::source::{self, Source};
use crate::{progress, table, terminal, trial};

const BOLD: Style = Style::new().bold();

pub fn run(args: &Compare) -> Result<Done, Failure> {
    let Some(new) = &args.new else {
        return super::against::run(args, args.log.as_ref().and_then(Option::as_deref));
    };
    if matches!(args.format, CompareFormat::Jsonl | CompareFormat::Junit) {
        return Err(Failure::new("two ledgers are compared as text or json")
            .help("jsonl and junit are for --log"));
    }
    if source::is_dash(&args.old) && source::is_dash(new) {
        return Err(Failure::new("standard input cannot be read twice")
            .help("put one of the two into a file"));
    }
    let text = args.format == CompareFormat::Text;
    let (old, new) = (Side::read(&args.old)?, Side::read(new)?);
    let names: Vec<(String, String)> = match &args.drill {
        Some(drill) => {
            let against = args.against.as_ref().unwrap_or(drill);
            vec![(drill.clone(), against.clone())]
        }
        None => {
            let names: BTreeSet<&str> = old.drills().chain(new.drills()).collect();
            let pair = |name: &str| (name.to_owned(), name.to_owned());
            names.into_iter().map(pair).collect()
        }
    };
    if let Some(drill) = &args.drill {
        old.must_have(drill)?;
        new.must_have(args.against.as_ref().unwrap_or(drill))?;
    }
    let mut out = terminal::out();
    let mut machine = Vec::new();
    let mut differs = false;
    for (nth, (name, against)) in names.into_iter().enumerate() {
        if nth > 0 && text {
            writeln!(out)?;
        }
        let (one, other) = (old.replay(&name)?, new.replay(&against)?);
        let (Some(one), Some(other)) = (one, other) else {
            differs = true;
            let word = if old.has(&name) { "gone" } else { "new" };
            match text {
                true => writeln!(out, "drill {name}: {word}")?,
                false => machine.push(json!({ "drill": name, word: true })),
            }
            continue;
        };
        let within = args.within.ticks(other.rate());
        let mut comparison = study::compare(one.lines(), other.lines(), within);
        comparison.retain(|line| asked(args, line));
        differs |= !comparison.is_empty();
        let title = match name == against {
            true => name,
            false => format!("{name} against {against}"),
        };
        match text {
            true => print(&mut out, &title, &comparison, most(args))?,
            false => {
                let divergences = comparison.divergences();
                machine.push(json!({
                    "drill": title,
                    "comparison": comparison,
                    "divergences": divergences,
                }));
            }
        }
    }
    if !text {
        let all = json!({ "differs": differs, "drills": machine });
        writeln!(out, "{}", terminal::json(&all))?;
    }
    out.flush()?;
    Ok(if differs { Done::Failed } else { Done::Well })
}

/// One of the two things that are compared.
enum Side {
    Encounter(Box<Source>, Arc<Plan>),
    Ledgers(String, Vec<Record<'static>>),
}

/// A drill of one of them.
enum Drill<'s> {
    Replayed(Box<Replay>),
    Read(&'s Record<'static>),
}

impl Drill<'_> {
    fn lines(&self) -> Lines<'_> {
        match self {
            Drill::Replayed(replay) => (&**replay).into(),
            Drill::Read(record) => Lines::Record(record),
        }
    }

    /// Ticks a second.
    fn rate(&self) -> u32 {
        match self {
            Drill::Replayed(replay) => replay.plan().rate(),
            Drill::Read(record) => record.header.rate,
        }
    }
}

impl Side {
    fn read(path: &Path) -> Result<Side, Failure> {
        let (name, bytes) = source::bytes(path, limits::RECORD_BYTES)?;
        if Record::is_one(&bytes) {
            if bytes.len() as u64 > limits::RECORD_BYTES {
                return Err(trial::too_large(&name));
            }
            let records = Record::read(&bytes);
            return match records {
                Ok(records) => Ok(Side::Ledgers(name, records)),
                Err(error) => Err(Failure::new(format!("{name}: {error}"))),
            };
        }
        let source = source::of(path, name, &bytes);
        let plan = source.plan()?;
        Ok(Side::Encounter(Box::new(source), plan))
    }

    fn drills(&self) -> Box<dyn Iterator<Item = &str> + '_> {
        match self {
            Side::Encounter(_, plan) => Box::new(plan.drills().iter().map(|drill| drill.name())),
            Side::Ledgers(_, records) => {
                Box::new(records.iter().map(|record| &*record.header.drill))
            }
        }
    }

    fn has(&self, drill: &str) -> bool {
        self.drills().any(|name| name == drill)
    }

    fn must_have(&self, drill: &str) -> Result<(), Failure> {
        if self.has(drill) {
            return Ok(());
        }
        let name = match self {
            Side::Encounter(source, _) => &source.name,
            Side::Ledgers(name, _) => name,
        };
        let known: Vec<&str> = self.drills().collect();
        Err(Failure::new(format!("{name} has no drill `{drill}`"))
            .help(format!("it has: {}", known.join(", "))))
    }

    fn replay(&self, drill: &str) -> Result<Option<Drill<'_>>, Failure> {
        match self {
            Side::Ledgers(_, records) => {
                let found = records.iter().find(|record| record.header.drill == drill);
                Ok(found.map(Drill::Read))
            }
            Side::Encounter(source, plan) => match plan.drill(drill) {
                Err(_) => Ok(None),
                Ok(drill) => {
                    let plan = source.record(plan, &[drill])?;
                    let replay = progress::replay(&plan, drill);
                    let replay =
                        replay.map_err(|error| Failure::replaying(&source.name, &error))?;
                    Ok(Some(Drill::Replayed(Box::new(replay))))
                }
            },
        }
    }
}

/// How many changes that follow from one are shown.
pub fn most(args: &Compare) -> usize {
    const FEW: usize = 4;
    match (args.short, args.all) {
        (true, _) => 0,
        (_, true) => usize::MAX,
        _ => FEW,
    }
}

/// Whether a line is of those that the options ask for.
fn asked(args: &Compare, line: &Line<'_>) -> bool {
    // An actor, or what it launched.
    let is = |wanted: &Option<String>, actor: Option<&str>| {
        wanted.as_deref().is_none_or(|wanted| {
            let launched = |id: &str| {
                id.strip_prefix(wanted)
                    .is_some_and(|rest| rest.starts_with('.'))
            };
            actor.is_some_and(|id| id == wanted || launched(id))
        })
    };
    is(&args.who, line.who.as_deref())
        && is(&args.whom, line.whom.as_deref())
        && args
            .event
            .as_deref()
            .is_none_or(|event| line.event == event)
}

fn print(
    out: &mut impl Write,
    title: &str,
    comparison: &Comparison<'_>,
    most: usize,
) -> Result<(), Failure> {
    let same = comparison.same;
    if comparison.is_empty() {
        writeln!(
            out,
            "{BOLD}drill {title}{BOLD:#}: all {same} events unchanged"
        )?;
        return Ok(());
    }
    let count = |sort: &str| {
        let changes = comparison.changes.iter();
        changes.filter(|change| change.sort() == sort).count()
    };
    writeln!(
        out,
        "{BOLD}drill {title}{BOLD:#}: {same} events unchanged, {} new, {} gone, {} moved, {} changed",
        count("new"),
        count("gone"),
        count("moved"),
        count("changed")
    )?;
    for line in comparison.told(most) {
        writeln!(out, "  {line}")?;
    }
    if !comparison.pairs.is_empty() && most > 0 {
        writeln!(out, "\n  damage by pair, before and after")?;
        let sums = pairs(&comparison.pairs);
        for line in sums.lines() {
            writeln!(out, "  {line}")?;
        }
    }
    Ok(())
}

fn pairs(pairs: &[PairSum<'_>]) -> String {
    let mut table = table::plain(&["who", "whom", "hits", "took"], &[]);
    for PairSum {
        who,
        whom,
        hits,
        taken,
    } in pairs
    {
        table.add_row([
            who.clone().into_owned(),
            whom.clone().into_owned(),
            format!("{} → {}", hits[0], hits[1]),
            format!("{} → {}", taken[0], taken[1]),
        ]);
    }
    table::lines(&table)
}
