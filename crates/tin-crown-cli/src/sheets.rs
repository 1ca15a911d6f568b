//! Rows of a sweep, written in the format that is asked for.

use std::io::{self, Write};

use anstyle::Style;
use tin_crown::study::{Column, Datum, Holds, Row, Sheet};

use crate::misses::Misses;
use crate::table;
use crate::terminal::say;

const BOLD: Style = Style::new().bold();

/// How many rows a table shows.
const SHOWN: usize = 200;

/// Rows on their way to a format that is written row by row.
pub enum Rows<W: Write> {
    Jsonl(W),
    Csv(Box<csv::Writer<W>>),
    Table(Box<Table>, W),
}

impl<W: Write> Rows<W> {
    pub fn jsonl(mut out: W, sheet: &Sheet) -> io::Result<Rows<W>> {
        out.write_all(sheet.to_json().as_bytes())?;
        Ok(Rows::Jsonl(out))
    }

    pub fn csv(out: W, sheet: &Sheet) -> io::Result<Rows<W>> {
        let mut out = csv::Writer::from_writer(out);
        out.write_record(sheet.columns.iter().map(|column| &column.name))?;
        Ok(Rows::Csv(Box::new(out)))
    }

    pub fn table(out: W, sheet: &Sheet) -> Rows<W> {
        Rows::Table(Box::new(Table::new(sheet)), out)
    }

    pub fn add(&mut self, columns: &[Column], row: &Row) -> io::Result<()> {
        match self {
            Rows::Jsonl(out) => out.write_all(row.to_json(columns).as_bytes()),
            Rows::Csv(out) => {
                let fields = (0..columns.len()).map(|nth| {
                    let datum = row.datum(columns, nth);
                    datum.map_or_else(String::new, Datum::to_string)
                });
                Ok(out.write_record(fields)?)
            }
            Rows::Table(table, _) => {
                table.add(row);
                Ok(())
            }
        }
    }

    /// Sends on what was added so far.
    pub fn flush(&mut self) -> io::Result<()> {
        match self {
            Rows::Jsonl(out) | Rows::Table(_, out) => out.flush(),
            Rows::Csv(out) => out.flush(),
        }
    }

    pub fn finish(mut self) -> io::Result<()> {
        if let Rows::Table(table, out) = &mut self {
            table.print(out)?;
        }
        self.flush()
    }
}

/// The rows that failed, of all there were.
#[derive(Default)]
pub struct Failed {
    all: u64,
    failed: u64,
    first: Option<String>,
}

impl Failed {
    pub fn count(&mut self, columns: &[Column], row: &Row) {
        self.all += 1;
        if let Some(why) = row.failure(columns) {
            self.failed += 1;
            self.first.get_or_insert_with(|| why.to_owned());
        }
    }

    /// Says on standard error how many failed, if any did.
    pub fn say(&self) {
        if let Some(why) = &self.first {
            let Failed { all, failed, .. } = self;
            say(format_args!(
                "{failed} of {all} rows failed and are empty; the first: {why}"
            ));
        }
    }
}

/// The first rows as a table, and what is to be said of all.
pub struct Table {
    columns: Vec<Column>,
    /// The places of the columns that are shown.
    shown: Vec<usize>,
    rows: Vec<Row>,
    count: u64,
    drills: Vec<String>,
    misses: Misses,
}

impl Table {
    fn new(sheet: &Sheet) -> Table {
        let of_player = |name: &str| {
            let (_, id) = name.split_once('.').unwrap_or_default();
            sheet.players.iter().any(|player| player == id)
        };
        let shown = |column: &Column| match column.holds {
            Holds::Cell | Holds::Drill | Holds::Tick | Holds::Expected | Holds::Error => false,
            Holds::Dealt | Holds::Taken | Holds::Deaths => of_player(&column.name),
            _ => true,
        };
        let places = sheet.columns.iter().enumerate();
        Table {
            columns: sheet.columns.clone(),
            shown: places
                .filter(|(_, column)| shown(column))
                .map(|(nth, _)| nth)
                .collect(),
            rows: Vec::new(),
            count: 0,
            drills: sheet.drills.clone(),
            misses: Misses::new(sheet),
        }
    }

    fn add(&mut self, row: &Row) {
        self.count += 1;
        self.misses.add(&self.columns, row);
        if self.rows.len() < SHOWN {
            self.rows.push(row.clone());
        }
    }

    fn print(&self, out: &mut impl Write) -> io::Result<()> {
        let drill = |row: &Row| {
            let drill = row.first(&self.columns, Holds::Drill);
            drill.map_or(String::new(), Datum::to_string)
        };
        for (nth, name) in self.drills.iter().enumerate() {
            if nth > 0 {
                writeln!(out)?;
            }
            if self.drills.len() > 1 {
                writeln!(out, "{BOLD}drill {name}{BOLD:#}")?;
            }
            let rows = self.rows.iter().filter(|row| drill(row) == *name);
            writeln!(out, "{}", self.of_drill(rows))?;
        }
        let more = self.count - self.rows.len() as u64;
        if more > 0 {
            writeln!(
                out,
                "… and {more} more rows: --format csv or jsonl has them all"
            )?;
        }
        self.misses.print(out)
    }

    fn of_drill<'r>(&self, rows: impl Iterator<Item = &'r Row>) -> String {
        let heads = self.shown.iter().map(|nth| head(&self.columns[*nth]));
        let heads: Vec<&str> = heads.collect();
        let numbers = self.shown.iter().enumerate();
        let numbers: Vec<usize> = numbers
            .filter(|(_, nth)| {
                let holds = self.columns[**nth].holds;
                !holds.is_text() || holds == Holds::Value
            })
            .map(|(place, _)| place)
            .collect();
        let mut table = table::plain(&heads, &numbers);
        for row in rows {
            table.add_row(self.shown.iter().map(|nth| self.cell(row, *nth)));
        }
        table::lines(&table)
    }

    fn cell(&self, row: &Row, nth: usize) -> String {
        let column = &self.columns[nth];
        match (row.datum(&self.columns, nth), column.holds) {
            (Some(met), Holds::Met) => {
                let expected = row.first(&self.columns, Holds::Expected);
                format!(
                    "{met} of {}",
                    expected.map_or(String::new(), Datum::to_string)
                )
            }
            (Some(Datum::Number(seconds)), Holds::Seconds) => format!("{seconds:.3}"),
            (Some(datum), _) => datum.to_string(),
            (None, Holds::Outcome) => {
                let error = row.failure(&self.columns);
                error.map_or(String::new(), |error| format!("error: {error}"))
            }
            (None, _) => "-".to_owned(),
        }
    }
}

/// What a column is called in a table.
fn head(column: &Column) -> &str {
    match column.holds {
        Holds::Met => "met",
        Holds::Seconds => "seconds",
        _ => &column.name,
    }
}
