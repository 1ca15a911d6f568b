//! The digest of a plan: one short text for all that decides how a drill goes.

use std::fmt::Write;

use serde::Serialize;
use sha2::{Digest, Sha256};

use super::{DrillPlan, Plan};

/// The first half of the SHA-256 of the plan, and of one drill, as JSON, whose keys have a fixed order.
pub(super) fn print(plan: &Plan, drill: Option<&DrillPlan>) -> [u8; 16] {
    #[derive(Serialize)]
    struct Whole<'a> {
        plan: &'a Plan,
        drill: Option<&'a DrillPlan>,
    }
    let bytes = serde_json::to_vec(&Whole { plan, drill })
        .unwrap_or_else(|error| unreachable!("a plan is plain data: {error}"));
    let mut half = [0; 16];
    half.copy_from_slice(&Sha256::digest(&bytes)[..16]);
    half
}

/// The same as text.
pub(super) fn digest(plan: &Plan, drill: &DrillPlan) -> String {
    let mut text = String::with_capacity(32);
    for byte in print(plan, Some(drill)) {
        // Writing to a String cannot fail.
        let _ = write!(text, "{byte:02x}");
    }
    text
}
