//! Ledgers and summaries as tables for people.

use std::io::{self, Write};

use anstyle::{AnsiColor, Style};
use comfy_table::presets::NOTHING;
use comfy_table::{Cell, CellAlignment, ContentArrangement, Table};
use tin_crown::ledger::{LineId, Row, Tone};
use tin_crown::{Amount, Event, Outcome, Replay, Ticks};
use unicode_width::UnicodeWidthStr;

use crate::args::Column;

const BOLD: Style = Style::new().bold();
const DIM: Style = Style::new().dimmed();

/// Blanks between two columns.
const GAP: usize = 2;

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
        "{BOLD}{}{BOLD:#}\ndrill {}: {} at {} per second, {:.3} s",
        plan.title(),
        drill.name(),
        Ticks(summary.last.0).in_words(),
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
    writeln!(out)?;
    let ledger = || {
        // A row tells of lines of one tick.
        let ticks = events.chunk_by(|one, other| one.tick == other.tick);
        let rows = ticks.flat_map(|tick| replay.rows(tick.iter().copied()));
        rows.map(|row| (row.tone, cells(row, columns)))
    };
    streamed(out, &heads, &right, ledger)?;
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

/// What a row of a ledger shows.
fn cells(row: Row<'_>, columns: &[Column]) -> Vec<String> {
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
    cells
}

/// Prints a table as [plain] ones are, but holds no row of it: they are made twice, the first time for the widths
/// of the columns.
fn streamed<R: Iterator<Item = (Tone, Vec<String>)>>(
    out: &mut impl Write,
    heads: &[&str],
    right: &[usize],
    rows: impl Fn() -> R,
) -> io::Result<()> {
    let mut wide: Vec<usize> = heads.iter().map(|head| width(head)).collect();
    for (_, cells) in rows() {
        for (wide, cell) in wide.iter_mut().zip(&cells) {
            *wide = width(cell).max(*wide);
        }
    }
    let mut row = |style: Style, cells: &mut dyn Iterator<Item = &str>| {
        // Blanks are written before what follows them: none ends a line.
        let mut blanks = 0;
        for (nth, text) in cells.enumerate() {
            let spare = wide[nth] - width(text);
            let (before, after) = if right.contains(&nth) {
                (spare, 0)
            } else {
                (0, spare)
            };
            blanks += before;
            if !text.is_empty() {
                write!(out, "{:blanks$}{style}{text}{style:#}", "")?;
                blanks = 0;
            }
            blanks += after + GAP;
        }
        writeln!(out)
    };
    row(Style::new().underline(), &mut heads.iter().copied())?;
    for (tone, cells) in rows() {
        let colour = match tone {
            Tone::Harm => Some(AnsiColor::BrightRed.into()),
            Tone::Rejected => Some(AnsiColor::BrightBlack.into()),
            Tone::Plain => None,
        };
        let style = Style::new().fg_color(colour);
        row(style, &mut cells.iter().map(String::as_str))?;
    }
    Ok(())
}

/// How many columns of a terminal a text takes.
fn width(text: &str) -> usize {
    match text.is_ascii() {
        true => text.len(),
        false => UnicodeWidthStr::width(text),
    }
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
        column.set_padding((0, GAP as u16));
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
