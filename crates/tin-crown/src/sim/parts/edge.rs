//! The arena's edge.

use super::actor::Actor;
use crate::geometry::Bounds;
use crate::plan::Plan;

/// Whether an actor is wholly outside the arena: its body, or else the rectangle around all its boxes.
pub(crate) fn is_outside(plan: &Plan, actor: &Actor) -> bool {
    let spec = plan.spec_of(actor.spec);
    let extent = match &spec.body {
        Some(body) => body.unturned(actor.facing).bounds(),
        None => spec.extent(actor.facing),
    };
    let there = if extent.is_empty() {
        Bounds {
            min: actor.at,
            max: actor.at,
        }
    } else {
        extent.moved(actor.at)
    };
    !there.meets(plan.arena.bounds) || spec.is_below(&plan.arena, actor.life.rise.at)
}
