//! `tin-crown report`.

use std::io::Write;
use std::path::Path;
use std::sync::Arc;

use tin_crown::plan::DrillIx;
use tin_crown::verify::{Measure, Trial};
use tin_crown::{Finding, Plan, Ticks, study};
use tin_crown_picture::{Expected, Note, Report, Take};

use super::against;
use crate::args::Report as Arguments;
use crate::failure::{Done, Failure};
use crate::source::{self, Source};
use crate::trial::Beside;
use crate::{drills, output, terminal};

pub fn run(args: &Arguments) -> Result<Done, Failure> {
    output::spares(&args.output, &[&args.file])?;
    let source = source::read(&args.file)?;
    let plan = source.plan()?;
    let drills = drills::some(&plan, &args.drill, &source.name)?;
    let plan = source.record(&plan, &drills)?;
    let beside = Beside::read(&source, &plan, None)?;
    let log = args.log.as_ref().map(Option::as_deref);
    let page = page(&source, &plan, &drills, &beside.measure(&source), log)?;
    if source::is_dash(&args.output) {
        let mut out = terminal::out();
        out.write_all(page.html.as_bytes())?;
        out.flush()?;
    } else {
        output::write(&args.output, page.html.as_bytes())?;
    }
    if page.missed > 0 {
        let missed = match page.missed {
            1 => "1 expectation is".to_owned(),
            missed => format!("{missed} expectations are"),
        };
        terminal::say(format_args!("{missed} not met; see the page"));
        return Ok(Done::Failed);
    }
    Ok(Done::Well)
}

/// A page, and how many expectations on it are not met.
pub struct Page {
    pub html: String,
    pub missed: usize,
}

pub fn page(
    source: &Source,
    plan: &Arc<Plan>,
    drills: &[DrillIx],
    measure: &Measure<'_>,
    log: Option<Option<&Path>>,
) -> Result<Page, Failure> {
    let fail = |error: tin_crown::ReplayError| Failure::replaying(&source.name, &error);
    let mut report = Report::new(plan).over(&source.checked.sheets);
    let mut missed = 0;
    for &drill in drills {
        let take = Take::shoot(plan, drill).map_err(fail)?;
        let trial = measure.trial(take.replay());
        missed += trial.failed();
        let named = plan.drills()[drill.index()].hit_log().is_some();
        match log.filter(|file| file.is_some() || named) {
            None => report.drill(take, expected(trial)),
            Some(file) => {
                let log = against::read(source, plan, drill, file)?;
                let against = study::against(take.replay(), &log, Ticks(0));
                let marks = against.marks(plan, &log);
                let lines = against::lines(&against, plan, &log);
                report.drill_against(take, expected(trial), (&marks, lines));
            }
        }
    }
    for finding in &source.checked.findings {
        report.note(note(source, finding));
    }
    Ok(Page {
        html: report.html(),
        missed,
    })
}

fn expected(trial: Trial) -> Vec<Expected> {
    let tests = trial.tests.into_iter();
    tests
        .map(|test| Expected {
            said: test.said,
            place: test.place,
            failed: test.failed,
        })
        .collect()
}

fn note(source: &Source, finding: &Finding) -> Note {
    let place = match finding.line_column {
        Some((line, _)) => format!("{}:{line}", source.name),
        None => source.name.clone(),
    };
    Note {
        severity: finding.severity,
        code: finding.code.to_string(),
        message: finding.message.clone(),
        help: finding.help.clone().unwrap_or_default(),
        place,
    }
}
