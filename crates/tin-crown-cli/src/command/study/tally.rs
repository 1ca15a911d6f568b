//! `tin-crown study tally`.

use std::io::Write;

use anstyle::{AnsiColor, Style};
use tin_crown::study::{AmmoSum, GuardSum, Means, Replayed, Sum, tally};
use tin_crown::{Amount, Ticks};

use super::subject::Subject;
use crate::args::{self, StudyFormat};
use crate::failure::{Done, Failure};
use crate::{table, terminal};

const BOLD: Style = Style::new().bold();
const DIM: Style = Style::new().dimmed();
const RED: Style = Style::new().fg_color(Some(anstyle::Color::Ansi(AnsiColor::Red)));

pub fn run(args: &args::Tally) -> Result<Done, Failure> {
    let subject = Subject::read(&args.file)?;
    let plan = &subject.plan;
    for (option, kind) in [("--who", &args.who), ("--whom", &args.whom)] {
        if let Some(kind) = kind
            && !plan.names().kinds().iter().any(|own| own == kind)
        {
            let known: Vec<&str> = plan.names().kinds().iter().collect();
            return Err(Failure::new(format!("{option}: there is no kind `{kind}`"))
                .help(format!("there are: {}", known.join(", "))));
        }
    }
    let mut tally = tally(&subject.encounter, plan);
    tally.sums.retain(|sum| {
        let made = match &sum.means {
            Means::Launcher { maker, .. } => Some(maker),
            _ => None,
        };
        let is =
            |asked: &Option<String>, own: &String| asked.as_ref().is_none_or(|asked| asked == own);
        (is(&args.who, &sum.who) || made.is_some_and(|made| is(&args.who, made)))
            && is(&args.whom, &sum.whom)
    });
    let mut out = terminal::out();
    match args.format {
        StudyFormat::Json => {
            let json =
                serde_json::to_value(&tally).map_err(|error| Failure::new(error.to_string()))?;
            writeln!(out, "{}", terminal::json(&json))?;
        }
        StudyFormat::Text => {
            writeln!(out, "{BOLD}{}{BOLD:#}", plan.title())?;
            writeln!(
                out,
                "{DIM}from the rules alone: always in reach, every gate passed, each start as early as it counts{DIM:#}\n"
            )?;
            overview(&mut out, &tally.sums, tally.rate)?;
            if !args.short {
                steps(&mut out, &tally.sums)?;
            }
        }
    }
    out.flush()?;
    Ok(Done::Well)
}

/// A line for each sum.
fn overview(out: &mut impl Write, sums: &[Sum], rate: u32) -> Result<(), Failure> {
    if sums.is_empty() {
        writeln!(out, "no kind can hit another")?;
        return Ok(());
    }
    let heads = [
        "who",
        "whom",
        "by",
        "rule",
        "a hit",
        "hits to kill",
        "first after",
        "apart",
        "time to kill",
        "locked",
    ];
    let mut rows = table::plain(&heads, &[4, 5, 6, 7, 8, 9]);
    for sum in sums {
        let damage = match (sum.kills, sum.damage) {
            (true, _) => "kills".to_owned(),
            (false, [least, most]) if least == most => most.to_string(),
            (false, [least, most]) => format!("{least} to {most}"),
        };
        let seconds =
            |ticks: Ticks| format!("{ticks} ({:.2} s)", f64::from(ticks.0) / f64::from(rate));
        let none = || if sum.outrun { "outrun" } else { "-" }.to_owned();
        rows.add_row([
            sum.who.clone(),
            sum.whom.clone(),
            by(&sum.means),
            sum.rule.clone(),
            damage,
            sum.hits.map_or_else(none, |hits| hits.to_string()),
            sum.first.map_or("-".to_owned(), |first| first.to_string()),
            sum.spacing
                .map_or("-".to_owned(), |spacing| spacing.to_string()),
            sum.time.map_or_else(none, seconds),
            match sum.locked {
                Ticks(0) => String::new(),
                locked => locked.to_string(),
            },
        ]);
    }
    writeln!(out, "{}", table::lines(&rows))?;
    Ok(())
}

fn by(means: &Means) -> String {
    match means {
        Means::Touch => "touch".to_owned(),
        Means::Attack(name) => format!("attack {name}"),
        Means::Launcher { maker, launcher } => format!("{launcher} of {maker}"),
        Means::Left => "what is left".to_owned(),
    }
}

/// How each was reckoned, and whether a replay agrees.
fn steps(out: &mut impl Write, sums: &[Sum]) -> Result<(), Failure> {
    for sum in sums {
        let Sum {
            who,
            whom,
            rule,
            means,
            ..
        } = sum;
        writeln!(
            out,
            "\n{BOLD}{who} on {whom}{BOLD:#}, {rule}, by {}",
            by(means)
        )?;
        for step in &sum.how {
            writeln!(out, "  {step}")?;
        }
        if let Some(ammo) = &sum.ammo {
            writeln!(out, "  {}", cost(ammo))?;
        }
        if let Some(guard) = &sum.guard {
            writeln!(out, "  {}", held(guard))?;
            replayed(out, "guard, ", &guard.replayed)?;
        }
        replayed(out, "", &sum.replayed)?;
    }
    Ok(())
}

fn cost(ammo: &AmmoSum) -> String {
    let AmmoSum {
        meter,
        cost,
        launches,
        needed,
        start,
        max,
        lying,
        refills,
    } = ammo;
    let needed = match (launches, needed) {
        (Some(launches), Some(needed)) => format!(
            "{launches} launch{} to kill: {needed} {meter}",
            if *launches == 1 { "" } else { "es" }
        ),
        _ => format!("{cost} {meter} a launch"),
    };
    let mut had = format!("starts with {start} of {max}");
    if *lying > Amount::ZERO {
        had += &format!(", {lying} lie about");
    }
    if *refills {
        had += ", and refills";
    }
    format!("ammo: {needed}; {had}")
}

fn held(guard: &GuardSum) -> String {
    match (guard.hits, guard.time) {
        (Some(hits), Some(time)) => {
            format!("a raised guard breaks at hit {hits}, {time} after the first")
        }
        _ if guard.kills => "a raised guard does not break before they kill through it".to_owned(),
        _ => "a raised guard holds for ever".to_owned(),
    }
}

fn replayed(out: &mut impl Write, of: &str, replayed: &Replayed) -> Result<(), Failure> {
    match replayed {
        Replayed::Agrees { hits } => {
            let s = if *hits == 1 { "" } else { "s" };
            writeln!(out, "  {DIM}{of}replayed: agrees, {hits} hit{s}{DIM:#}")?;
        }
        Replayed::Differs { how } => writeln!(out, "  {RED}{of}replayed: differs: {how}{RED:#}")?,
        Replayed::Not { why } => writeln!(out, "  {DIM}{of}not replayed: {why}{DIM:#}")?,
    }
    Ok(())
}
