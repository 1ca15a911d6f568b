//! The command as a process: what people read, what machines read, and how it ends.

mod layout;
mod output;
mod page;
mod robust;
mod streams;
mod tool;
mod verify;
