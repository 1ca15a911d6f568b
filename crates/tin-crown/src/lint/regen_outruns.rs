//! Meters that get back between two hits what the hits take.

use super::Audited;
use super::harm::{hurting, takes};
use crate::amount::Amount;
use crate::finding::{Code, Finding, Findings};
use crate::plan::{Actor, MeterPlan, Plan, RulePlan, Spec, kinds};
use crate::time::Ticks;

pub(super) fn check(findings: &mut Findings, audited: &Audited<'_>) {
    for (actor, spec) in audited.one_of_each_spec() {
        for meter in &spec.meters {
            of_meter(findings, audited.plan, actor, spec, meter);
        }
    }
}

/// A meter that gets back between two hits of each rule at least what the hit takes.
fn of_meter(findings: &mut Findings, plan: &Plan, actor: &Actor, spec: &Spec, meter: &MeterPlan) {
    let Some(regen) = &meter.regen else { return };
    let regained = |rule: &RulePlan| {
        let apart = spec.after_hit.max(rule.every).max(Ticks(1)).0;
        let payments = match regen.delay {
            Some(Ticks(delay)) if apart < delay.max(1) => 0,
            Some(Ticks(delay)) => (apart - delay) / regen.every.0 + 1,
            None => apart / regen.every.0,
        };
        Amount::thousandths(
            regen
                .amount
                .in_thousandths()
                .saturating_mul(i64::from(payments)),
        )
    };
    let all = hurting(plan, actor).filter(|(_, rule)| takes(rule, meter.name).is_positive());
    let outrun = all.map(|(_, rule)| regained(rule) >= takes(rule, meter.name));
    let mut outrun = outrun.peekable();
    if outrun.peek().is_some() && outrun.all(|outrun| outrun) {
        let kind = &plan.names.kinds[spec.kind];
        let name = &plan.names.meters[meter.name];
        let path = kinds::path(kind).key("meter").named(name);
        let message = format!("`{name}` regains between two hits at least what any of them takes");
        findings.push(
            Finding::new(Code::RegenOutruns, path.key("regen"), message)
                .help("make the `delay` longer, or the payments smaller"),
        );
    }
}
