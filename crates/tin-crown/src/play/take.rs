//! A run under one plan: on any tick of what is played.

use std::sync::Arc;

use super::branch::{Branch, Call};
use super::ghost::{Ghost, Parting};
use super::snapshots::Snapshots;
use super::stage::Stage;
use crate::plan::ButtonIx;
use crate::sim::{Live, ReplayError, Sim};
use crate::time::{Tick, Ticks};

#[derive(Clone, Debug)]
pub(super) struct Take {
    pub stage: Stage,
    pub run: Live,
    pub snapshots: Snapshots,
    /// Where it first parts from the ghost.
    pub parting: Option<Parting>,
    /// How many inputs are of no one, or of no button, under this plan.
    pub unfit: usize,
}

impl Take {
    /// On tick 0.
    pub fn new(stage: Stage) -> Take {
        let run = Sim::take_over(&stage.plan, stage.drill);
        let mut snapshots = Snapshots::default();
        snapshots.pass(&run, Tick(0));
        Take {
            stage,
            run,
            snapshots,
            parting: None,
            unfit: 0,
        }
    }

    /// The buttons of someone, and whether each is down.
    pub fn buttons(&self, id: &str) -> Vec<(Arc<str>, bool)> {
        let plan = &self.stage.plan;
        let Ok(who) = plan.actor(id) else {
            return Vec::new();
        };
        let all = (0..plan.names.buttons.len()).map(ButtonIx::new);
        let own = all.filter(|button| plan.spec(who).answers(*button));
        own.map(|button| {
            let name = plan.button_name(button).into();
            (name, self.run.is_down(who, button))
        })
        .collect()
    }

    /// What the drill has pressed for someone up to now.
    pub fn scripted_calls(&self, id: &str) -> Vec<Call> {
        let plan = &self.stage.plan;
        let Ok(who) = plan.actor(id) else {
            return Vec::new();
        };
        let (id, now): (Arc<str>, Tick) = (id.into(), self.run.tick());
        let edges = self.run.scripted().iter();
        let own = edges.filter(|edge| edge.who == who && edge.tick <= now);
        own.map(|edge| Call {
            after: Tick(edge.tick.0.saturating_sub(1)),
            who: Arc::clone(&id),
            button: plan.button_name(edge.button).into(),
            down: edge.down,
        })
        .collect()
    }

    /// Goes a tick on, as a branch has it.
    pub fn advance(&mut self, branch: &Branch, ghost: Option<&Ghost>) -> Result<(), ReplayError> {
        let next = self.run.tick() + Ticks(1);
        self.go(next, branch, ghost).map(drop)
    }

    /// Goes on up to a tick.
    pub fn run_to(
        &mut self,
        to: Tick,
        branch: &Branch,
        ghost: Option<&Ghost>,
    ) -> Result<(), ReplayError> {
        if let Some(ghost) = ghost.filter(|_| self.run.tick() == Tick(0) && self.parting.is_none())
        {
            self.parting = ghost.parting(&self.run);
        }
        // A drill with recordings has an end.
        while self.run.tick() < to && self.go(to, branch, ghost)? {}
        Ok(())
    }

    /// Goes a tick on, on the way to another, and says whether there was one left to go.
    fn go(
        &mut self,
        to: Tick,
        branch: &Branch,
        ghost: Option<&Ghost>,
    ) -> Result<bool, ReplayError> {
        for call in branch.at(self.run.tick()) {
            let plan = &self.stage.plan;
            let pressed = match (plan.actor(&call.who), plan.button(&call.button)) {
                (Ok(who), Ok(button)) => self.run.press(who, button, call.down).is_ok(),
                _ => false,
            };
            self.unfit += usize::from(!pressed);
        }
        let gone = self.run.step()?;
        self.snapshots.pass(&self.run, to);
        if let (None, Some(ghost)) = (&self.parting, ghost) {
            self.parting = ghost.parting(&self.run);
        }
        Ok(gone)
    }

    /// Goes back to a tick, or to the last before it of which there is a snapshot.
    pub fn back_to(&mut self, tick: Tick) {
        if let Some(snapshot) = self.snapshots.before(tick) {
            let restored = self.run.restore(snapshot);
            restored.unwrap_or_else(|error| unreachable!("it is of this run: {error}"));
        }
        self.parting
            .take_if(|parting| parting.tick > self.run.tick());
    }
}
