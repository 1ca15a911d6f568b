//! `tin-crown replay`.

use std::io::{BufWriter, Write};
use std::path::Path;
use std::sync::Arc;

use tin_crown::plan::{Chosen, DrillIx};
use tin_crown::verify::{Measure, Trial};
use tin_crown::{Event, Plan, Record, Replay, Tick, Ticks, study};

use crate::args::{Column, LedgerFormat, Replay as Arguments};
use crate::failure::{Done, Failure};
use crate::terminal::Colourless;
use crate::trial::{Beside, Golden};
use crate::{drills, output, progress, report, source, table, terminal};

pub fn run(args: &Arguments) -> Result<Done, Failure> {
    let source = source::read(&args.file)?;
    let plan = source.plan()?;
    let drills = drills::some(&plan, &args.drill, &source.name)?;
    if args.accept {
        let Some(path) = &source.path else {
            return Err(Failure::new("a golden record belongs to an encounter file")
                .help("give a file, not standard input"));
        };
        return accept(&plan, &drills, path, args.drill.is_empty());
    }
    if args.format == LedgerFormat::Csv && drills.len() > 1 {
        let names: Vec<&str> = plan.drills().iter().map(|drill| drill.name()).collect();
        return Err(Failure::new("a CSV holds one drill")
            .help(format!("name it with --drill: {}", names.join(", "))));
    }
    let choice = Choice::new(&plan, args)?;
    let beside = Beside::read(&source, &plan, args.expect.as_deref())?;
    if let Some(path) = &args.output {
        let own = source.path.as_deref();
        let inputs: Vec<&Path> = own.into_iter().chain(beside.inputs()).collect();
        output::spares(path, &inputs)?;
    }
    let printing = Printing {
        file: &source.name,
        measure: &beside.measure(&source),
        format: args.format,
        choice: &choice,
        columns: &args.columns,
    };
    let orphans = args.drill.is_empty();
    let trials = match &args.output {
        Some(path) if !source::is_dash(path) => output::whole(path, |file| {
            let mut file = BufWriter::new(Colourless::new(file));
            let trials = printing.print(&mut file, &plan, &drills, orphans)?;
            file.flush()?;
            Ok(trials)
        })?,
        _ => {
            let mut out = terminal::out();
            let trials = printing.print(&mut out, &plan, &drills, orphans)?;
            out.flush()?;
            trials
        }
    };
    let failed = trials.iter().any(|trial| trial.failed() > 0);
    let told =
        args.format == LedgerFormat::Table && args.output.as_deref().is_none_or(source::is_dash);
    if failed && !told {
        // Where standard error takes no more, there is nobody to tell.
        let mut err = anstream::stderr().lock();
        let told = trials
            .iter()
            .try_for_each(|trial| report::text(&mut err, trial));
        let _ = told.and_then(|()| report::counts(&mut err, &trials));
    }
    Ok(if failed { Done::Failed } else { Done::Well })
}

/// How drills are printed, and what they are held against.
pub struct Printing<'a> {
    /// The name of the encounter.
    pub file: &'a str,
    pub measure: &'a Measure<'a>,
    pub format: LedgerFormat,
    pub choice: &'a Choice,
    /// What the table shows besides.
    pub columns: &'a [Column],
}

impl Printing<'_> {
    /// Replays and prints drills, and reports the results of their expectations. `orphans` are golden
    /// records of drills that are no more.
    pub fn print(
        &self,
        out: &mut impl Write,
        plan: &Arc<Plan>,
        drills: &[DrillIx],
        orphans: bool,
    ) -> Result<Vec<Trial>, Failure> {
        let mut trials = Vec::new();
        for (nth, &drill) in drills.iter().enumerate() {
            let replay = progress::replay(plan, drill)
                .map_err(|error| Failure::replaying(self.file, &error))?;
            let all = replay.ledger().events();
            let chosen = all.iter().filter(|event| self.choice.has(&replay, event));
            let trial = self.measure.trial(&replay);
            match self.format {
                LedgerFormat::Table => {
                    if nth > 0 {
                        writeln!(out)?;
                    }
                    let chosen: Vec<&Event> = chosen.collect();
                    table::print(out, &replay, &chosen, self.choice.narrows, self.columns)?;
                    report::text(out, &trial)?;
                }
                LedgerFormat::Jsonl => replay.write_jsonl(&mut *out, chosen)?,
                LedgerFormat::Csv => replay.write_csv(&mut *out, chosen)?,
                LedgerFormat::Junit | LedgerFormat::Tap => {}
            }
            trials.push(trial);
        }
        if let Some(trial) = self.measure.orphans(plan).filter(|_| orphans) {
            if self.format == LedgerFormat::Table {
                report::text(out, &trial)?;
            }
            trials.push(trial);
        }
        match self.format {
            LedgerFormat::Table => {
                writeln!(out)?;
                report::counts(out, &trials)?;
            }
            LedgerFormat::Junit => report::junit(out, plan.title(), &trials)?,
            LedgerFormat::Tap => report::tap(out, &trials)?,
            LedgerFormat::Jsonl | LedgerFormat::Csv => {}
        }
        Ok(trials)
    }
}

/// Keeps what drills come to as their golden records; those of others stay, unless `all` are kept.
fn accept(plan: &Arc<Plan>, drills: &[DrillIx], path: &Path, all: bool) -> Result<Done, Failure> {
    let golden = Golden::beside(path)?;
    let mut text = Vec::new();
    let mut told = Vec::new();
    // In the order of names, so that moving a drill in the file changes nothing.
    let mut every: Vec<DrillIx> = plan.all_drills().collect();
    every.sort_unstable();
    for drill in every {
        let name = &plan.drills()[drill.index()].name();
        let old = golden.as_ref().and_then(|golden| golden.of(name));
        if !drills.contains(&drill) {
            if let Some(old) = old {
                old.write(&mut text)?;
            }
            continue;
        }
        let replay = progress::replay(plan, drill)
            .map_err(|error| Failure::replaying(&terminal::shown(path), &error))?;
        let record = Record::of(&replay);
        let new = record.golden();
        new.write(&mut text)?;
        match old {
            None => told.push(format!("{name}: {} lines, new", new.lines.len())),
            Some(old) => {
                let comparison = study::compare(old, &record, Ticks(0));
                if comparison.is_empty() {
                    told.push(format!("{name}: {} lines, unchanged", new.lines.len()));
                    continue;
                }
                told.push(format!("{name}: {} lines", new.lines.len()));
                told.extend(
                    comparison
                        .brief(12)
                        .into_iter()
                        .map(|line| format!("    {line}")),
                );
            }
        }
    }
    let gone = golden.iter().flat_map(|golden| &golden.records);
    let gone = gone.filter(|record| plan.drill(&record.header.drill).is_err());
    for record in gone {
        if all {
            told.push(format!("{}: removed", record.header.drill));
        } else {
            record.write(&mut text)?;
        }
    }
    let golden = Golden::path(path);
    output::write(&golden, &text)?;
    let mut out = terminal::out();
    for line in told {
        writeln!(out, "{line}")?;
    }
    writeln!(out, "wrote {}", terminal::shown(&golden))?;
    out.flush()?;
    Ok(Done::Well)
}

/// Which events are asked for.
#[derive(Default)]
pub struct Choice {
    who: Option<Chosen>,
    whom: Option<Chosen>,
    from: Option<Tick>,
    to: Option<Tick>,
    /// Whether anything is left out at all.
    narrows: bool,
}

/// The actors that an option names.
pub fn chosen(plan: &Plan, option: &str, text: &str) -> Result<Chosen, Failure> {
    plan.choose(text)
        .map_err(|error| Failure::new(format!("{option} {text}: {error}")).help(error.help))
}

impl Choice {
    fn new(plan: &Plan, args: &Arguments) -> Result<Choice, Failure> {
        let select = |option: &str, text: &Option<String>| {
            let text = text.as_deref();
            text.map(|text| chosen(plan, option, text)).transpose()
        };
        let tick =
            |time: Option<tin_crown::Duration>| time.map(|time| Tick(time.ticks(plan.rate()).0));
        Ok(Choice {
            who: select("--who", &args.who)?,
            whom: select("--whom", &args.whom)?,
            from: tick(args.from),
            to: tick(args.to),
            narrows: args.who.is_some()
                || args.whom.is_some()
                || args.from.is_some()
                || args.to.is_some(),
        })
    }

    fn has(&self, replay: &Replay, event: &Event) -> bool {
        let who = |chosen: &Chosen| event.who.is_some_and(|who| replay.acts_for(chosen, who));
        let whom = |chosen: &Chosen| {
            event
                .whom
                .is_some_and(|whom| replay.is_chosen(chosen, whom))
        };
        self.who.as_ref().is_none_or(who)
            && self.whom.as_ref().is_none_or(whom)
            && self.from.is_none_or(|from| event.tick >= from)
            && self.to.is_none_or(|to| event.tick <= to)
    }
}
