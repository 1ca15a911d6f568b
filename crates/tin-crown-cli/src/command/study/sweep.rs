//! `tin-crown study sweep`.

use std::env;
use std::io::Write;
use std::path::Path;
use std::sync::atomic::AtomicBool;

use tin_crown::encounter::Measure;
use tin_crown::study::{Axis, Row, Samples, Setup, Sheet, Spread, Sweep, VaryError};

use super::job_array;
use super::journal::{Found, Journal};
use super::rows;
use super::subject::{self, Subject};
use crate::args::{self, RowFormat, SpreadName};
use crate::failure::{Done, Failure};
use crate::progress::Bar;
use crate::sheets::{Failed, Rows};
use crate::terminal::{self, say, shown};
use crate::{drills, output};

pub fn run(args: &args::Sweep) -> Result<Done, Failure> {
    let output = args.rows.file();
    if let Some(output) = output {
        output::spares(output, &[&args.file])?;
    }
    let mut subject = Subject::read(&args.file)?;
    let chosen = drills::some(&subject.plan, &args.drill, &subject.source.name)?;
    subject.record(&chosen)?;
    let sweep = sweep(args, &subject)?;
    let shard = match args.shard {
        Some(shard) => Some(shard),
        None if output.is_some() => job_array::shard(&|name| env::var(name).ok())?,
        None => None,
    };
    if shard.is_some() && args.rows.format != RowFormat::Jsonl {
        return Err(
            Failure::new("a shard is written as JSON Lines, which merge puts together")
                .help("add --format jsonl"),
        );
    }
    let sheet = sweep.sheet().of_shard(shard);
    rows::check(&args.rows, &sheet)?;
    if let Some(threads) = args.threads {
        let pool = rayon::ThreadPoolBuilder::new().num_threads(threads.into());
        // The only pool of the process, which nobody has built before.
        let _ = pool.build_global();
    }
    let stop = subject::interrupt();
    match output {
        Some(output) => into_file(args, &sweep, &sheet, output, &stop),
        None => onto_screen(args, &sweep, &sheet, &stop),
    }
}

/// The sweep that the arguments ask for.
fn sweep(args: &args::Sweep, subject: &Subject) -> Result<Sweep, Failure> {
    let axes: Result<Vec<Axis>, VaryError> = args.vary.iter().map(|text| text.parse()).collect();
    let axes = axes.map_err(|error| Failure::of(&error, error.help()))?;
    let measures: Result<Vec<_>, Failure> = args
        .measure
        .iter()
        .map(|text| measure(text, subject))
        .collect();
    let samples = args.samples.map(|count| Samples {
        count,
        spread: match args.spread {
            SpreadName::Latin => Spread::Latin,
            SpreadName::Sobol => Spread::Sobol,
        },
        seed: args.seed,
    });
    let setup = Setup {
        axes,
        drills: subject.names(&args.drill),
        measures: measures?,
        samples,
    };
    Sweep::new(&subject.encounter, &subject.plan, setup)
        .map_err(|error| Failure::of(&error, error.help()))
}

/// A measure and its name: what stands before a colon, else what it measures.
fn measure(text: &str, subject: &Subject) -> Result<(String, Measure), Failure> {
    let plain = |name: &str| !name.is_empty() && !name.contains(['=', '{', '"', '\'']);
    let (name, words) = match text.split_once(':') {
        Some((name, words)) if plain(name.trim()) => (Some(name.trim()), words),
        _ => (None, text),
    };
    let mut read = Measure::read(words);
    let resolved = read.resolve(&subject.plan);
    let measure = subject::value("--measure", read)?;
    let said = resolved.map(|resolved| resolved.said(&subject.plan));
    Ok((
        name.map(str::to_owned).or(said).unwrap_or_default(),
        measure,
    ))
}

fn into_file(
    args: &args::Sweep,
    sweep: &Sweep,
    sheet: &Sheet,
    output: &Path,
    stop: &AtomicBool,
) -> Result<Done, Failure> {
    let mut journal = match Journal::open(output, sheet, args.resume)? {
        Found::Begun(journal) => journal,
        Found::Whole => {
            say(format_args!("{} has all its rows already", shown(output)));
            return Ok(Done::Well);
        }
    };
    let cells = sheet.range();
    let bar = Bar::new(cells.end - cells.start, "cells");
    bar.at(journal.next - cells.start);
    let from = journal.next;
    let next = sweep.run(from..cells.end, stop, |next, rows| {
        bar.at(next - cells.start);
        journal.add(sheet, &rows)
    })?;
    bar.finish();
    journal.failed.say();
    if next < cells.end {
        let (done, all) = (next - cells.start, cells.end - cells.start);
        say(format_args!(
            "interrupted: {done} of {all} cells are kept; run the same command with --resume to go on"
        ));
        return Ok(Done::Interrupted);
    }
    if args.rows.format == RowFormat::Jsonl && args.rows.plot.is_none() {
        journal.becomes(output)?;
        return Ok(Done::Well);
    }
    rows::write(&args.rows, sheet, &mut |take| journal.read(take))?;
    journal.remove()?;
    Ok(Done::Well)
}

fn onto_screen(
    args: &args::Sweep,
    sweep: &Sweep,
    sheet: &Sheet,
    stop: &AtomicBool,
) -> Result<Done, Failure> {
    let mut out = terminal::out();
    let mut chart = args
        .rows
        .plot
        .is_some()
        .then(|| rows::chart(&args.rows, sheet))
        .transpose()?;
    let mut rows = match args.rows.format {
        RowFormat::Jsonl => Rows::jsonl(&mut out, sheet)?,
        RowFormat::Csv => Rows::csv(&mut out, sheet)?,
        RowFormat::Table | RowFormat::Parquet => Rows::table(&mut out, sheet),
    };
    let cells = sheet.range();
    let bar = Bar::new(cells.end, "cells");
    let mut failed = Failed::default();
    let next = sweep.run(cells.clone(), stop, |next, new: Vec<Row>| {
        for row in &new {
            rows.add(&sheet.columns, row)?;
            failed.count(&sheet.columns, row);
            if let Some(chart) = &mut chart {
                chart.add(row);
            }
        }
        // Those who read along see them as they come.
        rows.flush()?;
        bar.at(next);
        Ok::<(), Failure>(())
    })?;
    bar.finish();
    rows.finish()?;
    out.flush()?;
    failed.say();
    if next < cells.end {
        say(format_args!(
            "interrupted after {next} of {} cells; with -o OUT what is finished is kept, and --resume goes on",
            cells.end
        ));
        return Ok(Done::Interrupted);
    }
    if let (Some(path), Some(chart)) = (&args.rows.plot, chart) {
        rows::draw(&args.rows, path, &chart)?;
    }
    Ok(Done::Well)
}
