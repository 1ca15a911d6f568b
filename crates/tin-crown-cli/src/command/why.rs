//! `tin-crown why`.

use std::io::Write;

use anstyle::{AnsiColor, Style};
use tin_crown::Tick;
use tin_crown::study::{self, Came, Question, Why};

use super::replay;
use crate::args::{StudyFormat, Why as Arguments};
use crate::failure::{Done, Failure};
use crate::{drills, source, terminal};

const BOLD: Style = Style::new().bold();
const PASSED: Style = AnsiColor::Green.on_default();
const FAILED: Style = AnsiColor::Red.on_default().bold();

pub fn run(args: &Arguments) -> Result<Done, Failure> {
    let source = source::read(&args.file)?;
    let plan = source.plan()?;
    let drill = drills::one(&plan, args.drill.as_deref(), &source.name)?;
    let (who, whom) = (
        replay::chosen(&plan, "--who", &args.who)?,
        replay::chosen(&plan, "--whom", &args.whom)?,
    );
    let rule = match &args.rule {
        None => None,
        Some(name) => Some(
            plan.rule(name)
                .map_err(|error| Failure::new(format!("--rule: {error}")))?,
        ),
    };
    let question = Question {
        who: &who,
        whom: &whom,
        rule,
        when: args.when.map(|when| Tick(when.ticks(plan.rate()).0)),
    };
    if let Some(when) = question.when {
        let last = plan.drills()[drill.index()].last();
        if when > last {
            let seconds = last.seconds(plan.rate());
            return Err(Failure::new(format!("the drill ends before tick {when}"))
                .help(format!("ask about a time up to {seconds:.3}s")));
        }
    }
    let answer = study::why(&plan, drill, &question)
        .map_err(|error| Failure::replaying(&source.name, &error))?;
    let mut out = terminal::out();
    match args.format {
        StudyFormat::Text => print(&mut out, &answer, plan.rate())?,
        StudyFormat::Json => {
            let answer = serde_json::to_value(&answer).map_err(std::io::Error::from)?;
            writeln!(out, "{}", terminal::json(&answer))?;
        }
    }
    out.flush()?;
    Ok(Done::Well)
}

fn print(out: &mut impl Write, answer: &Why, rate: u32) -> Result<(), Failure> {
    for (nth, came) in answer.came.iter().enumerate() {
        if nth > 0 {
            writeln!(out)?;
        }
        one(out, came, rate)?;
    }
    for says in answer.apart.iter().flat_map(|apart| &apart.says) {
        writeln!(out, "{says}")?;
    }
    Ok(())
}

fn one(out: &mut impl Write, came: &Came, rate: u32) -> Result<(), Failure> {
    writeln!(out, "{BOLD}{}{BOLD:#}", came.says)?;
    if came.ticks > 1 {
        let last = f64::from(came.last) / f64::from(rate);
        let often = match came.verdict {
            "landed" | "guarded" => format!("{} times", came.ticks),
            _ => format!("on {} ticks", came.ticks),
        };
        writeln!(out, "  the same {often}, last at {last:.3} s")?;
    }
    for check in &came.checks {
        let (mark, style) = if check.passed {
            ("✓", PASSED)
        } else {
            ("✗", FAILED)
        };
        let check_name = check.check;
        writeln!(
            out,
            "  {style}{mark} {check_name:<11}{style:#} {}",
            check.says
        )?;
    }
    if let Some(change) = &came.change {
        writeln!(out, "  to change it: {change}")?;
    }
    for step in &came.causes {
        let seconds = f64::from(step.tick) / f64::from(rate);
        writeln!(
            out,
            "  {} line {} at {seconds:.3} s: {}",
            if step.cause { "because of" } else { "after" },
            step.line,
            step.says
        )?;
    }
    Ok(())
}
