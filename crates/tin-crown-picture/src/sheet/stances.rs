//! The ways in which a kind can stand: in its states, with its guard up, in its attacks, in its death.

use tin_crown::encounter::Phase;
use tin_crown::plan::{AttackIx, AttackPlan, BoxSet, DeathPlan, Moment, Spec, StateIx, StatePlan};
use tin_crown::{Plan, Ticks};

/// A living actor that stands.
fn standing() -> Moment {
    Moment {
        grounded: true,
        ..Moment::default()
    }
}

/// A way in which a kind can stand.
pub(super) struct Stance {
    pub name: String,
    /// The boxes that are live then.
    pub live: BoxSet,
    /// Whether the guard is up.
    pub guard: bool,
    /// Whether it notices others and launches things.
    pub acts: bool,
    /// By which its sprite is chosen.
    pub moment: Moment,
}

/// All of them, in the order of a life.
pub(super) fn all(plan: &Plan, spec: &Spec) -> Vec<Stance> {
    let (mut stances, base) = living(plan, spec);
    let start = spec.start().map(|state| (state, Ticks(0)));
    let stance = |name, live, moment: Moment| Stance {
        name,
        live,
        guard: moment.guarding,
        acts: true,
        moment: Moment {
            state: start,
            ..moment
        },
    };
    if spec.guard().is_some_and(|guard| guard.button().is_some()) {
        let moment = Moment {
            guarding: true,
            ..standing()
        };
        stances.push(stance("with its guard up".to_owned(), base, moment));
    }
    for (nth, attack) in spec.attacks().iter().enumerate() {
        for (name, live, phase) in phases(plan, attack) {
            let lengths = attack.phases();
            let before = lengths[..phase as usize].iter();
            let before = Ticks(before.map(|length| length.0).sum());
            let moment = Moment {
                attack: Some((AttackIx::new(nth), phase, before, Ticks(0))),
                ..standing()
            };
            stances.push(stance(name, base.with(live), moment));
        }
    }
    // While it dies, only what a step says is live.
    let mut live = BoxSet::default();
    for (nth, step) in spec.death().iter().enumerate() {
        live = step.live().unwrap_or(live);
        let state = step.state().map(|state| &spec.states()[state.index()]);
        live = live.with(state.map_or(BoxSet::default(), StatePlan::live));
        stances.push(Stance {
            name: dying(plan, step, state),
            live,
            guard: false,
            acts: false,
            moment: Moment {
                dying: Some(step.after()),
                step: Some((nth, Ticks(0))),
                ..Moment::default()
            },
        });
    }
    stances
}

/// Its states, those that look the same as one; and the boxes that are live in all of them.
fn living(plan: &Plan, spec: &Spec) -> (Vec<Stance>, BoxSet) {
    let always = spec.always_live();
    let mut groups: Vec<(BoxSet, bool, Vec<&str>, Option<StateIx>)> = Vec::new();
    let states = spec.states().iter().enumerate();
    for (nth, state) in states.filter(|(_, state)| !state.ends()) {
        let name = plan.names().states()[state.name()].as_str();
        let (live, guard) = (always.with(state.live()), state.guard());
        let same = |group: &&mut (BoxSet, bool, _, _)| (group.0, group.1) == (live, guard);
        match groups.iter_mut().find(same) {
            Some((.., names, _)) => names.push(name),
            None => groups.push((live, guard, vec![name], Some(StateIx::new(nth)))),
        }
    }
    let lives = groups.iter().map(|(live, ..)| *live);
    // What both have is what the one has but for what the other lacks.
    let base = lives.reduce(|all, live| all.without(all.without(live)));
    if groups.is_empty() {
        groups.push((always, false, Vec::new(), None));
    }
    let stances = groups
        .into_iter()
        .map(|(live, guard, names, state)| Stance {
            name: match names.as_slice() {
                [] => "always".to_owned(),
                [name] => format!("in state {name}"),
                names => format!("in states {}", names.join(", ")),
            },
            live,
            guard,
            acts: true,
            moment: Moment {
                state: state.map(|state| (state, Ticks(0))),
                guarding: guard,
                ..standing()
            },
        });
    (stances.collect(), base.unwrap_or(always))
}

/// The phases of an attack that make boxes live.
fn phases<'p>(
    plan: &'p Plan,
    attack: &'p AttackPlan,
) -> impl Iterator<Item = (String, BoxSet, Phase)> + 'p {
    let name = &plan.names().attacks()[attack.name()];
    let phases = Phase::ALL.into_iter();
    let phases = phases.zip(attack.live()).zip(attack.phases());
    phases
        .filter(|((_, live), length)| !live.is_empty() && length.0 > 0)
        .map(move |((phase, live), length)| {
            let told = format!("{name}: {}, {}", phase.as_str(), length.in_words());
            (told, live, phase)
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
