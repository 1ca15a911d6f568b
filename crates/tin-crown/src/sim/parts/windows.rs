//! Windows of invincibility: against whom, until when, and because of which hit.

use crate::encounter::Against;
use crate::ledger::LineId;
use crate::plan::{ActorIx, RuleIx};
use crate::time::Tick;
use serde::{Deserialize, Serialize};
use tin_crown_derive::CloneFrom;

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

/// The windows of an actor, in the order in which they were opened. Nearly always there is at most one, which
/// is found without going elsewhere.
#[derive(CloneFrom, Debug, Default, Serialize, Deserialize)]
pub(crate) struct Windows {
    first: Option<Window>,
    others: Vec<Window>,
}

impl Windows {
    /// All of them, over or not.
    pub fn all(&self) -> impl Iterator<Item = &Window> {
        self.first.iter().chain(&self.others)
    }

    /// All of them, to be changed.
    pub fn all_mut(&mut self) -> impl Iterator<Item = &mut Window> {
        self.first.iter_mut().chain(&mut self.others)
    }

    /// Opens a window, or lengthens the one of the same scope. Those that are over make room.
    pub fn open(&mut self, tick: Tick, window: Window) {
        self.others.retain(|window| window.until > tick);
        if self.first.is_some_and(|first| first.until <= tick) {
            self.first = (!self.others.is_empty()).then(|| self.others.remove(0));
        }
        let same = self.all_mut().find(|open| open.scope == window.scope);
        if let Some(open) = same {
            if open.until < window.until {
                *open = window;
            }
        } else if self.first.is_none() {
            self.first = Some(window);
        } else {
            self.others.push(window);
        }
    }

    /// The window against `who` and `rule` that is open longest; the first of several that end together.
    pub fn against(&self, tick: Tick, who: ActorIx, rule: RuleIx) -> Option<Window> {
        let covers = |window: &Window| window.until > tick && window.scope.covers(who, rule);
        if self.others.is_empty() {
            return self.first.filter(covers);
        }
        let open = self.all().copied().filter(covers);
        open.reduce(|longest, window| match window.until > longest.until {
            true => window,
            false => longest,
        })
    }

    /// Whether one is open against whomever.
    pub fn is_open(&self, tick: Tick) -> bool {
        let mut all = self.all();
        all.any(|window| window.until > tick && !matches!(window.scope, Scope::Both(..)))
    }
}

/// A line that decided something: written already, or to be written in this tick's phase 6.
#[derive(Clone, Copy, Debug, Serialize, Deserialize)]
pub(crate) enum Because {
    Line(LineId),
    /// A candidate, by its place in this tick's list.
    Candidate(u32),
}
