//! Gates that ask for what a recording does not tell.

use crate::encounter::Party;
use crate::finding::{Code, Finding, Path};
use crate::map::Set;
use crate::plan::{ActorIx, Ask, Breed, GatePlan, Plan, ProfileIx, RuleIx, SideOf, TrackPlan};

/// For each rule that asks one of those whom a recording places for something it does not tell, the first of them.
pub(super) fn gates(
    plan: &Plan,
    track: &TrackPlan,
    path: &Path,
    placed: &[ActorIx],
) -> Vec<Finding> {
    let mut told = Set::new();
    let mut findings = Vec::new();
    for actor in placed {
        let own = &plan.actors[actor.index()];
        let breed = plan.breed(own.breed);
        for (nth, rule) in plan.rules.iter().enumerate() {
            let index = RuleIx::new(nth);
            let asked = rule.gates.iter().filter_map(|gate| asks(gate, track));
            let concerns = |party: Party| concerns(plan, breed, party, index);
            let Some((party, what)) = asked.into_iter().find(|(party, _)| concerns(*party)) else {
                continue;
            };
            if !told.insert((nth, party as u8, what)) {
                continue;
            }
            let message = format!(
                "`{}` asks `{}` about its {what}, of which `{}` does not tell",
                rule.name, own.id, track.rows.file
            );
            let finding = Finding::new(Code::UntoldGate, path.clone(), message);
            let help = format!("record it, and name it by `columns.{what}`");
            let rule = Path::root().key("rule").index(nth);
            findings.push(finding.help(help).related(rule, "this rule"));
        }
    }
    findings
}

/// What a gate asks of whom, if a recording does not tell it.
fn asks(gate: &GatePlan, track: &TrackPlan) -> Option<(Party, &'static str)> {
    let columns = &track.columns;
    let (party, what, column) = match gate {
        GatePlan::Party(party, Ask::Grounded(_)) => (*party, "grounded", &columns.grounded),
        GatePlan::Party(party, Ask::Facing(_)) => (*party, "facing", &columns.facing),
        GatePlan::Side(SideOf::Front | SideOf::Behind) | GatePlan::Angle { .. } => {
            (Party::Whom, "facing", &columns.facing)
        }
        _ => return None,
    };
    column.is_none().then_some((party, what))
}

/// Whether a rule may ask one of a breed as who, or as whom.
fn concerns(plan: &Plan, breed: &Breed, party: Party, rule: RuleIx) -> bool {
    let profiles: &[ProfileIx] = match party {
        Party::Who => &breed.gives,
        Party::Whom => &breed.takes,
    };
    let mut profiles = profiles.iter();
    profiles.any(|profile| plan.profile(*profile).contains(&rule))
}
