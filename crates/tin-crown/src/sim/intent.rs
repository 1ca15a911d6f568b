//! Phase 2, intent: buttons, then what actors set out to do.

use super::state::{Actor, State};
use crate::encounter::{Axis, Facing};
use crate::ledger::What;
use crate::plan::drills::{JUMP, LEFT, RIGHT};
use crate::plan::{ActorIx, Drive, Plan};
use crate::time::Tick;

pub(super) fn run(plan: &Plan, state: &mut State) {
    press(plan, state);
    for (index, actor) in state.actors.iter_mut().enumerate() {
        if actor.alive {
            decide(plan, ActorIx::new(index), actor, state.tick);
        }
    }
}

/// Buttons that go down or up on this tick.
fn press(plan: &Plan, state: &mut State) {
    let edges = &plan.drills[state.drill.index()].edges;
    while let Some(edge) = edges.get(state.next_edge)
        && edge.tick <= state.tick
    {
        state.next_edge += 1;
        let actor = &mut state.actors[edge.who.index()];
        actor.buttons.set(edge.button, edge.down);
        if actor.alive {
            let what = What::Input {
                button: edge.button,
                down: edge.down,
            };
            state.ledger.push(state.tick, Some(edge.who), what);
        }
    }
}

fn decide(plan: &Plan, index: ActorIx, actor: &mut Actor, tick: Tick) {
    if tick < actor.undriven_until {
        return;
    }
    let facing = match plan.spec(index).drive {
        Drive::Still => return,
        Drive::Patrol {
            axis, low, high, ..
        } => {
            let (at, stopped) = match axis {
                Axis::X => (actor.at.x, actor.stopped[0]),
                Axis::Y => (actor.at.y, actor.stopped[1]),
            };
            actor.heading = if at >= high {
                -1.0
            } else if at <= low {
                1.0
            } else if stopped {
                -actor.heading
            } else {
                actor.heading
            };
            match axis {
                Axis::X => actor.heading,
                Axis::Y => 0.0,
            }
        }
        Drive::Walk { jump, .. } => {
            actor.jumps =
                jump.is_some() && actor.ground.is_some() && actor.buttons.is_pressed(JUMP);
            actor.buttons.pull(LEFT, RIGHT)
        }
    };
    let facing = if facing > 0.0 {
        Facing::Right
    } else if facing < 0.0 {
        Facing::Left
    } else {
        actor.facing
    };
    actor.turned = facing != actor.facing;
    actor.facing = facing;
}
