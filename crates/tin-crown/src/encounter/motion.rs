//! How actors move, as written. The formulas are in `docs/ticks.md`.

use serde::Serialize;

use super::chance::Chance;
use super::read::{At, Fields, Read, laid_over};
use crate::time::Duration;

/// What moves an actor that nobody steers.
#[derive(Clone, Debug, Default, PartialEq)]
pub enum Motion {
    /// It stays where it is; launched, it goes on as it was sent off.
    #[default]
    Still,
    /// It goes on as it was sent off.
    Coast,
    /// It falls.
    Fall(Fall),
    /// To and fro.
    Patrol(Patrol),
    /// From point to point, by a clock.
    Path(Route),
    /// After somebody.
    Chase(Chase),
    /// Up and down (or along any line) about a point.
    Hover(Hover),
    /// As a pendulum.
    Swing(Swing),
    /// At an offset from somebody.
    Follow(Follow),
    /// Straight back to where it was placed.
    Return(Return),
}

/// To and fro at a constant speed, as written.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Patrol {
    /// The two coordinates it turns at, in units, in either order; none when absent.
    pub between: Option<[f64; 2]>,
    /// Units a second.
    pub speed: Option<Chance<f64>>,
    /// Along which axis; x when absent.
    pub axis: Option<Axis>,
    /// Whether it also turns before its body would walk over an edge.
    pub turns_at_ledges: Option<bool>,
}

/// Down, faster and faster, as written.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Fall {
    /// The greatest speed downward, in units a second; none when absent.
    pub most: Option<f64>,
}

/// From point to point, as written.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Route {
    /// When it is where, in order.
    pub keys: Option<Vec<RouteKey>>,
    /// What comes after the last; it stays there when absent.
    pub then: Option<Then>,
    /// How fast it returns to its path after a push, in units a second; as fast as its fastest leg
    /// on the average when absent.
    pub speed: Option<f64>,
}

/// A point of a path, as written.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct RouteKey {
    /// An offset from where it was placed (or appeared, or its state began), facing right.
    pub at: [f64; 2],
    /// How long after the beginning it is there.
    pub when: Duration,
    /// How long it rests there.
    pub rest: Option<Duration>,
    /// How it comes there; evenly when absent.
    pub ease: Option<Ease>,
}

/// How something gets from one point of a path to the next. With `s` the share of the time:
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize)]
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
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize)]
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

/// After somebody, as written.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Chase {
    /// A selector of whom: the nearest of them; or whom it noticed.
    pub whom: Option<String>,
    /// Units a second.
    pub speed: Option<Chance<f64>>,
    /// How many degrees a second it can turn; at once when absent.
    pub turn: Option<f64>,
    /// How near it comes, in units; 0 when absent.
    pub stop_at: Option<f64>,
}

/// About a point, as written.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Hover {
    /// How far it goes to one side.
    pub size: Option<[f64; 2]>,
    /// From there to there again.
    pub period: Option<Duration>,
    /// How far into the period it begins.
    pub phase: Option<Duration>,
    /// How fast it returns to its line after a push, in units a second; as fast as it ever hovers
    /// when absent.
    pub speed: Option<f64>,
}

/// As a pendulum, as written: hung up above where it was placed.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Swing {
    /// From where it hangs to the actor, in units.
    pub length: Option<f64>,
    /// How far it swings to either side, in degrees.
    pub arc: Option<f64>,
    /// There and back.
    pub period: Option<Duration>,
    /// How far into the period it begins.
    pub phase: Option<Duration>,
}

/// At an offset from somebody, as written.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Follow {
    /// A selector of whom: the nearest of them; its maker when absent.
    pub whom: Option<String>,
    /// The offset, facing right: it is mirrored as the other turns.
    pub offset: Option<[f64; 2]>,
    /// How fast it comes after, in units a second; it is there at once when absent.
    pub speed: Option<f64>,
}

/// Back to where it was placed, as written.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Return {
    /// Units a second.
    pub speed: Option<f64>,
}

/// One of the two axes.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize)]
#[serde(rename_all = "kebab-case")]
pub enum Axis {
    /// Sideways.
    #[default]
    X,
    /// Up and down.
    Y,
}

/// An actor driven by the buttons left, right, up, down and jump.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Walk {
    /// Top speed, in units a second.
    pub speed: Option<f64>,
    /// Toward the wanted speed, in units a second squared; at once when absent.
    pub accel: Option<f64>,
    /// As `accel`, while no direction is held; `accel` when absent.
    pub brake: Option<f64>,
    /// Upward speed of a jump, in units a second; none when absent.
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

    pub(crate) fn over(&self, base: &Motion) -> Motion {
        match (self, base) {
            (Motion::Fall(own), Motion::Fall(base)) => {
                Motion::Fall(laid_over!(own, base, Fall { most }))
            }
            (Motion::Patrol(own), Motion::Patrol(base)) => Motion::Patrol(laid_over!(
                own,
                base,
                Patrol {
                    between,
                    speed,
                    axis,
                    turns_at_ledges
                }
            )),
            (Motion::Path(own), Motion::Path(base)) => {
                Motion::Path(laid_over!(own, base, Route { keys, then, speed }))
            }
            (Motion::Chase(own), Motion::Chase(base)) => Motion::Chase(laid_over!(
                own,
                base,
                Chase {
                    whom,
                    speed,
                    turn,
                    stop_at
                }
            )),
            (Motion::Hover(own), Motion::Hover(base)) => Motion::Hover(laid_over!(
                own,
                base,
                Hover {
                    size,
                    period,
                    phase,
                    speed
                }
            )),
            (Motion::Swing(own), Motion::Swing(base)) => Motion::Swing(laid_over!(
                own,
                base,
                Swing {
                    length,
                    arc,
                    period,
                    phase
                }
            )),
            (Motion::Follow(own), Motion::Follow(base)) => Motion::Follow(laid_over!(
                own,
                base,
                Follow {
                    whom,
                    offset,
                    speed
                }
            )),
            (Motion::Return(own), Motion::Return(base)) => {
                Motion::Return(laid_over!(own, base, Return { speed }))
            }
            _ => self.clone(),
        }
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

    /// Sets the upward speed of a jump, in units a second.
    #[must_use]
    pub fn jump(mut self, speed: f64) -> Walk {
        self.jump = Some(speed);
        self
    }

    /// Sets the acceleration toward the wanted speed, in units a second squared.
    #[must_use]
    pub fn accel(mut self, accel: f64) -> Walk {
        self.accel = Some(accel);
        self
    }

    pub(crate) fn over(&self, base: &Walk) -> Walk {
        laid_over!(
            self,
            base,
            Walk {
                speed,
                accel,
                brake,
                jump
            }
        )
    }
}

/// The motions that a table tells of, by their keys.
const TABLES: [&str; 8] = [
    "patrol", "path", "chase", "hover", "swing", "follow", "return", "fall",
];

/// `"still"`, `"coast"`, `"fall"`, or a table with the one key that says which.
impl Read for Motion {
    fn read(at: At<'_>) -> Option<Motion> {
        if !at.is_table() {
            return at
                .word(&[
                    ("still", Word::Still),
                    ("coast", Word::Coast),
                    ("fall", Word::Fall),
                ])
                .map(|word| match word {
                    Word::Still => Motion::Still,
                    Word::Coast => Motion::Coast,
                    Word::Fall => Motion::Fall(Fall::default()),
                });
        }
        at.table(|fields| {
            let all = [
                fields.get("patrol").map(Motion::Patrol),
                fields.get("path").map(Motion::Path),
                fields.get("chase").map(Motion::Chase),
                fields.get("hover").map(Motion::Hover),
                fields.get("swing").map(Motion::Swing),
                fields.get("follow").map(Motion::Follow),
                fields.get("return").map(Motion::Return),
                fields.get("fall").map(Motion::Fall),
            ];
            fields.miss(&TABLES);
            for (nth, one) in TABLES.iter().enumerate() {
                for other in &TABLES[nth + 1..] {
                    fields.clash(one, other);
                }
            }
            all.into_iter().flatten().next()
        })
    }
}

#[derive(Clone, Copy)]
enum Word {
    Still,
    Coast,
    Fall,
}

impl Read for Patrol {
    fn read(at: At<'_>) -> Option<Patrol> {
        at.table(|fields| {
            Some(Patrol {
                between: fields.get("between"),
                speed: fields.get("speed"),
                axis: fields.with("axis", |at| at.word(&[("x", Axis::X), ("y", Axis::Y)])),
                turns_at_ledges: fields.get("turns_at_ledges"),
            })
        })
    }
}

impl Read for Fall {
    fn read(at: At<'_>) -> Option<Fall> {
        at.table(|fields| {
            Some(Fall {
                most: fields.get("most"),
            })
        })
    }
}

impl Read for Route {
    fn read(at: At<'_>) -> Option<Route> {
        at.table(|fields| {
            Some(Route {
                keys: fields.get("keys"),
                then: fields.with("then", |at| {
                    at.word(&[
                        ("stays", Then::Stays),
                        ("loops", Then::Loops),
                        ("returns", Then::Returns),
                    ])
                }),
                speed: fields.get("speed"),
            })
        })
    }
}

impl Read for RouteKey {
    fn read(at: At<'_>) -> Option<RouteKey> {
        at.table(|fields: &mut Fields<'_>| {
            Some(RouteKey {
                at: fields.need("at").unwrap_or_default(),
                when: fields.need("when").unwrap_or(Duration::ZERO),
                rest: fields.get("rest"),
                ease: fields.with("ease", |at| {
                    at.word(&[
                        ("linear", Ease::Linear),
                        ("in", Ease::In),
                        ("out", Ease::Out),
                        ("both", Ease::Both),
                    ])
                }),
            })
        })
    }
}

impl Read for Chase {
    fn read(at: At<'_>) -> Option<Chase> {
        at.table(|fields| {
            Some(Chase {
                whom: fields.get("whom"),
                speed: fields.get("speed"),
                turn: fields.get("turn"),
                stop_at: fields.get("stop_at"),
            })
        })
    }
}

impl Read for Hover {
    fn read(at: At<'_>) -> Option<Hover> {
        at.table(|fields| {
            Some(Hover {
                size: fields.get("size"),
                period: fields.get("period"),
                phase: fields.get("phase"),
                speed: fields.get("speed"),
            })
        })
    }
}

impl Read for Swing {
    fn read(at: At<'_>) -> Option<Swing> {
        at.table(|fields| {
            Some(Swing {
                length: fields.get("length"),
                arc: fields.get("arc"),
                period: fields.get("period"),
                phase: fields.get("phase"),
            })
        })
    }
}

impl Read for Follow {
    fn read(at: At<'_>) -> Option<Follow> {
        at.table(|fields| {
            Some(Follow {
                whom: fields.get("whom"),
                offset: fields.get("offset"),
                speed: fields.get("speed"),
            })
        })
    }
}

impl Read for Return {
    fn read(at: At<'_>) -> Option<Return> {
        at.table(|fields| {
            Some(Return {
                speed: fields.get("speed"),
            })
        })
    }
}

impl Read for Walk {
    fn read(at: At<'_>) -> Option<Walk> {
        at.table(|fields| {
            Some(Walk {
                speed: fields.get("speed"),
                accel: fields.get("accel"),
                brake: fields.get("brake"),
                jump: fields.get("jump"),
            })
        })
    }
}
