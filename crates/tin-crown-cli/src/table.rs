//! Ledgers and summaries as tables for people.

use std::io::{self, Write};

use anstyle::Style;
use comfy_table::presets::NOTHING;
use comfy_table::{Cell, CellAlignment, Color, ContentArrangement, Table};
use tin_crown::ledger::{LineId, Tone};
use tin_crown::{Amount, Event, Outcome, Replay};

use crate::args::Column;

const BOLD: Style = Style::new().bold();
const DIM: Style = Style::new().dimmed();

/// Prints the chosen events of a replay and, when they are all, its summary.
pub fn print(
    out: &mut impl Write,
    replay: &Replay,
    events: &[&Event],
    narrowed: bool,
    columns: &[Column],
) -> io::Result<()> {
    let plan = replay.plan();
    let drill = &plan.drills()[replay.drill().index()];
    let summary = replay.summary();
    writeln!(
        out,
        "{BOLD}{}{BOLD:#}\ndrill {}: {} ticks at {} per second, {:.3} s",
        plan.title(),
        drill.name(),
        summary.last,
        plan.rate(),
        summary.last.seconds(plan.rate())
    )?;
    let mut heads = vec![
        "tick", "seconds", "who", "what", "whom", "by rule", "outcome",
    ];
    let mut right = vec![0, 1];
    for column in columns {
        let more: &[&str] = match column {
            Column::Line => &["line"],
            Column::Place => &["x", "y"],
            Column::Cause => &["cause"],
            Column::Because => &["because"],
        };
        right.extend(heads.len()..heads.len() + more.len());
        heads.extend(more);
    }
    let mut table = plain(&heads, &right);
    for row in replay.rows(events.iter().copied()) {
        let colour = match row.tone {
            Tone::Harm => Some(Color::Red),
            Tone::Rejected => Some(Color::DarkGrey),
            Tone::Plain => None,
        };
        let mut cells = vec![
            row.tick.to_string(),
            format!("{:.3}", row.seconds),
            row.who.to_owned(),
            row.what,
            row.whom.to_owned(),
            row.rule.to_owned(),
            row.outcome,
        ];
        let line = |line: Option<LineId>| line.map_or(String::new(), |line| line.0.to_string());
        let hundredths = |number: f64| format!("{:.2}", number + 0.0);
        for column in columns {
            match column {
                Column::Line => cells.push(row.id.0.to_string()),
                Column::Cause => cells.push(line(row.cause)),
                Column::Because => cells.push(line(row.because)),
                Column::Place => {
                    let place = row.at.map(|at| [at.x, at.y].map(hundredths));
                    cells.extend(place.unwrap_or_default());
                }
            }
        }
        table.add_row(cells.into_iter().map(|text| {
            let cell = Cell::new(text);
            match colour.filter(|_| !cell.content().is_empty()) {
                Some(colour) => cell.fg(colour),
                None => cell,
            }
        }));
    }
    writeln!(out, "\n{}", lines(&table))?;
    if narrowed {
        let all = replay.ledger().len();
        return writeln!(
            out,
            "\n{DIM}{} of {all} lines of the ledger{DIM:#}",
            events.len()
        );
    }
    summed_up(out, replay)
}

/// Who dealt what to whom, and how everyone ended.
fn summed_up(out: &mut impl Write, replay: &Replay) -> io::Result<()> {
    let plan = replay.plan();
    let summary = replay.summary();
    let name = |actor: tin_crown::plan::ActorIx| replay.id(actor).to_owned();
    let seconds = |tick: tin_crown::Tick| format!("{:.3} s", tick.seconds(plan.rate()));

    if summary.dealt.is_empty() {
        writeln!(out, "\nNo damage.")?;
    } else {
        writeln!(out, "\n{BOLD}Damage by pair{BOLD:#}")?;
        let mut table = plain(
            &["who", "whom", "hits", "took", "first", "last"],
            &[2, 4, 5],
        );
        for dealt in &summary.dealt {
            let taken = dealt.taken.iter();
            let mut took: Vec<String> = taken
                .map(|(meter, amount)| format!("{amount} {}", plan.names().meters()[*meter]))
                .collect();
            if dealt.overkill > Amount::ZERO {
                took.push(format!("{} overkill", dealt.overkill));
            }
            match dealt.killed {
                0 => {}
                1 => took.push("killed".to_owned()),
                times => took.push(format!("killed {times} times")),
            }
            table.add_row([
                name(dealt.who),
                dealt.whom_id.clone(),
                dealt.hits.to_string(),
                if took.is_empty() {
                    "nothing".to_owned()
                } else {
                    took.join(", ")
                },
                seconds(dealt.first),
                seconds(dealt.last),
            ]);
        }
        writeln!(out, "{}", lines(&table))?;
    }

    writeln!(out, "\n{BOLD}Final state{BOLD:#}")?;
    let mut table = plain(&["who", "meters", "state"], &[]);
    for end in &summary.ends {
        let meters: Vec<String> = end
            .meters
            .iter()
            .map(|meter| {
                let name = &plan.names().meters()[meter.meter];
                format!("{name} {} of {}", meter.end, meter.max)
            })
            .collect();
        let state = match (end.died, end.gone) {
            (Some(died), _) => format!("died at {}", seconds(died)),
            (None, Some(gone)) if end.absent => format!("absent from {} on", seconds(gone)),
            (None, Some(gone)) => format!("gone at {}", seconds(gone)),
            (None, None) => match end.deaths {
                0 => "present".to_owned(),
                1 => "present, after 1 death".to_owned(),
                deaths => format!("present, after {deaths} deaths"),
            },
        };
        table.add_row([name(end.who), meters.join(", "), state]);
    }
    writeln!(out, "{}", lines(&table))?;
    let outcome = match summary.outcome {
        Some(Outcome::Won) => "was won",
        Some(Outcome::Lost) => "was lost: the last player is gone",
        Some(Outcome::Ended) | None => "ended: time is up",
    };
    writeln!(out, "\nThe drill {outcome} ({}).", seconds(summary.decided))
}

/// A table without frames, some of whose columns are numbers.
pub fn plain(header: &[&str], numbers: &[usize]) -> Table {
    let mut table = Table::new();
    table
        .load_style(NOTHING)
        .enforce_styling()
        .set_content_arrangement(ContentArrangement::Disabled)
        .set_header(
            header
                .iter()
                .map(|text| Cell::new(text).add_attribute(comfy_table::Attribute::Underlined)),
        );
    table.style_text_only();
    for (index, column) in table.column_iter_mut().enumerate() {
        column.set_padding((0, 2));
        if numbers.contains(&index) {
            column.set_cell_alignment(CellAlignment::Right);
        }
    }
    table
}

/// The table's lines without the blanks at their ends.
pub fn lines(table: &Table) -> String {
    let text = table.to_string();
    let lines: Vec<&str> = text.lines().map(str::trim_end).collect();
    lines.join("\n")
}
