//! The journal of a sweep: its rows as they come, so that an interrupted run can go on.

use std::fs::{self, File, OpenOptions};
use std::io::{self, BufRead, BufReader, BufWriter, Write};
use std::path::{Path, PathBuf};

use tin_crown::study::{Datum, Holds, Row, Sheet};

use crate::failure::Failure;
use crate::source::plainly;
use crate::terminal::shown;

/// The rows of a sweep in a file beside its output, which takes its place when it is whole.
pub struct Journal {
    path: PathBuf,
    file: BufWriter<File>,
    /// The first cell that it does not have.
    pub next: u64,
}

/// What is there already.
pub enum Found {
    /// Some rows, or none.
    Begun(Journal),
    /// All of them, in the output.
    Whole,
}

impl Journal {
    /// Where the journal of an output is.
    fn path(output: &Path) -> PathBuf {
        let mut name = output.as_os_str().to_owned();
        name.push(".part");
        PathBuf::from(name)
    }

    /// Begins one, or with `resume` goes on with the one that is there.
    pub fn open(output: &Path, sheet: &Sheet, resume: bool) -> Result<Found, Failure> {
        let path = Journal::path(output);
        if path.exists() && !resume {
            let what = format!("{} is the beginning of an interrupted study", shown(&path));
            return Err(Failure::new(what)
                .help("add --resume to go on with it, or remove it to begin anew"));
        }
        if path.exists() {
            return Journal::go_on(path, sheet).map(Found::Begun);
        }
        if resume && is_whole(output, sheet) {
            return Ok(Found::Whole);
        }
        let fail = |error| cannot(&path, &error);
        let mut file = BufWriter::new(File::create(&path).map_err(fail)?);
        file.write_all(sheet.to_json().as_bytes())
            .and_then(|()| file.flush())
            .map_err(|error| cannot(&path, &error))?;
        let next = sheet.range().start;
        Ok(Found::Begun(Journal { path, file, next }))
    }

    /// Goes on after the last whole cell.
    fn go_on(path: PathBuf, sheet: &Sheet) -> Result<Journal, Failure> {
        let other = || {
            let what = format!("{} is of another study", shown(&path));
            Failure::new(what).help("write to another file, or remove it to begin anew")
        };
        let (first, drills) = (sheet.range().start, sheet.drills.len() as u64);
        let mut reader = BufReader::new(File::open(&path).map_err(|error| cannot(&path, &error))?);
        let (mut line, mut kept, mut rows) = (String::new(), 0, 0);
        let mut whole = 0;
        loop {
            line.clear();
            // What is no text was not written here.
            let length = reader.read_line(&mut line).map_err(|_| other())? as u64;
            if length == 0 || !line.ends_with('\n') {
                break;
            }
            kept += length;
            if whole == 0 {
                if line != sheet.to_json() {
                    return Err(other());
                }
                whole = kept;
                continue;
            }
            let row = Row::from_json(&line, &sheet.columns).ok_or_else(other)?;
            if cell(&row, sheet) != Some(first + rows / drills) {
                return Err(other());
            }
            rows += 1;
            if rows % drills == 0 {
                whole = kept;
            }
        }
        let fail = |error| cannot(&path, &error);
        let file = OpenOptions::new().append(true).open(&path).map_err(fail)?;
        file.set_len(whole).map_err(fail)?;
        let mut file = BufWriter::new(file);
        if whole == 0 {
            // Cut within its head.
            file.write_all(sheet.to_json().as_bytes())
                .and_then(|()| file.flush())
                .map_err(|error| cannot(&path, &error))?;
        }
        let next = first + rows / drills;
        Ok(Journal { path, file, next })
    }

    /// Adds rows, and sees to it that they are in the file.
    pub fn add(&mut self, sheet: &Sheet, rows: &[Row]) -> Result<(), Failure> {
        let mut write = || {
            for row in rows {
                self.file
                    .write_all(row.to_json(&sheet.columns).as_bytes())?;
            }
            self.file.flush()
        };
        write().map_err(|error| cannot(&self.path, &error))
    }

    /// Lets it take the place of the output.
    pub fn becomes(self, output: &Path) -> Result<(), Failure> {
        drop(self.file);
        fs::rename(&self.path, output).map_err(|error| cannot(output, &error))
    }

    /// Every row.
    pub fn read(&self, take: &mut dyn FnMut(&Row) -> Result<(), Failure>) -> Result<(), Failure> {
        for row in Lines::open(&self.path, &shown(&self.path))?.rows() {
            take(&row?)?;
        }
        Ok(())
    }

    /// Removes it, once its rows are written elsewhere.
    pub fn remove(self) -> Result<(), Failure> {
        drop(self.file);
        fs::remove_file(&self.path).map_err(|error| cannot(&self.path, &error))
    }
}

/// Whether the output has all rows already.
fn is_whole(output: &Path, sheet: &Sheet) -> bool {
    let lines = Lines::open(output, "").ok();
    lines.is_some_and(|lines| {
        lines.sheet == *sheet && lines.rows().filter(Result::is_ok).count() as u64 == sheet.rows()
    })
}

/// The number of a row's cell.
fn cell(row: &Row, sheet: &Sheet) -> Option<u64> {
    let cell = row.first(&sheet.columns, Holds::Cell)?;
    cell.number().map(|cell| cell as u64)
}

fn cannot(path: &Path, error: &io::Error) -> Failure {
    Failure::new(format!("cannot write {}: {}", shown(path), plainly(error)))
}

/// A file of rows.
pub struct Lines {
    name: String,
    pub sheet: Sheet,
    reader: BufReader<File>,
}

impl Lines {
    /// Reads its head.
    pub fn open(path: &Path, name: &str) -> Result<Lines, Failure> {
        let fail =
            |error: &io::Error| Failure::new(format!("cannot read {name}: {}", plainly(error)));
        let file = File::open(path).map_err(|error| fail(&error))?;
        let mut reader = BufReader::new(file);
        let mut head = String::new();
        // No head is so long; and what is no text is none.
        const LONGEST: u64 = 16 * 1024 * 1024;
        let read = io::Read::take(&mut reader, LONGEST).read_line(&mut head);
        let head = match read {
            Ok(_) => head,
            Err(error) if error.kind() == io::ErrorKind::InvalidData => String::new(),
            Err(error) => return Err(fail(&error)),
        };
        let sheet = Sheet::from_json(&head).map_err(|error| {
            Failure::new(format!("{name}: {error}")).help(
                "shards are written by tin-crown study sweep --format jsonl -o FILE --shard K/N",
            )
        })?;
        Ok(Lines {
            name: name.to_owned(),
            sheet,
            reader,
        })
    }

    /// Every row, in order, each of the cell and drill whose turn it is.
    pub fn rows(mut self) -> impl Iterator<Item = Result<Row, Failure>> {
        let (columns, drills) = (self.sheet.columns.clone(), self.sheet.drills.clone());
        let (first, count) = (self.sheet.range().start, self.sheet.rows());
        let mut nth = 0;
        let mut line = String::new();
        std::iter::from_fn(move || {
            line.clear();
            let name = &self.name;
            match self.reader.read_line(&mut line) {
                Ok(0) => return None,
                Ok(_) => {}
                Err(error) => {
                    return Some(Err(Failure::new(format!(
                        "cannot read {name}: {}",
                        plainly(&error)
                    ))));
                }
            }
            let number = nth + 2;
            if nth >= count {
                let what =
                    format!("{name}:{number}: there are more rows than its share of the cells has");
                return Some(Err(Failure::new(what)));
            }
            let row = Row::from_json(&line, &columns).filter(|row| {
                let drill = row.first(&columns, Holds::Drill).and_then(Datum::text);
                let cell = row.first(&columns, Holds::Cell).and_then(Datum::number);
                let turn = first + nth / drills.len() as u64;
                line.ends_with('\n')
                    && drill
                        == drills
                            .get((nth % drills.len() as u64) as usize)
                            .map(String::as_str)
                    && cell == Some(turn as f64)
            });
            nth += 1;
            Some(row.ok_or_else(|| {
                Failure::new(format!(
                    "{name}:{number}: expected the next row, found something else: the file is cut or changed here"
                ))
                .help("run that shard again")
            }))
        })
    }
}
