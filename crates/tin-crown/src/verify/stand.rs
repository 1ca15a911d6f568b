//! Expectations of how a meter stands.

use super::meanwhile::Stage;
use super::{Miss, Probe};
use crate::amount::Amount;
use crate::ledger::{LineId, What};
use crate::map::Map;
use crate::plan::{ActorIx, Counted, Holds, StandPlan};
use crate::time::Tick;

/// What a meter holds from a tick on, and the line that says so.
type Course = Vec<(Tick, Amount, LineId)>;

pub(super) fn miss(trial: &Probe<'_>, stand: &StandPlan) -> Option<Miss> {
    let name = stand.of.said(trial.replay.plan());
    let courses = courses(trial, stand);
    if courses.is_empty() {
        return Some(Miss {
            because: format!("no actor that `{}` matches ever has `{name}`", stand.who),
            line: None,
            differs: None,
            around: Vec::new(),
        });
    }
    courses
        .iter()
        .find_map(|(&owner, course)| one(trial, stand, owner, course))
}

/// What a meter of each of them holds, one after the other, while it counts.
pub(super) fn held(trial: &Probe<'_>, stand: &StandPlan) -> Vec<Vec<Amount>> {
    let expected = trial.expected;
    let each = courses(trial, stand).into_values().map(|course| {
        let ends = course.iter().skip(1).map(|(tick, ..)| *tick);
        let spans = course.iter().zip(ends.map(Some).chain([None]));
        let counted = spans.filter(|((since, ..), until)| {
            let over = until.is_some_and(|until| until <= expected.from && until > *since);
            !over && expected.to.is_none_or(|to| *since <= to)
        });
        counted.map(|((_, held, _), _)| *held).collect()
    });
    each.collect()
}

/// How much each of them has, from their first appearance on.
fn courses(trial: &Probe<'_>, stand: &StandPlan) -> Map<ActorIx, Course> {
    let replay = trial.replay;
    let meter = match stand.of {
        Counted::Meter(meter) => meter,
        Counted::Lives => return lives(trial, stand),
    };
    let mut courses: Map<ActorIx, Course> = Map::new();
    let mut stage = Stage::new(replay);
    for event in replay.ledger().events() {
        stage.take(event);
        let owner = match event.what {
            What::Appear => event.who,
            What::Meter { meter: own, .. } if own == meter => event.whom.or(event.who),
            _ => None,
        };
        let Some(owner) = owner.filter(|owner| replay.is_chosen(&stand.who, *owner)) else {
            continue;
        };
        let held = stage
            .cast
            .get(&owner)
            .and_then(|own| own.meters.get(&meter));
        if let Some(held) = held {
            courses
                .or_default(owner)
                .push((event.tick, *held, event.id));
        }
    }
    courses
}

/// How many lives each of them has, where they are counted.
fn lives(trial: &Probe<'_>, stand: &StandPlan) -> Map<ActorIx, Course> {
    let replay = trial.replay;
    let mut courses: Map<ActorIx, Course> = Map::new();
    for event in replay.ledger().events() {
        let Some(who) = event.who.filter(|who| replay.is_chosen(&stand.who, *who)) else {
            continue;
        };
        let has = match event.what {
            What::Appear if !courses.contains_key(&who) => {
                let respawn = replay.spec(who).respawn.as_ref();
                respawn.and_then(|respawn| respawn.lives)
            }
            What::Life { after, .. } => Some(after),
            _ => None,
        };
        if let Some(has) = has {
            let amount = Amount::thousandths(1000 * i64::from(has));
            let course = courses.or_default(who);
            course.push((event.tick, amount, event.id));
        }
    }
    courses
}

fn one(trial: &Probe<'_>, stand: &StandPlan, owner: ActorIx, course: &Course) -> Option<Miss> {
    let replay = trial.replay;
    let id = replay.id(owner);
    let name = stand.of.said(replay.plan());
    let spec = replay.spec(owner);
    let max = match stand.of {
        Counted::Meter(meter) => spec.meters[spec.meter(meter)?].max,
        Counted::Lives => Amount::ZERO,
    };
    let expected = trial.expected;
    match stand.holds {
        Holds::Just(wanted) => {
            let wanted = wanted.of(max);
            // What was said last up to the end of a tick.
            let at = |tick: Tick| course.iter().rev().find(|(since, ..)| *since <= tick);
            let last = course.last()?;
            let (held, when) = match trial.window() {
                None => (Some(last), None),
                Some((from, to)) => {
                    let end = replay.ledger().events().last()?;
                    if from > end.tick {
                        let because = format!("the drill ends before, {}", trial.time(end.tick));
                        return Some(trial.at(because, end.id));
                    }
                    let to = to.min(end.tick);
                    let mut ticks = (from.0..=to.0).map(|tick| at(Tick(tick)));
                    if ticks.any(|held| held.is_some_and(|(_, held, _)| *held == wanted)) {
                        return None;
                    }
                    (at(expected.when?), expected.when)
                }
            };
            let Some(&(_, held, line)) = held else {
                return Some(trial.at(format!("{id} does not exist yet"), course[0].2));
            };
            let when = when.map_or("at the end".to_owned(), |tick| trial.time(tick));
            (held != wanted).then(|| trial.at(format!("{name} of {id} is {held} {when}"), line))
        }
        Holds::Between(least, most) => {
            let [least, most] = [least, most].map(|level| level.map(|level| level.of(max)));
            let ends = course.iter().skip(1).map(|(tick, ..)| *tick);
            let spans = course.iter().zip(ends.map(Some).chain([None]));
            let broken = spans.into_iter().find(|((since, held, _), until)| {
                // What is changed again on its own tick has been so all the same.
                let over = until.is_some_and(|until| until <= expected.from && until > *since);
                let early = expected.to.is_some_and(|to| *since > to);
                let low = least.is_some_and(|least| *held < least);
                let high = most.is_some_and(|most| *held > most);
                !over && !early && (low || high)
            });
            let (&(tick, held, line), _) = broken?;
            Some(trial.at(
                format!("{name} of {id} is {held} {}", trial.time(tick)),
                line,
            ))
        }
    }
}
