//! Guards that every rule ignores.

use super::Audited;
use crate::finding::{Code, Finding, Findings, Path};
use crate::map::Map;
use crate::plan::{RuleIx, kinds};

/// A guard of a kind that every rule which could come to it pierces.
pub(super) fn check(findings: &mut Findings, audited: &Audited<'_>) {
    let (plan, parties) = (audited.plan, &audited.parties);
    let mut coming: Map<&str, Vec<RuleIx>> = Map::new();
    for (rule, parties) in parties.iter().enumerate() {
        let rule = RuleIx::new(rule);
        if !plan.harms_whom(rule) {
            continue;
        }
        let guarded = parties.takes.iter().map(|part| part.role);
        let guarded = guarded.filter(|role| plan.spec_of(role.spec).guard.is_some());
        for role in guarded {
            let rules = coming.or_default(plan.kind_of(role));
            let mut gives = parties.gives.iter();
            if rules.last() != Some(&rule) && gives.any(|part| !plan.spares(rule, part.role, role))
            {
                rules.push(rule);
            }
        }
    }
    for (kind, rules) in coming {
        let pierces = |rule: &RuleIx| plan.rules[rule.index()].pierces_guard;
        let Some(first) = rules.first().filter(|_| rules.iter().all(pierces)) else {
            continue;
        };
        let message = format!("every rule that hurts `{kind}` pierces its guard");
        let rule = Path::root().key("rule").index(first.index()).key("pierces");
        findings.push(
            Finding::new(Code::GuardUnheeded, kinds::path(kind).key("guard"), message)
                .help("remove `pierces` from a rule, or the guard from the kind")
                .related(rule, "as here"),
        );
    }
}
