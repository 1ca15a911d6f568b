//! Players whom nothing catches when they fall.

use super::Audited;
use crate::encounter::Outside;
use crate::finding::{Code, Finding, Findings};
use crate::geometry::{Bounds, HeightSpan, TOUCH, Vec2};
use crate::order;
use crate::plan::{Drive, Plan, SolidPlan, kinds};
use crate::printable::hundredths;

pub(super) fn check(findings: &mut Findings, audited: &Audited<'_>) {
    bodiless(findings, audited);
    let plan = audited.plan;
    let mut told = vec![false; plan.names.kinds.len()];
    for actor in &plan.actors {
        let spec = plan.spec_of(actor.spec);
        let [plane, height] = plan.arena.pull();
        let falls = spec.fall(&spec.drive, plane + height);
        let Some(body) = &spec.body else { continue };
        if !spec.player || falls == 0.0 || spec.outside != Outside::Stays || spec.lifetime.is_some()
        {
            continue;
        }
        let bounds = body.shape(actor.facing).bounds();
        let found = match (plan.arena.height, body.span) {
            (None, _) => {
                let down = plan.arena.up.sign() * falls.signum();
                let mut places = actor.at.all();
                let gap = places.find_map(|at| gap(plan, bounds.moved(*at), down));
                gap.map(|[from, to]| format!("from x {from} to {to}"))
            }
            (Some(height), Some(span)) if height.ground.is_none() && falls > 0.0 => {
                let hole = hole(plan, bounds.size(), span.moved(actor.rise));
                hole.map(|at| {
                    format!(
                        "for example around {}, {}",
                        hundredths(at.x),
                        hundredths(at.y)
                    )
                })
            }
            _ => None,
        };
        let Some(found) = found else { continue };
        if std::mem::replace(&mut told[spec.kind.index()], true) {
            continue;
        }
        let kind = &plan.names.kinds[spec.kind];
        let message = format!(
            "`{}` falls for ever where nothing lies beneath it, {found}, and the drill \
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

/// Walkers without a body: no solid holds them.
fn bodiless(findings: &mut Findings, audited: &Audited<'_>) {
    let plan = audited.plan;
    let [plane, height] = plan.arena.pull();
    for (actor, spec) in audited.one_of_each_spec() {
        let walks = matches!(spec.drive, Drive::Walk { .. });
        let falls = spec.fall(&spec.drive, plane + height) != 0.0;
        if !walks || !falls || spec.body.is_some() || audited.told.moves(plan, actor.spec) {
            continue;
        }
        let kind = &plan.names.kinds[spec.kind];
        let message =
            format!("`{kind}` walks without a body: no solid holds it, and it falls for ever");
        findings.push(
            Finding::new(Code::FallsForEver, kinds::path(kind), message)
                .at_key()
                .help("add a `body`, such as body = { size = [14, 28] }, or gravity = 0"),
        );
    }
}

/// The middle of a place seen from above, as large as a body, with no solid as low as its sole or lower, nor a
/// wall. Where there is one, another like it lies against the right and upper sides of solids or of the arena.
fn hole(plan: &Plan, size: Vec2, span: HeightSpan) -> Option<Vec2> {
    let arena = plan.arena.bounds;
    let beneath = |solid: &&SolidPlan| solid.span.is_none_or(|own| own.high <= span.low + TOUCH);
    let solids: Vec<Bounds> = plan
        .arena
        .solids
        .iter()
        .filter(beneath)
        .map(|solid| solid.bounds)
        .collect();
    let mut sides: Vec<f64> = solids.iter().map(|solid| solid.max.x).collect();
    sides.push(arena.min.x);
    order::sort_by(&mut sides, f64::total_cmp);
    sides.dedup();
    let inside = |left: &f64| *left >= arena.min.x && left + size.x <= arena.max.x + TOUCH;
    let mut tried = sides.into_iter().filter(inside).take(SIDES);
    tried.find_map(|left| {
        let right = left + size.x;
        let across = |solid: &&Bounds| solid.min.x + TOUCH < right && left + TOUCH < solid.max.x;
        let spans = solids
            .iter()
            .filter(across)
            .map(|solid| [solid.min.y, solid.max.y]);
        let low = open(spans.collect(), [arena.min.y, arena.max.y], size.y)?[0];
        Some(Vec2::new(left, low) + size * 0.5)
    })
}

/// How many sides of solids are tried, so that no file takes for ever.
const SIDES: usize = 256;

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
    let spans = solids
        .filter(beneath)
        .map(|bounds| [bounds.min.x, bounds.max.x]);
    let arena = plan.arena.bounds;
    open(spans.collect(), [arena.min.x, arena.max.x], body.size().x)
}

/// The first stretch of a line that no span covers, at least so long.
fn open(mut spans: Vec<[f64; 2]>, [low, high]: [f64; 2], length: f64) -> Option<[f64; 2]> {
    order::sort_by(&mut spans, |a, b| a[0].total_cmp(&b[0]));
    let mut covered = low;
    for [from, to] in spans {
        if from.min(high) - covered >= length {
            return Some([covered, from.min(high)]);
        }
        covered = covered.max(to);
    }
    (high - covered >= length).then_some([covered, high])
}
