//! Rows of JSON Lines: an object a line.

use std::borrow::Cow;
use std::io::{BufRead, BufReader, Read};

use serde_json::Value;

use super::rows::{Cell, RowError};
use crate::limits;

pub(crate) struct JsonRows {
    input: BufReader<Box<dyn Read + Send>>,
    /// The columns that are asked for, by the names on the way to each.
    columns: Vec<Vec<String>>,
    row: Value,
    bytes: Vec<u8>,
    line: u64,
}

impl JsonRows {
    pub fn new(input: BufReader<Box<dyn Read + Send>>) -> JsonRows {
        JsonRows {
            input,
            columns: Vec::new(),
            row: Value::Null,
            bytes: Vec::new(),
            line: 0,
        }
    }

    /// The place of a column: a member, or `pos.x`, a member of a member.
    pub fn column(&mut self, name: &str) -> usize {
        self.columns
            .push(name.split('.').map(str::to_owned).collect());
        self.columns.len() - 1
    }

    pub fn line(&self) -> u64 {
        self.line
    }

    pub fn next(&mut self) -> Result<bool, RowError> {
        loop {
            self.bytes.clear();
            let mut input = (&mut self.input).take(limits::ROW_BYTES);
            let read = input.read_until(b'\n', &mut self.bytes);
            if read.map_err(RowError::Io)? == 0 {
                return Ok(false);
            }
            self.line += 1;
            if self.bytes.len() as u64 == limits::ROW_BYTES && self.bytes.last() != Some(&b'\n') {
                return Err(RowError::TooLong);
            }
            let text = self.bytes.trim_ascii();
            if text.is_empty() {
                continue;
            }
            return match serde_json::from_slice(text) {
                Ok(row @ Value::Object(_)) => {
                    self.row = row;
                    Ok(true)
                }
                Ok(Value::Array(_)) => Err(RowError::Json("it is a list".to_owned())),
                Ok(_) => Err(RowError::Json("it is no object".to_owned())),
                Err(error) => {
                    let why = error.to_string();
                    // Every row is a line of its own to the parser.
                    let why = why.split(" at line ").next().unwrap_or_default();
                    Err(RowError::Json(why.to_owned()))
                }
            };
        }
    }

    pub fn cell(&self, column: usize) -> Cell<'_> {
        let Some(way) = self.columns.get(column) else {
            return Cell::Empty;
        };
        let mut value = &self.row;
        for step in way {
            let inner = match value {
                Value::Array(all) => step.parse().ok().and_then(|nth: usize| all.get(nth)),
                value => value.get(step),
            };
            match inner {
                Some(inner) => value = inner,
                None => return Cell::Empty,
            }
        }
        match value {
            Value::Null => Cell::Empty,
            Value::Bool(truth) => Cell::Truth(*truth),
            Value::Number(number) => number.as_f64().map_or(Cell::Other, Cell::Number),
            Value::String(text) if text.is_empty() => Cell::Empty,
            Value::String(text) => Cell::Text(Cow::Borrowed(text)),
            Value::Array(_) | Value::Object(_) => Cell::Other,
        }
    }
}
