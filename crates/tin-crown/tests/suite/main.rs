//! The library driven through its public interface.

mod afterlife;
mod ambush;
mod ambushes;
mod bad_input;
mod contact;
mod drives;
mod examples;
mod expectations;
mod faults;
mod fight;
mod fights;
mod findings_page;
mod invariants;
mod judge;
mod motion;
mod oracle;
mod shots;
mod stage;
mod stomp;
mod studies;
mod written;
