//! `tin-crown replay`.

use std::io::{BufWriter, Write};
use std::path::{Path, PathBuf};
use std::sync::Arc;

use tin_crown::plan::{Chosen, DrillIx};
use tin_crown::verify::{Measure, Trial};
use tin_crown::{Duration, Event, Plan, Record, Replay, Tick, Ticks, study};

use crate::args::{Column, LedgerFormat, Replay as Arguments};
use crate::failure::{Done, Failure};
use crate::source::{self, Source};
use crate::takes::{self, Take};
use crate::terminal::Colourless;
use crate::trial::{Beside, Golden};
use crate::{drills, output, progress, report, table, terminal};

pub fn run(args: &Arguments) -> Result<Done, Failure> {
    let mut encounters = Vec::new();
    for file in &args.files {
        encounters.push(Encounter::read(file, args)?);
    }
    if args.accept {
        for own in &encounters {
            accept(own, args.drill.is_empty())?;
        }
        return Ok(Done::Well);
    }
    let drills: usize = encounters.iter().map(|own| own.takes.len()).sum();
    if args.format == LedgerFormat::Csv && drills > 1 {
        let names = encounters.iter().flat_map(|own| own.plan.drills());
        let names: Vec<&str> = names.map(|drill| drill.name()).collect();
        return Err(Failure::new("a CSV holds one drill")
            .help(format!("name it with --drill: {}", names.join(", "))));
    }
    if let Some(path) = &args.output {
        for own in &encounters {
            own.spares(path)?;
        }
    }
    let trials = match &args.output {
        Some(path) if !source::is_dash(path) => output::whole(path, |file| {
            let mut file = BufWriter::new(Colourless::new(file));
            let trials = print(&mut file, &encounters, args)?;
            file.flush()?;
            Ok(trials)
        })?,
        _ => {
            let mut out = terminal::out();
            let trials = print(&mut out, &encounters, args)?;
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

/// An encounter, and what of it is replayed.
struct Encounter {
    source: Source,
    plan: Arc<Plan>,
    takes: Vec<Take>,
    choice: Choice,
    beside: Beside,
}

impl Encounter {
    fn read(file: &Path, args: &Arguments) -> Result<Encounter, Failure> {
        let source = source::read(file)?;
        let plan = source.plan()?;
        let drills = drills::some(&plan, &args.drill, &source.name)?;
        let takes = match &args.track_dir {
            Some(folder) => takes::of(&source, &plan, &drills, folder)?,
            None => {
                let plan = source.record(&plan, &drills)?;
                let takes = drills.iter().map(|drill| Take::new(&plan, *drill));
                takes.collect()
            }
        };
        Ok(Encounter {
            choice: Choice::new(&plan, args)?,
            beside: Beside::read(&source, &plan, args.expect.as_deref())?,
            source,
            plan,
            takes,
        })
    }

    /// Refuses to write onto a file that is read.
    fn spares(&self, path: &Path) -> Result<(), Failure> {
        let mut named = self.source.recordings(&self.plan);
        named.extend(self.source.beside());
        let own = self.source.path.as_deref().into_iter();
        let inputs = own.chain(self.beside.inputs());
        let inputs = inputs.chain(named.iter().map(PathBuf::as_path));
        output::spares(path, &inputs.collect::<Vec<_>>())
    }
}

/// Replays and prints encounters, one after the other.
fn print(
    out: &mut impl Write,
    encounters: &[Encounter],
    args: &Arguments,
) -> Result<Vec<Trial>, Failure> {
    let mut all = Vec::new();
    for (nth, own) in encounters.iter().enumerate() {
        if nth > 0 && args.format == LedgerFormat::Table {
            writeln!(out)?;
        }
        let measure = own.beside.measure(&own.source);
        let printing = Printing {
            file: &own.source.name,
            measure: &measure,
            format: args.format,
            choice: &own.choice,
            columns: &args.columns,
        };
        let orphans = args.drill.is_empty();
        let mut trials = printing.print(out, &own.plan, &own.takes, orphans)?;
        if encounters.len() > 1 {
            for trial in &mut trials {
                trial.drill = Some(format!("{}: {}", own.source.name, trial.name()));
            }
        }
        all.append(&mut trials);
    }
    let title = match encounters {
        [only] => only.plan.title().to_owned(),
        all => format!("{} encounters", all.len()),
    };
    finish(out, args.format, &title, &all)?;
    Ok(all)
}

/// What comes after all drills.
pub fn finish(
    out: &mut impl Write,
    format: LedgerFormat,
    title: &str,
    trials: &[Trial],
) -> Result<(), Failure> {
    match format {
        LedgerFormat::Table => {
            writeln!(out)?;
            report::counts(out, trials)?;
        }
        LedgerFormat::Junit => report::junit(out, title, trials)?,
        LedgerFormat::Tap => report::tap(out, trials)?,
        LedgerFormat::Jsonl | LedgerFormat::Csv => {}
    }
    Ok(())
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
    /// Replays and prints drills, and gives the results of their expectations. `orphans` are golden records of
    /// drills that are no more.
    pub fn print(
        &self,
        out: &mut impl Write,
        plan: &Arc<Plan>,
        takes: &[Take],
        orphans: bool,
    ) -> Result<Vec<Trial>, Failure> {
        let mut trials = Vec::new();
        for (nth, take) in takes.iter().enumerate() {
            let replay = progress::replay(&take.plan, take.drill)
                .map_err(|error| Failure::replaying(self.file, &error))?;
            let all = replay.ledger().events();
            let chosen = all.iter().filter(|event| self.choice.has(&replay, event));
            let mut trial = self.measure.trial(&replay);
            if let Some(name) = &take.name {
                trial.drill = Some(format!("{} ({name})", trial.name()));
            }
            match self.format {
                LedgerFormat::Table => {
                    if nth > 0 {
                        writeln!(out)?;
                    }
                    if let Some(name) = &take.name {
                        writeln!(out, "{name}:")?;
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
        Ok(trials)
    }
}

/// Keeps what drills come to as their golden records; those of others stay, unless `all` are kept.
fn accept(own: &Encounter, all: bool) -> Result<(), Failure> {
    let plan = &own.plan;
    let Some(path) = &own.source.path else {
        return Err(Failure::new("a golden record belongs to an encounter file")
            .help("give a file, not standard input"));
    };
    let golden = Golden::beside(path)?;
    let mut text = Vec::new();
    let mut told = Vec::new();
    // In the order of names, so that moving a drill in the file changes nothing.
    let mut every: Vec<DrillIx> = plan.all_drills().collect();
    every.sort_unstable();
    for drill in every {
        let name = &plan.drills()[drill.index()].name();
        let old = golden.as_ref().and_then(|golden| golden.of(name));
        let Some(take) = own.takes.iter().find(|take| take.drill == drill) else {
            if let Some(old) = old {
                old.write(&mut text)?;
            }
            continue;
        };
        let replay = progress::replay(&take.plan, drill)
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
    Ok(())
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

/// The first and the last tick of what `--from` and `--to` ask for.
pub fn stretch(
    plan: &Plan,
    from: Option<Duration>,
    to: Option<Duration>,
) -> Result<(Option<Tick>, Option<Tick>), Failure> {
    let [first, last] = [from, to].map(|time| Some(Tick(time?.ticks(plan.rate()).0)));
    match (from, to) {
        (Some(from), Some(to)) if last < first => {
            let what = format!("--from {from} is after --to {to}");
            Err(Failure::new(what).help("nothing lies between them"))
        }
        _ => Ok((first, last)),
    }
}

impl Choice {
    fn new(plan: &Plan, args: &Arguments) -> Result<Choice, Failure> {
        let select = |option: &str, text: &Option<String>| {
            let text = text.as_deref();
            text.map(|text| chosen(plan, option, text)).transpose()
        };
        let (from, to) = stretch(plan, args.from, args.to)?;
        Ok(Choice {
            who: select("--who", &args.who)?,
            whom: select("--whom", &args.whom)?,
            from,
            to,
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
