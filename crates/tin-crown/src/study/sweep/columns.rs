//! The rows of a sweep: the columns, and what they hold.

use serde::ser::SerializeMap;
use serde::{Deserialize, Serialize, Serializer};

use crate::ledger::Shortest;

/// A column of the rows of a sweep.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Column {
    /// Its name, unlike that of any other.
    pub name: String,
    /// What it holds.
    pub holds: Holds,
}

/// What a column holds.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Holds {
    /// The number of the cell, from 0 on.
    Cell,
    /// The drill.
    Drill,
    /// The value of an axis.
    Value,
    /// How many expectations are met.
    Met,
    /// How many there are.
    Expected,
    /// The numbers of those that are missed, from 1 on, with blanks between them.
    Missed,
    /// How the drill ended.
    Outcome,
    /// On which tick that was.
    Tick,
    /// At which second.
    Seconds,
    /// What was measured.
    Measure,
    /// The damage that an actor dealt: 0 when absent.
    Dealt,
    /// The damage that an actor took: 0 when absent.
    Taken,
    /// How often an actor died: 0 when absent.
    Deaths,
    /// Why there is nothing else in this row.
    Error,
}

impl Holds {
    /// Whether it is 0 where it is absent.
    pub fn is_sum(self) -> bool {
        matches!(self, Holds::Dealt | Holds::Taken | Holds::Deaths)
    }

    /// Whether it holds texts.
    pub fn is_text(self) -> bool {
        matches!(
            self,
            Holds::Drill | Holds::Value | Holds::Missed | Holds::Outcome | Holds::Error
        )
    }
}

/// What a row has in a column.
#[derive(Clone, Debug, PartialEq)]
pub enum Datum {
    /// A number.
    Number(f64),
    /// A text.
    Text(String),
}

impl Datum {
    /// The number, if it is one.
    pub fn number(&self) -> Option<f64> {
        match self {
            Datum::Number(number) => Some(*number),
            Datum::Text(_) => None,
        }
    }

    /// The text, if it is one.
    pub fn text(&self) -> Option<&str> {
        match self {
            Datum::Number(_) => None,
            Datum::Text(text) => Some(text),
        }
    }
}

/// As it stands in a table.
impl std::fmt::Display for Datum {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        match self {
            Datum::Number(number) => (number + 0.0).fmt(f),
            Datum::Text(text) => f.write_str(text),
        }
    }
}

/// A row: a cell played in one drill. In each column what it has there, if anything.
#[derive(Clone, Debug, PartialEq)]
pub struct Row(pub Vec<Option<Datum>>);

impl Row {
    /// Why there is nothing else in it, if it failed.
    pub fn failure(&self, columns: &[Column]) -> Option<&str> {
        self.first(columns, Holds::Error)?.text()
    }

    /// What it has in a column: sums that are absent are 0, unless it failed.
    pub fn datum(&self, columns: &[Column], column: usize) -> Option<&Datum> {
        const ZERO: &Datum = &Datum::Number(0.0);
        let zero = columns[column].holds.is_sum() && self.failure(columns).is_none();
        self.0[column].as_ref().or(zero.then_some(ZERO))
    }

    /// What it has in the first column that holds such.
    pub fn first(&self, columns: &[Column], holds: Holds) -> Option<&Datum> {
        let place = columns.iter().position(|column| column.holds == holds)?;
        self.0.get(place)?.as_ref()
    }

    /// The row as a flat JSON object on one line, its line end included.
    pub fn to_json(&self, columns: &[Column]) -> String {
        struct Line<'a>(&'a Row, &'a [Column]);
        impl Serialize for Line<'_> {
            fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
                let mut map = serializer.serialize_map(None)?;
                for (datum, column) in self.0.0.iter().zip(self.1) {
                    match datum {
                        None => {}
                        Some(Datum::Number(number)) => {
                            map.serialize_entry(&column.name, &Shortest::of(*number))?;
                        }
                        Some(Datum::Text(text)) => map.serialize_entry(&column.name, text)?,
                    }
                }
                map.end()
            }
        }
        let text = serde_json::to_string(&Line(self, columns))
            .unwrap_or_else(|error| unreachable!("a row is plain data: {error}"));
        text + "\n"
    }

    /// Reads such a line; none when it is no row of these columns.
    pub fn from_json(line: &str, columns: &[Column]) -> Option<Row> {
        let serde_json::Value::Object(mut map) = serde_json::from_str(line).ok()? else {
            return None;
        };
        let row: Option<Vec<Option<Datum>>> = columns
            .iter()
            .map(|column| match map.remove(&column.name) {
                None => Some(None),
                Some(serde_json::Value::Number(number)) if !column.holds.is_text() => {
                    Some(Some(Datum::Number(number.as_f64()?)))
                }
                Some(serde_json::Value::String(text)) if column.holds.is_text() => {
                    Some(Some(Datum::Text(text)))
                }
                Some(_) => None,
            })
            .collect();
        row.filter(|_| map.is_empty()).map(Row)
    }
}
