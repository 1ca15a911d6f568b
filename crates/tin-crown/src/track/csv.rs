//! Rows of comma-separated values, read in memory that does not grow.

use std::borrow::Cow;
use std::io::{BufRead, BufReader, Read};
use std::ops::Range;

use csv_core::{ReadRecordResult, Reader, ReaderBuilder};

use super::rows::{Cell, RowError};
use crate::limits;

pub(crate) struct CsvRows {
    input: BufReader<Box<dyn Read + Send>>,
    reader: Reader,
    header: Vec<String>,
    /// The bytes of the row, its columns one after the other, and where each ends.
    bytes: Vec<u8>,
    ends: Vec<usize>,
    /// The same as text; empty when it is none.
    text: String,
    columns: usize,
    line: u64,
}

impl CsvRows {
    /// Reads the names of the columns from the first line.
    pub fn open(
        input: BufReader<Box<dyn Read + Send>>,
        separator: u8,
    ) -> Result<CsvRows, RowError> {
        let mut rows = CsvRows {
            input,
            reader: ReaderBuilder::new().delimiter(separator).build(),
            header: Vec::new(),
            bytes: vec![0; limits::ROW_BYTES as usize],
            ends: vec![0; limits::ROW_COLUMNS],
            text: String::new(),
            columns: 0,
            line: 0,
        };
        if rows.next()? {
            let names = (0..rows.columns).map(|nth| &rows.bytes[rows.range(nth)]);
            let names = names.map(|name| String::from_utf8_lossy(name).trim().to_owned());
            rows.header = names.collect();
        }
        Ok(rows)
    }

    pub fn header(&self) -> &[String] {
        &self.header
    }

    /// Whether two columns have that name.
    pub fn has_twice(&self, name: &str) -> bool {
        let mut same = self.header.iter().filter(|own| *own == name);
        same.nth(1).is_some()
    }

    pub fn column(&self, name: &str) -> Option<usize> {
        self.header.iter().position(|own| own == name)
    }

    pub fn line(&self) -> u64 {
        self.line
    }

    pub fn next(&mut self) -> Result<bool, RowError> {
        self.skip_blank()?;
        self.line = self.reader.line();
        let (mut length, mut columns) = (0, 0);
        loop {
            let input = self.input.fill_buf().map_err(RowError::Io)?;
            let (text, ends) = (&mut self.bytes[length..], &mut self.ends[columns..]);
            let (result, read, wrote, ended) = self.reader.read_record(input, text, ends);
            self.input.consume(read);
            length += wrote;
            columns += ended;
            match result {
                ReadRecordResult::InputEmpty => {}
                ReadRecordResult::OutputFull | ReadRecordResult::OutputEndsFull => {
                    return Err(RowError::TooLong);
                }
                ReadRecordResult::Record => {
                    self.columns = columns;
                    let named = self.header.len();
                    self.text.clear();
                    if let Ok(text) = std::str::from_utf8(&self.bytes[..length]) {
                        self.text.push_str(text);
                    }
                    // A separator at the end of each row does no harm.
                    let blank = |column| self.bytes[self.range(column)].trim_ascii().is_empty();
                    if named > 0 && !(named..columns).all(blank) {
                        return Err(RowError::Cells(columns, named));
                    }
                    return Ok(true);
                }
                ReadRecordResult::End => return Ok(false),
            }
        }
    }

    /// Passes over empty lines, so that the row begins on the line that is told.
    fn skip_blank(&mut self) -> Result<(), RowError> {
        loop {
            let input = self.input.fill_buf().map_err(RowError::Io)?;
            let blank = input
                .iter()
                .take_while(|byte| matches!(byte, b'\n' | b'\r'));
            let (blank, breaks) = blank.fold((0, 0), |(all, breaks), byte| {
                (all + 1, breaks + u64::from(*byte == b'\n'))
            });
            if blank == 0 {
                return Ok(());
            }
            let line = self.reader.line() + breaks;
            self.input.consume(blank);
            self.reader.set_line(line);
        }
    }

    fn range(&self, column: usize) -> Range<usize> {
        let start = match column {
            0 => 0,
            _ => self.ends[column - 1],
        };
        start..self.ends[column]
    }

    pub fn cell(&self, column: usize) -> Cell<'_> {
        if column >= self.columns {
            return Cell::Empty;
        }
        let range = self.range(column);
        let text = self.text.get(range.clone());
        // Where another column is no text, this one may be.
        let text = text.or_else(|| std::str::from_utf8(&self.bytes[range]).ok());
        match text.map(str::trim_ascii) {
            None => Cell::Garbled,
            Some("") => Cell::Empty,
            Some(text) => Cell::Text(Cow::Borrowed(text)),
        }
    }
}
