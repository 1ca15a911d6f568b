//! Resolved attacks.

use serde::{Deserialize, Serialize};
use tin_crown_derive::Getters;

use super::boxes::BoxPlan;
use super::checker::Checker;
use super::index::{AttackNameIx, ButtonIx, CueIx};
use super::scope::Scope;
use crate::encounter::{AttackSpec, Clock, Kind, Movement, Trigger};
use crate::finding::{Code, Finding, Path};
use crate::nearest::nearest;
use crate::time::{Duration, Ticks};

/// A resolved attack.
#[derive(Clone, Debug, Getters, PartialEq, Serialize)]
pub struct AttackPlan {
    /// Its name.
    pub(crate) name: AttackNameIx,
    /// What starts it.
    #[getters(copy)]
    pub(crate) starts: Start,
    /// How long startup, active and recovery are.
    #[getters(copy)]
    pub(crate) phases: [Ticks; 3],
    /// How long after its end it cannot start again.
    pub(crate) cooldown: Ticks,
    /// Which boxes are live in each phase.
    #[getters(copy)]
    pub(crate) live: [BoxSet; 3],
    /// The least time between two hits on one target, when it hits several times.
    pub(crate) every: Option<Ticks>,
    /// How many it may hit.
    pub(crate) targets: Option<u32>,
    /// Whether its owner stays meanwhile.
    pub(crate) locked: bool,
    /// What may cut it short in each phase.
    pub(crate) cancels: [CancelPlan; 3],
    /// How long a press that comes too early is remembered.
    pub(crate) buffer: Ticks,
    /// Whether it starts only by cutting another short.
    pub(crate) followup: bool,
    /// What is announced when it begins.
    pub(crate) cue: Option<CueIx>,
}

/// What starts an attack.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
pub enum Start {
    /// A button that goes down.
    Press(ButtonIx),
    /// A button that is down.
    Hold(ButtonIx),
    /// A clock that counts from its owner's appearance.
    Clock {
        /// The first beat.
        first: Ticks,
        /// From one beat to the next.
        every: Ticks,
    },
    /// Coming into a state that names it.
    Entry,
    /// Nothing of the encounter: a recording or a pose tells it.
    Told,
}

/// Some of an actor's boxes, by bits.
#[derive(Clone, Copy, Debug, Default, Eq, Getters, PartialEq, Serialize, Deserialize)]
pub struct BoxSet {
    /// Bits of hitboxes.
    pub(crate) hit: u64,
    /// Bits of hurtboxes.
    pub(crate) hurt: u64,
}

/// What may cut an attack short.
#[derive(Clone, Copy, Debug, Default, Eq, Getters, PartialEq, Serialize)]
pub struct CancelPlan {
    /// Bits of attacks.
    pub(crate) attacks: u64,
    /// Raising the guard.
    pub(crate) guard: bool,
    /// A jump.
    pub(crate) jump: bool,
}

impl AttackPlan {
    /// How long it is from its start to its end.
    pub fn length(&self) -> Ticks {
        let [startup, active, recovery] = self.phases;
        Ticks(
            startup
                .0
                .saturating_add(active.0)
                .saturating_add(recovery.0),
        )
    }
}

impl BoxSet {
    /// The boxes of either.
    pub fn with(self, other: BoxSet) -> BoxSet {
        BoxSet {
            hit: self.hit | other.hit,
            hurt: self.hurt | other.hurt,
        }
    }

    /// Its boxes that the other has not.
    pub fn without(self, other: BoxSet) -> BoxSet {
        BoxSet {
            hit: self.hit & !other.hit,
            hurt: self.hurt & !other.hurt,
        }
    }

    /// Whether it has none.
    pub fn is_empty(self) -> bool {
        self == BoxSet::default()
    }
}

/// The boxes that attacks are made of.
pub(super) struct Boxes<'a> {
    pub hit: &'a [BoxPlan],
    pub hurt: &'a [BoxPlan],
}

pub(super) fn resolve(
    check: &mut Checker,
    base: &Path,
    kind: &Kind,
    boxes: &Boxes<'_>,
    scope: &Scope<'_>,
) -> Vec<AttackPlan> {
    let base = base.key("attack");
    let all = kind.attacks.iter();
    let plans: Vec<AttackPlan> = all
        .map(|(name, attack)| {
            let path = base.named(name);
            check.name(path.clone(), name, "an attack");
            one(check, &path, name, attack, kind, boxes, scope)
        })
        .collect();
    shared_buttons(check, &base, kind, &plans);
    plans
}

fn one(
    check: &mut Checker,
    path: &Path,
    name: &str,
    attack: &AttackSpec,
    kind: &Kind,
    boxes: &Boxes<'_>,
    scope: &Scope<'_>,
) -> AttackPlan {
    let mut ticks = |key: &'static str, length: Option<Duration>| {
        length.map(|length| check.duration(path.key(key), length))
    };
    let phases = [
        ticks("startup", attack.startup).unwrap_or_default(),
        ticks("active", attack.active).unwrap_or_default(),
        ticks("recovery", attack.recovery).unwrap_or_default(),
    ];
    let cooldown = ticks("cooldown", attack.cooldown).unwrap_or_default();
    let every = ticks("every", attack.every);
    let buffer = ticks("buffer", attack.buffer).unwrap_or_default();
    if attack.active.is_none() {
        let message = format!("`{name}` has no `active` phase");
        check.report(
            Finding::new(Code::MissingKey, path.clone(), message)
                .at_key()
                .help("say how long its boxes are live: active = \"4t\""),
        );
    }
    if attack.targets == Some(0) {
        let message = format!("`{name}` can hit nobody: `targets` is 0");
        check.report(Finding::new(Code::OutOfRange, path.key("targets"), message));
    }
    let live = &attack.live;
    let sets = [
        ("startup", &live.startup),
        ("active", &live.active),
        ("recovery", &live.recovery),
    ];
    let live = sets.map(|(phase, list)| {
        let base = path.key("live");
        let base = if attack.live_is_a_list() {
            base
        } else {
            base.key(phase)
        };
        box_set(check, &base, list, boxes)
    });
    if live.iter().all(|set| *set == BoxSet::default()) {
        let message = format!("`{name}` makes no box live");
        check
            .report(Finding::new(Code::NoEffect, path.clone(), message).help("add live = [\"…\"]"));
    }
    let cancels = &attack.cancels;
    let cancels = [
        ("startup", &cancels.startup),
        ("active", &cancels.active),
        ("recovery", &cancels.recovery),
    ];
    AttackPlan {
        name: scope.names.attacks.place(name),
        starts: start(
            check,
            path,
            &Starter {
                name,
                button: attack.button.as_deref(),
                on: attack.on,
                clock: attack.clock.as_ref(),
                by_state: names_it(
                    name,
                    kind.states
                        .values()
                        .flat_map(|state| state.attacks.iter().flatten()),
                    kind.attacks.keys(),
                ),
                list: "attacks",
            },
            scope,
        ),
        phases,
        cooldown,
        live,
        every,
        targets: attack.targets,
        locked: attack.movement == Some(Movement::Locked),
        cancels: cancels
            .map(|(phase, list)| cancel(check, &path.key("cancels").key(phase), list, kind)),
        buffer,
        followup: attack.followup.unwrap_or(false),
        cue: scope.cue(check, path.key("cue"), attack.cue.as_deref()),
    }
}

/// What is written of the start of an attack or launcher.
pub(super) struct Starter<'a> {
    pub name: &'a str,
    pub button: Option<&'a str>,
    pub on: Option<Trigger>,
    pub clock: Option<&'a Clock>,
    /// Whether a state names it.
    pub by_state: bool,
    /// The key under which a state would.
    pub list: &'static str,
}

/// Whether a list of a state names something, or probably means to.
pub(super) fn names_it<'k>(
    name: &str,
    mut list: impl Iterator<Item = &'k String>,
    known: impl Iterator<Item = &'k String> + Clone,
) -> bool {
    let known = || known.clone().map(String::as_str);
    list.any(|named| named == name || nearest(named, known()) == Some(name))
}

pub(super) fn start(
    check: &mut Checker,
    path: &Path,
    starter: &Starter<'_>,
    scope: &Scope<'_>,
) -> Start {
    let name = starter.name;
    if starter.on.is_some() && starter.button.is_none() {
        let message = "`on` needs a `button`";
        check.report(Finding::new(Code::NoEffect, path.key("on"), message));
    }
    match (starter.button, starter.clock) {
        (None, None) if starter.by_state => Start::Entry,
        (None, None) if scope.told => Start::Told,
        (Some(button), None) => {
            let button = scope.button(check, path.key("button"), button);
            match starter.on.unwrap_or_default() {
                Trigger::Press => Start::Press(button),
                Trigger::Hold => Start::Hold(button),
            }
        }
        (None, Some(clock)) => {
            let base = path.key("clock");
            let mut ticks = |key: &'static str, length: Option<Duration>| {
                length.map(|length| check.duration(base.key(key), length))
            };
            let every = ticks("every", clock.every).unwrap_or(Ticks(1));
            let first = ticks("first", clock.first).unwrap_or(every);
            if every == Ticks(0) {
                let message = "`every` of a clock must be above zero";
                check.report(Finding::new(Code::OutOfRange, base.key("every"), message));
            }
            Start::Clock { first, every }
        }
        (button, _) => {
            let message = match button {
                Some(_) => format!("`{name}` has both a `button` and a `clock`"),
                None => format!("nothing starts `{name}`"),
            };
            let code = if button.is_some() {
                Code::Contradiction
            } else {
                Code::MissingKey
            };
            check.report(
                Finding::new(code, path.clone(), message)
                    .at_key()
                    .help(format!(
                        "give it a `button`, or a `clock = {{ every = \"2s\" }}`, or name it in the `{}` \
                         of a state",
                        starter.list
                    )),
            );
            let path = path.key("button");
            let button = button.map(|button| scope.button(check, path, button));
            Start::Press(button.unwrap_or(ButtonIx(0)))
        }
    }
}

pub(super) fn box_set(
    check: &mut Checker,
    base: &Path,
    list: &[String],
    boxes: &Boxes<'_>,
) -> BoxSet {
    let mut set = BoxSet::default();
    for (nth, name) in list.iter().enumerate() {
        let bits = |plans: &[BoxPlan]| {
            plans
                .iter()
                .position(|plan| plan.name == *name)
                .map_or(0, |index| 1u64 << index)
        };
        let (hit, hurt) = (bits(boxes.hit), bits(boxes.hurt));
        if hit | hurt == 0 {
            let all = boxes.hit.iter().chain(boxes.hurt);
            let known: Vec<&str> = all.map(|plan| plan.name.as_str()).collect();
            check.unknown(base.index(nth), "hitbox or hurtbox", name, known);
        }
        set = set.with(BoxSet { hit, hurt });
    }
    set
}

fn cancel(check: &mut Checker, base: &Path, list: &[String], kind: &Kind) -> CancelPlan {
    let mut plan = CancelPlan::default();
    for (nth, name) in list.iter().enumerate() {
        if let Some(index) = kind.attacks.keys().position(|known| known == name) {
            plan.attacks |= 1 << index.min(63);
        } else if name == "guard" && kind.guard.is_some() {
            plan.guard = true;
        } else if name == "jump" && kind.walk.as_ref().is_some_and(|walk| walk.jump.is_some()) {
            plan.jump = true;
        } else {
            let attacks = kind.attacks.keys().map(String::as_str);
            let known: Vec<&str> = attacks.chain(["guard", "jump"]).collect();
            check.unknown(
                base.index(nth),
                "attack of this kind, guard or jump,",
                name,
                known,
            );
        }
    }
    plan
}

/// Two attacks that one button starts from nothing: only the first could ever start.
fn shared_buttons(check: &mut Checker, base: &Path, kind: &Kind, plans: &[AttackPlan]) {
    let names: Vec<&String> = kind.attacks.keys().collect();
    let button = |plan: &AttackPlan| match plan.starts {
        Start::Press(button) | Start::Hold(button) if !plan.followup => Some(button),
        _ => None,
    };
    for (nth, plan) in plans.iter().enumerate() {
        let first = plans[..nth]
            .iter()
            .position(|earlier| button(plan).is_some() && button(earlier) == button(plan));
        if let Some(first) = first {
            let message = format!(
                "`{}` and `{}` start with the same button, so the second never does",
                names[first], names[nth]
            );
            check.report(
                Finding::new(
                    Code::Contradiction,
                    base.named(names[nth].as_str()),
                    message,
                )
                .at_key()
                .help("use another button, or `followup = true` if it only follows another attack"),
            );
        }
    }
}
