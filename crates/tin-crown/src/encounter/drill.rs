//! Drills: scripted run-throughs.

use super::expect::Expectation;
use crate::limits;
use crate::syntax::{Table, Words, written_as};
use crate::time::Duration;

const LONGEST: Duration = Duration::ticked(limits::DRILL_TICKS);

/// A scripted run-through.
///
/// ```
/// use tin_crown::Drill;
///
/// let drill = Drill::new("6s".parse()?)
///     .hold("0.2s".parse()?, "porter", "right", "1.4s".parse()?)
///     .press("1s".parse()?, "porter", "jump");
/// assert_eq!(drill.input.len(), 2);
/// # Ok::<(), tin_crown::time::DurationError>(())
/// ```
#[derive(Clone, Debug, PartialEq, Table)]
#[table(most = limits::DRILLS)]
pub struct Drill {
    /// How long it lasts: a drill of *k* ticks ends after tick *k*, or when it is won or lost.
    #[key(required, set = "")]
    pub length: Duration,
    /// Chance is drawn from it.
    #[key(default = "0")]
    pub seed: u32,
    /// What comes after it is won or lost.
    #[key(default = "\"quiet\"")]
    pub afterwards: Afterwards,
    /// Who presses what, and when.
    #[key(absent = "none", set = "")]
    pub input: Vec<Input>,
    /// What it has to come to.
    #[key(absent = "none", set = "expect")]
    pub expect: Vec<Expectation>,
}

/// What comes after a drill is won or lost.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Words)]
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

/// As long as a drill may be: without a length that can be read, no input comes too late.
impl Default for Drill {
    fn default() -> Drill {
        Drill::new(LONGEST)
    }
}

/// An input as it stands in a file.
#[derive(Clone, Default, PartialEq, Table)]
#[table(
    no_builder,
    one_of("press", "hold", "release"),
    at_most_one("press", "for"),
    at_most_one("release", "for")
)]
struct WrittenInput {
    /// When.
    #[key(required)]
    when: Duration,
    /// The actor that is steered.
    #[key(required, text = "id")]
    who: String,
    /// The button that is down for one tick.
    #[key(text = "button")]
    press: Option<String>,
    /// The button that is held down.
    #[key(text = "button")]
    hold: Option<String>,
    /// How long it is held.
    #[key(name = "for", absent = "until a release, or the end")]
    length: Option<Duration>,
    /// The button that goes up, whatever holds it.
    #[key(text = "button")]
    release: Option<String>,
}

written_as!(Input, WrittenInput, most = limits::INPUTS);

impl From<WrittenInput> for Input {
    fn from(written: WrittenInput) -> Input {
        let (button, action) = match (written.press, written.hold, written.release) {
            (_, Some(button), _) => (button, Action::Hold(written.length)),
            (Some(button), ..) => (button, Action::Press),
            (.., button) => (button.unwrap_or_default(), Action::Release),
        };
        Input {
            when: written.when,
            who: written.who,
            button,
            action,
        }
    }
}

impl From<Input> for WrittenInput {
    fn from(input: Input) -> WrittenInput {
        let mut written = WrittenInput {
            when: input.when,
            who: input.who,
            ..WrittenInput::default()
        };
        match input.action {
            Action::Press => written.press = Some(input.button),
            Action::Hold(length) => {
                written.hold = Some(input.button);
                written.length = length;
            }
            Action::Release => written.release = Some(input.button),
        }
        written
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

    /// Presses a button for one tick.
    #[must_use]
    pub fn press(self, when: Duration, who: impl Into<String>, button: impl Into<String>) -> Drill {
        self.input(when, who, button, Action::Press)
    }

    /// Releases a button, whatever holds it.
    #[must_use]
    pub fn release(
        self,
        when: Duration,
        who: impl Into<String>,
        button: impl Into<String>,
    ) -> Drill {
        self.input(when, who, button, Action::Release)
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
