//! Who is placed, or comes back, inside a solid or outside the arena.

use super::{Audited, places};
use crate::finding::{Code, Finding, Findings, Path};
use crate::geometry::{Shape, Vec2, overlap};

pub(super) fn check(findings: &mut Findings, audited: &Audited<'_>) {
    let plan = audited.plan;
    let solids: Vec<Shape> = plan
        .arena
        .solids
        .iter()
        .filter(|solid| !solid.one_way)
        .filter_map(|solid| Shape::upright(solid.bounds).ok())
        .collect();
    placed(findings, audited, &solids);
    coming_back(findings, audited, &solids);
}

fn placed(findings: &mut Findings, audited: &Audited<'_>, solids: &[Shape]) {
    let plan = audited.plan;
    for (actor, path) in plan.actors.iter().zip(audited.paths) {
        let spec = plan.spec_of(actor.spec);
        let extent = spec.extent(actor.facing);
        let meets = |at: &Vec2| extent.moved(*at).meets(plan.arena.bounds);
        if !extent.is_empty() && !actor.at.all().all(meets) {
            let message = format!("`{}` is placed outside the arena", actor.id);
            findings.push(Finding::new(Code::OutsideArena, path.key("at"), message));
        }
        let Some(body) = &spec.body else { continue };
        let body = body.unturned(actor.facing);
        let inside = solids
            .iter()
            .position(|solid| actor.at.all().any(|at| overlap(solid, body, *at)));
        if let Some(solid) = inside {
            let message = format!("the body of `{}` is placed inside a solid", actor.id);
            let solid = Path::root().key("arena").key("solids").index(solid);
            findings.push(
                Finding::new(Code::InsideSolid, path.key("at"), message)
                    .related(solid, "this one")
                    .help("move it until they only touch"),
            );
        }
    }
}

/// Places that are not those where the actor is placed.
fn coming_back(findings: &mut Findings, audited: &Audited<'_>, solids: &[Shape]) {
    let plan = audited.plan;
    for (actor, places) in places::of_return(plan, audited.paths) {
        let spec = plan.spec_of(actor.spec);
        let placed = |at: Vec2| actor.at.all().any(|own| *own == at);
        for place in places.into_iter().filter(|place| !placed(place.at)) {
            let body = spec.body.as_ref().map(|body| body.unturned(place.facing));
            let mut solids = solids.iter();
            if body.is_some_and(|body| solids.any(|solid| overlap(solid, body, place.at))) {
                let message = format!("the body of `{}` would come back inside a solid", actor.id);
                findings.push(
                    Finding::new(Code::InsideSolid, place.path.clone(), message)
                        .help("move it until they only touch"),
                );
            }
            let extent = spec.extent(place.facing);
            if !extent.is_empty() && !extent.moved(place.at).meets(plan.arena.bounds) {
                let message = format!("`{}` would come back outside the arena", actor.id);
                findings.push(Finding::new(Code::OutsideArena, place.path, message));
            }
        }
    }
}
