//! Studies of replays: what changed, what was exercised, and why something happened or did not.

mod compare;

pub use compare::{Change, Comparison, FieldChange, PairSum, compare};
