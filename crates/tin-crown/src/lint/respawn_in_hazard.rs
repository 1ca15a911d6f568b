//! Places to come back to where something hurts.

use super::Audited;
use super::hazards::Hazards;
use super::places;
use crate::finding::{Code, Finding, Findings};

pub(super) fn check(findings: &mut Findings, audited: &Audited<'_>) {
    let plan = audited.plan;
    let hazards = Hazards::new(plan);
    for (actor, places) in places::of_return(plan, audited.paths) {
        for place in places {
            if let Some(threat) = hazards.at(plan, actor, (place.at, place.rise), place.facing) {
                let message = threat.told(plan, actor);
                findings.push(
                    Finding::new(Code::RespawnInHazard, place.path, message)
                        .help("move one of them, or give it a longer `invincible.after_respawn`"),
                );
            }
        }
    }
}
