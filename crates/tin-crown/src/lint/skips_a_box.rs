//! What is too fast to be sampled.

use super::Audited;
use crate::encounter::{Axis, Contact, Facing};
use crate::finding::{Code, Finding, Findings, Path};
use crate::geometry::Vec2;
use crate::map::Map;
use crate::plan::{AimPlan, BoxPlan, Drive, Plan, RuleIx, SpecIx, kinds};
use crate::reach::Role;

/// What goes further in a tick than both boxes are wide can be on either side of the other without
/// ever being sampled on it.
pub(super) fn check(findings: &mut Findings, audited: &Audited<'_>) {
    let (plan, parties) = (audited.plan, &audited.parties);
    if plan.arena.contact != Contact::Sampled {
        return;
    }
    let paces = paces(plan);
    // By where the pace is written: over how much it touches at the least, and who with by which rule.
    let mut worst: Map<&Path, (f64, &Pace, Role, Role, RuleIx)> = Map::new();
    for (rule, parties) in parties.iter().enumerate() {
        let rule = RuleIx::new(rule);
        let size = |part: &BoxPlan| part.shape(Facing::Right).bounds().size();
        let gives = parties.gives.iter();
        let gives: Vec<(Role, Vec2)> = gives
            .map(|part| (part.role, size(plan.hitbox_of(*part))))
            .collect();
        let takes = parties.takes.iter();
        let takes: Vec<(Role, Vec2)> = takes
            .map(|part| (part.role, size(plan.hurtbox_of(*part))))
            .collect();
        for (movers, others) in [(&gives, &takes), (&takes, &gives)] {
            // The thinnest of the others, by width and by their lesser side.
            let thin = |length: fn(Vec2) -> f64| {
                let least = others.iter();
                least.min_by(|(_, a), (_, b)| length(*a).total_cmp(&length(*b)))
            };
            let (Some(narrow), Some(small)) =
                (thin(|size| size.x), thin(|size| size.x.min(size.y)))
            else {
                continue;
            };
            for (mover, own) in movers {
                for pace in paces.get(&mover.spec).into_iter().flatten() {
                    let (other, size) = if pace.level { narrow } else { small };
                    let both = *own + *size;
                    let wide = if pace.level {
                        both.x
                    } else {
                        both.x.min(both.y)
                    };
                    let known = worst.get(&pace.path);
                    let least = known.map_or(f64::INFINITY, |(wide, ..)| *wide);
                    let step = pace.speed / f64::from(plan.rate);
                    if step > wide && wide < least && !plan.spares(rule, *mover, *other) {
                        worst.insert(&pace.path, (wide, pace, *mover, *other, rule));
                    }
                }
            }
        }
    }
    for (path, (wide, pace, mover, other, rule)) in worst {
        let step = pace.speed / f64::from(plan.rate);
        let message = format!(
            "a `{}` goes {step:.1} units a tick, and contact is sampled: with a `{}` by `{}` it touches \
             over {wide:.1} units, which it can step over",
            plan.kind_of(mover),
            plan.kind_of(other),
            plan.rules[rule.index()].name
        );
        findings.push(
            Finding::new(Code::SkipsABox, path.clone(), message)
                .help("write `contact = \"swept\"` in the arena, or make it slower or the boxes wider")
                .related(Path::root().key("arena").key("contact"), "sampled here"),
        );
    }
}

/// How fast something goes by itself, in units a second.
struct Pace {
    speed: f64,
    /// Whether only sideways.
    level: bool,
    /// Where that is written.
    path: Path,
}

/// The paces of each kind: its own, and those at which it is launched.
fn paces(plan: &Plan) -> Map<SpecIx, Vec<Pace>> {
    let mut found: Map<SpecIx, Vec<Pace>> = Map::new();
    for breed in &plan.breeds {
        let spec = plan.spec_of(breed.spec);
        let base = kinds::path(&plan.names.kinds[spec.kind]);
        // Who falls walks sideways only.
        let sideways = !spec.rotates && spec.fall(&spec.drive, plan.arena.gravity) != 0.0;
        let own = match spec.drive {
            Drive::Walk { speed, .. } => Some((speed, sideways, "walk")),
            Drive::Patrol { axis, speed, .. } => Some((speed, axis == Axis::X, "motion")),
            Drive::Chase { speed, .. } | Drive::Return { speed } => Some((speed, false, "motion")),
            _ => None,
        };
        found.or_insert_with(breed.spec, || {
            let own = own.map(|(speed, level, key)| Pace {
                speed,
                level,
                path: base.key(key),
            });
            own.into_iter().collect()
        });
        for (nth, launcher) in spec.launchers.iter().enumerate() {
            let pace = Pace {
                speed: launcher.speed.all().copied().fold(0.0, f64::max),
                level: matches!(launcher.aim, AimPlan::Facing)
                    && launcher.spread == 0.0
                    && !spec.rotates,
                path: base.key("launcher").named(&launcher.name).key("speed"),
            };
            let child = plan.breed(breed.offspring[nth]).spec;
            let paces = found.or_default(child);
            if !paces.iter().any(|known| known.path == pace.path) {
                paces.push(pace);
            }
        }
    }
    found
}
