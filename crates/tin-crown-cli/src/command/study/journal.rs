//! The journal of a sweep: its rows as they come, so that an interrupted run can go on.

use std::fs::{self, File, OpenOptions, TryLockError};
use std::io::{self, BufRead, BufReader, BufWriter, Read, Write};
use std::path::{Path, PathBuf};

use tin_crown::study::{Holds, Row, Sheet};

use crate::failure::Failure;
use crate::sheets::Failed;
use crate::source::plainly;
use crate::terminal::shown;

/// The rows of a sweep in a file beside its output, which takes its place when it is whole.
pub struct Journal {
    path: PathBuf,
    file: BufWriter<File>,
    /// The first cell that it does not have.
    pub next: u64,
    pub failed: Failed,
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
        if resume && !path.exists() && is_whole(output, sheet) {
            return Ok(Found::Whole);
        }
        let file = locked(&path)?;
        let fail = |error| cannot(&path, &error);
        if file.metadata().map_err(fail)?.len() > 0 {
            if !resume {
                let what = format!("{} is the beginning of an interrupted study", shown(&path));
                return Err(Failure::new(what)
                    .help("add --resume to go on with it, or remove it to begin anew"));
            }
            return Journal::go_on(path, file, sheet).map(Found::Begun);
        }
        let mut file = BufWriter::new(file);
        file.write_all(sheet.to_json().as_bytes())
            .and_then(|()| file.flush())
            .map_err(|error| cannot(&path, &error))?;
        Ok(Found::Begun(Journal {
            path,
            file,
            next: sheet.range().start,
            failed: Failed::default(),
        }))
    }

    /// Goes on after the last whole cell.
    fn go_on(path: PathBuf, file: File, sheet: &Sheet) -> Result<Journal, Failure> {
        let other = || {
            let what = format!("{} is of another study", shown(&path));
            Failure::new(what).help("write to another file, or remove it to begin anew")
        };
        let (first, drills) = (sheet.range().start, sheet.drills.len() as u64);
        let mut reader = BufReader::new(File::open(&path).map_err(|error| cannot(&path, &error))?);
        let (mut line, mut kept, mut rows) = (String::new(), 0, 0);
        let (mut whole, mut failed) = (0, Failed::default());
        loop {
            // What is no text was not written here.
            next_line(&mut reader, &mut line).map_err(|_| other())?;
            if !line.ends_with('\n') {
                break;
            }
            kept += line.len() as u64;
            if whole == 0 {
                if line != sheet.to_json() {
                    return Err(other());
                }
                whole = kept;
                continue;
            }
            let row = row_of(&line, sheet, rows).ok_or_else(other)?;
            failed.count(&sheet.columns, &row);
            rows += 1;
            if rows % drills == 0 {
                whole = kept;
            }
        }
        let fail = |error| cannot(&path, &error);
        file.set_len(whole).map_err(fail)?;
        let mut file = BufWriter::new(file);
        if whole == 0 {
            // Cut within its head.
            file.write_all(sheet.to_json().as_bytes())
                .and_then(|()| file.flush())
                .map_err(|error| cannot(&path, &error))?;
        }
        let next = first + rows / drills;
        Ok(Journal {
            path,
            file,
            next,
            failed,
        })
    }

    /// Adds rows, and sees to it that they are in the file.
    pub fn add(&mut self, sheet: &Sheet, rows: &[Row]) -> Result<(), Failure> {
        let mut write = || {
            for row in rows {
                self.failed.count(&sheet.columns, row);
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

/// A file that this process alone writes, at its end.
fn locked(path: &Path) -> Result<File, Failure> {
    let fail = |error| cannot(path, &error);
    loop {
        let open = OpenOptions::new().create(true).append(true).open(path);
        let file = open.map_err(fail)?;
        match file.try_lock() {
            Ok(()) => {}
            Err(TryLockError::WouldBlock) => {
                let what = format!("another process is writing {}", shown(path));
                return Err(Failure::new(what).help("wait for it, or name another file with -o"));
            }
            Err(TryLockError::Error(error)) => return Err(fail(error)),
        }
        // One that finished meanwhile has given it the output's name.
        if path.exists() {
            return Ok(file);
        }
    }
}

/// Whether the output has all rows already.
fn is_whole(output: &Path, sheet: &Sheet) -> bool {
    let lines = Lines::open(output, "").ok();
    lines.is_some_and(|lines| {
        lines.sheet == *sheet && lines.rows().filter(Result::is_ok).count() as u64 == sheet.rows()
    })
}

/// No line is so long, of whatever file.
const LONGEST: u64 = 16 * 1024 * 1024;

/// The next line with its end; empty at the end of the file, and without an end where it is cut.
fn next_line(reader: &mut BufReader<File>, line: &mut String) -> io::Result<()> {
    line.clear();
    reader.take(LONGEST).read_line(line).map(drop)
}

/// The row of a line, when it is the `nth` of a file with that head: of the cell and the drill whose turn it is.
fn row_of(line: &str, sheet: &Sheet, nth: u64) -> Option<Row> {
    let drills = sheet.drills.len() as u64;
    let row = Row::from_json(line.strip_suffix('\n')?, &sheet.columns)?;
    let cell = row.first(&sheet.columns, Holds::Cell)?.number()?;
    let drill = row.first(&sheet.columns, Holds::Drill)?.text()?;
    let turn = sheet.range().start + nth / drills;
    let fits = cell == turn as f64 && drill == sheet.drills[(nth % drills) as usize];
    fits.then_some(row)
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
        let head = match next_line(&mut reader, &mut head) {
            Ok(()) => head,
            // What is no text is no head.
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
        let count = self.sheet.rows();
        let mut nth = 0;
        let mut line = String::new();
        std::iter::from_fn(move || {
            let name = &self.name;
            if let Err(error) = next_line(&mut self.reader, &mut line) {
                let what = format!("cannot read {name}: {}", plainly(&error));
                return Some(Err(Failure::new(what)));
            }
            if line.is_empty() {
                return None;
            }
            let number = nth + 2;
            if nth >= count {
                let what =
                    format!("{name}:{number}: there are more rows than its share of the cells has");
                return Some(Err(Failure::new(what)));
            }
            let row = row_of(&line, &self.sheet, nth);
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
