//! How actors move. The formulas are in `docs/ticks.md`.

use serde::{Deserialize, Serialize};

use super::Point;
use super::chance::Chance;
use crate::limits;
use crate::syntax::{Choice, Table, Words};
use crate::time::Duration;

/// What moves an actor that nobody steers.
#[derive(Clone, Debug, Default, PartialEq, Choice)]
#[non_exhaustive]
pub enum Motion {
    /// It stays where it is.
    #[default]
    Still,
    /// It goes on as it was sent off.
    Coast,
    /// To and fro at a constant speed.
    Patrol(Patrol),
    /// From point to point, by a clock.
    Path(Route),
    /// Chases an actor. A chaser that falls moves along the ground only.
    Chase(Chase),
    /// To and fro about a point, as a sine.
    Hover(Hover),
    /// As a pendulum that hangs above where it was placed.
    Swing(Swing),
    /// Stays at an offset from an actor.
    Follow(Follow),
    /// Straight back to where it was placed.
    Return(Return),
    /// Down: the arena's gravity acts on it.
    #[choice(word)]
    Fall(Fall),
}

/// To and fro at a constant speed. It sets out the way it faces (along y: up), and turns at the ends,
/// and where a solid stops it.
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(parts)]
pub struct Patrol {
    /// Along which axis.
    #[key(default = "\"x\"")]
    pub axis: Option<Axis>,
    /// The two coordinates it turns at, in either order.
    #[key(range = limits::COORDINATE, absent = "none")]
    pub between: Option<[f64; 2]>,
    /// Its speed.
    #[key(due, range = limits::SPEED)]
    pub speed: Option<Chance<f64>>,
    /// Whether it also turns before its body would walk over an edge.
    #[key(default = "false")]
    pub turns_at_ledges: Option<bool>,
}

/// Down, faster and faster.
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(parts)]
pub struct Fall {
    /// The greatest speed downward.
    #[key(range = limits::SPEED, absent = "no limit")]
    pub most: Option<f64>,
}

/// From point to point.
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(parts)]
pub struct Route {
    /// When it is where, in order.
    #[key(due)]
    pub keys: Option<Vec<RouteKey>>,
    /// What comes after the last.
    #[key(default = "\"stays\"")]
    pub then: Option<Then>,
    /// How fast it returns to its path after a push.
    #[key(range = limits::SPEED, absent = "as its fastest leg on average")]
    pub speed: Option<f64>,
}

/// A point of a path.
#[derive(Clone, Debug, Default, PartialEq, Table)]
pub struct RouteKey {
    /// How long after the beginning it is there.
    #[key(required)]
    pub when: Duration,
    /// An offset from where it was placed (or appeared, or its state began), facing right.
    #[key(required, range = limits::COORDINATE)]
    pub at: Point,
    /// How long it rests there.
    #[key(default = "\"0t\"")]
    pub rest: Option<Duration>,
    /// How it comes there.
    #[key(default = "\"linear\"")]
    pub ease: Option<Ease>,
}

/// How something gets from one point of a path to the next. With `s` the share of the time:
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Words)]
#[serde(rename_all = "kebab-case")]
pub enum Ease {
    /// `s`.
    #[default]
    Linear,
    /// `s²`: slowly at first.
    In,
    /// `1 - (1 - s)²`: slowly at last.
    Out,
    /// `s² (3 - 2 s)`: slowly at first and at last.
    Both,
}

/// What comes after the last point of a path.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Words)]
#[serde(rename_all = "kebab-case")]
pub enum Then {
    /// It stays there.
    #[default]
    Stays,
    /// It begins anew: the last point should be the first.
    Loops,
    /// It goes back the way it came, and so on.
    Returns,
}

/// Chases an actor.
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(parts)]
pub struct Chase {
    /// Whom: the nearest of them; or `"noticed"`, whom it noticed.
    #[key(due, text = "selector")]
    pub whom: Option<String>,
    /// Its speed.
    #[key(due, range = limits::SPEED)]
    pub speed: Option<Chance<f64>>,
    /// How fast it can turn.
    #[key(range = limits::TURN, absent = "at once")]
    pub turn: Option<f64>,
    /// How near it comes.
    #[key(range = limits::LENGTH, default = "0")]
    pub stop_at: Option<f64>,
}

/// To and fro about a point.
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(parts)]
pub struct Hover {
    /// How far it goes to one side.
    #[key(due, range = limits::COORDINATE)]
    pub size: Option<Point>,
    /// From one extreme back to it.
    #[key(due)]
    pub period: Option<Duration>,
    /// How far into the period it begins.
    #[key(default = "\"0t\"")]
    pub phase: Option<Duration>,
    /// How fast it returns to its line after a push.
    #[key(range = limits::SPEED, absent = "as fast as it ever hovers")]
    pub speed: Option<f64>,
}

/// As a pendulum that hangs above where it was placed.
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(parts)]
pub struct Swing {
    /// From where it hangs to the actor.
    #[key(due, range = limits::LENGTH)]
    pub length: Option<f64>,
    /// How far it swings to either side.
    #[key(due, range = limits::ANGLE)]
    pub arc: Option<f64>,
    /// There and back.
    #[key(due)]
    pub period: Option<Duration>,
    /// How far into the period it begins.
    #[key(default = "\"0t\"")]
    pub phase: Option<Duration>,
}

/// Stays at an offset from an actor.
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(parts)]
pub struct Follow {
    /// Whom: the nearest of them.
    #[key(text = "selector", absent = "its maker")]
    pub whom: Option<String>,
    /// The offset, facing right: it is mirrored as the other turns.
    #[key(range = limits::COORDINATE, default = "[0, 0]")]
    pub offset: Option<Point>,
    /// How fast it comes after.
    #[key(range = limits::SPEED, absent = "at once")]
    pub speed: Option<f64>,
}

/// Back to where it was placed.
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(parts)]
pub struct Return {
    /// Its speed.
    #[key(due, range = limits::SPEED)]
    pub speed: Option<f64>,
}

/// One of the two axes.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Words, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Axis {
    /// Sideways.
    #[default]
    X,
    /// Up and down.
    Y,
}

/// An actor driven by the buttons `left`, `right`, `jump`, and `up` and `down` where there is no
/// gravity.
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(parts)]
pub struct Walk {
    /// Top speed, the same across as along.
    #[key(due, range = limits::SPEED)]
    pub speed: Option<f64>,
    /// Toward the wanted speed.
    #[key(range = limits::ACCELERATION, absent = "at once")]
    pub accel: Option<f64>,
    /// The same while no direction is held.
    #[key(range = limits::ACCELERATION, absent = "`accel`")]
    pub brake: Option<f64>,
    /// Of who rotates: `left` and `right` turn it so fast, `up` and `down` drive it forward and back.
    #[key(range = limits::TURN, absent = "it goes where the buttons point")]
    pub turn: Option<f64>,
    /// Upward speed of a jump; only from the ground, on press.
    #[key(range = limits::SPEED, absent = "no jump")]
    pub jump: Option<f64>,
}

impl Motion {
    /// To and fro between two x coordinates, `speed` units a second.
    pub fn patrol(from: f64, to: f64, speed: f64) -> Motion {
        Motion::Patrol(Patrol {
            between: Some([from, to]),
            speed: Some(speed.into()),
            ..Patrol::default()
        })
    }

    /// After the nearest of those a selector names, `speed` units a second.
    pub fn chase(whom: impl Into<String>, speed: f64) -> Motion {
        Motion::Chase(Chase {
            whom: Some(whom.into()),
            speed: Some(speed.into()),
            ..Chase::default()
        })
    }
}

impl Walk {
    /// A walk at `speed` units a second, at once and without a jump.
    pub fn new(speed: f64) -> Walk {
        Walk {
            speed: Some(speed),
            ..Walk::default()
        }
    }
}
