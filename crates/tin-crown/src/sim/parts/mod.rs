//! What the phases are made of: one concept a file.

pub(crate) mod actor;
pub(crate) mod appearing;
pub(crate) mod attacks;
pub(crate) mod buttons;
pub(crate) mod chance;
pub(crate) mod deaths;
pub(crate) mod driving;
pub(crate) mod edge;
pub(crate) mod gates;
pub(crate) mod goals;
pub(crate) mod grid;
pub(crate) mod groups;
pub(crate) mod guards;
pub(crate) mod hits;
pub(crate) mod launchers;
pub(crate) mod memory;
pub(crate) mod meters;
pub(crate) mod newcomer;
pub(crate) mod pickups;
pub(crate) mod precedence;
pub(crate) mod resets;
pub(crate) mod sensors;
pub(crate) mod shots;
pub(crate) mod solids;
pub(crate) mod transitions;
pub(crate) mod windows;
