//! `tin-crown study search`.

use std::io::Write;

use anstyle::Style;
use serde_json::json;
use tin_crown::study::{Aim, Found, SearchSetup, search};
use tin_crown::{Drill, Expectation, Plan};

use super::subject::{self, Subject, Watched};
use crate::args::{self, StudyFormat};
use crate::failure::{Done, Failure};
use crate::source::is_dash;
use crate::terminal::{say, shown};
use crate::{drills, output, terminal};

const BOLD: Style = Style::new().bold();

pub fn run(args: &args::Search) -> Result<Done, Failure> {
    if let Some(output) = &args.output {
        output::spares(output, &[&args.file])?;
    }
    let mut subject = Subject::read(&args.file)?;
    let index = drills::one(&subject.plan, args.drill.as_deref(), &subject.source.name)?;
    subject.record(&[index])?;
    let plan = &subject.plan;
    let name = plan.drills()[index.index()].name().to_owned();
    let aim = aim(args, plan)?;
    let setup = SearchSetup {
        budget: args.budget,
        seed: args.seed,
        buttons: args.buttons.clone(),
        reseeds: args.reseed,
        ..SearchSetup::new(&name, aim)
    };
    let mut watched = Watched::new("runs");
    let found = search(&subject.encounter, plan, &setup, &mut |done, all| {
        watched.goes_on(done, all)
    });
    watched.finish();
    if watched.is_stopped() {
        say("interrupted: nothing found up to then");
        return Ok(Done::Interrupted);
    }
    let search = found.map_err(|error| {
        let known: Vec<String> = expectations(&subject, index);
        let failure = Failure::new(error.to_string());
        match (&setup.aim, known.is_empty()) {
            (Aim::Break(_), false) => {
                failure.help(format!("it expects:\n    {}", known.join("\n    ")))
            }
            _ => failure,
        }
    })?;
    let mut out = terminal::out();
    let drill_name = subject.encounter.free_drill(&format!("{name}-found"));
    match (&search.found, args.format) {
        (found, StudyFormat::Json) => {
            let json = json!({
                "drill": name,
                "runs": search.runs,
                "novelties": search.novelties,
                "found": found.as_ref().map(|found| json!({
                    "run": found.run,
                    "presses": found.presses,
                    "shrinking": found.shrinking,
                    "name": drill_name,
                    "toml": found.drill.to_toml(&drill_name),
                })),
            });
            writeln!(out, "{}", terminal::json(&json))?;
        }
        (None, StudyFormat::Text) => {
            writeln!(
                out,
                "nothing found in {} runs ({} different things happened in them): that is no proof that there is \
                 nothing",
                search.runs, search.novelties
            )?;
        }
        // The encounter goes there instead.
        (Some(_), StudyFormat::Text) if args.output.as_deref().is_some_and(is_dash) => {}
        (Some(found), StudyFormat::Text) => print(&mut out, found, &drill_name)?,
    }
    if let (Some(found), Some(path)) = (&search.found, &args.output) {
        write(&subject, found, &drill_name, path)?;
        if !is_dash(path) {
            let path = shown(path);
            say(format_args!(
                "replay it: tin-crown replay {path} --drill {drill_name}"
            ));
        }
    }
    out.flush()?;
    // A way that breaks what is expected is a failed check.
    Ok(match (&search.found, &setup.aim) {
        (Some(_), Aim::Break(_)) => Done::Failed,
        _ => Done::Well,
    })
}

/// What the inputs are to do.
fn aim(args: &args::Search, plan: &Plan) -> Result<Aim, Failure> {
    if let Some(number) = args.breaks {
        return Ok(Aim::Break(number));
    }
    let goals = args.goal.iter().map(|text| {
        let mut read = Expectation::read(text);
        read.resolve(plan);
        subject::value("--goal", read)
    });
    Ok(Aim::Reach(goals.collect::<Result<_, _>>()?))
}

/// What a drill expects, by its numbers.
fn expectations(subject: &Subject, index: tin_crown::plan::DrillIx) -> Vec<String> {
    let own = subject.plan.expectations().of(index).enumerate();
    own.map(|(nth, own)| format!("{} {}", nth + 1, own.said(&subject.plan)))
        .collect()
}

fn print(out: &mut impl Write, found: &Found, name: &str) -> Result<(), Failure> {
    let count = found.drill.input.len();
    let inputs = if count == 1 { "input" } else { "inputs" };
    writeln!(
        out,
        "{BOLD}found in run {}{BOLD:#}, with {} presses; shrunk to {count} {inputs} in {} more runs\n",
        found.run, found.presses, found.shrinking
    )?;
    write!(out, "{}", found.drill.to_toml(name))?;
    Ok(())
}

/// Writes the encounter with the drill that was found.
fn write(
    subject: &Subject,
    found: &Found,
    name: &str,
    path: &std::path::Path,
) -> Result<(), Failure> {
    let text = match tin_crown::Format::guess(&subject.source.text) {
        tin_crown::Format::Toml => {
            let text = subject.source.text.trim_end();
            format!("{text}\n\n{}", found.drill.to_toml(name))
        }
        tin_crown::Format::Json => {
            let encounter = subject
                .encounter
                .clone()
                .drill(name, Drill::clone(&found.drill));
            encounter.to_json()
        }
    };
    if is_dash(path) {
        let mut out = terminal::out();
        out.write_all(text.as_bytes())?;
        return Ok(out.flush()?);
    }
    output::write(path, text.as_bytes())
}
