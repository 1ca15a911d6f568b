//! Expectations in a file of their own, beside that of the encounter.

use std::cell::RefCell;
use std::collections::BTreeMap;

use super::edition;
use super::expect::Expectation;
use super::read::{At, Read};
use crate::finding::{Findings, Path};
use crate::text::Document;

/// Expectations as written: of all drills, and of each.
pub(crate) struct Beside {
    pub all: Vec<Expectation>,
    pub drills: BTreeMap<String, Vec<Expectation>>,
}

/// The expectations of one drill.
#[derive(Default)]
struct OfDrill(Vec<Expectation>);

impl Read for OfDrill {
    fn read(at: At<'_>) -> Option<OfDrill> {
        at.table(|fields| fields.need("expect").map(OfDrill))
    }
}

/// Reads expectations; what is wrong with them is in the findings.
pub(crate) fn read_beside(document: &Document) -> (Option<Beside>, Findings) {
    let findings = RefCell::new(Findings::new());
    let root = Path::root();
    let beside = At::new(document, &root, &findings).table(|fields| {
        edition(fields).then(|| {
            let all = fields.get("expect").unwrap_or_default();
            let drills: BTreeMap<String, OfDrill> = fields.get("drill").unwrap_or_default();
            let drills = drills.into_iter().map(|(name, OfDrill(own))| (name, own));
            Beside {
                all,
                drills: drills.collect(),
            }
        })
    });
    (beside, findings.into_inner())
}
