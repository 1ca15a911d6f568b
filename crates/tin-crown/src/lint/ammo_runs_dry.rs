//! Ammo that nothing refills, and that does not suffice.

use super::Audited;
use crate::amount::Amount;
use crate::encounter::MetersAt;
use crate::finding::{Code, Finding, Findings};
use crate::map::{Map, Set};
use crate::plan::{
    Actor, BreedIx, KindIx, LauncherPlan, MeterIx, Plan, ResetPlan, RuleIx, SideIx, Spec, kinds,
};
use crate::reach::{Parties, Role};

/// Ammo that nothing refills, and that does not suffice for the foes whom nothing else can kill.
pub(super) fn check(findings: &mut Findings, audited: &Audited<'_>) {
    let (plan, parties) = (audited.plan, &audited.parties);
    let mut owners: Map<BreedIx, u64> = Map::new();
    for actor in &plan.actors {
        *owners.or_default(actor.breed) += 1;
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
            let Some(targets) = flight.most_targets(launcher.shot) else {
                continue;
            };
            let launches = start(spec, meter).in_thousandths() / cost.in_thousandths();
            let hits =
                launches.unsigned_abs() * u64::from(launcher.count) * u64::from(targets) * count;
            let needed = needed(plan, parties, launcher.launches);
            if needed > hits {
                told(findings, plan, spec, launcher, hits, needed);
            }
        }
    }
}

fn told(
    findings: &mut Findings,
    plan: &Plan,
    owner: &Spec,
    launcher: &LauncherPlan,
    hits: u64,
    needed: u64,
) {
    let kind = &plan.names.kinds[owner.kind];
    let Some((meter, _)) = launcher.ammo else {
        return;
    };
    let meter = &plan.names.meters[meter];
    let message = format!(
        "`{kind}` has `{meter}` for {hits} hits of `{}` and nothing refills it; the foes whom nothing else \
         kills take {needed}",
        launcher.name
    );
    let path = kinds::path(kind)
        .key("launcher")
        .named(&launcher.name)
        .key("ammo");
    findings.push(
        Finding::new(Code::AmmoRunsDry, path, message)
            .help("start with more, add a `reload` or `regen`, or place a pickup")
            .related(kinds::path(kind).key("meter").named(meter), "this meter"),
    );
}

fn start(spec: &Spec, meter: MeterIx) -> Amount {
    let mut meters = spec.meters.iter();
    let own = meters.find(|own| own.name == meter);
    own.map_or(Amount::ZERO, |own| own.start)
}

/// Whether anything ever gives to a meter: itself, a rule, a pickup, a checkpoint, or a new life in which the foes are
/// as they were in the last.
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
    let refills = plan
        .checkpoints
        .iter()
        .any(|point| point.refills.contains(&meter));
    let reborn = spec.respawn.as_ref().is_some_and(|respawn| {
        respawn.lives != Some(1)
            && respawn.meters != MetersAt::Kept
            && respawn.resets != ResetPlan::Encounter
    });
    by_itself || given || lies_about || refills || reborn
}

/// How many hits it takes to kill all who are placed and whom nothing but that kind can kill.
fn needed(plan: &Plan, parties: &[Parties], ammo: KindIx) -> u64 {
    // Of each rule that kills: whether it is by the ammo, and the sides of who gives.
    let givers: Vec<Set<(bool, Option<SideIx>)>> = parties
        .iter()
        .map(|parties| {
            let roles = parties.gives.iter().map(|part| part.role);
            let own = |role: Role| (plan.spec_of(role.spec).kind == ammo, role.side);
            roles.map(own).collect()
        })
        .collect();
    plan.actors
        .iter()
        .map(|actor| of_actor(plan, &givers, actor))
        .sum()
}

/// How many hits by the ammo kill an actor; none when something else can too, or nothing can.
fn of_actor(plan: &Plan, givers: &[Set<(bool, Option<SideIx>)>], actor: &Actor) -> u64 {
    let spec = plan.spec_of(actor.spec);
    let mut health = spec.meters.iter().filter(|own| plan.is_health(own.name));
    let Some(health) = health.next() else {
        return 0;
    };
    let rules: Set<RuleIx> = plan
        .breed(actor.breed)
        .takes
        .iter()
        .flat_map(|&profile| plan.profile(profile))
        .copied()
        .collect();
    let mut most = Amount::ZERO;
    for rule in rules {
        let plan = &plan.rules[rule.index()];
        let damage = plan.does.damage.as_ref();
        let damage = damage.filter(|damage| damage.meters.contains(&health.name));
        let takes = damage.map_or(Amount::ZERO, |damage| {
            let bands = damage.bands.iter().map(|(_, amount)| *amount);
            bands.fold(damage.amount.max(damage.chain_bounds.1), Amount::max)
        });
        if !takes.is_positive() && !plan.does.kill {
            continue;
        }
        for (own, side) in &givers[rule.index()] {
            let allied = side.is_some() && *side == spec.side && !plan.friendly;
            match own {
                _ if allied => {}
                true if !plan.does.kill => most = most.max(takes),
                _ => return 0,
            }
        }
    }
    if !most.is_positive() {
        return 0;
    }
    let (health, most) = (health.start.in_thousandths(), most.in_thousandths());
    health.unsigned_abs().div_ceil(most.unsigned_abs())
}
