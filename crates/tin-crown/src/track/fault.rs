//! What is wrong with a row, and the line that shows it.

use std::collections::HashMap;
use std::io::{self, BufRead, BufReader, Read};

use super::open::{Files, plainly};
use super::rows::{Cell, RowError, Table};
use crate::encounter::RowFormat;
use crate::finding::{Code, Finding, Findings, Path, RowPlace, Severity, Span};
use crate::limits;
use crate::order;
use crate::plan::RowsPlan;

/// How many characters of a line are shown.
const SHOWN: usize = 160;

/// Something that is wrong with a row.
#[derive(Clone, Debug)]
pub(crate) struct Fault {
    pub finding: Box<Finding>,
    /// The line, from 1 on; none when it is about all of the file.
    pub line: Option<u64>,
    pub column: Where,
}

impl Fault {
    /// One about all of a file.
    pub fn whole(finding: Finding) -> Fault {
        Fault {
            finding: Box::new(finding),
            line: None,
            column: Where::Line,
        }
    }

    /// The same, with what to do.
    #[must_use]
    pub fn help(mut self, help: impl Into<String>) -> Fault {
        *self.finding = self.finding.help(help);
        self
    }

    /// One about a line as a whole.
    pub fn row(line: u64, finding: Finding) -> Fault {
        Fault {
            finding: Box::new(finding),
            line: Some(line),
            column: Where::Line,
        }
    }

    /// What keeps a file, or its row, from being read.
    pub fn broken(error: RowError, file: &str, line: u64, path: &Path) -> Fault {
        let path = path.key("file");
        let bad = |message: String| Finding::new(Code::BadRow, path.clone(), message);
        match error {
            RowError::Io(error) => {
                let why = plainly(&error);
                let message = format!("cannot read `{file}`: {why}");
                let finding = Finding::new(Code::Unreadable, path, message);
                Fault::whole(finding.help("its path is counted from the encounter's folder"))
            }
            RowError::TooLong => Fault::row(
                line,
                bad(format!(
                    "a row of more than {} bytes or {} columns",
                    limits::ROW_BYTES,
                    limits::ROW_COLUMNS
                ))
                .help("look for a quote that is never closed"),
            ),
            RowError::Cells(cells, columns) => {
                let message = format!(
                    "this row has {cells} cells, and the first line names {columns} columns"
                );
                let help = "quote what contains the separator; where numbers have a decimal comma, separate the \
                            cells by `;` and add separator = \";\" and decimal = \",\"";
                Fault::row(line, bad(message).help(help))
            }
            RowError::Json(why) => {
                let finding = bad(format!("this line is no row: {why}"));
                Fault::row(
                    line,
                    finding.help("a row is a JSON object on a line of its own"),
                )
            }
        }
    }

    /// What is wrong with a cell that should hold a number.
    pub fn no_number(mut self, cell: &Cell<'_>, what: &str, comma: bool) -> Fault {
        self.finding.message = format!("expected {what}, found {}", cell.told());
        if !comma && cell.number(true).is_some() {
            self = self.help("add decimal = \",\"");
        }
        self
    }
}

impl Where {
    /// A column of a file.
    pub fn of(table: &Table, column: usize, names: &HashMap<usize, String>) -> Where {
        match table {
            Table::Json(_) => Where::Named(names.get(&column).cloned().unwrap_or_default()),
            Table::Csv(_) => Where::Nth(column),
        }
    }
}

/// How many faults of one sort are told of a file; the rest is counted.
const OF_A_SORT: usize = 5;

/// What is wrong with files, the first few of each sort.
#[derive(Default)]
pub(crate) struct Faults {
    /// By file.
    pub all: Vec<(usize, Fault)>,
    sorts: HashMap<(usize, Code, Where), usize>,
    /// How many of each severity are only counted.
    pub more: [usize; 3],
}

impl Faults {
    pub fn push(&mut self, file: usize, fault: Fault) {
        let sort = (file, fault.finding.code, fault.column.clone());
        let told = self.sorts.entry(sort).or_default();
        *told += 1;
        // What has its own cause in each row is no repetition.
        let alike = fault.finding.code == Code::BadRow && *told > OF_A_SORT;
        if alike || self.all.len() >= 3 * limits::FINDINGS_KEPT {
            self.more[fault.finding.severity as usize] += 1;
        } else {
            self.all.push((file, fault));
        }
    }

    /// Adds one, if there is one; whether there is.
    pub fn extend(&mut self, file: usize, fault: Option<Fault>) -> bool {
        let found = fault.is_some();
        if let Some(fault) = fault {
            self.push(file, fault);
        }
        found
    }

    /// Whether anything was found that keeps a file from being used.
    pub fn fails(&self, file: usize) -> bool {
        let own = self.all.iter().filter(|(own, _)| *own == file);
        own.into_iter()
            .any(|(_, fault)| fault.finding.severity == Severity::Error)
    }
}

/// Which part of a line a fault is about.
#[derive(Clone, Debug, PartialEq, Eq, Hash)]
pub(crate) enum Where {
    /// All of it.
    Line,
    /// The nth column of a CSV.
    Nth(usize),
    /// The member of that name.
    Named(String),
}

impl Faults {
    /// Adds what was found to others, with the lines it is about.
    pub fn show<'r>(
        self,
        files: &dyn Files,
        rows: impl Iterator<Item = &'r RowsPlan>,
        findings: &mut Findings,
    ) {
        let mut of: Vec<(&RowsPlan, Vec<Fault>)> = rows.map(|rows| (rows, Vec::new())).collect();
        for (file, fault) in self.all {
            of[file].1.push(fault);
        }
        for (rows, faults) in of {
            for finding in shown(files, rows, faults) {
                findings.push(finding);
            }
        }
        let severities = [Severity::Error, Severity::Warning, Severity::Note];
        for (severity, more) in severities.into_iter().zip(self.more) {
            findings.leave_out(severity, more);
        }
    }
}

/// The findings of a file, with their lines.
fn shown(files: &dyn Files, rows: &RowsPlan, faults: Vec<Fault>) -> Vec<Finding> {
    let mut wanted: Vec<u64> = faults.iter().filter_map(|fault| fault.line).collect();
    order::sort(&mut wanted);
    wanted.dedup();
    let texts = lines(files, &rows.file, &wanted);
    let shown = faults.into_iter().map(|fault| {
        let mut finding = *fault.finding;
        let Some(line) = fault.line else {
            return finding;
        };
        let place = wanted.binary_search(&line);
        let text = place.ok().and_then(|place| texts.get(place)).cloned();
        let text = text.unwrap_or_default();
        let span = span(&text, rows.format, rows.separator, &fault.column);
        let column = text[..span.start].chars().count() + 1;
        finding.line_column = Some((usize::try_from(line).unwrap_or(usize::MAX), column));
        finding.row = Some(RowPlace {
            file: files.told(&rows.file),
            line,
            text,
            span,
        });
        finding
    });
    shown.collect()
}

/// The texts of lines, in order; fewer when they cannot be read any more.
fn lines(files: &dyn Files, file: &str, wanted: &[u64]) -> Vec<String> {
    let mut texts = Vec::new();
    let Ok(reader) = files.open(file) else {
        return texts;
    };
    let mut reader = BufReader::with_capacity(1 << 16, reader);
    let mut line = 1;
    for &next in wanted {
        while line < next {
            match skip(&mut reader) {
                Ok(true) => line += 1,
                _ => return texts,
            }
        }
        let mut bytes = Vec::new();
        let most = SHOWN as u64 * 4;
        if (&mut reader)
            .take(most)
            .read_until(b'\n', &mut bytes)
            .is_err()
        {
            return texts;
        }
        match bytes.last() {
            Some(b'\n') => line += 1,
            _ if bytes.len() as u64 == most => match skip(&mut reader) {
                Ok(true) => line += 1,
                _ => line = u64::MAX,
            },
            _ => line = u64::MAX,
        }
        let text = String::from_utf8_lossy(&bytes);
        let text = text
            .trim_start_matches('\u{feff}')
            .trim_end_matches(['\r', '\n']);
        texts.push(text.chars().take(SHOWN).collect());
    }
    texts
}

/// Passes over the rest of a line; whether another follows.
fn skip(reader: &mut impl BufRead) -> io::Result<bool> {
    loop {
        let bytes = reader.fill_buf()?;
        if bytes.is_empty() {
            return Ok(false);
        }
        match bytes.iter().position(|byte| *byte == b'\n') {
            Some(end) => {
                reader.consume(end + 1);
                return Ok(true);
            }
            None => {
                let all = bytes.len();
                reader.consume(all);
            }
        }
    }
}

/// Where a column is in its line.
fn span(text: &str, format: RowFormat, separator: u8, column: &Where) -> Span {
    let all = Span {
        start: 0,
        end: text.len(),
    };
    match (column, format) {
        (Where::Nth(nth), RowFormat::Csv) => {
            let (mut start, mut quoted, mut at) = (0, false, 0);
            for (place, byte) in text.bytes().enumerate() {
                match byte {
                    b'"' => quoted = !quoted,
                    byte if byte == separator && !quoted => {
                        if at == *nth {
                            return Span { start, end: place };
                        }
                        at += 1;
                        start = place + 1;
                    }
                    _ => {}
                }
            }
            match at == *nth {
                true => Span {
                    start,
                    end: text.len(),
                },
                false => all,
            }
        }
        (Where::Named(name), RowFormat::Jsonl) => {
            let last = name.rsplit('.').next().unwrap_or(name);
            let key = format!("\"{last}\"");
            let found = text.find(&key).map(|start| {
                let rest = &text[start + key.len()..];
                let end = rest.find([',', '}']).unwrap_or(rest.len());
                Span {
                    start,
                    end: start + key.len() + end,
                }
            });
            found.unwrap_or(all)
        }
        _ => all,
    }
}
