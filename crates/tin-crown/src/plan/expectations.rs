//! Resolved expectations.

mod resolve;

use tin_crown_derive::Getters;

use super::choice::Chosen;
use super::index::{
    AttackNameIx, CheckpointIx, CueIx, DrillIx, ExitIx, MeterIx, RuleIx, SensorNameIx, StateNameIx,
};
use crate::amount::Amount;
use crate::encounter::{Happening, Times};
use crate::finding::{Path, Span};
use crate::outcome::Outcome;
use crate::time::{Tick, Ticks};
use crate::verdict::Verdict;
pub(crate) use resolve::beside;
pub(super) use resolve::resolve;

/// What drills have to come to.
#[derive(Clone, Debug, Default, Getters, PartialEq)]
pub struct Expectations {
    /// Of every drill.
    pub(crate) all: Vec<ExpectPlan>,
    /// Of each drill alone.
    pub(crate) drills: Vec<Vec<ExpectPlan>>,
}

/// A resolved expectation.
#[derive(Clone, Debug, Getters, PartialEq)]
pub struct ExpectPlan {
    /// What is expected.
    pub(crate) what: ExpectedPlan,
    /// When.
    pub(crate) when: Option<Tick>,
    /// How far off a time may be.
    pub(crate) within: Ticks,
    /// Only what comes from here on counts.
    pub(crate) from: Tick,
    /// Only what comes up to here counts, when it says so.
    pub(crate) to: Option<Tick>,
    /// How often.
    pub(crate) times: Option<Times>,
    /// How far apart every two in succession are at least.
    pub(crate) apart: Option<Ticks>,
    /// It comes before the first of these.
    pub(crate) before: Option<PatternPlan>,
    /// It comes after the first of these, or, with `by`, each of them.
    pub(crate) after: Option<PatternPlan>,
    /// How long after each of those.
    pub(crate) by: Option<Ticks>,
    /// Only what comes while this is so counts.
    pub(crate) during: Option<DuringPlan>,
    /// Where it is written.
    pub(crate) path: Path,
    /// Where in the text, when it came from one.
    pub(crate) span: Option<Span>,
}

/// What is expected, resolved.
#[derive(Clone, Debug, PartialEq)]
pub enum ExpectedPlan {
    /// Something happens.
    Happens(PatternPlan),
    /// Something never happens.
    Never(PatternPlan),
    /// A meter stands so.
    Meter(StandPlan),
    /// The drill ends so.
    Ends(Outcome),
}

/// Events that are alike, resolved. What is absent may be anything.
#[derive(Clone, Debug, Getters, PartialEq)]
pub struct PatternPlan {
    /// What happens.
    pub(crate) happening: Happening,
    /// Who acts: they, or what they launched.
    pub(crate) who: Option<Chosen>,
    /// Who is acted on.
    pub(crate) whom: Option<Chosen>,
    /// By which rule.
    pub(crate) rule: Option<RuleIx>,
    /// The verdict of a hit.
    #[getters(copy)]
    pub(crate) verdict: Option<Verdict>,
    /// How much.
    pub(crate) amount: Option<Amount>,
    /// What it is about.
    pub(crate) about: Option<About>,
    /// The level that a meter passes.
    pub(crate) passes: Option<Amount>,
}

/// What an event is about, by its name.
#[derive(Clone, Debug, PartialEq)]
pub enum About {
    /// A checkpoint, an exit, or both of one name.
    Place(Option<CheckpointIx>, Option<ExitIx>),
    /// A cue.
    Cue(CueIx),
    /// A launcher.
    Launcher(String),
    /// An attack.
    Attack(AttackNameIx),
    /// A state.
    State(StateNameIx),
    /// A sensor.
    Sensor(SensorNameIx),
    /// A meter.
    Meter(MeterIx),
}

/// How a meter stands, resolved.
#[derive(Clone, Debug, Getters, PartialEq)]
pub struct StandPlan {
    /// Whose.
    pub(crate) who: Chosen,
    /// Which.
    pub(crate) meter: MeterIx,
    /// What it holds.
    #[getters(copy)]
    pub(crate) holds: Holds,
}

/// What a meter holds.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Holds {
    /// This, at a time or at the end.
    Just(Amount),
    /// Never less than the first, never more than the second.
    Between(Option<Amount>, Option<Amount>),
}

/// What must hold for an actor meanwhile, resolved.
#[derive(Clone, Debug, Getters, PartialEq)]
pub struct DuringPlan {
    /// Of one of these at least.
    pub(crate) who: Chosen,
    /// The state that it is in.
    pub(crate) state: Option<StateNameIx>,
    /// The attack that it is in.
    pub(crate) attack: Option<AttackNameIx>,
    /// Whether its guard is raised.
    pub(crate) guarding: Option<bool>,
    /// Whether it is stunned.
    pub(crate) stunned: Option<bool>,
    /// Whether its death plays out.
    pub(crate) dying: Option<bool>,
    /// Between what its meters lie.
    pub(crate) meters: Vec<(MeterIx, Option<Amount>, Option<Amount>)>,
}

impl Expectations {
    /// Those that a drill has to meet: its own, then those of every drill.
    pub fn of(&self, drill: DrillIx) -> impl Iterator<Item = &ExpectPlan> {
        let own = self.drills.get(drill.index()).into_iter().flatten();
        own.chain(&self.all)
    }

    /// Fills in where in the text each is written.
    pub(crate) fn locate(&mut self, locate: impl Fn(&Path) -> Option<Span>) {
        for one in self.drills.iter_mut().flatten().chain(&mut self.all) {
            one.span = locate(&one.path);
        }
    }
}
