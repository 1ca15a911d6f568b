//! Does the encounter make sense? Findings about what can be replayed, but was hardly meant.

use super::checker::Checker;
use super::gates::GatePlan;
use super::index::RuleIx;
use super::{HEALTH, Plan, contact, idle, kinds, leaving, returning, supply};
use crate::amount::Amount;
use crate::encounter::Repeat;
use crate::finding::{Code, Finding, Path};
use crate::geometry::{Shape, Vec2, overlap};
use crate::time::Ticks;

/// `paths` are where the actors are placed.
pub(super) fn check(check: &mut Checker, plan: &Plan, paths: &[Path]) {
    placed_in_solids(check, plan, paths);
    drains_in_a_blink(check, plan);
    let parties = plan.parties();
    contact::check(check, plan, &parties);
    idle::check(check, plan, &parties);
    supply::check(check, plan, &parties);
    leaving::check(check, plan);
    returning::check(check, plan, paths);
}

fn placed_in_solids(check: &mut Checker, plan: &Plan, paths: &[Path]) {
    let solids: Vec<Shape> = plan
        .arena
        .solids
        .iter()
        .filter(|solid| !solid.one_way)
        .filter_map(|solid| Shape::upright(solid.bounds).ok())
        .collect();
    for (actor, path) in plan.actors.iter().zip(paths) {
        let spec = &plan.specs[actor.spec.index()];
        let extent = spec.extent(actor.facing);
        let meets = |at: &Vec2| extent.moved(*at).meets(plan.arena.bounds);
        if !extent.is_empty() && !actor.at.all().all(meets) {
            let message = format!("`{}` is placed outside the arena", actor.id);
            check.report(Finding::new(Code::OutsideArena, path.key("at"), message));
        }
        let Some(body) = &spec.body else { continue };
        let body = body.shape(actor.facing);
        let inside = solids
            .iter()
            .position(|solid| actor.at.all().any(|at| overlap(solid, body, *at)));
        if let Some(solid) = inside {
            let message = format!("the body of `{}` is placed inside a solid", actor.id);
            let solid = Path::root().key("arena").key("solids").index(solid);
            check.report(
                Finding::new(Code::InsideSolid, path.key("at"), message)
                    .related(solid, "this one")
                    .help("move it until they only touch"),
            );
        }
    }
}

/// Contact damage on every tick: health drains to nothing in a blink.
fn drains_in_a_blink(check: &mut Checker, plan: &Plan) {
    let Ok(health) = plan
        .meters
        .binary_search_by(|name| name.as_str().cmp(HEALTH))
    else {
        return;
    };
    let mut warned = vec![false; plan.rules.len()];
    for actor in &plan.actors {
        let spec = &plan.specs[actor.spec.index()];
        let mut meters = spec.meters.iter();
        let own = meters.find(|meter| meter.name.index() == health);
        let Some(full) = own.map(|meter| meter.max) else {
            continue;
        };
        if spec.after_hit > Ticks(0) {
            continue;
        }
        for &RuleIx(index) in plan
            .breed(actor.breed)
            .takes
            .iter()
            .flat_map(|&profile| plan.profile(profile))
        {
            let index = usize::from(index);
            let rule = &plan.rules[index];
            let touching = rule
                .repeat
                .is_none_or(|repeat| repeat == Repeat::WhileTouching);
            let every_tick = touching && rule.every <= Ticks(1) && plan.gives_always(RuleIx::new(index))
                // Who has to begin the tick above cannot do so twice without a bounce in between.
                && !rule.gates.iter().any(|gate| matches!(gate, GatePlan::Above { .. } | GatePlan::Below { .. }));
            let hurts = rule.does.damage.as_ref().is_some_and(|damage| {
                // What one hit empties anyway does not drain.
                let drains = |amount: &Amount| amount.is_positive() && *amount < full;
                let bands = damage.bands.iter().map(|(_, amount)| amount);
                bands.chain([&damage.amount]).any(drains)
                    && damage.meters.iter().any(|m| m.index() == health)
            });
            if std::mem::replace(&mut warned[index], true) || !every_tick || !hurts {
                continue;
            }
            let kind = &plan.kinds[spec.kind.index()];
            let message = format!(
                "`{}` hurts `{}` on every tick of a touch, {} times a second",
                rule.name, actor.id, plan.rate
            );
            check.report(
                Finding::new(
                    Code::DrainsInABlink,
                    Path::root().key("rule").index(index),
                    message,
                )
                .help(format!(
                    "give `{kind}` `invincible = {{ after_hit = \"0.5s\" }}`, or the rule \
                         `every = \"0.5s\"` or `repeat = \"once-per-touch\"`"
                ))
                .related(kinds::path(kind), "hurt without a pause"),
            );
        }
    }
}
