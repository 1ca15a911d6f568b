//! The columns of a ledger, declared once: the type of a line, its JSON and CSV, reading it back, its
//! schema and its reference come from this table.

use std::borrow::Cow;

use serde::Deserialize;
use serde::ser::{Serialize, SerializeMap, Serializer};

/// What a column holds.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Holds {
    /// A text.
    Text,
    /// A whole number that is not negative.
    Count,
    /// A number.
    Number,
    /// True or false.
    Flag,
}

/// What is declared of a column.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Column {
    pub name: &'static str,
    pub about: &'static str,
    pub holds: Holds,
    /// Whether every line has it.
    pub always: bool,
}

/// A value of a column.
trait Cell: Serialize {
    const HOLDS: Holds;
    const ALWAYS: bool = false;

    /// Adds its text in CSV to a field, unless it is absent.
    #[cfg(feature = "csv")]
    fn text(&self, field: &mut Vec<u8>);

    /// Adds it to a line in JSON, unless it is absent.
    fn put<M: SerializeMap>(&self, map: &mut M, name: &'static str) -> Result<(), M::Error>;
}

macro_rules! columns {
    ($life:lifetime; $($field:ident = $name:literal: $ty:ty, $about:literal;)*) => {
        /// One event as a flat line. What an event does not have is absent; in a golden record `t` and
        /// `id` are, too.
        #[derive(Clone, Debug, Default, PartialEq, Deserialize)]
        pub struct Line<$life> {
            $(
                #[doc = $about]
                #[serde(rename = $name)]
                pub $field: $ty,
            )*
        }

        impl Serialize for Line<'_> {
            fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
                let mut map = serializer.serialize_map(None)?;
                $(self.$field.put(&mut map, $name)?;)*
                map.end()
            }
        }

        impl<$life> Line<$life> {
            /// The columns, in the order of the keys.
            pub(crate) const COLUMNS: &'static [Column] = &[
                $(Column {
                    name: $name,
                    about: $about,
                    holds: <$ty as Cell>::HOLDS,
                    always: <$ty as Cell>::ALWAYS,
                },)*
            ];

            /// Writes its values, one for each column, empty where absent; `field` is room to write in.
            #[cfg(feature = "csv")]
            pub(crate) fn write_csv<W: std::io::Write>(
                &self,
                writer: &mut csv::Writer<W>,
                field: &mut Vec<u8>,
            ) -> Result<(), csv::Error> {
                $(
                    field.clear();
                    self.$field.text(field);
                    writer.write_field(&*field)?;
                )*
                writer.write_record(None::<&[u8]>)
            }

            /// The same, independent of the replay that it tells of.
            pub fn into_owned(self) -> Line<'static> {
                Line { $($field: Owned::owned(self.$field),)* }
            }
        }
    };
}

type Text<'a> = Option<Cow<'a, str>>;

columns! {
    'a;
    tick = "tick": u32, "The tick.";
    t = "t": Option<f64>, "Its time in seconds.";
    id = "id": Option<u32>, "The number of the line: 1, 2, 3…";
    cause = "cause": Option<u32>, "The line that brought it about: of an attack or shot the press or the state, of a state what was noticed, of a hit the attack or shot, of a change of a meter the hit.";
    because = "because": Option<u32>, "The line that decided the verdict: the hit that opened the window, the winner that beat it.";
    event = "event": Cow<'a, str>, "What happens.";
    who = "who": Text<'a>, "Who acts.";
    root = "for": Text<'a>, "The maker at the root, where who was launched.";
    whom = "whom": Text<'a>, "Who is acted on.";
    rule = "rule": Text<'a>, "By which rule.";
    verdict = "verdict": Text<'a>, "Of a hit: what came of it.";
    meter = "meter": Text<'a>, "Of a change, or of what is frozen: the meter.";
    before = "before": Option<f64>, "Of a change: what there was before.";
    after = "after": Option<f64>, "Of a change: what there is after.";
    amount = "amount": Option<f64>, "Of a change, how much; of a hit or an effect from outside, what it did.";
    x = "x": Option<f64>, "Where whom, else who, is at the end of the tick.";
    y = "y": Option<f64>, "Where whom, else who, is at the end of the tick.";
    height = "height": Option<f64>, "Where the arena has heights: how high that one is then.";
    facing = "facing": Option<f64>, "Of one who rotates: which way it faces then, in degrees, positive toward up.";
    face = "face": Option<f64>, "Of an input: which way who is told to face, in degrees.";
    button = "button": Text<'a>, "Of an input: the button.";
    down = "down": Option<bool>, "Of an input: whether the button goes down.";
    attack = "attack": Text<'a>, "Of an attack: its name.";
    over = "over": Text<'a>, "Of an attack that is over: `done` or `cut-short`.";
    despite = "despite": Text<'a>, "Of an attack told from outside: what it began in spite of, `cooldown`, `attack` or `state`.";
    launcher = "launcher": Text<'a>, "Of a launch: the launcher.";
    count = "count": Option<u32>, "Of a launch: how many at once.";
    state = "state": Text<'a>, "The state entered; or `guard-up`, `guard-down`, `guard-broken`, `stunned`, `reloading`, `reloaded`, `reload-broken`, `frozen`.";
    from = "from": Text<'a>, "The state before.";
    sensor = "sensor": Text<'a>, "Of a sense: the sensor.";
    seen = "seen": Option<bool>, "Of a sense: whether it notices whom, or loses it.";
    distance = "distance": Option<f64>, "Of a sense: how far off whom is.";
    checkpoint = "checkpoint": Text<'a>, "The checkpoint reached; of a respawn, the one returned to.";
    exit = "exit": Text<'a>, "The exit reached.";
    cue = "cue": Text<'a>, "The cue given.";
    hitbox = "hitbox": Text<'a>, "Of a hit: who's box.";
    hurtbox = "hurtbox": Text<'a>, "Of a hit: whom's box.";
    moment = "moment": Option<f64>, "Of a hit: when within the tick, from 0 to 1.";
    gate = "gate": Text<'a>, "Of a hit: the gate that said no.";
    have = "have": Option<f64>, "What there was, where a gate compares numbers.";
    need = "need": Option<f64>, "What the rule asks, where a gate compares numbers.";
    guard = "guard": Text<'a>, "Of a hit: `held`, `parried`, `wrong-side`, `too-late`, `spent` or `pierced`.";
    blocked = "blocked": Option<f64>, "Of a hit: how much damage the guard took.";
    overkill = "overkill": Option<f64>, "Of a hit or an effect from outside: damage beyond what the meters held.";
    chain = "chain": Option<u32>, "Of a hit: its place in the chain.";
    until = "until": Option<u32>, "The first tick on which a window is over.";
    of = "of": Text<'a>, "Of a death: `health`, `outside`, `squeezed` or `kill`. Of a vanishing: `hit`, `solid`, `edge`, `lifetime`, `state`, `taken`, `reset` or `absent`. Of a dry fire: why. Of a hit or an effect that killed outright: `kill`. Of what is ignored and is no press: `attack`, `pose` or `effect`. Of a meter that something other than damage emptied: `kill`, `squeezed` or `outside`.";
    by = "by": Text<'a>, "Of a death: to whose credit.";
    outcome = "outcome": Text<'a>, "How the drill ended: `won`, `lost` or `ended`.";
}

/// Shortest round-trip: whole numbers without a point, and never -0.
#[derive(Clone, Copy)]
pub(crate) enum Shortest {
    Whole(i64),
    Real(f64),
}

impl Shortest {
    pub fn of(number: f64) -> Shortest {
        if number == number.trunc() && number.abs() < 1e15 {
            Shortest::Whole(number as i64)
        } else {
            Shortest::Real(number)
        }
    }
}

impl Serialize for Shortest {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        match *self {
            Shortest::Whole(whole) => serializer.serialize_i64(whole),
            Shortest::Real(real) => serializer.serialize_f64(real),
        }
    }
}

impl Cell for u32 {
    const HOLDS: Holds = Holds::Count;
    const ALWAYS: bool = true;

    #[cfg(feature = "csv")]
    fn text(&self, field: &mut Vec<u8>) {
        number(self, field);
    }

    fn put<M: SerializeMap>(&self, map: &mut M, name: &'static str) -> Result<(), M::Error> {
        map.serialize_entry(name, self)
    }
}

/// Numbers as in JSON, so that both forms read alike.
#[cfg(feature = "csv")]
fn number(number: &impl Serialize, field: &mut Vec<u8>) {
    serde_json::to_writer(field, number)
        .unwrap_or_else(|error| unreachable!("memory takes it: {error}"));
}

impl Cell for Cow<'_, str> {
    const HOLDS: Holds = Holds::Text;
    const ALWAYS: bool = true;

    #[cfg(feature = "csv")]
    fn text(&self, field: &mut Vec<u8>) {
        field.extend_from_slice(self.as_bytes());
    }

    fn put<M: SerializeMap>(&self, map: &mut M, name: &'static str) -> Result<(), M::Error> {
        map.serialize_entry(name, self)
    }
}

impl Cell for bool {
    const HOLDS: Holds = Holds::Flag;

    #[cfg(feature = "csv")]
    fn text(&self, field: &mut Vec<u8>) {
        number(self, field);
    }

    fn put<M: SerializeMap>(&self, map: &mut M, name: &'static str) -> Result<(), M::Error> {
        map.serialize_entry(name, self)
    }
}

impl Cell for f64 {
    const HOLDS: Holds = Holds::Number;

    #[cfg(feature = "csv")]
    fn text(&self, field: &mut Vec<u8>) {
        number(&Shortest::of(*self), field);
    }

    fn put<M: SerializeMap>(&self, map: &mut M, name: &'static str) -> Result<(), M::Error> {
        map.serialize_entry(name, &Shortest::of(*self))
    }
}

/// A column that a line may not have.
impl<T: Cell> Cell for Option<T> {
    const HOLDS: Holds = T::HOLDS;

    #[cfg(feature = "csv")]
    fn text(&self, field: &mut Vec<u8>) {
        if let Some(value) = self {
            value.text(field);
        }
    }

    fn put<M: SerializeMap>(&self, map: &mut M, name: &'static str) -> Result<(), M::Error> {
        match self {
            Some(value) => value.put(map, name),
            None => Ok(()),
        }
    }
}

/// What does not borrow.
trait Owned {
    type Owned;

    fn owned(self) -> Self::Owned;
}

impl Owned for Cow<'_, str> {
    type Owned = Cow<'static, str>;

    fn owned(self) -> Cow<'static, str> {
        Cow::Owned(self.into_owned())
    }
}

impl<T: Owned> Owned for Option<T> {
    type Owned = Option<T::Owned>;

    fn owned(self) -> Option<T::Owned> {
        self.map(T::owned)
    }
}

macro_rules! owned_as_they_are {
    ($($ty:ty),*) => { $(impl Owned for $ty {
        type Owned = $ty;

        fn owned(self) -> $ty {
            self
        }
    })* };
}
owned_as_they_are!(u32, f64, bool);
