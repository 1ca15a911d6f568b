//! Launched or left behind actors that never end.

use super::Audited;
use crate::encounter::{Ending, Outside};
use crate::finding::{Code, Finding, Findings};
use crate::plan::{Drive, HEALTH, LauncherPlan, Plan, Spec, Start, kinds};

pub(super) fn check(findings: &mut Findings, audited: &Audited<'_>) {
    let plan = audited.plan;
    let mut told = vec![false; plan.names.kinds.len()];
    for breed in &plan.breeds {
        let spec = plan.spec_of(breed.spec);
        let maker = &plan.names.kinds[spec.kind];
        for (nth, launcher) in spec.launchers.iter().enumerate() {
            let child = plan.breed(breed.offspring[nth]);
            let made = plan.spec_of(child.spec);
            let base = kinds::path(maker).key("launcher").named(&launcher.name);
            // What a recording tells of is there as long as it says.
            if launcher.starts != Start::Told
                && !leaves(plan, made, launcher)
                && !std::mem::replace(&mut told[launcher.launches.index()], true)
            {
                let kind = &plan.names.kinds[launcher.launches];
                let message = format!("nothing ever removes a `{kind}` that `{maker}` launches");
                findings.push(
                    Finding::new(Code::NeverLeaves, base.key("launches"), message)
                        .help(format!("give `{kind}` a `lifetime`"))
                        .related(kinds::path(kind), "this kind"),
                );
            }
        }
        let base = kinds::path(maker);
        let left = spec
            .leaves
            .iter()
            .map(|leave| (leave.kind, base.key("leaves")));
        let steps = spec.death.iter().enumerate();
        let steps = steps.flat_map(|(nth, step)| {
            let base = base.key("death").index(nth);
            let dropped = step.drops.iter().filter_map(|(kind, _)| *kind);
            let dropped = dropped.map({
                let base = base.key("drops");
                move |kind| (kind, base.clone())
            });
            let left = step.leaves.iter();
            left.map(move |(kind, _)| (*kind, base.key("leaves")))
                .chain(dropped)
        });
        for (kind, path) in left.chain(steps) {
            if stays(plan, &plan.specs[kind.index()])
                && !std::mem::replace(&mut told[kind.index()], true)
            {
                let kind = &plan.names.kinds[kind];
                let message =
                    format!("nothing ever removes a `{kind}` that `{maker}` leaves behind");
                findings.push(
                    Finding::new(Code::NeverLeaves, path, message)
                        .help(format!("give `{kind}` a `lifetime`"))
                        .related(kinds::path(kind), "this kind"),
                );
            }
        }
    }
}

/// Whether something left behind has no end: no lifetime, no health, no state that ends it, and nobody
/// takes it.
fn stays(plan: &Plan, left: &Spec) -> bool {
    let mut meters = left.meters.iter();
    left.lifetime.is_none()
        && left.pickup.is_none()
        && !left.states.iter().any(|state| state.ends)
        && !meters.any(|meter| plan.is_health(meter.name))
}

/// Whether something launched has an end: its lifetime, or the arena's edge when it gets there.
/// Health alone is none for a shot that flies on, but a foe may live until it is killed.
fn leaves(plan: &Plan, made: &Spec, launcher: &LauncherPlan) -> bool {
    if made.lifetime.is_some() || made.states.iter().any(|state| state.ends) {
        return true;
    }
    let edge = made.outside != Outside::Stays || made.flight.ends_at(Ending::Edge, launcher.shot);
    let gravity = plan.arena.gravity;
    let goes = match made.drive {
        Drive::Still if !made.coasts => false,
        Drive::Still | Drive::Coast => {
            made.fall(&Drive::Coast, gravity) != 0.0
                || made.drag == 0.0 && launcher.speed.all().any(|speed| *speed > 0.0)
        }
        Drive::Fall { .. } => true,
        _ => false,
    };
    // The ground is a solid everywhere.
    let [_, pull] = plan.arena.pull();
    let ground = plan
        .arena
        .height
        .is_some_and(|height| height.ground.is_some());
    let lands = ground
        && made.body.as_ref().is_some_and(|body| body.span.is_some())
        && made.flight.ends_at(Ending::Solid, launcher.shot)
        && made.fall(&Drive::Coast, pull) > 0.0;
    let has_health = made
        .meters
        .iter()
        .any(|meter| plan.names.meters[meter.name] == HEALTH);
    edge && goes || lands || has_health && !launcher.shot
}
