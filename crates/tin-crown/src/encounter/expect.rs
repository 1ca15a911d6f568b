//! Expectations: what drills have to come to.

use std::collections::BTreeMap;

use super::gate::Level;
use super::read::{At, Fields, Read};
use crate::outcome::Outcome;
use crate::time::Duration;
use crate::verdict::Verdict;

/// What a drill has to come to, as written.
///
/// ```
/// use tin_crown::{Expectation, Pattern};
///
/// let crush = Expectation::happens(Pattern::hit("porter", "beetle_1"))
///     .when("1.62s".parse()?)
///     .within("3t".parse()?);
/// let unhurt = Expectation::never(Pattern::hit("*", "porter"));
/// # assert_ne!(crush, unhurt);
/// # Ok::<(), tin_crown::DurationError>(())
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
pub enum Expected {
    /// Something happens.
    Happens(Pattern),
    /// Something never happens.
    Never(Pattern),
    /// A meter stands so.
    Meter(MeterStand),
    /// The drill ends so.
    Ends(Outcome),
}

/// How often something happens, as written.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Times {
    /// At least so often.
    pub least: u32,
    /// At most so often.
    pub most: u32,
}

/// Events of the ledger that are alike, as written. What is absent may be anything.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Pattern {
    /// What happens.
    pub happening: Happening,
    /// A selector of who acts.
    pub who: Option<String>,
    /// A selector of who is acted on.
    pub whom: Option<String>,
    /// By which rule.
    pub rule: Option<String>,
    /// What came of a hit; that it landed or was guarded when absent.
    pub verdict: Option<Verdict>,
    /// How much.
    pub amount: Option<f64>,
    /// The name of what it is about: a cue, a checkpoint or exit, a launcher, an attack, a state, a
    /// sensor, a meter.
    pub name: Option<String>,
    /// The level that a meter passes, either way.
    pub passes: Option<f64>,
}

/// What can happen in a ledger.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Happening {
    /// A hit.
    #[default]
    Hit,
    /// Somebody begins to die.
    Death,
    /// Somebody is gone.
    Gone,
    /// Somebody comes back.
    Respawn,
    /// Somebody reaches a checkpoint or an exit.
    Reach,
    /// Something is announced.
    Cue,
    /// Something is launched.
    Shot,
    /// A launcher is set off and nothing comes out.
    DryFire,
    /// An attack begins.
    Attack,
    /// Somebody comes into a state.
    State,
    /// A sensor notices somebody.
    Sense,
    /// Somebody takes what lies about.
    Pickup,
    /// Everything is put back.
    Reset,
    /// A meter passes a level.
    Passes,
}

/// How a meter stands, as written.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct MeterStand {
    /// A selector of whose meter; of each of them.
    pub who: String,
    /// Which.
    pub meter: String,
    /// It holds this: at `when`, else at the end.
    pub is: Option<f64>,
    /// It never holds less.
    pub at_least: Option<f64>,
    /// It never holds more.
    pub at_most: Option<f64>,
}

/// What must be so of somebody while something happens, as written.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct During {
    /// A selector of whom; of one of them at least.
    pub who: String,
    /// The state that it is in.
    pub state: Option<String>,
    /// The attack that it is in.
    pub attack: Option<String>,
    /// Whether its guard is raised.
    pub guarding: Option<bool>,
    /// Whether it is stunned.
    pub stunned: Option<bool>,
    /// Whether its death plays out.
    pub dying: Option<bool>,
    /// Between what its meters lie.
    pub meters: BTreeMap<String, Level>,
}

impl Happening {
    /// Everything that can happen, by the key that asks for it.
    pub const ALL: [(&'static str, Happening); 13] = [
        ("hit", Happening::Hit),
        ("death", Happening::Death),
        ("gone", Happening::Gone),
        ("respawn", Happening::Respawn),
        ("reach", Happening::Reach),
        ("cue", Happening::Cue),
        ("shot", Happening::Shot),
        ("dry_fire", Happening::DryFire),
        ("attack", Happening::Attack),
        ("state", Happening::State),
        ("sense", Happening::Sense),
        ("pickup", Happening::Pickup),
        ("reset", Happening::Reset),
    ];

    /// The key of an event's name, where it has one.
    pub(crate) const fn name_key(self) -> Option<&'static str> {
        match self {
            Happening::Respawn | Happening::Reach => Some("at"),
            Happening::Cue => Some("name"),
            Happening::Shot | Happening::DryFire => Some("launcher"),
            Happening::Attack => Some("attack"),
            Happening::State => Some("state"),
            Happening::Sense => Some("sensor"),
            Happening::Passes => Some("meter"),
            Happening::Hit
            | Happening::Death
            | Happening::Gone
            | Happening::Pickup
            | Happening::Reset => None,
        }
    }
}

impl Pattern {
    /// Anything of that sort that happens.
    pub fn new(happening: Happening) -> Pattern {
        Pattern {
            happening,
            ..Pattern::default()
        }
    }

    /// A hit by whoever the first selector names on whoever the second does.
    pub fn hit(who: impl Into<String>, whom: impl Into<String>) -> Pattern {
        Pattern {
            who: Some(who.into()),
            whom: Some(whom.into()),
            ..Pattern::default()
        }
    }

    /// Asks for a rule.
    #[must_use]
    pub fn rule(mut self, rule: impl Into<String>) -> Pattern {
        self.rule = Some(rule.into());
        self
    }

    /// Asks for a verdict.
    #[must_use]
    pub fn verdict(mut self, verdict: Verdict) -> Pattern {
        self.verdict = Some(verdict);
        self
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

impl Read for Expectation {
    fn read(at: At<'_>) -> Option<Expectation> {
        at.table(|fields| {
            let mut found: Vec<(&str, Expected)> = Vec::new();
            let mut keys = vec!["never", "meter", "outcome"];
            if let Some(pattern) = fields.with("never", pattern_of) {
                found.push(("never", Expected::Never(pattern)));
            }
            for (key, happening) in Happening::ALL {
                keys.push(key);
                if let Some(pattern) = fields.with(key, |at| pattern(at, happening)) {
                    found.push((key, Expected::Happens(pattern)));
                }
            }
            if let Some(expected) = fields.with("meter", meter) {
                found.push(("meter", expected));
            }
            let outcome = fields.with("outcome", |at| {
                at.word(&[
                    ("won", Outcome::Won),
                    ("lost", Outcome::Lost),
                    ("ended", Outcome::Ended),
                ])
            });
            if let Some(outcome) = outcome {
                found.push(("outcome", Expected::Ends(outcome)));
            }
            fields.miss(&keys);
            for pair in found.windows(2) {
                fields.clash(pair[0].0, pair[1].0);
            }
            let (_, what) = found.into_iter().next().unwrap_or_default();
            Some(Expectation {
                what,
                when: fields.get("when"),
                within: fields.get("within"),
                from: fields.get("from"),
                to: fields.get("to"),
                times: fields.get("times"),
                apart: fields.get("apart"),
                before: fields.with("before", pattern_of),
                after: fields.with("after", pattern_of),
                by: fields.get("by"),
                during: fields.get("while"),
            })
        })
    }
}

/// One that could not be read: its finding is there.
impl Default for Expected {
    fn default() -> Expected {
        Expected::Never(Pattern::new(Happening::Reset))
    }
}

/// `{ hit = { … } }` and the like.
fn pattern_of(at: At<'_>) -> Option<Pattern> {
    at.table(|fields| {
        let mut found: Vec<(&str, Pattern)> = Vec::new();
        let mut keys = vec!["meter"];
        for (key, happening) in Happening::ALL {
            keys.push(key);
            if let Some(pattern) = fields.with(key, |at| pattern(at, happening)) {
                found.push((key, pattern));
            }
        }
        let passes = fields.with("meter", |at| pattern(at, Happening::Passes));
        found.extend(passes.map(|pattern| ("meter", pattern)));
        fields.miss(&keys);
        for pair in found.windows(2) {
            fields.clash(pair[0].0, pair[1].0);
        }
        found.into_iter().next().map(|(_, pattern)| pattern)
    })
}

fn pattern(at: At<'_>, happening: Happening) -> Option<Pattern> {
    if happening == Happening::Cue
        && let Some(name) = at.text()
    {
        return Some(Pattern {
            name: Some(name.to_owned()),
            ..Pattern::new(happening)
        });
    }
    at.table(|fields| Some(parts(fields, happening)))
}

fn parts(fields: &mut Fields<'_>, happening: Happening) -> Pattern {
    let mut pattern = Pattern {
        who: fields.get("who"),
        name: happening.name_key().and_then(|key| fields.get(key)),
        ..Pattern::new(happening)
    };
    match happening {
        Happening::Hit => {
            pattern.whom = fields.get("whom");
            pattern.rule = fields.get("rule");
            pattern.verdict = fields.with("verdict", |at| {
                at.word(&Verdict::ALL.map(|verdict| (verdict.as_str(), verdict)))
            });
            pattern.amount = fields.get("amount");
        }
        Happening::Sense | Happening::Pickup => pattern.whom = fields.get("whom"),
        Happening::Passes => {
            pattern.passes = fields.need("passes");
            fields.miss(&["meter"]);
        }
        _ => {}
    }
    pattern
}

/// `meter` with `passes` is something that happens; else it says how the meter stands.
fn meter(at: At<'_>) -> Option<Expected> {
    at.table(|fields| {
        let who = fields.need("who").unwrap_or_default();
        let name = fields.need("meter").unwrap_or_default();
        let passes = fields.get("passes");
        let stand = MeterStand {
            who,
            meter: name,
            is: fields.get("is"),
            at_least: fields.get("at_least"),
            at_most: fields.get("at_most"),
        };
        fields.miss(&["passes", "is", "at_least", "at_most"]);
        for other in ["is", "at_least", "at_most"] {
            fields.clash("passes", other);
        }
        for other in ["at_least", "at_most"] {
            fields.clash("is", other);
        }
        Some(match passes {
            None => Expected::Meter(stand),
            Some(level) => Expected::Happens(Pattern {
                who: Some(stand.who),
                name: Some(stand.meter),
                passes: Some(level),
                ..Pattern::new(Happening::Passes)
            }),
        })
    })
}

/// `times = 2`, or `times = { at_least = 1, at_most = 3 }`.
impl Read for Times {
    fn read(at: At<'_>) -> Option<Times> {
        if at.is_table() {
            return at.table(|fields| {
                let least = fields.get("at_least");
                let most = fields.get("at_most");
                fields.miss(&["at_least", "at_most"]);
                Some(Times {
                    least: least.unwrap_or(0),
                    most: most.unwrap_or(u32::MAX),
                })
            });
        }
        let times = u32::read(at)?;
        Some(Times {
            least: times,
            most: times,
        })
    }
}

impl Read for During {
    fn read(at: At<'_>) -> Option<During> {
        at.table(|fields| {
            let during = During {
                who: fields.need("who").unwrap_or_default(),
                state: fields.get("state"),
                attack: fields.get("attack"),
                guarding: fields.get("guarding"),
                stunned: fields.get("stunned"),
                dying: fields.get("dying"),
                meters: fields.get("meter").unwrap_or_default(),
            };
            fields.miss(&["state", "attack", "guarding", "stunned", "dying", "meter"]);
            Some(during)
        })
    }
}
