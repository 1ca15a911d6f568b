//! Findings: what is wrong with an encounter, where, and what to do about it. Data only: drawing
//! them is somebody else's work.

mod code;
mod list;
mod path;

use std::fmt;

use serde::Serialize;

pub use code::{Code, Severity};
pub use list::Findings;
pub use path::{Path, PathError, Step};

use crate::limits;
use crate::nearest::nearest;
use crate::order;

/// What part of the place a finding underlines.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum Part {
    /// The key.
    Key,
    /// The value.
    Value,
}

/// A stretch of the source text, in bytes.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash, Serialize)]
pub struct Span {
    /// The first byte.
    pub start: usize,
    /// One past the last byte.
    pub end: usize,
}

/// A place in a recording or a hit log.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct RowPlace {
    /// The file, as it is told: where it was found.
    pub file: String,
    /// The line, from 1 on.
    pub line: u64,
    /// Its text, as far as it is shown.
    pub text: String,
    /// What of that text it is about.
    pub span: Span,
}

/// One thing that is wrong, or worth knowing, about an encounter.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Finding {
    /// What kind of thing.
    pub code: Code,
    /// How grave.
    pub severity: Severity,
    /// What is wrong, in a sentence.
    pub message: String,
    /// Where in the tree.
    pub path: Path,
    /// Key or value of that place.
    pub part: Part,
    /// Where in the text, when the encounter came from one.
    pub span: Option<Span>,
    /// The line of the text, from 1 on, and the column in characters, where the span begins.
    pub line_column: Option<(usize, usize)>,
    /// What to do, in a sentence.
    pub help: Option<String>,
    /// Other places that have to do with it, each with a few words.
    pub related: Vec<(Path, String, Option<Span>)>,
    /// The row, when it is about a recording or a log and not about the encounter's text.
    pub row: Option<RowPlace>,
    /// The name that means nothing, when that is what is wrong.
    pub(crate) missed: Option<String>,
}

impl Finding {
    /// A finding about the value at `path`. Its severity is that of the code.
    pub(crate) fn new(code: Code, path: Path, message: impl Into<String>) -> Finding {
        Finding::saying(code, path, message.into())
    }

    fn saying(code: Code, path: Path, message: String) -> Finding {
        Finding {
            code,
            severity: code.severity(),
            message: brief(message),
            path,
            part: Part::Value,
            span: None,
            line_column: None,
            help: code.advice().map(str::to_owned),
            related: Vec::new(),
            row: None,
            missed: None,
        }
    }

    /// A name that means nothing there, with the nearest of those that would.
    pub(crate) fn unknown<'a>(
        path: Path,
        what: &str,
        name: &str,
        known: impl IntoIterator<Item = &'a str>,
    ) -> Finding {
        Finding::naming_none(path, what, name).suggest(name, known)
    }

    fn naming_none(path: Path, what: &str, name: &str) -> Finding {
        let message = match name {
            "" => format!("this names no {what}"),
            _ => format!("unknown {what} `{name}`"),
        };
        Finding::new(Code::UnknownName, path, message).missing(name)
    }

    /// Says which name means nothing here.
    pub(crate) fn missing(mut self, name: &str) -> Finding {
        self.missed = Some(name.trim_start_matches('#').to_owned());
        self
    }

    pub(crate) fn at_key(mut self) -> Finding {
        self.part = Part::Key;
        self
    }

    pub(crate) fn help(mut self, help: impl Into<String>) -> Finding {
        self.help = Some(brief(help.into()));
        self
    }

    pub(crate) fn related(mut self, path: Path, words: impl Into<String>) -> Finding {
        self.related.push((path, words.into(), None));
        self
    }

    /// Names the nearest of the `known` words, or else lists them.
    pub(crate) fn suggest<'a>(
        self,
        word: &str,
        known: impl IntoIterator<Item = &'a str>,
    ) -> Finding {
        self.suggest_of(word, &mut known.into_iter())
    }

    fn suggest_of(self, word: &str, known: &mut dyn Iterator<Item = &str>) -> Finding {
        let mut words: Vec<&str> = known.collect();
        if let Some(near) = nearest(word, words.iter().copied()) {
            return self.help(format!("did you mean `{near}`?"));
        }
        order::sort(&mut words);
        words.dedup();
        let more = words.len().saturating_sub(12);
        words.truncate(12);
        match (words.is_empty(), more) {
            (true, _) => self.help("there are none"),
            (false, 0) => self.help(format!("known: {}", words.join(", "))),
            (false, more) => self.help(format!("known: {}, and {more} more", words.join(", "))),
        }
    }
}

impl Finding {
    /// What to do, in brackets.
    fn advice(&self) -> String {
        let help = self.help.as_ref();
        help.map_or_else(String::new, |help| format!(" ({help})"))
    }
}

/// A message in which names that are far too long are cut short.
fn brief(message: String) -> String {
    // An empty name would be seen as nothing.
    let message = match message.contains("``") {
        true => message.replace("``", "`\"\"`"),
        false => message,
    };
    if message.len() <= limits::NAME_BYTES {
        return message;
    }
    let cut = |part: &str| {
        let mut chars = part.char_indices();
        match chars.nth(limits::NAME_BYTES) {
            // Nobody misses the last few letters.
            Some((_, _)) if chars.clone().nth(8).is_some() => {
                let kept: String = part.chars().take(limits::NAME_BYTES / 2).collect();
                format!("{kept}…")
            }
            _ => part.to_owned(),
        }
    };
    // What stands between backquotes are names.
    let parts = message.split('`').enumerate();
    let parts = parts.map(|(nth, part)| {
        if nth % 2 == 1 {
            cut(part)
        } else {
            part.to_owned()
        }
    });
    parts.collect::<Vec<_>>().join("`")
}

/// `error[unknown-key] at 12:5 (arena): unknown key …`: line and column, where they are known.
impl fmt::Display for Finding {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let severity = match self.severity {
            Severity::Error => "error",
            Severity::Warning => "warning",
            Severity::Note => "note",
        };
        write!(f, "{severity}[{}]", self.code)?;
        if let Some(row) = &self.row {
            let (line, column) = self.line_column.unwrap_or_default();
            return write!(
                f,
                " at {}:{line}:{column}: {}{}",
                row.file,
                self.message,
                self.advice()
            );
        }
        match (self.line_column, self.path.is_root()) {
            (Some((line, column)), true) => write!(f, " at {line}:{column}")?,
            (Some((line, column)), _) => write!(f, " at {line}:{column} ({})", self.path)?,
            (None, true) => {}
            (None, _) => write!(f, " at {}", self.path)?,
        }
        write!(f, ": {}{}", self.message, self.advice())
    }
}
