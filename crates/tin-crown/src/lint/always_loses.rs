//! Rules that another beats whenever they could land.

use super::Audited;
use crate::finding::{Code, Finding, Findings, Path};
use crate::plan::GatePlan;
use crate::time::Ticks;

/// A rule that is beaten by another whenever it could land.
pub(super) fn check(findings: &mut Findings, audited: &Audited<'_>) {
    let (plan, parties) = (audited.plan, &audited.parties);
    for (winner, rule) in plan.rules.iter().enumerate() {
        for &beaten in &rule.beats {
            let loser = &plan.rules[beaten.index()];
            let gates = |gate: &GatePlan| loser.gates.contains(gate);
            let easier = rule.gates.iter().all(gates)
                && rule.repeat == loser.repeat
                && rule.every == Ticks(0)
                && (rule.friendly || !loser.friendly);
            let (own, other) = (&parties[beaten.index()], &parties[winner]);
            let there = !own.gives.is_empty() && !own.takes.is_empty();
            let covered = own.gives.is_subset(&other.gives) && own.takes.is_subset(&other.takes);
            if easier && there && covered {
                let base = Path::root().key("rule");
                let message = format!(
                    "`{}` always loses: `{}` beats it whenever it could land",
                    loser.name, rule.name
                );
                findings.push(
                    Finding::new(Code::AlwaysLoses, base.index(beaten.index()), message)
                        .help("give the winner a gate, or remove its `beats`")
                        .related(base.index(winner).key("beats"), "it beats it here"),
                );
            }
        }
    }
}
