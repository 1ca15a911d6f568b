//! The ways in which a kind can stand: in its states, with its guard up, in its attacks, in its death.

use tin_crown::plan::{AttackPlan, BoxSet, DeathPlan, Spec, StatePlan};
use tin_crown::{Plan, Ticks};

/// A way in which a kind can stand.
pub(super) struct Stance {
    pub name: String,
    /// The boxes that are live then.
    pub live: BoxSet,
    /// Whether the guard is up.
    pub guard: bool,
    /// Whether it notices others and launches things.
    pub acts: bool,
}

/// All of them, in the order of a life.
pub(super) fn all(plan: &Plan, spec: &Spec) -> Vec<Stance> {
    let (mut stances, base) = living(plan, spec);
    let stance = |name, live, guard| Stance {
        name,
        live,
        guard,
        acts: true,
    };
    if spec.guard().is_some_and(|guard| guard.button().is_some()) {
        stances.push(stance("with its guard up".to_owned(), base, true));
    }
    for attack in spec.attacks() {
        let phases = phases(plan, attack);
        stances.extend(phases.map(|(name, live)| stance(name, base.with(live), false)));
    }
    // While it dies, only what a step says is live.
    let mut live = BoxSet::default();
    for step in spec.death() {
        live = step.live().unwrap_or(live);
        let state = step.state().map(|state| &spec.states()[state.index()]);
        live = live.with(state.map_or(BoxSet::default(), StatePlan::live));
        stances.push(Stance {
            name: dying(plan, step, state),
            live,
            guard: false,
            acts: false,
        });
    }
    stances
}

/// Its states, those that look the same as one; and the boxes that are live in all of them.
fn living(plan: &Plan, spec: &Spec) -> (Vec<Stance>, BoxSet) {
    let always = spec.always_live();
    let mut groups: Vec<(BoxSet, bool, Vec<&str>)> = Vec::new();
    for state in spec.states().iter().filter(|state| !state.ends()) {
        let name = plan.names().states()[state.name()].as_str();
        let (live, guard) = (always.with(state.live()), state.guard());
        let same = |group: &&mut (BoxSet, bool, _)| (group.0, group.1) == (live, guard);
        match groups.iter_mut().find(same) {
            Some((.., names)) => names.push(name),
            None => groups.push((live, guard, vec![name])),
        }
    }
    let lives = groups.iter().map(|(live, ..)| *live);
    // What both have is what the one has but for what the other lacks.
    let base = lives.reduce(|all, live| all.without(all.without(live)));
    if groups.is_empty() {
        groups.push((always, false, Vec::new()));
    }
    let stances = groups.into_iter().map(|(live, guard, names)| Stance {
        name: match names.as_slice() {
            [] => "always".to_owned(),
            [name] => format!("in state {name}"),
            names => format!("in states {}", names.join(", ")),
        },
        live,
        guard,
        acts: true,
    });
    (stances.collect(), base.unwrap_or(always))
}

/// The phases of an attack that make boxes live.
fn phases<'p>(
    plan: &'p Plan,
    attack: &'p AttackPlan,
) -> impl Iterator<Item = (String, BoxSet)> + 'p {
    let name = &plan.names().attacks()[attack.name()];
    let phases = ["startup", "active", "recovery"].into_iter();
    let phases = phases.zip(attack.live()).zip(attack.phases());
    phases
        .filter(|((_, live), Ticks(length))| !live.is_empty() && *length > 0)
        .map(move |((phase, live), Ticks(length))| {
            (format!("{name}: {phase}, {length} ticks"), live)
        })
}

/// "dying, from tick 30 on: thrown, leaves spark".
fn dying(plan: &Plan, step: &DeathPlan, state: Option<&StatePlan>) -> String {
    let names = plan.names();
    let mut said = Vec::new();
    if step.throw().is_some() {
        said.push("thrown".to_owned());
    }
    if step.freeze() {
        said.push("stays where it is".to_owned());
    }
    said.extend(state.map(|state| format!("in state {}", names.states()[state.name()])));
    let left = step
        .leaves()
        .iter()
        .map(|(kind, _)| names.kinds()[*kind].as_str());
    let left: Vec<&str> = left.collect();
    if !left.is_empty() {
        said.push(format!("leaves {}", left.join(", ")));
    }
    let drops = step.drops().iter().filter_map(|(kind, _)| *kind);
    let drops: Vec<&str> = drops.map(|kind| names.kinds()[kind].as_str()).collect();
    if !drops.is_empty() {
        said.push(format!("may leave {}", drops.join(", ")));
    }
    said.extend(step.cue().map(|cue| format!("cue {}", names.cues()[cue])));
    let when = match step.after() {
        Ticks(0) => "dying".to_owned(),
        Ticks(after) => format!("dying, from tick {after} on"),
    };
    if said.is_empty() {
        return when;
    }
    format!("{when}: {}", said.join(", "))
}
