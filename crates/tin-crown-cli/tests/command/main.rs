//! The command as a process: what people read, what machines read, and how it ends.
#![expect(
    clippy::too_many_lines,
    reason = "a scenario is read from top to bottom"
)]

mod browser;
mod json_schema;
mod layout;
mod output;
mod page;
mod pipe;
mod play_socket;
mod playing;
mod recordings;
mod robust;
mod server;
mod sprites;
mod streams;
mod studies;
mod tool;
mod tour;
mod verify;
