//! The verdict on a touch.

use serde::{Deserialize, Serialize};

use crate::syntax::Words;

/// The verdict on a touch: the first that applies, in this order.
#[derive(
    Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Words, Serialize, Deserialize,
)]
pub enum Verdict {
    /// Whom is dying, and that hurtbox is off.
    Down,
    /// Same side, and the rule is not friendly.
    Ally,
    /// A gate says no.
    Gate,
    /// The rule's repeat policy or spacing says not yet.
    Repeat,
    /// A rule that beats it applies between the two, or did a moment ago.
    Beaten,
    /// The attack's targets are spent, or it hit whom already on this tick.
    UsedUp,
    /// A window is open.
    Invincible,
    /// The guard held: some share comes through.
    Guarded,
    /// It took effect.
    Landed,
}

impl Verdict {
    /// Whether it had an effect: it landed, or a guard held.
    pub const fn took_effect(self) -> bool {
        matches!(self, Verdict::Landed | Verdict::Guarded)
    }
}
