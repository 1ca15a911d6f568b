//! Paths resolved: legs from key to key.

use serde::Serialize;
use tin_crown_derive::Getters;

use super::checker::Checker;
use super::heights;
use crate::encounter::{Ease, Route, RouteKey, Then};
use crate::finding::{Code, Finding, Path};
use crate::geometry::Vec2;
use crate::limits;
use crate::time::Ticks;

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
    /// From which height to which, above where it begins.
    #[serde(skip_serializing_if = "is_level")]
    #[getters(copy)]
    pub(crate) rise: [f64; 2],
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
        match self.leg(ticks) {
            None => Vec2::ZERO,
            Some((leg, None)) => leg.to,
            Some((leg, Some(eased))) => leg.from + (leg.to - leg.from) * eased,
        }
    }

    /// How high it is then, above where it begins.
    pub fn height(&self, ticks: u32) -> f64 {
        match self.leg(ticks) {
            None => 0.0,
            Some((leg, None)) => leg.rise[1],
            Some((leg, Some(eased))) => leg.rise[0] + (leg.rise[1] - leg.rise[0]) * eased,
        }
    }

    /// On which leg it is then, and on which part of it; none at its end.
    fn leg(&self, ticks: u32) -> Option<(&Leg, Option<f64>)> {
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
        let leg = self.legs.get(nth)?;
        let whole = leg.ends.0 - leg.begins.0;
        if whole == 0 || now == leg.ends.0 {
            return Some((leg, None));
        }
        let share = f64::from(now - leg.begins.0) / f64::from(whole);
        let eased = match leg.ease {
            Ease::Linear => share,
            Ease::In => share * share,
            Ease::Out => 1.0 - (1.0 - share) * (1.0 - share),
            Ease::Both => share * share * (3.0 - 2.0 * share),
        };
        Some((leg, Some(eased)))
    }
}

/// Whether a leg goes on at the height where it begins.
fn is_level(rise: &[f64; 2]) -> bool {
    *rise == [0.0; 2]
}

impl Leg {
    /// How fast it is at a steady pace, in units a second.
    fn speed(&self, rate: u32) -> f64 {
        let ticks = f64::from(self.ends.0 - self.begins.0);
        if ticks == 0.0 {
            return 0.0;
        }
        let [low, high] = self.rise;
        (self.to - self.from).length_with(high - low) * f64::from(rate) / ticks
    }
}

/// A path, and how fast it is entered when something held it up.
pub(super) fn resolve(check: &mut Checker, base: &Path, route: &Route) -> Option<(RoutePlan, f64)> {
    let keys = route.keys.as_deref().unwrap_or_default();
    let path = base.key("keys");
    if keys.is_empty() {
        let message = "a path needs `keys`";
        check.report(
            Finding::new(Code::MissingKey, base.clone(), message)
                .at_key()
                .help("for example: keys = [{ when = \"0s\", at = [0, 0] }, { when = \"1s\", at = [0, 40] }]"),
        );
        return None;
    }
    check.at_most(
        path.clone(),
        keys.len(),
        limits::ROUTE_KEYS,
        "keys of a path",
    );
    let legs = legs(check, &path, &keys[..keys.len().min(limits::ROUTE_KEYS)]);
    let then = route.then.unwrap_or_default();
    let (first, last) = (&legs[0], &legs[legs.len() - 1]);
    let (first, last) = ((first.from, first.rise[0]), (last.to, last.rise[1]));
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
    let fastest = legs
        .iter()
        .map(|leg| leg.speed(check.rate))
        .fold(0.0, f64::max);
    let speed = route.speed.map_or(fastest, |speed| {
        check.number(base.key("speed"), speed, &limits::SPEED)
    });
    Some((RoutePlan { legs, then }, speed))
}

fn legs(check: &mut Checker, path: &Path, keys: &[RouteKey]) -> Vec<Leg> {
    let mut legs: Vec<Leg> = Vec::new();
    for (nth, key) in keys.iter().enumerate() {
        let path = path.index(nth);
        let (to, up) = heights::point(check, &path.key("at"), &key.at);
        let when = check.duration(path.key("when"), key.when);
        let rest = key
            .rest
            .map_or(Ticks(0), |rest| check.duration(path.key("rest"), rest));
        let (begins, from, low) = legs.last().map_or((Ticks(0), to, up), |last: &Leg| {
            (last.ends, last.to, last.rise[1])
        });
        if when < begins || (nth > 0 && when == begins) {
            let message =
                format!("this key is at {when}, not after {begins}, when the one before it ends");
            check.report(
                Finding::new(Code::Contradiction, path.key("when"), message)
                    .help("write the keys in the order of their times"),
            );
        }
        let ends = when.max(begins);
        let ease = key.ease.unwrap_or_default();
        legs.push(Leg {
            begins,
            ends,
            from,
            to,
            rise: [low, up],
            ease,
        });
        if rest > Ticks(0) {
            legs.push(Leg {
                begins: ends,
                ends: Ticks(ends.0.saturating_add(rest.0)),
                from: to,
                to,
                rise: [up, up],
                ease: Ease::Linear,
            });
        }
    }
    legs
}
