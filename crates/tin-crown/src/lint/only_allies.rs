//! Rules that only ever meet allies, or their own actor.

use super::Audited;
use crate::finding::{Code, Finding, Findings, Path};
use crate::map::Set;
use crate::plan::{Plan, RuleIx};
use crate::reach::{Part, Role, Takers};

/// Rules that only ever meet allies.
pub(super) fn check(findings: &mut Findings, audited: &Audited<'_>) {
    let (plan, parties) = (audited.plan, &audited.parties);
    for (nth, parties) in parties.iter().enumerate() {
        let takers = Takers::new(&parties.takes);
        if !meets_only_allies(plan, RuleIx::new(nth), &parties.gives, &takers) {
            continue;
        }
        let rule = &plan.rules[nth];
        let sided = |role: &Role| role.side.is_some();
        let (message, help) = if rule.friendly || !takers.roles.iter().any(sided) {
            let message = format!("`{}` can only ever meet its own actor", rule.name);
            (message, "use another selector, or place another actor")
        } else {
            let message = format!(
                "`{}` only ever meets allies, which it does not hit",
                rule.name
            );
            (message, "write `friendly = true`, or change a `side`")
        };
        let path = Path::root().key("rule").index(nth);
        findings.push(Finding::new(Code::OnlyAllies, path, message).help(help));
    }
}

/// Whether all who give by a rule only ever meet allies, or themselves.
pub(super) fn meets_only_allies(
    plan: &Plan,
    rule: RuleIx,
    gives: &Set<Part>,
    takers: &Takers,
) -> bool {
    let mut givers = gives.iter().map(|part| part.role);
    !gives.is_empty()
        && !takers.roles.is_empty()
        && !givers.any(|who| takers.are_hit(plan, rule, who))
}
