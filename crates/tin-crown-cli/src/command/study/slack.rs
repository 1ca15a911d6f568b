//! `tin-crown study slack`.

use std::io::Write;

use anstyle::Style;
use tin_crown::study::{InputSlack, Slack, SlackSetup, Window, slack};
use tin_crown::{Plan, Tick};
use tin_crown_picture::{Film, Timeline};

use super::subject::{Subject, Watched};
use crate::args::{self, StudyFormat};
use crate::failure::{Done, Failure};
use crate::picture::{self, Picture};
use crate::terminal::say;
use crate::{drills, table, terminal};

const BOLD: Style = Style::new().bold();
const DIM: Style = Style::new().dimmed();

pub fn run(args: &args::Slack) -> Result<Done, Failure> {
    let picture = args.timeline.as_deref().map(Picture::new).transpose()?;
    let mut subject = Subject::read(&args.file)?;
    let index = drills::one(&subject.plan, args.drill.as_deref(), &subject.source.name)?;
    subject.record(&[index])?;
    let plan = &subject.plan;
    let name = plan.drills()[index.index()].name();
    let setup = SlackSetup {
        reach: args.reach.map_or(tin_crown::Ticks(plan.rate()), |reach| {
            reach.ticks(plan.rate())
        }),
        runs: args.runs,
        wander: args.wander.clone(),
        seed: args.seed,
        ..SlackSetup::new(plan, name)
    };
    let mut watched = Watched::new("runs");
    let found = slack(&subject.encounter, plan, &setup, &mut |done, all| {
        watched.goes_on(done, all)
    });
    watched.finish();
    let slack = match found {
        Ok(slack) => slack,
        Err(_) if watched.is_stopped() => {
            say("interrupted: nothing is kept");
            return Ok(Done::Interrupted);
        }
        Err(error) => return Err(Failure::of(&error, error.help())),
    };
    let mut out = terminal::out();
    match args.format {
        StudyFormat::Text => print(&mut out, plan, &slack)?,
        StudyFormat::Json => {
            let json =
                serde_json::to_value(&slack).map_err(|error| Failure::new(error.to_string()))?;
            writeln!(out, "{}", terminal::json(&json))?;
        }
    }
    out.flush()?;
    if let Some(picture) = picture {
        let film = Film::shoot(plan, index).map_err(|error| Failure::new(error.to_string()))?;
        let svg = Timeline::new(&film)
            .slack(&slack)
            .svg(&picture::look(args.theme));
        picture.write(&svg)?;
    }
    Ok(Done::Well)
}

fn print(out: &mut impl Write, plan: &Plan, slack: &Slack) -> Result<(), Failure> {
    writeln!(
        out,
        "{BOLD}{}{BOLD:#}\ndrill {}: how many ticks each input may be off with every expectation still met",
        plan.title(),
        slack.drill
    )?;
    if !slack.missed.is_empty() {
        let missed: Vec<String> = slack.missed.iter().map(usize::to_string).collect();
        writeln!(out, "as it is, it misses expectation {}", missed.join(", "))?;
    }
    let several = slack
        .inputs
        .iter()
        .any(|input| input.who != slack.inputs[0].who);
    let mut heads = vec![
        "input", "at", "earlier", "later", "for", "shorter", "longer", "also met",
    ];
    if several {
        heads.insert(0, "who");
    }
    let numbers: Vec<usize> = (heads.len() - 7..heads.len() - 1).collect();
    let mut rows = table::plain(&heads, &numbers);
    for input in &slack.inputs {
        let mut cells = cells(plan, input);
        if several {
            cells.insert(0, input.who.clone());
        }
        rows.add_row(cells);
    }
    writeln!(out, "\n{}", table::lines(&rows))?;
    let reach = slack.reach.in_words();
    writeln!(
        out,
        "\n{DIM}up to {reach} each way were tried; + is met as far as that, - is never met{DIM:#}"
    )?;
    if !slack.wander.is_empty() {
        writeln!(out, "\n{BOLD}All inputs wander{BOLD:#}")?;
        let mut rows = table::plain(&["by", "runs met", "share", "95 % interval"], &[0, 1, 2, 3]);
        for own in &slack.wander {
            let share = f64::from(own.met) / f64::from(own.runs.max(1));
            let [low, high] = own.interval.map(|share| share * 100.0);
            rows.add_row([
                format!("± {}t", own.by),
                format!("{} of {}", own.met, own.runs),
                format!("{:.1} %", share * 100.0),
                format!("{low:.1} to {high:.1} %"),
            ]);
        }
        writeln!(out, "{}", table::lines(&rows))?;
    }
    Ok(())
}

fn cells(plan: &Plan, input: &InputSlack) -> Vec<String> {
    let Tick(tick) = input.tick;
    let (earlier, later) = sides(&input.when);
    let held = input.held.as_ref().map(sides);
    let (shorter, longer) = held.unwrap_or_else(|| ("".to_owned(), "".to_owned()));
    let also: Vec<String> = input
        .when
        .others()
        .map(|stretch| stretch_of("begun", stretch))
        .collect();
    let held = input.held.iter().flat_map(Window::others);
    let also: Vec<String> = also
        .into_iter()
        .chain(held.map(|stretch| stretch_of("held", stretch)))
        .collect();
    const TOLD: usize = 3;
    let more = if also.len() > TOLD { ", …" } else { "" };
    let told: Vec<&str> = also.iter().take(TOLD).map(String::as_str).collect();
    vec![
        input.what.clone(),
        format!("{:.3} s", Tick(tick).seconds(plan.rate())),
        earlier,
        later,
        input
            .length
            .map_or(String::new(), |length| length.to_string()),
        shorter,
        longer,
        told.join(", ") + more,
    ]
}

/// How much less and how much more.
fn sides(window: &Window) -> (String, String) {
    let Some([from, to]) = window.around() else {
        return ("-".to_owned(), "-".to_owned());
    };
    let [less, more] = window.open();
    let sign = |open: bool, far: i64| if open && far != 0 { "+" } else { "" };
    (
        format!("{}t{}", -from, sign(less, from)),
        format!("{to}t{}", sign(more, to)),
    )
}

/// A further stretch.
fn stretch_of(what: &str, [from, to]: [i64; 2]) -> String {
    match from == to {
        true => format!("{what} {from:+}t"),
        false => format!("{what} {from:+}t to {to:+}t"),
    }
}
