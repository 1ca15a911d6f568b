//! Jumps onto nothing.

use super::Audited;
use crate::finding::{Code, Finding, Findings};
use crate::geometry::TOUCH;
use crate::order;
use crate::plan::{Drive, kinds};

/// A jump whose highest point stays below every top that is higher than another on which one can stand.
pub(super) fn check(findings: &mut Findings, audited: &Audited<'_>) {
    let plan = audited.plan;
    let Some(height) = plan.arena.height else {
        return;
    };
    let actors = plan.actors.iter().filter_map(|actor| {
        let solid = plan.spec_of(actor.spec).solid.as_ref()?;
        Some(solid.span?.high + actor.rise)
    });
    let solids = plan
        .arena
        .solids
        .iter()
        .filter_map(|solid| Some(solid.span?.high));
    let mut tops: Vec<f64> = solids.chain(actors).chain(height.ground).collect();
    order::sort_by(&mut tops, f64::total_cmp);
    let steps = tops.windows(2).map(|pair| pair[1] - pair[0]);
    let Some(least) = steps.filter(|step| *step > TOUCH).min_by(f64::total_cmp) else {
        return;
    };
    // What moves may bring anyone up.
    let moves = plan
        .actors
        .iter()
        .any(|actor| plan.spec_of(actor.spec).solid.is_some());
    let rate = f64::from(plan.rate);
    for spec in audited.kind_specs().filter(|_| !moves) {
        let Drive::Walk {
            jump: Some(jump), ..
        } = spec.drive
        else {
            continue;
        };
        let pull = spec.fall(&spec.drive, height.gravity) / rate;
        if pull <= 0.0 || spec.body.as_ref().is_none_or(|body| body.span.is_none()) {
            continue;
        }
        // Tick by tick: jump - pull, jump - 2 pull, … as long as it rises.
        let ticks = (jump / pull).floor();
        let highest = (jump * ticks - pull * ticks * (ticks + 1.0) / 2.0) / rate;
        if highest + TOUCH >= least {
            continue;
        }
        let kind = &plan.names.kinds[spec.kind];
        let highest = (highest * 100.0).round() / 100.0;
        let message = format!(
            "`{kind}` jumps {highest} high, and the lowest step to stand on is {least} higher than what \
             lies below it"
        );
        findings.push(
            Finding::new(
                Code::JumpTooLow,
                kinds::path(kind).key("walk").key("jump"),
                message,
            )
            .help("jump faster, or allow this finding where nothing is to be jumped onto"),
        );
    }
}
