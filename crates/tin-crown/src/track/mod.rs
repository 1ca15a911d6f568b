//! Recordings of the game that ships: their rows are read, checked, and woven into what stands where on each tick.

mod columns;
mod course;
mod csv;
mod fault;
mod json;
mod log;
mod open;
mod reader;
mod record;
mod roles;
mod rows;
mod sample;
mod untold;
mod weave;

pub use log::{GameHit, GameLog, Party, ReadLog};
pub use open::{Files, Folder, plainly, regular};
pub use record::Recorded;
