//! What launches cost, and what there is to be had.

use serde::Serialize;

use super::means::Launcher;
use crate::amount::Amount;
use crate::plan::Plan;

/// What it takes to kill one of whom with what is launched, and what there is.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
pub struct AmmoSum {
    /// The meter that pays.
    pub meter: String,
    /// What a launch costs.
    pub cost: Amount,
    /// How many launches kill one; none when they never do.
    pub launches: Option<u32>,
    /// What those cost.
    pub needed: Option<Amount>,
    /// What its owner starts with.
    pub start: Amount,
    /// The most it holds.
    pub max: Amount,
    /// What pickups that are placed give, each once.
    pub lying: Amount,
    /// Whether it comes back by itself, or is reloaded from what has no end.
    pub refills: bool,
}

pub(super) fn sum(plan: &Plan, launcher: &Launcher<'_>, launches: Option<u32>) -> Option<AmmoSum> {
    let (meter, cost) = launcher.plan.ammo?;
    let mut specs = plan.actors.iter().map(|actor| plan.spec_of(actor.spec));
    let owner = specs.find(|spec| spec.kind == launcher.maker)?;
    let own = &owner.meters[owner.meter(meter)?];
    let lying = plan
        .actors
        .iter()
        .filter_map(|actor| plan.spec_of(actor.spec).pickup.as_ref());
    let lying = lying
        .flat_map(|pickup| &pickup.gives)
        .filter(|(given, _)| *given == meter);
    let lying = lying.fold(Amount::ZERO, |sum, (_, amount)| sum + *amount);
    let needed =
        launches.map(|launches| Amount::thousandths(cost.in_thousandths() * i64::from(launches)));
    Some(AmmoSum {
        meter: plan.names.meters[meter].clone(),
        cost,
        launches,
        needed,
        start: own.start,
        max: own.max,
        lying,
        refills: own.regen.is_some() || own.reload.is_some_and(|reload| reload.from.is_none()),
    })
}
