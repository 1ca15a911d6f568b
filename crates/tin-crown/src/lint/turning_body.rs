//! Bodies of kinds that rotate, which do not turn with the rest.

use super::Audited;
use crate::finding::{Code, Finding, Findings};
use crate::geometry::Vec2;
use crate::plan::kinds;

/// A body that is the same whichever way its owner faces is a circle about its place.
pub(super) fn check(findings: &mut Findings, audited: &Audited<'_>) {
    for spec in audited.kind_specs().filter(|spec| spec.rotates) {
        let Some(body) = &spec.body else { continue };
        if body.unturned(Default::default()).points() == [Vec2::ZERO] {
            continue;
        }
        let kind = &audited.plan.names.kinds[spec.kind];
        let message = format!("`{kind}` rotates, but its body does not turn, and is no circle");
        findings.push(
            Finding::new(Code::TurningBody, kinds::path(kind).key("body"), message)
                .at_key()
                .help("make it a circle, for example body = { radius = 8 }"),
        );
    }
}
