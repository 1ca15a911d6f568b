//! Reading encounter files.

use std::fs::File;
use std::io::{self, Read};
use std::path::{Path, PathBuf};
use std::sync::Arc;

use tin_crown::plan::DrillIx;
pub use tin_crown::track::plainly;
use tin_crown::track::{Files, Folder};
use tin_crown::{Checked, Plan, limits};

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
    /// Where its recordings are.
    pub files: Arc<dyn Files>,
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
    let files = Folder::of(path);
    Source {
        path: (!is_dash(path)).then(|| path.to_owned()),
        checked: tin_crown::check_with(bytes, &files),
        files: Arc::new(files),
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
    let bytes = bytes.map_err(|error| {
        Failure::new(format!("cannot read {name}: {}", plainly(&error)))
            .help("give the path of a file, or - for standard input")
    })?;
    Ok((name, bytes))
}

/// Checks bytes that are here already, with the files beside them.
pub fn checked(name: impl Into<String>, bytes: &[u8], files: Arc<dyn Files>) -> Source {
    Source {
        name: name.into(),
        path: None,
        text: String::from_utf8_lossy(bytes).into_owned(),
        checked: tin_crown::check_with(bytes, &*files),
        files,
    }
}

impl Source {
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

    /// Where the recordings of its drills are.
    pub fn recordings(&self, plan: &Plan) -> Vec<PathBuf> {
        let folder = self.path.as_deref().map_or(Path::new(""), folder);
        let drills = plan.drills().iter();
        let files = drills.flat_map(|drill| drill.recordings());
        files.map(|file| folder.join(file)).collect()
    }
}
