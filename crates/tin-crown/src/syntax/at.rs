//! A value of the tree at its place. What values mean together is the plan's business.

use std::cell::RefCell;

use super::Fields;
use crate::finding::{Code, Finding, Findings, Path};
use crate::nearest::nearest;
use crate::text::{Document, Node, Value};

/// A value of the tree at its place, ready to be read.
#[derive(Clone, Copy)]
pub(crate) struct At<'t> {
    pub(super) node: &'t Node,
    pub(super) path: &'t Path,
    text: &'t str,
    findings: &'t RefCell<Findings>,
}

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
    pub(super) fn within<'a>(self, node: &'a Node, path: &'a Path) -> At<'a>
    where
        't: 'a,
    {
        At { node, path, ..self }
    }

    /// The value as it is written.
    pub(super) fn written(self) -> &'t str {
        let span = self.node.span;
        self.text.get(span.start..span.end).unwrap_or_default()
    }

    pub(super) fn report(self, finding: Finding) {
        self.findings.borrow_mut().push(finding);
    }

    /// The number, if it is one.
    pub fn number(self) -> Option<f64> {
        match self.node.value {
            Value::Number(number) => Some(number),
            _ => None,
        }
    }

    /// The numbers of an array that has nothing else; else none.
    pub fn numbers(self) -> Vec<f64> {
        let Value::Array(nodes) = &self.node.value else {
            return Vec::new();
        };
        let numbers = nodes.iter().map(|node| match node.value {
            Value::Number(number) => Some(number),
            _ => None,
        });
        numbers.collect::<Option<_>>().unwrap_or_default()
    }

    /// Reports what is wrong with the value, and what to do.
    pub fn refuse<T>(self, code: Code, message: String, help: String) -> Option<T> {
        self.report(Finding::new(code, self.path.clone(), message).help(help));
        None
    }

    /// Reports that something else was expected here.
    pub fn wrong<T>(self, expected: &str) -> Option<T> {
        self.expected(expected);
        None
    }

    fn expected(self, expected: &str) {
        let message = format!("expected {expected}, found {}", self.node.value.sort());
        self.report(Finding::new(Code::WrongType, self.path.clone(), message));
    }

    /// Which of a few words it is.
    pub fn word(self, words: &[&'static str]) -> Option<usize> {
        self.word_or(words, &[], &[])
    }

    /// Which of a few words it is, where a table with one of some keys could stand; of those, `texts` take a text.
    pub fn word_or(self, words: &[&'static str], texts: &[&str], keys: &[&str]) -> Option<usize> {
        let Value::Text(text) = &self.node.value else {
            let words: Vec<String> = words.iter().map(|word| format!("\"{word}\"")).collect();
            let table = match keys {
                [] => String::new(),
                keys => format!(", or a table with `{}`", keys.join("` or `")),
            };
            return self.wrong(&(words.join(" or ") + &table));
        };
        let found = words.iter().position(|word| word == text);
        if found.is_none() {
            let message = format!("unknown value `{text}`");
            let finding = Finding::new(Code::UnknownName, self.path.clone(), message);
            let known = words.iter().copied();
            // A word that is near none of them may be what one of the keys takes.
            self.report(match texts.first() {
                Some(key) if nearest(text, known.clone()).is_none() => {
                    finding.help(format!("write {{ {key} = \"{text}\" }}"))
                }
                _ => finding.suggest(text, known),
            });
        }
        found
    }

    /// A table, read key by key; keys that `read` did not ask for are findings.
    pub fn table<T>(self, read: impl FnOnce(&mut Fields<'t>) -> Option<T>) -> Option<T> {
        let mut fields = self.fields()?;
        let result = read(&mut fields);
        fields.finish();
        result
    }

    fn fields(self) -> Option<Fields<'t>> {
        let Value::Table(entries) = &self.node.value else {
            return self.wrong("a table");
        };
        Some(Fields::new(self, entries))
    }

    /// An array whose elements are read by `read`. All are read, so that all is reported; one that fails spoils
    /// the whole.
    pub fn list<T>(self, most: usize, read: impl Fn(At<'_>) -> Option<T>) -> Option<Vec<T>> {
        let nodes = self.elements(most)?;
        let mut values = Vec::with_capacity(nodes.len());
        for (index, node) in nodes.iter().enumerate() {
            if let Some(value) = read(self.within(node, &self.path.index(index))) {
                values.push(value);
            }
        }
        (values.len() == nodes.len()).then_some(values)
    }

    fn elements(self, most: usize) -> Option<&'t [Node]> {
        let Value::Array(nodes) = &self.node.value else {
            return self.wrong("an array");
        };
        if nodes.len() > most {
            let count = nodes.len();
            let message = format!("{count} entries, and at most {most} are allowed");
            self.report(Finding::new(Code::TooMany, self.path.clone(), message).at_key());
            return None;
        }
        Some(nodes)
    }

    /// Whether this is a text.
    pub fn text(self) -> Option<&'t str> {
        match &self.node.value {
            Value::Text(text) => Some(text),
            _ => None,
        }
    }

    /// Whether this is a list whose first element is a list.
    pub fn is_list_of_lists(self) -> bool {
        let Value::Array(nodes) = &self.node.value else {
            return false;
        };
        let first = nodes.first();
        first.is_some_and(|node| matches!(node.value, Value::Array(_)))
    }

    /// Whether this is a table.
    pub fn is_table(self) -> bool {
        matches!(self.node.value, Value::Table(_))
    }
}
