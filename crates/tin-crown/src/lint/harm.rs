//! What several audits ask: which rules hit an actor, what they take, and what asks for a meter.

use crate::amount::Amount;
use crate::order;
use crate::plan::{Actor, Ask, GatePlan, MeterIx, Plan, RuleIx, RulePlan, Spec};

/// The rules that hit an actor and are not withheld by sides.
pub(super) fn hurting<'p>(
    plan: &'p Plan,
    actor: &'p Actor,
) -> impl Iterator<Item = (RuleIx, &'p RulePlan)> {
    let takes = &plan.breed(actor.breed).takes;
    let mut rules: Vec<RuleIx> = takes
        .iter()
        .flat_map(|profile| plan.profile(*profile))
        .copied()
        .collect();
    order::sort(&mut rules);
    rules.dedup();
    rules
        .into_iter()
        .map(|rule| (rule, &plan.rules[rule.index()]))
}

/// What a rule takes from a meter at the most with one hit.
pub(super) fn takes(rule: &RulePlan, meter: MeterIx) -> Amount {
    let damage = rule.does.damage.as_ref();
    let damage = damage.filter(|damage| damage.meters.contains(&meter));
    damage.map_or(Amount::ZERO, |damage| {
        let bands = damage.bands.iter().map(|(_, amount)| *amount);
        bands.fold(damage.amount.max(damage.chain_bounds.1), Amount::max)
    })
}

/// Whether something asks for a meter: a guard, a launcher, a reload, a state, a gate.
pub(super) fn is_used(plan: &Plan, spec: &Spec, nth: usize, name: MeterIx) -> bool {
    let mut launchers = spec.launchers.iter();
    let mut reloads = spec.meters.iter().filter_map(|meter| meter.reload);
    let mut conditions = spec.states.iter().flat_map(|state| &state.go);
    let mut gates = plan.rules.iter().flat_map(|rule| &rule.gates);
    spec.guard
        .as_ref()
        .is_some_and(|guard| guard.meter == Some(name))
        || launchers.any(|launcher| launcher.ammo.is_some_and(|(meter, _)| meter == name))
        || reloads.any(|reload| reload.from == Some(name))
        || conditions.any(|go| go.when.meters.iter().any(|(place, ..)| usize::from(*place) == nth))
        || gates.any(|gate| {
            matches!(gate, GatePlan::Party(_, Ask::AtLeast(meter, _) | Ask::AtMost(meter, _)) if *meter == name)
        })
}
