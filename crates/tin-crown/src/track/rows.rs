//! Tables of rows, whatever the file is: a header, then cell by cell.

use std::borrow::Cow;
use std::io::{BufRead, BufReader, Read};

use super::json::JsonRows;
use crate::encounter::RowFormat;
use crate::nearest::nearest;
use crate::plan::RowsPlan;

/// What one cell holds.
#[derive(Clone, Debug, PartialEq)]
pub(crate) enum Cell<'r> {
    /// Nothing, or no such cell.
    Empty,
    Text(Cow<'r, str>),
    Number(f64),
    Truth(bool),
    /// Bytes that are no UTF-8.
    Garbled,
    /// A list or a table.
    Other,
}

/// Why a row cannot be read.
#[derive(Debug)]
pub(crate) enum RowError {
    /// The file cannot be read any further.
    Io(std::io::Error),
    /// The row is longer than the limit, or has too many columns.
    TooLong,
    /// The row is no JSON object, for this reason.
    Json(String),
    /// The row has so many cells, and the header only names so many columns.
    Cells(usize, usize),
}

impl RowError {
    /// Whether the rows after it can be read.
    pub fn is_of_one_row(&self) -> bool {
        matches!(self, RowError::Json(_) | RowError::Cells(..))
    }
}

/// A file of rows that is being read.
pub(crate) enum Table {
    Csv(Box<super::csv::CsvRows>),
    Json(JsonRows),
}

impl Table {
    /// A file at its first row.
    pub fn open(reader: Box<dyn Read + Send>, plan: &RowsPlan) -> Result<Table, RowError> {
        let mut reader = BufReader::with_capacity(1 << 17, reader);
        skip_mark(&mut reader).map_err(RowError::Io)?;
        match plan.format {
            RowFormat::Csv => {
                let rows = super::csv::CsvRows::open(reader, plan.separator)?;
                Ok(Table::Csv(Box::new(rows)))
            }
            RowFormat::Jsonl => Ok(Table::Json(JsonRows::new(reader))),
        }
    }

    /// The place of a column; none when the file has none of that name. JSON Lines have any.
    pub fn column(&mut self, name: &str) -> Option<usize> {
        match self {
            Table::Csv(rows) => rows.column(name),
            Table::Json(rows) => Some(rows.column(name)),
        }
    }

    /// Whether two columns have that name.
    pub fn has_twice(&self, name: &str) -> bool {
        match self {
            Table::Csv(rows) => rows.has_twice(name),
            Table::Json(_) => false,
        }
    }

    /// What to do about a column that is missing.
    pub fn advice(&self, name: &str) -> String {
        match self {
            Table::Csv(rows) => {
                let all = rows.header();
                match nearest(name, all.iter().map(String::as_str)) {
                    Some(near) => format!("did you mean `{near}`?"),
                    None => format!("the first line names: {}", all.join(", ")),
                }
            }
            Table::Json(_) => "each line must have it".to_owned(),
        }
    }

    /// Reads the next row; whether there is one.
    pub fn next(&mut self) -> Result<bool, RowError> {
        match self {
            Table::Csv(rows) => rows.next(),
            Table::Json(rows) => rows.next(),
        }
    }

    /// The line of the row, from 1 on.
    pub fn line(&self) -> u64 {
        match self {
            Table::Csv(rows) => rows.line(),
            Table::Json(rows) => rows.line(),
        }
    }

    /// What a column of the row holds.
    pub fn cell(&self, column: usize) -> Cell<'_> {
        match self {
            Table::Csv(rows) => rows.cell(column),
            Table::Json(rows) => rows.cell(column),
        }
    }
}

/// The number of a text of at most fifteen digits and one point, quickly: both it and the power of ten are exact,
/// so their quotient is the nearest number there is, as it would be if it were parsed.
fn plain(text: &str) -> Option<f64> {
    const TENS: [f64; 16] = [
        1e0, 1e1, 1e2, 1e3, 1e4, 1e5, 1e6, 1e7, 1e8, 1e9, 1e10, 1e11, 1e12, 1e13, 1e14, 1e15,
    ];
    let digits = text.strip_prefix('-').unwrap_or(text);
    if digits.is_empty() || digits.len() > 16 {
        return None;
    }
    let (mut whole, mut point) = (0u64, None);
    for (nth, byte) in digits.bytes().enumerate() {
        match byte {
            b'0'..=b'9' => whole = whole * 10 + u64::from(byte - b'0'),
            b'.' if point.is_none() && nth > 0 => point = Some(nth),
            _ => return None,
        }
    }
    let decimals = point.map_or(0, |point| digits.len() - point - 1);
    let count = digits.len() - usize::from(point.is_some());
    if count > 15 || (point.is_some() && decimals == 0) {
        return None;
    }
    let number = whole as f64 / TENS[decimals];
    Some(if digits.len() < text.len() {
        -number
    } else {
        number
    })
}

/// Passes over the mark with which some programs begin a text.
fn skip_mark(reader: &mut impl BufRead) -> std::io::Result<()> {
    let bytes = reader.fill_buf()?;
    if bytes.starts_with(&[0xef, 0xbb, 0xbf]) {
        reader.consume(3);
    }
    Ok(())
}

impl<'r> Cell<'r> {
    /// As a text, if it says anything.
    pub fn text(&self) -> Option<Cow<'_, str>> {
        match self {
            Cell::Text(text) => Some(Cow::Borrowed(text)),
            Cell::Number(number) => Some(number.to_string().into()),
            Cell::Truth(truth) => Some(truth.to_string().into()),
            Cell::Empty | Cell::Garbled | Cell::Other => None,
        }
    }

    /// As a finite number.
    pub fn number(&self, comma: bool) -> Option<f64> {
        let number = match self {
            Cell::Number(number) => *number,
            Cell::Text(text) if comma => text.replace(',', ".").parse().ok()?,
            Cell::Text(text) => match plain(text) {
                Some(number) => number,
                None => text.parse().ok()?,
            },
            _ => return None,
        };
        number.is_finite().then_some(number)
    }

    /// As yes or no: `true`, `yes`, or a number that is not 0.
    pub fn truth(&self, comma: bool) -> Option<bool> {
        match self {
            Cell::Truth(truth) => Some(*truth),
            Cell::Text(text) => match &**text {
                "1" => Some(true),
                "0" => Some(false),
                "true" | "True" | "TRUE" | "yes" => Some(true),
                "false" | "False" | "FALSE" | "no" => Some(false),
                _ => self.number(comma).map(|number| number != 0.0),
            },
            _ => self.number(comma).map(|number| number != 0.0),
        }
    }

    /// As it is told in a message.
    pub fn told(&self) -> String {
        match self {
            Cell::Empty => "nothing".to_owned(),
            Cell::Garbled => "bytes that are no UTF-8".to_owned(),
            Cell::Other => "a list or a table".to_owned(),
            _ => self
                .text()
                .map_or_else(String::new, |text| format!("`{text}`")),
        }
    }
}
