//! Expectations of where an actor is.

use super::{Miss, Probe};
use crate::encounter::Holding;
use crate::geometry::{Angle, Bounds, Vec2};
use crate::ledger::LineId;
use crate::plan::{ActorIx, StayPlan};
use crate::printable::hundredths;
use crate::time::Tick;
use crate::verify::seen::Place;

pub(super) fn miss(trial: &Probe<'_>, stay: &StayPlan) -> Option<Miss> {
    let places = &trial.seen.places;
    let mut asked = places.iter();
    let mut any = false;
    let missed = asked.find_map(|(&actor, track)| {
        trial.replay.is_chosen(&stay.who, actor).then(|| {
            any = true;
            one(trial, stay, actor, track)
        })?
    });
    missed.or_else(|| {
        (!any).then(|| Miss {
            because: format!(
                "no actor that `{}` matches exists at the end of any tick",
                stay.who
            ),
            line: None,
            differs: None,
            around: Vec::new(),
        })
    })
}

fn one(
    trial: &Probe<'_>,
    stay: &StayPlan,
    actor: ActorIx,
    track: &[(Tick, Place)],
) -> Option<Miss> {
    let id = trial.replay.id(actor);
    let fits = |place: Place| stay.holds_at(place);
    let has_height = trial.replay.plan().arena.height.is_some();
    let rotates = trial.replay.spec(actor).rotates;
    let is_at = |tick: Tick, Place { at, height, facing }: Place| {
        let line = trial.last_line(tick);
        let mut place = format!("{id} is at {}, {}", hundredths(at.x), hundredths(at.y));
        if has_height {
            place.push_str(&format!(", {} high,", hundredths(height)));
        }
        if stay.facing.is_some() {
            let way = match (rotates, facing) {
                (true, angle) => format!("{}°", hundredths(angle.known_degrees())),
                (false, Angle::ZERO) => "right".to_owned(),
                (false, _) => "left".to_owned(),
            };
            place.push_str(&format!(" facing {way},"));
        }
        trial.at(format!("{place} {}", trial.time(tick)), line)
    };
    let in_time = |tick: Tick| {
        let expected = trial.expected;
        tick >= expected.from && expected.to.is_none_or(|to| tick <= to)
    };
    match stay.holds {
        Some(Holding::Always) => {
            let mut off = track
                .iter()
                .filter(|(tick, at)| in_time(*tick) && !fits(*at));
            off.next().map(|(tick, at)| is_at(*tick, *at))
        }
        Some(Holding::Ever) => {
            let mut counted = track.iter().filter(|(tick, _)| in_time(*tick));
            if counted.any(|(_, at)| fits(*at)) {
                return None;
            }
            let near = |place: &Place| stay.distance(*place);
            let counted = track.iter().filter(|(tick, _)| in_time(*tick));
            let nearest = counted.min_by(|(_, a), (_, b)| near(a).total_cmp(&near(b)));
            Some(match nearest {
                Some((tick, at)) if stay.area.as_ref().is_none_or(|area| area.inside) => {
                    let mut miss = is_at(*tick, *at);
                    miss.because = format!("it never is; at its nearest {}", miss.because);
                    miss
                }
                _ => Miss {
                    because: format!("{id} never is"),
                    line: None,
                    differs: None,
                    around: Vec::new(),
                },
            })
        }
        None => {
            let Some((from, to)) = trial.window() else {
                let (tick, at) = *track.last()?;
                return (!fits(at)).then(|| is_at(tick, at));
            };
            let mut counted = track
                .iter()
                .filter(|(tick, _)| *tick >= from && *tick <= to);
            if counted.any(|(_, at)| fits(*at)) {
                return None;
            }
            let when = trial.expected.when?;
            Some(match track.iter().find(|(tick, _)| *tick == when) {
                Some((tick, at)) => is_at(*tick, *at),
                None => {
                    let line = trial.last_line(when);
                    trial.at(format!("{id} does not exist {}", trial.time(when)), line)
                }
            })
        }
    }
}

impl StayPlan {
    /// Whether a place is as expected.
    fn holds_at(&self, Place { at, height, facing }: Place) -> bool {
        let area = self.area.as_ref().is_none_or(|area| {
            let (min, max) = (area.region.min, area.region.max);
            let within = at.x >= min.x && at.x <= max.x && at.y >= min.y && at.y <= max.y;
            let span = area.span;
            let high = span.is_none_or(|span| height >= span.low && height <= span.high);
            (within && high) == area.inside
        });
        area && self.facing.is_none_or(|heading| heading.holds(facing))
    }

    /// How far a place is from being so: in units, or in degrees where it is.
    fn distance(&self, Place { at, height, facing }: Place) -> f64 {
        let away = self.area.as_ref().map_or(0.0, |area| {
            let span = area.span.map_or(0.0, |span| {
                (span.low - height).max(height - span.high).max(0.0)
            });
            (at - nearest(area.region, at)).length() + span
        });
        away + self.facing.map_or(0.0, |heading| heading.misses(facing))
    }
}

impl Probe<'_> {
    /// The last line of the ledger up to a tick.
    fn last_line(&self, tick: Tick) -> LineId {
        let events = self.replay.ledger().events();
        let count = events.partition_point(|event| event.tick <= tick);
        let found = events[..count].last().or(events.first());
        found.map_or(LineId(1), |event| event.id)
    }
}

/// The point of a rectangle that is nearest to another.
fn nearest(region: Bounds, at: Vec2) -> Vec2 {
    let within = |value: f64, least: f64, most: f64| value.max(least).min(most);
    Vec2::new(
        within(at.x, region.min.x, region.max.x),
        within(at.y, region.min.y, region.max.y),
    )
}
