//! Open runs: driven from outside, tick by tick, without a drill and without an end.

use std::ops::Deref;
use std::sync::Arc;

use super::state::Played;
use super::{ReplayError, Sim, Snapshot, SnapshotError};
use crate::encounter::{Action, Afterwards, Drill, Input};
use crate::ledger::Ledger;
use crate::plan::{ActorIx, ButtonIx, Edge, Plan};
use crate::sim::slot::Slot;
use crate::time::{Duration, Ticks};

/// An encounter in somebody's hands: buttons are pressed and released between its ticks.
///
/// It looks as a [`Sim`] does, and its ledger grows until it is [drained](Live::drain).
///
/// ```
/// use tin_crown::Sim;
///
/// let plan = tin_crown::check(tin_crown::demo::FIRST_SHELF.as_bytes()).plan.unwrap();
/// let porter = plan.actor("porter").unwrap();
/// let right = plan.button("right")?;
/// let mut run = Sim::open(&plan, 0);
/// run.press(porter, right, true)?;
/// let before = run.actor(porter).at.x;
/// for _ in 0..10 {
///     run.step()?;
/// }
/// assert!(run.actor(porter).at.x > before);
/// // What was played can be kept.
/// let drill = run.into_drill();
/// assert_eq!(drill.input.len(), 1);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Clone, Debug)]
pub struct Live {
    sim: Sim,
    /// What was pressed and released, in the order of ticks.
    played: Vec<Edge>,
}

/// A button that does nothing for an actor.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[error("`{who}` has no button `{button}`; it has {}", listed(.known))]
pub struct PressError {
    /// The id of the actor.
    pub who: String,
    /// The button.
    pub button: String,
    /// The buttons that it has.
    pub known: Vec<String>,
}

fn listed(known: &[String]) -> String {
    match known {
        [] => "none".to_owned(),
        known => known.join(", "),
    }
}

impl Sim {
    /// An open run on tick 0: the encounter as placed, with nothing pressed. Chance is drawn from the seed.
    pub fn open(plan: &Arc<Plan>, seed: u32) -> Live {
        Live {
            sim: Sim::begin(plan, Played::Open { seed }, &mut ()),
            played: Vec::new(),
        }
    }
}

impl Deref for Live {
    type Target = Sim;

    fn deref(&self) -> &Sim {
        &self.sim
    }
}

impl Live {
    /// Presses or releases a button of a placed actor, as of the next tick. A press and its release between
    /// two ticks are a press of one tick; a release and a press are a new press. To press what is down, or to
    /// release what is up, changes nothing.
    ///
    /// # Errors
    ///
    /// When the button does nothing for the actor.
    ///
    /// # Panics
    ///
    /// When an index is of another plan.
    pub fn press(
        &mut self,
        actor: ActorIx,
        button: ButtonIx,
        down: bool,
    ) -> Result<(), PressError> {
        let plan = &self.sim.plan;
        if !plan.spec(actor).answers(button) {
            return Err(self.no_button(actor, button));
        }
        let next = self.sim.state.tick + Ticks(1);
        let live = &mut self.sim.state.script.live;
        let own = |edge: &&Edge| (edge.who, edge.button) == (actor, button);
        let last = live.iter().rev().find(own).copied();
        let buttons = &self.sim.state.actors[Slot::placed(actor)].buttons;
        if last.map_or(buttons.is_down(button), |last| last.down) == down {
            return Ok(());
        }
        // Its press would come to nothing on the tick of its release.
        let tick = match last {
            Some(last) if !down && last.tick >= next => next + Ticks(1),
            _ => next,
        };
        if let Some(last) = last.filter(|last| last.tick > tick) {
            // It was to go up only then, and stays down instead.
            live.retain(|edge| *edge != last);
            return Ok(());
        }
        let edge = Edge {
            tick,
            who: actor,
            button,
            down,
            ignored: false,
        };
        let place = live.partition_point(|other| other.place() < edge.place());
        live.insert(place, edge);
        Ok(())
    }

    fn no_button(&self, actor: ActorIx, button: ButtonIx) -> PressError {
        let plan = &self.sim.plan;
        let spec = plan.spec(actor);
        let known = (0..plan.names.buttons.len()).map(ButtonIx::new);
        let known = known.filter(|button| spec.answers(*button));
        PressError {
            who: self.sim.id(actor).to_owned(),
            button: plan.names.buttons[button].clone(),
            known: known
                .map(|button| plan.names.buttons[button].clone())
                .collect(),
        }
    }

    /// As [`Sim::restore`]; what was played since is forgotten.
    ///
    /// # Errors
    ///
    /// When the snapshot is of another plan, or of a drill.
    pub fn restore(&mut self, from: &Snapshot) -> Result<(), SnapshotError> {
        self.sim.restore(from)?;
        let last = self.sim.state.tick;
        self.played.retain(|edge| edge.tick <= last);
        Ok(())
    }

    /// Goes one tick on.
    ///
    /// # Errors
    ///
    /// When more is to be kept, or touches, or is there, than may be.
    pub fn step(&mut self) -> Result<(), ReplayError> {
        let next = self.sim.state.tick + Ticks(1);
        let live = &self.sim.state.script.live;
        let due = live.iter().take_while(|edge| edge.tick <= next);
        self.played.extend(due.filter(|edge| edge.tick == next));
        self.sim.step().map(|_| ())
    }

    /// All lines up to now. The ledger goes on from here; their numbers do, too.
    pub fn drain(&mut self) -> Ledger {
        let Sim { state, history, .. } = &mut self.sim;
        history.take(state.roll.all())
    }

    /// What was played, as a drill: replayed, it gives the same lines, and one more that says that it ended.
    pub fn into_drill(self) -> Drill {
        let plan = &self.sim.plan;
        let last = self.sim.state.tick;
        let mut drill = Drill::new(Duration::ticked(last.0));
        drill.seed = self.sim.state.seed(plan);
        drill.afterwards = Afterwards::GoesOn;
        for (nth, edge) in self.played.iter().enumerate() {
            if !edge.down {
                continue;
            }
            let own = |other: &&Edge| (other.who, other.button) == (edge.who, edge.button);
            let up = self.played[nth + 1..].iter().find(own);
            let length = up.map(|up| up.tick - edge.tick);
            let earlier = self.played[..nth].iter().rev().find(own);
            drill.input.push(Input {
                when: Duration::ticked(edge.tick.0),
                who: plan.actors[edge.who.index()].id.clone(),
                button: plan.names.buttons[edge.button].clone(),
                action: match length {
                    Some(Ticks(1)) => Action::Press,
                    length => Action::Hold(length.map(|Ticks(length)| Duration::ticked(length))),
                },
                anew: earlier.is_some_and(|up| up.tick == edge.tick),
            });
        }
        drill
    }
}
