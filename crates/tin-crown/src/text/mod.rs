//! Source text: parsed into one tree whatever its format, with the place of everything in it.

mod json;
mod toml;
mod tree;
mod write;

use std::collections::BTreeSet;

pub(crate) use tree::{Entry, Node, Value};
pub(crate) use write::toml as write_toml;

use crate::finding::{Code, Finding, Findings, Part, Path, Span, Step};
use crate::limits;

/// The format of a source text.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Format {
    /// TOML 1.0.
    Toml,
    /// JSON (RFC 8259).
    Json,
}

impl Format {
    /// What a text looks like: JSON when it begins with a brace, a comment of JSON, or a bracket that
    /// is not that of a TOML table, else TOML.
    pub fn guess(text: &str) -> Format {
        let text = text.trim_start_matches(['\u{feff}', ' ', '\t', '\r', '\n']);
        let line = text.lines().next().unwrap_or_default().trim_end();
        let array = line.strip_prefix('[').is_some_and(|rest| {
            // A table's name stands on one line, and has neither braces nor commas.
            rest.trim_start().starts_with(['{', ']'])
                || rest.trim().is_empty()
                || rest.contains(',')
        });
        if array
            || ["{", "//", "/*"]
                .iter()
                .any(|start| text.starts_with(start))
        {
            Format::Json
        } else {
            Format::Toml
        }
    }
}

/// A parsed source text.
pub(crate) struct Document {
    pub root: Node,
    /// The text itself.
    pub text: String,
}

impl Document {
    /// A value that stands in no text.
    pub fn of(value: Value) -> Document {
        Document {
            root: Node::from(value),
            text: String::new(),
        }
    }

    /// Parses bytes in the format that they look like.
    pub fn parse(bytes: &[u8]) -> Result<Document, Findings> {
        let fail = |finding: Finding| {
            let mut findings = Findings::new();
            findings.push(finding);
            findings
        };
        if bytes.len() as u64 > limits::FILE_BYTES {
            return Err(fail(too_large()));
        }
        let text = std::str::from_utf8(bytes)
            .map_err(|error| fail(not_text(bytes, error.valid_up_to())))?;
        let root = match Format::guess(text) {
            Format::Toml => toml::parse(text)?,
            Format::Json => json::parse(text)?,
        };
        Ok(Document {
            root,
            text: text.to_owned(),
        })
    }

    /// Parses a text that has to be JSON.
    pub fn parse_json(text: &str) -> Result<Document, Findings> {
        let root = json::parse(text)?;
        let text = text.to_owned();
        Ok(Document { root, text })
    }

    /// What stands at `path`.
    fn node(&self, path: &Path) -> Option<&Node> {
        path.steps()
            .iter()
            .try_fold(&self.root, |node, step| match (step, &node.value) {
                (Step::Key(key), Value::Table(entries)) => entries
                    .iter()
                    .find(|entry| entry.key == *key)
                    .map(|entry| &entry.node),
                (Step::Index(index), Value::Array(nodes)) => nodes.get(*index),
                _ => None,
            })
    }

    /// Whether something stands at `path`.
    pub fn has(&self, path: &Path) -> bool {
        self.node(path).is_some()
    }

    /// Every key and text within `path`.
    pub fn words(&self, path: &Path) -> BTreeSet<&str> {
        let mut found: BTreeSet<&str> = BTreeSet::new();
        if let Some(node) = self.node(path) {
            node.words(&mut found);
        }
        found
    }

    /// Where the key or value at `path` stands; when there is no such place, the innermost one
    /// around it that exists.
    pub fn locate(&self, path: &Path, part: Part) -> Option<Span> {
        let mut node = &self.root;
        let mut span = None;
        for step in &path.steps() {
            let (key, next) = match (step, &node.value) {
                (Step::Key(key), Value::Table(entries)) => {
                    let Some(entry) = entries.iter().find(|entry| entry.key == *key) else {
                        break;
                    };
                    (entry.key_span, &entry.node)
                }
                (Step::Index(index), Value::Array(nodes)) => {
                    let Some(next) = nodes.get(*index) else { break };
                    (next.span, next)
                }
                _ => break,
            };
            // A whole table is too much to underline: its key says enough.
            let whole = part == Part::Value && !matches!(next.value, Value::Table(_));
            span = Some(if whole { next.span } else { key });
            node = next;
        }
        span
    }
}

/// The finding about a text beyond [`limits::FILE_BYTES`].
fn too_large() -> Finding {
    Finding::new(
        Code::TooLarge,
        Path::root(),
        format!(
            "this is larger than {} MiB, the limit for an encounter",
            limits::FILE_BYTES >> 20
        ),
    )
    .help("`copies = { count, step }` places many of a kind in one line")
}

/// The finding about bytes that are no UTF-8 text from a place on.
fn not_text(bytes: &[u8], from: usize) -> Finding {
    let utf16 = bytes.starts_with(&[0xff, 0xfe]) || bytes.starts_with(&[0xfe, 0xff]);
    let line = bytes[..from].iter().filter(|byte| **byte == b'\n').count() + 1;
    let message = if utf16 {
        "this is UTF-16 text".to_owned()
    } else {
        format!("line {line} is not UTF-8 text")
    };
    let mut finding = Finding::new(Code::NotText, Path::root(), message)
        .help("save it as UTF-8: an encounter is a TOML or JSON file in that encoding");
    finding.span = Some(Span {
        start: from,
        end: from + 1,
    });
    finding
}

/// A finding about a text that does not parse.
fn syntax(message: &str, span: Span) -> Finding {
    let mut finding = Finding::new(Code::Syntax, Path::root(), message);
    finding.span = Some(span);
    finding
}
