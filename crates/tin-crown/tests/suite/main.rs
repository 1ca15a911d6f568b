//! The library driven through its public interface.

mod bad_input;
mod contact;
mod examples;
mod fight;
mod fights;
mod invariants;
mod judge;
mod motion;
mod oracle;
mod stage;
mod stomp;
mod written;
