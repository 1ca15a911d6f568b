//! Watching a tick while it is judged, without changing it.

use crate::plan::Plan;
use crate::sim::state::State;

/// Who watches. `()` sees nothing, and costs nothing.
pub(super) trait Observer {
    /// In phase 2, after sensors have looked and before anything is decided.
    fn perceived(&mut self, _plan: &Plan, _state: &State) {}

    /// After phase 5: every candidate has its verdict, and what gates ask about is as they saw it.
    fn judged(&mut self, _plan: &Plan, _state: &State) {}

    /// After phase 6: what is told has its lines.
    fn told(&mut self, _state: &State) {}
}

impl Observer for () {}
