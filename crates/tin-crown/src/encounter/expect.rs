//! Expectations: what drills have to come to.

use super::gate::Level;
use super::heading::Heading;
use super::pattern::{Events, Happening, Pattern};
use super::portion::Portion;
use super::zone::Zone;
use crate::limits;
use crate::map::Map;
use crate::outcome::Outcome;
use crate::syntax::{Short, Table, Words, written_as};
use crate::time::Duration;

/// What a drill has to come to.
///
/// ```
/// use tin_crown::{Expectation, Pattern};
///
/// let crush = Expectation::happens(Pattern::hit("porter", "beetle_1"))
///     .when("1.62s".parse()?)
///     .within("3t".parse()?);
/// let unhurt = Expectation::never(Pattern::hit("*", "porter"));
/// # assert_ne!(crush, unhurt);
/// # Ok::<(), tin_crown::time::DurationError>(())
/// ```
#[derive(Clone, Debug, PartialEq)]
pub struct Expectation {
    /// What is expected.
    pub what: Expected,
    /// When; of a count or a distance in time, this is not asked.
    pub when: Option<Duration>,
    /// How far off a time may be, either way.
    pub within: Option<Duration>,
    /// Only what comes from this moment on counts.
    pub from: Option<Duration>,
    /// Only what comes up to this moment counts.
    pub to: Option<Duration>,
    /// How often; at least once when absent.
    pub times: Option<Times>,
    /// How far apart every two in succession are at least.
    pub apart: Option<Duration>,
    /// It comes before the first of these.
    pub before: Option<Pattern>,
    /// It comes after the first of these; with `by` after each of them.
    pub after: Option<Pattern>,
    /// How long after each of those.
    pub by: Option<Duration>,
    /// Only what comes while this is so counts.
    pub during: Option<During>,
}

/// What is expected.
#[derive(Clone, Debug, PartialEq)]
#[non_exhaustive]
pub enum Expected {
    /// Something happens.
    Happens(Pattern),
    /// Something never happens.
    Never(Pattern),
    /// A meter stands so.
    Meter(MeterStand),
    /// Lives stand so.
    Lives(LivesStand),
    /// An actor is in some place.
    Place(Stay),
    /// The drill ends so.
    Ends(Outcome),
}

/// How often something happens.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Times {
    /// At least so often.
    pub least: u32,
    /// At most so often.
    pub most: u32,
}

/// How a meter stands.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct MeterStand {
    /// Whose meter; each of them.
    pub who: String,
    /// Which.
    pub meter: String,
    /// It holds this at the end of the tick `when`, else at the end of the drill.
    pub is: Option<Portion>,
    /// It never holds less, from the owner's first appearance on.
    pub at_least: Option<Portion>,
    /// It never holds more.
    pub at_most: Option<Portion>,
}

/// How many lives an actor has.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct LivesStand {
    /// Whose lives; each of theirs.
    pub who: String,
    /// So many at the end of the tick `when`, else at the end of the drill.
    pub is: Option<u32>,
    /// Never fewer.
    pub at_least: Option<u32>,
    /// Never more.
    pub at_most: Option<u32>,
}

/// Where an actor is, and which way it faces.
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(
    some_of("inside", "outside", "facing"),
    at_most_one("inside", "outside")
)]
pub struct Stay {
    /// Who; each of them.
    #[key(required, text = "selector")]
    pub who: String,
    /// Its position is within this region, its edges included.
    pub inside: Option<Zone>,
    /// Its position is not within this region.
    pub outside: Option<Zone>,
    /// It faces that way, or from the first angle on to the second.
    #[key(range = limits::ANGLE)]
    pub facing: Option<Heading>,
    /// Whether it is so always, or at least once, while it exists.
    #[key(absent = "at the end of the tick `when`, else of the drill")]
    pub holds: Option<Holding>,
}

/// How long something must hold.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Words)]
pub enum Holding {
    /// On every tick on which the actor exists.
    Always,
    /// On one tick at least.
    Ever,
}

/// What must hold for an actor while something happens.
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(some_of("state", "attack", "guarding", "stunned", "dying", "meter"))]
pub struct During {
    /// Of whom; one of them is enough.
    #[key(required, text = "selector")]
    pub who: String,
    /// The state that it is in.
    #[key(text = "state", absent = "any")]
    pub state: Option<String>,
    /// The attack that it is in.
    #[key(text = "attack", absent = "any")]
    pub attack: Option<String>,
    /// Whether its guard is up.
    #[key(absent = "any")]
    pub guarding: Option<bool>,
    /// Whether it is stunned.
    #[key(absent = "any")]
    pub stunned: Option<bool>,
    /// Whether its death plays out.
    #[key(absent = "any")]
    pub dying: Option<bool>,
    /// What one of its meters holds.
    #[key(name = "meter", absent = "any")]
    pub meters: Map<String, Level>,
}

/// One that could not be read: its finding is there.
impl Default for Expected {
    fn default() -> Expected {
        Expected::Never(Pattern::new(Happening::Reset))
    }
}

impl Default for Expectation {
    fn default() -> Expectation {
        Expectation::new(Expected::default())
    }
}

impl Expectation {
    /// Expects something.
    pub fn new(what: Expected) -> Expectation {
        Expectation {
            what,
            when: None,
            within: None,
            from: None,
            to: None,
            times: None,
            apart: None,
            before: None,
            after: None,
            by: None,
            during: None,
        }
    }

    /// Expects that something happens.
    pub fn happens(pattern: Pattern) -> Expectation {
        Expectation::new(Expected::Happens(pattern))
    }

    /// Expects that something never happens.
    pub fn never(pattern: Pattern) -> Expectation {
        Expectation::new(Expected::Never(pattern))
    }

    /// Says when.
    #[must_use]
    pub fn when(mut self, when: Duration) -> Expectation {
        self.when = Some(when);
        self
    }

    /// Says how far off a time may be, either way.
    #[must_use]
    pub fn within(mut self, within: Duration) -> Expectation {
        self.within = Some(within);
        self
    }

    /// Says how often.
    #[must_use]
    pub fn times(mut self, times: u32) -> Expectation {
        self.times = Some(Times {
            least: times,
            most: times,
        });
        self
    }

    /// Says how far apart every two in succession are at least.
    #[must_use]
    pub fn apart(mut self, length: Duration) -> Expectation {
        self.apart = Some(length);
        self
    }
}

/// An expectation as it stands in a file.
#[derive(Clone, Default, PartialEq, Table)]
#[table(
    no_builder,
    most = limits::EXPECTATIONS,
    one_of(
        "hit", "death", "gone", "respawn", "reach", "cue", "shot", "dry_fire", "attack", "state",
        "sense", "pickup", "reset", "appear", "vanish", "lose", "stun", "guard_break", "parry",
        "push", "landing", "input", "ignored", "apply", "meter", "lives", "place", "never", "outcome"
    )
)]
struct WrittenExpectation {
    #[key(flatten)]
    events: Events,
    /// How a meter stands, or what level it passes.
    meter: Option<WrittenMeter>,
    /// How many lives an actor has, or what number they pass.
    lives: Option<WrittenLives>,
    /// Where an actor is, and which way it faces.
    place: Option<Stay>,
    /// None of these comes about.
    never: Option<Pattern>,
    /// How the drill ends.
    outcome: Option<Outcome>,
    /// It comes at that time.
    #[key(absent = "any time")]
    when: Option<Duration>,
    /// Only what comes from then on counts.
    #[key(absent = "the beginning")]
    from: Option<Duration>,
    /// Only what comes up to then counts.
    #[key(absent = "the end")]
    to: Option<Duration>,
    /// How often.
    #[key(absent = "at least once")]
    times: Option<Times>,
    /// How far apart every two in succession are at least.
    #[key(absent = "any")]
    apart: Option<Duration>,
    /// It comes before the first of these in the drill.
    #[key(absent = "any")]
    before: Option<Pattern>,
    /// It comes after the first of these; with `by`, after each of them.
    #[key(absent = "any")]
    after: Option<Pattern>,
    /// So long after each `after`; what is due after the end of the drill is passed over.
    #[key(absent = "any time")]
    by: Option<Duration>,
    /// How much earlier or later it may come, of `when` or `by`.
    #[key(default = "\"0t\"")]
    within: Option<Duration>,
    /// Only what comes while that holds counts; as it was just before the line.
    #[key(name = "while", absent = "always")]
    during: Option<During>,
}

/// `meter` of an expectation: how it stands, or the level that it passes.
#[derive(Clone, Default, PartialEq, Table)]
#[table(
    no_builder,
    some_of("passes", "is", "at_least", "at_most"),
    at_most_one("passes", "is"),
    at_most_one("passes", "at_least"),
    at_most_one("passes", "at_most"),
    at_most_one("is", "at_least"),
    at_most_one("is", "at_most")
)]
struct WrittenMeter {
    /// Whose meter; each of them.
    #[key(required, text = "selector")]
    who: String,
    /// Which.
    #[key(required, text = "meter")]
    meter: String,
    /// It passes that level, either way, or comes to it.
    passes: Option<Portion>,
    /// It holds this at the end of the tick `when`, else at the end of the drill.
    is: Option<Portion>,
    /// It never holds less, from the owner's first appearance on.
    at_least: Option<Portion>,
    /// It never holds more.
    at_most: Option<Portion>,
}

/// `lives` of an expectation: how many there are, or what number they pass.
#[derive(Clone, Default, PartialEq, Table)]
#[table(
    no_builder,
    some_of("passes", "is", "at_least", "at_most"),
    at_most_one("passes", "is"),
    at_most_one("passes", "at_least"),
    at_most_one("passes", "at_most"),
    at_most_one("is", "at_least"),
    at_most_one("is", "at_most")
)]
struct WrittenLives {
    /// Whose lives; each of theirs.
    #[key(required, text = "selector")]
    who: String,
    /// They pass that number, either way, or come to it.
    passes: Option<u32>,
    /// So many at the end of the tick `when`, else at the end of the drill.
    is: Option<u32>,
    /// Never fewer.
    at_least: Option<u32>,
    /// Never more.
    at_most: Option<u32>,
}

/// `times = 2`, or `times = { at_least = 1, at_most = 3 }`.
#[derive(Clone, Default, PartialEq, Table)]
#[table(no_builder, short = u32, some_of("at_least", "at_most"))]
struct WrittenTimes {
    /// At least so often.
    #[key(default = "0")]
    at_least: Option<u32>,
    /// At most so often.
    #[key(absent = "any number")]
    at_most: Option<u32>,
}

written_as!(Expectation, WrittenExpectation, most = limits::EXPECTATIONS);
written_as!(Times, WrittenTimes);

impl From<WrittenExpectation> for Expectation {
    fn from(written: WrittenExpectation) -> Expectation {
        let what = if let Some(pattern) = written.events.pattern() {
            Expected::Happens(pattern)
        } else if let Some(meter) = written.meter {
            meter.into()
        } else if let Some(lives) = written.lives {
            lives.into()
        } else if let Some(stay) = written.place {
            Expected::Place(stay)
        } else if let Some(pattern) = written.never {
            Expected::Never(pattern)
        } else {
            written.outcome.map(Expected::Ends).unwrap_or_default()
        };
        Expectation {
            what,
            when: written.when,
            within: written.within,
            from: written.from,
            to: written.to,
            times: written.times,
            apart: written.apart,
            before: written.before,
            after: written.after,
            by: written.by,
            during: written.during,
        }
    }
}

impl From<Expectation> for WrittenExpectation {
    fn from(expectation: Expectation) -> WrittenExpectation {
        let mut written = WrittenExpectation {
            when: expectation.when,
            within: expectation.within,
            from: expectation.from,
            to: expectation.to,
            times: expectation.times,
            apart: expectation.apart,
            before: expectation.before,
            after: expectation.after,
            by: expectation.by,
            during: expectation.during,
            ..WrittenExpectation::default()
        };
        match expectation.what {
            Expected::Happens(pattern) if pattern.happening == Happening::Passes => {
                written.meter = Some(WrittenMeter {
                    who: pattern.who.unwrap_or_default(),
                    meter: pattern.name.unwrap_or_default(),
                    passes: pattern.passes,
                    ..WrittenMeter::default()
                });
            }
            Expected::Happens(pattern) if pattern.happening == Happening::Lives => {
                written.lives = Some(WrittenLives {
                    who: pattern.who.unwrap_or_default(),
                    passes: pattern.lives,
                    ..WrittenLives::default()
                });
            }
            Expected::Happens(pattern) => written.events = Events::of(&pattern),
            Expected::Never(pattern) => written.never = Some(pattern),
            Expected::Meter(stand) => {
                written.meter = Some(WrittenMeter {
                    who: stand.who,
                    meter: stand.meter,
                    passes: None,
                    is: stand.is,
                    at_least: stand.at_least,
                    at_most: stand.at_most,
                });
            }
            Expected::Lives(stand) => {
                written.lives = Some(WrittenLives {
                    who: stand.who,
                    passes: None,
                    is: stand.is,
                    at_least: stand.at_least,
                    at_most: stand.at_most,
                });
            }
            Expected::Place(stay) => written.place = Some(stay),
            Expected::Ends(outcome) => written.outcome = Some(outcome),
        }
        written
    }
}

/// With `passes` it is something that happens; else it says how the meter stands.
impl From<WrittenMeter> for Expected {
    fn from(written: WrittenMeter) -> Expected {
        match written.passes {
            None => Expected::Meter(MeterStand {
                who: written.who,
                meter: written.meter,
                is: written.is,
                at_least: written.at_least,
                at_most: written.at_most,
            }),
            Some(level) => Expected::Happens(Pattern {
                who: Some(written.who),
                name: Some(written.meter),
                passes: Some(level),
                ..Pattern::new(Happening::Passes)
            }),
        }
    }
}

/// With `passes` it is something that happens; else it says how many there are.
impl From<WrittenLives> for Expected {
    fn from(written: WrittenLives) -> Expected {
        match written.passes {
            None => Expected::Lives(LivesStand {
                who: written.who,
                is: written.is,
                at_least: written.at_least,
                at_most: written.at_most,
            }),
            Some(number) => Expected::Happens(Pattern {
                who: Some(written.who),
                lives: Some(number),
                ..Pattern::new(Happening::Lives)
            }),
        }
    }
}

impl Short<u32> for WrittenTimes {
    fn from_short(times: u32) -> WrittenTimes {
        WrittenTimes {
            at_least: Some(times),
            at_most: Some(times),
        }
    }

    fn to_short(&self) -> Option<u32> {
        self.at_least.filter(|_| self.at_least == self.at_most)
    }
}

impl From<WrittenTimes> for Times {
    fn from(written: WrittenTimes) -> Times {
        Times {
            least: written.at_least.unwrap_or(0),
            most: written.at_most.unwrap_or(u32::MAX),
        }
    }
}

impl From<Times> for WrittenTimes {
    fn from(times: Times) -> WrittenTimes {
        WrittenTimes {
            at_least: Some(times.least).filter(|least| *least > 0 || times.most == u32::MAX),
            at_most: Some(times.most).filter(|most| *most < u32::MAX),
        }
    }
}
