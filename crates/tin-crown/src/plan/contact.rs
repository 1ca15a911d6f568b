//! Does contact go as it looks? Findings about weak spots that stick out, about what is too fast to be
//! sampled, and about guards that nothing heeds.

use std::collections::{BTreeMap, BTreeSet};

use super::checker::Checker;
use super::drives::Drive;
use super::gates::GatePlan;
use super::index::{RuleIx, SpecIx};
use super::reach::{Part, Parties, Role};
use super::{AimPlan, BoxPlan, Plan, Spec, kinds};
use crate::encounter::{Axis, Contact, Facing, Up};
use crate::finding::{Code, Finding, Path};
use crate::geometry::{Bounds, TOUCH, Vec2};
use crate::printable::hundredths;

/// How many pairs of boxes are looked at for weak spots, so that no file takes for ever.
const PAIRS: usize = 100_000;

pub(super) fn check(check: &mut Checker, plan: &Plan, parties: &[Parties]) {
    weak_spots(check, plan, parties);
    if plan.arena.contact == Contact::Sampled {
        skips(check, plan, parties);
    }
    unheeded_guards(check, plan, parties);
}

/// With y upward.
fn upward(plan: &Plan, bounds: Bounds) -> Bounds {
    match plan.arena.up {
        Up::Plus => bounds,
        Up::Minus => Bounds::new([bounds.min.x, -bounds.max.y], [bounds.max.x, -bounds.min.y]),
    }
}

/// Two boxes that meet by a rule, from whichever side.
#[derive(Clone, Copy)]
struct Meeting {
    rule: RuleIx,
    hitbox: Part,
    hurtbox: Part,
}

/// A rule by which who treads on whom, and that asks nothing of from where: when the two run into each
/// other on level ground, its boxes must not meet before those with which whom hurts who, nor at once.
fn weak_spots(check: &mut Checker, plan: &Plan, parties: &[Parties]) {
    let mut told = BTreeSet::new();
    let meetings = lasting_meetings(plan, parties);
    for stomp in meetings.values().flatten() {
        let (who, whom) = (stomp.hitbox.role.spec, stomp.hurtbox.role.spec);
        let Some(contacts) = meetings.get(&(whom, who)) else {
            continue;
        };
        let sides = [(Facing::Left, "the front"), (Facing::Right, "behind")];
        let open: Vec<Side<'_>> = sides
            .into_iter()
            .filter_map(|(faces, name)| open_side(plan, stomp, contacts, faces, name))
            .collect();
        let kind = plan.kind_of(stomp.hurtbox.role);
        let weak = &plan.hurtbox_of(stomp.hurtbox).name;
        if open.is_empty() || !told.insert((kind, weak, stomp.rule)) {
            continue;
        }
        let rule = &plan.rules[stomp.rule.index()].name;
        let met = match open.as_slice() {
            [front, behind] if front.told() == behind.told() => {
                format!("from the front or behind {}", front.told())
            }
            sides => {
                let told = sides.iter();
                let told = told.map(|side| format!("from {} {}", side.name, side.told()));
                told.collect::<Vec<_>>().join(", ")
            }
        };
        let sticks_out = open.iter().any(|side| side.early > TOUCH);
        let stands = if sticks_out { "sticks out" } else { "is flush" };
        let message = format!(
            "`{weak}` of `{kind}` {stands}: who runs into it {met}, and `{rule}` takes effect"
        );
        let path = kinds::path(kind).key("hurtbox").key(weak);
        let rule = Path::root().key("rule").index(stomp.rule.index());
        check.report(
            Finding::new(Code::WeakSpotSticksOut, path, message)
                .help(format!(
                    "make `{weak}` smaller than `{}`, or give the rule `gate = {{ from = \"above\" }}`",
                    open[0].guard
                ))
                .related(rule, "by this rule, from any side"),
        );
    }
}

/// A side from which a weak spot is met no later than what guards it.
struct Side<'p> {
    name: &'static str,
    guard: &'p str,
    /// How much earlier, in units.
    early: f64,
}

impl Side<'_> {
    fn told(&self) -> String {
        let Side { guard, early, .. } = self;
        if *early > TOUCH {
            let units = hundredths(*early);
            format!("meets it {units} units before `{guard}`")
        } else {
            format!("meets it together with `{guard}`")
        }
    }
}

/// Whether a weak spot is open on a side: met before all that hurts who there, or together with it
/// unless that wins.
fn open_side<'p>(
    plan: &'p Plan,
    stomp: &Meeting,
    contacts: &[Meeting],
    whom_faces: Facing,
    name: &'static str,
) -> Option<Side<'p>> {
    let met = contacts.iter();
    let met = met.filter_map(|contact| Some((ahead(plan, stomp, contact, whom_faces)?, contact)));
    let (early, contact) = met.min_by(|(a, _), (b, _)| a.total_cmp(b))?;
    let wins = plan.rules[contact.rule.index()].beats.contains(&stomp.rule);
    let open = early > TOUCH || early >= -TOUCH && !wins;
    open.then(|| Side {
        name,
        guard: &plan.hitbox_of(contact.hitbox).name,
        early,
    })
}

/// The boxes that meet by rules which harm and ask nothing of the height, by who and whom; those of
/// attacks and states left out.
fn lasting_meetings(plan: &Plan, parties: &[Parties]) -> BTreeMap<(SpecIx, SpecIx), Vec<Meeting>> {
    let lasting = |hitbox: &&Part| {
        let spec = plan.spec_of(hitbox.role.spec);
        (spec.by_attack.hit | spec.by_state.hit) & (1 << hitbox.part.0) == 0
    };
    let mut found: BTreeMap<(SpecIx, SpecIx), Vec<Meeting>> = BTreeMap::new();
    let mut room = PAIRS;
    for (rule, parties) in parties.iter().enumerate() {
        let rule = RuleIx::new(rule);
        let gates = &plan.rules[rule.index()].gates;
        if !plan.harms_whom(rule) || gates.iter().any(asks_height) {
            continue;
        }
        for &hitbox in parties.gives.iter().filter(lasting) {
            for &hurtbox in parties.takes.iter().take(room) {
                room -= 1;
                if !plan.spares(rule, hitbox.role, hurtbox.role) {
                    let key = (hitbox.role.spec, hurtbox.role.spec);
                    found.entry(key).or_default().push(Meeting {
                        rule,
                        hitbox,
                        hurtbox,
                    });
                }
            }
        }
    }
    // One kind against itself, by many rules: a few say it all.
    for meetings in found.values_mut() {
        meetings.truncate(100);
    }
    found
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
    let who = plan.spec_of(stomp.hitbox.role.spec);
    let whom = plan.spec_of(stomp.hurtbox.role.spec);
    let standing = |spec: &Spec, part: &BoxPlan, faces: Facing| {
        let all = match &spec.body {
            Some(body) => body.shape(faces).bounds(),
            None => spec.extent(faces),
        };
        let ground = upward(plan, all).min.y;
        upward(plan, part.shape(faces).bounds()).moved(Vec2::new(0.0, -ground))
    };
    let foot = standing(who, plan.hitbox_of(stomp.hitbox), Facing::Right);
    let taker = standing(who, plan.hurtbox_of(contact.hurtbox), Facing::Right);
    let weak = standing(whom, plan.hurtbox_of(stomp.hurtbox), whom_faces);
    let guard = standing(whom, plan.hitbox_of(contact.hitbox), whom_faces);
    let level = |a: Bounds, b: Bounds| a.min.y < b.max.y - TOUCH && b.min.y < a.max.y - TOUCH;
    let treads = foot.min.y <= taker.min.y + TOUCH && foot.max.y <= taker.centre().y;
    if !treads || !level(foot, weak) || !level(guard, taker) {
        return None;
    }
    Some((guard.min.x - taker.max.x) - (weak.min.x - foot.max.x))
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
fn paces(plan: &Plan) -> BTreeMap<SpecIx, Vec<Pace>> {
    let mut found: BTreeMap<SpecIx, Vec<Pace>> = BTreeMap::new();
    for breed in &plan.breeds {
        let spec = plan.spec_of(breed.spec);
        let base = kinds::path(&plan.kinds[spec.kind.index()]);
        let own = match spec.drive {
            Drive::Walk { speed, .. } => Some((speed, true, "walk")),
            Drive::Patrol { axis, speed, .. } => Some((speed, axis == Axis::X, "motion")),
            Drive::Chase { speed, .. } | Drive::Return { speed } => Some((speed, false, "motion")),
            _ => None,
        };
        found.entry(breed.spec).or_insert_with(|| {
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
                level: matches!(launcher.aim, AimPlan::Facing) && launcher.spread == 0.0,
                path: base.key("launcher").key(&launcher.name).key("speed"),
            };
            let child = plan.breed(breed.offspring[nth]).spec;
            let paces = found.entry(child).or_default();
            if !paces.iter().any(|known| known.path == pace.path) {
                paces.push(pace);
            }
        }
    }
    found
}

/// What goes further in a tick than both boxes are wide can be on either side of the other without
/// ever being sampled on it.
fn skips(check: &mut Checker, plan: &Plan, parties: &[Parties]) {
    let paces = paces(plan);
    // By where the pace is written: over how much it touches at the least, and who with by which rule.
    let mut worst: BTreeMap<&Path, (f64, &Pace, Role, Role, RuleIx)> = BTreeMap::new();
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
        check.report(
            Finding::new(Code::SkipsABox, path.clone(), message)
                .help("write `contact = \"swept\"` in the arena, or make it slower or the boxes wider")
                .related(Path::root().key("arena").key("contact"), "sampled here"),
        );
    }
}

/// A guard of a kind that every rule which could come to it pierces.
fn unheeded_guards(check: &mut Checker, plan: &Plan, parties: &[Parties]) {
    let mut coming: BTreeMap<&str, Vec<RuleIx>> = BTreeMap::new();
    for (rule, parties) in parties.iter().enumerate() {
        let rule = RuleIx::new(rule);
        if !plan.harms_whom(rule) {
            continue;
        }
        let guarded = parties.takes.iter().map(|part| part.role);
        let guarded = guarded.filter(|role| plan.spec_of(role.spec).guard.is_some());
        for role in guarded {
            let rules = coming.entry(plan.kind_of(role)).or_default();
            let mut gives = parties.gives.iter();
            if rules.last() != Some(&rule) && gives.any(|part| !plan.spares(rule, part.role, role))
            {
                rules.push(rule);
            }
        }
    }
    for (kind, rules) in coming {
        let pierces = |rule: &RuleIx| plan.rules[rule.index()].pierces_guard;
        let Some(first) = rules.first().filter(|_| rules.iter().all(pierces)) else {
            continue;
        };
        let message = format!("every rule that hurts `{kind}` pierces its guard");
        let rule = Path::root().key("rule").index(first.index()).key("pierces");
        check.report(
            Finding::new(Code::GuardUnheeded, kinds::path(kind).key("guard"), message)
                .help("take `pierces` away from a rule, or the guard from the kind")
                .related(rule, "as here"),
        );
    }
}
