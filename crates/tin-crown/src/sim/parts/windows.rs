//! Windows of invincibility: against whom, until when, and because of which hit.

use crate::encounter::Against;
use crate::ledger::LineId;
use crate::plan::{ActorIx, RuleIx};
use crate::time::Tick;
use serde::{Deserialize, Serialize};

/// A stretch of time during which an actor cannot be hurt.
#[derive(Clone, Copy, Debug, Serialize, Deserialize)]
pub(crate) struct Window {
    pub scope: Scope,
    /// The first tick on which it is over.
    pub until: Tick,
    /// The hit that opened it.
    pub because: Because,
}

/// Against what a window holds.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub(crate) enum Scope {
    Everyone,
    Source(ActorIx),
    Rule(RuleIx),
    /// After a guarded hit: only the same who and rule.
    Both(ActorIx, RuleIx),
}

impl Scope {
    /// The scope of a window that a hit by `who` and `rule` opens.
    pub fn of(against: Against, who: ActorIx, rule: RuleIx) -> Scope {
        match against {
            Against::Everyone => Scope::Everyone,
            Against::Source => Scope::Source(who),
            Against::Rule => Scope::Rule(rule),
        }
    }

    pub fn covers(self, who: ActorIx, rule: RuleIx) -> bool {
        match self {
            Scope::Everyone => true,
            Scope::Source(source) => source == who,
            Scope::Rule(own) => own == rule,
            Scope::Both(source, own) => source == who && own == rule,
        }
    }
}

/// A line that decided something: written already, or to be written in this tick's phase 6.
#[derive(Clone, Copy, Debug, Serialize, Deserialize)]
pub(crate) enum Because {
    Line(LineId),
    /// A candidate, by its place in this tick's list.
    Candidate(u32),
}
