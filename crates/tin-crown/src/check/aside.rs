//! The file with more drills that an encounter names.

use std::collections::BTreeSet;
use std::io::Read;

use crate::encounter::{self, DrillFile, Encounter};
use crate::finding::{Code, Finding, Findings, Part, Path, RowPlace, Span, Step};
use crate::limits;
use crate::text::Document;
use crate::track::{Files, plainly};

/// A file with more drills, as far as it can be read.
pub(super) struct Aside {
    /// What it is called in findings.
    told: String,
    text: String,
    document: Option<Document>,
    /// The drills that it has.
    names: BTreeSet<String>,
}

impl Aside {
    /// Adds the drills of the file that an encounter names, which then names it no more: it has them.
    pub fn take(
        encounter: &mut Encounter,
        findings: &mut Findings,
        files: &dyn Files,
    ) -> Option<Aside> {
        let name = encounter.drill_file.take()?;
        let path = Path::root().key("drill_file");
        let bytes = match read(&name, files) {
            Ok(bytes) => bytes,
            Err(why) => {
                let message = format!("cannot read `{name}`: {why}");
                let finding = Finding::new(Code::Unreadable, path, message);
                findings.push(finding.help("name a file that is beside this one"));
                return None;
            }
        };
        let mut aside = Aside {
            told: files.told(&name),
            text: String::from_utf8_lossy(&bytes).into_owned(),
            document: None,
            names: BTreeSet::new(),
        };
        let found = match Document::parse(&bytes) {
            Ok(document) => {
                let (file, found) = encounter::read_beside::<DrillFile>(&document);
                aside.document = Some(document);
                aside.add(encounter, findings, file.unwrap_or_default());
                found
            }
            Err(found) => found,
        };
        for finding in &found {
            let mut finding = finding.clone();
            aside.put(&mut finding);
            findings.push(finding);
        }
        Some(aside)
    }

    fn add(&mut self, encounter: &mut Encounter, findings: &mut Findings, file: DrillFile) {
        for (name, drill) in file.drills {
            if encounter.drills.contains_key(&name) {
                let path = Path::root().key("drill").named(&name);
                let message = format!("the encounter has a drill `{name}` of its own");
                let mut finding = Finding::new(Code::Duplicate, path, message);
                finding.part = Part::Key;
                self.put(&mut finding);
                findings.push(finding);
                continue;
            }
            self.names.insert(name.clone());
            encounter.drills.insert(name, drill);
        }
    }

    /// Whether a path is within a drill of this file.
    pub fn holds(&self, path: &Path) -> bool {
        match path.steps().as_slice() {
            [Step::Key(drill), Step::Key(name), ..] => {
                drill == "drill" && self.names.contains(name.as_ref())
            }
            _ => false,
        }
    }

    /// Whether something stands there.
    pub fn has(&self, path: &Path) -> bool {
        let document = self.document.as_ref();
        self.holds(path) && document.is_some_and(|document| document.has(path))
    }

    pub fn locate(&self, path: &Path, part: Part) -> Option<Span> {
        self.document.as_ref()?.locate(path, part)
    }

    /// Says of a finding about a drill of this file where it is.
    pub fn place(&self, finding: &mut Finding) {
        if finding.row.is_none() && finding.span.is_none() && self.holds(&finding.path) {
            self.put(finding);
        }
    }

    fn put(&self, finding: &mut Finding) {
        let span = finding.span.take();
        let span = span.or_else(|| self.locate(&finding.path, finding.part));
        let Span { start, end } = span.unwrap_or_default();
        let start = start.min(self.text.len());
        let before = self.text.get(..start).unwrap_or_default();
        let from = before.rfind('\n').map_or(0, |newline| newline + 1);
        let line = self.text.get(from..).unwrap_or_default();
        let line = line.lines().next().unwrap_or_default();
        let within = start - from;
        let number = before.matches('\n').count() + 1;
        let column = before.get(from..).unwrap_or_default().chars().count() + 1;
        finding.line_column = Some((number, column));
        finding.row = Some(RowPlace {
            file: self.told.clone(),
            line: number as u64,
            text: line.to_owned(),
            span: Span {
                start: within.min(line.len()),
                end: end
                    .saturating_sub(from)
                    .clamp(within.min(line.len()), line.len()),
            },
        });
    }
}

/// The bytes of a file, as far as one may go.
fn read(name: &str, files: &dyn Files) -> Result<Vec<u8>, String> {
    if name.contains(['/', '\\']) {
        return Err("a name without a path is expected".to_owned());
    }
    let mut bytes = Vec::new();
    let opened = files.open(name);
    let done = opened.and_then(|file| file.take(limits::FILE_BYTES + 1).read_to_end(&mut bytes));
    done.map(|_| bytes).map_err(|error| plainly(&error))
}
