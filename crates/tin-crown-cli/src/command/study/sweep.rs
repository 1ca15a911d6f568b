//! `tin-crown study sweep`.

use std::env;
use std::io::Write;
use std::path::Path;
use std::sync::atomic::AtomicBool;

use tin_crown::encounter::Measure;
use tin_crown::study::{Axis, Row, Samples, Setup, Shard, Sheet, Spread, Sweep};

use super::journal::{Found, Journal};
use super::rows;
use super::subject::{self, Subject};
use crate::args::{self, RowFormat, SpreadName};
use crate::failure::{Done, Failure};
use crate::progress::Bar;
use crate::sheets::Rows;
use crate::terminal::{self, say, shown};
use crate::{drills, output};

/// What job arrays call the number of a task, its least and its greatest number, or how many there are: of engines
/// for clusters, and of programs that start one process for each core.
const ARRAYS: [[&str; 4]; 4] = [
    [
        "SLURM_ARRAY_TASK_ID",
        "SLURM_ARRAY_TASK_MIN",
        "SLURM_ARRAY_TASK_MAX",
        "",
    ],
    ["JOB_COMPLETION_INDEX", "", "", "JOB_COMPLETIONS"],
    ["SGE_TASK_ID", "SGE_TASK_FIRST", "SGE_TASK_LAST", ""],
    ["PBS_ARRAY_INDEX", "", "", "PBS_ARRAY_COUNT"],
];

pub fn run(args: &args::Sweep) -> Result<Done, Failure> {
    let output = args.rows.output.as_deref();
    if let Some(output) = output {
        output::spares(output, &[&args.file])?;
    }
    let mut subject = Subject::read(&args.file)?;
    let chosen = drills::some(&subject.plan, &args.drill, &subject.source.name)?;
    subject.record(&chosen)?;
    let sweep = sweep(args, &subject)?;
    let shard = match args.shard {
        Some(shard) => Some(shard),
        None if output.is_some() => told(&|name| env::var(name).ok())?,
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
    let axes: Result<Vec<Axis>, _> = args.vary.iter().map(|text| text.parse()).collect();
    let axes = axes.map_err(|error: tin_crown::study::VaryError| {
        let failure = Failure::new(error.to_string());
        match error.help() {
            Some(help) => failure.help(help),
            None => failure,
        }
    })?;
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
        drills: args.drill.clone(),
        measures: measures?,
        samples,
    };
    Sweep::new(&subject.encounter, &subject.plan, setup).map_err(|error| {
        let failure = Failure::new(error.to_string());
        match error.help() {
            Some(help) => failure.help(help),
            None => failure,
        }
    })
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

/// The shard that the variables of a job array say, if this is a task of one.
fn told(variable: &dyn Fn(&str) -> Option<String>) -> Result<Option<Shard>, Failure> {
    let number = |name: &str| -> Result<Option<u64>, Failure> {
        let Some(text) = variable(name).filter(|_| !name.is_empty()) else {
            return Ok(None);
        };
        let number = text.parse().map_err(|_| {
            Failure::new(format!("{name} is `{text}`, which is no number of a task"))
                .help("say --shard K/N")
        });
        number.map(Some)
    };
    for [task, least, most, count] in ARRAYS {
        // Some engines set it to a word where there is no array.
        if variable(task).is_none_or(|text| text == "undefined") {
            continue;
        }
        let Some(task_number) = number(task)? else {
            continue;
        };
        let first = number(least)?.unwrap_or(match task {
            "PBS_ARRAY_INDEX" => 1,
            _ => 0,
        });
        let of = match (number(most)?, number(count)?) {
            (Some(most), _) => most.checked_sub(first).map(|span| span + 1),
            (None, count) => count,
        };
        let shard = of.and_then(|of| Shard::new(task_number.checked_sub(first)? + 1, of).ok());
        return match shard {
            Some(shard) => Ok(Some(shard)),
            None => Err(Failure::new(format!(
                "{task} is {task_number}, but how many tasks there are is not told"
            ))
            .help("say --shard K/N")),
        };
    }
    Ok(None)
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
    let next = sweep.run(cells.clone(), stop, |next, new: Vec<Row>| {
        for row in &new {
            rows.add(&sheet.columns, row)?;
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

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_variables_of_job_arrays_say_the_shard() {
        let cases: [(&[(&str, &str)], Option<&str>); 8] = [
            (&[], None),
            (
                &[
                    ("SLURM_ARRAY_TASK_ID", "5"),
                    ("SLURM_ARRAY_TASK_MIN", "1"),
                    ("SLURM_ARRAY_TASK_MAX", "8"),
                ],
                Some("5/8"),
            ),
            (
                &[
                    ("SLURM_ARRAY_TASK_ID", "0"),
                    ("SLURM_ARRAY_TASK_MIN", "0"),
                    ("SLURM_ARRAY_TASK_MAX", "7"),
                ],
                Some("1/8"),
            ),
            (
                &[("JOB_COMPLETION_INDEX", "3"), ("JOB_COMPLETIONS", "4")],
                Some("4/4"),
            ),
            (&[("SGE_TASK_ID", "undefined")], None),
            (
                &[
                    ("SGE_TASK_ID", "2"),
                    ("SGE_TASK_FIRST", "1"),
                    ("SGE_TASK_LAST", "2"),
                ],
                Some("2/2"),
            ),
            (&[("JOB_COMPLETION_INDEX", "3")], Some("error")),
            (&[("SLURM_ARRAY_TASK_ID", "five")], Some("error")),
        ];
        for (variables, shard) in cases {
            let variable = |name: &str| {
                let found = variables.iter().find(|(own, _)| *own == name);
                found.map(|(_, value)| (*value).to_owned())
            };
            let told = match told(&variable) {
                Ok(told) => told.map(|shard| shard.to_string()),
                Err(_) => Some("error".to_owned()),
            };
            assert_eq!(told.as_deref(), shard, "{variables:?}");
        }
    }
}
