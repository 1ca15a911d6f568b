//! Resolved states, and what leads from one to another.

use serde::Serialize;
use tin_crown_derive::Getters;

use super::attacks::{self, BoxSet, Boxes};
use super::checker::Checker;
use super::drives::{Drive, Drives};
use super::index::{CueIx, SensorIx, SensorNameIx, StateIx, StateNameIx};
use super::select::Group;
use super::spec::{Names, position};
use crate::amount::Amount;
use crate::encounter::{Chance, Condition, Kind, StateSpec, Transition, When};
use crate::finding::{Code, Finding, Path};
use crate::geometry::Vec2;
use crate::limits;
use crate::time::{Duration, Ticks};

/// A resolved state.
#[derive(Clone, Debug, Getters, PartialEq, Serialize)]
pub struct StatePlan {
    /// Its name.
    pub(crate) name: StateNameIx,
    /// What drives its owner; as ever when absent.
    #[getters(copy)]
    pub(crate) drive: Option<Drive>,
    /// The speed of that, when it is drawn by chance.
    pub(crate) pace: Option<Chance<f64>>,
    /// The boxes that are live.
    #[getters(copy)]
    pub(crate) live: BoxSet,
    /// Bits of the attacks that may start.
    pub(crate) attacks: u64,
    /// Bits of the launchers that may be set off.
    pub(crate) launchers: u64,
    /// Whether the guard is up.
    pub(crate) guard: bool,
    /// Where its owner appears anew.
    pub(crate) teleport: Option<Chance<Vec2>>,
    /// Whether its owner is gone when it begins.
    pub(crate) ends: bool,
    /// What is announced when it begins.
    pub(crate) cue: Option<CueIx>,
    /// What leads to other states, in the order in which it is tried.
    pub(crate) go: Vec<TransitionPlan>,
}

/// What leads to another state.
#[derive(Clone, Debug, Getters, PartialEq, Serialize)]
pub struct TransitionPlan {
    /// The other state.
    pub(crate) to: StateIx,
    /// What must be so.
    pub(crate) when: ConditionPlan,
    /// How long after it was taken it cannot be taken again.
    pub(crate) cooldown: Ticks,
    /// Whether it is taken once in a life only.
    pub(crate) once: bool,
    /// Its place among all transitions of its kind.
    #[getters(skip)]
    pub(crate) slot: u16,
}

/// What must be so for a transition: all that is named.
#[derive(Clone, Debug, Default, Getters, PartialEq, Serialize)]
pub struct ConditionPlan {
    /// So long in its state.
    pub(crate) after: Option<Ticks>,
    /// A sensor, and whether it notices somebody or nobody.
    pub(crate) sense: Option<(SensorIx, bool)>,
    /// For how long.
    pub(crate) lasting: Ticks,
    /// How near at least, in units.
    pub(crate) within: Option<f64>,
    /// Whether it has come to stand on something.
    pub(crate) lands: Option<bool>,
    /// Whether it stands on something.
    pub(crate) grounded: Option<bool>,
    /// Whether it is path of its motion.
    pub(crate) arrives: Option<bool>,
    /// Whether a hit landed on it.
    pub(crate) hurt: Option<bool>,
    /// Meters by their place, with the least and the most that they hold.
    pub(crate) meters: Vec<(u8, Option<Amount>, Option<Amount>)>,
    /// What must be so of one of these.
    pub(crate) other: Option<(Group, OtherAsk)>,
}

/// What is asked of another.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
pub enum OtherAsk {
    /// That it is in this state.
    State(StateNameIx),
    /// That its sensor of this name notices somebody.
    Sees(SensorNameIx),
}

/// What the states of a kind are made of.
pub(super) struct Parts<'a> {
    pub kind: &'a Kind,
    pub names: &'a Names<'a>,
    pub boxes: &'a Boxes<'a>,
}

/// The states of a kind, and the one it starts in.
pub(super) fn resolve(
    check: &mut Checker,
    base: &Path,
    parts: &Parts<'_>,
    drives: &mut Drives<'_>,
) -> (Vec<StatePlan>, Option<StateIx>) {
    let kind = parts.kind;
    let path = base.key("state");
    let mut slots = 0;
    let states: Vec<StatePlan> = kind
        .states
        .iter()
        .map(|(name, state)| {
            let path = path.key(name);
            check.name(path.clone(), name, "a state");
            one(check, &path, name, state, parts, drives, &mut slots)
        })
        .collect();
    for (name, condition) in &kind.conditions {
        let path = base.key("condition").key(name);
        check.name(path.clone(), name, "a condition");
        let used = kind
            .states
            .values()
            .flat_map(|state| state.go.iter().flatten());
        let mut names = used.filter_map(|go| match &go.when {
            When::Named(name) => Some(name),
            When::Inline(_) => None,
        });
        if !names.any(|used| used == name) {
            let message = format!("no state uses condition `{name}`");
            check.report(Finding::new(Code::NoEffect, path.clone(), message).at_key());
        }
        // Found to be wrong once, not in every state that uses it.
        self::condition(check, &path, condition, parts);
    }
    let start = start(check, base, kind);
    (states, start)
}

fn start(check: &mut Checker, base: &Path, kind: &Kind) -> Option<StateIx> {
    let state = |name: &str| kind.states.keys().position(|known| known == name);
    match &kind.starts {
        None if kind.states.is_empty() => None,
        None => {
            let message = "this kind has states, but no `starts`";
            let first = kind.states.keys().next().map_or("", String::as_str);
            check.report(
                Finding::new(Code::MissingKey, base.clone(), message)
                    .at_key()
                    .help(format!("add starts = \"{first}\"")),
            );
            None
        }
        Some(name) => {
            let found = state(name).map(StateIx::new);
            if found.is_none() {
                let known = kind.states.keys().map(String::as_str);
                check.unknown(base.key("starts"), "state of this kind", name, known);
            }
            found
        }
    }
}

fn one(
    check: &mut Checker,
    base: &Path,
    name: &str,
    state: &StateSpec,
    parts: &Parts<'_>,
    drives: &mut Drives<'_>,
    slots: &mut u16,
) -> StatePlan {
    let Parts { kind, names, boxes } = *parts;
    let driven = state
        .motion
        .as_ref()
        .map(|motion| drives.motion(check, &base.key("motion"), motion));
    if kind.walk.is_some() && driven.is_some() {
        let message = "`walk` and `motion` cannot be used together";
        check.report(
            Finding::new(Code::Contradiction, base.key("motion"), message)
                .help("remove `walk` or `motion`"),
        );
    }
    let (drive, pace) = driven.map_or((None, None), |(drive, pace)| (Some(drive), pace));
    let live = state.live.as_deref().unwrap_or_default();
    let mut bits = |key: &str, what: &str, list: &Option<Vec<String>>, known: Vec<&String>| {
        let mut bits = 0u64;
        for (nth, name) in list.iter().flatten().enumerate() {
            match known.iter().position(|known| *known == name) {
                Some(place) => bits |= 1 << place.min(63),
                None => {
                    let known = known.iter().map(|known| known.as_str());
                    check.unknown(base.key(key).index(nth), what, name, known);
                }
            }
        }
        bits
    };
    let attack_names = kind.attacks.keys().collect();
    let attacks = bits(
        "attacks",
        "attack of this kind",
        &state.attacks,
        attack_names,
    );
    let launcher_names = kind.launchers.keys().collect();
    let launchers = bits(
        "launchers",
        "launcher of this kind",
        &state.launchers,
        launcher_names,
    );
    if state.guard == Some(true) && kind.guard.is_none() {
        let message = "this kind has no `guard`";
        check.report(Finding::new(Code::NoEffect, base.key("guard"), message));
    }
    let go = state.go.as_deref().unwrap_or_default();
    let go = go.iter().enumerate();
    let go = go
        .filter_map(|(nth, go)| {
            *slots += 1;
            transition(check, &base.key("go").index(nth), go, parts, *slots - 1)
        })
        .collect();
    StatePlan {
        name: StateNameIx::new(position(names.states, name).unwrap_or(0)),
        drive,
        pace,
        live: attacks::box_set(check, &base.key("live"), live, boxes),
        attacks,
        launchers,
        guard: state.guard.unwrap_or(false),
        teleport: state.teleport.as_ref().map(|to| {
            check.chance(&base.key("teleport"), to, |check, path, to| {
                check.pair(&path, *to, &limits::COORDINATE).into()
            })
        }),
        ends: state.ends.unwrap_or(false),
        cue: names.cue(check, base.key("cue"), state.cue.as_deref()),
        go,
    }
}

fn transition(
    check: &mut Checker,
    base: &Path,
    go: &Transition,
    parts: &Parts<'_>,
    slot: u16,
) -> Option<TransitionPlan> {
    let kind = parts.kind;
    let when = match &go.when {
        When::Inline(condition) => self::condition(check, &base.key("when"), condition, parts),
        When::Named(name) => match kind.conditions.get(name) {
            Some(condition) => {
                let mut silent = Checker {
                    findings: crate::finding::Findings::new(),
                    rate: check.rate,
                };
                self::condition(&mut silent, base, condition, parts)
            }
            None => {
                let known = kind.conditions.keys().map(String::as_str);
                check.unknown(base.key("when"), "condition of this kind", name, known);
                ConditionPlan::default()
            }
        },
    };
    let cooldown = go.cooldown.map_or(Ticks(0), |cooldown| {
        check.duration(base.key("cooldown"), cooldown)
    });
    let to = kind.states.keys().position(|known| *known == go.to);
    if to.is_none() {
        let known = kind.states.keys().map(String::as_str);
        check.unknown(base.key("to"), "state of this kind", &go.to, known);
    }
    to.map(|to| TransitionPlan {
        to: StateIx::new(to),
        when,
        cooldown,
        once: go.once,
        slot,
    })
}

fn condition(
    check: &mut Checker,
    base: &Path,
    condition: &Condition,
    parts: &Parts<'_>,
) -> ConditionPlan {
    let Parts { kind, names, .. } = *parts;
    let sensor = |check: &mut Checker, key: &str, name: &Option<String>| {
        let name = name.as_ref()?;
        let found = kind.sensors.keys().position(|known| known == name);
        if found.is_none() {
            let known = kind.sensors.keys().map(String::as_str);
            check.unknown(base.key(key), "sensor of this kind", name, known);
        }
        found.map(SensorIx::new)
    };
    let sees = sensor(check, "sees", &condition.sees).map(|sensor| (sensor, true));
    let loses = sensor(check, "loses", &condition.loses).map(|sensor| (sensor, false));
    let sense = sees.or(loses);
    let named = condition.sees.is_some() || condition.loses.is_some();
    for (key, given, sense) in [
        ("for", condition.lasting.is_some(), named),
        (
            "within",
            condition.within.is_some(),
            condition.sees.is_some(),
        ),
    ] {
        if given && !sense {
            let message = format!("`{key}` needs `sees`");
            check.report(Finding::new(Code::NoEffect, base.key(key), message));
        }
    }
    let mut ticks = |key: &str, length: Option<Duration>| {
        length.map(|length| check.duration(base.key(key), length))
    };
    let (after, lasting) = (
        ticks("after", condition.after),
        ticks("for", condition.lasting),
    );
    let mut meters = Vec::new();
    for (name, level) in &condition.meters {
        let path = base.key("meter").key(name);
        if names.own_meter(check, path.clone(), name, kind).is_none() {
            continue;
        }
        let place = kind.meters.keys().position(|known| known == name);
        let mut amount =
            |key, level: Option<f64>| level.map(|level| check.amount(path.key(key), level));
        let (least, most) = (
            amount("at_least", level.at_least),
            amount("at_most", level.at_most),
        );
        let place = u8::try_from(place.unwrap_or(0));
        let place = place.unwrap_or_else(|_| unreachable!("a kind has few meters"));
        meters.push((place, least, most));
    }
    let other = condition.other.as_ref().and_then(|other| {
        let base = base.key("other");
        let who = names.group(check, &base.key("who"), &other.who);
        let mut find = |key: &str, what: &str, name: &String, all: &[String]| {
            let found = position(all, name);
            if found.is_none() {
                let known = all.iter().map(String::as_str);
                check.unknown(base.key(key), what, name, known);
            }
            found
        };
        let ask = match (&other.state, &other.sees) {
            (Some(state), _) => OtherAsk::State(StateNameIx::new(find(
                "state",
                "state",
                state,
                names.states,
            )?)),
            (None, Some(sees)) => OtherAsk::Sees(SensorNameIx::new(find(
                "sees",
                "sensor",
                sees,
                names.sensors,
            )?)),
            (None, None) => return None,
        };
        Some((who?, ask))
    });
    if *condition == Condition::default() {
        let message = "this condition is empty: it always holds";
        check.report(
            Finding::new(Code::NoEffect, base.clone(), message)
                .help("add `after`, `sees`, `lands`, `arrives`, `hurt`…"),
        );
    }
    ConditionPlan {
        after,
        sense,
        lasting: lasting.unwrap_or_default(),
        within: condition
            .within
            .map(|within| check.number(base.key("within"), within, &limits::LENGTH)),
        lands: condition.lands,
        grounded: condition.grounded,
        arrives: condition.arrives,
        hurt: condition.hurt,
        meters,
        other,
    }
}
