//! Hitboxes that can never hit.

use super::Audited;
use super::only_allies::meets_only_allies;
use crate::finding::{Code, Finding, Findings};
use crate::map::Set;
use crate::plan::{RuleIx, kinds};
use crate::reach::Takers;

/// A hitbox that no rule lets hit anything that is there, and that pauses no meter. What a rule
/// that only meets allies pairs is told of that rule.
pub(super) fn check(findings: &mut Findings, audited: &Audited<'_>) {
    let (plan, parties) = (audited.plan, &audited.parties);
    let mut met: Set<(&str, &str)> = Set::new();
    for (rule, parties) in parties.iter().enumerate() {
        let takers = Takers::new(&parties.takes);
        let rule = RuleIx::new(rule);
        let only_allies = meets_only_allies(plan, rule, &parties.gives, &takers);
        for part in &parties.gives {
            if only_allies || takers.are_hit(plan, rule, part.role) {
                met.insert((plan.kind_of(part.role), &plan.hitbox_of(*part).name));
            }
        }
    }
    for breed in &plan.breeds {
        let spec = plan.spec_of(breed.spec);
        let kind = plan.names.kinds[spec.kind].as_str();
        for (part, profile) in spec.hitboxes.iter().zip(&breed.gives) {
            if !plan.pauses_of(*profile).is_empty() {
                met.insert((kind, &part.name));
            }
        }
    }
    for spec in audited.kind_specs() {
        let kind = &plan.names.kinds[spec.kind];
        for part in &spec.hitboxes {
            let name = &part.name;
            if met.contains(&(kind, name)) {
                continue;
            }
            let message = format!(
                "`{name}` of `{kind}` can never hit anything: no rule pairs it with a hurtbox of a foe who \
                 is there"
            );
            let path = kinds::path(kind).key("hitbox").named(name);
            findings.push(
                Finding::new(Code::MeetsNothing, path, message)
                    .help(format!("write a rule with `hitbox = \"{kind}.{name}\"`")),
            );
        }
    }
}
