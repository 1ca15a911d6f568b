//! What drives actors, resolved.

use serde::Serialize;
use tin_crown_derive::Getters;

use super::checker::Checker;
use super::select::Group;
use super::spec::Names;
use crate::encounter::{Axis, Chance, Ease, Kind, Motion, Patrol, Route, Then, Walk};
use crate::finding::{Code, Finding, Path};
use crate::geometry::Vec2;
use crate::limits;
use crate::time::Ticks;

/// What drives an actor: its own motion.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
#[non_exhaustive]
pub enum Drive {
    /// It stays.
    Still,
    /// It goes on as it was sent off.
    Coast,
    /// It falls.
    Fall {
        /// The greatest speed downward, in units a second.
        most: Option<f64>,
    },
    /// To and fro.
    Patrol {
        /// Along which axis.
        axis: Axis,
        /// The lesser turning point; minus infinity when there is none.
        low: f64,
        /// The greater turning point; infinity when there is none.
        high: f64,
        /// Units a second.
        speed: f64,
        /// Whether it turns before its body would walk over an edge.
        ledges: bool,
    },
    /// By buttons.
    Walk {
        /// Units a second.
        speed: f64,
        /// Units a second squared; at once when absent.
        accel: Option<f64>,
        /// Units a second squared; at once when absent.
        brake: Option<f64>,
        /// Units a second upward; no jump when absent.
        jump: Option<f64>,
    },
    /// From point to point.
    Path {
        /// Which of its kind's routes.
        route: u16,
        /// How fast it returns to its path, in units a second.
        speed: f64,
    },
    /// After somebody.
    Chase {
        /// After whom.
        whom: Target,
        /// Units a second.
        speed: f64,
        /// Cosine and sine of the most it turns in a tick; at once when absent.
        turn: Option<[f64; 2]>,
        /// How near it comes, in units.
        stop_at: f64,
    },
    /// About a point.
    Hover {
        /// How far it goes to one side, facing right.
        size: Vec2,
        /// From there to there again.
        period: Ticks,
        /// How far into the period it begins.
        phase: Ticks,
        /// How fast it returns to its line, in units a second.
        speed: f64,
    },
    /// As a pendulum.
    Swing {
        /// From where it hangs, in units.
        length: f64,
        /// How far it swings to either side, in radians.
        arc: f64,
        /// There and back.
        period: Ticks,
        /// How far into the period it begins.
        phase: Ticks,
    },
    /// At an offset from somebody.
    Follow {
        /// From whom; its maker when absent.
        whom: Option<Group>,
        /// The offset, facing right.
        offset: Vec2,
        /// Units a second; at once when absent.
        speed: Option<f64>,
    },
    /// Straight back to where it was placed.
    Return {
        /// Units a second.
        speed: f64,
    },
}

/// At whom something is aimed.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
pub enum Target {
    /// Whom its owner noticed when it came into its state.
    Noticed,
    /// The nearest of these.
    Nearest(Group),
}

/// A route from point to point, resolved.
#[derive(Clone, Debug, Getters, PartialEq, Serialize)]
pub struct RoutePlan {
    /// One after the other, without gaps; rests are legs too.
    pub(crate) legs: Vec<Leg>,
    /// What comes after the last.
    #[getters(copy)]
    pub(crate) then: Then,
}

/// A leg of a route.
#[derive(Clone, Copy, Debug, Getters, PartialEq, Serialize)]
pub struct Leg {
    /// When it begins, counted from the route's beginning.
    pub(crate) begins: Ticks,
    /// When it ends.
    pub(crate) ends: Ticks,
    /// From where, as an offset.
    pub(crate) from: Vec2,
    /// To where.
    pub(crate) to: Vec2,
    /// How.
    #[getters(copy)]
    pub(crate) ease: Ease,
}

impl RoutePlan {
    /// How long it is.
    pub fn length(&self) -> Ticks {
        self.legs.last().map_or(Ticks(0), |leg| leg.ends)
    }

    /// Where it is so many ticks after its beginning: an offset, facing right.
    pub fn at(&self, ticks: u32) -> Vec2 {
        let Ticks(length) = self.length();
        let now = match self.then {
            Then::Stays => ticks.min(length),
            Then::Loops if length > 0 && ticks > length => (ticks - 1) % length + 1,
            Then::Returns if length > 0 => {
                let part = ticks % (2 * length);
                part.min(2 * length - part)
            }
            _ => ticks.min(length),
        };
        let nth = self.legs.partition_point(|leg| leg.ends.0 < now);
        let Some(leg) = self.legs.get(nth) else {
            return Vec2::ZERO;
        };
        let whole = leg.ends.0 - leg.begins.0;
        if whole == 0 || now == leg.ends.0 {
            return leg.to;
        }
        let share = f64::from(now - leg.begins.0) / f64::from(whole);
        let eased = match leg.ease {
            Ease::Linear => share,
            Ease::In => share * share,
            Ease::Out => 1.0 - (1.0 - share) * (1.0 - share),
            Ease::Both => share * share * (3.0 - 2.0 * share),
        };
        leg.from + (leg.to - leg.from) * eased
    }
}

impl Drive {
    /// Whether the arena's gravity acts on who is driven so, unless its kind says how much.
    pub(crate) fn falls(&self) -> bool {
        matches!(self, Drive::Walk { .. } | Drive::Fall { .. })
    }

    /// The same at another speed.
    pub(crate) fn at_speed(mut self, to: f64) -> Drive {
        if let Drive::Patrol { speed, .. } | Drive::Chase { speed, .. } = &mut self {
            *speed = to;
        }
        self
    }
}

/// Resolves motions; collects the routes of a kind.
pub(super) struct Drives<'a> {
    pub names: &'a Names<'a>,
    pub routes: Vec<RoutePlan>,
}

/// A drive, and its speed when that is drawn by chance.
pub(super) type Paced = (Drive, Option<Chance<f64>>);

impl Drives<'_> {
    /// What drives a kind by itself.
    pub fn of_kind(&mut self, check: &mut Checker, base: &Path, kind: &Kind) -> Paced {
        let moves = kind
            .motion
            .as_ref()
            .filter(|motion| **motion != Motion::Still);
        match (&kind.walk, moves) {
            (Some(_), Some(_)) => {
                check.report(
                    Finding::new(
                        Code::Contradiction,
                        base.key("motion"),
                        "`walk` and `motion` cannot be used together",
                    )
                    .help("remove `walk` or `motion`"),
                );
                (Drive::Still, None)
            }
            (Some(walk), _) => (walking(check, &base.key("walk"), walk), None),
            (None, Some(motion)) => self.motion(check, &base.key("motion"), motion),
            (None, None) => (Drive::Still, None),
        }
    }

    /// What a motion comes to. `base` is where it is written.
    pub fn motion(&mut self, check: &mut Checker, base: &Path, motion: &Motion) -> Paced {
        let fixed = |drive| (drive, None);
        match motion {
            Motion::Still => fixed(Drive::Still),
            Motion::Coast => fixed(Drive::Coast),
            Motion::Fall(fall) => {
                let base = base.key("fall");
                let most = fall
                    .most
                    .map(|most| check.number(base.key("most"), most, &limits::SPEED));
                fixed(Drive::Fall { most })
            }
            Motion::Patrol(patrol) => patrolling(check, &base.key("patrol"), patrol),
            Motion::Path(route) => fixed(self.path(check, &base.key("path"), route)),
            Motion::Chase(chase) => {
                let base = base.key("chase");
                let Some(text) = &chase.whom else {
                    return missing(check, base, "a chase needs `whom`", "whom = \"#hero\"");
                };
                let Some(speed) = &chase.speed else {
                    return missing(check, base, "a chase needs a `speed`", "speed = 60");
                };
                let (speed, pace) = paced(check, &base.key("speed"), speed);
                let whom = self.names.target(check, &base.key("whom"), text);
                let turn = chase.turn.map(|turn| {
                    let turn = check.number(base.key("turn"), turn, &limits::TURN);
                    let angle = turn / f64::from(check.rate) * (core::f64::consts::PI / 180.0);
                    [libm::cos(angle), libm::sin(angle)]
                });
                let stop_at = chase.stop_at.unwrap_or(0.0);
                let stop_at = check.number(base.key("stop_at"), stop_at, &limits::LENGTH);
                let drive = whom.map_or(Drive::Still, |whom| Drive::Chase {
                    whom,
                    speed,
                    turn,
                    stop_at,
                });
                (drive, pace)
            }
            Motion::Hover(hover) => {
                let base = base.key("hover");
                let Some(size) = hover.size else {
                    return missing(check, base, "a hover needs a `size`", "size = [0, 6]");
                };
                let size = check.pair(&base.key("size"), size, &limits::COORDINATE);
                let Some((period, phase)) = period(check, &base, hover.period, hover.phase) else {
                    return fixed(Drive::Still);
                };
                let size = Vec2::from(size);
                // The derivative of a sine of that period is greatest in the middle.
                let fastest = size.length() * core::f64::consts::TAU * f64::from(check.rate)
                    / f64::from(period.0);
                let speed = hover.speed.map_or(fastest, |speed| {
                    check.number(base.key("speed"), speed, &limits::SPEED)
                });
                fixed(Drive::Hover {
                    size,
                    period,
                    phase,
                    speed,
                })
            }
            Motion::Swing(swing) => {
                let base = base.key("swing");
                let (Some(length), Some(arc)) = (swing.length, swing.arc) else {
                    let message = "a swing needs `length` and `arc`";
                    return missing(check, base, message, "length = 60, arc = 45");
                };
                let length = check.number(base.key("length"), length, &limits::LENGTH);
                let arc = check.number(base.key("arc"), arc, &limits::ANGLE);
                let Some((period, phase)) = period(check, &base, swing.period, swing.phase) else {
                    return fixed(Drive::Still);
                };
                fixed(Drive::Swing {
                    length,
                    arc: arc * (core::f64::consts::PI / 180.0),
                    period,
                    phase,
                })
            }
            Motion::Follow(follow) => {
                let base = base.key("follow");
                let whom = follow
                    .whom
                    .as_ref()
                    .and_then(|text| self.names.group(check, &base.key("whom"), text));
                let offset = follow.offset.unwrap_or_default();
                fixed(Drive::Follow {
                    whom,
                    offset: check
                        .pair(&base.key("offset"), offset, &limits::COORDINATE)
                        .into(),
                    speed: follow
                        .speed
                        .map(|speed| check.number(base.key("speed"), speed, &limits::SPEED)),
                })
            }
            Motion::Return(back) => {
                let base = base.key("return");
                let Some(speed) = back.speed else {
                    return missing(check, base, "a return needs a `speed`", "speed = 30");
                };
                let speed = check.number(base.key("speed"), speed, &limits::SPEED);
                fixed(Drive::Return { speed })
            }
        }
    }

    fn path(&mut self, check: &mut Checker, base: &Path, route: &Route) -> Drive {
        let keys = route.keys.as_deref().unwrap_or_default();
        let path = base.key("keys");
        if keys.is_empty() {
            let message = "a path needs `keys`";
            check.report(
                Finding::new(Code::MissingKey, base.clone(), message)
                    .at_key()
                    .help("for example: keys = [{ when = \"0s\", at = [0, 0] }, { when = \"1s\", at = [0, 40] }]"),
            );
            return Drive::Still;
        }
        check.at_most(
            path.clone(),
            keys.len(),
            limits::ROUTE_KEYS,
            "keys of a path",
        );
        let mut legs: Vec<Leg> = Vec::new();
        let mut fastest: f64 = 0.0;
        for (nth, key) in keys.iter().take(limits::ROUTE_KEYS).enumerate() {
            let path = path.index(nth);
            let to = check
                .pair(&path.key("at"), key.at, &limits::COORDINATE)
                .into();
            let when = check.duration(path.key("when"), key.when);
            let rest = key
                .rest
                .map_or(Ticks(0), |rest| check.duration(path.key("rest"), rest));
            let (begins, from) = legs
                .last()
                .map_or((Ticks(0), to), |last: &Leg| (last.ends, last.to));
            if when < begins || (nth > 0 && when == begins) {
                let message = format!(
                    "this key is at {when}, not after {begins}, when the one before it ends"
                );
                check.report(
                    Finding::new(Code::Contradiction, path.key("when"), message)
                        .help("write the keys in the order of their times"),
                );
            }
            let ends = when.max(begins);
            let ticks = f64::from(ends.0 - begins.0);
            if ticks > 0.0 {
                fastest = fastest.max((to - from).length() * f64::from(check.rate) / ticks);
            }
            let ease = key.ease.unwrap_or_default();
            legs.push(Leg {
                begins,
                ends,
                from,
                to,
                ease,
            });
            if rest > Ticks(0) {
                legs.push(Leg {
                    begins: ends,
                    ends: Ticks(ends.0.saturating_add(rest.0)),
                    from: to,
                    to,
                    ease: Ease::Linear,
                });
            }
        }
        let then = route.then.unwrap_or_default();
        let (first, last) = (legs[0].from, legs[legs.len() - 1].to);
        if then == Then::Loops && first != last {
            let message =
                "this path loops, but ends elsewhere than it begins: it jumps back in one tick";
            check.report(
                Finding::new(
                    Code::PathJumps,
                    path.index(keys.len() - 1).key("at"),
                    message,
                )
                .help("end the path where it begins, or use then = \"returns\""),
            );
        }
        let speed = route.speed.map_or(fastest, |speed| {
            check.number(base.key("speed"), speed, &limits::SPEED)
        });
        self.routes.push(RoutePlan { legs, then });
        Drive::Path {
            route: u16::try_from(self.routes.len() - 1)
                .unwrap_or_else(|_| unreachable!("lists are short")),
            speed,
        }
    }
}

fn missing(check: &mut Checker, path: Path, message: &str, example: &str) -> Paced {
    check.report(
        Finding::new(Code::MissingKey, path, message)
            .at_key()
            .help(format!("for example: {example}")),
    );
    (Drive::Still, None)
}

/// A speed, and how it is drawn when it is by chance.
fn paced(check: &mut Checker, path: &Path, speed: &Chance<f64>) -> (f64, Option<Chance<f64>>) {
    let pace = check.chance(path, speed, |check, path, speed| {
        check.number(path, *speed, &limits::SPEED)
    });
    let first = pace.all().next().copied().unwrap_or(0.0);
    (first, (!matches!(pace, Chance::Fixed(_))).then_some(pace))
}

fn period(
    check: &mut Checker,
    base: &Path,
    period: Option<crate::time::Duration>,
    phase: Option<crate::time::Duration>,
) -> Option<(Ticks, Ticks)> {
    let phase = phase.map_or(Ticks(0), |phase| check.duration(base.key("phase"), phase));
    let Some(period) = period else {
        let message = "this needs a `period`";
        check.report(
            Finding::new(Code::MissingKey, base.clone(), message)
                .at_key()
                .help("for example: period = \"2s\""),
        );
        return None;
    };
    let period = check.duration(base.key("period"), period);
    if period == Ticks(0) {
        let message = "`period` must be above zero";
        check.report(Finding::new(Code::OutOfRange, base.key("period"), message));
        return None;
    }
    Some((period, phase))
}

fn patrolling(check: &mut Checker, base: &Path, patrol: &Patrol) -> Paced {
    let Some(speed) = &patrol.speed else {
        let message = "a patrol needs a `speed`";
        return missing(
            check,
            base.clone(),
            message,
            "patrol = { between = [200, 330], speed = 40 }",
        );
    };
    let [low, high] = match patrol.between {
        Some(between) => {
            let [a, b] = check.pair(&base.key("between"), between, &limits::COORDINATE);
            [a.min(b), a.max(b)]
        }
        None => [f64::NEG_INFINITY, f64::INFINITY],
    };
    let (speed, pace) = paced(check, &base.key("speed"), speed);
    let axis = patrol.axis.unwrap_or_default();
    let ledges = patrol.turns_at_ledges.unwrap_or(false);
    if ledges && axis == Axis::Y {
        let message = "`turns_at_ledges` has no effect along y";
        check.report(Finding::new(
            Code::NoEffect,
            base.key("turns_at_ledges"),
            message,
        ));
    }
    let drive = Drive::Patrol {
        axis,
        low,
        high,
        speed,
        ledges,
    };
    (drive, pace)
}

fn walking(check: &mut Checker, base: &Path, walk: &Walk) -> Drive {
    if walk.speed.is_none() {
        let message = "a walk needs a `speed`";
        check.report(
            Finding::new(Code::MissingKey, base.clone(), message)
                .at_key()
                .help("for example: walk = { speed = 90, jump = 320 }"),
        );
    }
    let mut number = |key: &str, value: Option<f64>, range| {
        value.map(|value| check.number(base.key(key), value, range))
    };
    let accel = number("accel", walk.accel, &limits::ACCELERATION);
    Drive::Walk {
        speed: number("speed", walk.speed, &limits::SPEED).unwrap_or(0.0),
        accel,
        brake: number("brake", walk.brake, &limits::ACCELERATION).or(accel),
        jump: number("jump", walk.jump, &limits::SPEED),
    }
}
