//! The files beside an encounter that it names: with more drills, and with sprites of its kinds.

use std::io::Read;

use crate::encounter::{self, DrillFile, Encounter, SpriteFile};
use crate::finding::{Code, Finding, Findings, Part, Path, RowPlace, Span, Step};
use crate::limits;
use crate::map::Set;
use crate::nearest::nearest;
use crate::syntax::Table;
use crate::text::Document;
use crate::track::{Files, plainly};

/// A file beside an encounter, as far as it can be read.
pub(super) struct Aside {
    /// What it is called in findings.
    told: String,
    text: String,
    document: Option<Document>,
    has: Has,
    /// The drills that it has, or the kinds of which it has sprites.
    names: Set<String>,
}

/// What a file has.
#[derive(Clone, Copy, PartialEq, Eq)]
enum Has {
    Drills,
    Sprites,
}

impl Aside {
    /// Adds what the files that an encounter names have, which it then names no more: it has it itself.
    pub fn take(
        encounter: &mut Encounter,
        findings: &mut Findings,
        files: &dyn Files,
    ) -> Vec<Aside> {
        let drills = encounter.drill_file.take().and_then(|name| {
            let (mut aside, file) =
                Aside::open::<DrillFile>(Has::Drills, "drill_file", &name, findings, files)?;
            aside.add_drills(encounter, findings, file);
            Some(aside)
        });
        let sprites = encounter.sprite_file.take().and_then(|name| {
            let (mut aside, file) =
                Aside::open::<SpriteFile>(Has::Sprites, "sprite_file", &name, findings, files)?;
            aside.add_sprites(encounter, findings, file);
            Some(aside)
        });
        drills.into_iter().chain(sprites).collect()
    }

    fn open<T: Table + Default>(
        has: Has,
        key: &'static str,
        name: &str,
        findings: &mut Findings,
        files: &dyn Files,
    ) -> Option<(Aside, T)> {
        let bytes = match read(name, files) {
            Ok(bytes) => bytes,
            Err(why) => {
                let message = format!("cannot read `{name}`: {why}");
                let finding = Finding::new(Code::Unreadable, Path::root().key(key), message);
                findings.push(finding.help("name a file that is beside this one"));
                return None;
            }
        };
        let mut aside = Aside {
            told: files.told(name),
            text: String::from_utf8_lossy(&bytes).into_owned(),
            document: None,
            has,
            names: Set::new(),
        };
        let (file, found) = match Document::parse(&bytes) {
            Ok(document) => {
                let read = encounter::read_beside::<T>(&document);
                aside.document = Some(document);
                read
            }
            Err(found) => (None, found),
        };
        for finding in &found {
            let mut finding = finding.clone();
            aside.put(&mut finding);
            findings.push(finding);
        }
        Some((aside, file.unwrap_or_default()))
    }

    fn add_drills(&mut self, encounter: &mut Encounter, findings: &mut Findings, file: DrillFile) {
        for (name, drill) in file.drills {
            if encounter.drills.contains_key(&name) {
                let message = format!("the encounter has a drill `{name}` of its own");
                findings.push(self.about(Code::Duplicate, "drill", &name, message));
                continue;
            }
            self.names.insert(name.clone());
            encounter.drills.insert(name, drill);
        }
    }

    /// The file may be for several encounters: a kind that this one has not is nothing to speak of, unless it looks
    /// like a slip.
    fn add_sprites(
        &mut self,
        encounter: &mut Encounter,
        findings: &mut Findings,
        file: SpriteFile,
    ) {
        let bare = |kind: &&String| !file.sprites.contains_key(*kind);
        let bare: Vec<String> = encounter.kinds.keys().filter(bare).cloned().collect();
        for (name, sprite) in file.sprites {
            let Some(kind) = encounter.kinds.get_mut(&name) else {
                if let Some(near) = nearest(&name, bare.iter().map(String::as_str)) {
                    let message = format!("the encounter has no kind `{name}`");
                    let finding = self.about(Code::NoEffect, "sprite", &name, message);
                    findings.push(finding.help(format!("did you mean `{near}`?")));
                }
                continue;
            };
            if kind.sprite.is_some() {
                let message = format!("kind `{name}` of the encounter has a sprite of its own");
                findings.push(self.about(Code::Duplicate, "sprite", &name, message));
                continue;
            }
            kind.sprite = Some(sprite);
            self.names.insert(name);
        }
    }

    fn about(&self, code: Code, key: &'static str, name: &str, message: String) -> Finding {
        let path = Path::root().key(key).named(name);
        let mut finding = Finding::new(code, path, message);
        finding.part = Part::Key;
        self.put(&mut finding);
        finding
    }

    /// Where in this file something of the encounter is: none when it is not in it.
    pub fn within(&self, path: &Path) -> Option<Path> {
        let steps = path.steps();
        let named = |name: &Step| match name {
            Step::Key(name) => self.names.contains(name.as_ref()),
            Step::Index(_) => false,
        };
        match (self.has, steps.as_slice()) {
            (Has::Drills, [Step::Key(drill), name, ..]) if drill == "drill" && named(name) => {
                Some(path.clone())
            }
            (Has::Sprites, [Step::Key(kind), name, Step::Key(sprite), rest @ ..])
                if kind == "kind" && sprite == "sprite" && named(name) =>
            {
                let own = [Step::Key("sprite".into()), name.clone()].into_iter();
                Some(own.chain(rest.iter().cloned()).collect())
            }
            _ => None,
        }
    }

    /// Whether something stands there.
    pub fn has(&self, path: &Path) -> bool {
        let document = self.document.as_ref();
        let path = self.within(path);
        path.is_some_and(|path| document.is_some_and(|document| document.has(&path)))
    }

    pub fn locate(&self, path: &Path, part: Part) -> Option<Span> {
        self.document.as_ref()?.locate(path, part)
    }

    /// What the file is called, and the line on which something of the encounter stands in it.
    pub fn line(&self, path: &Path) -> Option<(String, usize)> {
        let span = self.locate(&self.within(path)?, Part::Value)?;
        Some((self.told.clone(), line_of(&self.text, span.start)))
    }

    /// Says of a finding about something in this file where it is.
    pub fn place(&self, finding: &mut Finding) {
        if finding.row.is_some() || finding.span.is_some() {
            return;
        }
        if let Some(own) = self.within(&finding.path) {
            finding.path = own;
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
        let number = line_of(&self.text, start);
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

/// The line of a text on which a byte is, from 1 on.
fn line_of(text: &str, byte: usize) -> usize {
    let before = text.get(..byte).unwrap_or_default();
    before.matches('\n').count() + 1
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
