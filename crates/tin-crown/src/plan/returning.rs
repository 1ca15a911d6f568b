//! Does what is hurt come to an end, and does who comes back stay? Findings about meters, respawns and
//! checkpoints.

use std::collections::BTreeSet;

use super::cast::Actor;
use super::checker::Checker;
use super::gates::{Ask, GatePlan};
use super::hazards::Hazards;
use super::index::{ActorIx, KindIx, MeterIx, RuleIx};
use super::meters::MeterPlan;
use super::respawns::ReturnPlan;
use super::rules::RulePlan;
use super::select::Subject;
use super::spec::Spec;
use super::{Plan, kinds};
use crate::amount::Amount;
use crate::encounter::Facing;
use crate::finding::{Code, Finding, Path};
use crate::geometry::{Shape, Vec2, overlap};
use crate::time::Ticks;

/// `paths` are where the actors are placed.
pub(super) fn check(check: &mut Checker, plan: &Plan, paths: &[Path]) {
    let mut told = vec![false; plan.specs.len()];
    for actor in &plan.actors {
        let spec = plan.spec_of(actor.spec);
        if !std::mem::replace(&mut told[actor.spec.index()], true) {
            meters(check, plan, actor, spec);
        }
    }
    let hazards = Hazards::new(plan);
    let mut told = vec![false; plan.specs.len()];
    for (index, path) in plan.cast().zip(paths) {
        let spec = plan.actors[index.index()].spec;
        let first = !std::mem::replace(&mut told[spec.index()], true);
        respawn(check, plan, index, path, &hazards, first);
    }
    launched_only(check, plan);
    checkpoints(check, plan);
}

/// The rules that hit an actor and are not withheld by sides.
fn hurting<'p>(plan: &'p Plan, actor: &'p Actor) -> impl Iterator<Item = (RuleIx, &'p RulePlan)> {
    let takes = &plan.breed(actor.breed).takes;
    let mut rules: Vec<RuleIx> = takes
        .iter()
        .flat_map(|profile| plan.profile(*profile))
        .copied()
        .collect();
    rules.sort_unstable();
    rules.dedup();
    rules
        .into_iter()
        .map(|rule| (rule, &plan.rules[rule.index()]))
}

/// What a rule takes from a meter at the most with one hit.
fn takes(rule: &RulePlan, meter: MeterIx) -> Amount {
    let damage = rule.does.damage.as_ref();
    let damage = damage.filter(|damage| damage.meters.contains(&meter));
    damage.map_or(Amount::ZERO, |damage| {
        let bands = damage.bands.iter().map(|(_, amount)| *amount);
        bands.fold(damage.amount.max(damage.chain_bounds.1), Amount::max)
    })
}

fn meters(check: &mut Checker, plan: &Plan, actor: &Actor, spec: &Spec) {
    let kind = &plan.kinds[spec.kind.index()];
    let mortal = spec.meters.iter().any(|meter| plan.is_health(meter.name));
    for (nth, meter) in spec.meters.iter().enumerate() {
        let name = &plan.meters[meter.name.index()];
        let path = kinds::path(kind).key("meter").key(name);
        let worst = hurting(plan, actor).max_by_key(|(_, rule)| takes(rule, meter.name));
        let Some((_, rule)) = worst.filter(|(_, rule)| takes(rule, meter.name).is_positive())
        else {
            continue;
        };
        if !mortal && !is_used(plan, spec, nth, meter.name) {
            let message = format!(
                "`{}` empties `{name}` of `{kind}`, and nothing comes of it when that is empty",
                rule.name
            );
            check.report(
                Finding::new(Code::EndlessMeter, path.clone(), message)
                    .at_key()
                    .help("only a meter called `health` ends a life: call it so, or use it in a state"),
            );
        }
        outruns(check, &path, plan, actor, spec, meter);
    }
    untouched(check, plan, actor, spec);
}

/// Rules that take from meters of which an actor has none, while it has another that nothing else asks
/// for.
fn untouched(check: &mut Checker, plan: &Plan, actor: &Actor, spec: &Spec) {
    let mut idle = spec.meters.iter().enumerate();
    let Some((_, meter)) = idle.find(|(nth, meter)| {
        !is_used(plan, spec, *nth, meter.name)
            && !hurting(plan, actor).any(|(_, rule)| takes(rule, meter.name).is_positive())
    }) else {
        return;
    };
    let misses = |rule: &RulePlan| {
        let damage = rule.does.damage.as_ref();
        damage.is_some_and(|damage| {
            !damage
                .meters
                .iter()
                .any(|meter| spec.meter(*meter).is_some())
        })
    };
    let Some((rule, of)) = hurting(plan, actor).find(|(_, rule)| misses(rule)) else {
        return;
    };
    let kind = &plan.kinds[spec.kind.index()];
    let (own, asked) = (
        &plan.meters[meter.name.index()],
        of.does
            .damage
            .iter()
            .flat_map(|damage| &damage.meters)
            .next(),
    );
    let asked = asked.map_or(super::HEALTH, |meter| &plan.meters[meter.index()]);
    let message = format!(
        "`{}` takes nothing from `{kind}`, which has no `{asked}`: its `{own}` is left alone",
        of.name
    );
    check.report(
        Finding::new(
            Code::NothingToTake,
            Path::root().key("rule").index(rule.index()).key("damage"),
            message,
        )
        .help(format!(
            "call the meter `{asked}`, or name it: damage = {{ amount = 1, meters = [\"{own}\"] }}"
        ))
        .related(kinds::path(kind).key("meter").key(own), "this meter"),
    );
}

/// Whether something asks for a meter: a guard, a launcher, a reload, a state, a gate.
fn is_used(plan: &Plan, spec: &Spec, nth: usize, name: MeterIx) -> bool {
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

/// A meter that gets back between two hits of each rule at least what the hit takes.
fn outruns(
    check: &mut Checker,
    path: &Path,
    plan: &Plan,
    actor: &Actor,
    spec: &Spec,
    meter: &MeterPlan,
) {
    let Some(regen) = &meter.regen else { return };
    let regained = |rule: &RulePlan| {
        let apart = spec.after_hit.max(rule.every).max(Ticks(1)).0;
        let payments = match regen.delay {
            Some(Ticks(delay)) if apart < delay.max(1) => 0,
            Some(Ticks(delay)) => (apart - delay) / regen.every.0 + 1,
            None => apart / regen.every.0,
        };
        Amount::thousandths(
            regen
                .amount
                .in_thousandths()
                .saturating_mul(i64::from(payments)),
        )
    };
    let all = hurting(plan, actor).filter(|(_, rule)| takes(rule, meter.name).is_positive());
    let mut all = all.map(|(_, rule)| regained(rule) >= takes(rule, meter.name));
    if all.all(|outrun| outrun) {
        let name = &plan.meters[meter.name.index()];
        let message =
            format!("`{name}` gets back between two hits at least what any of them takes");
        check.report(
            Finding::new(Code::RegenOutruns, path.key("regen"), message)
                .help("make the `delay` longer, or the payments less"),
        );
    }
}

/// Where somebody comes back: not inside a solid, outside the arena, or where something hurts them
/// longer than their grace lasts. Places that all of a make share are looked at for the `first` only.
fn respawn(
    check: &mut Checker,
    plan: &Plan,
    index: ActorIx,
    path: &Path,
    hazards: &Hazards,
    first: bool,
) {
    let actor = &plan.actors[index.index()];
    let spec = plan.spec_of(actor.spec);
    let Some(respawn) = &spec.respawn else { return };
    let kind = kinds::path(&plan.kinds[spec.kind.index()]);
    let subject = Subject {
        actor: Some(index),
        kind: spec.kind,
        tags: &actor.tags,
    };
    let starts = actor.at.all().map(|at| (*at, path.key("at"), actor.facing));
    let mut places: Vec<(Vec2, Path, Facing)> = starts.collect();
    match &respawn.at {
        ReturnPlan::Start => {}
        ReturnPlan::Checkpoint if first => {
            let points = plan.checkpoints.iter();
            places.extend(
                points
                    .filter(|point| point.by.matches(&subject))
                    .map(|point| {
                        let path = Path::root()
                            .key("checkpoint")
                            .index(point.written)
                            .key("at");
                        (point.at, path, point.facing.unwrap_or(actor.facing))
                    }),
            );
        }
        ReturnPlan::Checkpoint => {}
        ReturnPlan::Places { .. } if !first => places.clear(),
        ReturnPlan::Places { at, facing, .. } => {
            let path = kind.key("respawn").key("at").key("places");
            let facing = facing.unwrap_or(actor.facing);
            places = at.all().map(|at| (*at, path.clone(), facing)).collect();
        }
    }
    for (at, path, facing) in places {
        let placed = actor.at.all().any(|own| *own == at);
        let body = spec.body.as_ref().map(|body| body.shape(facing));
        let solids = plan.arena.solids.iter().filter(|solid| !solid.one_way);
        let mut solids = solids.filter_map(|solid| Shape::upright(solid.bounds).ok());
        let extent = spec.extent(facing);
        if !placed && body.is_some_and(|body| solids.any(|solid| overlap(&solid, body, at))) {
            let message = format!("the body of `{}` would come back inside a solid", actor.id);
            check.report(
                Finding::new(Code::InsideSolid, path.clone(), message)
                    .help("move it until they only touch"),
            );
        }
        if !placed && !extent.is_empty() && !extent.moved(at).meets(plan.arena.bounds) {
            let message = format!("`{}` would come back outside the arena", actor.id);
            check.report(Finding::new(Code::OutsideArena, path.clone(), message));
        }
        if let Some(threat) = hazards.at(plan, actor, at, facing) {
            let message = threat.told(plan, actor);
            check.report(
                Finding::new(Code::RespawnInHazard, path, message)
                    .help("move one of them, or give it a longer `invincible.after_respawn`"),
            );
        }
    }
}

/// A kind that is only ever launched has one life.
fn launched_only(check: &mut Checker, plan: &Plan) {
    let placed: BTreeSet<KindIx> = plan
        .actors
        .iter()
        .map(|actor| plan.spec_of(actor.spec).kind)
        .collect();
    let mut told = BTreeSet::new();
    for breed in &plan.breeds {
        let spec = plan.spec_of(breed.spec);
        if spec.respawn.is_none() || placed.contains(&spec.kind) || !told.insert(spec.kind) {
            continue;
        }
        let kind = &plan.kinds[spec.kind.index()];
        let message = format!("`{kind}` is only ever launched, and what is launched has one life");
        check.report(
            Finding::new(Code::NoEffect, kinds::path(kind).key("respawn"), message)
                .at_key()
                .help("take `respawn` away, or place one"),
        );
    }
}

/// Checkpoints and exits that nobody can touch.
fn checkpoints(check: &mut Checker, plan: &Plan) {
    let has_body = |matches: &dyn Fn(&Subject<'_>, &Spec) -> bool| {
        plan.breeds.iter().any(|breed| {
            let spec = plan.spec_of(breed.spec);
            let subject = Subject {
                actor: None,
                kind: spec.kind,
                tags: &breed.tags,
            };
            spec.body.is_some() && matches(&subject, spec)
        }) || plan.actors.iter().enumerate().any(|(nth, actor)| {
            let spec = plan.spec_of(actor.spec);
            let subject = Subject {
                actor: Some(ActorIx::new(nth)),
                kind: spec.kind,
                tags: &actor.tags,
            };
            spec.body.is_some() && matches(&subject, spec)
        })
    };
    let points = plan.checkpoints.iter().map(|point| {
        let touched = has_body(&|subject, _| point.by.matches(subject));
        (
            Path::root().key("checkpoint").index(point.written),
            &point.name,
            point.area,
            touched,
        )
    });
    let exits = plan.exits.iter().map(|exit| {
        let touched = has_body(&|subject, spec| match exit.by {
            Some(group) => group.matches(subject),
            None => spec.player,
        });
        (
            Path::root().key("exit").index(exit.written),
            &exit.name,
            exit.area,
            touched,
        )
    });
    for (path, name, area, touched) in points.chain(exits) {
        let mut solids = plan.arena.solids.iter().filter(|solid| !solid.one_way);
        let buried = solids.any(|solid| {
            let (wall, own) = (solid.bounds, area);
            wall.min.x <= own.min.x
                && wall.min.y <= own.min.y
                && wall.max.x >= own.max.x
                && wall.max.y >= own.max.y
        });
        let message = if !touched {
            format!("nobody with a body may touch `{name}`")
        } else if buried {
            format!("`{name}` lies inside a solid: nobody can touch it")
        } else if !area.meets(plan.arena.bounds) {
            format!("`{name}` lies outside the arena: nobody can touch it")
        } else {
            continue;
        };
        check.report(
            Finding::new(Code::OutOfReach, path.key("area"), message)
                .help("move it, or give who should touch it a `body`"),
        );
    }
}
