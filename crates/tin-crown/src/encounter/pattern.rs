//! Patterns: events of the ledger that are alike.

use super::flight::Vanished;
use super::portion::Portion;
use crate::reason::{Asked, DeathCause, Despite, DryReason, GuardSaid, Over};
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
    pub passes: Option<Portion>,
    /// The number of lives that is passed, either way.
    pub lives: Option<u32>,
    /// What a guard did with a hit.
    pub guard: Option<GuardSaid>,
    /// The cause of a death.
    pub cause: Option<DeathCause>,
    /// A selector of the actor that a death is credited to.
    pub by: Option<String>,
    /// What made something vanish.
    pub ending: Option<Vanished>,
    /// Why a launcher launched nothing.
    pub dry: Option<DryReason>,
    /// How an attack ended; its beginning when absent.
    pub over: Option<Over>,
    /// Whether a button goes down.
    pub down: Option<bool>,
    /// What an attack that is told from outside began in spite of.
    pub despite: Option<Despite>,
    /// What it was that had no effect.
    pub asked: Option<Asked>,
    /// Whether an effect from outside killed outright.
    pub kills: Option<bool>,
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
    /// An actor appears.
    Appear,
    /// An actor vanishes without a death.
    Vanish,
    /// A sensor notices an actor no longer.
    Lose,
    /// A life is lost or gained.
    Lives,
    /// An actor is stunned.
    Stun,
    /// A guard breaks.
    GuardBreak,
    /// A hit is parried.
    Parry,
    /// A hit pushes an actor.
    Push,
    /// An actor comes to stand on something.
    Landing,
    /// A button goes down or up.
    Input,
    /// Something that was asked for has no effect.
    Ignored,
    /// An effect comes from outside.
    Apply,
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
            Happening::Sense | Happening::Lose => Some("sensor"),
            Happening::Passes => Some("meter"),
            Happening::Input | Happening::Ignored => Some("button"),
            Happening::Hit
            | Happening::Death
            | Happening::Gone
            | Happening::Pickup
            | Happening::Reset
            | Happening::Appear
            | Happening::Vanish
            | Happening::Lives
            | Happening::Stun
            | Happening::GuardBreak
            | Happening::Parry
            | Happening::Push
            | Happening::Landing
            | Happening::Apply => None,
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
        /// How much it took, overkill included.
        #[key(amount, absent = "any")]
        amount: Option<f64>,
        /// What whom's guard did, or why it did not count.
        #[key(absent = "any")]
        guard: Option<GuardSaid>,
    }
}

event! {
    /// A hit of which nothing more is asked.
    PairEvent {
        /// Who hits, or launched what hits.
        #[key(text = "selector", absent = "anyone")]
        who: Option<String>,
        /// Who is hit.
        #[key(text = "selector", absent = "anyone")]
        whom: Option<String>,
        /// By which rule.
        #[key(text = "rule", absent = "any")]
        rule: Option<String>,
    }
}

event! {
    /// A push.
    PushEvent {
        /// The other actor of the hit.
        #[key(text = "selector", absent = "anyone")]
        who: Option<String>,
        /// Who is pushed; of a rebound, who hit.
        #[key(text = "selector", absent = "anyone")]
        whom: Option<String>,
        /// By which rule.
        #[key(text = "rule", absent = "any")]
        rule: Option<String>,
    }
}

event! {
    /// A death.
    DeathEvent {
        /// Who.
        #[key(text = "selector", absent = "anyone")]
        who: Option<String>,
        /// The actor that it is credited to.
        #[key(text = "selector", absent = "anyone, or nobody")]
        by: Option<String>,
        /// Its cause.
        #[key(name = "of", absent = "any")]
        cause: Option<DeathCause>,
    }
}

event! {
    /// An end without a death.
    VanishEvent {
        /// Who.
        #[key(text = "selector", absent = "anyone")]
        who: Option<String>,
        /// What ended it.
        #[key(name = "of", absent = "any")]
        ending: Option<Vanished>,
    }
}

event! {
    /// A button.
    InputEvent {
        /// Whose.
        #[key(text = "selector", absent = "anyone")]
        who: Option<String>,
        /// Which.
        #[key(name = "button", text = "button", absent = "any")]
        name: Option<String>,
        /// Whether it goes down, or up.
        #[key(absent = "either")]
        down: Option<bool>,
    }
}

event! {
    /// Something asked for to no effect.
    IgnoredEvent {
        /// Whose.
        #[key(text = "selector", absent = "anyone")]
        who: Option<String>,
        /// Of a press: which button.
        #[key(name = "button", text = "button", absent = "any")]
        name: Option<String>,
        /// What was asked for.
        #[key(name = "of", absent = "any")]
        asked: Option<Asked>,
    }
}

event! {
    /// An effect from outside.
    ApplyEvent {
        /// To whose credit.
        #[key(text = "selector", absent = "anyone, or nobody")]
        who: Option<String>,
        /// On whom.
        #[key(text = "selector", absent = "anyone")]
        whom: Option<String>,
        /// How much damage it does, overkill included.
        #[key(amount, absent = "any")]
        amount: Option<f64>,
        /// Whether it kills outright.
        #[key(absent = "either")]
        kills: Option<bool>,
    }
}

event! {
    /// A launcher that launches nothing.
    DryEvent {
        /// Who.
        #[key(text = "selector", absent = "anyone")]
        who: Option<String>,
        /// Its launcher.
        #[key(name = "launcher", text = "launcher", absent = "any")]
        name: Option<String>,
        /// Why.
        #[key(name = "of", absent = "any")]
        dry: Option<DryReason>,
    }
}

event! {
    /// A number of lives that is passed.
    LivesEvent {
        /// Whose.
        #[key(text = "selector", absent = "anyone's")]
        who: Option<String>,
        /// They pass that number, either way, or come to it.
        #[key(name = "passes", absent = "any")]
        lives: Option<u32>,
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
        /// The checkpoint or exit; of a return, also `start`: at none.
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
    /// The beginning of an attack, or its end.
    AttackEvent {
        /// Who.
        #[key(text = "selector", absent = "anyone")]
        who: Option<String>,
        /// Its attack.
        #[key(name = "attack", text = "attack", absent = "any")]
        name: Option<String>,
        /// It ends, in that way.
        #[key(absent = "it begins")]
        over: Option<Over>,
        /// It begins, told from outside, in spite of that.
        #[key(absent = "any")]
        despite: Option<Despite>,
    }
}

event! {
    /// The entry into a state.
    StateEvent {
        /// Who.
        #[key(text = "selector", absent = "anyone")]
        who: Option<String>,
        /// The state; or `guard-up`, `guard-down`, `guard-broken`, `stunned`, `reloading`, `reloaded`,
        /// `reload-broken` or `frozen`, where no state has that name.
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
        #[key(required)]
        passes: Option<Portion>,
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
                    Happening::Lives => "lives",
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
                    Happening::Passes | Happening::Lives => {}
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
    death: DeathEvent = Death,
    /// An actor is gone, after its death or without one.
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
    dry_fire: DryEvent = DryFire,
    /// An attack begins, or, with `over`, ends.
    attack: AttackEvent = Attack,
    /// A state is entered.
    state: StateEvent = State,
    /// A sensor notices an actor.
    sense: SenseEvent = Sense,
    /// An actor takes what lies about.
    pickup: PickupEvent = Pickup,
    /// Everything is reset.
    reset: ActorEvent = Reset,
    /// An actor appears.
    appear: ActorEvent = Appear,
    /// An actor vanishes without a death.
    vanish: VanishEvent = Vanish,
    /// A sensor notices an actor no longer.
    lose: SenseEvent = Lose,
    /// An actor is stunned.
    stun: ActorEvent = Stun,
    /// An actor's guard breaks.
    guard_break: ActorEvent = GuardBreak,
    /// Whom parries a hit.
    parry: PairEvent = Parry,
    /// A hit pushes an actor: a knockback, a rebound, or the push of a parry.
    push: PushEvent = Push,
    /// An actor comes to stand on something.
    landing: ActorEvent = Landing,
    /// A button goes down or up.
    input: InputEvent = Input,
    /// A press has no effect, because its button is down already; or a pose, an attack or an effect from outside has
    /// none.
    ignored: IgnoredEvent = Ignored,
    /// An effect comes from outside.
    apply: ApplyEvent = Apply,
}

/// What does not happen on one tick, but is so, is an expectation by itself.
fn of_the_expectation(key: &str) -> Option<String> {
    match key {
        "place" => Some(
            "expect the place itself: { place = { who = …, inside = …, holds = \"always\" } }"
                .to_owned(),
        ),
        "outcome" => Some("expect the other outcome itself: { outcome = \"lost\" }".to_owned()),
        _ => None,
    }
}

/// A pattern as it stands in a file.
#[derive(Clone, Default, PartialEq, Table)]
#[table(
    no_builder,
    misplaced = of_the_expectation,
    one_of(
        "hit",
        "death",
        "gone",
        "respawn",
        "reach",
        "cue",
        "shot",
        "dry_fire",
        "attack",
        "state",
        "sense",
        "pickup",
        "reset",
        "appear",
        "vanish",
        "lose",
        "stun",
        "guard_break",
        "parry",
        "push",
        "landing",
        "input",
        "ignored",
        "apply",
        "meter",
        "lives"
    )
)]
struct WrittenPattern {
    #[key(flatten)]
    events: Events,
    /// A meter passes a level.
    meter: Option<MeterEvent>,
    /// A life is lost or gained.
    lives: Option<LivesEvent>,
}

written_as!(Pattern, WrittenPattern);

impl From<WrittenPattern> for Pattern {
    fn from(written: WrittenPattern) -> Pattern {
        let meter = written.meter.map(|event| event.pattern(Happening::Passes));
        let lives = written.lives.map(|event| event.pattern(Happening::Lives));
        let event = written.events.pattern();
        event.or(meter).or(lives).unwrap_or_default()
    }
}

impl From<Pattern> for WrittenPattern {
    fn from(pattern: Pattern) -> WrittenPattern {
        WrittenPattern {
            events: Events::of(&pattern),
            meter: (pattern.happening == Happening::Passes).then(|| MeterEvent::of(&pattern)),
            lives: (pattern.happening == Happening::Lives).then(|| LivesEvent::of(&pattern)),
        }
    }
}
