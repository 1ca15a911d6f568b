//! `tin-crown why`.

use std::io::Write;

use anstyle::{AnsiColor, Style};
use tin_crown::study::{self, Account, Asked, Came, Question, Step, Why};
use tin_crown::{Tick, Ticks};

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
    let plan = source.record(&plan, &[drill])?;
    let who = replay::chosen(&plan, "--who", &args.who)?;
    let rule = match &args.rule {
        None => None,
        Some(name) => Some(
            plan.rule(name)
                .map_err(|error| Failure::new(format!("--rule: {error}")))?,
        ),
    };
    let when = args.when.map(|when| Tick(when.ticks(plan.rate()).0));
    if let Some(when) = when {
        let last = plan.drills()[drill.index()].last();
        if when > last {
            let seconds = last.seconds(plan.rate());
            return Err(Failure::new(format!("the drill ends before tick {when}"))
                .help(format!("ask about a time up to {seconds:.3}s")));
        }
    }
    let replaying = |error| Failure::replaying(&source.name, &error);
    let mut out = terminal::out();
    let json = match &args.whom {
        Some(whom) => {
            let whom = replay::chosen(&plan, "--whom", whom)?;
            let question = Question {
                who: &who,
                whom: &whom,
                rule,
                when,
            };
            let answer = study::why(&plan, drill, &question).map_err(replaying)?;
            match args.format {
                StudyFormat::Text => {
                    print(&mut out, &answer, plan.rate())?;
                    None
                }
                StudyFormat::Json => Some(serde_json::to_value(&answer)),
            }
        }
        None => {
            let answer = study::account(&plan, drill, &who, when).map_err(replaying)?;
            match args.format {
                StudyFormat::Text => {
                    accounts(&mut out, &answer, when, plan.rate())?;
                    None
                }
                StudyFormat::Json => Some(serde_json::to_value(&answer)),
            }
        }
    };
    if let Some(json) = json {
        let json = json.map_err(std::io::Error::from)?;
        writeln!(out, "{}", terminal::json(&json))?;
    }
    out.flush()?;
    Ok(Done::Well)
}

/// How many actors are accounted for in text; JSON has all.
const MOST: usize = 20;

fn accounts(
    out: &mut impl Write,
    accounts: &[Account],
    when: Option<Tick>,
    rate: u32,
) -> Result<(), Failure> {
    if accounts.is_empty() {
        writeln!(out, "nobody of that name was ever there")?;
    }
    for (nth, account) in accounts.iter().take(MOST).enumerate() {
        if nth > 0 {
            writeln!(out)?;
        }
        match when {
            Some(when) => {
                let seconds = when.seconds(rate);
                writeln!(
                    out,
                    "{BOLD}{} at {seconds:.3} s (tick {when}){BOLD:#}",
                    account.who
                )?;
            }
            None => writeln!(out, "{BOLD}{}{BOLD:#}", account.who)?,
        }
        if account.tells.is_empty() {
            writeln!(
                out,
                "  nothing to explain but its hits; ask about those with --whom"
            )?;
        }
        let mut topic = None;
        for tell in &account.tells {
            let name = match topic == Some(tell.topic) {
                true => "",
                false => tell.topic.as_str(),
            };
            topic = Some(tell.topic);
            writeln!(out, "  {name:<7} {}", tell.says)?;
            checks(out, &tell.checks, "          ")?;
            causes(out, &tell.causes, rate, "          ")?;
        }
    }
    if let Some(more) = accounts.len().checked_sub(MOST).filter(|more| *more > 0) {
        writeln!(out, "\n{more} more; --format json tells of all")?;
    }
    Ok(())
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
            _ => format!("on {}", Ticks(came.ticks).in_words()),
        };
        writeln!(out, "  the same {often}, last at {last:.3} s")?;
    }
    checks(out, &came.checks, "  ")?;
    if let Some(change) = &came.change {
        writeln!(out, "  to change it: {change}")?;
    }
    causes(out, &came.causes, rate, "  ")
}

fn checks(out: &mut impl Write, checks: &[Asked], indent: &str) -> Result<(), Failure> {
    for check in checks {
        let (mark, style) = if check.passed {
            ("✓", PASSED)
        } else {
            ("✗", FAILED)
        };
        let check_name = check.check;
        writeln!(
            out,
            "{indent}{style}{mark} {check_name:<11}{style:#} {}",
            check.says
        )?;
    }
    Ok(())
}

fn causes(out: &mut impl Write, steps: &[Step], rate: u32, indent: &str) -> Result<(), Failure> {
    for step in steps {
        let seconds = f64::from(step.tick) / f64::from(rate);
        writeln!(
            out,
            "{indent}{} line {} at {seconds:.3} s: {}",
            if step.cause { "because of" } else { "after" },
            step.line,
            step.says
        )?;
    }
    Ok(())
}
