//! Tin Crown.
