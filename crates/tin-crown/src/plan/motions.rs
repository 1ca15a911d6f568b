//! Motions resolved: what they drive, and how fast.

use super::checker::Checker;
use super::drives::Drive;
use super::routes::{self, RoutePlan};
use super::scope::Scope;
use super::{faces, heights};
use crate::encounter::{
    Axis, Chance, Chase, Follow, Hover, Kind, Motion, Patrol, Route, Swing, Walk,
};
use crate::finding::{Code, Finding, Path};
use crate::limits;
use crate::time::Ticks;

/// Resolves motions; collects the routes of a kind.
pub(super) struct Drives<'a> {
    pub scope: &'a Scope<'a>,
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
            (Some(walk), _) => (walking(check, &base.key("walk"), walk, kind), None),
            (None, Some(motion)) => self.motion(check, &base.key("motion"), motion),
            (None, None) => (Drive::Still, None),
        }
    }

    /// Resolves a motion. `base` is where it is written.
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
            Motion::Patrol(patrol) => {
                patrolling(check, &base.key("patrol"), patrol, self.scope.height)
            }
            Motion::Path(route) => fixed(self.path(check, &base.key("path"), route)),
            Motion::Chase(chase) => self.chase(check, &base.key("chase"), chase),
            Motion::Hover(hover) => hovering(check, &base.key("hover"), hover),
            Motion::Swing(swing) => swinging(check, &base.key("swing"), swing),
            Motion::Follow(follow) => fixed(self.follow(check, &base.key("follow"), follow)),
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

    fn chase(&self, check: &mut Checker, base: &Path, chase: &Chase) -> Paced {
        let Some(text) = &chase.whom else {
            return missing(
                check,
                base.clone(),
                "a chase needs `whom`",
                "whom = \"#hero\"",
            );
        };
        let Some(speed) = &chase.speed else {
            return missing(check, base.clone(), "a chase needs a `speed`", "speed = 60");
        };
        let (speed, pace) = paced(check, &base.key("speed"), speed);
        let whom = self.scope.target(check, &base.key("whom"), text);
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

    fn follow(&self, check: &mut Checker, base: &Path, follow: &Follow) -> Drive {
        let whom = follow
            .whom
            .as_ref()
            .and_then(|text| self.scope.group(check, &base.key("whom"), text));
        let offset = follow.offset.unwrap_or_default();
        let (offset, rise) = heights::point(check, &base.key("offset"), &offset);
        Drive::Follow {
            whom,
            offset,
            rise,
            speed: follow
                .speed
                .map(|speed| check.number(base.key("speed"), speed, &limits::SPEED)),
        }
    }

    fn path(&mut self, check: &mut Checker, base: &Path, route: &Route) -> Drive {
        let Some((plan, speed)) = routes::resolve(check, base, route) else {
            return Drive::Still;
        };
        let index = u16::try_from(self.routes.len());
        self.routes.push(plan);
        Drive::Path {
            route: index.unwrap_or_else(|_| unreachable!("lists are short")),
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

fn hovering(check: &mut Checker, base: &Path, hover: &Hover) -> Paced {
    let Some(size) = hover.size else {
        return missing(
            check,
            base.clone(),
            "a hover needs a `size`",
            "size = [0, 6]",
        );
    };
    let (size, rise) = heights::point(check, &base.key("size"), &size);
    let Some((period, phase)) = period(check, base, hover.period, hover.phase) else {
        return (Drive::Still, None);
    };
    // The derivative of a sine of that period is greatest in the middle.
    let fastest = size.length_with(rise) * core::f64::consts::TAU * f64::from(check.rate)
        / f64::from(period.0);
    let speed = hover.speed.map_or(fastest, |speed| {
        check.number(base.key("speed"), speed, &limits::SPEED)
    });
    let drive = Drive::Hover {
        size,
        rise,
        period,
        phase,
        speed,
    };
    (drive, None)
}

fn swinging(check: &mut Checker, base: &Path, swing: &Swing) -> Paced {
    let (Some(length), Some(arc)) = (swing.length, swing.arc) else {
        let message = "a swing needs `length` and `arc`";
        return missing(check, base.clone(), message, "length = 60, arc = 45");
    };
    let length = check.number(base.key("length"), length, &limits::LENGTH);
    let arc = check.number(base.key("arc"), arc, &limits::ANGLE);
    let Some((period, phase)) = period(check, base, swing.period, swing.phase) else {
        return (Drive::Still, None);
    };
    let drive = Drive::Swing {
        length,
        arc: arc * (core::f64::consts::PI / 180.0),
        period,
        phase,
    };
    (drive, None)
}

fn patrolling(check: &mut Checker, base: &Path, patrol: &Patrol, height: bool) -> Paced {
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
    if ledges && axis == Axis::Y && !height {
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

fn walking(check: &mut Checker, base: &Path, walk: &Walk, kind: &Kind) -> Drive {
    if walk.speed.is_none() {
        let message = "a walk needs a `speed`";
        check.report(
            Finding::new(Code::MissingKey, base.clone(), message)
                .at_key()
                .help("for example: walk = { speed = 90, jump = 320 }"),
        );
    }
    let mut number = |key: &'static str, value: Option<f64>, range| {
        value.map(|value| check.number(base.key(key), value, range))
    };
    let accel = number("accel", walk.accel, &limits::ACCELERATION);
    let turn = number("turn", walk.turn, &limits::TURN);
    Drive::Walk {
        speed: number("speed", walk.speed, &limits::SPEED).unwrap_or(0.0),
        accel,
        brake: number("brake", walk.brake, &limits::ACCELERATION).or(accel),
        jump: number("jump", walk.jump, &limits::SPEED),
        turn: turn
            .filter(|_| turns(check, base, kind))
            .map(|turn| faces::turn_of(check, base.key("turn"), turn)),
    }
}

/// Whether a walk may turn its kind.
fn turns(check: &mut Checker, base: &Path, kind: &Kind) -> bool {
    let rotates = faces::rotates(kind);
    if !rotates {
        let message = "`turn` has no effect on a kind that mirrors";
        check.report(
            Finding::new(Code::NoEffect, base.key("turn"), message)
                .help("add turns = \"rotates\" to the kind"),
        );
    }
    rotates
}
