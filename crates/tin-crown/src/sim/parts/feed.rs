//! Recordings: what they tell of a tick, who is not there, and whom they introduce.

use std::fmt;

use serde::{Deserialize, Serialize};

use super::actor::{Ground, NEVER};
use super::appearing::Return;
use super::newcomer::Newcomer;
use super::posing::{self, Posed};
use super::rising::Rise;
use super::{impact, shots};
use crate::encounter::{Ending, Facing};
use crate::geometry::Vec2;
use crate::ledger::{Bearing, Launched, LineId, Unheeded, What};
use crate::limits;
use crate::plan::{
    ActorIx, BoxSet, Does, Edge, Introduction, LauncherPlan, Plan, Pose, Recording, Report,
    Reports, Role, Source,
};
use crate::sim::slot::Slot;
use crate::sim::state::{Excess, State};
use crate::time::Tick;

/// What is known of the recordings of a drill.
#[derive(Clone, Debug, Default, Serialize, Deserialize)]
pub(crate) struct Feed {
    /// How many reports were heard.
    heard: u64,
    /// Those that were introduced and are told yet, in the order of their numbers.
    introduced: Vec<(u32, ActorIx)>,
    /// Who is introduced on this tick.
    #[serde(skip)]
    newcomers: Vec<(u32, Box<Introduction>)>,
    /// The files, where the reports are too many to be kept.
    #[serde(skip)]
    reading: Reading,
}

/// Reports that are read as they are heard. A copy reads them anew, up to where it is.
#[derive(Default)]
struct Reading {
    source: Option<Box<dyn Source>>,
    ahead: Option<Report>,
    failed: Option<String>,
}

impl Clone for Reading {
    fn clone(&self) -> Reading {
        Reading {
            failed: self.failed.clone(),
            ..Reading::default()
        }
    }
}

impl fmt::Debug for Reading {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.debug_struct("Reading").finish_non_exhaustive()
    }
}

impl Feed {
    /// The next report that is due by a tick.
    fn due(&mut self, recording: &Recording, tick: Tick) -> Option<Report> {
        let report = match &recording.reports {
            Reports::Kept(all) => {
                let next = all.get(usize::try_from(self.heard).ok()?);
                next.filter(|report| report.tick <= tick)?.clone()
            }
            Reports::Read(again) => {
                if self.reading.failed.is_some() {
                    return None;
                }
                let read = self.reading.next(self.heard, || again.read());
                match read {
                    Ok(()) => {}
                    Err(why) => {
                        self.reading.failed = Some(why);
                        return None;
                    }
                }
                self.reading.ahead.take_if(|report| report.tick <= tick)?
            }
        };
        self.heard += 1;
        Some(report)
    }

    /// Whether anybody is introduced on this tick.
    pub fn introduces(&self) -> bool {
        !self.newcomers.is_empty()
    }

    /// Why its files cannot be read any further.
    pub fn failed(&self) -> Option<&str> {
        self.reading.failed.as_deref()
    }

    fn find(&self, number: u32) -> Option<ActorIx> {
        let place = self.introduced.binary_search_by_key(&number, |own| own.0);
        Some(self.introduced[place.ok()?].1)
    }
}

impl Reading {
    /// Reads the next report, unless it is read.
    fn next(
        &mut self,
        heard: u64,
        open: impl FnOnce() -> Result<Box<dyn Source>, String>,
    ) -> Result<(), String> {
        if self.ahead.is_some() {
            return Ok(());
        }
        if self.source.is_none() {
            let mut source = open()?;
            for _ in 0..heard {
                source.next()?;
            }
            self.source = Some(source);
        }
        if let Some(source) = &mut self.source {
            self.ahead = source.next()?;
        }
        Ok(())
    }
}

fn recording<'p>(plan: &'p Plan, state: &State) -> Option<&'p Recording> {
    state.played.drill(plan)?.recording.as_deref()
}

/// Before tick 0: whom recordings place is where they have it, or absent.
pub(crate) fn begin(plan: &Plan, state: &mut State) {
    let Some(recording) = recording(plan, state) else {
        return;
    };
    for &actor in recording.placed() {
        let who = Slot::placed(actor);
        state.posed.push(Posed::recorded(who));
        state.actors[who].alive = false;
        state.actors[who].absent = true;
    }
    hear(plan, state);
    for nth in 0..state.posed.len() {
        let who = state.posed[nth].who;
        settle(state, who);
    }
    state.pending.returns.clear();
}

/// Phase 2, before all else: what recordings tell of this tick.
pub(crate) fn hear(plan: &Plan, state: &mut State) {
    let Some(recording) = recording(plan, state) else {
        return;
    };
    let tick = state.tick;
    while let Some(report) = state.feed.due(recording, tick) {
        let who = match report.who {
            Role::Placed(actor) => Some(actor),
            Role::Introduced(number) => state.feed.find(number),
        };
        match (report.does, report.who) {
            (Does::Press { button, down }, Role::Placed(who)) => {
                let edge = Edge {
                    tick: report.tick.max(tick),
                    who,
                    button,
                    down,
                    ignored: false,
                };
                let live = &mut state.script.live;
                let place = live.partition_point(|other| other.place() < edge.place());
                live.insert(place, edge);
            }
            // Who is introduced has no buttons.
            (Does::Press { .. }, Role::Introduced(_)) => {}
            (Does::Come(introduction), Role::Introduced(number)) => {
                state.feed.newcomers.push((number, introduction));
            }
            (Does::Come(_), Role::Placed(_)) => {}
            (Does::Pose(pose), Role::Introduced(number)) if who.is_none() => {
                // Told twice on its first tick.
                let mut newcomers = state.feed.newcomers.iter_mut();
                if let Some((_, new)) = newcomers.find(|(own, _)| *own == number) {
                    new.pose = pose;
                }
            }
            (Does::Pose(pose), _) => {
                if let Some(who) = who.and_then(|actor| state.roll.slot(actor)) {
                    pose_one(state, who, pose);
                }
            }
            (Does::Leave, role) => {
                if let Some(who) = who.and_then(|actor| state.roll.slot(actor)) {
                    leave(plan, state, who);
                }
                if let Role::Introduced(number) = role {
                    state.feed.introduced.retain(|(own, _)| *own != number);
                }
            }
        }
    }
}

/// A recording has an actor there.
fn pose_one(state: &mut State, who: Slot, pose: Pose) {
    let tick = state.tick;
    let Some(posed) = posing::of(state, who) else {
        return;
    };
    posed.told(pose, tick);
    let actor = &mut state.actors[who];
    if actor.absent {
        let back = Return {
            who,
            at: pose.at,
            rise: pose.height,
            facing: None,
            anew: false,
            respawn: false,
            just_there: true,
            cause: None,
        };
        if !state.pending.returns.iter().any(|own| own.who == who) {
            state.pending.returns.push(back);
        }
    } else if !actor.alive || actor.dying {
        if posing::of(state, who).is_some_and(Posed::is_first_ignored) {
            state.tell(Some(who), What::Ignored(Unheeded::Pose));
        }
    } else {
        actor.posed = true;
    }
}

/// A recording has an actor nowhere any more.
fn leave(plan: &Plan, state: &mut State, who: Slot) {
    if let Some(posed) = posing::of(state, who) {
        posed.away = true;
    }
    let actor = &state.actors[who];
    if !actor.alive || actor.dying {
        return;
    }
    if who.index() >= plan.actors.len() {
        shots::vanish_quietly(state, who, Ending::Absent, None);
        shots::gone(plan, state, who);
        return;
    }
    impact::give_up(plan, state, who, None, Bearing::GuardDown);
    state.tell(Some(who), What::Vanish { of: Ending::Absent });
    let actor = &mut state.actors[who];
    actor.alive = false;
    actor.live = BoxSet::default();
    actor.absent = true;
    let number = actor.number;
    state.contacts.pairs.forget(number);
    state.contacts.marks.forget(number);
}

/// Who comes back, or is put back, is where its recording has it now, or is absent.
pub(crate) fn settle(state: &mut State, who: Slot) {
    let tick = state.tick;
    let Some(posed) = posing::of(state, who) else {
        return;
    };
    if !posed.is_recorded() {
        return;
    }
    if posed.away {
        let actor = &mut state.actors[who];
        actor.alive = false;
        actor.live = BoxSet::default();
        actor.absent = true;
        return;
    }
    let pose = posed.arrive(tick);
    let actor = &mut state.actors[who];
    if actor.absent {
        actor.absent = false;
        actor.alive = true;
    }
    let Some(pose) = pose else {
        return;
    };
    actor.posed = true;
    actor.came = tick;
    actor.at = pose.at;
    actor.start = pose.at;
    actor.facing = pose.facing.unwrap_or(actor.facing);
    let (plane, up) = pose.velocity.unwrap_or_default();
    actor.velocity = plane;
    actor.set_out = plane;
    actor.life.rise = Rise {
        home: actor.life.rise.home,
        ..Rise::new(pose.height, up)
    };
}

/// Who has just appeared stands on something where that is told.
pub(crate) fn ground(state: &mut State, who: Slot) {
    let tick = state.tick;
    let Some(posed) = posing::of(state, who) else {
        return;
    };
    if let Some(grounded) = posed.stands(tick) {
        let actor = &mut state.actors[who];
        actor.ground = grounded.then_some(Ground::Fixed);
    }
}

/// Whom recordings introduce on this tick.
pub(crate) fn introduce(plan: &Plan, state: &mut State, born: &mut Vec<(Slot, Option<LineId>)>) {
    let mut newcomers = std::mem::take(&mut state.feed.newcomers);
    for (number, new) in newcomers.drain(..) {
        if state.lists.order.len() + born.len() >= limits::ALIVE {
            state.excess.get_or_insert(Excess::Recorded);
            break;
        }
        let slot = one(plan, state, &new);
        state.feed.introduced.push((number, state.number(slot)));
        born.push((slot, None));
    }
    state.feed.introduced.sort_unstable();
    state.feed.newcomers = newcomers;
}

fn one(plan: &Plan, state: &mut State, new: &Introduction) -> Slot {
    let kind = usize::from(new.kind);
    let maker = new.maker.and_then(|maker| match maker {
        Role::Placed(actor) => Some(actor),
        Role::Introduced(number) => state.feed.find(number),
    });
    let made_by = maker.and_then(|maker| state.roll.slot(maker));
    let breed = match made_by {
        Some(maker) => plan.breed(state.actors[maker].breed).introduced[kind],
        None => plan.introduced[kind].1,
    };
    let spec = plan.spec_of(plan.breed(breed).spec);
    let shot = |launcher: &LauncherPlan| launcher.launches == spec.kind && launcher.shot;
    let number = state.roll.next();
    let (plane, up) = new.pose.velocity.unwrap_or_default();
    let newcomer = Newcomer {
        id: &new.name,
        breed,
        facing: match (new.pose.facing, made_by) {
            (Some(facing), _) => facing,
            (None, Some(maker)) => state.actors[maker].facing,
            (None, None) => Facing::Right,
        },
        side: match made_by {
            Some(maker) => state.actors[maker].side,
            None => spec.side,
        },
        at: new.pose.at,
        velocity: plane,
        rise: Rise::new(new.pose.height, up),
        shot: match made_by {
            Some(maker) => state.spec(plan, maker).launchers.iter().any(shot),
            None => plan
                .specs
                .iter()
                .any(|spec| spec.launchers.iter().any(shot)),
        },
        number,
        // Nobody's is its own.
        maker: Some(maker.unwrap_or(number)),
        root: made_by.map_or(number, |maker| state.actors[maker].life.root),
        depth: made_by.map_or(0, |maker| state.actors[maker].life.depth + 1),
        origin: None,
        launcher: None,
    };
    let root = newcomer.root;
    let slot = state.add(plan, &newcomer);
    state.roll.enter(
        Launched {
            number,
            id: new.name.clone(),
            spec: state.actors[slot].spec,
            maker,
            root,
            recorded: true,
        },
        slot,
    );
    let actor = &mut state.actors[slot];
    // How long it is there is told.
    actor.ends = NEVER;
    actor.posed = true;
    actor.at = new.pose.at;
    actor.start = new.pose.at;
    actor.life.rise = Rise::new(new.pose.height, up);
    if plane == Vec2::ZERO {
        actor.velocity = plane;
    }
    let tick = state.tick;
    posing::enter(state, slot, new.pose, tick);
    slot
}
