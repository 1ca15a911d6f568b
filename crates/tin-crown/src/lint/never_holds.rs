//! Conditions of states that can never hold.

use super::Audited;
use crate::encounter::Then;
use crate::finding::{Code, Finding, Findings};
use crate::plan::select::Subject;
use crate::plan::{ActorIx, ConditionPlan, Drive, Group, OtherAsk, Plan, Spec, StatePlan, kinds};

pub(super) fn check(findings: &mut Findings, audited: &Audited<'_>) {
    let plan = audited.plan;
    let mut told = vec![false; plan.names.kinds.len()];
    for breed in &plan.breeds {
        let spec = plan.spec_of(breed.spec);
        let kind = &plan.names.kinds[spec.kind];
        if std::mem::replace(&mut told[spec.kind.index()], true) {
            continue;
        }
        for state in &spec.states {
            let name = &plan.names.states[state.name];
            let base = kinds::path(kind).key("state").named(name).key("go");
            for (nth, go) in state.go.iter().enumerate() {
                if let Some(why) = never(plan, spec, state, &go.when) {
                    let path = base.index(nth).key("when");
                    let to = &plan.names.states[spec.states[go.to.index()].name];
                    let message = format!("`{kind}` never goes from `{name}` to `{to}`: {why}");
                    findings.push(
                        Finding::new(Code::NeverHolds, path, message)
                            .help("change the condition, or remove the transition"),
                    );
                }
            }
        }
    }
}

/// Why a condition never holds, if it does not.
fn never(plan: &Plan, spec: &Spec, state: &StatePlan, when: &ConditionPlan) -> Option<String> {
    let has_body = spec.body.is_some();
    for (word, asked) in [("grounded", when.grounded), ("lands", when.lands)] {
        if asked == Some(true) && !has_body {
            return Some(format!(
                "`{word}` asks for what it stands on, and it has no `body`"
            ));
        }
    }
    let drive = state.drive.unwrap_or(spec.drive);
    if when.arrives == Some(true) && !arrives(spec, drive) {
        return Some("its motion there never arrives anywhere".to_owned());
    }
    for &(place, least, most) in &when.meters {
        let meter = &spec.meters[usize::from(place)];
        let name = &plan.names.meters[meter.name];
        if let Some(least) = least.filter(|least| *least > meter.max) {
            let max = meter.max;
            return Some(format!(
                "it needs {least} of `{name}`, but holds at most {max}"
            ));
        }
        if let (Some(least), Some(most)) = (least, most)
            && least > most
        {
            return Some(format!(
                "`{name}` is never at least {least} and at most {most}"
            ));
        }
    }
    let (group, ask) = when.other?;
    other(plan, spec, group, ask)
}

/// Why no actor of a group ever meets the condition.
fn other(plan: &Plan, own: &Spec, group: Group, ask: OtherAsk) -> Option<String> {
    // A group of nobody but itself: the only one of its kind.
    let placed = plan.actors.iter().enumerate();
    let placed = placed.map(|(nth, actor)| (Some(ActorIx::new(nth)), actor.breed));
    let children = plan.breeds.iter().flat_map(|breed| &breed.offspring);
    let mut members = 0;
    let mut own_only = true;
    let mut able = false;
    for (actor, breed) in placed.chain(children.map(|breed| (None, *breed))) {
        let breed = plan.breed(breed);
        let spec = plan.spec_of(breed.spec);
        let subject = Subject {
            actor,
            kind: spec.kind,
            tags: &breed.tags,
        };
        if !group.matches(&subject) {
            continue;
        }
        members += if actor.is_some() { 1 } else { 2 };
        own_only &= spec.kind == own.kind;
        able |= match ask {
            OtherAsk::State(name) => spec.states.iter().any(|state| state.name == name),
            OtherAsk::Sees(name) => spec.sensors.iter().any(|sensor| sensor.name == name),
        };
    }
    if members == 1 && own_only {
        return Some("`other` names nobody but itself".to_owned());
    }
    let what = match ask {
        OtherAsk::State(name) => format!("a state `{}`", plan.names.states[name]),
        OtherAsk::Sees(name) => format!("a sensor `{}`", plan.names.sensors[name]),
    };
    (members > 0 && !able).then(|| format!("nobody whom `other` names has {what}"))
}

/// Whether a motion ever arrives.
fn arrives(spec: &Spec, drive: Drive) -> bool {
    match drive {
        Drive::Patrol { .. }
        | Drive::Chase { .. }
        | Drive::Follow { .. }
        | Drive::Return { .. } => true,
        Drive::Path { route, .. } => spec.routes[usize::from(route)].then == Then::Stays,
        _ => false,
    }
}
