//! Resolved expectations.

mod resolve;

use tin_crown_derive::Getters;

use super::choice::Chosen;
use super::index::{
    AttackNameIx, ButtonIx, CheckpointIx, CueIx, DrillIx, ExitIx, MeterIx, RuleIx, SensorNameIx,
    StateNameIx,
};
use super::portion::PortionPlan;
use crate::amount::Amount;
use crate::encounter::{Ending, Happening, Heading, Holding, Times};
use crate::finding::{Path, Span};
use crate::geometry::{Bounds, HeightSpan};
use crate::outcome::Outcome;
use crate::reason::{Asked, DeathCause, Despite, DryReason, GuardSaid, Over};
use crate::time::{Tick, Ticks};
use crate::verdict::Verdict;
pub(crate) use resolve::beside;
pub(super) use resolve::{alone, event, resolve};

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
    /// Where in a text, when it came from one.
    pub(crate) place: Option<Place>,
}

/// Where an expectation is written.
#[derive(Clone, Debug, PartialEq)]
pub(crate) enum Place {
    /// In the text that was read.
    Here(Span),
    /// In a file that it names: what that is called, and the line, from 1 on.
    Beside(String, usize),
}

/// What is expected, resolved.
#[derive(Clone, Debug, PartialEq)]
pub enum ExpectedPlan {
    /// Something happens.
    Happens(PatternPlan),
    /// Something never happens.
    Never(PatternPlan),
    /// A meter, or lives, stand so.
    Stand(StandPlan),
    /// An actor is in some place.
    Place(StayPlan),
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
    /// The level that a meter, or the number of lives, passes.
    pub(crate) passes: Option<PortionPlan>,
    /// What a guard did with a hit.
    #[getters(copy)]
    pub(crate) guard: Option<GuardSaid>,
    /// The cause of a death.
    #[getters(copy)]
    pub(crate) cause: Option<DeathCause>,
    /// The actor that a death is credited to.
    pub(crate) by: Option<Chosen>,
    /// What made something vanish.
    #[getters(copy)]
    pub(crate) ending: Option<Ending>,
    /// Why a launcher launched nothing.
    #[getters(copy)]
    pub(crate) dry: Option<DryReason>,
    /// What an attack began in spite of.
    pub(crate) despite: Option<Despite>,
    /// What had no effect.
    pub(crate) asked: Option<Asked>,
    /// Whether an effect from outside killed outright.
    pub(crate) kills: Option<bool>,
    /// How an attack ended; its beginning when absent.
    #[getters(copy)]
    pub(crate) over: Option<Over>,
    /// Whether a button goes down.
    pub(crate) down: Option<bool>,
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
    /// A button.
    Button(ButtonIx),
    /// What an actor does with itself, by its word in the ledger.
    Bearing(&'static str),
}

/// How a meter, or lives, stand, resolved.
#[derive(Clone, Debug, Getters, PartialEq)]
pub struct StandPlan {
    /// Whose.
    pub(crate) who: Chosen,
    /// What is counted.
    #[getters(copy)]
    pub(crate) of: Counted,
    /// How much.
    #[getters(copy)]
    pub(crate) holds: Holds,
}

/// What is counted of an actor.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Counted {
    /// A meter.
    Meter(MeterIx),
    /// Its lives.
    Lives,
}

/// How much there is.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Holds {
    /// This, at a time or at the end.
    Just(PortionPlan),
    /// Never less than the first, never more than the second.
    Between(Option<PortionPlan>, Option<PortionPlan>),
}

/// Where an actor is, resolved.
#[derive(Clone, Debug, Getters, PartialEq)]
pub struct StayPlan {
    /// Who; each of them.
    pub(crate) who: Chosen,
    /// Where, unless it may be anywhere.
    pub(crate) area: Option<StayArea>,
    /// Which way it faces, unless that may be any.
    #[getters(copy)]
    pub(crate) facing: Option<Heading>,
    /// For how long; at a time or at the end when absent.
    #[getters(copy)]
    pub(crate) holds: Option<Holding>,
}

/// Where an actor is to be, or not to be.
#[derive(Clone, Debug, Getters, PartialEq)]
pub struct StayArea {
    /// The region.
    pub(crate) region: Bounds,
    /// From which height to which; through all when absent.
    #[getters(copy)]
    pub(crate) span: Option<HeightSpan>,
    /// Its name, or its corners as they are written.
    pub(crate) name: String,
    /// Whether it is within, or not.
    pub(crate) inside: bool,
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
    pub(crate) meters: Vec<(MeterIx, Option<PortionPlan>, Option<PortionPlan>)>,
}

impl Expectations {
    /// Those that a drill has to meet: its own, then those of every drill.
    pub fn of(&self, drill: DrillIx) -> impl Iterator<Item = &ExpectPlan> {
        let own = self.drills.get(drill.index()).into_iter().flatten();
        own.chain(&self.all)
    }

    /// Fills in where in the text each is written.
    pub(crate) fn locate(&mut self, locate: impl Fn(&Path) -> Option<Place>) {
        for one in self.drills.iter_mut().flatten().chain(&mut self.all) {
            one.place = locate(&one.path);
        }
    }
}
