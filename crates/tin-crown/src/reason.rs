//! Why something came about: words that files and ledgers share.

use serde::{Deserialize, Serialize};

use crate::syntax::Words;

/// The cause of a death.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Words, Serialize, Deserialize)]
#[non_exhaustive]
pub enum DeathCause {
    /// Health reached 0.
    Health,
    /// It left the arena.
    Outside,
    /// A solid squeezed it.
    Squeezed,
    /// A rule killed it outright.
    Kill,
}

/// Why a launcher launched nothing.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Words)]
#[non_exhaustive]
pub enum DryReason {
    /// The meter that pays holds too little.
    Ammo,
    /// The meter that pays is being refilled.
    Reloading,
    /// Its cooldown is not over.
    Cooldown,
    /// As many of its shots are in flight as may be.
    InFlight,
}

/// What a guard did, or why it did not count.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Words)]
#[non_exhaustive]
pub enum GuardSaid {
    /// It held.
    Held,
    /// It was raised just in time.
    Parried,
    /// It does not cover that side.
    WrongSide,
    /// It was not up yet.
    TooLate,
    /// The meter that it costs is empty.
    Spent,
    /// The rule ignores guards.
    Pierced,
}

/// What an attack began in spite of.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Words)]
#[non_exhaustive]
pub enum Despite {
    /// Its cooldown was not over.
    Cooldown,
    /// Another attack was under way that it does not cancel.
    Attack,
    /// The state that its owner is in does not have it.
    State,
}

/// Which of what is asked for has no effect.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Words)]
#[non_exhaustive]
pub enum Asked {
    /// A press.
    Press,
    /// An attack that is told from outside.
    Attack,
    /// A pose.
    Pose,
    /// An effect from outside.
    Effect,
}

/// How an attack ended.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Words)]
pub enum Over {
    /// Its phases are over.
    Done,
    /// Something cut it short.
    CutShort,
}

/// What an actor can do with itself, as in the ledger.
pub(crate) const BEARINGS: [&str; 8] = [
    "guard-up",
    "guard-down",
    "guard-broken",
    "stunned",
    "reloading",
    "reloaded",
    "reload-broken",
    "frozen",
];
