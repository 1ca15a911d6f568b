//! Ledgers read back, and golden records: a drill's ledger kept for comparison.

use std::io::Write;

use super::Replay;
use super::line::Lines;
use super::{Header, LedgerError, Line};
use crate::limits;
use crate::printable::is_printable;

/// A ledger with its names: of a replay, or read back from JSON Lines.
///
/// ```
/// # let file = tin_crown::demo::FIRST_SHELF.as_bytes();
/// use tin_crown::Record;
///
/// let plan = tin_crown::check(file).plan.unwrap();
/// let replay = plan.replay("careless")?;
/// let golden = Record::of(&replay).golden();
/// let mut text = Vec::new();
/// golden.write(&mut text)?;
/// let read = Record::read(&text)?;
/// assert_eq!(read[0].header.drill, "careless");
/// assert_eq!(read[0].lines.len(), golden.lines.len());
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Clone, Debug, PartialEq)]
pub struct Record<'a> {
    /// What was replayed.
    pub header: Header<'a>,
    /// What happened.
    pub lines: Vec<Line<'a>>,
}

/// A text that is no ledger.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[error("line {line} is not a line of a ledger: {what}")]
pub struct RecordError {
    /// The line, counted from 1.
    pub line: usize,
    /// What is wrong.
    pub what: String,
}

impl<'a> Record<'a> {
    /// The ledger of a replay.
    pub fn of(replay: &'a Replay) -> Record<'a> {
        let events = replay.ledger().events().iter();
        Record {
            header: replay.header(),
            lines: events.map(|event| replay.line(event)).collect(),
        }
    }

    /// Whether a text looks like ledgers, rather than an encounter.
    pub fn is_one(bytes: &[u8]) -> bool {
        let first = bytes.split(|byte| *byte == b'\n').next();
        first.is_some_and(|line| serde_json::from_slice::<Header<'_>>(line).is_ok())
    }

    /// Reads one ledger after the other from JSON Lines.
    ///
    /// # Errors
    ///
    /// When a line is neither a header nor an event, or there is none at all.
    pub fn read(bytes: &[u8]) -> Result<Vec<Record<'static>>, RecordError> {
        let mut records: Vec<Record<'static>> = Vec::new();
        let fail = |nth: usize, what: String| RecordError {
            line: nth + 1,
            what,
        };
        let lines = bytes.split(|byte| *byte == b'\n').enumerate();
        for (nth, line) in lines.filter(|(_, line)| !line.trim_ascii().is_empty()) {
            if !is_printable_json(line) {
                let what = "it contains a character that cannot be printed";
                return Err(fail(nth, what.to_owned()));
            }
            if let Ok(header) = serde_json::from_slice::<Header<'static>>(line) {
                if header.edition != limits::EDITION {
                    let edition = header.edition;
                    return Err(fail(
                        nth,
                        format!("this version does not read edition {edition}"),
                    ));
                }
                records.push(Record {
                    header,
                    lines: Vec::new(),
                });
                continue;
            }
            let event = serde_json::from_slice::<Line<'static>>(line)
                .map_err(|error| fail(nth, error.to_string()))?;
            let Some(record) = records.last_mut() else {
                return Err(fail(nth, "expected a header before the first event".into()));
            };
            record.lines.push(event);
        }
        if records.is_empty() {
            return Err(fail(0, "there is no header".into()));
        }
        Ok(records)
    }

    /// What is worth keeping to compare with: without inputs, line numbers, causes and places, which
    /// change when nothing that matters does.
    #[must_use]
    pub fn golden(&self) -> Record<'a> {
        let lines = self.lines.iter().filter(|line| !line.is_input());
        Record {
            header: Header {
                digest: "".into(),
                ..self.header.clone()
            },
            lines: lines
                .map(|line| Line {
                    t: None,
                    id: None,
                    cause: None,
                    because: None,
                    x: None,
                    y: None,
                    height: None,
                    facing: None,
                    moment: None,
                    have: None,
                    need: None,
                    distance: None,
                    ..line.clone()
                })
                .collect(),
        }
    }

    /// Writes it as JSON Lines: the header, then one event a line.
    ///
    /// # Errors
    ///
    /// When `out` takes no more.
    pub fn write(&self, mut out: impl Write) -> Result<(), LedgerError> {
        let mut lines = Lines::new(&mut out);
        lines.write(&self.header)?;
        self.lines.iter().try_for_each(|line| lines.write(line))
    }
}

/// Whether a line of JSON has, as it is or as escapes, only characters that can be shown.
fn is_printable_json(line: &[u8]) -> bool {
    let Ok(text) = std::str::from_utf8(line.trim_ascii_end()) else {
        // Reading it will say so.
        return true;
    };
    let mut escapes = text
        .match_indices('\\')
        .map(|(at, _)| &text[at + 1..])
        .peekable();
    let mut printable = text.chars().all(is_printable);
    while let Some(escape) = escapes.next() {
        match escape.chars().next() {
            // The second of two that stand for one begins no escape.
            Some('\\') => drop(escapes.next()),
            Some('u') => {
                let unit = escape
                    .get(1..5)
                    .and_then(|hex| u32::from_str_radix(hex, 16).ok());
                // One of a pair stands for something beyond, none of which changes what is shown.
                let c = unit.and_then(char::from_u32);
                printable &= c.is_none_or(is_printable);
            }
            Some('"' | '/') | None => {}
            Some(_) => printable = false,
        }
    }
    printable
}
