//! Deaths: each begins once a life, plays out step by step, and ends; then perhaps an actor comes back.

use super::actor::{Comeback, Doom, Dying, Legs};
use super::appearing::{self, Return};
use super::meters::{self, Source};
use super::{edge, groups, impact, resets, rising, shots, solids};
use crate::encounter::{Ending, Facing};
use crate::geometry::{Vec2, overlap};
use crate::ledger::{Bearing, LineId, What};
use crate::outcome::Outcome;
use crate::plan::{
    BoxSet, CheckpointIx, DeathPlan, Drive, Group, Plan, ResetPlan, RespawnPlan, ReturnPlan,
    StateIx,
};
use crate::sim::phases::record;
use crate::sim::slot::Slot;
use crate::sim::state::State;
use crate::time::Ticks;

/// Phase 6: deaths begin, in the order of ids.
pub(crate) fn begin_all(plan: &Plan, state: &mut State) {
    if !state.pending.doomed.is_empty() {
        let actors = &state.actors;
        state
            .pending
            .doomed
            .sort_unstable_by_key(|index| actors[*index].rank);
        for nth in 0..state.pending.doomed.len() {
            let index = state.pending.doomed[nth];
            let actor = &mut state.actors[index];
            if let Some(doom) = actor.life.doom.take().filter(|_| actor.alive) {
                begin(plan, state, index, &doom);
            }
        }
        state.pending.doomed.clear();
    }
    if std::mem::take(&mut state.pending.player_gone) {
        let mut players = plan.cast().filter(|&index| plan.spec(index).player);
        if players.all(|index| is_gone(state, Slot::placed(index))) {
            state.outcome.get_or_insert(Outcome::Lost);
        }
    }
}

/// Whether an actor is gone for good.
pub(crate) fn is_gone(state: &State, index: Slot) -> bool {
    let actor = &state.actors[index];
    !actor.alive && !actor.absent && actor.life.comeback.is_none() && actor.life.back.is_none()
}

fn begin(plan: &Plan, state: &mut State, index: Slot, doom: &Doom) {
    impact::give_up(plan, state, index, doom.hit, Bearing::GuardDown);
    let what = What::Death {
        by: doom.by,
        of: doom.of,
    };
    let event = state.tell(Some(index), what);
    let line = event.caused_by(doom.hit).id;
    let spec = state.spec(plan, index);
    let tick = state.tick;
    let dt = 1.0 / f64::from(plan.rate);
    let actor = &mut state.actors[index];
    if let Some(before) = actor.life.lives {
        let after = before.saturating_sub(1);
        actor.life.lives = Some(after);
        let what = What::Life { before, after };
        state.tell(Some(index), what).cause = Some(line);
    }
    let actor = &mut state.actors[index];
    actor.dying = true;
    actor.held = false;
    actor.life.dying = Some(Dying {
        since: tick,
        next: 0,
        line,
        kept: BoxSet::default(),
        entered: false,
    });
    actor.always.hit = 0;
    // Dead and empty are one thing.
    let source = Source {
        cause: Some(line),
        of: Some(doom.of),
        ..Source::default()
    };
    meters::empty_health(plan, state, index, source);
    let fall = state.legs[index].fall;
    let still = Legs::new(spec, Drive::Still, plan.arena.gravity, dt);
    let stands = still.stands && fall == 0.0;
    state.legs[index] = Legs {
        fall,
        stands,
        ..still
    };
    play(plan, state, index, false);
}

/// Phase 1: steps fall due.
pub(crate) fn go_on(plan: &Plan, state: &mut State) {
    for nth in 0..state.lists.order.len() {
        let index = state.lists.order[nth];
        let actor = &state.actors[index];
        if actor.dying && !actor.rests(state.tick) {
            play(plan, state, index, true);
        }
    }
}

/// Phase 1, after the lifetimes: whoever is gone comes back.
pub(crate) fn come_back(plan: &Plan, state: &mut State) {
    for nth in 0..state.lists.order.len() {
        let index = state.lists.order[nth];
        let actor = &state.actors[index];
        if !actor.alive && actor.life.comeback.is_some() {
            count_down(plan, state, index);
        }
    }
}

/// Plays all steps that are due; after the last the actor is gone.
fn play(plan: &Plan, state: &mut State, index: Slot, same_tick: bool) {
    let steps = &state.spec(plan, index).death;
    loop {
        let Some(dying) = state.actors[index].life.dying else {
            return;
        };
        let Some(step) = steps.get(dying.next) else {
            return end(plan, state, index, dying.line, same_tick);
        };
        if state.tick < dying.since + step.after {
            return;
        }
        let next = Dying {
            next: dying.next + 1,
            kept: step.live.unwrap_or(dying.kept),
            ..dying
        };
        let actor = &mut state.actors[index];
        actor.life.dying = Some(next);
        actor.always.hit = next.kept.hit;
        actor.always.hurt |= next.kept.hurt;
        play_one(plan, state, index, step, dying.line, same_tick);
        if same_tick {
            let actor = &mut state.actors[index];
            actor.live = actor.always;
        }
    }
}

fn play_one(
    plan: &Plan,
    state: &mut State,
    index: Slot,
    step: &DeathPlan,
    line: LineId,
    same_tick: bool,
) {
    record::cue(state, index, step.cue, Some(line));
    let spec = state.spec(plan, index);
    let [gravity, height] = plan.arena.pull();
    let dt = 1.0 / f64::from(plan.rate);
    if let Some(to) = step.state {
        enter(plan, state, index, to, line);
    }
    let actor = &mut state.actors[index];
    let legs = &mut state.legs[index];
    if let Some(drive) = step.drive {
        actor.anchor = actor.at;
        actor.life.rise.anchor = actor.life.rise.at;
        actor.clock = 0;
        actor.heading = actor.facing.sign();
        actor.life.outset = actor.facing;
        actor.life.rise.drop = spec.fall(&drive, height);
        *legs = Legs::new(spec, drive, gravity, dt);
    }
    if step.freeze {
        actor.velocity = Vec2::ZERO;
        actor.life.rise.velocity = 0.0;
        actor.life.rise.drop = 0.0;
        actor.undriven_until = state.tick;
        *legs = Legs::new(spec, Drive::Still, 0.0, dt);
    }
    if let Some(throw) = &step.throw {
        if let Some(forward) = throw.forward {
            match actor.facing {
                Facing::Angle(_) => actor.velocity = actor.facing.ahead() * forward,
                _ => actor.velocity.x = forward * actor.facing.sign(),
            }
        }
        if let Some(rise) = throw.up {
            rising::throw(plan, actor, rise);
        }
        // Gravity acts on thrown bodies.
        *legs = Legs::new(spec, Drive::Coast, gravity, dt);
        let factor = spec.gravity.unwrap_or(1.0);
        legs.fall = factor * gravity;
        actor.life.rise.drop = factor * height;
    }
    let mut left = u32::from(step.offspring);
    for &(_, shot) in &step.leaves {
        appearing::leave_one(plan, state, index, left as usize, shot, line, same_tick);
        left += 1;
    }
    let total: u32 = step.drops.iter().map(|(_, weight)| weight).sum();
    if total > 0 {
        let mut drawn = state.actors[index].life.drops.below(total as usize) as u32;
        for &(kind, weight) in &step.drops {
            if drawn < weight {
                if kind.is_some() {
                    appearing::leave_one(plan, state, index, left as usize, false, line, same_tick);
                }
                break;
            }
            drawn -= weight;
            left += u32::from(kind.is_some());
        }
    }
}

/// A step brings the dying into a state: they move as it says, and its boxes are live.
fn enter(plan: &Plan, state: &mut State, index: Slot, to: StateIx, line: LineId) {
    let tick = state.tick;
    let from = state.actors[index].life.mind.state.unwrap_or(to);
    let what = What::Enter { state: to, from };
    let event = state.tell(Some(index), what);
    let line = event.caused_by(Some(line)).id;
    let lit = state.spec(plan, index).states[to.index()].live;
    let actor = &mut state.actors[index];
    let (live, hurt) = (actor.live, actor.always.hurt);
    let mind = &mut actor.life.mind;
    mind.state = Some(to);
    mind.since = tick;
    mind.line = Some(line);
    state.set_off(plan, index);
    let actor = &mut state.actors[index];
    if let Some(dying) = &mut actor.life.dying {
        dying.entered = true;
        dying.kept = dying.kept.with(lit);
        actor.always.hit = dying.kept.hit;
        actor.always.hurt = hurt | dying.kept.hurt;
    }
    actor.live = live;
}

/// A death is over.
fn end(plan: &Plan, state: &mut State, index: Slot, line: LineId, same_tick: bool) {
    let spec = state.spec(plan, index);
    let tick = state.tick;
    let event = state.tell(Some(index), What::Gone);
    let gone = event.caused_by(Some(line)).id;
    let actor = &mut state.actors[index];
    actor.alive = false;
    if same_tick {
        actor.live = BoxSet::default();
    }
    actor.dying = false;
    actor.life.dying = None;
    let placed = index.index() < plan.actors.len();
    if let Some(respawn) = spec.respawn.as_deref().filter(|_| placed)
        && actor.life.lives != Some(0)
    {
        actor.life.comeback = Some(Comeback {
            since: tick,
            due: tick + respawn.delay.max(Ticks(1)),
            told: 0,
            line: gone,
        });
    }
    shots::gone(plan, state, index);
    appearing::leave(plan, state, index, Ending::Death, gone, same_tick);
}

/// Cues that count down, and the respawn when it is due.
fn count_down(plan: &Plan, state: &mut State, index: Slot) {
    let spec = state.spec(plan, index);
    let Some(respawn) = spec.respawn.as_deref() else {
        return;
    };
    let tick = state.tick;
    while let Some(comeback) = state.actors[index].life.comeback
        && let Some(&cue) = respawn.countdown.get(comeback.told)
    {
        let share = u64::from(respawn.delay.0) * comeback.told as u64;
        let at = comeback.since.0 + (share / respawn.countdown.len() as u64) as u32;
        // The first is due when it is gone, and told on the tick after.
        if tick.0 < at.max(comeback.since.0 + 1) {
            break;
        }
        state.actors[index].life.comeback = Some(Comeback {
            told: comeback.told + 1,
            ..comeback
        });
        record::cue(state, index, Some(cue), Some(comeback.line));
    }
    let Some(comeback) = state.actors[index].life.comeback else {
        return;
    };
    if tick < comeback.due {
        return;
    }
    let here = matches!(respawn.at, ReturnPlan::Here) && fits_here(plan, state, index);
    let ((at, rise), facing, checkpoint) = if here {
        let fallen = &state.actors[index];
        ((fallen.at, fallen.life.rise.at), fallen.facing, None)
    } else {
        place(plan, state, index, respawn)
    };
    if respawn
        .unless_near
        .is_some_and(|near| state.is_near(plan, near, index, (at, rise)))
    {
        return;
    }
    let event = state.tell(Some(index), What::Respawn { checkpoint });
    let line = event.caused_by(Some(comeback.line)).id;
    record::cue(state, index, respawn.cue, Some(line));
    let back = Return {
        who: index,
        at,
        rise,
        facing: Some(facing),
        anew: true,
        respawn: true,
        just_there: here,
        cause: Some(line),
    };
    state.actors[index].life.comeback = None;
    match &respawn.resets {
        ResetPlan::Encounter => state.pending.resets.push(back),
        ResetPlan::Itself => state.pending.returns.push(back),
        ResetPlan::Those(groups) => {
            state.pending.returns.push(back);
            resets::those(plan, state, index, groups, line);
        }
    }
}

/// Where an actor comes back, facing which way, and at which checkpoint.
fn place(
    plan: &Plan,
    state: &mut State,
    index: Slot,
    respawn: &RespawnPlan,
) -> ((Vec2, f64), Facing, Option<CheckpointIx>) {
    let placed = plan.actors[index.index()].facing;
    let life = &mut state.actors[index].life;
    match &respawn.at {
        ReturnPlan::Checkpoint if life.checkpoint.is_some() => {
            let checkpoint = life.checkpoint.unwrap_or(CheckpointIx(0));
            let point = &plan.checkpoints[checkpoint.index()];
            let facing = point.facing.unwrap_or(placed);
            ((point.at, point.rise), facing, Some(checkpoint))
        }
        ReturnPlan::Start | ReturnPlan::Checkpoint | ReturnPlan::Here => {
            ((life.home, life.rise.home), placed, None)
        }
        ReturnPlan::Places {
            at,
            clear_of,
            facing,
            rise,
        } => {
            let drawn = life.places.point(at);
            let facing = facing.unwrap_or(placed);
            let clear = |at: Vec2| {
                clear_of.is_none_or(|group| is_clear(plan, state, index, at, facing, group))
            };
            let all = std::iter::once(drawn).chain(at.all().copied());
            let found = all.into_iter().find(|at| clear(*at));
            ((found.unwrap_or(drawn), *rise), facing, None)
        }
    }
}

/// Whether an actor can be where it fell.
fn fits_here(plan: &Plan, state: &State, index: Slot) -> bool {
    let body = state.spec(plan, index).body.as_deref();
    !edge::is_outside(plan, &state.actors[index])
        && !body.is_some_and(|body| solids::is_within(plan, state, index, body))
}

/// Whether no live hitbox of a group would reach into an actor's boxes at a place.
fn is_clear(
    plan: &Plan,
    state: &State,
    index: Slot,
    at: Vec2,
    facing: Facing,
    group: Group,
) -> bool {
    let spec = state.spec(plan, index);
    let facing = facing.of_kind(spec.rotates);
    let own = || spec.hurtboxes.iter().chain(spec.body.as_deref());
    let reaches = |&other: &Slot| {
        let actor = &state.actors[other];
        let boxes = plan.spec_of(actor.spec).hitboxes.iter().enumerate();
        let live = boxes.filter(|(nth, _)| actor.live.hit & (1 << nth) != 0);
        let mut live = live.map(|(_, plan)| plan.shape_at(actor.facing, actor.age(state.tick)));
        actor.alive
            && other != index
            && groups::is_of(plan, actor, group)
            && live.any(|hitbox| {
                own().any(|plan| overlap(&plan.shape(facing), &hitbox, actor.at - at))
            })
    };
    !state.lists.order.iter().any(reaches)
}
