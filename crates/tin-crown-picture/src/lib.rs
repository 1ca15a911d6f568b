//! Pictures of Tin Crown encounters and replays, drawn from a plan and a replay.
//!
//! One look for all: paper and metal. Copper hitboxes with a hatch, pewter hurtboxes with a plain
//! outline, verdigris for what is full, oxblood for what is lost. Never colour alone.
//!
//! ```
//! # let file = tin_crown::demo::FIRST_SHELF.as_bytes();
//! use tin_crown::Tick;
//! use tin_crown_picture::{Frame, Look};
//!
//! let plan = tin_crown::check(file).plan.unwrap();
//! let frame = Frame::capture(&plan, plan.drill("careless")?, Tick(93))?;
//! let svg = frame.svg(&Look::paper());
//! assert!(svg.starts_with("<svg"));
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

mod camera;
mod canvas;
mod chart;
mod extras;
mod film;
mod frame;
mod front;
mod guard;
mod label;
mod layers;
mod legend;
mod look;
mod matrix;
mod muzzle;
mod nose;
mod outline;
mod page;
mod passage;
pub mod play;
#[cfg(feature = "png")]
mod png;
mod report;
mod scene;
mod sensor;
mod sheet;
mod strip;
mod tags;
mod text;
mod timeline;
mod traces;
mod view;

pub use chart::{Chart, NoColumn};
pub use film::Film;
pub use frame::{Frame, FrameError, NotThere, Zoom};
pub use layers::Layers;
pub use look::Look;
pub use matrix::Matrix;
pub use passage::PassageStrip;
#[cfg(feature = "png")]
pub use png::{PngError, png};
pub use report::{Expected, Note, Report, Take};
pub use sheet::Sheet;
pub use strip::{Shots, Strip};
pub use timeline::Timeline;
pub use traces::Traces;
