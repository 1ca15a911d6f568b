//! Players whom nothing catches when they fall.

use super::Audited;
use crate::encounter::Outside;
use crate::finding::{Code, Finding, Findings};
use crate::geometry::{Bounds, TOUCH};
use crate::plan::{Plan, kinds};

pub(super) fn check(findings: &mut Findings, audited: &Audited<'_>) {
    let plan = audited.plan;
    let mut told = vec![false; plan.names.kinds.len()];
    for actor in &plan.actors {
        let spec = plan.spec_of(actor.spec);
        let falls = spec.fall(&spec.drive, plan.arena.gravity);
        let Some(body) = &spec.body else { continue };
        if !spec.player || falls == 0.0 || spec.outside != Outside::Stays || spec.lifetime.is_some()
        {
            continue;
        }
        let body = body.shape(actor.facing).bounds();
        let down = plan.arena.up.sign() * falls.signum();
        let mut places = actor.at.all();
        let Some([from, to]) = places.find_map(|at| gap(plan, body.moved(*at), down)) else {
            continue;
        };
        if std::mem::replace(&mut told[spec.kind.index()], true) {
            continue;
        }
        let kind = &plan.names.kinds[spec.kind];
        let message = format!(
            "`{}` falls for ever where nothing lies beneath it, from x {from} to {to}, and the drill \
             goes on",
            actor.id
        );
        findings.push(
            Finding::new(Code::FallsForEver, kinds::path(kind), message)
                .at_key()
                .help("add `outside = \"dies\"`, or a solid to stand on"),
        );
    }
}

/// A stretch of the arena, wide enough for a body, without a solid as low as the body's sole or
/// lower. `down` is positive where y grows upward.
fn gap(plan: &Plan, body: Bounds, down: f64) -> Option<[f64; 2]> {
    let beneath = |solid: &Bounds| {
        if down > 0.0 {
            solid.max.y <= body.min.y + TOUCH
        } else {
            solid.min.y >= body.max.y - TOUCH
        }
    };
    let solids = plan.arena.solids.iter().map(|solid| solid.bounds);
    let mut spans: Vec<[f64; 2]> = solids
        .filter(beneath)
        .map(|bounds| [bounds.min.x, bounds.max.x])
        .collect();
    spans.sort_by(|a, b| a[0].total_cmp(&b[0]));
    let [low, high] = [plan.arena.bounds.min.x, plan.arena.bounds.max.x];
    let mut covered = low;
    for [from, to] in spans {
        if from.min(high) - covered >= body.size().x {
            return Some([covered, from.min(high)]);
        }
        covered = covered.max(to);
    }
    (high - covered >= body.size().x).then_some([covered, high])
}
