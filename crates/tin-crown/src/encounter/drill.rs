//! Drills: scripted run-throughs.

use super::Encounter;
use super::expect::Expectation;
use super::log::HitLog;
use super::outside::{Apply, PoseInput};
use super::pattern::Pattern;
use super::track::Track;
use crate::finding::Step;
use crate::geometry::Facing;
use crate::limits;
use crate::map::Set;
use crate::syntax::set::{self, Missed};
use crate::syntax::{At, Shape, Syntax, Table, Words, written_as};
use crate::text::{Entry, Value, write_toml};
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
    /// Other drills whose inputs it has too.
    #[key(absent = "none", set = "")]
    pub begins: Begins,
    /// Who presses what, and when.
    #[key(absent = "none", set = "")]
    pub input: Vec<Input>,
    /// Effects from outside, which are no hits.
    #[key(absent = "none", set = "")]
    pub apply: Vec<Apply>,
    /// Where actors stand that something else moves.
    #[key(absent = "none", set = "")]
    pub pose: Vec<PoseInput>,
    /// Recordings that drive actors.
    #[key(absent = "none", set = "")]
    pub track: Vec<Track>,
    /// The game's own hit log of that run.
    #[key(absent = "none", whole, set = "")]
    pub log: Option<HitLog>,
    /// What it has to come to.
    #[key(absent = "none", set = "expect")]
    pub expect: Vec<Expectation>,
}

impl Drill {
    /// The drill as the table of a TOML file.
    ///
    /// ```
    /// let drill = tin_crown::Drill::new("2s".parse()?).press("1s".parse()?, "porter", "jump");
    /// assert!(drill.to_toml("hop").starts_with("[drill.hop]\nlength = \"2s\"\n"));
    /// # Ok::<(), tin_crown::time::DurationError>(())
    /// ```
    pub fn to_toml(&self, name: &str) -> String {
        let drills = Value::table(vec![Entry::new(name, self.write())]);
        write_toml(&[Entry::new("drill", drills)])
    }
}

impl Encounter {
    /// The same with some of its drills alone, and those that they need.
    pub(crate) fn only<'d>(&self, drills: impl IntoIterator<Item = &'d str>) -> Encounter {
        let mut needed: Set<&str> = Set::new();
        let mut new: Vec<&str> = drills.into_iter().collect();
        while let Some(name) = new.pop() {
            if needed.insert(name) {
                let drill = self.drills.get(name).into_iter();
                let begins = drill.flat_map(|drill| &drill.begins.0);
                new.extend(begins.map(|begin| begin.drill.as_str()));
            }
        }
        let mut encounter = self.clone();
        // What recordings introduce is known to all.
        encounter
            .drills
            .retain(|name, drill| needed.contains(name.as_str()) || !drill.track.is_empty());
        encounter
    }

    /// A name that no drill has yet: this one, or with a number after it.
    pub fn free_drill(&self, name: &str) -> String {
        let more = (2..).map(|nth| format!("{name}-{nth}"));
        let mut all = std::iter::once(name.to_owned()).chain(more);
        let free = all.find(|name| !self.drills.contains_key(name));
        free.unwrap_or_else(|| unreachable!("there are more numbers than drills"))
    }
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

/// The drills whose inputs another has too: `{ … }`, or a list of them.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Begins(pub Vec<Begin>);

/// A drill whose inputs another has too.
///
/// ```
/// use tin_crown::encounter::{Begin, Happening, Pattern};
/// use tin_crown::Drill;
///
/// // Dies as `careless` does, and half a second after the first return goes on as `careful` begins.
/// let second_try = Drill::new("20s".parse()?)
///     .begins(Begin::new("careless"))
///     .begins(
///         Begin::new("careful")
///             .after(Pattern::new(Happening::Respawn))
///             .shift("0.5s".parse()?),
///     );
/// # assert_eq!(second_try.begins.0.len(), 2);
/// # Ok::<(), tin_crown::time::DurationError>(())
/// ```
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(most = limits::BEGINS)]
pub struct Begin {
    /// The drill.
    #[key(required, text = "drill", set = "")]
    pub drill: String,
    /// Only its inputs before that time; what is held then is released.
    #[key(absent = "all of them")]
    pub until: Option<Duration>,
    /// So much later than there.
    #[key(default = "\"0t\"")]
    pub shift: Option<Duration>,
    /// Its time 0 is that of the first such event.
    #[key(absent = "the beginning")]
    pub after: Option<Pattern>,
}

impl Begin {
    /// All inputs of a drill.
    pub fn new(drill: impl Into<String>) -> Begin {
        Begin {
            drill: drill.into(),
            ..Begin::default()
        }
    }
}

impl Syntax for Begins {
    fn read(at: At<'_>) -> Option<Begins> {
        if at.is_table() {
            return Begin::read(at).map(|one| Begins(vec![one]));
        }
        Vec::read(at).map(Begins)
    }

    fn write(&self) -> Value {
        match self.0.as_slice() {
            [one] => one.write(),
            all => Value::array(all.iter().map(Begin::write)),
        }
    }

    fn shape() -> Shape {
        Shape::Any(vec![Begin::shape(), <Vec<Begin>>::shape()])
    }

    fn set(&mut self, steps: &[Step], at: At<'_>) -> Result<(), Missed> {
        match (self.0.as_mut_slice(), steps) {
            (_, []) => set::whole(self, steps, at),
            ([one], [Step::Key(_), ..]) => one.set(steps, at),
            _ => self.0.set(steps, at),
        }
    }
}

/// Something done with a button.
#[derive(Clone, Debug, PartialEq)]
pub struct Input {
    /// When.
    pub when: Duration,
    /// The id of the actor that is steered.
    pub who: String,
    /// The button; empty for [`Action::Face`].
    pub button: String,
    /// What is done with it.
    pub action: Action,
    /// Whether it is a press of its own, even where the button is down up to then.
    pub anew: bool,
}

/// What is done with a button, or told.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Action {
    /// Down for one tick.
    #[default]
    Press,
    /// Down for so long; until a release, or the end, when absent.
    Hold(Option<Duration>),
    /// Up, whatever holds it.
    Release,
    /// No button: who rotates is told to face that way.
    Face(Facing),
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
    one_of("press", "hold", "release", "face"),
    at_most_one("press", "for"),
    at_most_one("release", "for"),
    at_most_one("face", "for"),
    at_most_one("release", "anew"),
    at_most_one("face", "anew")
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
    /// Whether it is a press of its own, even where the button is down up to then.
    #[key(default = "false")]
    anew: Option<bool>,
    /// The button that goes up, whatever holds it.
    #[key(text = "button")]
    release: Option<String>,
    /// Which way who rotates is told to face.
    face: Option<Facing>,
}

written_as!(Input, WrittenInput, most = limits::INPUTS);

impl From<WrittenInput> for Input {
    fn from(written: WrittenInput) -> Input {
        if let Some(facing) = written.face {
            return Input {
                when: written.when,
                who: written.who,
                button: String::new(),
                action: Action::Face(facing),
                anew: false,
            };
        }
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
            anew: written.anew.unwrap_or(false),
        }
    }
}

impl From<Input> for WrittenInput {
    fn from(input: Input) -> WrittenInput {
        let mut written = WrittenInput {
            when: input.when,
            who: input.who,
            anew: input.anew.then_some(true),
            ..WrittenInput::default()
        };
        match input.action {
            Action::Press => written.press = Some(input.button),
            Action::Hold(length) => {
                written.hold = Some(input.button);
                written.length = length;
            }
            Action::Release => written.release = Some(input.button),
            Action::Face(facing) => written.face = Some(facing),
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
            begins: Begins::default(),
            input: Vec::new(),
            apply: Vec::new(),
            pose: Vec::new(),
            track: Vec::new(),
            log: None,
            expect: Vec::new(),
        }
    }

    /// Adds the inputs of another drill.
    #[must_use]
    pub fn begins(mut self, begin: Begin) -> Drill {
        self.begins.0.push(begin);
        self
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
            anew: false,
        });
        self
    }

    /// Applies an effect from outside.
    #[must_use]
    pub fn apply(mut self, apply: Apply) -> Drill {
        self.apply.push(apply);
        self
    }

    /// Says where an actor stands that something else moves.
    #[must_use]
    pub fn pose(mut self, pose: PoseInput) -> Drill {
        self.pose.push(pose);
        self
    }

    /// Lets a recording drive actors.
    #[must_use]
    pub fn track(mut self, track: Track) -> Drill {
        self.track.push(track);
        self
    }

    /// Holds the rules against the game's own hit log.
    #[must_use]
    pub fn log(mut self, log: HitLog) -> Drill {
        self.log = Some(log);
        self
    }

    /// Presses a button for one tick.
    #[must_use]
    pub fn press(self, when: Duration, who: impl Into<String>, button: impl Into<String>) -> Drill {
        self.input(when, who, button, Action::Press)
    }

    /// Tells an actor that rotates which way to face.
    #[must_use]
    pub fn face(self, when: Duration, who: impl Into<String>, facing: Facing) -> Drill {
        self.input(when, who, "", Action::Face(facing))
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
