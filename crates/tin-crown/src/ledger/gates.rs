//! What gates answer, in words.

use crate::encounter::{Looking, Party};
use crate::plan::{Ask, GatePlan, Plan, SideOf};
use crate::printable::hundredths;

/// What a gate says of who and whom, with its numbers.
pub(crate) fn said(
    plan: &Plan,
    gate: &GatePlan,
    passes: bool,
    numbers: Option<[f64; 2]>,
    [who, whom]: [&str; 2],
) -> String {
    let [have, need] = numbers.unwrap_or_default().map(hundredths);
    let not = if passes { "" } else { "not " };
    match gate {
        GatePlan::Above { .. } | GatePlan::Below { .. } if passes => {
            format!("it began at height {have}, the rule asks {need}")
        }
        GatePlan::Above { .. } => format!(
            "it began {} too low to come from above",
            hundredths((need - have).abs())
        ),
        GatePlan::Below { .. } => format!(
            "it began {} too high to come from below",
            hundredths((need - have).abs())
        ),
        GatePlan::ComingDown => format!("{not}coming down on it"),
        GatePlan::ComingUp => format!("{not}coming up at it"),
        GatePlan::Side(side) => format!("{not}from {}", side_said(*side)),
        GatePlan::Angle {
            degrees: [from, to],
            ..
        } => format!("from {have}°, the rule asks {from}° to {to}°"),
        GatePlan::Falling(_) => format!("falling {have}/s, the rule asks {need}/s"),
        GatePlan::Closing { .. } => format!("closing {have}/s, the rule asks {need}/s"),
        GatePlan::LineOfSight if passes => "no solid stands between them".to_owned(),
        GatePlan::LineOfSight => "a solid stands between them".to_owned(),
        GatePlan::Party(party, ask) => {
            let name = match party {
                Party::Who => who,
                Party::Whom => whom,
            };
            ask_said(plan, ask, passes, name, have, need)
        }
    }
}

fn ask_said(plan: &Plan, ask: &Ask, passes: bool, name: &str, have: f64, need: f64) -> String {
    // Whether it is so, which is not always what is asked.
    let is = |asked: bool| if asked == passes { "" } else { "not " };
    match ask {
        Ask::Facing(looking) if passes => {
            let way = match looking {
                Looking::Toward => "the other",
                Looking::Away => "away",
                Looking::Left => "left",
                Looking::Right => "right",
            };
            format!("{name} faces {way}")
        }
        Ask::Facing(_) => format!("{name} faces the other way"),
        Ask::Grounded(yes) => format!("{name} is {}on the ground", is(*yes)),
        Ask::Attack(attack) => {
            format!("{name} is {}in {}", is(true), plan.names.attacks[*attack])
        }
        Ask::Phase(phase) => format!("{name} is {}in {}", is(true), phase.as_str()),
        Ask::State(state) => format!("{name} is {}{}", is(true), plan.names.states[*state]),
        Ask::Guarding(yes) => format!("{name} is {}guarding", is(*yes)),
        Ask::Stunned(yes) => format!("{name} is {}stunned", is(*yes)),
        Ask::AtLeast(meter, _) => format!(
            "{} of {name} is {have}, the rule asks at least {need}",
            plan.names.meters[*meter]
        ),
        Ask::AtMost(meter, _) => format!(
            "{} of {name} is {have}, the rule asks at most {need}",
            plan.names.meters[*meter]
        ),
        Ask::Tag(tag, yes) => format!("{name} is {}#{}", is(*yes), plan.names.tags[*tag]),
    }
}

fn side_said(side: SideOf) -> &'static str {
    match side {
        SideOf::Front => "the front",
        SideOf::Behind => "behind",
        SideOf::Left => "the left",
        SideOf::Right => "the right",
    }
}
