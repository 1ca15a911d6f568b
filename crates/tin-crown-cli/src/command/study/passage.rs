//! `tin-crown study passage`.

use std::collections::BTreeMap;
use std::io::Write;

use anstyle::Style;
use serde_json::json;
use tin_crown::study::{Attempt, Passage, PassageSetup, passage};
use tin_crown_picture::PassageStrip;

use super::subject::{Subject, Watched};
use crate::args::{self, StudyFormat};
use crate::failure::{Done, Failure};
use crate::picture::{self, Picture};
use crate::terminal::say;
use crate::{drills, table, terminal};

const BOLD: Style = Style::new().bold();
const DIM: Style = Style::new().dimmed();
/// How wide the strip is on a terminal.
const WIDE: usize = 72;

pub fn run(args: &args::Passage) -> Result<Done, Failure> {
    let picture = args.strip.as_deref().map(Picture::new).transpose()?;
    let subject = Subject::read(&args.file)?;
    let plan = &subject.plan;
    let index = drills::one(plan, args.drill.as_deref(), &subject.source.name)?;
    let mut setup = PassageSetup::new(plan, plan.drills()[index.index()].name());
    if let Some(cap) = args.cap {
        setup.cap = cap.ticks(plan.rate());
    }
    let mut watched = Watched::new("starts");
    let found = passage(&subject.encounter, plan, &setup, &mut |done, all| {
        watched.goes_on(done, all)
    });
    watched.finish();
    if watched.is_stopped() {
        say("interrupted: nothing is kept");
        return Ok(Done::Interrupted);
    }
    let passage = found.map_err(|error| Failure::new(error.to_string()))?;
    let mut out = terminal::out();
    match args.format {
        StudyFormat::Text => print(&mut out, plan.title(), &passage, setup.cap.0)?,
        StudyFormat::Json => {
            let json = json!({
                "passage": passage,
                "stretches": passage.stretches(),
                "narrowest": passage.narrowest(),
            });
            writeln!(out, "{}", terminal::json(&json))?;
        }
    }
    out.flush()?;
    if let Some(picture) = picture {
        let strip = PassageStrip::new(plan.title(), &passage);
        picture.write(&strip.svg(&picture::look(args.theme)))?;
    }
    Ok(Done::Well)
}

fn print(out: &mut impl Write, title: &str, passage: &Passage, cap: u32) -> Result<(), Failure> {
    let seconds = |ticks: u32| f64::from(ticks) / f64::from(passage.rate);
    writeln!(
        out,
        "{BOLD}{title}{BOLD:#}\ndrill {}: when its start gets through unhurt\n",
        passage.drill
    )?;
    let cycle = &passage.cycle;
    match cycle.period {
        Some(period) => {
            let settles = match cycle.settles.0 {
                0 => String::new(),
                ticks => format!(", from tick {ticks} on"),
            };
            writeln!(
                out,
                "hazards repeat every {period} ({:.3} s){settles}",
                seconds(period.0)
            )?;
        }
        None if cycle.without.is_empty() => {
            writeln!(
                out,
                "the common cycle is longer than {cap}t, the cap: starts over so long were tried"
            )?;
        }
        None => writeln!(
            out,
            "no common cycle within {cap}t, the cap: starts over so long were tried\n  never repeats: {}",
            cycle.without.join(", ")
        )?,
    }
    for (id, period) in &cycle.each {
        writeln!(out, "  {DIM}{id}: every {period}{DIM:#}")?;
    }
    writeln!(out, "\n{}", strip(passage))?;
    writeln!(
        out,
        "{DIM}start 0 to {}t; # gets through, . hurt, w hurt while waiting, - not won{DIM:#}\n",
        passage.starts.len() - 1
    )?;
    let stretches = passage.stretches();
    if stretches.is_empty() {
        writeln!(out, "no start gets through")?;
    } else {
        let mut rows = table::plain(&["start from", "to", "ticks", "seconds"], &[0, 1, 2, 3]);
        for [from, to] in &stretches {
            let long = to - from + 1;
            rows.add_row([
                format!("{from}t"),
                format!("{to}t"),
                long.to_string(),
                format!("{:.3} to {:.3}", seconds(*from), seconds(*to)),
            ]);
        }
        writeln!(out, "{}", table::lines(&rows))?;
        let through = passage
            .starts
            .iter()
            .filter(|start| **start == Attempt::Through)
            .count();
        let share = 100.0 * through as f64 / passage.starts.len() as f64;
        writeln!(
            out,
            "\n{through} of {} starts get through ({share:.1} %); the narrowest gap is {}",
            passage.starts.len(),
            passage.narrowest().unwrap_or_default().in_words()
        )?;
    }
    blame(out, passage)
}

/// Who hurts how many of the starts.
fn blame(out: &mut impl Write, passage: &Passage) -> Result<(), Failure> {
    let mut by: BTreeMap<&str, u32> = BTreeMap::new();
    for start in &passage.starts {
        match start {
            Attempt::Hurt { who, .. } | Attempt::Waiting { who, .. } => {
                *by.entry(who).or_default() += 1
            }
            Attempt::Failed(why) => *by.entry(why).or_default() += 1,
            Attempt::Through | Attempt::Short => {}
        }
    }
    let mut by: Vec<(&str, u32)> = by.into_iter().collect();
    by.sort_by_key(|(who, count)| (std::cmp::Reverse(*count), *who));
    if !by.is_empty() {
        let told: Vec<String> = by
            .iter()
            .map(|(who, count)| format!("{who} {count}"))
            .collect();
        writeln!(out, "starts hurt first by: {}", told.join(", "))?;
    }
    Ok(())
}

/// The starts, each a letter, or where there are many each letter the worst of several.
fn strip(passage: &Passage) -> String {
    let each = passage.starts.len().div_ceil(WIDE).max(1);
    let letter = |start: &Attempt| match start {
        Attempt::Through => (0, '#'),
        Attempt::Short => (1, '-'),
        Attempt::Hurt { .. } => (2, '.'),
        Attempt::Waiting { .. } | Attempt::Failed(_) => (3, 'w'),
    };
    let some = passage.starts.chunks(each);
    some.filter_map(|some| some.iter().map(letter).max())
        .map(|(_, letter)| letter)
        .collect()
}
