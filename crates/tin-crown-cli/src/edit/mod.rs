//! Edits of an encounter file's text that leave everything else in it as it is.

mod json;
mod toml;

use tin_crown::play::Change;
use tin_crown::{Drill, Format};

use crate::failure::Failure;

/// The text with some values at their paths.
pub fn set(text: &str, changes: &[Change]) -> Result<String, Failure> {
    match Format::guess(text) {
        Format::Toml => toml::set(text, changes),
        Format::Json => json::set(text, changes),
    }
}

/// The text with a drill more.
pub fn add_drill(text: &str, name: &str, drill: &Drill) -> Result<String, Failure> {
    match Format::guess(text) {
        Format::Toml => Ok(toml::add_drill(text, name, drill)),
        Format::Json => json::add_drill(text, name, drill),
    }
}

/// A value has no place in the text.
fn no_place(path: &tin_crown::Path) -> Failure {
    Failure::new(format!("there is no place for `{path}` in the file")).help("write it by hand")
}

/// The keys by which an element of a list is named.
const LABELS: [&str; 3] = ["name", "id", "kind"];
