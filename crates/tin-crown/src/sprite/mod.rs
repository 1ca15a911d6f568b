//! Drawings under the boxes: PNGs as sheets of cells, which of their pixels are drawn, how boxes lie on them, and boxes
//! fitted to them. Nothing that is replayed depends on any of it.
//!
//! ```
//! use tin_crown::encounter::Up;
//! use tin_crown::geometry::{Shape, Vec2};
//! use tin_crown::sprite::{Mask, Placing, cover};
//!
//! // An L of pixels, 4 high and 3 wide, and a box around all of it.
//! let mask = Mask::of_rows(&["#..", "#..", "#..", "###"]);
//! let placing = Placing { size: [3, 4], at: Vec2::new(0.0, 0.0), scale: 1.0, up: Up::Plus };
//! let found = cover(&mask, &placing, &Shape::rectangle([0.0, 0.0], [3.0, 4.0], 0.0)?);
//! assert_eq!((found.inside, found.drawn), (12, 6));
//! # Ok::<(), tin_crown::geometry::ShapeError>(())
//! ```

mod cover;
mod distances;
mod frames;
mod mask;
mod placing;
mod sheet;
mod sheets;
mod trace;

pub use cover::{Cover, cover, far, uncovered};
pub(crate) use frames::shown_dying;
pub use frames::{CellBox, CellFrame, frames};
pub use mask::Mask;
pub use placing::Placing;
pub use sheet::{Sheet, SheetError};
pub use sheets::Sheets;
pub use trace::{Form, Traced, trace};
