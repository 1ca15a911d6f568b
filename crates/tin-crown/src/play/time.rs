//! Time: on by hand, back, and to other branches.

use super::{Branch, Mark, PlayError, Session};
use crate::sim::ReplayError;
use crate::time::Tick;

/// So many steps can be undone.
const UNDONE: usize = 200;

impl Session {
    /// Plays a tick by hand. Before the end of what was played it begins a new branch there.
    ///
    /// # Errors
    ///
    /// When the run goes beyond a limit: see [`Sim::step`](crate::Sim::step).
    pub fn play(&mut self) -> Result<(), ReplayError> {
        if self.tick() < self.end() {
            self.mark();
            let now = self.tick();
            let who = self.driven.clone();
            self.branches.fork(now, who.as_deref());
            self.take.snapshots.cut(now);
        }
        self.grip();
        let calls = self.branches.current();
        self.take.advance(calls, self.ghost.as_ref())?;
        self.branches.current_mut().end = self.take.run.tick();
        Ok(())
    }

    /// Goes to a tick of what was played on this branch, or to its end.
    ///
    /// # Errors
    ///
    /// As [`play`](Self::play).
    pub fn seek(&mut self, tick: Tick) -> Result<(), ReplayError> {
        let tick = tick.min(self.end());
        if tick < self.tick() {
            self.take.back_to(tick);
            self.rewound();
        }
        let calls = self.branches.current();
        self.take.run_to(tick, calls, self.ghost.as_ref())
    }

    /// The branches that are kept, in the order in which they began.
    pub fn branches(&self) -> impl Iterator<Item = &Branch> {
        self.branches.all()
    }

    /// The branch that is played.
    pub fn branch(&self) -> &Branch {
        self.branches.current()
    }

    /// Returns to the end of another branch; nothing happens when it is not kept.
    ///
    /// # Errors
    ///
    /// As [`play`](Self::play).
    pub fn switch(&mut self, branch: u32) -> Result<(), ReplayError> {
        if branch == self.branch().id || !self.branches().any(|own| own.id == branch) {
            return Ok(());
        }
        self.mark();
        self.go(branch, Tick(u32::MAX))
    }

    fn go(&mut self, branch: u32, tick: Tick) -> Result<(), ReplayError> {
        let common = self.branches.switch(branch);
        self.take.snapshots.cut(common);
        if common < self.tick() {
            self.take.back_to(common);
            self.rewound();
        }
        self.seek(tick)
    }

    pub(super) fn mark(&mut self) {
        let mark = Mark {
            branch: self.branch().id,
            tick: self.end(),
            changes: self.changes.clone(),
        };
        self.marks.push(mark);
        if self.marks.len() > UNDONE {
            self.marks.remove(0);
        }
    }

    /// Takes back the last new branch, change of a branch or change of a number; says whether there was one.
    ///
    /// # Errors
    ///
    /// As [`play`](Self::play).
    pub fn undo(&mut self) -> Result<bool, PlayError> {
        let Some(mark) = self.marks.pop() else {
            return Ok(false);
        };
        let now = self.tick();
        if mark.changes != self.changes {
            self.put(mark.changes)?;
        }
        if mark.branch != self.branch().id {
            self.go(mark.branch, mark.tick)?;
        } else {
            self.seek(now)?;
        }
        Ok(true)
    }
}
