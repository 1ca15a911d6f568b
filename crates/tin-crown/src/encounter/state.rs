//! States: what an actor does by itself, and what makes it do something else.

use std::collections::BTreeMap;

use super::chance::Chance;
use super::gate::Level;
use super::motion::Motion;
use super::read::{At, Fields, Read, laid_over};
use crate::time::Duration;

/// One of the states of an actor with a mind, as written.
///
/// ```
/// use tin_crown::{Condition, Kind, SensorSpec, StateSpec, Transition, BoxSpec};
///
/// let jack = Kind::new()
///     .sensor("view", SensorSpec::ray([0.0, 0.0], [90.0, 0.0], "#hero"))
///     .state("shut", StateSpec::new().go(Transition::new("open", Condition::sees("view"))))
///     .state("open", StateSpec::new().live("head"))
///     .hitbox("head", BoxSpec::circle(6.0))
///     .starts("shut");
/// assert_eq!(jack.states.len(), 2);
/// ```
#[derive(Clone, Debug, Default, PartialEq)]
pub struct StateSpec {
    /// How it moves by itself; as the kind says when absent.
    pub motion: Option<Motion>,
    /// Names of boxes that are live.
    pub live: Option<Vec<String>>,
    /// Names of attacks that may start.
    pub attacks: Option<Vec<String>>,
    /// Names of launchers that may be set off.
    pub launchers: Option<Vec<String>>,
    /// Whether its guard is up.
    pub guard: Option<bool>,
    /// Where it appears anew when it enters.
    pub teleport: Option<Chance<[f64; 2]>>,
    /// Whether it is gone when it enters, leaving behind what it leaves.
    pub ends: Option<bool>,
    /// What is announced when it enters.
    pub cue: Option<String>,
    /// What leads to other states, in the order in which it is tried.
    pub go: Option<Vec<Transition>>,
}

/// What leads from one state to another, as written.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Transition {
    /// The other state.
    pub to: String,
    /// What must be so.
    pub when: When,
    /// How long after it was taken it cannot be taken again.
    pub cooldown: Option<Duration>,
    /// Whether it is taken once in a life only.
    pub once: bool,
}

/// A condition, or the name of one that the kind declares.
#[derive(Clone, Debug, PartialEq)]
pub enum When {
    /// One of the kind's conditions.
    Named(String),
    /// A condition of its own.
    Inline(Box<Condition>),
}

/// What must be so for a transition, as written. All that is named must hold.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Condition {
    /// It has been in its state for so long.
    pub after: Option<Duration>,
    /// Its sensor notices somebody.
    pub sees: Option<String>,
    /// Its sensor notices nobody.
    pub loses: Option<String>,
    /// For how long, without a break.
    pub lasting: Option<Duration>,
    /// How near at least, in units.
    pub within: Option<f64>,
    /// It has come to stand on something since it last looked.
    pub lands: Option<bool>,
    /// Whether it stands on something.
    pub grounded: Option<bool>,
    /// It is where its motion leads: at the end of a path or patrol, at its stop distance, home.
    pub arrives: Option<bool>,
    /// A hit landed on it since it last looked.
    pub hurt: Option<bool>,
    /// Between what its meters lie.
    pub meters: BTreeMap<String, Level>,
    /// What must be so of another.
    pub other: Option<Other>,
}

/// What must be so of another actor, as written.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Other {
    /// A selector: it is enough that one of them is so.
    pub who: String,
    /// It is in this state.
    pub state: Option<String>,
    /// Its sensor of this name notices somebody.
    pub sees: Option<String>,
}

impl Default for When {
    fn default() -> When {
        When::Inline(Box::default())
    }
}

impl From<Condition> for When {
    fn from(condition: Condition) -> When {
        When::Inline(Box::new(condition))
    }
}

impl From<&str> for When {
    fn from(name: &str) -> When {
        When::Named(name.to_owned())
    }
}

impl Transition {
    /// Leads to a state when a condition holds.
    pub fn new(to: impl Into<String>, when: impl Into<When>) -> Transition {
        Transition {
            to: to.into(),
            when: when.into(),
            ..Transition::default()
        }
    }
}

impl Condition {
    /// It has been in its state for so long.
    pub fn after(length: Duration) -> Condition {
        Condition {
            after: Some(length),
            ..Condition::default()
        }
    }

    /// Its sensor notices somebody.
    pub fn sees(sensor: impl Into<String>) -> Condition {
        Condition {
            sees: Some(sensor.into()),
            ..Condition::default()
        }
    }
}

impl StateSpec {
    /// A state of which nothing is said yet.
    pub fn new() -> StateSpec {
        StateSpec::default()
    }

    /// Sets how it moves by itself.
    #[must_use]
    pub fn motion(mut self, motion: Motion) -> StateSpec {
        self.motion = Some(motion);
        self
    }

    /// Makes a box live.
    #[must_use]
    pub fn live(mut self, name: impl Into<String>) -> StateSpec {
        self.live.get_or_insert_default().push(name.into());
        self
    }

    /// Lets a launcher be set off.
    #[must_use]
    pub fn launcher(mut self, name: impl Into<String>) -> StateSpec {
        self.launchers.get_or_insert_default().push(name.into());
        self
    }

    /// Lets it be gone when it enters, leaving behind what it leaves.
    #[must_use]
    pub fn ends(mut self) -> StateSpec {
        self.ends = Some(true);
        self
    }

    /// Adds what leads to another state.
    #[must_use]
    pub fn go(mut self, transition: Transition) -> StateSpec {
        self.go.get_or_insert_default().push(transition);
        self
    }

    pub(crate) fn over(&self, base: &StateSpec) -> StateSpec {
        let motion = match (&self.motion, &base.motion) {
            (Some(own), Some(base)) => Some(own.over(base)),
            (own, base) => own.clone().or_else(|| base.clone()),
        };
        StateSpec {
            motion,
            ..laid_over!(
                self,
                base,
                StateSpec {
                    motion,
                    live,
                    attacks,
                    launchers,
                    guard,
                    teleport,
                    ends,
                    cue,
                    go,
                }
            )
        }
    }
}

impl Read for StateSpec {
    fn read(at: At<'_>) -> Option<StateSpec> {
        at.table(|fields| {
            Some(StateSpec {
                motion: fields.get("motion"),
                live: fields.get("live"),
                attacks: fields.get("attacks"),
                launchers: fields.get("launchers"),
                guard: fields.get("guard"),
                teleport: fields.get("teleport"),
                ends: fields.get("ends"),
                cue: fields.get("cue"),
                go: fields.get("go"),
            })
        })
    }
}

impl Read for Transition {
    fn read(at: At<'_>) -> Option<Transition> {
        at.table(|fields| {
            Some(Transition {
                to: fields.need("to").unwrap_or_default(),
                when: fields.need("when").unwrap_or_default(),
                cooldown: fields.get("cooldown"),
                once: fields.get("once").unwrap_or(false),
            })
        })
    }
}

impl Read for When {
    fn read(at: At<'_>) -> Option<When> {
        match at.text() {
            Some(name) => Some(When::Named(name.to_owned())),
            None => Condition::read(at).map(When::from),
        }
    }
}

impl Read for Condition {
    fn read(at: At<'_>) -> Option<Condition> {
        at.table(|fields: &mut Fields<'_>| {
            let condition = Condition {
                after: fields.get("after"),
                sees: fields.get("sees"),
                loses: fields.get("loses"),
                lasting: fields.get("for"),
                within: fields.get("within"),
                lands: fields.get("lands"),
                grounded: fields.get("grounded"),
                arrives: fields.get("arrives"),
                hurt: fields.get("hurt"),
                meters: fields.get("meter").unwrap_or_default(),
                other: fields.get("other"),
            };
            fields.clash("sees", "loses");
            Some(condition)
        })
    }
}

impl Read for Other {
    fn read(at: At<'_>) -> Option<Other> {
        at.table(|fields| {
            let other = Other {
                who: fields.need("who").unwrap_or_default(),
                state: fields.get("state"),
                sees: fields.get("sees"),
            };
            fields.miss(&["state", "sees"]);
            fields.clash("state", "sees");
            Some(other)
        })
    }
}
