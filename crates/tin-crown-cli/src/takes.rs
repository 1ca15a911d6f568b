//! The drills that are replayed: each with its own recordings, or with every recording of a folder in turn.

use std::fs;
use std::io::{self, Read};
use std::path::{Path, PathBuf};
use std::sync::Arc;

use tin_crown::Plan;
use tin_crown::plan::DrillIx;
use tin_crown::track::{Files, Folder, regular};

use crate::failure::Failure;
use crate::findings;
use crate::source::{Source, plainly};
use crate::terminal::shown;

/// A drill that is replayed.
pub struct Take {
    /// The name of the recording, where it is one of a folder.
    pub name: Option<String>,
    /// The plan, with the drill's recordings.
    pub plan: Arc<Plan>,
    pub drill: DrillIx,
}

impl Take {
    /// A drill of a plan that has its recordings.
    pub fn new(plan: &Arc<Plan>, drill: DrillIx) -> Take {
        Take {
            name: None,
            plan: Arc::clone(plan),
            drill,
        }
    }
}

/// The recorded drills, with each recording of a folder: a file in place of a drill's only one, or a folder with files
/// of the names that the drill gives them.
pub fn of(
    source: &Source,
    plan: &Arc<Plan>,
    drills: &[DrillIx],
    folder: &Path,
) -> Result<Vec<Take>, Failure> {
    let all = plan.drills();
    let recorded = drills
        .iter()
        .filter(|drill| all[drill.index()].is_recorded());
    let recorded: Vec<DrillIx> = recorded.copied().collect();
    if recorded.is_empty() {
        let what = format!("no drill of {} is driven by recordings", source.name);
        return Err(Failure::new(what).help("add a `track` to the drill"));
    }
    let mut takes = Vec::new();
    for drill in recorded {
        let own = &all[drill.index()];
        let files: Vec<&str> = own.recordings().collect();
        let only = match files[..] {
            [only] => Some(only),
            _ => None,
        };
        for path in entries(folder)? {
            let name = path
                .file_name()
                .unwrap_or_default()
                .to_string_lossy()
                .into_owned();
            let files: Arc<dyn Files> = match (path.is_dir(), only) {
                (true, _) => Arc::new(Folder(path.clone())),
                (false, Some(only)) if alike(&path, only) => Arc::new(Only(path.clone())),
                // Something else lies there, too.
                _ => continue,
            };
            let recorded = plan.record([drill], files);
            findings::say_all(&shown(&path), "", &recorded.findings);
            takes.push(Take {
                name: Some(name),
                plan: recorded.plan.ok_or(Failure::Found)?,
                drill,
            });
        }
    }
    if takes.is_empty() {
        let what = format!("there is no recording in {}", shown(folder));
        return Err(Failure::new(what).help(
            "put in files with the ending that the drill's recording has, or a folder for each run",
        ));
    }
    Ok(takes)
}

/// What lies in a folder, in the order of names.
fn entries(folder: &Path) -> Result<Vec<PathBuf>, Failure> {
    let fail = |error: io::Error| {
        let what = format!("cannot read {}: {}", shown(folder), plainly(&error));
        Failure::new(what).help("give a folder of recordings")
    };
    let mut all = Vec::new();
    for entry in fs::read_dir(folder).map_err(fail)? {
        all.push(entry.map_err(fail)?.path());
    }
    all.sort();
    Ok(all)
}

/// Whether a file has the ending of another.
fn alike(path: &Path, other: &str) -> bool {
    path.extension() == Path::new(other).extension()
}

/// One file, whatever its name.
struct Only(PathBuf);

impl Files for Only {
    fn open(&self, _: &str) -> io::Result<Box<dyn Read + Send>> {
        Ok(Box::new(regular(&self.0)?))
    }

    fn told(&self, _: &str) -> String {
        self.0.display().to_string()
    }
}
