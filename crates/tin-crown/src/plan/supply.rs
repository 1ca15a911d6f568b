//! Is there enough to shoot with? Findings about ammo.

use std::collections::BTreeMap;

use super::checker::Checker;
use super::index::{BreedIx, KindIx, MeterIx};
use super::launchers::LauncherPlan;
use super::spec::Spec;
use super::{Plan, kinds};
use crate::amount::Amount;
use crate::finding::{Code, Finding};

/// Ammo that nothing refills, and that does not suffice for the foes whom nothing else can kill.
pub(super) fn check(check: &mut Checker, plan: &Plan) {
    let mut owners: BTreeMap<BreedIx, u64> = BTreeMap::new();
    for actor in &plan.actors {
        *owners.entry(actor.breed).or_default() += 1;
    }
    for (&breed, &count) in &owners {
        let spec = plan.spec_of(plan.breed(breed).spec);
        for (nth, launcher) in spec.launchers.iter().enumerate() {
            let Some((meter, cost)) = launcher.ammo else {
                continue;
            };
            if !cost.is_positive() || is_refilled(plan, spec, meter) {
                continue;
            }
            let made = plan.breed(plan.breed(breed).offspring[nth]).spec;
            let flight = &plan.spec_of(made).flight;
            let Some(targets) = flight.targets(launcher.shot) else {
                continue;
            };
            let launches = start(spec, meter).in_thousandths() / cost.in_thousandths();
            let hits =
                launches.unsigned_abs() * u64::from(launcher.count) * u64::from(targets) * count;
            let needed = needed(plan, launcher.launches);
            if needed > hits {
                told(check, plan, spec, launcher, hits, needed);
            }
        }
    }
}

fn told(
    check: &mut Checker,
    plan: &Plan,
    owner: &Spec,
    launcher: &LauncherPlan,
    hits: u64,
    needed: u64,
) {
    let kind = &plan.kinds[owner.kind.index()];
    let Some((meter, _)) = launcher.ammo else {
        return;
    };
    let meter = &plan.meters[meter.index()];
    let message = format!(
        "`{kind}` has `{meter}` for {hits} hits of `{}` and nothing refills it; the foes whom nothing else \
         kills take {needed}",
        launcher.name
    );
    let path = kinds::path(kind)
        .key("launcher")
        .key(&launcher.name)
        .key("ammo");
    check.report(
        Finding::new(Code::AmmoRunsDry, path, message)
            .help("let it start with more, give it a `reload` or `regen`, or place a pickup")
            .related(kinds::path(kind).key("meter").key(meter), "this meter"),
    );
}

fn start(spec: &Spec, meter: MeterIx) -> Amount {
    let mut meters = spec.meters.iter();
    let own = meters.find(|own| own.name == meter);
    own.map_or(Amount::ZERO, |own| own.start)
}

/// Whether anything ever gives to a meter: itself, a rule, a pickup, or a new life.
fn is_refilled(plan: &Plan, spec: &Spec, meter: MeterIx) -> bool {
    let own = spec.meters.iter().filter(|own| own.name == meter);
    let by_itself = own
        .into_iter()
        .any(|own| own.regen.is_some() || own.reload.is_some());
    let given = plan.rules.iter().any(|rule| {
        let effects = rule.also.iter().map(|(_, does)| does).chain([&rule.does]);
        let mut heals = effects.filter_map(|does| does.heal.as_ref());
        heals.any(|heal| heal.meters.contains(&meter))
            || rule.drain.is_some_and(|(_, own)| own == meter)
    });
    let lies_about = plan.breeds.iter().any(|breed| {
        let pickup = plan.spec_of(breed.spec).pickup.as_ref();
        pickup.is_some_and(|pickup| pickup.gives.iter().any(|(own, _)| *own == meter))
    });
    by_itself || given || lies_about || spec.respawn.is_some()
}

/// How many hits it takes to kill all who are placed and whom nothing but that kind can kill.
fn needed(plan: &Plan, ammo: KindIx) -> u64 {
    // By kind of whom: the most that one hit of the ammo takes, or nothing when something else can too.
    let mut best: BTreeMap<BreedIx, Option<Amount>> = BTreeMap::new();
    plan.meetings(|meeting| {
        let rule = &plan.rules[meeting.rule.index()];
        let damage = rule.does.damage.as_ref();
        let damage = damage.filter(|damage| damage.meters.iter().any(|own| plan.is_health(*own)));
        let takes = damage.map_or(Amount::ZERO, |damage| {
            let bands = damage.bands.iter().map(|(_, amount)| *amount);
            bands.fold(damage.amount.max(damage.chain_bounds.1), Amount::max)
        });
        if !takes.is_positive() && !rule.does.kill {
            return;
        }
        let own = plan.spec_of(plan.breed(meeting.who).spec).kind == ammo && !rule.does.kill;
        let entry = best.entry(meeting.whom).or_insert(Some(Amount::ZERO));
        *entry = entry.filter(|_| own).map(|known| known.max(takes));
    });
    let hits = plan.actors.iter().map(|actor| {
        let takes = best.get(&actor.breed).copied().flatten();
        let health = plan.spec_of(actor.spec).meters.iter();
        let health = health.filter(|own| plan.is_health(own.name));
        let health = health.map(|own| own.start).next().unwrap_or_default();
        match takes {
            Some(takes) if takes.is_positive() => health
                .in_thousandths()
                .unsigned_abs()
                .div_ceil(takes.in_thousandths().unsigned_abs()),
            _ => 0,
        }
    });
    hits.sum()
}
