//! What was expected of drills, and what came of it: from the encounter, from a file beside it, and
//! from its golden record.

use std::fs;
use std::io;
use std::path::{Path, PathBuf};
use std::sync::Arc;

use tin_crown::finding::Span;
use tin_crown::plan::Expectations;
use tin_crown::{Event, Plan, Record, Replay, Ticks, limits, study};

use crate::changes;
use crate::failure::Failure;
use crate::findings;
use crate::source::{self, Source};
use crate::terminal::shown;

/// What there is to hold drills against, besides the encounter itself.
pub struct Measure<'s> {
    source: &'s Source,
    beside: Option<(Beside, Expectations)>,
    golden: Option<Golden>,
}

/// A file of expectations.
struct Beside {
    path: PathBuf,
    name: String,
    text: String,
}

/// A file of golden records.
pub struct Golden {
    path: PathBuf,
    pub name: String,
    pub records: Vec<Record<'static>>,
}

/// A drill, and what came of all that was expected of it.
pub struct Trial {
    /// None for golden records of drills that are no more.
    pub drill: Option<String>,
    pub tests: Vec<Test>,
}

/// Something expected, and what came of it.
pub struct Test {
    /// What was expected, in words.
    pub said: String,
    /// Where it is written.
    pub place: String,
    /// What went wrong, line by line, if it did.
    pub failed: Option<Vec<String>>,
}

impl<'s> Measure<'s> {
    /// Reads what stands beside an encounter, or in a file that is named instead.
    pub fn read(
        source: &'s Source,
        plan: &Arc<Plan>,
        expect: Option<&Path>,
    ) -> Result<Measure<'s>, Failure> {
        let path = match (expect, &source.path) {
            (Some(path), _) => Some(path.to_owned()),
            (None, Some(path)) => expectations_beside(path),
            (None, None) => None,
        };
        let beside = match path {
            Some(path) => Some(beside(plan, &path)?),
            None => None,
        };
        let golden = match &source.path {
            Some(path) => Golden::beside(path)?,
            None => None,
        };
        Ok(Measure {
            source,
            beside,
            golden,
        })
    }

    /// The name of the encounter.
    pub fn file(&self) -> &str {
        &self.source.name
    }

    /// All files that were read.
    pub fn inputs(&self) -> Vec<&Path> {
        let golden = self.golden.as_ref().map(|golden| &*golden.path);
        let beside = self.beside.as_ref().map(|(beside, _)| &*beside.path);
        let own = self.source.path.as_deref();
        own.into_iter().chain(beside).chain(golden).collect()
    }

    /// Holds a drill against all there is.
    pub fn trial(&self, replay: &Replay) -> Trial {
        let drill = replay.plan().drills[replay.drill().index()].name.clone();
        let own = replay.plan().expectations.of(replay.drill());
        let own = own.map(|one| (one, self.source.name.as_str(), self.source.text.as_str()));
        let beside = self.beside.iter().flat_map(|(file, expectations)| {
            let all = expectations.of(replay.drill());
            all.map(|one| (one, file.name.as_str(), file.text.as_str()))
        });
        let mut tests: Vec<Test> = own
            .chain(beside)
            .map(|(expectation, name, text)| {
                let tested = replay.test(expectation);
                Test {
                    said: tested.said,
                    place: place(name, text, expectation.span),
                    failed: tested.miss.map(|miss| explained(replay, &miss)),
                }
            })
            .collect();
        if let Some(golden) = &self.golden
            && let Some(record) = golden.of(&drill)
        {
            let now = Record::of(replay);
            let comparison = study::compare(record, &now, Ticks(0));
            let differs = !comparison.is_empty();
            tests.push(Test {
                said: format!("as in the golden record ({} lines)", record.lines.len()),
                place: golden.place(&drill),
                failed: differs.then(|| {
                    let mut lines = changes::told(&comparison, now.header.rate, 12);
                    lines.push(self.accept());
                    lines
                }),
            });
        }
        Trial {
            drill: Some(drill),
            tests,
        }
    }

    fn accept(&self) -> String {
        let name = &self.source.name;
        format!("if this is as it should be: tin-crown replay {name} --accept")
    }

    /// Golden records of drills that are no more.
    pub fn orphans(&self, plan: &Plan) -> Option<Trial> {
        let golden = self.golden.as_ref()?;
        let headers = golden.records.iter().map(|record| &record.header);
        let gone: Vec<&str> = headers
            .map(|header| &*header.drill)
            .filter(|drill| plan.drill(drill).is_err())
            .collect();
        let tests = gone.iter().map(|drill| Test {
            said: format!("drill `{drill}` of the golden record is there"),
            place: golden.name.clone(),
            failed: Some(vec![
                "there is no such drill any more".to_owned(),
                self.accept(),
            ]),
        });
        (!gone.is_empty()).then(|| Trial {
            drill: None,
            tests: tests.collect(),
        })
    }
}

/// Where expectations stand beside an encounter file, if they do.
pub fn expectations_beside(encounter: &Path) -> Option<PathBuf> {
    Some(encounter.with_extension("expect.toml")).filter(|path| path.exists())
}

impl Golden {
    /// Where the golden record of an encounter file stands.
    pub fn path(encounter: &Path) -> PathBuf {
        encounter.with_extension("golden.jsonl")
    }

    /// The golden record of an encounter file, if there is one.
    pub fn beside(encounter: &Path) -> Result<Option<Golden>, Failure> {
        let path = Golden::path(encounter);
        let name = shown(&path);
        let fail = |what: String| Failure::new(format!("cannot read {name}: {what}"));
        match fs::metadata(&path) {
            Err(error) if error.kind() == io::ErrorKind::NotFound => return Ok(None),
            Err(error) => return Err(fail(source::plainly(&error))),
            Ok(there) if !there.is_file() => {
                let what = "it is not a regular file, and could be too large".to_owned();
                return Err(fail(what));
            }
            Ok(_) => {}
        }
        let bytes = record_bytes(&path)?;
        let records = Record::read(&bytes).map_err(|error| {
            Failure::new(format!("{name} is no golden record: {error}")).help(format!(
                "delete it, and write it anew with: tin-crown replay {} --accept",
                shown(encounter)
            ))
        })?;
        Ok(Some(Golden {
            path,
            name,
            records,
        }))
    }

    /// Where the record of a drill begins: `file:line`.
    fn place(&self, drill: &str) -> String {
        let before = self.records.iter();
        let before = before.take_while(|record| record.header.drill != drill);
        // A header, and a line for each event.
        let lines: usize = before.map(|record| record.lines.len() + 1).sum();
        format!("{}:{}", self.name, lines + 1)
    }

    /// The record of a drill.
    pub fn of(&self, drill: &str) -> Option<&Record<'static>> {
        self.records
            .iter()
            .find(|record| record.header.drill == drill)
    }
}

fn beside(plan: &Plan, path: &Path) -> Result<(Beside, Expectations), Failure> {
    let (name, bytes) = source::bytes(path, limits::FILE_BYTES)?;
    let checked = tin_crown::check_expectations(plan, &bytes);
    let text = String::from_utf8_lossy(&bytes).into_owned();
    findings::say_all(&name, &text, &checked.findings);
    let expectations = checked.expectations.ok_or(Failure::Found)?;
    let path = path.to_owned();
    Ok((Beside { path, name, text }, expectations))
}

/// The bytes of a file of ledgers or golden records.
fn record_bytes(path: &Path) -> Result<Vec<u8>, Failure> {
    let (name, bytes) = source::bytes(path, limits::RECORD_BYTES)?;
    if bytes.len() as u64 > limits::RECORD_BYTES {
        return Err(too_large(&name));
    }
    Ok(bytes)
}

/// A file of ledgers or golden records that is larger than any.
pub fn too_large(name: &str) -> Failure {
    let most = limits::RECORD_BYTES >> 20;
    Failure::new(format!(
        "{name} is too large: {most} MiB are the most that ledgers and golden records may have"
    ))
    .help("keep fewer drills in one file, or shorter ones")
}

/// `file:line`.
fn place(name: &str, text: &str, span: Option<Span>) -> String {
    match span {
        Some(span) => {
            let (line, _) = findings::line_and_column(text, span.start);
            format!("{name}:{line}")
        }
        None => name.to_owned(),
    }
}

/// What went wrong, line by line.
fn explained(replay: &Replay, miss: &tin_crown::verify::Miss) -> Vec<String> {
    let mut lines = vec![miss.because.clone()];
    if let (Some(line), Some(differs)) = (miss.line, &miss.differs) {
        lines.push(format!("nearest is line {}: {differs}", line.0));
    }
    let ledger = replay.ledger();
    let events: Vec<&Event> = miss
        .around
        .iter()
        .filter_map(|line| ledger.get(*line))
        .collect();
    // What a meter loses to a hit is told in the hit's row.
    let own = miss.line.and_then(|line| ledger.get(line));
    let rows = replay.rows(events);
    let listed = |line| rows.iter().any(|row| Some(row.id) == line);
    let marked = match own {
        Some(event) if !listed(Some(event.id)) => event.cause,
        own => own.map(|event| event.id),
    };
    for row in &rows {
        let mark = if Some(row.id) == marked { ">" } else { " " };
        let words = [row.who, &row.what, row.whom, row.rule, &row.outcome];
        let words: Vec<&str> = words.into_iter().filter(|word| !word.is_empty()).collect();
        lines.push(format!(
            "{mark} {:>4}  {:.3} s  {}",
            row.id.0,
            row.seconds,
            words.join("  ")
        ));
    }
    lines
}

impl Trial {
    /// The name of the drill, for people.
    pub fn name(&self) -> &str {
        self.drill.as_deref().unwrap_or("(golden record)")
    }

    pub fn failed(&self) -> usize {
        self.tests
            .iter()
            .filter(|test| test.failed.is_some())
            .count()
    }
}
