//! Launchers: what an actor shoots, throws, drops or lets loose.

use super::attack::{Clock, Trigger};
use super::chance::Chance;
use super::read::{At, Read, laid_over};
use crate::time::Duration;

/// What an actor launches, and when, as written.
///
/// ```
/// use tin_crown::{Ammo, Kind, LauncherSpec, MeterSpec};
///
/// let pop_gun = LauncherSpec::new("cork", 240.0)
///     .button("shoot")
///     .muzzle(12.0, 2.0)
///     .ammo("corks", 1.0);
/// let porter = Kind::new().meter("corks", MeterSpec::new(8.0)).launcher("pop-gun", pop_gun);
/// assert_eq!(porter.launchers.len(), 1);
/// ```
#[derive(Clone, Debug, Default, PartialEq)]
pub struct LauncherSpec {
    /// The kind of what it launches.
    pub launches: Option<String>,
    /// The button that sets it off.
    pub button: Option<String>,
    /// Whether the button does so when it goes down, or whenever it is down; press when absent.
    pub on: Option<Trigger>,
    /// The clock that sets it off.
    pub clock: Option<Clock>,
    /// Where it sets things down: an offset from its owner's position, facing right.
    pub muzzle: Option<[f64; 2]>,
    /// Where it points; the way its owner faces when absent.
    pub aim: Option<Aim>,
    /// How fast it sends things off, in units a second; 0 when absent.
    pub speed: Option<Chance<f64>>,
    /// How many degrees either way it may be off, by chance.
    pub spread: Option<f64>,
    /// How many it launches at once; 1 when absent.
    pub count: Option<u32>,
    /// The angle between the first and the last of several, in degrees.
    pub fan: Option<f64>,
    /// How often it launches once it is set off.
    pub volley: Option<Volley>,
    /// How long after a launch (or the last of a volley) it cannot be set off again.
    pub cooldown: Option<Duration>,
    /// What a launch costs.
    pub ammo: Option<Ammo>,
    /// How many of its things may be there at once.
    pub in_flight: Option<u32>,
    /// Whether what it launches is a shot: one attack for its whole flight; yes when absent.
    pub shot: Option<bool>,
    /// What is announced with each launch.
    pub cue: Option<String>,
    /// What is announced when it cannot pay.
    pub dry: Option<String>,
}

/// Where a launcher points, as written.
#[derive(Clone, Debug, PartialEq)]
pub enum Aim {
    /// The way its owner faces.
    Facing,
    /// So many degrees from the way its owner faces, positive toward up.
    Angle(f64),
    /// At the nearest of those a selector names, or whom its owner noticed.
    At(String),
    /// Where the nearest of them will be when the shot gets there, if it goes on as it does.
    Lead(String),
}

/// Several launches one after the other, as written.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Volley {
    /// How many.
    pub shots: Option<u32>,
    /// From one to the next.
    pub every: Option<Duration>,
}

/// What a launch costs, as written.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Ammo {
    /// The meter that pays.
    pub meter: String,
    /// How much; 1 when absent.
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

    /// Lets a press of a button set it off.
    #[must_use]
    pub fn button(mut self, button: impl Into<String>) -> LauncherSpec {
        self.button = Some(button.into());
        self
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
        self.muzzle = Some([x, y]);
        self
    }

    /// Sets where it points.
    #[must_use]
    pub fn aim(mut self, aim: Aim) -> LauncherSpec {
        self.aim = Some(aim);
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

    /// Sets how long after a launch it cannot be set off again.
    #[must_use]
    pub fn cooldown(mut self, length: Duration) -> LauncherSpec {
        self.cooldown = Some(length);
        self
    }

    pub(crate) fn over(&self, base: &LauncherSpec) -> LauncherSpec {
        laid_over!(
            self,
            base,
            LauncherSpec {
                launches,
                button,
                on,
                clock,
                muzzle,
                aim,
                speed,
                spread,
                count,
                fan,
                volley,
                cooldown,
                ammo,
                in_flight,
                shot,
                cue,
                dry,
            }
        )
    }
}

impl Read for LauncherSpec {
    fn read(at: At<'_>) -> Option<LauncherSpec> {
        at.table(|fields| {
            Some(LauncherSpec {
                launches: fields.get("launches"),
                button: fields.get("button"),
                on: fields.get("on"),
                clock: fields.get("clock"),
                muzzle: fields.get("muzzle"),
                aim: fields.get("aim"),
                speed: fields.get("speed"),
                spread: fields.get("spread"),
                count: fields.get("count"),
                fan: fields.get("fan"),
                volley: fields.get("volley"),
                cooldown: fields.get("cooldown"),
                ammo: fields.get("ammo"),
                in_flight: fields.get("in_flight"),
                shot: fields.get("shot"),
                cue: fields.get("cue"),
                dry: fields.get("dry"),
            })
        })
    }
}

impl Read for Aim {
    fn read(at: At<'_>) -> Option<Aim> {
        if at.is_table() {
            return at.table(|fields| {
                let angle = fields.get("angle").map(Aim::Angle);
                let target = fields.get("at").map(Aim::At);
                let lead = fields.get("lead").map(Aim::Lead);
                fields.miss(&["angle", "at", "lead"]);
                fields.clash("angle", "at");
                fields.clash("angle", "lead");
                fields.clash("at", "lead");
                angle.or(target).or(lead)
            });
        }
        at.word(&[("facing", ())]).map(|()| Aim::Facing)
    }
}

impl Read for Volley {
    fn read(at: At<'_>) -> Option<Volley> {
        at.table(|fields| {
            Some(Volley {
                shots: fields.need("shots"),
                every: fields.need("every"),
            })
        })
    }
}

impl Read for Ammo {
    fn read(at: At<'_>) -> Option<Ammo> {
        at.table(|fields| {
            Some(Ammo {
                meter: fields.need("meter").unwrap_or_default(),
                cost: fields.get("cost"),
            })
        })
    }
}
