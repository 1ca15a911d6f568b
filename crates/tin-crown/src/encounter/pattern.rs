//! Patterns: events of the ledger that are alike.

use crate::syntax::{Shape, Short, Table, written_as};
use crate::verdict::Verdict;

/// Events of the ledger that are alike. What is absent may be anything.
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
    /// The verdict of a hit; landed or guarded when absent.
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
#[non_exhaustive]
pub enum Happening {
    /// A hit.
    #[default]
    Hit,
    /// An actor begins to die.
    Death,
    /// An actor is gone.
    Gone,
    /// An actor comes back.
    Respawn,
    /// An actor reaches a checkpoint or an exit.
    Reach,
    /// Something is announced.
    Cue,
    /// Something is launched.
    Shot,
    /// A launcher is set off and nothing comes out.
    DryFire,
    /// An attack begins.
    Attack,
    /// An actor comes into a state.
    State,
    /// A sensor notices an actor.
    Sense,
    /// An actor takes what lies about.
    Pickup,
    /// Everything is reset.
    Reset,
    /// A meter passes a level.
    Passes,
}

impl Happening {
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

    /// A hit by an actor of the first selector on one of the second.
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

/// Declares an event as it stands in a file, and how it becomes a pattern and comes back from one.
macro_rules! event {
    (
        $(#[$about:meta])*
        $name:ident $(or $short:ident)? { $($(#[$key:meta])* $field:ident: $ty:ty,)* }
    ) => {
        $(#[$about])*
        #[derive(Clone, Default, PartialEq, Table)]
        #[table(no_builder $(, short = $short)?)]
        struct $name { $($(#[$key])* $field: $ty,)* }

        impl $name {
            fn pattern(&self, happening: Happening) -> Pattern {
                Pattern {
                    $($field: self.$field.clone(),)*
                    ..Pattern::new(happening)
                }
            }

            fn of(pattern: &Pattern) -> $name {
                $name { $($field: pattern.$field.clone(),)* }
            }
        }
    };
}

event! {
    /// A hit.
    HitEvent {
        /// Who hits, or launched what hits.
        #[key(text = "selector", absent = "anyone")]
        who: Option<String>,
        /// Who is hit.
        #[key(text = "selector", absent = "anyone")]
        whom: Option<String>,
        /// By which rule.
        #[key(text = "rule", absent = "any")]
        rule: Option<String>,
        /// Its outcome.
        #[key(absent = "landed or guarded")]
        verdict: Option<Verdict>,
        /// How much it took.
        #[key(amount, absent = "any")]
        amount: Option<f64>,
    }
}

event! {
    /// Something that an actor does or undergoes.
    ActorEvent {
        /// Who.
        #[key(text = "selector", absent = "anyone")]
        who: Option<String>,
    }
}

event! {
    /// An actor at a checkpoint or an exit.
    PlaceEvent {
        /// Who.
        #[key(text = "selector", absent = "anyone")]
        who: Option<String>,
        /// The checkpoint or exit.
        #[key(name = "at", text = "checkpoint or exit", absent = "any")]
        name: Option<String>,
    }
}

event! {
    /// A cue.
    CueEvent or String {
        /// Who gives it, or launched what gives it.
        #[key(text = "selector", absent = "anyone")]
        who: Option<String>,
        /// Which.
        #[key(text = "cue", absent = "any")]
        name: Option<String>,
    }
}

event! {
    /// What a launcher does.
    LauncherEvent {
        /// Who.
        #[key(text = "selector", absent = "anyone")]
        who: Option<String>,
        /// Its launcher.
        #[key(name = "launcher", text = "launcher", absent = "any")]
        name: Option<String>,
    }
}

event! {
    /// The beginning of an attack.
    AttackEvent {
        /// Who.
        #[key(text = "selector", absent = "anyone")]
        who: Option<String>,
        /// Its attack.
        #[key(name = "attack", text = "attack", absent = "any")]
        name: Option<String>,
    }
}

event! {
    /// The entry into a state.
    StateEvent {
        /// Who.
        #[key(text = "selector", absent = "anyone")]
        who: Option<String>,
        /// The state.
        #[key(name = "state", text = "state", absent = "any")]
        name: Option<String>,
    }
}

event! {
    /// Something noticed.
    SenseEvent {
        /// Who notices.
        #[key(text = "selector", absent = "anyone")]
        who: Option<String>,
        /// Whom.
        #[key(text = "selector", absent = "anyone")]
        whom: Option<String>,
        /// The sensor.
        #[key(name = "sensor", text = "sensor", absent = "any")]
        name: Option<String>,
    }
}

event! {
    /// Something taken.
    PickupEvent {
        /// Who takes it.
        #[key(text = "selector", absent = "anyone")]
        who: Option<String>,
        /// What is taken.
        #[key(text = "selector", absent = "anything")]
        whom: Option<String>,
    }
}

event! {
    /// A meter that passes a level.
    MeterEvent {
        /// Whose.
        #[key(text = "selector", absent = "anyone's")]
        who: Option<String>,
        /// Which.
        #[key(name = "meter", required, text = "meter")]
        name: Option<String>,
        /// It passes that level, either way, or comes to it.
        #[key(required, amount)]
        passes: Option<f64>,
    }
}

/// `cue = "curtain"`.
impl Short<String> for CueEvent {
    fn from_short(name: String) -> CueEvent {
        CueEvent {
            who: None,
            name: Some(name),
        }
    }

    fn to_short(&self) -> Option<String> {
        self.name.clone().filter(|_| self.who.is_none())
    }

    fn short_shape() -> Shape {
        Shape::Text("cue")
    }
}

/// Everything that can happen, by the key that asks for it.
macro_rules! events {
    ($($(#[$about:meta])* $key:ident: $event:ident = $happening:ident,)*) => {
        /// Something that happens, as it stands in a file: one of the keys.
        #[derive(Clone, Default, PartialEq, Table)]
        #[table(no_builder)]
        pub(super) struct Events { $($(#[$about])* $key: Option<$event>,)* }

        impl Happening {
            /// The key that asks for it.
            pub const fn key(self) -> &'static str {
                match self {
                    $(Happening::$happening => stringify!($key),)*
                    Happening::Passes => "meter",
                }
            }
        }

        impl Events {
            /// The first that is there.
            pub fn pattern(&self) -> Option<Pattern> {
                $(if let Some(event) = &self.$key {
                    return Some(event.pattern(Happening::$happening));
                })*
                None
            }

            pub fn of(pattern: &Pattern) -> Events {
                let mut events = Events::default();
                match pattern.happening {
                    $(Happening::$happening => events.$key = Some($event::of(pattern)),)*
                    Happening::Passes => {}
                }
                events
            }
        }
    };
}

events! {
    /// A hit; landed or guarded, unless it names a `verdict`.
    hit: HitEvent = Hit,
    /// An actor begins to die.
    death: ActorEvent = Death,
    /// An actor is gone.
    gone: ActorEvent = Gone,
    /// An actor comes back.
    respawn: PlaceEvent = Respawn,
    /// An actor reaches a checkpoint or an exit.
    reach: PlaceEvent = Reach,
    /// A cue is given.
    cue: CueEvent = Cue,
    /// Something is launched.
    shot: LauncherEvent = Shot,
    /// A launcher is set off and nothing comes out.
    dry_fire: LauncherEvent = DryFire,
    /// An attack begins.
    attack: AttackEvent = Attack,
    /// A state is entered.
    state: StateEvent = State,
    /// A sensor notices an actor.
    sense: SenseEvent = Sense,
    /// An actor takes what lies about.
    pickup: PickupEvent = Pickup,
    /// Everything is reset.
    reset: ActorEvent = Reset,
}

/// A pattern as it stands in a file.
#[derive(Clone, Default, PartialEq, Table)]
#[table(
    no_builder,
    one_of(
        "hit", "death", "gone", "respawn", "reach", "cue", "shot", "dry_fire", "attack", "state",
        "sense", "pickup", "reset", "meter"
    )
)]
struct WrittenPattern {
    #[key(flatten)]
    events: Events,
    /// A meter passes a level.
    meter: Option<MeterEvent>,
}

written_as!(Pattern, WrittenPattern);

impl From<WrittenPattern> for Pattern {
    fn from(written: WrittenPattern) -> Pattern {
        let passes = |event: MeterEvent| event.pattern(Happening::Passes);
        let event = written.events.pattern();
        event.or(written.meter.map(passes)).unwrap_or_default()
    }
}

impl From<Pattern> for WrittenPattern {
    fn from(pattern: Pattern) -> WrittenPattern {
        WrittenPattern {
            events: Events::of(&pattern),
            meter: (pattern.happening == Happening::Passes).then(|| MeterEvent::of(&pattern)),
        }
    }
}
