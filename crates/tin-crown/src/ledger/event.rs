//! Events: what happened, in indices.

use crate::amount::Amount;
use crate::geometry::Vec2;
use crate::plan::{ActorIx, BoxIx, ButtonIx, MeterIx, RuleIx};
use crate::time::Tick;

/// The number of a line of the ledger: 1, 2, 3…
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
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
    /// What happened.
    pub what: What,
}

/// What happened.
#[derive(Clone, Debug, PartialEq)]
pub enum What {
    /// Somebody is there from this tick on.
    Appear,
    /// Somebody is gone without a death.
    Vanish,
    /// A button went down or up.
    Input {
        /// The button.
        button: ButtonIx,
        /// Whether it is down now.
        down: bool,
    },
    /// A touch of two boxes that a rule pairs, and what came of it.
    Hit(Hit),
    /// A meter changed.
    Meter {
        /// Which.
        meter: MeterIx,
        /// What it held.
        before: Amount,
        /// What it holds.
        after: Amount,
    },
    /// Somebody begins to die.
    Death {
        /// To whose credit.
        by: Option<ActorIx>,
        /// Of what.
        of: DeathCause,
    },
    /// Somebody's death is over, and they are gone.
    Gone,
    /// The drill is decided, or over.
    Outcome(Outcome),
}

/// A touch of two boxes, and what came of it.
#[derive(Clone, Debug, PartialEq)]
pub struct Hit {
    /// What came of it.
    pub verdict: Verdict,
    /// What gave.
    pub hitbox: BoxIx,
    /// What took.
    pub hurtbox: BoxIx,
    /// When within the tick, in 4096ths of it from its beginning.
    pub moment: u16,
    /// What the rule takes, when it landed.
    pub amount: Option<Amount>,
    /// How much of that was more than the meters held.
    pub overkill: Amount,
    /// The first tick on which whom is not invincible any more: because of this hit when it landed,
    /// in spite of it when it did not.
    pub until: Option<Tick>,
}

/// What came of a touch: the first that applies, in this order.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Verdict {
    /// Whom is dying, and that hurtbox is off.
    Down,
    /// Same side, and the rule is not friendly.
    Ally,
    /// The rule's repeat policy or spacing says not yet.
    Repeat,
    /// A window is open.
    Invincible,
    /// It took effect.
    Landed,
}

impl Verdict {
    /// Every verdict, in the order in which they are tried.
    pub const ALL: [Verdict; 5] = [
        Verdict::Down,
        Verdict::Ally,
        Verdict::Repeat,
        Verdict::Invincible,
        Verdict::Landed,
    ];

    /// As in the ledger.
    pub const fn as_str(self) -> &'static str {
        match self {
            Verdict::Down => "down",
            Verdict::Ally => "ally",
            Verdict::Repeat => "repeat",
            Verdict::Invincible => "invincible",
            Verdict::Landed => "landed",
        }
    }
}

/// What somebody dies of.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum DeathCause {
    /// Health reached 0.
    Health,
    /// Leaving the arena.
    Outside,
    /// Being squeezed by a solid.
    Squeezed,
}

impl DeathCause {
    /// As in the ledger.
    pub const fn as_str(self) -> &'static str {
        match self {
            DeathCause::Health => "health",
            DeathCause::Outside => "outside",
            DeathCause::Squeezed => "squeezed",
        }
    }
}

/// How a drill ended.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum Outcome {
    /// The last player is gone for good.
    Lost,
    /// The length is used up.
    Ended,
}

impl Outcome {
    /// As in the ledger.
    pub const fn as_str(self) -> &'static str {
        match self {
            Outcome::Lost => "lost",
            Outcome::Ended => "ended",
        }
    }
}
