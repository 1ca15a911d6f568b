//! Drills: scripted run-throughs.

use super::expect::Expectation;
use super::read::{At, Read};
use crate::limits;
use crate::time::Duration;

const LONGEST: Duration = Duration::ticked(limits::DRILL_TICKS);

/// A scripted run-through, as written.
///
/// ```
/// use tin_crown::Drill;
///
/// let drill = Drill::new("6s".parse()?)
///     .hold("0.2s".parse()?, "porter", "right", "1.4s".parse()?)
///     .press("1s".parse()?, "porter", "jump");
/// assert_eq!(drill.input.len(), 2);
/// # Ok::<(), tin_crown::DurationError>(())
/// ```
#[derive(Clone, Debug, PartialEq)]
pub struct Drill {
    /// How long it lasts.
    pub length: Duration,
    /// From which its chance is drawn.
    pub seed: u32,
    /// What comes after it is won or lost; nothing when absent.
    pub afterwards: Afterwards,
    /// Who presses what, and when.
    pub input: Vec<Input>,
    /// What it has to come to.
    pub expect: Vec<Expectation>,
}

/// What comes after a drill is won or lost.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Afterwards {
    /// Nothing: the replay ends on that tick.
    #[default]
    Quiet,
    /// The rest of its length is played.
    GoesOn,
}

/// Something done with a button.
#[derive(Clone, Debug, PartialEq)]
pub struct Input {
    /// When.
    pub when: Duration,
    /// The id of the actor that is steered.
    pub who: String,
    /// The button.
    pub button: String,
    /// What is done with it.
    pub action: Action,
}

/// What is done with a button.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Action {
    /// Down for one tick.
    #[default]
    Press,
    /// Down for so long; until a release, or the end, when absent.
    Hold(Option<Duration>),
    /// Up, whatever holds it.
    Release,
}

impl Default for Drill {
    fn default() -> Drill {
        Drill::new(Duration::ticked(1))
    }
}

impl Drill {
    /// A drill of some length without inputs.
    pub fn new(length: Duration) -> Drill {
        Drill {
            length,
            seed: 0,
            afterwards: Afterwards::Quiet,
            input: Vec::new(),
            expect: Vec::new(),
        }
    }

    /// Adds something done with a button.
    #[must_use]
    pub fn input(
        mut self,
        when: Duration,
        who: impl Into<String>,
        button: impl Into<String>,
        action: Action,
    ) -> Drill {
        self.input.push(Input {
            when,
            who: who.into(),
            button: button.into(),
            action,
        });
        self
    }

    /// Says what it has to come to.
    #[must_use]
    pub fn expect(mut self, expectation: Expectation) -> Drill {
        self.expect.push(expectation);
        self
    }

    /// Presses a button for one tick.
    #[must_use]
    pub fn press(self, when: Duration, who: impl Into<String>, button: impl Into<String>) -> Drill {
        self.input(when, who, button, Action::Press)
    }

    /// Holds a button for `length`.
    #[must_use]
    pub fn hold(
        self,
        when: Duration,
        who: impl Into<String>,
        button: impl Into<String>,
        length: Duration,
    ) -> Drill {
        self.input(when, who, button, Action::Hold(Some(length)))
    }
}

impl Read for Drill {
    fn read(at: At<'_>) -> Option<Drill> {
        at.table(|fields| {
            Some(Drill {
                // Without a length that can be read, no input comes too late.
                length: fields.need("length").unwrap_or(LONGEST),
                seed: fields.get("seed").unwrap_or(0),
                afterwards: fields
                    .with("afterwards", |at| {
                        at.word(&[
                            ("quiet", Afterwards::Quiet),
                            ("goes-on", Afterwards::GoesOn),
                        ])
                    })
                    .unwrap_or_default(),
                input: fields.get("input").unwrap_or_default(),
                expect: fields.get("expect").unwrap_or_default(),
            })
        })
    }
}

impl Read for Input {
    const MOST: usize = limits::INPUTS;

    fn read(at: At<'_>) -> Option<Input> {
        at.table(|fields| {
            let when = fields.need("when").unwrap_or(Duration::ZERO);
            let who = fields.need("who").unwrap_or_default();
            let press: Option<String> = fields.get("press");
            let hold: Option<String> = fields.get("hold");
            let release: Option<String> = fields.get("release");
            let length = fields.get("for");
            fields.miss(&["press", "hold", "release"]);
            for (one, other) in [
                ("press", "hold"),
                ("press", "release"),
                ("hold", "release"),
                ("press", "for"),
                ("release", "for"),
            ] {
                fields.clash(one, other);
            }
            let (button, action) = match (press, hold, release) {
                (_, Some(button), _) => (button, Action::Hold(length)),
                (Some(button), ..) => (button, Action::Press),
                (.., button) => (button.unwrap_or_default(), Action::Release),
            };
            Some(Input {
                when,
                who,
                button,
                action,
            })
        })
    }
}
