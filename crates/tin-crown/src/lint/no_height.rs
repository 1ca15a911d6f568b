//! What has no height where the arena has heights, and would need one.

use super::Audited;
use crate::finding::{Code, Finding, Findings, Path};
use crate::plan::{Drive, GatePlan, kinds};

/// Bodies that gravity or a jump should move, and boxes of which a rule asks whether they are above.
pub(super) fn check(findings: &mut Findings, audited: &Audited<'_>) {
    let plan = audited.plan;
    if plan.arena.height.is_none() {
        return;
    }
    for spec in audited.kind_specs() {
        let [_, gravity] = plan.arena.pull();
        let jumps = matches!(spec.drive, Drive::Walk { jump: Some(_), .. });
        let moved = jumps || spec.fall(&spec.drive, gravity) != 0.0;
        let Some(body) = spec.body.as_ref().filter(|_| moved) else {
            continue;
        };
        if body.span.is_none() {
            let kind = &plan.names.kinds[spec.kind];
            let message =
                format!("the body of `{kind}` has no height: it never falls, jumps or stands");
            findings.push(
                Finding::new(Code::NoHeight, kinds::path(kind).key("body"), message)
                    .at_key()
                    .help("add a height, for example height = [0, 20]"),
            );
        }
    }
    for (nth, (rule, parties)) in plan.rules.iter().zip(&audited.parties).enumerate() {
        let vertical =
            |gate: &GatePlan| matches!(gate, GatePlan::Above { .. } | GatePlan::Below { .. });
        if !rule.gates.iter().any(vertical) {
            continue;
        }
        let gives = parties
            .gives
            .iter()
            .map(|part| (part, plan.hitbox_of(*part)));
        let takes = parties
            .takes
            .iter()
            .map(|part| (part, plan.hurtbox_of(*part)));
        let flat = gives.chain(takes).find(|(_, own)| own.span.is_none());
        if let Some((part, own)) = flat {
            let (kind, name) = (plan.kind_of(part.role), &own.name);
            let message =
                format!("`{name}` of `{kind}` has no height: it is above and below nothing");
            let path = Path::root().key("rule").index(nth).key("gate");
            findings.push(
                Finding::new(Code::NoHeight, path, message)
                    .at_key()
                    .help("add a height to the box, for example height = [0, 4]"),
            );
        }
    }
}
