//! Does contact go as it looks? Findings about weak spots that stick out, about what is too fast to be
//! sampled, and about guards that nothing heeds.

use std::collections::{BTreeMap, BTreeSet};

use super::checker::Checker;
use super::drives::Drive;
use super::gates::GatePlan;
use super::index::{BoxIx, BreedIx, KindIx, RuleIx};
use super::reach::Meeting;
use super::{BoxPlan, Plan, Spec, kinds};
use crate::encounter::{Axis, Contact, Facing, Up};
use crate::finding::{Code, Finding, Path};
use crate::geometry::{Bounds, TOUCH, Vec2};

pub(super) fn check(check: &mut Checker, plan: &Plan) {
    let mut meetings = Vec::new();
    plan.meetings(|meeting| meetings.push(meeting));
    weak_spots(check, plan, &meetings);
    if plan.arena.contact == Contact::Sampled {
        skips(check, plan, &meetings);
    }
    unheeded_guards(check, plan, &meetings);
}

fn kind_of(plan: &Plan, breed: BreedIx) -> KindIx {
    plan.spec_of(plan.breed(breed).spec).kind
}

fn hitbox(plan: &Plan, breed: BreedIx, part: BoxIx) -> Bounds {
    let spec = plan.spec_of(plan.breed(breed).spec);
    upward(
        plan,
        spec.hitboxes[part.index()].shape(Facing::Right).bounds(),
    )
}

fn hurtbox(plan: &Plan, breed: BreedIx, part: BoxIx) -> Bounds {
    let spec = plan.spec_of(plan.breed(breed).spec);
    upward(
        plan,
        spec.hurtboxes[part.index()].shape(Facing::Right).bounds(),
    )
}

/// With y upward.
fn upward(plan: &Plan, bounds: Bounds) -> Bounds {
    match plan.arena.up {
        Up::Plus => bounds,
        Up::Minus => Bounds::new([bounds.min.x, -bounds.max.y], [bounds.max.x, -bounds.min.y]),
    }
}

/// Whether neither attacks nor states make a hitbox live.
fn lasting(plan: &Plan, breed: BreedIx, part: BoxIx) -> bool {
    let spec = plan.spec_of(plan.breed(breed).spec);
    (spec.by_attack.hit | spec.by_state.hit) & (1 << part.0) == 0
}

/// A rule by which who treads on whom, and that asks nothing of from where: when the two run into each
/// other on level ground, its boxes must not meet before those with which whom hurts who.
fn weak_spots(check: &mut Checker, plan: &Plan, meetings: &[Meeting]) {
    let mut told = BTreeSet::new();
    let harms = |meeting: &&Meeting| {
        plan.harms_whom(meeting.rule)
            && lasting(plan, meeting.who, meeting.hitbox)
            && !plan.rules[meeting.rule.index()]
                .gates
                .iter()
                .any(asks_height)
    };
    for stomp in meetings.iter().filter(harms) {
        let back = |contact: &&Meeting| (contact.who, contact.whom) == (stomp.whom, stomp.who);
        for contact in meetings.iter().filter(back).filter(harms) {
            let early =
                [Facing::Left, Facing::Right].map(|faces| ahead(plan, stomp, contact, faces));
            let (front, behind) = (early[0].unwrap_or(0.0), early[1].unwrap_or(0.0));
            let (far, side) = if front >= behind {
                (front, "the front")
            } else {
                (behind, "behind")
            };
            let kind = &plan.kinds[kind_of(plan, stomp.whom).index()];
            let spec = plan.spec_of(plan.breed(stomp.whom).spec);
            let weak = &spec.hurtboxes[stomp.hurtbox.index()].name;
            let guard = &spec.hitboxes[contact.hitbox.index()].name;
            if far <= TOUCH || !told.insert((kind, weak, stomp.rule)) {
                continue;
            }
            let rule = &plan.rules[stomp.rule.index()].name;
            let message = format!(
                "`{weak}` of `{kind}` sticks out: who runs into it from {side} meets it {far} units before \
                 `{guard}`, and `{rule}` comes first"
            );
            let path = kinds::path(kind).key("hurtbox").key(weak);
            let rule = Path::root().key("rule").index(stomp.rule.index());
            check.report(
                Finding::new(Code::WeakSpotSticksOut, path, message)
                    .help(format!(
                        "make `{weak}` smaller than `{guard}`, or give the rule `gate = {{ from = \
                         \"above\" }}`"
                    ))
                    .related(rule, "by this rule, from any side"),
            );
        }
    }
}

fn asks_height(gate: &GatePlan) -> bool {
    matches!(
        gate,
        GatePlan::Above { .. }
            | GatePlan::Below { .. }
            | GatePlan::ComingDown
            | GatePlan::ComingUp
            | GatePlan::Falling(_)
            | GatePlan::Closing { .. }
            | GatePlan::Angle { .. }
    )
}

/// How much earlier, in units, a stomp meets than the contact in return, when both stand on level
/// ground and who comes from the left; nothing when it is no stomp, or they do not meet there.
fn ahead(plan: &Plan, stomp: &Meeting, contact: &Meeting, whom_faces: Facing) -> Option<f64> {
    let (who, whom) = (
        plan.spec_of(plan.breed(stomp.who).spec),
        plan.spec_of(plan.breed(stomp.whom).spec),
    );
    let standing = |spec: &Spec, part: &BoxPlan, faces: Facing| {
        let all = match &spec.body {
            Some(body) => body.shape(faces).bounds(),
            None => spec.extent(faces),
        };
        let ground = upward(plan, all).min.y;
        upward(plan, part.shape(faces).bounds()).moved(Vec2::new(0.0, -ground))
    };
    let foot = standing(who, &who.hitboxes[stomp.hitbox.index()], Facing::Right);
    let taker = standing(who, &who.hurtboxes[contact.hurtbox.index()], Facing::Right);
    let weak = standing(whom, &whom.hurtboxes[stomp.hurtbox.index()], whom_faces);
    let guard = standing(whom, &whom.hitboxes[contact.hitbox.index()], whom_faces);
    let level = |a: Bounds, b: Bounds| a.min.y < b.max.y - TOUCH && b.min.y < a.max.y - TOUCH;
    let treads = foot.min.y <= taker.min.y + TOUCH && foot.max.y <= taker.centre().y;
    if !treads || !level(foot, weak) || !level(guard, taker) {
        return None;
    }
    Some((guard.min.x - taker.max.x) - (weak.min.x - foot.max.x))
}

/// How fast an actor goes by itself, in units a second, and whether only sideways.
fn pace(plan: &Plan, breed: BreedIx) -> Vec<(f64, bool, Path)> {
    let spec = plan.spec_of(plan.breed(breed).spec);
    let base = kinds::path(&plan.kinds[spec.kind.index()]);
    let mut found = Vec::new();
    match spec.drive {
        Drive::Walk { speed, .. } => found.push((speed, true, base.key("walk"))),
        Drive::Patrol { axis, speed, .. } => {
            found.push((speed, axis == Axis::X, base.key("motion")));
        }
        Drive::Chase { speed, .. } | Drive::Return { speed } => {
            found.push((speed, false, base.key("motion")));
        }
        _ => {}
    }
    // By whom it is launched.
    for maker in &plan.breeds {
        let launchers = &plan.spec_of(maker.spec).launchers;
        for (nth, launcher) in launchers.iter().enumerate() {
            if maker.offspring[nth] != breed {
                continue;
            }
            let speed = launcher.speed.all().copied().fold(0.0, f64::max);
            let kind = plan.spec_of(maker.spec).kind;
            let path = kinds::path(&plan.kinds[kind.index()]);
            let path = path.key("launcher").key(&launcher.name).key("speed");
            let level = matches!(launcher.aim, super::AimPlan::Facing) && launcher.spread == 0.0;
            found.push((speed, level, path));
        }
    }
    found
}

/// What goes further in a tick than both boxes are wide can be on either side of the other without
/// ever being sampled on it.
fn skips(check: &mut Checker, plan: &Plan, meetings: &[Meeting]) {
    let mut worst: BTreeMap<Path, (f64, f64, &Meeting, BreedIx)> = BTreeMap::new();
    let mut paces = BTreeMap::new();
    for meeting in meetings {
        let gives = hitbox(plan, meeting.who, meeting.hitbox).size();
        let takes = hurtbox(plan, meeting.whom, meeting.hurtbox).size();
        let both = gives + takes;
        for mover in [meeting.who, meeting.whom] {
            let paces = paces.entry(mover).or_insert_with(|| pace(plan, mover));
            for (speed, level, path) in paces {
                let wide = if *level { both.x } else { both.x.min(both.y) };
                let step = *speed / f64::from(plan.rate);
                let known = worst.get(path).map_or(f64::INFINITY, |(wide, ..)| *wide);
                if step > wide && wide < known {
                    worst.insert(path.clone(), (wide, step, meeting, mover));
                }
            }
        }
    }
    for (path, (wide, step, meeting, mover)) in worst {
        let name = |breed| &plan.kinds[kind_of(plan, breed).index()];
        let other = if mover == meeting.who {
            meeting.whom
        } else {
            meeting.who
        };
        let message = format!(
            "a `{}` goes {step:.1} units a tick, and contact is sampled: with a `{}` by `{}` it touches \
             over {wide:.1} units, which it can step over",
            name(mover),
            name(other),
            plan.rules[meeting.rule.index()].name
        );
        check.report(
            Finding::new(Code::SkipsABox, path, message)
                .help("write `contact = \"swept\"` in the arena, or make it slower or the boxes wider")
                .related(Path::root().key("arena").key("contact"), "sampled here"),
        );
    }
}

/// A guard of a kind that every rule which could come to it pierces.
fn unheeded_guards(check: &mut Checker, plan: &Plan, meetings: &[Meeting]) {
    let mut coming: BTreeMap<KindIx, BTreeSet<RuleIx>> = BTreeMap::new();
    for meeting in meetings {
        let guarded = plan.spec_of(plan.breed(meeting.whom).spec).guard.is_some();
        if guarded && plan.harms_whom(meeting.rule) {
            let kind = kind_of(plan, meeting.whom);
            coming.entry(kind).or_default().insert(meeting.rule);
        }
    }
    for (kind, rules) in coming {
        let pierces = |rule: &RuleIx| plan.rules[rule.index()].pierces_guard;
        let Some(first) = rules.first().filter(|_| rules.iter().all(pierces)) else {
            continue;
        };
        let kind = &plan.kinds[kind.index()];
        let message = format!("every rule that hurts `{kind}` pierces its guard");
        let rule = Path::root().key("rule").index(first.index()).key("pierces");
        check.report(
            Finding::new(Code::GuardUnheeded, kinds::path(kind).key("guard"), message)
                .help("take `pierces` away from a rule, or the guard from the kind")
                .related(rule, "as here"),
        );
    }
}
