//! `tin-crown replay`.

use std::io::Write;
use std::sync::Arc;

use tin_crown::{ActorIx, DrillIx, Event, Plan, Replay, Selection, Selector, Tick};

use crate::args::{LedgerFormat, Replay as Arguments};
use crate::failure::{Done, Failure};
use crate::{output, progress, source, table};

pub fn run(args: &Arguments) -> Result<Done, Failure> {
    let source = source::read(&args.file)?;
    let plan = source.plan()?;
    let drills = drills(&plan, &args.drill, &source.name)?;
    if args.format == LedgerFormat::Csv && drills.len() > 1 {
        let names: Vec<&str> = plan
            .drills
            .iter()
            .map(|drill| drill.name.as_str())
            .collect();
        return Err(Failure::new("a CSV holds one drill")
            .help(format!("name it with --drill: {}", names.join(", "))));
    }
    let choice = Choice::new(&plan, args)?;
    match &args.output {
        Some(path) if !source::is_dash(path) => {
            let mut plain = anstream::StripStream::new(Vec::new());
            print(&mut plain, &plan, &drills, args.format, &choice)?;
            output::write(path, &plain.into_inner())?;
        }
        _ => {
            let mut out = std::io::BufWriter::new(anstream::stdout().lock());
            print(&mut out, &plan, &drills, args.format, &choice)?;
            out.flush()?;
        }
    }
    Ok(Done::Well)
}

/// The drills that were named, or all.
fn drills(plan: &Plan, names: &[String], file: &str) -> Result<Vec<DrillIx>, Failure> {
    if plan.drills.is_empty() {
        return Err(Failure::new(format!("{file} has no drill to replay"))
            .help("add one, for example:\n\n    [drill.look]\n    length = \"5s\""));
    }
    if names.is_empty() {
        return Ok(plan.all_drills().collect());
    }
    names
        .iter()
        .map(|name| {
            plan.drill(name)
                .map_err(|error| Failure::new(error.to_string()))
        })
        .collect()
}

/// Replays and prints drills.
pub fn print(
    out: &mut impl Write,
    plan: &Arc<Plan>,
    drills: &[DrillIx],
    format: LedgerFormat,
    choice: &Choice<'_>,
) -> Result<(), Failure> {
    for (nth, &drill) in drills.iter().enumerate() {
        let replay =
            progress::replay(plan, drill).map_err(|error| Failure::new(error.to_string()))?;
        let all = replay.ledger().events();
        let chosen = all.iter().filter(|event| choice.has(&replay, event));
        match format {
            LedgerFormat::Table => {
                if nth > 0 {
                    writeln!(out)?;
                }
                let chosen: Vec<&Event> = chosen.collect();
                table::print(out, &replay, &chosen, choice.narrows)?;
            }
            LedgerFormat::Jsonl => replay.write_jsonl(&mut *out, chosen)?,
            LedgerFormat::Csv => replay.write_csv(&mut *out, chosen)?,
        }
    }
    Ok(())
}

/// Which events are asked for.
#[derive(Default)]
pub struct Choice<'p> {
    who: Option<Chosen<'p>>,
    whom: Option<Chosen<'p>>,
    from: Option<Tick>,
    to: Option<Tick>,
    /// Whether anything is left out at all.
    narrows: bool,
}

/// Actors that are asked for.
enum Chosen<'p> {
    /// By a selector: they, and what they launched.
    Group(Selection<'p>),
    /// Something launched, by its id.
    Launched(String),
}

impl<'p> Choice<'p> {
    fn new(plan: &'p Plan, args: &Arguments) -> Result<Choice<'p>, Failure> {
        let select = |option: &str, text: &Option<String>| match text {
            None => Ok(None),
            // Only what is launched has two dots in its id.
            Some(text) if text.matches('.').count() > 1 => Ok(Some(Chosen::Launched(text.clone()))),
            Some(text) => {
                let fail = |what: String, help: String| {
                    Failure::new(format!("{option} {text}: {what}")).help(help)
                };
                let selector: Selector = text.parse().map_err(|error| {
                    fail(format!("{error}"), "give one actor or a group".into())
                })?;
                if selector.part.is_some() {
                    let what = "boxes cannot be chosen here".to_owned();
                    return Err(fail(what, format!("write {option} {}", selector.who)));
                }
                let found = plan.select(&selector.who);
                found
                    .map(|selection| Some(Chosen::Group(selection)))
                    .map_err(|error| fail(error.to_string(), error.help))
            }
        };
        let tick =
            |time: Option<tin_crown::Duration>| time.map(|time| Tick(time.ticks(plan.rate).0));
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
        let is = |chosen: &Chosen<'_>, actor: ActorIx| match chosen {
            Chosen::Group(selection) => replay.is_of(selection, actor),
            Chosen::Launched(id) => replay.id(actor) == id,
        };
        let among = |chosen: &Option<Chosen<'_>>, actor: Option<ActorIx>| {
            let chosen = chosen.as_ref();
            chosen.is_none_or(|chosen| actor.is_some_and(|actor| is(chosen, actor)))
        };
        among(&self.who, event.who)
            && among(&self.whom, event.whom)
            && self.from.is_none_or(|from| event.tick >= from)
            && self.to.is_none_or(|to| event.tick <= to)
    }
}
