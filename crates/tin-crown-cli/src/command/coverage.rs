//! `tin-crown coverage`.

use std::io::Write;

use anstyle::Style;
use serde_json::json;
use tin_crown::Verdict;
use tin_crown::study::{self, Coverage, Sort};

use crate::args::{Coverage as Arguments, StudyFormat};
use crate::failure::{Done, Failure};
use crate::{drills, progress, source, table, terminal};

const BOLD: Style = Style::new().bold();

pub fn run(args: &Arguments) -> Result<Done, Failure> {
    let source = source::read(&args.file)?;
    let plan = source.plan()?;
    let drills = drills::some(&plan, &args.drill, &source.name)?;
    let plan = source.record(&plan, &drills)?;
    // One drill at a time, until one cannot be replayed.
    let mut failed = None;
    let replays = drills.iter().map_while(|&drill| {
        progress::replay(&plan, drill)
            .map_err(|error| failed = Some(error))
            .ok()
    });
    let covered = study::coverage(&plan, replays);
    if let Some(error) = failed {
        return Err(Failure::replaying(&source.name, &error));
    }
    let enough = args.at_least.is_none_or(|least| covered.is_at_least(least));
    let mut out = terminal::out();
    match args.format {
        StudyFormat::Text => print(&mut out, &covered, drills.len())?,
        StudyFormat::Json => {
            let (exercised, all) = covered.share();
            let covered = json!({ "exercised": exercised, "of": all, "coverage": covered });
            writeln!(out, "{covered:#}")?;
        }
    }
    out.flush()?;
    if let (false, Some(least)) = (enough, args.at_least) {
        terminal::say(format_args!(
            "less than the required {least} % were exercised"
        ));
        return Ok(Done::Failed);
    }
    Ok(Done::Well)
}

fn print(out: &mut impl Write, covered: &Coverage, drills: usize) -> Result<(), Failure> {
    let (done, all) = covered.share();
    let drills = match drills {
        1 => "1 drill exercises".to_owned(),
        drills => format!("{drills} drills exercise"),
    };
    // Rounded down: 100 % is all of it.
    let percent = (done * 100).checked_div(all).unwrap_or(100);
    writeln!(
        out,
        "{BOLD}{drills} {done} of {all} items, {percent} %{BOLD:#}\n"
    )?;
    let mut table = table::plain(&["what", "exercised", "never"], &[]);
    for sort in Sort::ALL {
        let of: Vec<_> = covered
            .items
            .iter()
            .filter(|item| item.sort == sort)
            .collect();
        if of.is_empty() {
            continue;
        }
        let mut never: Vec<&str> = Vec::new();
        never.extend(
            of.iter()
                .filter(|item| item.times == 0)
                .map(|item| item.name.as_str()),
        );
        table.add_row([
            sort.as_str().to_owned(),
            format!("{} of {}", of.len() - never.len(), of.len()),
            never.join(", "),
        ]);
    }
    writeln!(out, "{}\n", table::lines(&table))?;

    let came: Vec<Verdict> = Verdict::ALL
        .into_iter()
        .rev()
        .filter(|verdict| {
            let mut rules = covered.verdicts.iter();
            rules.any(|rule| rule.verdicts.contains_key(verdict.as_str()))
        })
        .collect();
    let mut heads = vec!["rule"];
    heads.extend(came.iter().map(|verdict| verdict.as_str()));
    let numbers: Vec<usize> = (1..heads.len()).collect();
    let mut table = table::plain(&heads, &numbers);
    for rule in &covered.verdicts {
        let times = came.iter().map(|verdict| {
            let times = rule.verdicts.get(verdict.as_str());
            times.map_or("-".to_owned(), u32::to_string)
        });
        table.add_row([rule.rule.clone()].into_iter().chain(times));
    }
    writeln!(out, "{}", table::lines(&table))?;
    // A touch of one side is never told.
    let told = Verdict::ALL.into_iter().rev();
    let missed = told.filter(|verdict| *verdict != Verdict::Ally && !came.contains(verdict));
    let missed: Vec<&str> = missed.map(Verdict::as_str).collect();
    if !missed.is_empty() {
        writeln!(out, "never seen: {}", missed.join(", "))?;
    }
    writeln!(out)?;

    let mut table = table::plain(&["who can hurt", "whom", "by rule", "did"], &[3]);
    for pair in covered.pairs.iter().filter(|pair| pair.harms) {
        table.add_row([
            pair.who.clone(),
            pair.whom.clone(),
            pair.rule.clone(),
            match pair.hits {
                0 => "never".to_owned(),
                hits => hits.to_string(),
            },
        ]);
    }
    writeln!(out, "{}", table::lines(&table))?;
    if covered.pairs_left_out > 0 {
        let more = covered.pairs_left_out;
        writeln!(out, "and {more} more that never did")?;
    }
    Ok(())
}
