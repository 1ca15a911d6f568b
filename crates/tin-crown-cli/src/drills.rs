//! The drills that options name.

use tin_crown::Plan;
use tin_crown::plan::DrillIx;

use crate::failure::Failure;

/// The drills that were named, or all.
pub fn some(plan: &Plan, names: &[String], file: &str) -> Result<Vec<DrillIx>, Failure> {
    if plan.drills().is_empty() {
        return Err(Failure::new(format!("{file} has no drill"))
            .help("add one, for example:\n\n    [drill.look]\n    length = \"5s\""));
    }
    if names.is_empty() {
        return Ok(plan.all_drills().collect());
    }
    names
        .iter()
        .map(|name| {
            plan.drill(name)
                .map_err(|error| Failure::new(error.to_string()))
        })
        .collect()
}

/// The drill that was named, or the only one.
pub fn one(plan: &Plan, name: Option<&str>, file: &str) -> Result<DrillIx, Failure> {
    if let Some(name) = name {
        return plan
            .drill(name)
            .map_err(|error| Failure::new(error.to_string()));
    }
    let mut all = plan.all_drills();
    match (all.next(), all.next()) {
        (Some(only), None) => Ok(only),
        (None, _) => Err(Failure::new(format!("{file} has no drill"))
            .help("add one, for example:\n\n    [drill.look]\n    length = \"5s\"")),
        _ => {
            let names: Vec<&str> = plan.drills().iter().map(|drill| drill.name()).collect();
            Err(Failure::new(format!("{file} has several drills"))
                .help(format!("name one with --drill: {}", names.join(", "))))
        }
    }
}
