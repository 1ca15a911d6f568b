//! Phase 1, clocks: the tick begins. Windows are over by themselves: they are compared with the tick.

use super::state::State;

pub(super) fn run(state: &mut State) {
    state.tick.0 += 1;
    state.lines_before = state.ledger.len();
    for actor in &mut state.actors {
        actor.start = actor.at;
        actor.turned = false;
        actor.jumps = false;
        actor.buttons.begin_tick();
    }
}
