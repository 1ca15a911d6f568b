//! Events: what happened, in indices.

use serde::{Deserialize, Serialize};

use crate::amount::Amount;
use crate::encounter::Ending;
use crate::geometry::{Angle, Vec2};
use crate::outcome::Outcome;
use crate::plan::{
    ActorIx, AttackIx, BoxIx, ButtonIx, CheckpointIx, CueIx, ExitIx, LauncherIx, MeterIx, RuleIx,
    SensorIx, StateIx,
};
use crate::reason::{Asked, DeathCause, Despite, DryReason, GuardSaid};
use crate::time::Tick;
use crate::verdict::Verdict;

/// The number of a line of the ledger: 1, 2, 3…
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
pub struct LineId(pub u32);

/// One thing that happened.
#[derive(Clone, Debug, PartialEq)]
pub struct Event {
    /// When.
    pub tick: Tick,
    /// The line's number.
    pub id: LineId,
    /// The line that brought it about.
    pub cause: Option<LineId>,
    /// The line that decided the verdict.
    pub because: Option<LineId>,
    /// Who acts.
    pub who: Option<ActorIx>,
    /// Who is acted on.
    pub whom: Option<ActorIx>,
    /// By which rule.
    pub rule: Option<RuleIx>,
    /// Where whom, else who, is at the tick's end.
    pub at: Option<Vec2>,
    /// How high that one is then; 0 where the arena has no heights.
    pub height: f64,
    /// Which way that one faces then, if it rotates.
    pub facing: Option<Angle>,
    /// What happened.
    pub what: What,
}

/// What happened.
#[derive(Clone, Debug, PartialEq)]
#[non_exhaustive]
pub enum What {
    /// An actor is there from this tick on.
    Appear,
    /// An actor is gone without a death.
    Vanish {
        /// What ended it.
        of: Ending,
    },
    /// Something was launched.
    Shot {
        /// By which launcher.
        launcher: LauncherIx,
        /// How many at once.
        count: u32,
    },
    /// A launcher was set off, and nothing came out.
    DryFire {
        /// Which.
        launcher: LauncherIx,
        /// Why.
        reason: DryReason,
    },
    /// An actor came into a state.
    Enter {
        /// Which.
        state: StateIx,
        /// From which.
        from: StateIx,
    },
    /// A sensor noticed an actor, or lost it.
    Sense {
        /// Which.
        sensor: SensorIx,
        /// How far off they are; absent when they are lost.
        distance: Option<f64>,
    },
    /// An actor took what lay about.
    Pickup,
    /// An actor lost or gained a life.
    Life {
        /// How many there were.
        before: u32,
        /// How many there are.
        after: u32,
    },
    /// An actor is about to come back.
    Respawn {
        /// At which checkpoint, if at one.
        checkpoint: Option<CheckpointIx>,
    },
    /// An actor reached a checkpoint.
    Checkpoint {
        /// Which.
        checkpoint: CheckpointIx,
    },
    /// An actor reached an exit.
    Exit {
        /// Which.
        exit: ExitIx,
    },
    /// Everyone and everything is reset.
    Reset,
    /// Something is announced.
    Cue {
        /// What.
        cue: CueIx,
    },
    /// A button went down or up.
    Input {
        /// The button.
        button: ButtonIx,
        /// Whether it is down now.
        down: bool,
    },
    /// An actor is told which way to face.
    Face {
        /// Which way.
        to: Angle,
    },
    /// Something that was asked for had no effect.
    Ignored(Unheeded),
    /// An effect came from outside.
    Apply {
        /// How much damage it did, or would have done with more to take.
        amount: Option<Amount>,
        /// How much of the damage was more than the meters held.
        overkill: Amount,
        /// Whether it killed outright.
        kills: bool,
    },
    /// An attack began, or is over.
    Attack {
        /// Which.
        attack: AttackIx,
        /// Whether it is over: `None` when it began, else whether it was cut short.
        over: Option<bool>,
        /// What it began in spite of, as it was told from outside.
        despite: Option<Despite>,
    },
    /// An actor raised or lowered its guard, lost the use of its limbs, or reloads.
    State {
        /// Which.
        bearing: Bearing,
        /// The first tick on which it is over, when that is known.
        until: Option<Tick>,
    },
    /// A touch of two boxes that a rule pairs, and its verdict.
    Hit(Hit),
    /// A meter changed.
    Meter {
        /// Which.
        meter: MeterIx,
        /// What it held.
        before: Amount,
        /// What it holds.
        after: Amount,
        /// What emptied it outright, when that is no damage.
        of: Option<DeathCause>,
    },
    /// An actor begins to die.
    Death {
        /// The actor that is credited.
        by: Option<ActorIx>,
        /// Of what.
        of: DeathCause,
    },
    /// An actor's death is over, and they are gone.
    Gone,
    /// The drill is decided, or over.
    Outcome(Outcome),
}

/// A touch of two boxes, and its verdict.
#[derive(Clone, Debug, PartialEq)]
pub struct Hit {
    /// Its outcome.
    pub verdict: Verdict,
    /// What gave.
    pub hitbox: BoxIx,
    /// What took.
    pub hurtbox: BoxIx,
    /// When within the tick, in 4096ths of it from its beginning.
    pub moment: u16,
    /// The gate that said no.
    pub gate: Option<GateNo>,
    /// What whom's guard did, or why it did not count.
    pub guard: Option<GuardSaid>,
    /// How much damage it did, or would have done with more to take, when it landed or came
    /// through a guard.
    pub amount: Option<Amount>,
    /// How much of the damage the guard took.
    pub blocked: Amount,
    /// How much of the damage was more than the meters held.
    pub overkill: Amount,
    /// Whether it killed whom outright.
    pub kills: bool,
    /// Which hit of who's chain this is, counted from 1, when it counts.
    pub chain: Option<u32>,
    /// The first tick on which whom is not invincible any more: because of this hit when it landed,
    /// in spite of it when it did not.
    pub until: Option<Tick>,
}

/// A gate that said no.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct GateNo {
    /// Which of the rule's gates.
    pub index: u8,
    /// What there was and what the rule asks, when those are numbers.
    pub numbers: Option<[f64; 2]>,
}

/// What had no effect.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
#[non_exhaustive]
pub enum Unheeded {
    /// A press: its button was down already.
    Press(ButtonIx),
    /// An attack that was told from outside: who was to be in it is dying, gone or stunned.
    Attack(AttackIx),
    /// A pose: who was to stand there is dying or gone. What follows up to its return is not told.
    Pose,
    /// An effect from outside: whom it was to act on is not there.
    Effect,
}

impl Unheeded {
    /// What was asked for.
    pub const fn asked(self) -> Asked {
        match self {
            Unheeded::Press(_) => Asked::Press,
            Unheeded::Attack(_) => Asked::Attack,
            Unheeded::Pose => Asked::Pose,
            Unheeded::Effect => Asked::Effect,
        }
    }
}

/// What an actor does with itself.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
#[non_exhaustive]
pub enum Bearing {
    /// It raised its guard.
    GuardUp,
    /// It lowered its guard.
    GuardDown,
    /// Its guard broke.
    GuardBroken,
    /// It cannot act.
    Stunned,
    /// It fills a meter again.
    Reloading,
    /// It has filled the meter.
    Reloaded,
    /// It stopped filling before it was done.
    ReloadBroken,
    /// Nothing comes into one of its meters by itself.
    Frozen(MeterIx),
}

impl Bearing {
    /// As in the ledger.
    pub const fn as_str(self) -> &'static str {
        match self {
            Bearing::GuardUp => "guard-up",
            Bearing::GuardDown => "guard-down",
            Bearing::GuardBroken => "guard-broken",
            Bearing::Stunned => "stunned",
            Bearing::Reloading => "reloading",
            Bearing::Reloaded => "reloaded",
            Bearing::ReloadBroken => "reload-broken",
            Bearing::Frozen(_) => "frozen",
        }
    }
}
