//! The seven phases of a tick, in this order.

// 1: what time brings about.
pub(crate) mod clocks;
// 2: what everybody sets out to do.
pub(crate) mod intent;
// 3: where they go, and who appears.
pub(crate) mod motion;
// 4: which boxes touch.
pub(crate) mod touch;
// 5: what comes of each touch.
pub(crate) mod verdict;
// 6: what that does.
pub(crate) mod effects;
// 7: what is written down.
pub(crate) mod record;
