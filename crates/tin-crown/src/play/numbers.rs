//! The run under other numbers.

use std::sync::Arc;

use super::ghost::Ghost;
use super::stage::Stage;
use super::take::Take;
use super::{PlayError, Session};
use crate::encounter::{Encounter, Setting};
use crate::finding::Path;
use crate::map::Set;
use crate::plan::Plan;
use crate::sim::{ReplayError, Sim};
use crate::study;
use crate::time::Ticks;

/// So many changes are told.
const TOLD: usize = 12;

/// A value that was changed.
#[derive(Clone, Debug, PartialEq)]
pub struct Change {
    /// Where.
    pub path: Path,
    /// What it is now.
    pub value: Setting,
}

/// What became of a run under other numbers.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Changed {
    /// What is not as it was, in lines, the most important first; empty when nothing is.
    pub lines: Vec<String>,
    /// The first tick on which something is not as it was.
    pub first: Option<u32>,
    /// How many inputs are of nobody any more.
    pub unfit: usize,
}

impl Changed {
    pub(super) fn between(old: &Sim, new: &Sim, unfit: usize) -> Changed {
        let (old, new) = (old.record(), new.record());
        let comparison = study::compare(&old, &new, Ticks(0));
        let ticks = comparison.changes.iter().filter_map(|change| {
            let lines = change.sides().into_iter().flatten();
            lines.map(|line| line.tick).min()
        });
        Changed {
            first: ticks.min(),
            lines: comparison.brief(TOLD),
            unfit,
        }
    }
}

/// The plan of an encounter that is another but for some numbers, when its file would have no errors.
fn sound(encounter: &Encounter, before: &Plan) -> Result<Arc<Plan>, PlayError> {
    encounter.plan()?;
    Ok(encounter.resolve_again(before)?)
}

impl Session {
    /// Another run under a stage, up to the present tick.
    pub(super) fn replayed(&self, stage: Stage) -> Result<Take, ReplayError> {
        let mut take = Take::new(stage);
        take.run_to(self.tick(), self.branches.current(), self.ghost.as_ref())?;
        Ok(take)
    }

    pub(super) fn settle(&mut self, take: Take) {
        self.take = take;
        self.stayed = 0;
    }

    /// How the run was changed since its file was read.
    pub fn changes(&self) -> &[Change] {
        &self.changes
    }

    /// Gives the encounter a value, and replays the run with the same inputs up to the present tick.
    ///
    /// # Errors
    ///
    /// When the path leads nowhere, or the encounter makes no sense with that value; then nothing is changed.
    pub fn set(&mut self, path: &Path, value: impl Into<Setting>) -> Result<Changed, PlayError> {
        let mut changes = self.changes.clone();
        changes.retain(|change| change.path != *path);
        changes.push(Change {
            path: path.clone(),
            value: value.into(),
        });
        self.change(changes)
    }

    /// Gives a value back that was changed.
    ///
    /// # Errors
    ///
    /// As [`set`](Self::set).
    pub fn unset(&mut self, path: &Path) -> Result<Changed, PlayError> {
        let mut changes = self.changes.clone();
        changes.retain(|change| change.path != *path);
        self.change(changes)
    }

    fn change(&mut self, changes: Vec<Change>) -> Result<Changed, PlayError> {
        self.mark();
        let changed = self.put(changes);
        if changed.is_err() {
            self.marks.pop();
        }
        changed
    }

    pub(super) fn put(&mut self, changes: Vec<Change>) -> Result<Changed, PlayError> {
        let mut encounter = self.written.clone();
        for change in &changes {
            encounter.set(&change.path, change.value.clone())?;
        }
        let plan = sound(&encounter, &self.plan)?;
        let changed = self.play_under(encounter, plan)?;
        self.keep_changes(changes);
        Ok(changed)
    }

    /// What is as in the file is not changed.
    fn keep_changes(&mut self, mut changes: Vec<Change>) {
        changes.retain(|change| {
            let at = |encounter| study::written(encounter, &change.path);
            at(&self.encounter) != at(&self.written)
        });
        self.changes = changes;
    }

    /// The run under an encounter that is resolved.
    fn play_under(&mut self, encounter: Encounter, plan: Arc<Plan>) -> Result<Changed, PlayError> {
        let stage = Stage::new(&encounter, &plan, &self.setup, &self.hands)?;
        let haunting = self.ghost.as_ref().map(|ghost| ghost.drill());
        // A ghost whose drill is gone is no more.
        let ghost = match haunting.filter(|drill| plan.drill(drill).is_ok()) {
            Some(drill) => Some(Ghost::new(&plan, drill)?),
            None => None,
        };
        let mut take = Take::new(stage);
        take.run_to(self.tick(), self.branches.current(), ghost.as_ref())?;
        let changed = Changed::between(&self.take.run, &take.run, take.unfit);
        (self.encounter, self.plan, self.ghost) = (encounter, plan, ghost);
        self.settle(take);
        Ok(changed)
    }

    /// Takes over the encounter as its file has it now. What was changed here stays changed, but for what
    /// the file does not have any more, which is given back. When whoever is driven is gone, the first player is.
    ///
    /// # Errors
    ///
    /// When the encounter makes no sense with what was changed here, or the drill is gone; then nothing is changed.
    pub fn reread(
        &mut self,
        written: &Encounter,
        plan: &Arc<Plan>,
    ) -> Result<(Changed, Vec<Change>), PlayError> {
        let mut encounter = written.clone();
        let (mut kept, mut lost) = (Vec::new(), Vec::new());
        for change in &self.changes {
            match encounter.set(&change.path, change.value.clone()) {
                Ok(()) => kept.push(change.clone()),
                Err(_) => lost.push(change.clone()),
            }
        }
        let plan = match kept.is_empty() {
            true => Arc::clone(plan),
            false => sound(&encounter, plan)?,
        };
        let changed = self.play_under(encounter, plan)?;
        self.written = written.clone();
        self.keep_changes(kept);
        let players = self.players();
        let driven = self.driven.as_deref();
        if !players.iter().any(|player| Some(&*player.id) == driven) {
            // Whom the hands drove is not there any more: they take the first who is.
            (self.driven, self.held) = (None, Set::new());
            if let Some(first) = players.first() {
                let _ = self.drive(&first.id);
            }
        }
        Ok((changed, lost))
    }
}
