//! Reading encounter files.

use std::collections::BTreeSet;
use std::fs::{File, Metadata};
use std::io::{self, Read};
use std::path::{Path, PathBuf};
use std::sync::{Arc, Mutex, PoisonError};
use std::time::SystemTime;

use tin_crown::plan::DrillIx;
use tin_crown::sprite::Sheets;
pub use tin_crown::track::plainly;
use tin_crown::track::{self, Files, Folder};
use tin_crown::{Checked, Findings, Plan, limits};

use crate::failure::Failure;
use crate::findings;
use crate::terminal::shown;

/// A file that was read and checked.
pub struct Source {
    /// Its name, for messages.
    pub name: String,
    /// Where it is, when it is a file.
    pub path: Option<PathBuf>,
    /// Its text, as far as it is one.
    pub text: String,
    pub checked: Checked,
    /// Where the files are that it names.
    pub files: Arc<dyn Files>,
    /// Those that were opened.
    opened: Arc<Opened>,
}

/// The files of a folder, and the names of those that were opened, or should have been.
#[derive(Default)]
struct Opened {
    folder: Folder,
    names: Mutex<BTreeSet<String>>,
}

impl Files for Opened {
    fn open(&self, name: &str) -> io::Result<Box<dyn Read + Send>> {
        let mut names = self.names.lock().unwrap_or_else(PoisonError::into_inner);
        names.insert(name.to_owned());
        self.folder.open(name)
    }

    fn told(&self, name: &str) -> String {
        self.folder.told(name)
    }
}

/// When a file was written last, and its length.
pub type Stamp = (Option<SystemTime>, u64);

/// The stamp of a regular file that is there.
pub fn stamp(file: &Path) -> Option<Stamp> {
    let there = file.metadata().ok().filter(Metadata::is_file)?;
    Some((there.modified().ok(), there.len()))
}

/// The folder in which a file is.
fn folder(path: &Path) -> &Path {
    path.parent().unwrap_or(Path::new(""))
}

/// The file with more drills that an encounter names.
pub fn drill_file(path: &Path, text: &str) -> Option<PathBuf> {
    // Hardly any encounter names one.
    if !text.contains("drill_file") {
        return None;
    }
    let name = tin_crown::check(text.as_bytes()).encounter?.drill_file?;
    Some(folder(path).join(name))
}

/// Whether a path stands for standard input or output.
pub fn is_dash(path: &Path) -> bool {
    path.as_os_str() == "-"
}

/// Reads and checks a file, or standard input for `-`.
pub fn read(path: &Path) -> Result<Source, Failure> {
    let (name, bytes) = bytes(path, limits::FILE_BYTES)?;
    Ok(of(path, name, &bytes))
}

/// Checks the bytes of a file, or of standard input.
pub fn of(path: &Path, name: String, bytes: &[u8]) -> Source {
    let opened = Arc::new(Opened {
        folder: Folder::of(path),
        names: Mutex::default(),
    });
    Source {
        path: (!is_dash(path)).then(|| path.to_owned()),
        checked: tin_crown::check_with(bytes, &*opened),
        files: opened.clone(),
        opened,
        name,
        text: String::from_utf8_lossy(bytes).into_owned(),
    }
}

/// The name and the bytes of a file, or of standard input for `-`: never more than one byte beyond so
/// many, which is enough to be found too large.
pub fn bytes(path: &Path, most: u64) -> Result<(String, Vec<u8>), Failure> {
    let limited = |reader: &mut dyn Read| {
        let mut bytes = Vec::new();
        reader.take(most + 1).read_to_end(&mut bytes)?;
        Ok(bytes)
    };
    let (name, bytes) = if is_dash(path) {
        (
            "standard input".to_owned(),
            limited(&mut io::stdin().lock()),
        )
    } else {
        let open = File::open(path).and_then(|mut file| limited(&mut file));
        (shown(path), open)
    };
    let bytes = bytes.map_err(|error| unreadable(&name, &error))?;
    Ok((name, bytes))
}

/// The same of a regular file, which a drawing is, or of standard input.
pub fn regular_bytes(path: &Path, most: u64) -> Result<(String, Vec<u8>), Failure> {
    if !is_dash(path) {
        track::regular(path).map_err(|error| unreadable(&shown(path), &error))?;
    }
    bytes(path, most)
}

fn unreadable(name: &str, error: &io::Error) -> Failure {
    Failure::new(format!("cannot read {name}: {}", plainly(error)))
        .help("give the path of a file, or - for standard input")
}

/// Checks bytes that are here already, with the files beside them.
pub fn checked(name: impl Into<String>, bytes: &[u8], files: Arc<dyn Files>) -> Source {
    Source {
        name: name.into(),
        path: None,
        text: String::from_utf8_lossy(bytes).into_owned(),
        checked: tin_crown::check_with(bytes, &*files),
        files,
        opened: Arc::default(),
    }
}

/// What was found in a file that is no encounter.
pub fn found(name: String, path: PathBuf, bytes: &[u8], findings: Findings) -> Source {
    Source {
        name,
        path: Some(path),
        text: String::from_utf8_lossy(bytes).into_owned(),
        checked: Checked {
            sheets: Sheets::default(),
            encounter: None,
            plan: None,
            findings,
        },
        files: Arc::new(Folder::default()),
        opened: Arc::default(),
    }
}

impl Source {
    /// Where the recordings of its drills are.
    pub fn recordings(&self, plan: &Plan) -> Vec<PathBuf> {
        let drills = plan.drills().iter();
        let files = drills.flat_map(|drill| drill.recordings());
        files.map(|file| self.opened.folder.0.join(file)).collect()
    }

    /// The plan, after printing the findings on standard error.
    pub fn plan(&self) -> Result<Arc<Plan>, Failure> {
        findings::say_all(&self.name, &self.text, &self.checked.findings);
        self.checked.plan.clone().ok_or(Failure::Found)
    }

    /// The plan with the recordings of some drills, after printing what was found in them.
    pub fn record(&self, plan: &Arc<Plan>, drills: &[DrillIx]) -> Result<Arc<Plan>, Failure> {
        let all = plan.drills();
        if !drills.iter().any(|drill| all[drill.index()].is_recorded()) {
            return Ok(Arc::clone(plan));
        }
        let mut recorded = plan.record(drills.iter().copied(), Arc::clone(&self.files));
        recorded.findings.locate_in(self.text.as_bytes());
        findings::say_all(&self.name, &self.text, &recorded.findings);
        recorded.plan.ok_or(Failure::Found)
    }

    /// Where the files are that were opened for it, or should have been.
    pub fn beside(&self) -> Vec<PathBuf> {
        let names = self.opened.names.lock();
        let names = names.unwrap_or_else(PoisonError::into_inner);
        names
            .iter()
            .map(|name| self.opened.folder.0.join(name))
            .collect()
    }
}
