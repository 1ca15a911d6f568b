//! Actors that something else moves: they stand where they are told, and no force of the encounter moves them.

use serde::{Deserialize, Serialize};

use super::actor::Ground;
use super::{attacks, guards, launchers, meters, script, transitions};
use crate::geometry::{Facing, Vec2};
use crate::ledger::{Unheeded, What};
use crate::plan::{AttackTold, Plan, Pose, StateIx};
use crate::sim::slot::Slot;
use crate::sim::state::State;
use crate::time::Tick;

/// An actor that something else moves.
#[derive(Clone, Copy, Debug, Serialize, Deserialize)]
pub(crate) struct Posed {
    pub who: Slot,
    /// What was told of it last, and when.
    pose: Pose,
    told: Tick,
    /// Whether its next pose has no way.
    jumps: bool,
    /// Whether a recording tells of it, and whether it has it nowhere now.
    recorded: bool,
    pub away: bool,
    /// Whether it is told that its poses have no effect now.
    ignored: bool,
    /// The attack that it was last told to be in.
    attack: Option<AttackTold>,
}

impl Posed {
    /// One that a recording has nowhere yet.
    pub fn recorded(who: Slot) -> Posed {
        Posed {
            recorded: true,
            away: true,
            ..Posed::new(who, Pose::at(Vec2::ZERO))
        }
    }

    fn new(who: Slot, pose: Pose) -> Posed {
        Posed {
            who,
            pose,
            told: Tick(0),
            jumps: true,
            recorded: false,
            away: false,
            ignored: false,
            attack: None,
        }
    }

    pub fn is_recorded(&self) -> bool {
        self.recorded
    }

    /// It is told to be there.
    pub fn told(&mut self, pose: Pose, tick: Tick) {
        self.away = false;
        self.pose = pose;
        self.told = tick;
        self.jumps |= pose.jump;
    }

    /// Whether this is the first pose that is ignored, of which is told.
    pub fn is_first_ignored(&mut self) -> bool {
        !std::mem::replace(&mut self.ignored, true)
    }

    /// Where it is told to be on this tick, when it is there at once.
    pub fn arrive(&mut self, tick: Tick) -> Option<Pose> {
        if self.told != tick {
            return None;
        }
        self.jumps = false;
        self.ignored = false;
        Some(self.pose)
    }

    /// Whether it stands on something, if a recording tells of this tick.
    pub fn stands(&self, tick: Tick) -> Option<bool> {
        (self.recorded && !self.away && self.told == tick).then_some(self.pose.grounded)
    }

    /// Its next pose is a first one: it is back, or put back.
    pub fn begin_anew(&mut self) {
        self.jumps = true;
        self.ignored = false;
    }
}

fn place(state: &State, who: Slot) -> Result<usize, usize> {
    state.posed.binary_search_by_key(&who, |posed| posed.who)
}

/// What is told of an actor, if anything is.
pub(crate) fn of(state: &mut State, who: Slot) -> Option<&mut Posed> {
    let nth = place(state, who).ok()?;
    Some(&mut state.posed[nth])
}

/// One whom a recording introduces stands there.
pub(crate) fn enter(state: &mut State, who: Slot, pose: Pose, tick: Tick) {
    let mut posed = Posed::recorded(who);
    posed.told(pose, tick);
    posed.jumps = false;
    match place(state, who) {
        Ok(nth) => state.posed[nth] = posed,
        Err(nth) => state.posed.insert(nth, posed),
    }
}

/// It is back, or elsewhere, by itself: its next pose is a first one.
pub(crate) fn come(state: &mut State, who: Slot) {
    if let Ok(nth) = place(state, who) {
        state.posed[nth].begin_anew();
    }
}

/// Phase 2, with the inputs: what is told of actors on this tick.
pub(crate) fn tell(plan: &Plan, state: &mut State) {
    while let Some(told) = script::due(
        plan,
        state,
        |drill| &drill.poses,
        |script| &mut script.poses,
    ) {
        let who = Slot::placed(told.who);
        let nth = place(state, who).unwrap_or_else(|nth| {
            state.posed.insert(nth, Posed::new(who, told.pose));
            nth
        });
        let actor = &mut state.actors[who];
        let posed = &mut state.posed[nth];
        if !actor.alive || actor.dying {
            if posed.is_first_ignored() {
                state.tell(Some(who), What::Ignored(Unheeded::Pose));
            }
            continue;
        }
        actor.posed = true;
        posed.told(told.pose, state.tick);
    }
}

/// Phase 2: facing, state and attack as they are told; what is not told goes by itself.
pub(crate) fn act(plan: &Plan, state: &mut State, index: Slot) {
    let Ok(nth) = place(state, index) else {
        return;
    };
    let posed = state.posed[nth];
    face(plan, state, index, &posed);
    let (rests, stunned) = {
        let actor = &state.actors[index];
        (actor.rests(state.tick), actor.is_stunned(state.tick))
    };
    if rests {
        return;
    }
    let attack = posed.pose.attack;
    if stunned {
        let new = attack.filter(|told| is_new(*told, posed.attack));
        if let Some(attack) = new.and_then(|told| told.attack) {
            state.posed[nth].attack = posed.pose.attack;
            state.tell(Some(index), What::Ignored(Unheeded::Attack(attack)));
        }
        return;
    }
    transitions::turn(plan, state, index);
    if !state.actors[index].alive {
        return;
    }
    if let Some(told) = posed.pose.state {
        transitions::tell(plan, state, index, told);
        if !state.actors[index].alive {
            return;
        }
    }
    match attack {
        Some(told) => fight(plan, state, index, nth, told),
        None => attacks::start_one(plan, state, index),
    }
    guards::heed(plan, state, index);
    meters::heed(plan, state, index);
    if index.index() < plan.actors.len() {
        // What those launch that are introduced is told as well.
        launchers::heed(plan, state, index);
    }
    state.actors[index].entered = false;
}

/// The state that an actor is told to be in, if it is told.
pub(crate) fn told_state(state: &State, index: Slot) -> Option<StateIx> {
    state.posed[place(state, index).ok()?].pose.state
}

/// Whether what is told now of an actor's attacks is another than what was told last.
fn is_new(told: AttackTold, last: Option<AttackTold>) -> bool {
    let last = last.unwrap_or(AttackTold {
        attack: None,
        count: None,
    });
    let counted = told.count.is_some() && last.count.is_some() && told.count != last.count;
    told.attack != last.attack || counted
}

/// An attack begins when it is first told, and is cut short when it is told no longer.
fn fight(plan: &Plan, state: &mut State, index: Slot, nth: usize, told: AttackTold) {
    let last = state.posed[nth].attack.replace(told);
    if !is_new(told, last) {
        return;
    }
    match told.attack {
        None => attacks::end(plan, state, index, None, true),
        Some(attack) => {
            let despite = attacks::obstacle(plan, state, index, attack);
            attacks::start(plan, state, index, attack, None, despite);
        }
    }
}

/// Faces the way it is told, over the tick unless it jumps.
fn face(plan: &Plan, state: &mut State, index: Slot, posed: &Posed) {
    let up = plan.arena.up.sign();
    let actor = &mut state.actors[index];
    let told = posed.pose.facing.filter(|_| posed.told == state.tick);
    let Some(new) = told else {
        return;
    };
    if let (Facing::Angle(old), Facing::Angle(new)) = (actor.facing, new) {
        let by = i64::from(old.to(new));
        actor.life.turning = match old.to(new) {
            _ if posed.jumps => 0,
            // Half a turn goes by way of up.
            i32::MIN if old.toward(new, 1, up) == old.plus(1) => -by,
            _ => by,
        };
    }
    actor.facing = new;
    // What its kind was told before has no say any more.
    actor.life.told = None;
}

/// Phase 3: it goes where it is told, in a straight line, or is there at once. Whether it is.
pub(crate) fn go(plan: &Plan, state: &mut State, index: Slot) -> bool {
    let Ok(nth) = place(state, index) else {
        return false;
    };
    let (tick, rate) = (state.tick, f64::from(plan.rate));
    let posed = &mut state.posed[nth];
    let told = posed.told == tick;
    let jumps = told && std::mem::take(&mut posed.jumps);
    let pose = posed.pose;
    let actor = &mut state.actors[index];
    let mut velocity = (Vec2::ZERO, 0.0);
    if told {
        let rise = &mut actor.life.rise;
        let way = (pose.at - actor.at, pose.height - rise.at);
        actor.at = pose.at;
        rise.at = pose.height;
        if jumps {
            actor.start = actor.at;
            rise.start = rise.at;
            actor.came = tick;
        } else {
            velocity = (way.0 * rate, way.1 * rate);
        }
        velocity = pose.velocity.unwrap_or(velocity);
        let grounded = pose.grounded;
        actor.landed |= grounded && actor.ground.is_none();
        actor.ground = grounded.then_some(Ground::Fixed);
        if grounded {
            actor.chain = 0;
        }
    }
    actor.velocity = velocity.0;
    actor.set_out = velocity.0;
    actor.life.rise.velocity = velocity.1;
    actor.life.rise.set_out = velocity.1;
    actor.stopped = [false; 2];
    actor.arrived = false;
    jumps
}
