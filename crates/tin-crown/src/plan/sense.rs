//! Does the encounter make sense? Findings about what can be replayed, but was hardly meant.

use super::checker::Checker;
use super::{Plan, contact, drains, falling, idle, leaving, never, returning, supply};
use crate::finding::{Code, Finding, Path};
use crate::geometry::{Shape, Vec2, overlap};

/// `paths` are where the actors are placed.
pub(super) fn check(check: &mut Checker, plan: &Plan, paths: &[Path]) {
    placed_in_solids(check, plan, paths);
    drains::check(check, plan);
    falling::check(check, plan);
    never::check(check, plan);
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
