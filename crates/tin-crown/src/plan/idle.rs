//! Does everything ever come into play? Findings about attacks that meet nothing, rules that always
//! lose, and states that nothing leads to.

use std::collections::BTreeSet;

use super::checker::Checker;
use super::gates::GatePlan;
use super::index::RuleIx;
use super::reach::{Part, Parties, Role, Takers};
use super::spec::Spec;
use super::{Plan, kinds};
use crate::finding::{Code, Finding, Path};
use crate::time::Ticks;

pub(super) fn check(check: &mut Checker, plan: &Plan, parties: &[Parties]) {
    hitboxes(check, plan, parties);
    allies(check, plan, parties);
    losers(check, plan, parties);
    for spec in kind_specs(plan) {
        states(check, plan, spec);
    }
}

/// The kinds of all that is placed or launched, as they are written.
fn kind_specs(plan: &Plan) -> impl Iterator<Item = &Spec> {
    let kinds: BTreeSet<usize> = plan
        .breeds
        .iter()
        .map(|breed| plan.spec_of(breed.spec).kind.index())
        .collect();
    kinds.into_iter().map(|kind| &plan.specs[kind])
}

/// A hitbox that no rule lets hit anything that is there, and that pauses no meter. What a rule
/// that only meets allies pairs is told of that rule.
fn hitboxes(check: &mut Checker, plan: &Plan, parties: &[Parties]) {
    let mut met: BTreeSet<(&str, &str)> = BTreeSet::new();
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
        let kind = plan.kinds[spec.kind.index()].as_str();
        for (part, profile) in spec.hitboxes.iter().zip(&breed.gives) {
            if !plan.pauses_of(*profile).is_empty() {
                met.insert((kind, &part.name));
            }
        }
    }
    for spec in kind_specs(plan) {
        let kind = &plan.kinds[spec.kind.index()];
        for part in &spec.hitboxes {
            let name = &part.name;
            if met.contains(&(kind, name)) {
                continue;
            }
            let message = format!(
                "`{name}` of `{kind}` can never hit anything: no rule pairs it with a hurtbox of a foe who \
                 is there"
            );
            let path = kinds::path(kind).key("hitbox").key(name);
            check.report(
                Finding::new(Code::MeetsNothing, path, message)
                    .help(format!("write a rule with `hitbox = \"{kind}.{name}\"`")),
            );
        }
    }
}

/// Whether all who give by a rule only ever meet allies, or themselves.
fn meets_only_allies(plan: &Plan, rule: RuleIx, gives: &BTreeSet<Part>, takers: &Takers) -> bool {
    let mut givers = gives.iter().map(|part| part.role);
    !gives.is_empty()
        && !takers.roles.is_empty()
        && !givers.any(|who| takers.are_hit(plan, rule, who))
}

/// Rules that only ever meet allies.
fn allies(check: &mut Checker, plan: &Plan, parties: &[Parties]) {
    for (nth, parties) in parties.iter().enumerate() {
        let takers = Takers::new(&parties.takes);
        if !meets_only_allies(plan, RuleIx::new(nth), &parties.gives, &takers) {
            continue;
        }
        let rule = &plan.rules[nth];
        let sided = |role: &Role| role.side.is_some();
        let (message, help) = if rule.friendly || !takers.roles.iter().any(sided) {
            let message = format!("`{}` can only ever meet its own actor", rule.name);
            (message, "name somebody else, or place another")
        } else {
            let message = format!("`{}` only ever meets allies, whom it spares", rule.name);
            (message, "write `friendly = true`, or change a `side`")
        };
        let path = Path::root().key("rule").index(nth);
        check.report(Finding::new(Code::OnlyAllies, path, message).help(help));
    }
}

/// A rule that is beaten by another whenever it could land.
fn losers(check: &mut Checker, plan: &Plan, parties: &[Parties]) {
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
                    "`{}` always loses: `{}` beats it, and comes about whenever it does",
                    loser.name, rule.name
                );
                check.report(
                    Finding::new(Code::AlwaysLoses, base.index(beaten.index()), message)
                        .help("give the winner a gate, or take its `beats` away")
                        .related(base.index(winner).key("beats"), "it beats it here"),
                );
            }
        }
    }
}

/// States that no transition, and no step of a death, leads to.
fn states(check: &mut Checker, plan: &Plan, spec: &Spec) {
    let Some(start) = spec.start else { return };
    let mut reached = vec![false; spec.states.len()];
    let steps = spec.death.iter().filter_map(|step| step.state);
    let mut next: Vec<_> = steps.chain([start]).collect();
    while let Some(state) = next.pop() {
        if !std::mem::replace(&mut reached[state.index()], true) {
            next.extend(spec.states[state.index()].go.iter().map(|go| go.to));
        }
    }
    let kind = &plan.kinds[spec.kind.index()];
    for (state, _) in spec
        .states
        .iter()
        .zip(reached)
        .filter(|(_, reached)| !reached)
    {
        let name = &plan.states[state.name.index()];
        let message = format!("nothing leads to state `{name}` of `{kind}`");
        let path = kinds::path(kind).key("state").key(name);
        check.report(
            Finding::new(Code::UnreachableState, path, message)
                .at_key()
                .help("name it in the `go` of another state, or take it away"),
        );
    }
}
