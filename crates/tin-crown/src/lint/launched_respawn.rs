//! Respawns of kinds that are only ever launched: those have one life.

use super::Audited;
use crate::finding::{Code, Finding, Findings};
use crate::map::Set;
use crate::plan::{KindIx, kinds};

/// A kind that is only ever launched has one life.
pub(super) fn check(findings: &mut Findings, audited: &Audited<'_>) {
    let plan = audited.plan;
    let placed: Set<KindIx> = plan
        .actors
        .iter()
        .map(|actor| plan.spec_of(actor.spec).kind)
        .collect();
    let mut told = Set::new();
    for breed in &plan.breeds {
        let spec = plan.spec_of(breed.spec);
        if spec.respawn.is_none() || placed.contains(&spec.kind) || !told.insert(spec.kind) {
            continue;
        }
        let kind = &plan.names.kinds[spec.kind];
        let message = format!("`{kind}` is only ever launched, and launched actors have one life");
        findings.push(
            Finding::new(Code::NoEffect, kinds::path(kind).key("respawn"), message)
                .at_key()
                .help("remove `respawn`, or place one"),
        );
    }
}
