//! The keys of a table while it is read.

use super::{At, Syntax};
use crate::finding::{Code, Finding, Path};
use crate::nearest::nearest;
use crate::text::{Entry, Node};

/// The keys of a table while it is read.
pub(crate) struct Fields<'t> {
    at: At<'t>,
    entries: &'t [Entry],
    asked: Vec<&'static str>,
    /// Of each of these one is required.
    missed: Vec<Vec<&'static str>>,
    /// Keys that are there and could not be read.
    failed: Vec<&'static str>,
    /// Keys that are not among these, whoever asks for them.
    hidden: &'static [&'static str],
    /// Whether keys that nobody asked for are findings.
    strict: bool,
    /// What to do about a key that belongs elsewhere.
    misplaced: Option<fn(&str) -> Option<String>>,
}

/// Keys that were replaced, and what to write instead.
const REPLACED: [(&str, &str); 1] = [("after_attempts", "restarted_by = \"attempt\"")];

impl<'t> Fields<'t> {
    pub(super) fn new(at: At<'t>, entries: &'t [Entry]) -> Fields<'t> {
        Fields {
            at,
            entries,
            asked: Vec::new(),
            missed: Vec::new(),
            failed: Vec::new(),
            hidden: &[],
            strict: true,
            misplaced: None,
        }
    }

    /// The value of an optional key.
    pub fn get<T: Syntax>(&mut self, key: &'static str) -> Option<T> {
        let (node, path) = self.ask(key)?;
        let value = T::read(self.at.within(node, &path));
        if value.is_none() {
            self.failed.push(key);
        }
        value
    }

    /// Where a key is, if it is there.
    fn ask(&mut self, key: &'static str) -> Option<(&'t Node, Path)> {
        if self.hidden.contains(&key) {
            return None;
        }
        self.asked.push(key);
        let entry = self.entries.iter().find(|entry| entry.key == key)?;
        Some((&entry.node, self.at.path.key(key)))
    }

    /// The value of a required key.
    pub fn need<T: Syntax>(&mut self, key: &'static str) -> Option<T> {
        let value = self.get(key);
        self.miss(&[key]);
        value
    }

    /// The keys that `read` asks for, but for some.
    pub fn hiding<T>(
        &mut self,
        keys: &'static [&'static str],
        read: impl FnOnce(&mut Fields<'t>) -> Option<T>,
    ) -> Option<T> {
        let hidden = std::mem::replace(&mut self.hidden, keys);
        let value = read(self);
        self.hidden = hidden;
        value
    }

    /// Whether all of these are there and could be read.
    pub fn has_all(&self, keys: &[&str]) -> bool {
        let read = |key: &&str| self.has(key) && !self.failed.contains(key);
        keys.iter().all(read)
    }

    /// Exactly one of these has to be there.
    pub fn one_of(&mut self, keys: &[&'static str]) {
        self.miss(keys);
        self.at_most_one(keys);
    }

    /// At least one of these has to be there.
    pub fn some_of(&mut self, keys: &[&'static str]) {
        self.miss(keys);
    }

    /// No two of these may be there.
    pub fn at_most_one(&mut self, keys: &[&'static str]) {
        for (nth, one) in keys.iter().enumerate() {
            for other in &keys[nth + 1..] {
                self.clash(one, other);
            }
        }
    }

    /// Says what to do about keys that belong elsewhere.
    pub fn misplaced(&mut self, instead: fn(&str) -> Option<String>) {
        self.misplaced = Some(instead);
    }

    /// What to do about a key that was replaced or belongs elsewhere.
    fn instead_of(&self, key: &str) -> Option<String> {
        let replaced = REPLACED.iter().find(|(own, _)| *own == key);
        let replaced = replaced.map(|(_, instead)| format!("write `{instead}`"));
        replaced.or_else(|| self.misplaced.and_then(|instead| instead(key)))
    }

    fn has(&self, key: &str) -> bool {
        self.entries.iter().any(|entry| entry.key == key)
    }

    /// Reports a required key that is not there: one of `keys`.
    fn miss(&mut self, keys: &[&'static str]) {
        if !keys.iter().any(|key| self.has(key)) {
            self.missed.push(keys.to_vec());
        }
    }

    fn report_missed(&self, keys: &[&'static str]) {
        // A slip of the finger is told as the unknown key that it is.
        let unasked = self.entries.iter().map(|entry| entry.key.as_str());
        let mut unasked = unasked.filter(|key| !self.asked.contains(key));
        let told = |key: &str| {
            nearest(key, keys.iter().copied()).is_some() || self.instead_of(key).is_some()
        };
        if self.strict && unasked.any(told) {
            return;
        }
        let names: Vec<String> = keys.iter().map(|key| format!("`{key}`")).collect();
        let names = match names.len() {
            ..4 => names.join(" or "),
            _ => format!("one of {}", names.join(", ")),
        };
        let message = match keys.len() {
            ..8 => format!("{names} is required"),
            many => format!("one of {many} keys is required"),
        };
        self.at.report(
            Finding::new(Code::MissingKey, self.at.path.clone(), message)
                .at_key()
                .help(format!("add {names}")),
        );
    }

    /// Reports two keys of which only one may be there.
    fn clash(&self, one: &str, other: &str) {
        if self.has(one) && self.has(other) {
            let message = format!("`{one}` and `{other}` cannot be used together");
            self.at.report(
                Finding::new(Code::Contradiction, self.at.path.named(other), message)
                    .at_key()
                    .related(self.at.path.named(one), format!("`{one}` is here")),
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

    pub(super) fn finish(self) {
        for keys in &self.missed {
            self.report_missed(keys);
        }
        if !self.strict {
            return;
        }
        for entry in self.entries {
            if !self.asked.contains(&entry.key.as_str()) {
                let message = format!("unknown key `{}`", entry.key);
                let path = self.at.path.named(&entry.key);
                let finding = Finding::new(Code::UnknownKey, path, message).at_key();
                self.at.report(match self.instead_of(&entry.key) {
                    Some(instead) => finding.help(instead),
                    None => finding.suggest(&entry.key, self.asked.iter().copied()),
                });
            }
        }
    }
}
