//! Phase 1, clocks: windows close.

use super::state::State;
use crate::plan::Plan;

pub(super) fn run(_plan: &Plan, state: &mut State) {
    let tick = state.tick;
    for actor in &mut state.actors {
        actor.windows.retain(|window| window.until > tick);
    }
}
