//! Does everything ever come into play? Findings about attacks that meet nothing, rules that always
//! lose, and states that nothing leads to.

use std::collections::{BTreeMap, BTreeSet};

use super::checker::Checker;
use super::gates::GatePlan;
use super::index::{BoxIx, BreedIx, RuleIx};
use super::reach::Meeting;
use super::spec::Spec;
use super::{Plan, kinds};
use crate::finding::{Code, Finding, Path};
use crate::time::Ticks;

pub(super) fn check(check: &mut Checker, plan: &Plan) {
    let mut meetings = Vec::new();
    plan.meetings(|meeting| meetings.push(meeting));
    attack_boxes(check, plan, &meetings);
    losers(check, plan, &meetings);
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

/// A box that attacks make live, and that no rule lets hit anything that is there.
fn attack_boxes(check: &mut Checker, plan: &Plan, meetings: &[Meeting]) {
    let met: BTreeSet<(BreedIx, BoxIx)> = meetings
        .iter()
        .map(|meeting| (meeting.who, meeting.hitbox))
        .collect();
    // Of several breeds of a kind one that meets something is enough.
    let mut idle: BTreeMap<(usize, &str), bool> = BTreeMap::new();
    for (nth, breed) in plan.breeds.iter().enumerate() {
        let spec = plan.spec_of(breed.spec);
        for (part, plan) in spec.hitboxes.iter().enumerate() {
            if spec.by_attack.hit & (1 << part) == 0 {
                continue;
            }
            let meets = met.contains(&(BreedIx::new(nth), BoxIx::new(part)));
            let idle = idle.entry((spec.kind.index(), &plan.name)).or_insert(true);
            *idle &= !meets;
        }
    }
    for ((kind, name), _) in idle.into_iter().filter(|(_, idle)| *idle) {
        let kind = &plan.kinds[kind];
        let message = format!(
            "`{name}` of `{kind}` can never hit anything: no rule pairs it with a hurtbox of a foe who is \
             there"
        );
        let path = kinds::path(kind).key("hitbox").key(name);
        check.report(
            Finding::new(Code::MeetsNothing, path, message)
                .help(format!("write a rule with `hitbox = \"{kind}.{name}\"`")),
        );
    }
}

/// A rule that is beaten by another whenever it could land.
fn losers(check: &mut Checker, plan: &Plan, meetings: &[Meeting]) {
    for (winner, rule) in plan.rules.iter().enumerate() {
        for &beaten in &rule.beats {
            let loser = &plan.rules[beaten.index()];
            let gates = |gate: &GatePlan| loser.gates.contains(gate);
            let easier = rule.gates.iter().all(gates)
                && rule.repeat == loser.repeat
                && rule.every == Ticks(0);
            if !easier {
                continue;
            }
            let winner = RuleIx::new(winner);
            let has = |rule: RuleIx, of: &Meeting| {
                let (breed, other) = (plan.breed(of.who), plan.breed(of.whom));
                let gives = plan.profile(breed.gives[of.hitbox.index()]);
                let takes = plan.profile(other.takes[of.hurtbox.index()]);
                let friendly = !loser.friendly || plan.rules[rule.index()].friendly;
                gives.contains(&rule) && takes.contains(&rule) && friendly
            };
            let mut own = meetings.iter().filter(|meeting| meeting.rule == beaten);
            let some = own.clone().next().is_some();
            if some && own.all(|meeting| has(winner, meeting)) {
                let base = Path::root().key("rule");
                let message = format!(
                    "`{}` always loses: `{}` beats it, and comes about whenever it does",
                    loser.name, rule.name
                );
                check.report(
                    Finding::new(Code::AlwaysLoses, base.index(beaten.index()), message)
                        .help("give the winner a gate, or take its `beats` away")
                        .related(base.index(winner.index()).key("beats"), "it beats it here"),
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
