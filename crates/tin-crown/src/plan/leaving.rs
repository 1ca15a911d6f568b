//! Does everything that is launched leave the world sometime, and does it come out in front of its
//! owner's nose? Findings about launchers.

use super::checker::Checker;
use super::drives::Drive;
use super::launchers::{AimPlan, LauncherPlan};
use super::spec::Spec;
use super::{Breed, HEALTH, Plan, ProfileIx, kinds};
use crate::encounter::{Ending, Facing, Outside};
use crate::finding::{Code, Finding};
use crate::geometry::{Bounds, TOUCH, Vec2};
use crate::printable::hundredths;

pub(super) fn check(check: &mut Checker, plan: &Plan) {
    let mut told = vec![false; plan.kinds.len()];
    for breed in &plan.breeds {
        let spec = plan.spec_of(breed.spec);
        let maker = &plan.kinds[spec.kind.index()];
        for (nth, launcher) in spec.launchers.iter().enumerate() {
            let child = plan.breed(breed.offspring[nth]);
            let made = plan.spec_of(child.spec);
            let base = kinds::path(maker).key("launcher").key(&launcher.name);
            if !leaves(plan, made, launcher)
                && !std::mem::replace(&mut told[launcher.launches.index()], true)
            {
                let kind = &plan.kinds[launcher.launches.index()];
                let message = format!("nothing ever ends a `{kind}` that `{maker}` launches");
                check.report(
                    Finding::new(Code::NeverLeaves, base.key("launches"), message)
                        .help(format!("give `{kind}` a `lifetime`"))
                        .related(kinds::path(kind), "this kind"),
                );
            }
            if breed.spec.index() < plan.kinds.len() {
                beyond(check, plan, spec, launcher, child);
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
                let kind = &plan.kinds[kind.index()];
                let message = format!("nothing ever ends a `{kind}` that `{maker}` leaves behind");
                check.report(
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
    let edge = made.outside != Outside::Stays || made.flight.ends_on(Ending::Edge, launcher.shot);
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
    let has_health = made
        .meters
        .iter()
        .any(|meter| plan.meters[meter.name.index()] == HEALTH);
    edge && goes || has_health && !launcher.shot
}

/// A gap between the owner's front and what it launches, wide enough for somebody, or for a wall.
fn beyond(check: &mut Checker, plan: &Plan, owner: &Spec, launcher: &LauncherPlan, child: &Breed) {
    let made = plan.spec_of(child.spec);
    let ahead = match launcher.aim {
        AimPlan::Facing => Vec2::new(1.0, 0.0),
        // Wherever it is aimed, it comes out on the muzzle's side.
        AimPlan::Angle(_) | AimPlan::At(_) | AimPlan::Lead(_) => launcher.muzzle.unit(),
    };
    let far = launcher.muzzle.dot(ahead);
    if far <= 0.0 {
        return;
    }
    let own = match &owner.body {
        Some(body) => body.shape(Facing::Right).bounds(),
        None => owner.extent(Facing::Right),
    };
    let front = reach(own, ahead);
    let back = -reach(made.extent(Facing::Right), ahead * -1.0);
    let gap = far + back - front;
    if gap <= TOUCH {
        return;
    }
    let gap = hundredths(gap);
    let across = |bounds: Bounds| reach(bounds, ahead) + reach(bounds, ahead * -1.0);
    let maker = &plan.kinds[owner.kind.index()];
    let path = kinds::path(maker)
        .key("launcher")
        .key(&launcher.name)
        .key("muzzle");
    let solids = plan.arena.solids.iter().filter(|solid| !solid.one_way);
    let thin = solids
        .map(|solid| across(solid.bounds))
        .filter(|width| *width < gap)
        .min_by(f64::total_cmp);
    if let Some(width) = thin.filter(|_| owner.body.is_some()) {
        let message = format!(
            "`{}` sets things down {gap} units beyond the body of `{maker}`, through a solid that is \
             {} wide",
            launcher.name,
            hundredths(width)
        );
        check.report(
            Finding::new(Code::MuzzleBeyond, path.clone(), message)
                .help("move the muzzle back to the body, or make walls thicker than the gap"),
        );
    }
    let targets = plan.breeds.iter().flat_map(|breed| {
        let spec = plan.spec_of(breed.spec);
        let ally = spec.side.is_some() && spec.side == owner.side;
        let hit = move |nth: usize| !ally && hits(plan, child, breed.takes[nth]);
        let boxes = spec.hurtboxes.iter().enumerate();
        boxes
            .filter(move |(nth, _)| hit(*nth))
            .map(move |(_, plan)| (spec.kind, across(plan.shape(Facing::Right).bounds())))
    });
    let narrow = targets
        .filter(|(_, width)| *width < gap)
        .min_by(|(_, a), (_, b)| a.total_cmp(b));
    if let Some((kind, width)) = narrow {
        let message = format!(
            "`{}` sets things down {gap} units beyond `{maker}`: a `{}` that is {} wide and stands \
             right in front is passed over",
            launcher.name,
            plan.kinds[kind.index()],
            hundredths(width)
        );
        check.report(
            Finding::new(Code::MuzzleBeyond, path, message)
                .help("move the muzzle back, or let the shot's hitbox reach back to its owner"),
        );
    }
}

/// How far bounds reach from their owner's place in a direction of length 1; not at all when empty.
fn reach(bounds: Bounds, toward: Vec2) -> f64 {
    if bounds.is_empty() {
        return 0.0;
    }
    let x = if toward.x > 0.0 {
        bounds.max.x
    } else {
        bounds.min.x
    };
    let y = if toward.y > 0.0 {
        bounds.max.y
    } else {
        bounds.min.y
    };
    x * toward.x + y * toward.y
}

/// Whether some rule lets a launched thing hit what takes by a profile.
fn hits(plan: &Plan, child: &Breed, takes: ProfileIx) -> bool {
    let takes = plan.profile(takes);
    let mut gives = child.gives.iter().flat_map(|gives| plan.profile(*gives));
    gives.any(|rule| takes.contains(rule))
}
