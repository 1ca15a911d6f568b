//! A recording that is being read: one row ahead of what is taken in.

use super::columns::Columns;
use super::fault::Fault;
use super::open::Files;
use super::rows::{RowError, Table};
use super::sample::Row;
use crate::finding::{Code, Finding, Path};
use crate::plan::{Plan, TrackPlan};

/// A file that is being read.
pub(super) struct Reader {
    table: Table,
    columns: Columns,
    /// The time of the row that is read and not taken in yet.
    ahead: Option<f64>,
    /// The time of the last, in ticks.
    time: f64,
    over: bool,
    /// How many rows were read.
    pub rows: u64,
}

/// Where a recording stands, in the plan and in the encounter.
#[derive(Clone, Copy)]
pub(super) struct Place<'p> {
    pub plan: &'p Plan,
    pub track: &'p TrackPlan,
    pub path: &'p Path,
}

impl Reader {
    /// A recording at its first row.
    pub fn open(place: Place<'_>, files: &dyn Files) -> Result<Reader, Vec<Fault>> {
        let Place { plan, track, path } = place;
        let file = &track.rows.file;
        let opened = files.open(file).map_err(RowError::Io);
        let table = opened.and_then(|reader| Table::open(reader, &track.rows));
        let mut table = table.map_err(|error| vec![Fault::broken(error, file, 1, path)])?;
        let columns = Columns::find(&mut table, plan, track, path)?;
        Ok(Reader {
            table,
            columns,
            ahead: None,
            time: f64::NEG_INFINITY,
            over: false,
            rows: 0,
        })
    }

    /// The row that was read last.
    pub fn row<'r>(&'r self, place: Place<'r>) -> Row<'r> {
        let Place { plan, track, path } = place;
        Row {
            table: &self.table,
            columns: &self.columns,
            plan,
            track,
            path,
        }
    }

    /// The time of the next row; nothing at the end. A row that cannot be understood is passed over.
    pub fn look_ahead(&mut self, place: Place<'_>, mut faults: impl FnMut(Fault)) -> Option<f64> {
        while self.ahead.is_none() && !self.over {
            let line = self.table.line() + 1;
            match self.table.next() {
                Ok(true) => {}
                Ok(false) => {
                    self.over = true;
                    break;
                }
                Err(error) => {
                    self.over = !error.is_of_one_row();
                    let file = &place.track.rows.file;
                    faults(Fault::broken(error, file, line, place.path));
                    continue;
                }
            }
            self.rows += 1;
            match self.row(place).time() {
                Ok(time) if time >= self.time => {
                    self.time = time;
                    self.ahead = Some(time);
                }
                Ok(time) => {
                    let message = format!(
                        "this row is on tick {}, before the one above it on {}",
                        short(time),
                        short(self.time)
                    );
                    let path = place.path.key("file");
                    let finding = Finding::new(Code::OutOfOrder, path, message);
                    let help = "sort the rows by their time";
                    faults(Fault::row(self.table.line(), finding.help(help)));
                }
                Err(fault) => faults(fault),
            }
        }
        self.ahead
    }

    /// The row ahead is taken in.
    pub fn take(&mut self) {
        self.ahead = None;
    }

    /// Whether its last row was read.
    pub fn is_over(&self) -> bool {
        self.over
    }

    /// Whether there is a row ahead.
    pub fn goes_on(&self) -> bool {
        self.ahead.is_some()
    }

    /// The time of the last row, in ticks.
    pub fn time(&self) -> f64 {
        self.time
    }
}

/// A number with at most three decimals.
pub(super) fn short(number: f64) -> String {
    let text = format!("{number:.3}");
    text.trim_end_matches('0').trim_end_matches('.').to_owned()
}

/// A length of time in ticks, with at most three decimals.
pub(super) fn ticks(length: f64) -> String {
    match short(length).as_str() {
        "1" => "1 tick".to_owned(),
        length => format!("{length} ticks"),
    }
}
