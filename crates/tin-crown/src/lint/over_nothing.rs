//! Who is placed over nothing, and falls.

use super::Audited;
use crate::finding::{Code, Finding, Findings};
use crate::geometry::{HeightSpan, Shape, TOUCH, Vec2, overlap};
use crate::plan::Plan;

pub(super) fn check(findings: &mut Findings, audited: &Audited<'_>) {
    let plan = audited.plan;
    if plan
        .arena
        .height
        .is_none_or(|height| height.ground.is_some())
    {
        return;
    }
    let [_, gravity] = plan.arena.pull();
    for (actor, path) in plan.actors.iter().zip(audited.paths) {
        let spec = plan.spec_of(actor.spec);
        let Some((body, span)) = spec.body.as_ref().and_then(|body| Some((body, body.span?)))
        else {
            continue;
        };
        if spec.fall(&spec.drive, gravity) <= 0.0 {
            continue;
        }
        let shape = body.unturned(actor.facing);
        let falls = |at: &Vec2| !is_caught(plan, shape, span.moved(actor.rise), *at);
        if actor.at.all().any(falls) {
            let message = format!("`{}` is placed over nothing, and falls", actor.id);
            findings.push(
                Finding::new(Code::OverNothing, path.key("at"), message)
                    .help("move it over a solid, or give the arena a ground"),
            );
        }
    }
}

/// Whether a solid lies somewhere beneath a body.
fn is_caught(plan: &Plan, shape: &Shape, span: HeightSpan, at: Vec2) -> bool {
    let fixed = plan.arena.solids.iter().filter_map(|solid| {
        let shape = Shape::upright(solid.bounds).ok()?;
        Some((shape, solid.span?, Vec2::ZERO))
    });
    let moving = plan.actors.iter().flat_map(|actor| {
        let solid = plan.spec_of(actor.spec).solid.as_ref();
        let own = solid.and_then(|own| Some((*own.unturned(actor.facing), own.span?)));
        own.into_iter().flat_map(move |(shape, span)| {
            let places = actor.at.all();
            places.map(move |at| (shape, span.moved(actor.rise), *at))
        })
    });
    fixed.chain(moving).any(|(solid, heights, origin)| {
        heights.high <= span.low + TOUCH && overlap(&solid, shape, at - origin)
    })
}
