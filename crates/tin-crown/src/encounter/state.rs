//! States: what an actor does by itself, and what makes it do something else.

use super::Point;
use super::chance::Chance;
use super::faces::Faces;
use super::gate::Level;
use super::motion::Motion;
use crate::finding::Step;
use crate::limits;
use crate::map::Map;
use crate::syntax::set::{self, Missed};
use crate::syntax::{At, Shape, Syntax, Table};
use crate::text::Value;
use crate::time::Duration;

/// What a kind has, its states do not.
fn of_the_kind(key: &str) -> Option<String> {
    let known = <super::Kind as Table>::keys();
    let known = known.iter().any(|known| known.name == key);
    known.then(|| format!("`{key}` is a key of the kind: it is the same in all states"))
}

/// One of the states of an actor.
///
/// ```
/// use tin_crown::encounter::{Condition, Transition};
/// use tin_crown::{Kind, SensorSpec, StateSpec, BoxSpec};
///
/// let jack = Kind::new()
///     .sensor("view", SensorSpec::ray([0.0, 0.0], [90.0, 0.0], "#hero"))
///     .state("shut", StateSpec::new().go(Transition::new("open", Condition::sees("view"))))
///     .state("open", StateSpec::new().live("head"))
///     .hitbox("head", BoxSpec::circle(6.0))
///     .starts("shut");
/// assert_eq!(jack.states.len(), 2);
/// ```
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(parts, misplaced = of_the_kind)]
pub struct StateSpec {
    /// How it moves by itself; it begins anew with the state.
    #[key(absent = "the kind's")]
    pub motion: Option<Motion>,
    /// What turns it, when it rotates.
    #[key(absent = "the kind's")]
    pub faces: Option<Faces>,
    /// The boxes that are live. A box that any state or attack names is off otherwise.
    #[key(text = "box", absent = "none", set = "live")]
    pub live: Option<Vec<String>>,
    /// The attacks that may start. Named by no state, an attack starts in all.
    #[key(text = "attack", absent = "none", set = "attack")]
    pub attacks: Option<Vec<String>>,
    /// The launchers that may be set off. Named by no state, a launcher acts in all.
    #[key(text = "launcher", absent = "none", set = "launcher")]
    pub launchers: Option<Vec<String>>,
    /// Whether its guard is up.
    #[key(default = "false")]
    pub guard: Option<bool>,
    /// Where it appears when it enters.
    #[key(range = limits::COORDINATE, absent = "where it is")]
    pub teleport: Option<Chance<Point>>,
    /// Whether it is gone when it enters, leaving behind what it leaves.
    #[key(default = "false", flag)]
    pub ends: Option<bool>,
    /// The cue given when it enters.
    #[key(text = "cue", absent = "none")]
    pub cue: Option<String>,
    /// The ways out, in order: the first whose condition holds is taken.
    #[key(absent = "none", set = "go")]
    pub go: Option<Vec<Transition>>,
}

/// A way from one state to another.
#[derive(Clone, Debug, Default, PartialEq, Table)]
pub struct Transition {
    /// The other state.
    #[key(required, text = "state", set = "")]
    pub to: String,
    /// What must hold: a condition, or the name of one under `condition`.
    #[key(required, set = "")]
    pub when: When,
    /// How long after it was taken it cannot be taken again.
    #[key(default = "\"0t\"")]
    pub cooldown: Option<Duration>,
    /// Whether it is taken only once in a life.
    #[key(default = "false", flag)]
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

/// What must hold for a transition: all that is named.
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(at_most_one("sees", "loses"), no_builder)]
pub struct Condition {
    /// It has been in its state for so long.
    #[key(absent = "any")]
    pub after: Option<Duration>,
    /// This sensor notices an actor.
    #[key(text = "sensor", absent = "any")]
    pub sees: Option<String>,
    /// This sensor notices no actor.
    #[key(text = "sensor", absent = "any")]
    pub loses: Option<String>,
    /// For so long without a break.
    #[key(name = "for", default = "\"0t\"")]
    pub lasting: Option<Duration>,
    /// An actor seen is that near.
    #[key(range = limits::LENGTH, absent = "any")]
    pub within: Option<f64>,
    /// It has come to stand on something since it last looked.
    #[key(absent = "any")]
    pub lands: Option<bool>,
    /// Whether it stands on something.
    #[key(absent = "any")]
    pub grounded: Option<bool>,
    /// It is path of its motion: the end of a path that stays, an end of a patrol, its stop
    /// distance, home.
    #[key(absent = "any")]
    pub arrives: Option<bool>,
    /// A hit landed on it since it last looked.
    #[key(absent = "any")]
    pub hurt: Option<bool>,
    /// What one of its meters holds.
    #[key(name = "meter", absent = "any")]
    pub meters: Map<String, Level>,
    /// What must hold of another actor.
    #[key(absent = "nothing")]
    pub other: Option<Other>,
}

/// What must hold of another actor; one of those who are named is enough.
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(one_of("state", "sees"))]
pub struct Other {
    /// Whom.
    #[key(required, text = "selector")]
    pub who: String,
    /// The state that it is in.
    #[key(text = "state")]
    pub state: Option<String>,
    /// Its sensor that notices an actor.
    #[key(text = "sensor")]
    pub sees: Option<String>,
}

impl Default for When {
    fn default() -> When {
        When::Inline(Box::default())
    }
}

/// The name of a condition, or a condition.
impl Syntax for When {
    fn read(at: At<'_>) -> Option<When> {
        match at.text() {
            Some(name) => Some(When::Named(name.to_owned())),
            None => Condition::read(at).map(When::from),
        }
    }

    fn write(&self) -> Value {
        match self {
            When::Named(name) => name.write(),
            When::Inline(condition) => condition.write(),
        }
    }

    fn shape() -> Shape {
        Shape::Any(vec![Shape::Text("condition"), Condition::shape()])
    }

    fn set(&mut self, steps: &[Step], at: At<'_>) -> Result<(), Missed> {
        match self {
            When::Inline(condition) if !steps.is_empty() => condition.set(steps, at),
            _ => set::whole(self, steps, at),
        }
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

    /// Its sensor notices an actor.
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
}
