//! Tin Crown: a bench on which the combat rules of 2D games are proved.
//!
//! An [`Encounter`] says who hurts whom: boxes, meters, rules, placements. Its [`Plan`] is the same,
//! checked and resolved. A [`Replay`] of one of its drills gives a [`Ledger`]: every event, tick by
//! tick, with its cause.
//!
//! What matters, in this order: **exact** (the same encounter gives the same ledger, byte for byte,
//! on every machine), **never silent** (whatever is unknown or odd is a [`Finding`] with its place),
//! **easy to read**, **fast**.
//!
//! ```
//! let file = br#"
//!     edition = 1
//!     title = "A thorn by the way"
//!     [arena]
//!     bounds = { min = [0, 0], max = [100, 50] }
//!     [kind.walker]
//!     meter.health = { max = 3 }
//!     hurtbox.feet = { size = [8, 8] }
//!     motion = { patrol = { between = [20, 80], speed = 60 } }
//!     invincible = { after_hit = "0.5s" }
//!     [kind.thorn]
//!     hitbox.tip = { radius = 2 }
//!     [[place]]
//!     kind = "walker"
//!     at = [20, 10]
//!     [[place]]
//!     kind = "thorn"
//!     at = [50, 10]
//!     [[rule]]
//!     name = "thorn pricks"
//!     hitbox = "thorn.tip"
//!     hurtbox = "walker.feet"
//!     damage = 1
//!     [drill.stroll]
//!     length = "1s"
//! "#;
//! let plan = tin_crown::check(file).plan.expect("no errors");
//! let replay = plan.replay("stroll")?;
//! // The feet reach 4 ahead and the tip 2: they touch after 24 units, at 1 a tick.
//! let hit = replay.ledger().events().iter().find(|event| event.whom.is_some()).unwrap();
//! assert_eq!(hit.tick.0, 25);
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

mod amount;
mod check;
mod encounter;
mod finding;
pub mod geometry;
mod ledger;
pub mod limits;
mod lint;
mod nearest;
mod outcome;
mod plan;
mod printable;
pub mod schema;
mod sim;
pub mod study;
mod syntax;
mod text;
mod time;
mod verdict;
mod verify;

pub use amount::{Amount, AmountError};
pub use check::{Checked, CheckedExpectations, check, check_expectations};
pub use encounter::{
    Action, Afterwards, Against, Aim, Allow, Also, Ammo, Approach, Arena, AttackSpec, Axis,
    BoxSpec, Breaks, Cancels, Chance, Chase, Checkpoint, Clear, Clock, Condition, Contact, Copies,
    Damage, DeathStep, Drain, Drill, DropSpec, During, Ease, Effect, Encounter, Ending, EndsOn,
    Exit, Expectation, Expected, Facing, Fall, FlightSpec, Follow, Freeze, Gate, Gift, GuardSpec,
    Happening, Hover, Input, Invincible, Kind, LauncherSpec, Leave, Leaving, Level, Live, Looking,
    MeterSpec, MeterStand, MetersAt, Motion, Movement, Near, Other, Outside, ParrySpec, Party,
    PartyGate, Patrol, Pattern, Phase, PickupSpec, Pierce, Placement, Places, Pulse, Push, Ray,
    Rebound, RegenSpec, Region, ReloadSpec, Repeat, Resets, RespawnSpec, Return, ReturnTo, Route,
    RouteKey, Rule, Selector, SelectorError, SensorSpec, SetError, Setting, Solid, StateSpec,
    Swing, Then, Times, Transition, Trigger, Up, Volley, Walk, When, WhenFull, Who,
};
pub use finding::{Code, Finding, Findings, Part, Path, PathError, Severity, Span, Step};
pub use ledger::{
    ActorEnd, Bearing, Dealt, DeathCause, DryReason, Event, GateNo, GuardSaid, Header, Hit,
    Launched, Ledger, LedgerError, Line, LineId, MeterEnd, Record, RecordError, Replay, Row,
    Summary, Tone, What,
};
pub use outcome::Outcome;
pub use plan::{
    About, Actor, ActorIx, AimPlan, ArenaPlan, Ask, AttackIx, AttackNameIx, AttackPlan, BoxIx,
    BoxPlan, BoxSet, BreedIx, ButtonIx, CancelPlan, CheckpointIx, CheckpointPlan, ChoiceError,
    Chosen, ClearPlan, ConditionPlan, CueIx, DamagePlan, DeathPlan, DrillIx, DrillPlan, Drive,
    DuringPlan, Edge, EffectPlan, ExitIx, ExitPlan, ExpectPlan, Expectations, ExpectedPlan,
    FlightPlan, GatePlan, Group, Growth, GuardPlan, Holds, KindIx, LauncherIx, LauncherPlan,
    LeavePlan, Leg, MeterIx, MeterPlan, OtherAsk, ParryPlan, PatternPlan, PickupPlan, Plan,
    PulsePlan, PushPlan, Reach, ReboundPlan, RegenPlan, ReloadPlan, ResetPlan, RespawnPlan,
    ReturnPlan, RoutePlan, RuleIx, RulePlan, Selection, SensorForm, SensorIx, SensorNameIx,
    SensorPlan, SideIx, SideOf, SolidPlan, SortIx, Spec, SpecIx, StandPlan, Start, StateIx,
    StateNameIx, StatePlan, TagIx, Target, TransitionPlan, UnknownDrill, UnknownName, UnknownRule,
};
pub use printable::escaped;
pub use sim::{ActorView, Answer, Inquest, Judged, ReplayError, Sim, Withheld};
pub use text::Format;
pub use time::{Duration, DurationError, Tick, Ticks};
pub use verdict::Verdict;
pub use verify::{Miss, Tested};

/// The README's code is run with the tests.
#[cfg(doctest)]
#[doc = include_str!("../../../README.md")]
struct Readme;
