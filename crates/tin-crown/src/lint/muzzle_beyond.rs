//! Muzzles so far out that who stands right beside their owner is passed over.

use super::Audited;
use crate::encounter::Facing;
use crate::finding::{Code, Finding, Findings};
use crate::geometry::{Bounds, HeightSpan, TOUCH, Vec2};
use crate::plan::{AimPlan, Breed, LauncherPlan, Plan, ProfileIx, Spec, kinds};
use crate::printable::hundredths;

pub(super) fn check(findings: &mut Findings, audited: &Audited<'_>) {
    let plan = audited.plan;
    for breed in &plan.breeds {
        let spec = plan.spec_of(breed.spec);
        // Placements that override parts of a kind have its launchers.
        if breed.spec.index() >= plan.names.kinds.len() {
            continue;
        }
        for (launcher, child) in spec.launchers.iter().zip(&breed.offspring) {
            beyond(findings, plan, spec, launcher, plan.breed(*child));
        }
    }
}

/// A gap between the owner's front and what it launches, wide enough for an actor, or for a wall.
fn beyond(
    findings: &mut Findings,
    plan: &Plan,
    owner: &Spec,
    launcher: &LauncherPlan,
    child: &Breed,
) {
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
    let meets = |other| meets(owner, launcher, made, other);
    let across = |bounds: Bounds| reach(bounds, ahead) + reach(bounds, ahead * -1.0);
    let maker = &plan.names.kinds[owner.kind];
    let path = kinds::path(maker)
        .key("launcher")
        .named(&launcher.name)
        .key("muzzle");
    let solids = plan.arena.solids.iter().filter(|solid| {
        // What is launched above a wall flies over it.
        let ground = plan.arena.height.and_then(|height| height.ground);
        let high = ground.is_none_or(|ground| meets(solid.span.map(|span| span.moved(-ground))));
        !solid.one_way && high
    });
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
        findings.push(
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
            .filter(move |(nth, own)| hit(*nth) && meets(spec.standing(own)))
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
            plan.names.kinds[kind],
            hundredths(width)
        );
        findings.push(
            Finding::new(Code::MuzzleBeyond, path, message)
                .help("move the muzzle back, or let the shot's hitbox reach back to its owner"),
        );
    }
}

/// Whether what appears meets a span of heights, one of its hitboxes at least, while its maker stands on a
/// ground at 0.
fn meets(owner: &Spec, launcher: &LauncherPlan, made: &Spec, other: Option<HeightSpan>) -> bool {
    let up = launcher.muzzle_rise - owner.sole();
    let spans = made.hitboxes.iter().map(|own| own.span);
    let mut spans = spans.map(|span| span.map(|span| span.moved(up)));
    made.hitboxes.is_empty() || spans.any(|span| HeightSpan::meet(span, other, 0.0))
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
