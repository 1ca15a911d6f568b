//! What comes from outside in a drill: effects that are no hits, and poses of actors that something else moves.

use super::point::Point;
use super::rule::{Damage, Effect};
use crate::geometry::Facing;
use crate::limits;
use crate::syntax::Table;
use crate::time::Duration;

/// An effect from outside. It is no hit: no gate, guard or window is asked.
///
/// ```
/// use tin_crown::encounter::{Apply, Effect};
///
/// // A falling chandelier that only the game knows of.
/// let apply = Apply::new("1.5s".parse()?, "porter", Effect::damage_of(2.0));
/// assert_eq!(apply.whom, "porter");
/// # Ok::<(), tin_crown::time::DurationError>(())
/// ```
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(no_builder, most = limits::POSES)]
pub struct Apply {
    /// When.
    #[key(required)]
    pub when: Duration,
    /// The actor that it acts on, placed or launched.
    #[key(required, text = "id")]
    pub whom: String,
    /// The actor to whose credit it is, and away from whom it pushes.
    #[key(text = "id", absent = "nobody")]
    pub who: Option<String>,
    /// What it does to whom.
    #[key(flatten)]
    pub does: Effect,
}

/// Where an actor that something else moves stands from a tick on.
///
/// ```
/// use tin_crown::encounter::PoseInput;
///
/// let pose = PoseInput::new("0.5s".parse()?, "porter", [120.0, 30.0]);
/// assert_eq!(pose.stance.at.at, [120.0, 30.0]);
/// # Ok::<(), tin_crown::time::DurationError>(())
/// ```
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(no_builder, most = limits::POSES)]
pub struct PoseInput {
    /// When.
    #[key(required)]
    pub when: Duration,
    /// The actor, which no longer moves by itself from its first pose on.
    #[key(required, text = "id")]
    pub who: String,
    /// Where it stands, and how.
    #[key(flatten)]
    pub stance: Stance,
}

/// Where an actor that something else moves stands, and how.
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(no_builder)]
pub struct Stance {
    /// Where it stands at the end of that tick. It comes there in a straight line.
    #[key(required, range = limits::COORDINATE)]
    pub at: Point,
    /// Which way it faces.
    #[key(absent = "as before")]
    pub facing: Option<Facing>,
    /// Whether it comes there without a way, as a first pose does.
    #[key(default = "false", flag)]
    pub jump: bool,
    /// Its velocity, for gates and aims.
    #[key(range = limits::VELOCITY, absent = "its way over the tick")]
    pub velocity: Option<Point>,
    /// Whether it stands on something.
    #[key(default = "false", flag)]
    pub grounded: bool,
    /// The state that it is in.
    #[key(text = "state", absent = "its own transitions run")]
    pub state: Option<String>,
    /// The attack that it is in, or `none`.
    #[key(text = "attack", absent = "its own attacks start")]
    pub attack: Option<String>,
    /// Which of its attacks that is: another number is another attack of that name.
    #[key(absent = "the same as long as it goes on")]
    pub count: Option<u32>,
}

impl Apply {
    /// An effect on an actor.
    pub fn new(when: Duration, whom: impl Into<String>, does: Effect) -> Apply {
        Apply {
            when,
            whom: whom.into(),
            who: None,
            does,
        }
    }

    /// The same to an actor's credit.
    #[must_use]
    pub fn by(mut self, who: impl Into<String>) -> Apply {
        self.who = Some(who.into());
        self
    }
}

impl PoseInput {
    /// An actor that stands there.
    pub fn new(when: Duration, who: impl Into<String>, at: impl Into<Point>) -> PoseInput {
        PoseInput {
            when,
            who: who.into(),
            stance: Stance {
                at: at.into(),
                ..Stance::default()
            },
        }
    }
}

impl Effect {
    /// So much damage, from health unless it says otherwise.
    pub fn damage_of(damage: impl Into<Damage>) -> Effect {
        Effect {
            damage: Some(damage.into()),
            ..Effect::default()
        }
    }

    /// So much given, to health unless it says otherwise.
    pub fn heal_of(heal: impl Into<Damage>) -> Effect {
        Effect {
            heal: Some(heal.into()),
            ..Effect::default()
        }
    }
}
