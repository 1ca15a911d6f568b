//! States that nothing leads to.

use super::Audited;
use crate::finding::{Code, Finding, Findings};
use crate::plan::{Spec, StateIx, kinds};

pub(super) fn check(findings: &mut Findings, audited: &Audited<'_>) {
    for spec in audited.kind_specs() {
        of_kind(findings, audited, spec);
    }
}

/// States that no transition, no step of a death, no pose and no recording leads to.
fn of_kind(findings: &mut Findings, audited: &Audited<'_>, spec: &Spec) {
    let plan = audited.plan;
    let Some(start) = spec.start else { return };
    let mut reached = vec![false; spec.states.len()];
    let steps = spec.death.iter().filter_map(|step| step.state);
    let told = (0..spec.states.len()).map(StateIx::new);
    let told = told.filter(|state| audited.told.enters(spec.kind, *state));
    let mut next: Vec<_> = steps.chain([start]).chain(told).collect();
    while let Some(state) = next.pop() {
        if !std::mem::replace(&mut reached[state.index()], true) {
            next.extend(spec.states[state.index()].go.iter().map(|go| go.to));
        }
    }
    let kind = &plan.names.kinds[spec.kind];
    for (state, _) in spec
        .states
        .iter()
        .zip(reached)
        .filter(|(_, reached)| !reached)
    {
        let name = &plan.names.states[state.name];
        let message = format!("nothing leads to state `{name}` of `{kind}`");
        let path = kinds::path(kind).key("state").named(name);
        findings.push(
            Finding::new(Code::UnreachableState, path, message)
                .at_key()
                .help("name it in the `go` of another state, or remove it"),
        );
    }
}
