//! Resolved boxes.

use std::borrow::Cow;

use serde::Serialize;
use tin_crown_derive::Getters;

use super::checker::Checker;
use super::heights;
use crate::encounter::{BoxSpec, Facing, Pulse, Up};
use crate::finding::{Code, Finding, Path};
use crate::geometry::{HeightSpan, Shape, ShapeError, Vec2};
use crate::limits;
use crate::time::{Duration, Ticks};

/// A resolved box.
#[derive(Clone, Debug, Getters, PartialEq, Serialize)]
pub struct BoxPlan {
    /// Its name.
    pub(crate) name: String,
    right: Shape,
    left: Shape,
    /// Whether it turns with its owner, who rotates.
    #[serde(skip_serializing_if = "std::ops::Not::not")]
    #[getters(skip)]
    turns: bool,
    #[serde(skip)]
    #[getters(skip)]
    fixed: bool,
    /// From which height to which, from its owner's; through all when absent.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[getters(copy)]
    pub(crate) span: Option<HeightSpan>,
    /// How it grows.
    #[getters(copy)]
    pub(crate) grows: Option<Growth>,
    /// When it is on and off.
    #[getters(copy)]
    pub(crate) pulse: Option<PulsePlan>,
}

/// How a box grows from its owner's appearance on.
#[derive(Clone, Copy, Debug, Getters, PartialEq, Serialize)]
pub struct Growth {
    /// The share of its size that it begins and ends with.
    #[getters(copy)]
    pub(crate) shares: [f64; 2],
    /// On how many ticks; on the last it has its final size.
    pub(crate) ticks: Ticks,
}

/// On and off by a clock that counts from its owner's appearance.
#[derive(Clone, Copy, Debug, Eq, Getters, PartialEq, Serialize)]
pub struct PulsePlan {
    /// How long it is on.
    pub(crate) on: Ticks,
    /// How long it is off.
    pub(crate) off: Ticks,
    /// How far into being on it begins.
    pub(crate) phase: Ticks,
}

impl PulsePlan {
    /// Whether it is on at that age of its owner.
    pub fn is_on(&self, age: Ticks) -> bool {
        let period = u64::from(self.on.0) + u64::from(self.off.0);
        (u64::from(age.0) + u64::from(self.phase.0)) % period < u64::from(self.on.0)
    }
}

impl BoxPlan {
    /// Its shape around the actor's position at that age of its owner.
    pub fn shape_at(&self, facing: Facing, age: Ticks) -> Shape {
        // Scaled first, then turned.
        match facing {
            Facing::Angle(_) if self.turns => facing.shape(&self.grown(&self.right, age)),
            facing => self.grown(self.unturned(facing), age),
        }
    }

    fn grown(&self, full: &Shape, age: Ticks) -> Shape {
        match self.share(age) {
            Some(times) => full.scaled(times),
            None => *full,
        }
    }

    /// From which height to which it reaches at that age of its owner, from its owner's.
    pub fn span_at(&self, age: Ticks) -> Option<HeightSpan> {
        let full = self.span?;
        Some(self.share(age).map_or(full, |times| full.scaled(times)))
    }

    /// The share of its size that it has at that age of its owner, when it grows.
    fn share(&self, age: Ticks) -> Option<f64> {
        let Growth {
            shares: [from, to],
            ticks,
        } = self.grows?;
        let last = ticks.0.saturating_sub(1);
        Some(if age.0 >= last {
            to
        } else {
            from + (to - from) * (f64::from(age.0) / f64::from(last))
        })
    }

    /// Its shape around the actor's position; of one that grows, at the size that is written.
    pub fn shape(&self, facing: Facing) -> Cow<'_, Shape> {
        match facing {
            Facing::Angle(_) if self.turns => Cow::Owned(facing.shape(&self.right)),
            facing => Cow::Borrowed(self.unturned(facing)),
        }
    }

    /// The same, mirrored but never turned: of bodies and solids.
    pub fn unturned(&self, facing: Facing) -> &Shape {
        match facing {
            Facing::Right | Facing::Angle(_) => &self.right,
            Facing::Left => &self.left,
        }
    }

    /// Whether it turns with its owner, who rotates.
    pub fn turns(&self) -> bool {
        self.turns
    }

    /// The same box of a kind that rotates, or that does not.
    pub(super) fn of_kind(mut self, rotates: bool) -> BoxPlan {
        // One that is the same whichever way it is turned needs no turning.
        let round = self.right.points() == [Vec2::ZERO];
        self.turns = rotates && !self.fixed && !round;
        self
    }

    /// Whether it neither turns nor mirrors with its owner.
    pub(crate) fn is_fixed(&self) -> bool {
        self.fixed
    }

    /// Whether turning round changes nothing.
    pub(crate) fn same_both_ways(&self) -> bool {
        self.right.bounds() == self.left.bounds()
    }
}

/// A resolved box. One without a form keeps its name, so that others who name it are not blamed.
pub(super) fn shape(
    check: &mut Checker,
    path: &Path,
    name: &str,
    spec: &BoxSpec,
    up: Up,
    lifetime: Option<Duration>,
) -> Option<BoxPlan> {
    let right = match form(check, path, name, spec, up) {
        Some(shape) => shape,
        None => Shape::circle(Vec2::ZERO, 1.0).ok()?,
    };
    let fixed = spec.fixed.unwrap_or(false);
    let left = if fixed { right } else { right.mirrored() };
    Some(BoxPlan {
        name: name.to_owned(),
        right,
        left,
        turns: false,
        fixed,
        span: heights::span(check, path, spec.height),
        grows: spec.grows.map(|shares| {
            let [from, to] = check.pair(&path.key("grows"), shares, &limits::GROWTH);
            let length = spec.grows_for.or(lifetime);
            if length.is_none() {
                let message = format!("`{name}` grows, but has no `grows_for`");
                check.report(
                    Finding::new(Code::MissingKey, path.clone(), message)
                        .at_key()
                        .help("add `grows_for`, or give its owner a `lifetime`"),
                );
            }
            let key = path.key("grows_for");
            let ticks = length.map_or(Ticks(1), |length| check.duration(key, length));
            Growth {
                shares: [from, to],
                ticks,
            }
        }),
        pulse: spec
            .pulse
            .map(|pulse| pulse_plan(check, &path.key("pulse"), &pulse)),
    })
}

fn pulse_plan(check: &mut Checker, base: &Path, pulse: &Pulse) -> PulsePlan {
    let mut ticks = |key: &'static str, length: Option<Duration>| {
        length.map_or(Ticks(0), |length| check.duration(base.key(key), length))
    };
    let (on, off) = (ticks("on", pulse.on), ticks("off", pulse.off));
    let phase = ticks("phase", pulse.phase);
    for (key, length) in [("on", on), ("off", off)] {
        if length == Ticks(0) {
            let message = format!("a pulse needs a duration above zero for `{key}`");
            check.report(Finding::new(Code::OutOfRange, base.key(key), message));
        }
    }
    PulsePlan {
        on,
        off: off.max(Ticks(1)),
        phase,
    }
}

fn form(check: &mut Checker, path: &Path, name: &str, spec: &BoxSpec, up: Up) -> Option<Shape> {
    let [x, y] = check.pair(
        &path.key("at"),
        spec.at.unwrap_or_default(),
        &limits::COORDINATE,
    );
    let at = Vec2::new(x, y);
    let moved = |[x, y]: [f64; 2]| [x + at.x, y + at.y];
    let radius = spec
        .radius
        .map(|radius| check.number(path.key("radius"), radius, &limits::SIZE));
    let turn = spec
        .turn
        .map(|turn| check.number(path.key("turn"), turn, &limits::ANGLE) * up.sign());
    let bad = |check: &mut Checker, message: String| {
        check.report(Finding::new(Code::BadShape, path.clone(), message).at_key());
        None
    };
    if turn.is_some() && spec.size.is_none() {
        return bad(
            check,
            format!("`turn` needs a rectangle: `{name}` has no `size`"),
        );
    }
    let shape = match (&spec.size, &spec.ends, &spec.points, radius) {
        (Some(size), None, None, None) => {
            let size = check.pair(&path.key("size"), *size, &limits::SIZE);
            Shape::rectangle(at, size, turn.unwrap_or(0.0))
        }
        (None, Some(ends), None, Some(radius)) => {
            let base = path.key("ends");
            let mut end = |i| moved(check.pair(&base.index(i), ends[i], &limits::COORDINATE));
            let ends = [end(0), end(1)];
            Shape::capsule(ends, radius)
        }
        (None, None, Some(points), radius) => {
            let base = path.key("points");
            let mut point = |(i, p): (usize, &[f64; 2])| {
                moved(check.pair(&base.index(i), *p, &limits::COORDINATE))
            };
            let points: Vec<[f64; 2]> = points.iter().take(9).enumerate().map(&mut point).collect();
            Shape::polygon(&points, radius.unwrap_or(0.0))
        }
        (None, None, None, Some(radius)) => Shape::circle(at, radius),
        (None, None, None, None) => return bad(check, format!("`{name}` has no form")),
        (None, Some(_), None, None) => {
            return bad(check, format!("`{name}` has `ends` but no `radius`"));
        }
        _ => return bad(check, format!("`{name}` has two forms at once")),
    };
    match shape {
        Ok(shape) => Some(shape),
        Err(error) => {
            let key = match error {
                ShapeError::NotConvex | ShapeError::Count => path.key("points"),
                _ => path.clone(),
            };
            check.report(Finding::new(
                Code::BadShape,
                key,
                format!("`{name}`: {error}"),
            ));
            None
        }
    }
}
