//! The command as a process: what people read, what machines read, and how it ends.
#![expect(
    clippy::too_many_lines,
    reason = "a scenario is read from top to bottom"
)]

mod layout;
mod output;
mod page;
mod pipe;
mod recordings;
mod robust;
mod streams;
mod studies;
mod tool;
mod tour;
mod verify;
