//! How high actors are, where the arena has heights: gravity, what they stand on, what they bump into.

use super::actor::{Actor, Ground};
use super::{driving, solids};
use crate::geometry::{Bounds, HeightSpan, TOUCH, Vec2, overlap};
use crate::ledger::DeathCause;
use crate::plan::{BoxPlan, Drive, Plan, SensorForm, Spec};
use crate::sim::slot::Slot;
use crate::sim::state::State;
use serde::{Deserialize, Serialize};

/// How high an actor is, and how fast it rises.
#[derive(Clone, Copy, Debug, Default, Serialize, Deserialize)]
pub(crate) struct Rise {
    pub at: f64,
    /// Where it was when the tick began.
    pub start: f64,
    pub velocity: f64,
    /// The velocity it set out with this tick.
    pub set_out: f64,
    /// The whole way of the tick, when it was cut.
    pub cut: f64,
    /// Where it was placed, or appeared first.
    pub home: f64,
    /// From where its motion counts.
    pub anchor: f64,
    /// Its acceleration downward.
    pub drop: f64,
}

impl Rise {
    /// As one that appears there.
    pub fn new(at: f64, velocity: f64) -> Rise {
        Rise {
            at,
            start: at,
            velocity,
            set_out: velocity,
            cut: 0.0,
            home: at,
            anchor: at,
            drop: 0.0,
        }
    }
}

impl Actor {
    /// The straight way up it came this tick, or would have come.
    pub fn way_up(&self) -> f64 {
        let rise = &self.life.rise;
        if self.cut {
            rise.cut
        } else {
            rise.at - rise.start
        }
    }

    /// How high it was after a part of the tick.
    pub fn height_at(&self, part: f64) -> f64 {
        if part >= self.part() {
            self.life.rise.at
        } else {
            self.life.rise.start + self.way_up() * part
        }
    }

    /// The height from which it looks and at which others aim: the middle of its body's span, else of its
    /// hurtboxes', else its own.
    pub fn eye(&self, spec: &Spec) -> f64 {
        let spans = spec.hurtboxes.iter().filter_map(|part| part.span);
        let hurt = spans
            .reduce(|all, span| HeightSpan::new(all.low.min(span.low), all.high.max(span.high)));
        let span = spec.body.as_ref().and_then(|body| body.span).or(hurt);
        self.life.rise.at + span.map_or(0.0, HeightSpan::middle)
    }
}

/// Whether gravity, jumps and pushes move an actor up and down: not a body that reaches through all heights.
pub(crate) fn is_free(spec: &Spec) -> bool {
    spec.body.as_ref().is_none_or(|body| body.span.is_some())
}

/// Gives an actor the velocity it sets out with upward.
pub(crate) fn set_out(plan: &Plan, state: &mut State, index: Slot, driven: bool, dt: f64) {
    if plan.arena.height.is_none() {
        return;
    }
    let (actor, legs) = (&mut state.actors[index], &state.legs[index]);
    let launched = actor.life.maker.is_some();
    let rise = &mut actor.life.rise;
    if !is_free(plan.spec_of(actor.spec)) {
        rise.velocity = 0.0;
        return;
    }
    let weightless = rise.drop == 0.0;
    let mut pulled = true;
    match legs.drive {
        _ if !driven => {}
        // The motion itself says how high.
        Drive::Path { .. }
        | Drive::Hover { .. }
        | Drive::Swing { .. }
        | Drive::Follow { .. }
        | Drive::Return { .. } => pulled = false,
        Drive::Patrol { speed, .. } if weightless && !actor.held => {
            (rise.velocity, _) = driving::approach(rise.at, rise.anchor, speed, dt);
        }
        // What was launched goes on as it was sent off.
        Drive::Chase { .. } if launched => {}
        Drive::Still | Drive::Patrol { .. } | Drive::Chase { .. } | Drive::Walk { .. }
            if weightless =>
        {
            rise.velocity = 0.0;
        }
        _ => {}
    }
    if let (
        true,
        true,
        Drive::Walk {
            jump: Some(jump), ..
        },
    ) = (driven, actor.jumps, legs.drive)
    {
        rise.velocity = jump;
    }
    if actor.ground.is_some() && rise.velocity <= 0.0 {
        rise.velocity = 0.0;
    } else if pulled {
        rise.velocity -= rise.drop * dt;
        if let Drive::Fall { most: Some(most) } = legs.drive
            && !weightless
        {
            rise.velocity = rise.velocity.max(-most);
        }
    }
    rise.set_out = rise.velocity;
}

/// The height that an actor means to reach: its own where it cannot leave it.
pub(crate) fn goal(plan: &Plan, actor: &Actor, height: f64) -> f64 {
    match plan.arena.height {
        Some(_) if is_free(plan.spec_of(actor.spec)) => height,
        _ => actor.life.rise.at,
    }
}

/// After its way in the plane, an actor goes up or down.
pub(crate) fn go(plan: &Plan, state: &mut State, index: Slot, body: Option<&BoxPlan>) {
    if plan.arena.height.is_none() {
        return;
    }
    let by = state.actors[index].life.rise.velocity / f64::from(plan.rate);
    let Some(body) = body else {
        state.actors[index].life.rise.at += by;
        return;
    };
    let (moved, stop) = climb(plan, state, index, body, by, None);
    let rise = &mut state.actors[index].life.rise;
    rise.at += moved;
    if stop.is_some() {
        rise.velocity = 0.0;
    }
    settle(plan, state, index, body);
}

/// Finds out what an actor stands on.
pub(crate) fn settle(plan: &Plan, state: &mut State, index: Slot, body: &BoxPlan) {
    let rising = state.actors[index].life.rise.velocity > 0.0;
    let ground = match rising {
        true => None,
        false => climb(plan, state, index, body, -4.0 * TOUCH, None).1,
    };
    let actor = &mut state.actors[index];
    actor.landed |= ground.is_some() && actor.ground.is_none();
    actor.ground = ground;
    if ground.is_some() {
        actor.chain = 0;
    }
}

/// How far up or down a body gets, and what stops it. One without a height goes nowhere.
pub(crate) fn climb(
    plan: &Plan,
    state: &State,
    index: Slot,
    body: &BoxPlan,
    by: f64,
    except: Option<Slot>,
) -> (f64, Option<Ground>) {
    let actor = &state.actors[index];
    let (Some(span), Some(height)) = (body.span, plan.arena.height) else {
        return (0.0, None);
    };
    let span = span.moved(actor.life.rise.at);
    let mut reached = (by, None);
    let mut meet = |gap: f64, ground: Ground| {
        // Who is inside already is not stopped on the way out.
        if gap >= -TOUCH && gap < reached.0.abs() {
            reached = (gap.max(0.0) * by.signum(), Some(ground));
        }
    };
    if let (true, Some(ground)) = (by < 0.0, height.ground) {
        meet(span.low - ground, Ground::Fixed);
    }
    let shape = body.unturned(actor.facing);
    let around = shape.bounds().moved(actor.at);
    let itself = [Some(index), except];
    solids::near(plan, state, around, itself, |near| {
        let (Some(solid), true) = (
            near.span,
            overlap(near.shape, shape, actor.at - near.origin),
        ) else {
            return;
        };
        match (by > 0.0, near.one_way) {
            (true, false) => meet(solid.low - span.high, near.solid),
            (true, true) => {}
            (false, _) => meet(span.low - solid.high, near.solid),
        }
    });
    reached
}

/// Whether a body that goes level would have something to stand on at a point.
pub(crate) fn is_ground(plan: &Plan, state: &State, index: Slot, body: &BoxPlan, at: Vec2) -> bool {
    let Some(own) = solids::height_of(&state.actors[index], body) else {
        return true;
    };
    let is_top = |top: f64| (top - own.low).abs() <= 4.0 * TOUCH;
    let mut ground = plan
        .arena
        .height
        .and_then(|height| height.ground)
        .is_some_and(is_top);
    let around = Bounds::new(at, at);
    solids::near(plan, state, around, [Some(index), None], |near| {
        let bounds = near.shape.bounds().moved(near.origin);
        let over = at.x > bounds.min.x && at.x < bounds.max.x;
        let over = over && at.y > bounds.min.y && at.y < bounds.max.y;
        ground |= over && near.span.is_some_and(|span| is_top(span.high));
    });
    ground
}

/// A solid that moves up or down carries who stands on it and pushes who is in its way.
pub(crate) fn lift(plan: &Plan, state: &mut State, index: Slot, by: f64) {
    let spec = state.spec(plan, index);
    let Some(solid) = spec.solid.as_ref() else {
        return;
    };
    let before = state.actors[index].life.rise.at;
    state.actors[index].life.rise.at += by;
    let Some(span) = solid.span.filter(|_| by != 0.0) else {
        return;
    };
    for nth in 0..state.lists.bodies.len() {
        let rider = state.lists.bodies[nth];
        let actor = &state.actors[rider];
        let rider_spec = plan.spec_of(actor.spec);
        let Some(body) = rider_spec
            .body
            .as_ref()
            .filter(|_| actor.alive && !actor.is_posed())
        else {
            continue;
        };
        let Some(own) = body.span else { continue };
        let own = own.moved(actor.life.rise.at);
        let lift = &state.actors[index];
        let offset = actor.at - lift.at;
        let above = overlap(
            solid.unturned(lift.facing),
            body.unturned(actor.facing),
            offset,
        );
        let was = span.moved(before);
        let gap = match by > 0.0 {
            true => own.low - was.high,
            false => was.low - own.high,
        };
        let pushed = above && gap >= -TOUCH && gap < by.abs();
        let carried = actor.ground == Some(Ground::Moving(lift.number));
        let way = match (carried, pushed) {
            (true, _) => by,
            (false, true) => by - gap.max(0.0) * by.signum(),
            (false, false) => continue,
        };
        let (moved, _) = climb(plan, state, rider, body, way, Some(index));
        state.actors[rider].life.rise.at += moved;
        if pushed && moved.abs() + TOUCH < way.abs() {
            state.doom_without_hit(plan, rider, DeathCause::Squeezed);
        }
    }
}

/// How far up an actor means to go in the tick.
pub(crate) fn way(plan: &Plan, actor: &Actor) -> f64 {
    match plan.arena.height {
        Some(_) => actor.life.rise.velocity / f64::from(plan.rate),
        None => 0.0,
    }
}

/// After which part of a straight way a body meets the ground, if it does.
pub(crate) fn meets_ground(plan: &Plan, actor: &Actor, body: &BoxPlan, way: f64) -> Option<f64> {
    let ground = plan.arena.height?.ground?;
    let gap = body.span?.low + actor.life.rise.at - ground;
    (way < 0.0 && gap + way < 0.0).then(|| (gap / -way).max(0.0))
}

/// Sets the upward velocity of an actor.
pub(crate) fn throw(plan: &Plan, actor: &mut Actor, up: f64) {
    match plan.arena.height {
        Some(_) if is_free(plan.spec_of(actor.spec)) => actor.life.rise.velocity = up,
        Some(_) => {}
        None => actor.velocity.y = up * plan.arena.up.sign(),
    }
}

/// How far another is above a height at which `own` is; 0 unless both have spans of heights.
pub(crate) fn above(plan: &Plan, own: &Spec, height: f64, other: &Actor) -> f64 {
    let spans = |spec: &Spec| {
        let sensors = spec.sensors.iter().filter_map(|sensor| match &sensor.form {
            SensorForm::Area(area) => Some(area.as_ref()),
            SensorForm::Ray { .. } => None,
        });
        let goods = spec.pickup.as_deref().map(|pickup| &pickup.area);
        let boxes = spec
            .hurtboxes
            .iter()
            .chain(&spec.hitboxes)
            .chain(spec.body.as_deref());
        let mut all = boxes.chain(sensors).chain(goods);
        all.any(|part| part.span.is_some())
    };
    if plan.arena.height.is_none() || !spans(own) || !spans(plan.spec_of(other.spec)) {
        return 0.0;
    }
    other.life.rise.at - height
}

/// A way of some length and height, at some speed: its part in the plane, and how fast it rises.
pub(crate) fn sent(way: Vec2, height: f64, speed: f64) -> (Vec2, f64) {
    let length = way.length_with(height);
    (way * (speed / length), height * (speed / length))
}
