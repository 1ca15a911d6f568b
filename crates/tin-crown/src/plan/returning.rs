//! Does what is hurt come to an end, and does who comes back stay? Findings about meters, respawns and
//! checkpoints.

use super::cast::Actor;
use super::checker::Checker;
use super::drives::Drive;
use super::gates::{Ask, GatePlan};
use super::index::{ActorIx, MeterIx, RuleIx};
use super::meters::MeterPlan;
use super::respawns::ReturnPlan;
use super::rules::RulePlan;
use super::select::Subject;
use super::spec::Spec;
use super::{Plan, kinds};
use crate::amount::Amount;
use crate::encounter::{Chance, Facing};
use crate::finding::{Code, Finding, Path};
use crate::geometry::{Bounds, Shape, Vec2, overlap};
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
        if let Some((hazard, rule, long)) = hazards.at(plan, actor, at, facing) {
            let grace = spec.after_respawn;
            let stays = match long {
                Some(Ticks(long)) => format!("for {long} ticks at a time"),
                None => "always".to_owned(),
            };
            let message = format!(
                "where `{}` comes back, `{}` hurts it by `{}`: it is live {stays}, and the grace is {} ticks",
                actor.id, hazard.id, rule.name, grace.0
            );
            check.report(
                Finding::new(Code::RespawnInHazard, path, message)
                    .help("move one of them, or give it a longer `invincible.after_respawn`"),
            );
        }
    }
}

/// Hitboxes that stand still and are live without anybody's doing.
struct Hazards {
    /// In the order of their left edges.
    all: Vec<Hazard>,
    /// How wide the widest is.
    widest: f64,
}

struct Hazard {
    owner: ActorIx,
    hitbox: usize,
    bounds: Bounds,
    /// How long it is live at a time, when not always.
    long: Option<Ticks>,
}

impl Hazards {
    fn new(plan: &Plan) -> Hazards {
        let mut all = Vec::new();
        for (index, actor) in plan.cast().zip(&plan.actors) {
            let spec = plan.spec_of(actor.spec);
            let still = spec.drive == Drive::Still && spec.states.is_empty();
            let Chance::Fixed(at) = actor.at else {
                continue;
            };
            if !still || spec.gravity.is_some() {
                continue;
            }
            for (nth, hitbox) in spec.hitboxes.iter().enumerate() {
                if (spec.by_attack.hit | spec.by_state.hit) & (1 << nth) == 0 {
                    all.push(Hazard {
                        owner: index,
                        hitbox: nth,
                        bounds: hitbox.shape(actor.facing).bounds().moved(at),
                        long: hitbox.pulse.map(|pulse| pulse.on),
                    });
                }
            }
        }
        all.sort_by(|a, b| a.bounds.min.x.total_cmp(&b.bounds.min.x));
        let widths = all.iter().map(|hazard| hazard.bounds.size().x);
        Hazards {
            widest: widths.fold(0.0, f64::max),
            all,
        }
    }

    /// Something that hurts an actor at a place, and stays live longer than its grace lasts; and how
    /// long.
    fn at<'p>(
        &self,
        plan: &'p Plan,
        actor: &Actor,
        at: Vec2,
        facing: Facing,
    ) -> Option<(&'p Actor, &'p RulePlan, Option<Ticks>)> {
        let spec = plan.spec_of(actor.spec);
        let takes = &plan.breed(actor.breed).takes;
        for (place, hurtbox) in spec.hurtboxes.iter().enumerate() {
            let own = hurtbox.shape(facing).bounds().moved(at);
            let from = self
                .all
                .partition_point(|hazard| hazard.bounds.min.x < own.min.x - self.widest);
            let near = self.all[from..]
                .iter()
                .take_while(|hazard| hazard.bounds.min.x < own.max.x);
            for hazard in near.filter(|hazard| hazard.bounds.meets(own)) {
                let other = &plan.actors[hazard.owner.index()];
                let theirs = plan.spec_of(other.spec);
                let short = hazard.long.is_some_and(|long| long <= spec.after_respawn);
                let Chance::Fixed(there) = other.at else {
                    continue;
                };
                if other.id == actor.id || short {
                    continue;
                }
                let hitbox = theirs.hitboxes[hazard.hitbox].shape(other.facing);
                let gives = plan.profile(plan.breed(other.breed).gives[hazard.hitbox]);
                let ally = spec.side.is_some() && spec.side == theirs.side;
                let rules = plan.profile(takes[place]).iter();
                let mut rules = rules
                    .filter(|rule| gives.contains(rule))
                    .map(|rule| &plan.rules[rule.index()]);
                let found = rules.find(|rule| {
                    let hurts = rule.does.damage.is_some() || rule.does.kill;
                    hurts && rule.gates.is_empty() && (!ally || rule.friendly)
                });
                if let Some(rule) = found
                    && overlap(hurtbox.shape(facing), hitbox, there - at)
                {
                    return Some((other, rule, hazard.long));
                }
            }
        }
        None
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
