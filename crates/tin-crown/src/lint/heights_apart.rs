//! Boxes whose heights never meet.

use super::Audited;
use crate::finding::{Code, Finding, Findings, Path};
use crate::geometry::HeightSpan;
use crate::map::Set;
use crate::plan::{Actor, Drive, Plan, Spec};
use crate::reach::Part;

/// A rule all of whose boxes stay at heights at which none meets another: nothing moves them up or down.
pub(super) fn check(findings: &mut Findings, audited: &Audited<'_>) {
    let plan = audited.plan;
    if plan.arena.height.is_none() {
        return;
    }
    let pushed = plan.rules.iter().any(|rule| {
        let rebound = rule.rebound.as_ref().map(|rebound| &rebound.push);
        let mut pushes = rule.does.knockback.as_ref().into_iter().chain(rebound);
        pushes.any(|push| push.up.is_some())
    });
    for (nth, (rule, parties)) in plan.rules.iter().zip(&audited.parties).enumerate() {
        let heights = |parts: &Set<Part>, hits: bool| {
            let all = parts
                .iter()
                .map(|part| heights(audited, part, hits, pushed));
            all.collect::<Option<Vec<_>>>().map(|all| all.concat())
        };
        let (Some(gives), Some(takes)) = (
            heights(&parties.gives, true),
            heights(&parties.takes, false),
        ) else {
            continue;
        };
        let meet = |give: &HeightSpan| {
            let mut takes = takes.iter();
            takes.any(|take| HeightSpan::meet(Some(*take), Some(*give), 0.0))
        };
        if gives.is_empty() || takes.is_empty() || gives.iter().any(meet) {
            continue;
        }
        let (name, hitbox, hurtbox) = (&rule.name, &rule.hitbox, &rule.hurtbox);
        let message =
            format!("`{name}` never hits: no `{hitbox}` is ever as high as any `{hurtbox}`");
        findings.push(
            Finding::new(
                Code::HeightsApart,
                Path::root().key("rule").index(nth),
                message,
            )
            .at_key()
            .help("change `height` of one of the boxes, or where its owner is placed"),
        );
    }
}

/// At which heights a box of a kind is; nothing when that may change, or it says no height.
fn heights(
    audited: &Audited<'_>,
    part: &Part,
    hits: bool,
    pushed: bool,
) -> Option<Vec<HeightSpan>> {
    let plan = audited.plan;
    let spec = plan.spec_of(part.role.spec);
    let own = match hits {
        true => plan.hitbox_of(*part),
        false => plan.hurtbox_of(*part),
    };
    let span = own.span.filter(|_| own.grows.is_none())?;
    if pushed || moves(plan, spec) || audited.told.moves(plan, part.role.spec) {
        return None;
    }
    let of = |actor: &&Actor| actor.spec == part.role.spec;
    let placed: Vec<HeightSpan> = plan
        .actors
        .iter()
        .filter(of)
        .map(|actor| span.moved(actor.rise))
        .collect();
    // What is launched comes from anywhere.
    let launched = plan.breeds.iter().any(|breed| {
        let makers = plan.specs.iter().flat_map(Spec::offspring);
        breed.spec == part.role.spec && makers.into_iter().any(|kind| kind == spec.kind)
    });
    (!launched && !placed.is_empty()).then_some(placed)
}

/// Whether something moves a kind up or down by itself.
fn moves(plan: &Plan, spec: &Spec) -> bool {
    let [_, gravity] = plan.arena.pull();
    let drives = spec.states.iter().filter_map(|state| state.drive);
    let mut drives = drives.chain([spec.drive]);
    let risen = spec.routes.iter().flat_map(|route| &route.legs);
    spec.death.iter().any(|step| step.throw.is_some())
        || spec.respawn.is_some()
        || risen.into_iter().any(|leg| leg.rise != [0.0; 2])
        || drives.any(|drive| {
            let jumps = matches!(
                drive,
                Drive::Walk { jump: Some(_), .. } | Drive::Follow { .. }
            );
            jumps || spec.fall(&drive, gravity) != 0.0
        })
}
