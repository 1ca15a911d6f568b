//! Checkpoints and exits that nobody can touch.

use super::Audited;
use crate::finding::{Code, Finding, Findings, Path};
use crate::plan::select::Subject;
use crate::plan::{ActorIx, Spec};

/// Checkpoints and exits that nobody can touch.
pub(super) fn check(findings: &mut Findings, audited: &Audited<'_>) {
    let plan = audited.plan;
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
            (point.area, point.span),
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
            (exit.area, exit.span),
            touched,
        )
    });
    for (path, name, (area, span), touched) in points.chain(exits) {
        let mut solids = plan.arena.solids.iter().filter(|solid| !solid.one_way);
        let buried = solids.any(|solid| {
            let (wall, own) = (solid.bounds, area);
            let high = match (solid.span, span) {
                (Some(wall), Some(own)) => wall.low <= own.low && wall.high >= own.high,
                (wall, _) => wall.is_none(),
            };
            high && wall.min.x <= own.min.x
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
        findings.push(
            Finding::new(Code::OutOfReach, path.key("area"), message)
                .help("move it, or give who should touch it a `body`"),
        );
    }
}
