//! Pickups that come to nothing.

use super::Audited;
use crate::finding::{Code, Finding, Findings};
use crate::plan::select::Subject;
use crate::plan::{ClearPlan, Group, Plan, Spec, kinds};

/// A pickup that gives nothing, that nothing announces, and that nothing needs.
pub(super) fn check(findings: &mut Findings, audited: &Audited<'_>) {
    let plan = audited.plan;
    for spec in audited.kind_specs() {
        let Some(pickup) = &spec.pickup else { continue };
        let does = !pickup.gives.is_empty() || pickup.lives > 0 || pickup.cue.is_some();
        if does || is_needed(plan, spec) {
            continue;
        }
        let path = kinds::path(&plan.names.kinds[spec.kind]).key("pickup");
        let message = "this pickup gives nothing, and nothing needs it";
        findings.push(
            Finding::new(Code::NoEffect, path, message)
                .at_key()
                .help("for example: gives = [{ meter = \"health\", amount = 1 }]"),
        );
    }
}

/// Whether an exit or the end of a drill asks that one of a kind is taken, or gone.
fn is_needed(plan: &Plan, spec: &Spec) -> bool {
    let needs = plan.exits.iter().filter_map(|exit| exit.needs.as_ref());
    let needs = needs.flat_map(|needs| [needs.taken, needs.gone]).flatten();
    let clear = plan.clear.iter().filter_map(|clear| match clear {
        ClearPlan::Gone(group) => Some(*group),
        ClearPlan::Survive(_) => None,
    });
    let names = |group: Group| {
        let mut placed = plan.cast().zip(&plan.actors);
        placed.any(|(index, actor)| {
            let subject = Subject {
                actor: Some(index),
                kind: plan.spec_of(actor.spec).kind,
                tags: &actor.tags,
            };
            subject.kind == spec.kind && group.matches(&subject)
        })
    };
    needs.chain(clear).any(names)
}
