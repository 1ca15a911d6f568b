//! The file that is played: it is looked at again and again, and written when that is asked for.

use std::collections::{BTreeMap, HashMap};
use std::path::{Path, PathBuf};

use serde_json::{Value, json};
use tin_crown::play::{Change, Changed, Kept, PlayError, Session};
use tin_crown::sprite::Sheets;
use tin_crown::{Checked, Findings, Replay, Tick, limits, study};

use crate::failure::Failure;
use crate::source::{self, Source, Stamp};
use crate::terminal::shown;
use crate::trial::Golden;
use crate::{edit, findings, output};

/// The session, and the file from which it comes.
pub struct Bench {
    pub session: Session,
    /// The drawings of its kinds.
    pub sheets: Sheets,
    path: PathBuf,
    /// The file as it was read last.
    texts: Texts,
    /// Half a save is none: what was read has to be the same twice.
    seen: Option<Texts>,
    /// Whether the file is not there.
    gone: bool,
}

/// The text of the file, of the one that it names for more drills, and when the others that it names were written.
#[derive(Clone, PartialEq)]
struct Texts {
    main: String,
    drills: Option<(PathBuf, String)>,
    beside: Vec<(PathBuf, Option<Stamp>)>,
}

impl Texts {
    fn read(path: &Path, beside: Vec<PathBuf>) -> Option<Texts> {
        let (_, bytes) = source::bytes(path, limits::FILE_BYTES).ok()?;
        let main = String::from_utf8_lossy(&bytes).into_owned();
        let drills = source::drill_file(path, &main).and_then(|drills| {
            let (_, bytes) = source::bytes(&drills, limits::FILE_BYTES).ok()?;
            Some((drills, String::from_utf8_lossy(&bytes).into_owned()))
        });
        let beside = beside.into_iter().map(|file| {
            let stamp = source::stamp(&file);
            (file, stamp)
        });
        Some(Texts {
            main,
            drills,
            beside: beside.collect(),
        })
    }

    /// The same now.
    fn again(&self, path: &Path) -> Option<Texts> {
        let beside = self.beside.iter().map(|(file, _)| file.clone());
        Texts::read(path, beside.collect())
    }
}

/// What became of the file.
pub enum Read {
    /// It is as it was.
    Same,
    /// It has errors; the run stays as it is.
    Findings(Vec<Value>),
    /// It was taken over.
    Taken(Taken),
    /// It is not there any more, or is again as it was.
    There(bool),
}

/// What a file that was saved brought about.
pub struct Taken {
    pub changed: Changed,
    /// Which changed numbers are not in it any more.
    pub lost: Vec<Change>,
    /// Numbers that were changed here and there: the path, what it is there, what it is here.
    pub clashes: Vec<(String, String, String)>,
}

impl Bench {
    pub fn new(session: Session, source: &Source, path: PathBuf) -> Option<Bench> {
        Some(Bench {
            session,
            sheets: source.checked.sheets.clone(),
            texts: Texts::read(&path, source.beside())?,
            path,
            seen: None,
            gone: false,
        })
    }

    /// The name of the file.
    pub fn file(&self) -> String {
        shown(&self.path)
    }

    /// Looks at the file: what was saved counts once it has been the same twice.
    pub fn look(&mut self) -> Read {
        let now = self.texts.again(&self.path);
        let gone = now.is_none();
        if gone != std::mem::replace(&mut self.gone, gone) {
            self.seen = None;
            return Read::There(!gone);
        }
        let Some(now) = now.filter(|now| *now != self.texts) else {
            self.seen = None;
            return Read::Same;
        };
        if self.seen.as_ref() != Some(&now) {
            self.seen = Some(now);
            return Read::Same;
        }
        self.take(now)
    }

    /// Looks at the file now.
    pub fn look_now(&mut self) -> Read {
        match self.texts.again(&self.path) {
            Some(now) if now != self.texts => self.take(now),
            _ => Read::Same,
        }
    }

    fn take(&mut self, now: Texts) -> Read {
        self.seen = None;
        let source = source::of(&self.path, shown(&self.path), now.main.as_bytes());
        self.texts = now;
        let reread = self.reread(&source);
        // It may name other files than before.
        self.texts = Texts::read(&self.path, source.beside()).unwrap_or(self.texts.clone());
        match reread {
            Ok(taken) => Read::Taken(taken),
            Err(found) => Read::Findings(found),
        }
    }

    fn reread(&mut self, source: &Source) -> Result<Taken, Vec<Value>> {
        let checked = &source.checked;
        let found = || errors(&source.text, &checked.findings);
        let encounter = checked.encounter.as_ref().ok_or_else(found)?;
        let plan = checked.plan.as_ref().ok_or_else(found)?;
        let plan = match &self.session.setup().drill {
            None => plan.clone(),
            Some(drill) => {
                let said = |what: String| vec![json!({ "severity": "error", "message": what })];
                let drill = plan.drill(drill).map_err(|error| said(error.to_string()))?;
                let recorded = plan.record([drill], source.files.clone());
                let errors = || errors(&source.text, &recorded.findings);
                recorded.plan.clone().ok_or_else(errors)?
            }
        };
        let before = self.in_file();
        let taken = self.session.reread(encounter, &plan);
        let (changed, lost) = taken.map_err(|error| match error {
            PlayError::Findings(found) => errors(&source.text, &found),
            other => vec![json!({ "severity": "error", "message": other.to_string() })],
        })?;
        self.sheets = checked.sheets.clone();
        let after = self.in_file();
        let clashes = self.session.changes().iter().filter_map(|change| {
            let path = change.path.to_string();
            let there = after.get(&path)?;
            (before.get(&path) != Some(there))
                .then(|| (path, there.clone(), change.value.to_string()))
        });
        Ok(Taken {
            changed,
            lost,
            clashes: clashes.collect(),
        })
    }

    /// Writes the numbers that were changed to the file.
    pub fn write_numbers(&mut self) -> Result<String, Failure> {
        let count = self.session.changes().len();
        if count == 0 {
            return Ok("nothing is changed, and nothing is written".to_owned());
        }
        let text = edit::set(&self.texts.main, self.session.changes())?;
        let source = source::of(&self.path, shown(&self.path), text.as_bytes());
        if source.checked.encounter.as_ref() != Some(self.session.encounter()) {
            return Err(Failure::new(
                "the numbers could not be written without changing more: write them by hand",
            ));
        }
        if let Some(error) = source.checked.findings.errors().next() {
            let failure = Failure::new(format!("nothing is written: {}", error.message));
            return Err(match &error.help {
                Some(help) => failure.help(help),
                None => failure,
            });
        }
        output::write(&self.path, text.as_bytes())?;
        self.written()?;
        let numbers = findings::plural(count, "number");
        Ok(format!("{numbers} written to {}", shown(&self.path)))
    }

    /// Appends a drill to the file, or to the one that it names for drills.
    pub fn keep(&mut self, name: &str, kept: &Kept, golden: bool) -> Result<String, Failure> {
        let encounter = self.session.encounter();
        if encounter.drills.contains_key(name) {
            let help = format!("the name `{}` is free", encounter.free_drill(name));
            return Err(Failure::new(format!("there is a drill `{name}` already")).help(help));
        }
        if !self.session.changes().is_empty() {
            let what = "it was played under numbers that are not in the file";
            return Err(Failure::new(what).help("write them to the file first, or give them back"));
        }
        let (target, text, checked) = match &self.texts.drills {
            None => {
                let text = edit::add_drill(&self.texts.main, name, &kept.drill)?;
                let checked = tin_crown::check(text.as_bytes());
                (self.path.clone(), text, checked)
            }
            Some((path, text)) => {
                let text = edit::add_drill(text, name, &kept.drill)?;
                let file = path.file_name().unwrap_or_default().to_string_lossy();
                let files = BTreeMap::from([(file.into_owned(), text.clone().into_bytes())]);
                let checked = tin_crown::check_with(self.texts.main.as_bytes(), &files);
                (path.clone(), text, checked)
            }
        };
        let replay = self.replayed(name, &checked)?;
        let last = kept.replay.ledger().events().last();
        let last = last.map_or(Tick(0), |event| event.tick);
        // What is written is what was played, or nothing is written.
        let same = self.session.holds_against(&replay, last);
        same.map_err(|error| Failure::new(error.to_string()))?;
        let own = replay.plan().expectations().of(replay.drill());
        let tested = replay.test_all(own.take(kept.drill.expect.len()));
        if let Some(tested) = tested.iter().find(|tested| tested.miss.is_some()) {
            let what = format!(
                "nothing is kept: the replay does not meet \"{}\"",
                tested.said
            );
            let help = "something was changed since that was drafted: choose anew what is kept";
            return Err(Failure::new(what).help(help));
        }
        output::write(&target, text.as_bytes())?;
        self.written()?;
        let lines = replay.ledger().len();
        let mut said = format!(
            "{name} is kept in {}: it replays to the same {lines} lines",
            shown(&target)
        );
        if golden {
            Golden::keep(&self.path, &replay)?;
            said += ", and they are its golden record";
        }
        Ok(said)
    }

    /// A drill of a file that is not written yet, replayed.
    fn replayed(&self, name: &str, checked: &Checked) -> Result<Replay, Failure> {
        let Some(plan) = &checked.plan else {
            let error = checked.findings.errors().next();
            let what = error.map_or_else(String::new, |own| own.message.clone());
            return Err(Failure::new(format!("the drill cannot be kept: {what}")));
        };
        let fail = |error: &dyn std::error::Error| Failure::new(error.to_string());
        let drill = plan.drill(name).map_err(|error| fail(&error))?;
        let source = source::of(&self.path, shown(&self.path), self.texts.main.as_bytes());
        let plan = source.record(plan, &[drill])?;
        plan.replay(name).map_err(|error| fail(&error))
    }

    /// Plays on from what was written.
    fn written(&mut self) -> Result<(), Failure> {
        match self.look_now() {
            Read::Findings(_) => Err(Failure::new(
                "what was written cannot be played: look at the file",
            )),
            Read::Same | Read::There(_) | Read::Taken(_) => Ok(()),
        }
    }

    /// Who can be driven, and with which buttons.
    pub fn players(&self) -> Value {
        let players = self.session.players().into_iter();
        let players = players
            .map(|own| json!({ "id": own.id, "player": own.player, "buttons": own.buttons }));
        players.collect()
    }

    pub fn drills(&self) -> Vec<&str> {
        let plan = self.session.plan();
        let drills = plan.all_drills();
        drills
            .map(|drill| plan.drills()[drill.index()].name())
            .collect()
    }

    /// All numbers of the encounter as they are now.
    pub fn numbers(&self) -> Value {
        let numbers = study::numbers(self.session.encounter()).into_iter();
        numbers
            .map(|own| json!([own.path, value(&own.value.to_string())]))
            .collect()
    }

    /// Which kind each kind is like.
    pub fn kinds(&self) -> Value {
        let kinds = self.session.encounter().kinds.iter();
        let like = kinds.map(|(name, kind)| (name.clone(), json!(kind.like)));
        Value::Object(like.collect())
    }

    /// The numbers that were changed: the path, what it is, what it is in the file.
    pub fn changes(&self) -> Value {
        let changes = self.session.changes();
        if changes.is_empty() {
            return json!([]);
        }
        let file = self.in_file();
        let told = changes.iter().map(|own| {
            let path = own.path.to_string();
            let was = file.get(&path).map(|text| value(text));
            json!([path, value(&own.value.to_string()), was])
        });
        told.collect()
    }

    /// The numbers of the file.
    fn in_file(&self) -> HashMap<String, String> {
        let numbers = study::numbers(self.session.written()).into_iter();
        numbers
            .map(|own| (own.path, own.value.to_string()))
            .collect()
    }
}

/// A value as JSON.
fn value(text: &str) -> Value {
    serde_json::from_str(text).unwrap_or_default()
}

/// Errors with the lines in which they are.
fn errors(text: &str, found: &Findings) -> Vec<Value> {
    found
        .errors()
        .map(|finding| {
            let mut told = findings::json(text, finding);
            if let Some(row) = &finding.row {
                told["text"] = json!(row.text);
            } else if let Some(line) = told["at"]["line"].as_u64() {
                let line = text.lines().nth(line as usize - 1).unwrap_or_default();
                told["text"] = json!(line);
            }
            told
        })
        .collect()
}
