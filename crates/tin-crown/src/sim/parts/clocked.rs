//! Motions by a clock: path, hover and swing.

use super::actor::Actor;
use super::driving::{is_at, toward};
use super::rising;
use crate::encounter::Then;
use crate::geometry::{Facing, Vec2};
use crate::plan::{Drive, Plan};

/// A motion by a clock: it goes on from where it is held, or returns there first.
pub(crate) fn go(
    plan: &Plan,
    actor: &mut Actor,
    drive: Drive,
    dt: f64,
) -> (Option<f64>, Option<f64>) {
    let held = place(plan, actor, drive, actor.clock);
    let goal = place(plan, actor, drive, actor.clock + 1);
    let speed = match drive {
        Drive::Path { speed, .. } | Drive::Hover { speed, .. } => speed,
        // As fast as at the bottom of a swing.
        Drive::Swing {
            length,
            arc,
            period,
            ..
        } => {
            length * arc.abs() * core::f64::consts::TAU * f64::from(plan.rate) / f64::from(period.0)
        }
        _ => 0.0,
    };
    if actor.held {
        actor.velocity = Vec2::ZERO;
        actor.life.rise.velocity = 0.0;
        return (None, None);
    }
    if !is_at(actor, held) {
        return toward(actor, held, Some(speed), dt);
    }
    actor.clock += 1;
    actor.arrived = matches!(drive, Drive::Path { route, .. } if {
        let route = &plan.spec_of(actor.spec).routes[usize::from(route)];
        route.then == Then::Stays && actor.clock >= route.length().0
    });
    toward(actor, goal, None, dt)
}

/// Where a motion by a clock has its owner so many ticks after its beginning, and how high.
fn place(plan: &Plan, actor: &Actor, drive: Drive, clock: u32) -> (Vec2, f64) {
    let (at, up) = offset(plan, actor, drive, clock);
    let height = actor.life.rise.anchor + up;
    (actor.anchor + at, rising::goal(plan, actor, height))
}

/// Where a motion by a clock goes next: on, or back to where it is held.
pub(crate) fn next_place(plan: &Plan, actor: &Actor, drive: Drive) -> Vec2 {
    let held = place(plan, actor, drive, actor.clock);
    match is_at(actor, held) {
        true => place(plan, actor, drive, actor.clock + 1).0,
        false => held.0,
    }
}

/// Where a motion by a clock is so many ticks after its beginning, from its anchor, and how far above it.
pub(crate) fn offset(plan: &Plan, actor: &Actor, drive: Drive, clock: u32) -> (Vec2, f64) {
    let turns = |phase: u32, period: u32| {
        let part = (u64::from(clock) + u64::from(phase)) % u64::from(period);
        libm::sin(core::f64::consts::TAU * (part as f64 / f64::from(period)))
    };
    let (right, rise) = match drive {
        Drive::Path { route, .. } => {
            let route = &plan.spec_of(actor.spec).routes[usize::from(route)];
            (route.at(clock), route.height(clock))
        }
        Drive::Hover {
            size,
            rise,
            period,
            phase,
            ..
        } => {
            let part = turns(phase.0, period.0);
            (size * part, rise * part)
        }
        Drive::Swing {
            length,
            arc,
            period,
            phase,
        } => {
            let angle = arc * turns(phase.0, period.0);
            let (side, rise) = (
                length * libm::sin(angle),
                length - length * libm::cos(angle),
            );
            match plan.arena.height {
                Some(_) => (Vec2::new(side, 0.0), rise),
                None => (Vec2::new(side, plan.arena.up.sign() * rise), 0.0),
            }
        }
        _ => (Vec2::ZERO, 0.0),
    };
    let turned = match actor.life.outset {
        outset @ Facing::Angle(_) => outset.turn(right),
        _ => Vec2::new(right.x * actor.heading, right.y),
    };
    (turned, rise)
}
