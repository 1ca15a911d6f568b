//! Measures: numbers that a study reads off a replay, in the words of expectations.

use std::cell::RefCell;

use super::expect::{During, Expectation};
use super::pattern::Pattern;
use crate::finding::{Findings, Part, Path};
use crate::syntax::{At, Syntax, Table};
use crate::text::Document;
use crate::time::Duration;

/// A number that a study reads off a replay.
///
/// ```
/// use tin_crown::encounter::Measure;
///
/// let read = Measure::read("count = { hit = { whom = 'porter' } }, from = '1s'");
/// assert!(read.value.unwrap().count.is_some());
/// let read = Measure::read("cuont = { hit = { whom = 'porter' } }");
/// let finding = read.findings.iter().next().unwrap();
/// assert_eq!(finding.help.as_deref(), Some("did you mean `count`?"));
/// ```
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(one_of(
    "count",
    "first",
    "last",
    "least_apart",
    "total",
    "lowest",
    "highest",
    "end"
))]
pub struct Measure {
    /// How often it happens.
    pub count: Option<Pattern>,
    /// When it happens first, in seconds.
    pub first: Option<Pattern>,
    /// When it happens last, in seconds.
    pub last: Option<Pattern>,
    /// The shortest time between two in succession, in seconds.
    pub least_apart: Option<Pattern>,
    /// How much damage such hits did in all, overkill not counted.
    pub total: Option<Pattern>,
    /// The least that a meter holds.
    pub lowest: Option<MeterOf>,
    /// The most that a meter holds.
    pub highest: Option<MeterOf>,
    /// What a meter holds at the end.
    pub end: Option<MeterOf>,
    /// Only what comes from then on counts.
    #[key(absent = "the beginning")]
    pub from: Option<Duration>,
    /// Only what comes up to then counts.
    #[key(absent = "the end")]
    pub to: Option<Duration>,
    /// Only what comes while that holds counts; as it was just before the line.
    #[key(name = "while", absent = "always")]
    pub during: Option<During>,
}

/// A meter of an actor; of several actors the least, or for `highest` the most.
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(no_builder)]
pub struct MeterOf {
    /// Whose.
    #[key(required, text = "selector")]
    pub who: String,
    /// Which.
    #[key(required, text = "meter")]
    pub meter: String,
}

/// A value that was read from a text of its own, such as an argument.
#[derive(Clone, Debug)]
pub struct ReadAlone<T> {
    /// The value, unless a finding is an error.
    pub value: Option<T>,
    /// The text that was read, as findings point into it.
    pub text: String,
    /// All that was found.
    pub findings: Findings,
}

/// Reads the keys of a table, with or without braces, as the value of `key`.
fn alone<T: Syntax>(key: &'static str, written: &str) -> ReadAlone<T> {
    let trimmed = written.trim();
    let text = match trimmed.starts_with('{') {
        true => format!("{key} = {trimmed}"),
        false => format!("{key} = {{ {trimmed} }}"),
    };
    let document = match Document::parse(text.as_bytes()) {
        Ok(document) => document,
        Err(mut findings) => {
            findings.count_lines(text.as_bytes());
            return ReadAlone {
                value: None,
                text,
                findings,
            };
        }
    };
    let findings = RefCell::new(Findings::new());
    let root = Path::root();
    let value = At::new(&document, &root, &findings).table(|fields| fields.need::<T>(key));
    let mut findings = findings.into_inner();
    findings.locate(|path, part| document.locate(path, part));
    findings.count_lines(text.as_bytes());
    ReadAlone {
        value: value.filter(|_| !findings.has_errors()),
        text,
        findings,
    }
}

impl<T> ReadAlone<T> {
    /// Adds what was found later about the same text, within the path of its key.
    pub(crate) fn follow(&mut self, later: Findings) {
        self.findings.follow(later, |_| false);
        if let Ok(document) = Document::parse(self.text.as_bytes()) {
            self.findings
                .locate(|path: &Path, part: Part| document.locate(path, part));
            self.findings.count_lines(self.text.as_bytes());
        }
        if self.findings.has_errors() {
            self.value = None;
        }
    }
}

impl Measure {
    /// Reads one as it stands in an argument: `count = { hit = { whom = "porter" } }`.
    pub fn read(text: &str) -> ReadAlone<Measure> {
        alone("measure", text)
    }
}

impl Expectation {
    /// Reads one as it stands in an argument: `never = { hit = { whom = "porter" } }`.
    ///
    /// ```
    /// let read = tin_crown::Expectation::read("outcome = 'won'");
    /// assert!(read.value.is_some());
    /// ```
    pub fn read(text: &str) -> ReadAlone<Expectation> {
        alone("expect", text)
    }
}
