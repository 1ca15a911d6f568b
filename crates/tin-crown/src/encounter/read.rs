//! Reading an encounter from the tree of a text: sorts of values and known keys. What the values
//! mean together is the plan's business.

use std::cell::RefCell;
use std::collections::BTreeMap;

use crate::finding::{Code, Finding, Findings, Path};
use crate::limits;
use crate::nearest::nearest;
use crate::text::{Document, Entry, Node, Value};
use crate::time::Duration;

/// A value of the tree at its place, ready to be read.
#[derive(Clone, Copy)]
pub(crate) struct At<'t> {
    node: &'t Node,
    path: &'t Path,
    text: &'t str,
    findings: &'t RefCell<Findings>,
}

/// What can be read from a value of the tree. `None`, with a finding, when the value is of the
/// wrong sort.
pub(crate) trait Read: Sized {
    /// How many of them a list may have.
    const MOST: usize = limits::LIST;

    fn read(at: At<'_>) -> Option<Self>;
}

/// A table of optional parts laid over another, part by part.
macro_rules! laid_over {
    ($own:expr, $base:expr, $name:ident { $($part:ident),+ $(,)? }) => {
        $name { $($part: Option::or_else(Clone::clone(&$own.$part), || Clone::clone(&$base.$part))),+ }
    };
}
pub(crate) use laid_over;

impl<'t> At<'t> {
    /// The whole of a document.
    pub fn new(document: &'t Document, root: &'t Path, findings: &'t RefCell<Findings>) -> At<'t> {
        At {
            node: &document.root,
            path: root,
            text: &document.text,
            findings,
        }
    }

    /// Something within.
    fn within<'a>(self, node: &'a Node, path: &'a Path) -> At<'a>
    where
        't: 'a,
    {
        At { node, path, ..self }
    }

    /// The value as it is written.
    fn written(self) -> &'t str {
        let span = self.node.span;
        self.text.get(span.start..span.end).unwrap_or_default()
    }

    fn report(self, finding: Finding) {
        self.findings.borrow_mut().push(finding);
    }

    /// Reports that something else was due here.
    fn wrong<T>(self, due: &str) -> Option<T> {
        let message = format!("{due} is due here, and this is {}", self.node.value.sort());
        self.report(Finding::new(Code::WrongType, self.path.clone(), message));
        None
    }

    /// One of a few words.
    pub fn word<T: Copy>(self, words: &[(&'static str, T)]) -> Option<T> {
        let Value::Text(text) = &self.node.value else {
            let due: Vec<String> = words
                .iter()
                .map(|(word, _)| format!("\"{word}\""))
                .collect();
            return self.wrong(&due.join(" or "));
        };
        let found = words.iter().find(|(word, _)| word == text);
        if found.is_none() {
            let message = format!("`{text}` is not one of the words that this key takes");
            self.report(
                Finding::new(Code::UnknownName, self.path.clone(), message)
                    .suggest(text, words.iter().map(|(word, _)| *word)),
            );
        }
        found.map(|&(_, value)| value)
    }

    /// A table, read key by key; keys that `read` did not ask for are findings.
    pub fn table<T>(self, read: impl FnOnce(&mut Fields<'t>) -> Option<T>) -> Option<T> {
        let Value::Table(entries) = &self.node.value else {
            return self.wrong("a table");
        };
        let mut fields = Fields {
            at: self,
            entries,
            asked: Vec::new(),
            missed: Vec::new(),
            strict: true,
        };
        let result = read(&mut fields);
        fields.finish();
        result
    }

    /// An array whose elements are read by `read`.
    pub fn list<T>(self, most: usize, read: impl Fn(At<'_>) -> Option<T>) -> Option<Vec<T>> {
        let Value::Array(nodes) = &self.node.value else {
            return self.wrong("an array");
        };
        if nodes.len() > most {
            let count = nodes.len();
            let message = format!("{count} entries are more than {most}, the most there may be");
            self.report(Finding::new(Code::TooMany, self.path.clone(), message).at_key());
            return None;
        }
        let element = |(index, node)| read(self.within(node, &self.path.index(index)));
        // All are read, so that all is reported; one that fails spoils the whole.
        let values: Vec<Option<T>> = nodes.iter().enumerate().map(element).collect();
        values.into_iter().collect()
    }

    /// Whether this is a text.
    pub fn text(self) -> Option<&'t str> {
        match &self.node.value {
            Value::Text(text) => Some(text),
            _ => None,
        }
    }

    /// Whether this is a table.
    pub fn is_table(self) -> bool {
        matches!(self.node.value, Value::Table(_))
    }
}

/// The keys of a table while it is read.
pub(crate) struct Fields<'t> {
    at: At<'t>,
    entries: &'t [Entry],
    asked: Vec<&'static str>,
    /// Of each of these one must be there.
    missed: Vec<Vec<String>>,
    /// Whether keys that nobody asked for are findings.
    strict: bool,
}

impl Fields<'_> {
    /// The value of an optional key.
    pub fn get<T: Read>(&mut self, key: &'static str) -> Option<T> {
        self.with(key, T::read)
    }

    /// The value of an optional key, read by `read`.
    pub fn with<T>(
        &mut self,
        key: &'static str,
        read: impl FnOnce(At<'_>) -> Option<T>,
    ) -> Option<T> {
        self.asked.push(key);
        let entry = self.entries.iter().find(|entry| entry.key == key)?;
        let path = self.at.path.key(key);
        read(self.at.within(&entry.node, &path))
    }

    /// The value of a key that must be there.
    pub fn need<T: Read>(&mut self, key: &'static str) -> Option<T> {
        let value = self.get(key);
        self.miss(&[key]);
        value
    }

    /// Reports a key that must be there and is not: one of `keys`.
    pub fn miss(&mut self, keys: &[&str]) {
        let mut entries = self.entries.iter();
        if !entries.any(|entry| keys.contains(&entry.key.as_str())) {
            let keys = keys.iter().map(|key| (*key).to_owned());
            self.missed.push(keys.collect());
        }
    }

    fn report_missed(&self, keys: &[String]) {
        // A slip of the finger is told as the unknown key that it is.
        let unasked = self.entries.iter().map(|entry| entry.key.as_str());
        let mut unasked = unasked.filter(|key| !self.asked.contains(key));
        let like = |key: &str| nearest(key, keys.iter().map(String::as_str)).is_some();
        if self.strict && unasked.any(like) {
            return;
        }
        let names: Vec<String> = keys.iter().map(|key| format!("`{key}`")).collect();
        let names = match names.len() {
            ..4 => names.join(" or "),
            _ => format!("one of {}", names.join(", ")),
        };
        let message = format!("{names} is missing");
        self.at.report(
            Finding::new(Code::MissingKey, self.at.path.clone(), message)
                .at_key()
                .help(format!("add {names}")),
        );
    }

    /// Reports two keys of which only one may be there.
    pub fn clash(&self, one: &str, other: &str) {
        let has = |key: &str| self.entries.iter().any(|entry| entry.key == key);
        if has(one) && has(other) {
            let message = format!("`{one}` and `{other}` cannot stand together");
            self.at.report(
                Finding::new(Code::Contradiction, self.at.path.key(other), message)
                    .at_key()
                    .related(self.at.path.key(one), format!("`{one}` is here")),
            );
        }
    }

    /// Where the table stands.
    pub fn path(&self) -> &Path {
        self.at.path
    }

    /// Adds a finding.
    pub fn report(&self, finding: Finding) {
        self.at.report(finding);
    }

    /// Says whether keys that nobody asked for are findings; they are unless told otherwise.
    pub fn strict(&mut self, strict: bool) {
        self.strict = strict;
    }

    fn finish(self) {
        for keys in &self.missed {
            self.report_missed(keys);
        }
        if !self.strict {
            return;
        }
        for entry in self.entries {
            if !self.asked.contains(&entry.key.as_str()) {
                let message = format!("no key is called `{}` here", entry.key);
                self.at.report(
                    Finding::new(Code::UnknownKey, self.at.path.key(&entry.key), message)
                        .at_key()
                        .suggest(&entry.key, self.asked.iter().copied()),
                );
            }
        }
    }
}

impl Read for String {
    fn read(at: At<'_>) -> Option<String> {
        at.text()
            .map_or_else(|| at.wrong("a text"), |text| Some(text.to_owned()))
    }
}

impl Read for f64 {
    fn read(at: At<'_>) -> Option<f64> {
        match at.node.value {
            Value::Number(number) => Some(number),
            _ => at.wrong("a number"),
        }
    }
}

/// A whole number, not negative.
impl Read for u32 {
    fn read(at: At<'_>) -> Option<u32> {
        let number = f64::read(at)?;
        if number >= 0.0 && number <= f64::from(u32::MAX) && number == number.trunc() {
            return Some(number as u32);
        }
        let message = format!(
            "a whole number from 0 to {} is due here, and this is {}",
            u32::MAX,
            at.written()
        );
        at.report(Finding::new(Code::OutOfRange, at.path.clone(), message));
        None
    }
}

impl Read for bool {
    fn read(at: At<'_>) -> Option<bool> {
        match at.node.value {
            Value::Flag(flag) => Some(flag),
            _ => at.wrong("true or false"),
        }
    }
}

impl Read for [f64; 2] {
    fn read(at: At<'_>) -> Option<[f64; 2]> {
        if let Value::Array(nodes) = &at.node.value
            && let [
                Node {
                    value: Value::Number(x),
                    ..
                },
                Node {
                    value: Value::Number(y),
                    ..
                },
            ] = nodes[..]
        {
            return Some([x, y]);
        }
        at.wrong("a pair of numbers, such as [12, 20],")
    }
}

impl Read for [[f64; 2]; 2] {
    fn read(at: At<'_>) -> Option<Self> {
        let points: Vec<[f64; 2]> = Read::read(at)?;
        points
            .try_into()
            .ok()
            .or_else(|| at.wrong("a pair of points, such as [[0, 0], [10, 0]],"))
    }
}

impl Read for Duration {
    fn read(at: At<'_>) -> Option<Duration> {
        match &at.node.value {
            Value::Text(text) => match text.parse() {
                Ok(duration) => Some(duration),
                Err(error) => {
                    let message = format!("`{text}` is not a duration");
                    at.report(
                        Finding::new(Code::BadDuration, at.path.clone(), message)
                            .help(error.to_string()),
                    );
                    None
                }
            },
            Value::Number(number) => {
                let message = format!("a duration is due here, and {number} has no unit");
                at.report(
                    Finding::new(Code::BadDuration, at.path.clone(), message).help(format!(
                        "write \"{number}t\" for ticks, \"{number}s\" for seconds, or \"{number}ms\""
                    )),
                );
                None
            }
            _ => at.wrong("a duration, such as \"0.5s\","),
        }
    }
}

impl<T: Read> Read for Vec<T> {
    fn read(at: At<'_>) -> Option<Vec<T>> {
        at.list(T::MOST, T::read)
    }
}

/// A table whose keys are names of the author's.
impl<T: Read + Default> Read for BTreeMap<String, T> {
    fn read(at: At<'_>) -> Option<BTreeMap<String, T>> {
        let Value::Table(entries) = &at.node.value else {
            return at.wrong("a table");
        };
        let read = |entry: &Entry| {
            let path = at.path.key(&entry.key);
            // What fails keeps its name, so that others who name it are not blamed.
            let value = T::read(at.within(&entry.node, &path)).unwrap_or_default();
            (entry.key.clone(), value)
        };
        Some(entries.iter().map(read).collect())
    }
}
