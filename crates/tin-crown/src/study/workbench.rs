//! An encounter that a study changes and replays, over and over.

use std::sync::Arc;

use crate::encounter::Encounter;
use crate::finding::Findings;
use crate::plan::Plan;

/// An encounter of which a study changes values: with the drills alone that it needs.
#[derive(Clone, Debug)]
pub(super) struct Workbench {
    pub encounter: Encounter,
    /// The plan of the encounter as it is, with its recordings.
    base: Arc<Plan>,
}

impl Workbench {
    /// One for some drills.
    pub fn new(encounter: &Encounter, plan: &Arc<Plan>, drills: &[String]) -> Workbench {
        Workbench {
            encounter: encounter.only(drills.iter().map(String::as_str)),
            base: Arc::clone(plan),
        }
    }

    /// The encounter as it stands, resolved.
    pub fn plan(&self) -> Result<Arc<Plan>, Findings> {
        self.encounter.resolve_again(&self.base)
    }
}
