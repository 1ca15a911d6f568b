//! Audits: what can be replayed, but was hardly meant. Each is a file of its own, is tried against a plan
//! without errors, and stands in the one list below.

mod allow;
mod always_loses;
mod ammo_runs_dry;
mod drains_in_a_blink;
mod drawings;
mod endless_meter;
mod falls_for_ever;
mod guard_faces_away;
mod guard_unheeded;
mod harm;
mod hazards;
mod heights_apart;
mod idle_pickup;
mod jump_too_low;
mod launched_respawn;
mod meets_nothing;
mod misplaced;
mod muzzle_beyond;
mod never_holds;
mod never_leaves;
mod no_height;
mod nothing_to_take;
mod only_allies;
mod out_of_reach;
mod over_nothing;
mod places;
mod regen_outruns;
mod respawn_in_hazard;
mod skips_a_box;
mod spelling;
mod told;
mod turning_body;
mod unreachable_state;
mod weak_spot_sticks_out;

pub(crate) use allow::apply as allow;
pub(crate) use drawings::check as drawings;
pub(crate) use spelling::check as spelling;

use crate::finding::{Findings, Path};
use crate::map::Set;
use crate::plan::{Actor, Plan, Spec};
use crate::reach::Parties;
use told::Told;

/// Tells what it finds in what is audited.
type Audit = fn(&mut Findings, &Audited<'_>);

/// Every audit.
const AUDITS: [Audit; 27] = [
    always_loses::check,
    ammo_runs_dry::check,
    drains_in_a_blink::check,
    endless_meter::check,
    falls_for_ever::check,
    guard_faces_away::check,
    guard_unheeded::check,
    heights_apart::check,
    idle_pickup::check,
    jump_too_low::check,
    launched_respawn::check,
    meets_nothing::check,
    misplaced::check,
    muzzle_beyond::check,
    never_holds::check,
    never_leaves::check,
    no_height::check,
    nothing_to_take::check,
    only_allies::check,
    out_of_reach::check,
    over_nothing::check,
    regen_outruns::check,
    respawn_in_hazard::check,
    skips_a_box::check,
    turning_body::check,
    unreachable_state::check,
    weak_spot_sticks_out::check,
];

/// A plan, and what several audits ask of it.
struct Audited<'p> {
    plan: &'p Plan,
    /// Where the actors are placed, in the order of ids.
    paths: &'p [Path],
    /// Who gives and who takes, of each rule.
    parties: Vec<Parties>,
    /// Who is moved from outside.
    told: Told,
}

impl<'p> Audited<'p> {
    /// The kinds of all that is placed or launched, as they are written.
    fn kind_specs(&self) -> impl Iterator<Item = &'p Spec> + use<'p> {
        let plan = self.plan;
        let kinds: Set<usize> = plan
            .breeds
            .iter()
            .map(|breed| plan.spec_of(breed.spec).kind.index())
            .collect();
        kinds.into_iter().map(|kind| &plan.specs[kind])
    }

    /// One actor of each make: a kind, or a placement that overrides parts of one.
    fn one_of_each_spec(&self) -> impl Iterator<Item = (&'p Actor, &'p Spec)> + use<'p> {
        let plan = self.plan;
        let mut known = vec![false; plan.specs.len()];
        let actors = plan.actors.iter();
        let firsts =
            actors.filter(move |actor| !std::mem::replace(&mut known[actor.spec.index()], true));
        firsts.map(|actor| (actor, plan.spec_of(actor.spec)))
    }
}

/// Tries every audit. `paths` are where the actors are placed.
pub(crate) fn check(findings: &mut Findings, plan: &Plan, paths: &[Path]) {
    let audited = Audited {
        plan,
        paths,
        parties: plan.parties(),
        told: Told::new(plan),
    };
    for audit in AUDITS {
        audit(findings, &audited);
    }
    // What is so of a kind is so of each placement of it that overrides something else.
    findings.tell_once();
}
