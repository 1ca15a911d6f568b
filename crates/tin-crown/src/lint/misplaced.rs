//! Who is placed, or comes back, inside a solid or outside the arena.

use super::{Audited, places};
use crate::finding::{Code, Finding, Findings, Path};
use crate::geometry::{Facing, HeightSpan, Shape, TOUCH, Vec2, overlap};
use crate::plan::{BoxPlan, Plan};

/// A solid that nobody may be inside of.
struct Wall {
    shape: Shape,
    span: Option<HeightSpan>,
    written: usize,
}

impl Wall {
    /// Whether a body at a place is inside it.
    fn holds(&self, body: &BoxPlan, facing: Facing, (at, rise): (Vec2, f64)) -> bool {
        let meets = HeightSpan::meet(self.span, body.span, rise);
        meets && overlap(&self.shape, body.unturned(facing), at)
    }
}

/// Whether a body at a height is below the ground.
fn below_ground(plan: &Plan, body: &BoxPlan, rise: f64) -> bool {
    let ground = plan.arena.height.and_then(|height| height.ground);
    let low = body.span.map(|span| span.low + rise);
    low.zip(ground)
        .is_some_and(|(low, ground)| low < ground - TOUCH)
}

pub(super) fn check(findings: &mut Findings, audited: &Audited<'_>) {
    let plan = audited.plan;
    let solids = plan.arena.solids.iter().filter(|solid| !solid.one_way);
    let walls: Vec<Wall> = solids
        .filter_map(|solid| {
            Some(Wall {
                shape: Shape::upright(solid.bounds).ok()?,
                span: solid.span,
                written: solid.written,
            })
        })
        .collect();
    placed(findings, audited, &walls);
    coming_back(findings, audited, &walls);
}

fn placed(findings: &mut Findings, audited: &Audited<'_>, walls: &[Wall]) {
    let plan = audited.plan;
    for (actor, path) in plan.actors.iter().zip(audited.paths) {
        let spec = plan.spec_of(actor.spec);
        let extent = spec.extent(actor.facing);
        let meets = |at: &Vec2| extent.moved(*at).meets(plan.arena.bounds);
        let apart = !extent.is_empty() && !actor.at.all().all(meets);
        if apart || spec.is_below(&plan.arena, actor.rise) {
            let message = format!("`{}` is placed outside the arena", actor.id);
            findings.push(Finding::new(Code::OutsideArena, path.key("at"), message));
        }
        let Some(body) = &spec.body else { continue };
        let inside = walls.iter().find(|wall| {
            let mut all = actor.at.all();
            all.any(|at| wall.holds(body, actor.facing, (*at, actor.rise)))
        });
        if below_ground(plan, body, actor.rise) {
            let message = format!("the body of `{}` is placed below the ground", actor.id);
            findings.push(
                Finding::new(Code::InsideSolid, path.key("at"), message)
                    .help("give it a height: at = [x, y, height]"),
            );
        }
        if let Some(wall) = inside {
            let message = format!("the body of `{}` is placed inside a solid", actor.id);
            let solid = Path::root().key("arena").key("solids").index(wall.written);
            findings.push(
                Finding::new(Code::InsideSolid, path.key("at"), message)
                    .related(solid, "this one")
                    .help("move it until they only touch"),
            );
        }
    }
}

/// Places that are not those where the actor is placed.
fn coming_back(findings: &mut Findings, audited: &Audited<'_>, walls: &[Wall]) {
    let plan = audited.plan;
    for (actor, places) in places::of_return(plan, audited.paths) {
        let spec = plan.spec_of(actor.spec);
        let placed = |at: Vec2| actor.at.all().any(|own| *own == at);
        for place in places.into_iter().filter(|place| !placed(place.at)) {
            let inside = spec.body.as_ref().is_some_and(|body| {
                let at = (place.at, place.rise);
                below_ground(plan, body, place.rise)
                    || walls.iter().any(|wall| wall.holds(body, place.facing, at))
            });
            if inside {
                let message = format!("the body of `{}` would come back inside a solid", actor.id);
                findings.push(
                    Finding::new(Code::InsideSolid, place.path.clone(), message)
                        .help("move it until they only touch"),
                );
            }
            let extent = spec.extent(place.facing);
            let apart = !extent.is_empty() && !extent.moved(place.at).meets(plan.arena.bounds);
            if apart || spec.is_below(&plan.arena, place.rise) {
                let message = format!("`{}` would come back outside the arena", actor.id);
                findings.push(Finding::new(Code::OutsideArena, place.path, message));
            }
        }
    }
}
