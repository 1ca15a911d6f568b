//! Runs that are driven from outside, tick by tick: open ones, without a drill and without an end, and drills in
//! somebody's hands.

use std::ops::Deref;
use std::sync::Arc;

use super::played::{self, Played as Kept};
use super::state::{Played, State};
use super::{ReplayError, Sim, Snapshot, SnapshotError};
use crate::encounter::{Drill, Effect, Input};
use crate::finding::{Code, Finding, Findings, Path};
use crate::geometry::Angle;
use crate::ledger::Ledger;
use crate::limits::Range;
use crate::plan::{
    self, ActorIx, ApplyPlan, ButtonIx, DrillIx, Edge, Named, Plan, Pose, PosePlan, Told,
};
use crate::sim::parts::script;
use crate::sim::slot::Slot;
use crate::time::{Tick, Ticks};

/// An encounter in somebody's hands: between its ticks buttons are pressed and released, actors are told where
/// they stand, and effects are applied.
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
/// let drill = run.into_drill().unwrap();
/// assert_eq!(drill.input.len(), 1);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Clone, Debug)]
pub struct Live {
    sim: Sim,
    /// What was played, unless nothing of it is kept.
    kept: Option<Kept>,
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

/// A pose that an actor cannot take.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
#[non_exhaustive]
pub enum PoseError {
    /// A number is out of its range, or is none.
    #[error("{} is not between {} and {} {}", .0, .1.least, .1.most, .1.unit)]
    OutOfRange(&'static str, Range),
    /// The arena has no heights.
    #[error("the arena has no height: leave `height` out")]
    NoHeight,
    /// Its kind has no such state.
    #[error("the kind of `{0}` has no such state")]
    NoSuchState(String),
    /// Its kind has no such attack.
    #[error("the kind of `{0}` has no such attack")]
    NoSuchAttack(String),
    /// It mirrors, and can be told to face nowhere but left or right.
    #[error("`{0}` mirrors: it faces left or right, as its pose says or its motion does")]
    Mirrors(String),
}

/// An effect that is impossible, or does nothing.
#[derive(Clone, Debug, thiserror::Error)]
#[error("{}", said(.findings))]
pub struct ApplyError {
    /// What is wrong with it.
    pub findings: Findings,
}

impl ApplyError {
    fn forgotten(actor: ActorIx) -> ApplyError {
        let message = format!("actor {} was launched and is gone", actor.index());
        let mut findings = Findings::new();
        findings.push(Finding::new(Code::UnknownName, Path::root(), message));
        ApplyError { findings }
    }
}

fn said(findings: &Findings) -> String {
    let all = findings.iter().map(|finding| finding.message.as_str());
    all.collect::<Vec<_>>().join("; ")
}

impl Sim {
    /// An open run on tick 0: the encounter as placed, with nothing pressed. Chance is drawn from the seed.
    pub fn open(plan: &Arc<Plan>, seed: u32) -> Live {
        Live {
            sim: Sim::begin(plan, Played::Open { seed }, &mut ()),
            kept: Some(Kept::default()),
        }
    }
}

impl Sim {
    /// A drill on tick 0 in somebody's hands: its script goes on, and what is pressed comes besides.
    ///
    /// # Panics
    ///
    /// When the index is of another plan.
    pub fn take_over(plan: &Arc<Plan>, drill: DrillIx) -> Live {
        Live {
            sim: Sim::new(plan, drill),
            kept: Some(Kept::default()),
        }
    }
}

impl Sim {
    /// When the drill's own script has each button go down and up, as far as that is known by now.
    pub(crate) fn scripted(&self) -> &[Edge] {
        let Sim { plan, state, .. } = self;
        script::edges(plan, state.played, state.script.begun_edges())
    }

    /// The same up to a tick, as inputs of a drill.
    pub(crate) fn scripted_inputs(&self, last: Tick) -> Vec<Input> {
        let edges = self.scripted();
        let due = edges.partition_point(|edge| edge.tick <= last);
        played::inputs(&self.plan, &edges[..due])
    }
}

impl Deref for Live {
    type Target = Sim;

    fn deref(&self) -> &Sim {
        &self.sim
    }
}

/// Each of these counts as of the next tick, and panics when an index is of another plan, or of an actor that was
/// launched where a placed one is asked for.
impl Live {
    /// Keeps nothing of what is played, so that a run without an end does not grow: there will be no
    /// [drill](Live::into_drill) of it.
    #[must_use]
    pub fn unrecorded(mut self) -> Live {
        self.kept = None;
        self
    }

    fn next(&self) -> Tick {
        self.sim.state.tick + Ticks(1)
    }

    /// Presses or releases a button of a placed actor. A press and its release between
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
        let next = self.next();
        if self.is_down(actor, button) == down {
            return Ok(());
        }
        let live = &mut self.sim.state.script.live;
        let own = |edge: &&Edge| (edge.who, edge.button) == (actor, button);
        let last = live.iter().rev().find(own).copied();
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

    /// Whether a button of a placed actor is down, with all that was pressed and released so far.
    ///
    /// # Panics
    ///
    /// When an index is of another plan.
    pub fn is_down(&self, actor: ActorIx, button: ButtonIx) -> bool {
        self.sim.plan.placed(actor);
        let own = |edge: &&Edge| (edge.who, edge.button) == (actor, button);
        let last = self.sim.state.script.live.iter().rev().find(own);
        let buttons = &self.sim.state.actors[Slot::placed(actor)].buttons;
        last.map_or(buttons.is_down(button), |last| last.down)
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

    /// Tells a placed actor that rotates which way to face: it turns there as fast as its kind does. Told twice before
    /// a tick, it is told the last.
    ///
    /// # Errors
    ///
    /// When it mirrors.
    ///
    /// # Panics
    ///
    /// When an index is of another plan.
    pub fn face(&mut self, actor: ActorIx, to: Angle) -> Result<(), PoseError> {
        if !self.sim.plan.spec(actor).rotates {
            return Err(PoseError::Mirrors(self.sim.id(actor).to_owned()));
        }
        let told = Told {
            tick: self.next(),
            who: actor,
            to,
        };
        if let Some(kept) = self.kept() {
            kept.tell(told);
        }
        self.sim.state.script.told.replace(told);
        Ok(())
    }

    /// Says where a placed actor stands at the end of the next tick. From its first pose on nothing else moves it: its
    /// own motion does not run, and no solid, push or gravity takes it along. Without a pose on a tick it stays.
    ///
    /// # Errors
    ///
    /// When it cannot stand there, or is never in that state or attack.
    ///
    /// # Panics
    ///
    /// When an index is of another plan.
    pub fn pose(&mut self, actor: ActorIx, pose: Pose) -> Result<(), PoseError> {
        let plan = &self.sim.plan;
        let spec = plan.spec(actor);
        let id = || self.sim.id(actor).to_owned();
        if let Some((what, range)) = pose.beyond() {
            return Err(PoseError::OutOfRange(what, range));
        }
        if plan.arena.height.is_none() && pose.is_high() {
            return Err(PoseError::NoHeight);
        }
        if pose
            .state
            .is_some_and(|own| own.index() >= spec.states.len())
        {
            return Err(PoseError::NoSuchState(id()));
        }
        let attack = pose.attack.and_then(|told| told.attack);
        if attack.is_some_and(|own| own.index() >= spec.attacks.len()) {
            return Err(PoseError::NoSuchAttack(id()));
        }
        let facing = pose.facing.map(|facing| facing.of_kind(spec.rotates));
        let told = PosePlan {
            tick: self.next(),
            who: actor,
            pose: Pose { facing, ..pose },
        };
        if let Some(kept) = self.kept() {
            kept.pose(told);
        }
        self.sim.state.script.poses.add(told);
        Ok(())
    }

    /// Applies an effect to whom, placed or launched, at the beginning of the next tick's phase 6. No gate, guard or
    /// window is asked. It is to who's credit, if anybody's.
    ///
    /// # Errors
    ///
    /// When the effect is impossible, or does nothing; or when either was launched and is gone, and its lines were
    /// drained.
    ///
    /// # Panics
    ///
    /// When an index is of another plan.
    ///
    /// ```
    /// # let plan = tin_crown::check(tin_crown::demo::FIRST_SHELF.as_bytes()).plan.unwrap();
    /// use tin_crown::Sim;
    /// use tin_crown::encounter::Effect;
    ///
    /// let porter = plan.actor("porter").unwrap();
    /// let mut run = Sim::open(&plan, 0);
    /// run.apply(&Effect::damage_of(1.0), None, porter)?;
    /// run.step()?;
    /// assert_eq!(run.events()[0].what.name(), "apply");
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    pub fn apply(
        &mut self,
        effect: &Effect,
        who: Option<ActorIx>,
        whom: ActorIx,
    ) -> Result<(), ApplyError> {
        let named = |actor: ActorIx| match actor.index() < self.sim.plan.actors.len() {
            true => Ok(Named::Placed(actor)),
            false if self.sim.is_forgotten(actor) => Err(ApplyError::forgotten(actor)),
            false => Ok(Named::Launched(self.sim.id(actor).into())),
        };
        let (who, whom) = (who.map(named).transpose()?, named(whom)?);
        let does = plan::effect_of(&self.sim.plan, effect, who.is_some());
        let applied = ApplyPlan {
            tick: self.next(),
            who,
            whom,
            does: does.map_err(|findings| ApplyError { findings })?,
        };
        if let Some(kept) = self.kept() {
            kept.apply(applied.clone(), effect.clone());
        }
        self.sim.state.script.effects.add(applied);
        Ok(())
    }

    /// As [`Sim::restore`]. What was played after it is forgotten when the run goes on from there. A snapshot before
    /// which something else was played than in this run leaves nothing of it to be kept: there will be no
    /// [drill](Live::into_drill).
    ///
    /// # Errors
    ///
    /// When the snapshot is of another plan, or of a drill.
    pub fn restore(&mut self, from: &Snapshot) -> Result<(), SnapshotError> {
        self.sim.restore(from)?;
        let (tick, print) = (self.sim.state.tick, self.sim.played);
        let known = |kept: &mut Kept| print.is_some_and(|print| kept.put_back(tick, print));
        self.kept.take_if(|kept| !known(kept));
        Ok(())
    }

    /// What was played up to now, if it is kept: there is more to come.
    fn kept(&mut self) -> Option<&mut Kept> {
        let State { tick, script, .. } = &self.sim.state;
        self.kept.take_if(|kept| !kept.go_on(*tick, script));
        self.kept.as_mut()
    }

    /// Goes one tick on, and says whether there was one left to go: a drill has an end.
    ///
    /// # Errors
    ///
    /// When more is to be kept, or touches, or is there, than may be.
    pub fn step(&mut self) -> Result<bool, ReplayError> {
        let next = self.next();
        self.kept();
        let live = &self.sim.state.script.live;
        if let Some(kept) = &mut self.kept {
            let due = live.iter().take_while(|edge| edge.tick <= next);
            kept.press(due.filter(|edge| edge.tick == next).copied());
        }
        let stepped = self.sim.step()?;
        match &mut self.kept {
            None => self.sim.played = None,
            Some(kept) if stepped => {
                let print = kept.played(next);
                self.sim.played = print.or(self.sim.played);
            }
            Some(_) => {}
        }
        Ok(stepped)
    }

    /// All lines up to now. The ledger goes on from here; their numbers do, too.
    pub fn drain(&mut self) -> Ledger {
        let Sim { state, history, .. } = &mut self.sim;
        history.take(state.roll.all())
    }

    /// What was pressed up to a tick, in the order of ticks, as inputs of a drill. Nothing of a run of which
    /// [nothing was kept](Live::unrecorded).
    pub fn pressed(&self, last: Tick) -> Vec<Input> {
        let last = last.min(self.sim.state.tick);
        let edges = self.kept.as_ref().map_or(&[][..], |kept| kept.edges(last));
        played::inputs(&self.sim.plan, edges)
    }

    /// What was played, as a drill: replayed, it gives the same lines, and one more that says that it ended.
    /// None of a run of which [nothing was kept](Live::unrecorded), of one that was
    /// [put back](Live::restore) to where something else had been played, or of a drill that was
    /// [taken over](Sim::take_over).
    pub fn into_drill(self) -> Option<Drill> {
        let Sim { plan, state, .. } = &self.sim;
        let Played::Open { .. } = state.played else {
            return None;
        };
        let kept = self.kept?;
        Some(kept.into_drill(plan, state.seed(plan), state.tick))
    }
}
