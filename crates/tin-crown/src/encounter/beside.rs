//! Expectations, drills and sprites in files of their own beside that of the encounter.

use std::cell::RefCell;

use super::drill::Drill;
use super::edition;
use super::expect::Expectation;
use super::sprite::SpriteSpec;
use crate::finding::{Findings, Path};
use crate::map::Map;
use crate::syntax::{At, Table};
use crate::text::Document;

/// Expectations as written: of all drills, and of each.
#[derive(Clone, Default, PartialEq, Table)]
#[table(no_builder)]
pub(crate) struct Beside {
    /// What every drill has to come to.
    #[key(absent = "none")]
    expect: Vec<Expectation>,
    /// A drill of the encounter.
    #[key(name = "drill", absent = "none")]
    drills: Map<String, OfDrill>,
}

impl Beside {
    /// What every drill has to come to.
    pub fn all(&self) -> &[Expectation] {
        &self.expect
    }

    /// What each drill has to come to, by its name.
    pub fn drills(&self) -> impl Iterator<Item = (&str, &[Expectation])> {
        let drills = self.drills.iter();
        drills.map(|(name, drill)| (name.as_str(), drill.expect.as_slice()))
    }
}

/// The expectations of one drill.
#[derive(Clone, Default, PartialEq, Table)]
#[table(no_builder)]
struct OfDrill {
    /// What it has to come to.
    #[key(required)]
    expect: Vec<Expectation>,
}

/// Drills as written.
#[derive(Clone, Default, PartialEq, Table)]
#[table(no_builder)]
pub(crate) struct DrillFile {
    /// A scripted run-through.
    #[key(name = "drill", absent = "none")]
    pub drills: Map<String, Drill>,
}

/// Sprites as written.
#[derive(Clone, Default, PartialEq, Table)]
#[table(no_builder)]
pub(crate) struct SpriteFile {
    /// The drawing of a kind.
    #[key(name = "sprite", absent = "none")]
    pub sprites: Map<String, SpriteSpec>,
}

/// Reads a file beside that of an encounter; what is wrong with it is in the findings.
pub(crate) fn read_beside<T: Table>(document: &Document) -> (Option<T>, Findings) {
    let findings = RefCell::new(Findings::new());
    let root = Path::root();
    let beside = At::new(document, &root, &findings)
        .table(|fields| edition(fields).then(|| T::read_keys(fields)).flatten());
    (beside, findings.into_inner())
}
