//! Studies of replays: what changed, what was exercised, and why something happened or did not.

mod compare;
mod why;

pub use compare::{Change, Comparison, FieldChange, PairSum, compare};
pub use why::{Apart, Asked, Came, Near, Question, Step, Why, why};
