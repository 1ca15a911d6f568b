//! Damage to meters that whom it hits does not have.

use super::Audited;
use super::harm::{hurting, is_used, takes};
use crate::finding::{Code, Finding, Findings, Path};
use crate::plan::{Actor, HEALTH, Plan, RulePlan, Spec, kinds};

pub(super) fn check(findings: &mut Findings, audited: &Audited<'_>) {
    for (actor, spec) in audited.one_of_each_spec() {
        of_actor(findings, audited.plan, actor, spec);
    }
}

/// Rules that take from meters of which an actor has none, while it has another that nothing else asks
/// for.
fn of_actor(findings: &mut Findings, plan: &Plan, actor: &Actor, spec: &Spec) {
    let mut idle = spec.meters.iter().enumerate();
    let Some((_, meter)) = idle.find(|(nth, meter)| {
        !is_used(plan, spec, *nth, meter.name)
            && !hurting(plan, actor).any(|(_, rule)| takes(rule, meter.name).is_positive())
    }) else {
        return;
    };
    let misses = |rule: &RulePlan| {
        let damage = rule.does.damage.as_ref();
        damage.is_some_and(|damage| {
            !damage
                .meters
                .iter()
                .any(|meter| spec.meter(*meter).is_some())
        })
    };
    let Some((rule, of)) = hurting(plan, actor).find(|(_, rule)| misses(rule)) else {
        return;
    };
    let kind = &plan.names.kinds[spec.kind];
    let (own, asked) = (
        &plan.names.meters[meter.name],
        of.does
            .damage
            .iter()
            .flat_map(|damage| &damage.meters)
            .next(),
    );
    let asked = asked.map_or(HEALTH, |meter| &plan.names.meters[*meter]);
    let message = format!(
        "`{}` takes nothing from `{kind}`, which has no `{asked}`: its `{own}` is not touched",
        of.name
    );
    findings.push(
        Finding::new(
            Code::NothingToTake,
            Path::root().key("rule").index(rule.index()).key("damage"),
            message,
        )
        .help(format!(
            "rename the meter to `{asked}`, or name it: damage = {{ amount = 1, meters = [\"{own}\"] }}"
        ))
        .related(kinds::path(kind).key("meter").named(own), "this meter"),
    );
}
