//! Reading what drills are held against: a file of expectations beside the encounter, and its golden
//! record.

use std::fs;
use std::io;
use std::path::{Path, PathBuf};
use std::sync::Arc;

use tin_crown::plan::Expectations;
use tin_crown::verify::{Measure, Source};
use tin_crown::{Plan, Record, Replay, limits};

use crate::failure::Failure;
use crate::terminal::shown;
use crate::{findings, output, source};

/// What stands beside an encounter.
pub struct Beside {
    expect: Option<(File, Expectations)>,
    golden: Option<Golden>,
}

/// A file of expectations.
struct File {
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

impl Beside {
    /// Reads what stands beside an encounter, or in a file that is named instead.
    pub fn read(
        source: &source::Source,
        plan: &Arc<Plan>,
        expect: Option<&Path>,
    ) -> Result<Beside, Failure> {
        let path = match (expect, &source.path) {
            (Some(path), _) => Some(path.to_owned()),
            (None, Some(path)) => expectations_beside(path),
            (None, None) => None,
        };
        let expect = path.map(|path| file(plan, &path)).transpose()?;
        let golden = match &source.path {
            Some(path) => Golden::beside(path)?,
            None => None,
        };
        Ok(Beside { expect, golden })
    }

    /// All files that were read besides the encounter.
    pub fn inputs(&self) -> impl Iterator<Item = &Path> {
        let golden = self.golden.iter().map(|golden| &*golden.path);
        let expect = self.expect.iter().map(|(file, _)| &*file.path);
        expect.chain(golden)
    }

    /// Everything that drills of an encounter are held against.
    pub fn measure<'s>(&'s self, source: &'s source::Source) -> Measure<'s> {
        let mut measure = Measure::new(Source {
            name: &source.name,
            text: &source.text,
        });
        if let Some((file, expectations)) = &self.expect {
            let own = Source {
                name: &file.name,
                text: &file.text,
            };
            measure = measure.beside(own, expectations.clone());
        }
        if let Some(golden) = &self.golden {
            measure = measure.golden(&golden.name, golden.records.clone());
        }
        measure
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
                "delete it, and write it again with: tin-crown replay {} --accept",
                shown(encounter)
            ))
        })?;
        Ok(Some(Golden {
            path,
            name,
            records,
        }))
    }

    /// Keeps a replay as the golden record of its drill, beside those of others.
    pub fn keep(encounter: &Path, replay: &Replay) -> Result<(), Failure> {
        let golden = Golden::beside(encounter)?;
        let record = Record::of(replay).golden();
        let others = golden.iter().flat_map(|golden| &golden.records);
        let others = others.filter(|other| other.header.drill != record.header.drill);
        let mut records: Vec<&Record<'_>> = others.chain([&record]).collect();
        // In the order of names, as `replay --accept` has them.
        records.sort_by(|one, other| one.header.drill.cmp(&other.header.drill));
        let mut text = Vec::new();
        for record in records {
            record.write(&mut text)?;
        }
        output::write(&Golden::path(encounter), &text)
    }

    /// The record of a drill.
    pub fn of(&self, drill: &str) -> Option<&Record<'static>> {
        self.records
            .iter()
            .find(|record| record.header.drill == drill)
    }
}

fn file(plan: &Plan, path: &Path) -> Result<(File, Expectations), Failure> {
    let (name, bytes) = source::bytes(path, limits::FILE_BYTES)?;
    let checked = tin_crown::check_expectations(plan, &bytes);
    let text = String::from_utf8_lossy(&bytes).into_owned();
    findings::say_all(&name, &text, &checked.findings);
    let expectations = checked.expectations.ok_or(Failure::Found)?;
    let path = path.to_owned();
    Ok((File { path, name, text }, expectations))
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
        "{name} is too large: {most} MiB is the limit for ledgers and golden records"
    ))
    .help("keep fewer drills in one file, or shorter ones")
}
