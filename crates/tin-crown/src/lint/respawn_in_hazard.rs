//! Places to come back to where something hurts.

use super::Audited;
use super::hazards::Hazards;
use super::places::{self, Place};
use crate::finding::{Code, Finding, Findings};
use crate::plan::ActorIx;
use crate::plan::select::Subject;

pub(super) fn check(findings: &mut Findings, audited: &Audited<'_>) {
    let plan = audited.plan;
    let hazards = Hazards::new(plan);
    for (actor, places) in places::of_return(plan, audited.paths) {
        let at = |place: &Place, spared: &dyn Fn(ActorIx) -> bool| {
            hazards.at(plan, actor, (place.at, place.rise), place.facing, spared)
        };
        let is_safe = |place: &Place| at(place, &|_| false).is_none();
        let safe = places.iter().any(is_safe);
        for place in places {
            // A place is passed over, while there is another, where one of those gives.
            let spared = |owner: ActorIx| {
                let own = &plan.actors[owner.index()];
                let subject = Subject {
                    actor: Some(owner),
                    kind: plan.spec_of(own.spec).kind,
                    tags: &own.tags,
                };
                safe && place.clear_of.is_some_and(|group| group.matches(&subject))
            };
            if let Some(threat) = at(&place, &spared) {
                let message = threat.told(plan, actor);
                findings.push(
                    Finding::new(Code::RespawnInHazard, place.path, message)
                        .help("move one of them, or give it a longer `invincible.after_respawn`"),
                );
            }
        }
    }
}
