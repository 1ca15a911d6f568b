//! Two-dimensional geometry: the only part that knows how many dimensions space has.
//!
//! Lengths are in the author's units. Nothing here knows which way is up.

mod angle;
mod arc;
mod bounds;
mod distance;
mod facing;
mod gap;
mod row;
mod shape;
mod span;
mod sweep;
mod vec2;

pub use angle::Angle;
pub use arc::Arc;
pub use bounds::Bounds;
pub use distance::{along, along_prism, distance};
pub use facing::Facing;
pub use gap::{Gap, gap};
pub use row::row;
pub use shape::{Shape, ShapeError};
pub use span::HeightSpan;
pub use sweep::{Interval, TOUCH, overlap, sweep, sweep_upright};
pub use vec2::Vec2;
