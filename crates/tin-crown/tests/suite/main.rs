//! The library driven through its public interface.

mod bad_input;
mod contact;
mod examples;
mod invariants;
mod motion;
mod oracle;
mod stage;
mod written;
