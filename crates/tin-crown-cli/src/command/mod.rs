//! The commands, one file each.

pub mod against;
pub mod check;
pub mod compare;
pub mod completions;
pub mod coverage;
pub mod demo;
pub mod draw;
pub mod new;
pub mod play;
pub mod replay;
pub mod report;
pub mod schema;
pub mod step;
pub mod study;
pub mod tidy;
pub mod trace;
pub mod watch;
pub mod why;
