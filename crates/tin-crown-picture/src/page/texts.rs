//! Texts that a page is given once each, and knows by their numbers.

use std::collections::HashMap;

use serde::{Serialize, Serializer};

#[derive(Clone, Debug, Default)]
pub(crate) struct Texts {
    all: Vec<String>,
    known: HashMap<String, u32>,
}

impl Texts {
    /// The number of a text.
    pub fn of(&mut self, text: &str) -> u32 {
        if let Some(known) = self.known.get(text) {
            return *known;
        }
        let place = self.all.len() as u32;
        self.all.push(text.to_owned());
        self.known.insert(text.to_owned(), place);
        place
    }

    pub fn len(&self) -> usize {
        self.all.len()
    }

    /// Those from a number on.
    pub fn since(&self, first: usize) -> &[String] {
        &self.all[first..]
    }
}

impl Serialize for Texts {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        self.all.serialize(serializer)
    }
}
