//! What appears at the end of phase 3: launched things, what is left behind, and whoever comes back
//! or elsewhere.

use serde::{Deserialize, Serialize};
use std::fmt::Write;
use std::sync::Arc;

use super::actor::{Actor, Life};
use super::rising::Rise;
use super::windows::{Because, Scope, Window};
use super::{clocked, feed, launchers, meters, posing, shots, solids};
use crate::encounter::{Ending, Facing, MetersAt};
use crate::geometry::{Angle, Vec2};
use crate::ledger::{Cast, Launched, LineId, What};
use crate::limits;
use crate::plan::{BreedIx, Drive, LauncherIx, Plan, SideIx};
use crate::sim::parts::newcomer::Newcomer;
use crate::sim::phases::motion;
use crate::sim::slot::Slot;
use crate::sim::state::{Excess, Lists, Played, State};
use crate::time::{Tick, Ticks};

/// Something that is to appear.
#[derive(Clone, Copy, Debug, Serialize, Deserialize)]
pub(crate) struct Birth {
    /// On which tick.
    pub due: Tick,
    pub breed: BreedIx,
    pub maker: Slot,
    pub from: From,
    /// Which of its sort it is, counted from 1.
    pub number: u32,
    pub side: Option<SideIx>,
    pub facing: Facing,
    pub shot: bool,
    pub cause: LineId,
}

/// From where something comes.
#[derive(Clone, Copy, Debug, Serialize, Deserialize)]
pub(crate) enum From {
    /// Out of a launcher of its maker, as one of several.
    Launcher { launcher: LauncherIx, nth: u32 },
    /// Left behind there, as one of its maker's leavings.
    Left { at: Vec2, rise: f64 },
}

/// An actor who is to appear anew.
#[derive(Clone, Copy, Debug, Serialize, Deserialize)]
pub(crate) struct Return {
    pub who: Slot,
    pub at: Vec2,
    /// At which height.
    pub rise: f64,
    pub facing: Option<Facing>,
    /// Whether it begins anew.
    pub anew: bool,
    /// Whether it comes back after a death.
    pub respawn: bool,
    /// Whether it stands just there, wherever its motion begins; else its motion begins there.
    pub just_there: bool,
    pub cause: Option<LineId>,
}

/// Everyone as placed, but for whoever comes back elsewhere.
pub(crate) fn place(
    plan: &Plan,
    state: &mut State,
    backs: &mut Vec<Return>,
    cause: Option<LineId>,
) {
    for back in backs.drain(..) {
        come(plan, state, &back);
    }
    state.list(plan);
    for index in plan.cast() {
        let slot = Slot::placed(index);
        if state.actors[slot].alive {
            stand(plan, state, slot, cause);
        }
    }
}

/// An actor stands where it is: its line, and what is beneath it.
fn stand(plan: &Plan, state: &mut State, index: Slot, cause: Option<LineId>) {
    let event = state.tell(Some(index), What::Appear);
    event.cause = cause;
    if state.legs[index].pulses {
        state.lists.swinging.push(index);
    }
    if let Some(body) = &state.spec(plan, index).body {
        motion::settle(plan, state, index, body);
        state.actors[index].landed = false;
    }
    feed::ground(state, index);
}

/// Whatever is due appears, in the order of ids.
pub(crate) fn appear(plan: &Plan, state: &mut State) {
    state.pending.appeared = 0;
    let tick = state.tick;
    let due = |birth: &Birth| birth.due <= tick;
    let told = state.feed.introduces();
    if !told && state.pending.returns.is_empty() && !state.pending.births.iter().any(due) {
        if state.lists.stale {
            state.list(plan);
        }
        return;
    }
    let mut born = std::mem::take(&mut state.pending.born);
    let mut births = std::mem::take(&mut state.pending.births);
    for birth in births.iter().filter(|birth| birth.due <= tick) {
        if let Some(excess) = room(state, birth) {
            state.excess.get_or_insert(excess);
            break;
        }
        born.push((bear(plan, state, birth), Some(birth.cause)));
    }
    births.retain(|birth| birth.due > state.tick);
    state.pending.births = births;
    feed::introduce(plan, state, &mut born);
    enroll(plan, state, &mut born);
    let mut returns = std::mem::take(&mut state.pending.returns);
    for back in returns.drain(..) {
        come(plan, state, &back);
        if !state.actors[back.who].absent {
            born.push((back.who, back.cause));
        }
    }
    state.pending.returns = returns;
    state.list(plan);
    born.sort_unstable_by_key(|(index, _)| state.actors[*index].rank);
    for (index, cause) in born.drain(..) {
        stand(plan, state, index, cause);
        end_within_solid(plan, state, index);
    }
    state.pending.born = born;
}

/// Why there is no room for one more, if there is none.
fn room(state: &mut State, birth: &Birth) -> Option<Excess> {
    state.pending.appeared += 1;
    let launcher = match birth.from {
        From::Launcher { launcher, .. } => Some(launcher),
        From::Left { .. } => None,
    };
    let maker = state.number(birth.maker);
    // An open run has no length, and gives on the slots of what is gone.
    let is_drill = matches!(state.played, Played::Drill(_));
    if state.pending.appeared > limits::LAUNCHES {
        Some(Excess::Launches(maker, launcher))
    } else if state.lists.order.len() + state.pending.appeared > limits::ALIVE {
        Some(Excess::Alive(maker, launcher))
    } else if is_drill && state.roll.launched() >= limits::LAUNCHED {
        Some(Excess::Launched(maker, launcher))
    } else if state.actors[birth.maker].life.depth >= limits::CHAIN {
        Some(Excess::Chain(maker, launcher))
    } else {
        None
    }
}

fn bear(plan: &Plan, state: &mut State, birth: &Birth) -> Slot {
    let maker = birth.maker;
    let spec = state.spec(plan, maker);
    let kind = plan.spec_of(plan.breed(birth.breed).spec).kind;
    let sort = match birth.from {
        From::Launcher { launcher, .. } => &spec.launchers[launcher.index()].name,
        From::Left { .. } => &plan.names.kinds[kind],
    };
    let mut text = std::mem::take(&mut state.pending.id);
    text.clear();
    let made = write!(text, "{}.{sort}.{}", state.id(plan, maker), birth.number);
    debug_assert!(made.is_ok(), "a string takes all");
    let id: Arc<str> = text.as_str().into();
    state.pending.id = text;
    let (at, velocity, rise, by) = match birth.from {
        From::Launcher { launcher, nth } => {
            let (at, velocity, rise) =
                launchers::send_off(plan, state, maker, launcher, birth.facing, nth);
            (at, velocity, rise, Some(launcher))
        }
        From::Left { at, rise } => (at, Vec2::ZERO, Rise::new(rise, 0.0), None),
    };
    let own = &state.actors[maker];
    let (made_by, number) = (own.number, state.roll.next());
    let new = Newcomer {
        id: &id,
        number,
        breed: birth.breed,
        facing: birth.facing,
        side: birth.side,
        at,
        velocity,
        rise,
        shot: birth.shot,
        maker: Some(made_by),
        root: own.life.root,
        depth: own.life.depth + 1,
        origin: Some(birth.cause),
        launcher: by,
    };
    let root = new.root;
    let slot = state.add(plan, &new);
    face_flight(state, slot, velocity);
    let launched = Launched {
        number,
        id,
        spec: state.actors[slot].spec,
        maker: Some(made_by),
        root,
        recorded: false,
    };
    state.roll.enter(launched, slot);
    slot
}

/// What rotates and flies as it was sent off faces that way from its first tick.
fn face_flight(state: &mut State, index: Slot, velocity: Vec2) {
    let flies = matches!(
        state.legs[index].drive,
        Drive::Coast | Drive::Fall { .. } | Drive::Chase { .. }
    );
    let actor = &mut state.actors[index];
    if let (true, Facing::Angle(_), Some(flight)) = (flies, actor.facing, Angle::of(velocity)) {
        actor.facing = Facing::Angle(flight);
        actor.life.outset = actor.facing;
    }
}

/// Puts the newly born where they belong in the order of ids.
fn enroll(plan: &Plan, state: &mut State, born: &mut [(Slot, Option<LineId>)]) {
    if born.is_empty() {
        return;
    }
    let Lists { order, roster, .. } = &mut state.lists;
    let cast = Cast {
        plan,
        launched: state.roll.all(),
    };
    let actors = &state.actors;
    roster.extend(born.iter().map(|(index, _)| *index));
    let id = |slot: Slot| cast.id(actors[slot].number);
    born.sort_unstable_by(|(a, _), (b, _)| id(*a).cmp(id(*b)));
    // From behind, so that each is moved once.
    let mut from = order.len();
    order.resize(from + born.len(), Slot(0));
    let mut to = order.len();
    for &(index, _) in born.iter().rev() {
        let before = order[..from].partition_point(|other| id(*other) < id(index));
        order.copy_within(before..from, to - (from - before));
        to -= from - before + 1;
        order[to] = index;
        from = before;
    }
}

/// An actor comes back, or elsewhere.
fn come(plan: &Plan, state: &mut State, back: &Return) {
    let (tick, index) = (state.tick, back.who);
    if back.anew {
        renew(plan, state, back);
    }
    posing::come(state, index);
    let actor = &mut state.actors[index];
    actor.came = tick;
    actor.at = back.at;
    actor.start = back.at;
    actor.cut = false;
    actor.velocity = Vec2::ZERO;
    actor.set_out = Vec2::ZERO;
    actor.life.rise = Rise {
        home: actor.life.rise.home,
        ..Rise::new(back.rise, 0.0)
    };
    if let Some(facing) = back.facing {
        actor.facing = facing.of_kind(plan.spec_of(actor.spec).rotates);
    }
    state.set_off(plan, index);
    if back.anew {
        let drive = state.legs[index].drive;
        let actor = &mut state.actors[index];
        let (offset, up) = clocked::offset(plan, actor, drive, 0);
        if back.just_there {
            actor.anchor = actor.at - offset;
            actor.life.rise.anchor = actor.life.rise.at - up;
        } else {
            actor.at += offset;
            actor.life.rise.at += up;
            actor.life.rise.start = actor.life.rise.at;
        }
        actor.start = actor.at;
    }
    let number = state.number(index);
    state.contacts.pairs.forget(number);
    state.contacts.marks.forget(number);
    feed::settle(state, index);
}

/// An actor begins anew: as it was placed, but for what it keeps from life to life.
fn renew(plan: &Plan, state: &mut State, back: &Return) {
    let index = back.who;
    let id = state.id(plan, index).to_owned();
    let old = &state.actors[index];
    let spec = plan.spec_of(old.spec);
    let new = Newcomer {
        id: &id,
        number: old.number,
        breed: old.breed,
        facing: old.facing,
        side: spec.side,
        at: back.at,
        rise: Rise::new(back.rise, 0.0),
        velocity: Vec2::ZERO,
        shot: false,
        maker: None,
        root: old.number,
        depth: 0,
        origin: None,
        launcher: None,
    };
    let own = old.life.own.clone();
    state.stock.renew(spec, &own, state.tick);
    for barrel in &mut state.stock.barrels[own.launchers.clone()] {
        barrel.renew();
    }
    let first = own.meters.start;
    let life = Life::new(spec, &new, own, state.seed(plan), state.tick);
    let fresh = Actor::new(plan, &new, state.tick, life);
    let old = std::mem::replace(&mut state.actors[index], fresh);
    let actor = &mut state.actors[index];
    actor.rank = old.rank;
    actor.buttons = old.buttons;
    actor.posed = old.posed;
    let life = &mut actor.life;
    life.lives = old.life.lives;
    life.checkpoint = old.life.checkpoint;
    life.reached = old.life.reached;
    life.left = old.life.left;
    life.taken = old.life.taken;
    life.home = old.life.home;
    life.rise.home = old.life.rise.home;
    (life.pace, life.places, life.drops) = (old.life.pace, old.life.places, old.life.drops);
    let respawn = spec.respawn.as_deref().filter(|_| back.respawn);
    let meters = respawn.map_or(MetersAt::Start, |respawn| respawn.meters);
    for (nth, meter) in spec.meters.iter().enumerate() {
        let own = &mut state.stock.meters[first + nth];
        let kept = *own;
        let after = match meters {
            MetersAt::Full => meter.max,
            MetersAt::Kept if kept.is_positive() || !plan.is_health(meter.name) => kept,
            MetersAt::Start | MetersAt::Kept => meter.start,
        };
        *own = after;
        meters::tell(state, index, meter.name, kept, after, back.cause);
    }
    let actor = &mut state.actors[index];
    if let (true, Some(line)) = (back.respawn && spec.after_respawn > Ticks(0), back.cause) {
        let window = Window {
            scope: Scope::Everyone,
            until: state.tick + spec.after_respawn,
            because: Because::Line(line),
        };
        actor.windows.open(state.tick, window);
    }
}

/// What appears within a solid that ends it, ends there.
fn end_within_solid(plan: &Plan, state: &mut State, index: Slot) {
    let actor = &state.actors[index];
    let spec = plan.spec_of(actor.spec);
    if actor.life.maker.is_some()
        && !actor.posed
        && spec.flight.ends_at(Ending::Solid, actor.shot)
        && spec
            .body
            .as_ref()
            .is_some_and(|body| solids::is_within(plan, state, index, body))
    {
        let part = 1.0;
        state.pending.ended.push(shots::End {
            who: index,
            ending: Ending::Solid,
            part,
            hit: None,
        });
    }
}

/// An actor leaves behind what it leaves at such an end.
pub(crate) fn leave(
    plan: &Plan,
    state: &mut State,
    index: Slot,
    ending: Ending,
    cause: LineId,
    same_tick: bool,
) {
    let actor = &state.actors[index];
    let spec = plan.spec_of(actor.spec);
    if spec.leaves.is_empty() {
        return;
    }
    for (nth, leave) in spec.leaves.iter().enumerate() {
        if leave.comes_of(ending) {
            let child = spec.launchers.len() + nth;
            leave_one(plan, state, index, child, leave.shot, cause, same_tick);
        }
    }
}

/// An actor leaves behind one of what it brings forth.
pub(crate) fn leave_one(
    plan: &Plan,
    state: &mut State,
    index: Slot,
    child: usize,
    shot: bool,
    cause: LineId,
    same_tick: bool,
) {
    let due = if same_tick {
        state.tick
    } else {
        state.tick + Ticks(1)
    };
    let actor = &mut state.actors[index];
    actor.life.left += 1;
    let birth = Birth {
        due,
        breed: plan.breed(actor.breed).offspring[child],
        maker: index,
        from: From::Left {
            at: actor.at,
            rise: actor.life.rise.at,
        },
        number: actor.life.left,
        side: actor.side,
        facing: actor.facing,
        shot,
        cause,
    };
    state.pending.births.push(birth);
}
