//! What drives actors: where each turns in phase 2, and what velocity it sets out with in phase 3.

use super::actor::{Actor, Legs};
use super::{clocked, rising, solids};
use crate::encounter::{Axis, Facing};
use crate::geometry::{TOUCH, Vec2};
use crate::plan::drills::{DOWN, LEFT, RIGHT, UP};
use crate::plan::{Drive, Plan, Target};
use crate::sim::slot::Slot;
use crate::sim::state::State;

/// A displacement, and where exactly it ends on an axis when that is known.
#[derive(Clone, Copy)]
pub(crate) struct Step {
    pub by: Vec2,
    pub x: Option<f64>,
    pub y: Option<f64>,
}

/// Where an actor turns and heads.
pub(crate) fn steer(plan: &Plan, state: &mut State, index: Slot) {
    let way = match state.legs[index].drive {
        Drive::Patrol {
            axis,
            low,
            high,
            speed,
            ledges,
        } => {
            let ledge = ledges && ends_ahead(plan, state, index, axis, speed);
            let actor = &mut state.actors[index];
            let (at, stopped) = match axis {
                Axis::X => (actor.at.x, actor.stopped[0]),
                Axis::Y => (actor.at.y, actor.stopped[1]),
            };
            actor.heading = if at >= high - TOUCH {
                -1.0
            } else if at <= low + TOUCH {
                1.0
            } else if stopped || ledge {
                -actor.heading
            } else {
                actor.heading
            };
            match axis {
                Axis::X => actor.heading,
                Axis::Y => 0.0,
            }
        }
        Drive::Walk { .. } => state.actors[index].buttons.pull(LEFT, RIGHT),
        Drive::Chase {
            whom,
            turn,
            stop_at,
            ..
        } => {
            head_for(plan, state, index, whom, turn, stop_at);
            state.actors[index].life.course.x
        }
        _ => 0.0,
    };
    let actor = &mut state.actors[index];
    if matches!(actor.facing, Facing::Angle(_)) {
        return;
    }
    let facing = if way > 0.0 {
        Facing::Right
    } else if way < 0.0 {
        Facing::Left
    } else {
        actor.facing
    };
    actor.turned = facing != actor.facing;
    actor.facing = facing;
}

/// Whether the ground ends within a tick's way ahead of a body that stands on some.
fn ends_ahead(plan: &Plan, state: &State, index: Slot, axis: Axis, speed: f64) -> bool {
    let actor = &state.actors[index];
    let spec = plan.spec_of(actor.spec);
    let Some(body) = spec.body.as_ref().filter(|_| actor.ground.is_some()) else {
        return false;
    };
    let bounds = body.unturned(actor.facing).bounds().moved(actor.at);
    let front = if actor.heading > 0.0 {
        bounds.max
    } else {
        bounds.min
    };
    let way = actor.heading * speed / f64::from(plan.rate);
    if plan.arena.height.is_some() {
        let toe = match axis {
            Axis::X => Vec2::new(front.x + way, actor.at.y),
            Axis::Y => Vec2::new(actor.at.x, front.y + way),
        };
        return !rising::is_ground(plan, state, index, body, toe);
    }
    let sole = if plan.arena.up.sign() > 0.0 {
        bounds.min.y
    } else {
        bounds.max.y
    };
    !solids::is_ground(plan, state, index, Vec2::new(front.x + way, sole))
}

/// Turns a chase's course toward whom it is after, as they now stand.
fn head_for(
    plan: &Plan,
    state: &mut State,
    index: Slot,
    whom: Target,
    turn: Option<[f64; 2]>,
    stop_at: f64,
) {
    let actor = &state.actors[index];
    let (from, height) = (actor.at, actor.life.rise.at);
    let target = state.target(plan, index, (from, height), whom);
    let target = target.map(|target| {
        let other = &state.actors[target];
        let own = plan.spec_of(actor.spec);
        (other.at, rising::above(plan, own, height, other))
    });
    let falls = state.legs[index].fall != 0.0;
    let up = plan.arena.up.sign();
    let actor = &mut state.actors[index];
    let Some((target, above)) = target else {
        actor.life.course = Vec2::ZERO;
        actor.arrived = false;
        return;
    };
    let mut way = target - from;
    if falls {
        way.y = 0.0;
    }
    actor.arrived = way.length_with(above) <= stop_at + TOUCH;
    let want = way.unit();
    let course = match actor.life.course {
        // What was launched sets out as it was sent off, others straight at their target.
        Vec2::ZERO if actor.life.maker.is_some() => actor.velocity.unit(),
        course => course,
    };
    actor.life.course = match turn {
        _ if want == Vec2::ZERO => course,
        Some([cos, sin]) if course != Vec2::ZERO && !falls && course.dot(want) < cos => {
            let side = course.cross(want);
            // Right behind it, it turns by way of up.
            let sense = if side != 0.0 {
                side.signum()
            } else if course.x != 0.0 {
                course.x.signum() * up
            } else {
                actor.facing.sign() * -course.y.signum()
            };
            course.turned(cos, sin * sense).unit()
        }
        _ => want,
    };
}

/// Gives an actor the velocity it sets out with, and says where that would take it.
pub(crate) fn set_out(plan: &Plan, state: &mut State, index: Slot) -> Step {
    let dt = 1.0 / f64::from(plan.rate);
    let up = plan.arena.up.sign();
    let led = match state.legs[index].drive {
        Drive::Follow {
            whom, offset, rise, ..
        } => leader(plan, state, index, whom, (offset, rise)),
        _ => None,
    };
    let legs = &state.legs[index];
    let actor = &mut state.actors[index];
    let driven = state.tick >= actor.undriven_until;
    let mut ends = (None, None);
    let mut falls = legs.fall != 0.0;
    if driven {
        match legs.drive {
            Drive::Patrol { .. } | Drive::Chase { .. } if actor.held => halt(actor, legs),
            Drive::Still => halt(actor, legs),
            Drive::Coast => {
                actor.velocity = actor.velocity * legs.glide;
                if actor.ground.is_some() {
                    level_out(plan, actor);
                }
            }
            Drive::Fall { .. } => {
                actor.velocity = actor.velocity * legs.glide;
                level_out(plan, actor);
            }
            Drive::Patrol {
                axis,
                low,
                high,
                speed,
                ..
            } => {
                ends = patrol(actor, legs.fall, axis, (low, high), speed, dt);
                let at = match axis {
                    Axis::X => ends.0,
                    Axis::Y => ends.1,
                };
                actor.arrived = at.is_some();
            }
            Drive::Walk {
                speed,
                accel,
                brake,
                jump,
                turn,
            } => {
                match turn {
                    None => walk(actor, legs.fall, up, speed, [accel, brake], dt),
                    Some(_) => drive(actor, legs.fall, speed, [accel, brake], dt),
                }
                if let (true, Some(jump), None) = (actor.jumps, jump, plan.arena.height) {
                    actor.velocity.y = up * jump;
                }
            }
            Drive::Chase { speed, .. } => chase(actor, legs, speed),
            Drive::Return { speed } => {
                let height = rising::goal(plan, actor, actor.life.rise.home);
                let goal = (actor.life.home, height);
                let there = is_at(actor, goal);
                ends = toward(actor, goal, Some(speed), dt);
                actor.arrived = there || (ends.0.is_some() && ends.1.is_some());
                falls = false;
            }
            Drive::Follow { speed, .. } => {
                let goal = led.unwrap_or((actor.at, actor.life.rise.at));
                let goal = (goal.0, rising::goal(plan, actor, goal.1));
                ends = toward(actor, goal, speed, dt);
                actor.arrived = ends.0.is_some() && ends.1.is_some();
                falls = false;
            }
            Drive::Path { .. } | Drive::Hover { .. } | Drive::Swing { .. } => {
                ends = clocked::go(plan, actor, legs.drive, dt);
                falls = false;
            }
        }
    }
    if plan.arena.height.is_none() {
        pull_down(actor, legs, up, dt, falls || (!driven && legs.fall != 0.0));
    }
    actor.set_out = actor.velocity;
    let velocity = actor.velocity;
    rising::set_out(plan, state, index, driven, dt);
    Step {
        by: velocity * dt,
        x: ends.0,
        y: ends.1,
    }
}

/// No velocity along the ground.
fn level_out(plan: &Plan, actor: &mut Actor) {
    match plan.arena.height {
        Some(_) => actor.velocity = Vec2::ZERO,
        None => actor.velocity.x = 0.0,
    }
}

/// Gravity acts, on who stands on nothing or sets out upward.
fn pull_down(actor: &mut Actor, legs: &Legs, up: f64, dt: f64, falls: bool) {
    let rising = actor.velocity.y * up;
    if actor.ground.is_some() && rising <= 0.0 {
        // A grounded actor sets out with no downward velocity.
        actor.velocity.y = 0.0;
    } else if falls {
        actor.velocity.y -= up * legs.fall * dt;
        if let Drive::Fall { most: Some(most) } = legs.drive
            && -actor.velocity.y * up > most
        {
            actor.velocity.y = -up * most;
        }
    }
}

fn halt(actor: &mut Actor, legs: &Legs) {
    actor.velocity.x = 0.0;
    if legs.fall == 0.0 {
        actor.velocity.y = 0.0;
    }
}

/// A patrol goes on along its axis, at the end of which it stops for the tick; off its line, it
/// returns to it.
fn patrol(
    actor: &mut Actor,
    fall: f64,
    axis: Axis,
    (low, high): (f64, f64),
    speed: f64,
    dt: f64,
) -> (Option<f64>, Option<f64>) {
    let end = if actor.heading > 0.0 { high } else { low };
    let (x, y) = match axis {
        Axis::X => (end, actor.anchor.y),
        Axis::Y => (actor.anchor.x, end),
    };
    let (along_x, end_x) = approach(actor.at.x, x, speed, dt);
    actor.velocity.x = along_x;
    // Who falls has no line to return to.
    if axis == Axis::X && fall != 0.0 {
        return (end_x, None);
    }
    let (along_y, end_y) = approach(actor.at.y, y, speed, dt);
    actor.velocity.y = along_y;
    (end_x, end_y)
}

/// The velocity toward a goal on one axis, and the goal itself when it is reached within the tick.
pub(crate) fn approach(at: f64, goal: f64, speed: f64, dt: f64) -> (f64, Option<f64>) {
    let gap = goal - at;
    if gap.abs() <= speed * dt + TOUCH {
        (gap / dt, Some(goal))
    } else {
        (speed * gap.signum(), None)
    }
}

/// Straight toward a goal, at most at some speed.
pub(crate) fn toward(
    actor: &mut Actor,
    (goal, height): (Vec2, f64),
    speed: Option<f64>,
    dt: f64,
) -> (Option<f64>, Option<f64>) {
    let (gap, up) = (goal - actor.at, height - actor.life.rise.at);
    match speed {
        Some(speed) if gap.length_with(up) > speed * dt + TOUCH => {
            (actor.velocity, actor.life.rise.velocity) = match up {
                0.0 => (gap.unit() * speed, 0.0),
                up => rising::sent(gap, up, speed),
            };
            (None, None)
        }
        _ => {
            actor.velocity = gap * (1.0 / dt);
            actor.life.rise.velocity = up / dt;
            (Some(goal.x), Some(goal.y))
        }
    }
}

/// Whether an actor stands where it is to be.
pub(crate) fn is_at(actor: &Actor, (goal, height): (Vec2, f64)) -> bool {
    actor.at == goal && (height - actor.life.rise.at).abs() <= TOUCH
}

/// Where a follower is to be, and how high: nowhere new without a leader.
pub(crate) fn leader(
    plan: &Plan,
    state: &State,
    index: Slot,
    whom: Option<crate::plan::Group>,
    (offset, rise): (Vec2, f64),
) -> Option<(Vec2, f64)> {
    let own = &state.actors[index];
    let leader = match whom {
        Some(group) => {
            let from = (own.at, own.life.rise.at);
            state.target(plan, index, from, Target::Nearest(group))
        }
        None => own
            .life
            .maker
            .and_then(|maker| state.roll.slot(maker))
            .filter(|maker| state.actors[*maker].alive),
    };
    let leader = &state.actors[leader?];
    let at = leader.at + leader.facing.turn(offset);
    Some((at, leader.life.rise.at + rise))
}

/// Along its course; within its stop distance it stands.
fn chase(actor: &mut Actor, legs: &Legs, speed: f64) {
    let pace = if actor.arrived { 0.0 } else { speed };
    actor.velocity.x = actor.life.course.x * pace;
    if legs.fall == 0.0 {
        actor.velocity.y = actor.life.course.y * pace;
    }
}

/// Buttons pull the velocity toward the wanted one; who does not fall also goes up and down.
fn walk(
    actor: &mut Actor,
    fall: f64,
    up: f64,
    speed: f64,
    [accel, brake]: [Option<f64>; 2],
    dt: f64,
) {
    let free = fall == 0.0;
    let pull = |back, forth| {
        if actor.held {
            0.0
        } else {
            actor.buttons.pull(back, forth)
        }
    };
    let x = pull(LEFT, RIGHT);
    let y = if free { up * pull(DOWN, UP) } else { 0.0 };
    // As fast across as along.
    let share = if x != 0.0 && y != 0.0 {
        speed * 0.5f64.sqrt()
    } else {
        speed
    };
    let rates = [accel, brake];
    actor.velocity.x = pulled(actor.velocity.x, x, share, rates, dt);
    if free {
        actor.velocity.y = pulled(actor.velocity.y, y, share, rates, dt);
    }
}

/// `up` and `down` drive forward and back, the way it faces.
fn drive(actor: &mut Actor, fall: f64, speed: f64, rates: [Option<f64>; 2], dt: f64) {
    let pull = match actor.held {
        true => 0.0,
        false => actor.buttons.pull(DOWN, UP),
    };
    let ahead = actor.facing.ahead();
    let velocity = ahead * pulled(actor.velocity.dot(ahead), pull, speed, rates, dt);
    actor.velocity.x = velocity.x;
    if fall == 0.0 {
        actor.velocity.y = velocity.y;
    }
}

/// A speed pulled toward the wanted one, for a tick.
fn pulled(from: f64, pull: f64, speed: f64, [accel, brake]: [Option<f64>; 2], dt: f64) -> f64 {
    let goal = pull * speed;
    let rate = if pull == 0.0 { brake } else { accel };
    match rate {
        Some(rate) if (goal - from).abs() > rate * dt => from + rate * dt * (goal - from).signum(),
        _ => goal,
    }
}
