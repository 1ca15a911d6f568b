//! Weak spots that stick out, or are flush with what guards them.

use super::Audited;
use crate::encounter::{Facing, Up};
use crate::finding::{Code, Finding, Findings, Path};
use crate::geometry::{Angle, Bounds, TOUCH, Vec2};
use crate::map::{Map, Set};
use crate::plan::{BoxPlan, GatePlan, Plan, RuleIx, Spec, SpecIx, kinds};
use crate::printable::hundredths;
use crate::reach::{Part, Parties};

/// How many pairs of boxes are looked at for weak spots, so that no file takes for ever.
const PAIRS: usize = 100_000;

/// A rule by which who treads on whom, and that asks nothing of from where: when the two run into each
/// other on level ground, its boxes must not meet before those with which whom hurts who, nor at once.
pub(super) fn check(findings: &mut Findings, audited: &Audited<'_>) {
    let (plan, parties) = (audited.plan, &audited.parties);
    let mut told = Set::new();
    let meetings = lasting_meetings(plan, parties);
    for stomp in meetings.values().flatten() {
        let (who, whom) = (stomp.hitbox.role.spec, stomp.hurtbox.role.spec);
        let Some(contacts) = meetings.get(&(whom, who)) else {
            continue;
        };
        let up = Facing::Angle(Angle::QUARTER);
        let sides = [
            (Facing::Left, "the front"),
            (Facing::Right, "behind"),
            (up, "the side"),
            (up.turned(), "the side"),
        ];
        // Who mirrors shows no side.
        let shown = if plan.spec_of(whom).rotates { 4 } else { 2 };
        let open = sides[..shown].iter();
        let mut open: Vec<Side<'_>> = open
            .filter_map(|(faces, name)| open_side(plan, stomp, contacts, *faces, name))
            .collect();
        open.dedup_by(|a, b| a.name == b.name);
        let kind = plan.kind_of(stomp.hurtbox.role);
        let weak = &plan.hurtbox_of(stomp.hurtbox).name;
        if open.is_empty() || !told.insert((kind, weak, stomp.rule)) {
            continue;
        }
        let rule = &plan.rules[stomp.rule.index()].name;
        let met = match open.as_slice() {
            [first, others @ ..]
                if !others.is_empty() && others.iter().all(|own| own.told() == first.told()) =>
            {
                let names: Vec<&str> = open.iter().map(|own| own.name).collect();
                format!("from {} {}", names.join(" or "), first.told())
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
        let path = kinds::path(kind).key("hurtbox").named(weak);
        let rule = Path::root().key("rule").index(stomp.rule.index());
        findings.push(
            Finding::new(Code::WeakSpotSticksOut, path, message)
                .help(format!(
                    "make `{weak}` smaller than `{}`, or give the rule `gate = {{ from = \"above\" }}`",
                    open[0].guard
                ))
                .related(rule, "by this rule, from any side"),
        );
    }
}

/// Two boxes that meet by a rule, from whichever side.
#[derive(Clone, Copy)]
struct Meeting {
    rule: RuleIx,
    hitbox: Part,
    hurtbox: Part,
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
fn lasting_meetings(plan: &Plan, parties: &[Parties]) -> Map<(SpecIx, SpecIx), Vec<Meeting>> {
    let lasting = |hitbox: &&Part| {
        let spec = plan.spec_of(hitbox.role.spec);
        (spec.by_attack.hit | spec.by_state.hit) & (1 << hitbox.part.0) == 0
    };
    let mut found: Map<(SpecIx, SpecIx), Vec<Meeting>> = Map::new();
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
                    found.or_default(key).push(Meeting {
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
    let foot = Block::new(plan, who, plan.hitbox_of(stomp.hitbox), Facing::Right);
    let taker = Block::new(plan, who, plan.hurtbox_of(contact.hurtbox), Facing::Right);
    let weak = Block::new(plan, whom, plan.hurtbox_of(stomp.hurtbox), whom_faces);
    let guard = Block::new(plan, whom, plan.hitbox_of(contact.hitbox), whom_faces);
    let middle = (taker.high[0] + taker.high[1]) / 2.0;
    let treads = foot.high[0] <= taker.high[0] + TOUCH && foot.high[1] <= middle;
    if !treads || !foot.is_level(&weak) || !guard.is_level(&taker) {
        return None;
    }
    Some((guard.along[0] - taker.along[1]) - (weak.along[0] - foot.along[1]))
}

/// A box of one who stands on level ground: from where to where it reaches along the way on which the two
/// meet, to its sides and upward.
struct Block {
    along: [f64; 2],
    aside: [f64; 2],
    high: [f64; 2],
}

impl Block {
    fn new(plan: &Plan, spec: &Spec, part: &BoxPlan, faces: Facing) -> Block {
        let faces = faces.of_kind(spec.rotates);
        let bounds = part.shape(faces).bounds();
        let along = [bounds.min.x, bounds.max.x];
        let all = [f64::NEG_INFINITY, f64::INFINITY];
        if plan.arena.height.is_some() {
            let span = spec.standing(part);
            return Block {
                along,
                aside: [bounds.min.y, bounds.max.y],
                high: span.map_or(all, |span| [span.low, span.high]),
            };
        }
        let whole = match &spec.body {
            Some(body) => body.shape(faces).bounds(),
            None => spec.extent(faces),
        };
        let ground = upward(plan, whole).min.y;
        let own = upward(plan, bounds).moved(Vec2::new(0.0, -ground));
        Block {
            along,
            aside: all,
            high: [own.min.y, own.max.y],
        }
    }

    /// Whether one reaches as high as another, and as far aside.
    fn is_level(&self, other: &Block) -> bool {
        let meet = |a: [f64; 2], b: [f64; 2]| a[0] < b[1] - TOUCH && b[0] < a[1] - TOUCH;
        meet(self.high, other.high) && meet(self.aside, other.aside)
    }
}

/// With y upward.
fn upward(plan: &Plan, bounds: Bounds) -> Bounds {
    match plan.arena.up {
        Up::Plus => bounds,
        Up::Minus => Bounds::new([bounds.min.x, -bounds.max.y], [bounds.max.x, -bounds.min.y]),
    }
}
