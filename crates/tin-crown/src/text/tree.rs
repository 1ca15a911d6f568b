//! The tree that TOML and JSON have in common.

use std::collections::BTreeSet;

use crate::finding::Span;
use crate::order;

/// A value and where it stands.
#[derive(Clone, Debug)]
pub(crate) struct Node {
    pub span: Span,
    pub value: Value,
}

impl Node {
    /// Adds every key and text of it and within it.
    pub fn words<'n>(&'n self, words: &mut BTreeSet<&'n str>) {
        match &self.value {
            Value::Text(text) => {
                words.insert(text);
            }
            Value::Array(nodes) => nodes.iter().for_each(|node| node.words(words)),
            Value::Table(entries) => {
                for entry in entries {
                    words.insert(&entry.key);
                    entry.node.words(words);
                }
            }
            Value::Number(_) | Value::Flag(_) | Value::Foreign(_) => {}
        }
    }
}

/// What a text can hold.
#[derive(Clone, Debug)]
pub(crate) enum Value {
    Text(String),
    Number(f64),
    Flag(bool),
    Array(Vec<Node>),
    /// In the order of the keys' bytes: the order of a file says nothing.
    Table(Vec<Entry>),
    /// A value that no key of an encounter takes, by the name of its sort.
    Foreign(&'static str),
}

/// A key of a table, and its value.
#[derive(Clone, Debug)]
pub(crate) struct Entry {
    pub key: String,
    pub key_span: Span,
    pub node: Node,
}

impl Entry {
    /// A key and a value that stand in no text.
    pub fn new(key: impl Into<String>, value: Value) -> Entry {
        Entry {
            key: key.into(),
            key_span: Span::default(),
            node: Node::from(value),
        }
    }
}

/// A value that stands in no text.
impl From<Value> for Node {
    fn from(value: Value) -> Node {
        Node {
            span: Span::default(),
            value,
        }
    }
}

impl Value {
    /// An array of values that stand in no text.
    pub fn array(values: impl IntoIterator<Item = Value>) -> Value {
        Value::Array(values.into_iter().map(Node::from).collect())
    }

    /// A table of `entries`.
    pub fn table(mut entries: Vec<Entry>) -> Value {
        order::sort_by(&mut entries, |a, b| a.key.cmp(&b.key));
        Value::Table(entries)
    }

    /// What sort of value this is, with its article.
    pub fn sort(&self) -> &'static str {
        match self {
            Value::Text(_) => "a string",
            Value::Number(_) => "a number",
            Value::Flag(_) => "true or false",
            Value::Array(_) => "an array",
            Value::Table(_) => "a table",
            Value::Foreign(name) => name,
        }
    }
}
