//! Meters that rules empty without any effect.

use super::Audited;
use super::harm::{hurting, is_used, takes};
use crate::finding::{Code, Finding, Findings};
use crate::plan::kinds;

pub(super) fn check(findings: &mut Findings, audited: &Audited<'_>) {
    let plan = audited.plan;
    for (actor, spec) in audited.one_of_each_spec() {
        if spec.meters.iter().any(|meter| plan.is_health(meter.name)) {
            continue;
        }
        let kind = &plan.names.kinds[spec.kind];
        for (nth, meter) in spec.meters.iter().enumerate() {
            let worst = hurting(plan, actor).max_by_key(|(_, rule)| takes(rule, meter.name));
            let Some((_, rule)) = worst.filter(|(_, rule)| takes(rule, meter.name).is_positive())
            else {
                continue;
            };
            if is_used(plan, spec, nth, meter.name) {
                continue;
            }
            let name = &plan.names.meters[meter.name];
            let message = format!(
                "`{}` empties `{name}` of `{kind}`, and nothing comes of it when that is empty",
                rule.name
            );
            let path = kinds::path(kind).key("meter").named(name);
            findings.push(
                Finding::new(Code::EndlessMeter, path, message)
                    .at_key()
                    .help(
                        "only a meter called `health` ends a life: rename it, or use it in a state",
                    ),
            );
        }
    }
}
