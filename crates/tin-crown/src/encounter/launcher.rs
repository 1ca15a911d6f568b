//! Launchers: what an actor shoots, throws, drops or lets loose.

use super::Point;
use super::attack::{Clock, Trigger};
use super::chance::Chance;
use crate::limits;
use crate::syntax::{Choice, Table};
use crate::time::Duration;

/// What an actor launches, and when. What it launches is called `maker.launcher.1`, `.2`…
///
/// ```
/// use tin_crown::encounter::{Ammo};
/// use tin_crown::{Kind, LauncherSpec, MeterSpec};
///
/// let pop_gun = LauncherSpec::new("cork", 240.0)
///     .button("shoot")
///     .muzzle(12.0, 2.0)
///     .ammo("corks", 1.0);
/// let porter = Kind::new().meter("corks", MeterSpec::new(8.0)).launcher("pop-gun", pop_gun);
/// assert_eq!(porter.launchers.len(), 1);
/// ```
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(parts)]
pub struct LauncherSpec {
    /// The kind of what it launches.
    #[key(due, text = "kind")]
    pub launches: Option<String>,
    /// The button that sets it off.
    #[key(text = "button", absent = "this, `clock`, or a state")]
    pub button: Option<String>,
    /// When the button sets it off.
    #[key(default = "\"press\"")]
    pub on: Option<Trigger>,
    /// The clock that sets it off.
    #[key(absent = "this, `button`, or a state", whole, set = "")]
    pub clock: Option<Clock>,
    /// Where it sets things down: an offset from its owner's position, facing right.
    #[key(range = limits::COORDINATE, default = "[0, 0]", set = "")]
    pub muzzle: Option<Point>,
    /// Where it points.
    #[key(default = "\"facing\"", whole)]
    pub aim: Option<Aim>,
    /// How fast it sends things off.
    #[key(range = limits::SPEED, default = "0")]
    pub speed: Option<Chance<f64>>,
    /// How fast upward, where the arena has heights; an aim at another goes there by itself.
    #[key(range = limits::VELOCITY, default = "0")]
    pub rise: Option<f64>,
    /// How far it may be off either way, by chance, in degrees.
    #[key(range = limits::ARC, default = "0")]
    pub spread: Option<f64>,
    /// How many it launches at once.
    #[key(range = limits::AT_ONCE, default = "1")]
    pub count: Option<u32>,
    /// The angle between the first and the last of several.
    #[key(range = limits::ARC, default = "0")]
    pub fan: Option<f64>,
    /// Several launches, one after the other.
    #[key(absent = "one", whole, set = "")]
    pub volley: Option<Volley>,
    /// How long after a launch, or the last of a volley, it cannot be set off again.
    #[key(default = "\"0t\"")]
    pub cooldown: Option<Duration>,
    /// What each launch costs.
    #[key(absent = "nothing", whole, set = "")]
    pub ammo: Option<Ammo>,
    /// How many of its things may exist at once.
    #[key(absent = "any number")]
    pub in_flight: Option<u32>,
    /// Whether what it launches is one attack for its whole flight: it hits `flight.targets` and is
    /// gone.
    #[key(default = "true")]
    pub shot: Option<bool>,
    /// The cue given with each launch.
    #[key(text = "cue", absent = "none")]
    pub cue: Option<String>,
    /// The cue given when it cannot pay.
    #[key(text = "cue", absent = "none")]
    pub dry: Option<String>,
}

/// Where a launcher points.
#[derive(Clone, Debug, PartialEq, Choice)]
#[non_exhaustive]
pub enum Aim {
    /// The way its owner faces.
    Facing,
    /// So many degrees from the way its owner faces, positive toward up.
    #[choice(range = limits::ANGLE)]
    Angle(f64),
    /// At the nearest of these as they stand; `"noticed"`: whom its owner noticed.
    #[choice(text = "selector")]
    At(String),
    /// Where the nearest of these will be when the shot gets there if they go on as they do; where
    /// they stand if it never would.
    #[choice(text = "selector")]
    Lead(String),
}

/// Several launches, one after the other.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Table)]
pub struct Volley {
    /// How many.
    #[key(required, range = limits::AT_ONCE)]
    pub shots: Option<u32>,
    /// From one to the next.
    #[key(required)]
    pub every: Option<Duration>,
}

/// What a launch costs.
#[derive(Clone, Debug, Default, PartialEq, Table)]
pub struct Ammo {
    /// The meter that pays.
    #[key(required, text = "meter")]
    pub meter: String,
    /// How much.
    #[key(amount, default = "1")]
    pub cost: Option<f64>,
}

impl LauncherSpec {
    /// Launches a kind at so many units a second, when something sets it off.
    pub fn new(launches: impl Into<String>, speed: impl Into<Chance<f64>>) -> LauncherSpec {
        LauncherSpec {
            launches: Some(launches.into()),
            speed: Some(speed.into()),
            ..LauncherSpec::default()
        }
    }

    /// Lets a clock set it off.
    #[must_use]
    pub fn clock(mut self, first: Duration, every: Duration) -> LauncherSpec {
        self.clock = Some(Clock {
            first: Some(first),
            every: Some(every),
        });
        self
    }

    /// Sets where it sets things down, facing right.
    #[must_use]
    pub fn muzzle(mut self, x: f64, y: f64) -> LauncherSpec {
        self.muzzle = Some([x, y].into());
        self
    }

    /// Lets each launch cost something.
    #[must_use]
    pub fn ammo(mut self, meter: impl Into<String>, cost: f64) -> LauncherSpec {
        self.ammo = Some(Ammo {
            meter: meter.into(),
            cost: Some(cost),
        });
        self
    }
}
