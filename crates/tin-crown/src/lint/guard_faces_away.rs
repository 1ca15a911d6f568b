//! Guards that do not cover the front.

use super::Audited;
use crate::finding::{Code, Finding, Findings};
use crate::geometry::Vec2;
use crate::plan::kinds;

/// A guard whose arc leaves out what is straight ahead.
pub(super) fn check(findings: &mut Findings, audited: &Audited<'_>) {
    let plan = audited.plan;
    for spec in audited.kind_specs() {
        let Some(guard) = &spec.guard else { continue };
        if guard.arc.contains(Vec2::new(1.0, 0.0)) {
            continue;
        }
        let kind = &plan.names.kinds[spec.kind];
        let message =
            format!("the guard of `{kind}` does not cover its front, which is at 0 degrees");
        findings.push(
            Finding::new(
                Code::GuardFacesAway,
                kinds::path(kind).key("guard").key("arc"),
                message,
            )
            .help("angles are counted from the way it faces: arc = [-70, 70] covers the front"),
        );
    }
}
