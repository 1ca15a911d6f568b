//! Expectations drafted from what happened.

use super::{KeepError, Kept, Session};
use crate::encounter::{Expectation, Expected, Happening, MeterStand, Pattern, Portion};
use crate::ledger::{Event, Replay, What};
use crate::plan::ActorIx;
use crate::time::{Duration, Tick, Ticks};
use crate::verdict::Verdict;

/// So many events are drafted.
const EVENTS: usize = 60;
/// How far off a drafted time may be.
const WITHIN: Ticks = Ticks(3);

/// An expectation that what was played meets.
#[derive(Clone, Debug, PartialEq)]
pub struct Draft {
    /// What is expected, in words.
    pub said: String,
    /// The expectation.
    pub expectation: Expectation,
}

impl Session {
    /// Expectations that what is kept meets: who hit whom and when, who died, what was reached and taken, how it ended, what
    /// meters held in the end, and who was never hit. Each is tested before it is drafted.
    ///
    /// # Errors
    ///
    /// When the drill cannot be replayed with them.
    pub fn drafts(&self, kept: &Kept) -> Result<Vec<Draft>, KeepError> {
        let mut drill = kept.drill.clone();
        drill.expect = candidates(&kept.replay, self.driven());
        let (plan, index) = self.planned(&drill)?;
        let replay = plan.replay(plan.drills()[index.index()].name())?;
        let own = plan.expectations().of(index).take(drill.expect.len());
        let tested = replay.test_all(own);
        let drafts = drill.expect.into_iter().zip(tested);
        let met = drafts.filter(|(_, tested)| tested.miss.is_none());
        Ok(met
            .map(|(expectation, tested)| Draft {
                said: tested.said,
                expectation,
            })
            .collect())
    }
}

/// What may be expected of a replay.
fn candidates(replay: &Replay, driven: Option<&str>) -> Vec<Expectation> {
    let plan = replay.plan();
    let rate = plan.rate();
    let id = |actor: ActorIx| plan.actors()[actor.index()].id().to_owned();
    let root = |actor: Option<ActorIx>| actor.map(|actor| id(replay.root(actor)));
    let timed = |pattern: Pattern, tick: Tick| {
        Expectation::happens(pattern)
            .when(Duration::near(Ticks(tick.0), rate))
            .within(Duration::ticked(WITHIN.0))
    };
    let events = replay.ledger().events().iter();
    let told = events.filter_map(|event| Some(timed(pattern(replay, event, root)?, event.tick)));
    let mut all: Vec<Expectation> = told.take(EVENTS).collect();
    let outcome = replay
        .ledger()
        .events()
        .iter()
        .rev()
        .find_map(|event| match event.what {
            What::Outcome(outcome) => Some(outcome),
            _ => None,
        });
    all.extend(outcome.map(|outcome| Expectation::new(Expected::Ends(outcome))));
    let Some(driven) = driven.and_then(|id| plan.actor(id).ok()) else {
        return all;
    };
    let hurt = |event: &Event| {
        let landed = matches!(&event.what, What::Hit(hit) if hit.verdict == Verdict::Landed);
        landed && event.whom == Some(driven)
    };
    if !replay.ledger().events().iter().any(hurt) {
        let never = Pattern::hit("*", id(driven)).verdict(Verdict::Landed);
        all.push(Expectation::never(never));
    }
    for end in &replay.summary().ends {
        if end.who == driven {
            let meters = end.meters.iter();
            all.extend(meters.map(|meter| {
                Expectation::new(Expected::Meter(MeterStand {
                    who: id(driven),
                    meter: plan.names().meters()[meter.meter].to_owned(),
                    is: Some(Portion::Amount(meter.end.as_f64())),
                    ..MeterStand::default()
                }))
            }));
        }
    }
    all
}

/// The pattern of an event that is worth expecting.
fn pattern(
    replay: &Replay,
    event: &Event,
    root: impl Fn(Option<ActorIx>) -> Option<String>,
) -> Option<Pattern> {
    let plan = replay.plan();
    match &event.what {
        What::Hit(hit) if hit.verdict.took_effect() => {
            let pattern = Pattern::hit(root(event.who)?, root(event.whom)?).verdict(hit.verdict);
            Some(match event.rule {
                Some(rule) => pattern.rule(plan.rules()[rule.index()].name()),
                None => pattern,
            })
        }
        What::Death { .. } => of(Happening::Death, root(event.who)),
        What::Respawn { .. } => of(Happening::Respawn, root(event.who)),
        What::Pickup => Some(Pattern {
            whom: root(event.whom),
            ..of(Happening::Pickup, root(event.who))?
        }),
        What::Checkpoint { checkpoint } => {
            let name = plan.checkpoints()[checkpoint.index()].name();
            Some(reach(name, root(event.who)?))
        }
        What::Exit { exit } => {
            let name = plan.exits()[exit.index()].name();
            Some(reach(name, root(event.who)?))
        }
        _ => None,
    }
}

fn reach(name: &str, who: String) -> Pattern {
    Pattern {
        who: Some(who),
        name: Some(name.to_owned()),
        ..Pattern::new(Happening::Reach)
    }
}

fn of(happening: Happening, who: Option<String>) -> Option<Pattern> {
    Some(Pattern {
        who: Some(who?),
        ..Pattern::new(happening)
    })
}
