//! Whether a kind is mirrored or turned, and what turns it.

use serde::Serialize;

use crate::geometry::Facing;
use crate::limits;
use crate::syntax::{Table, Words};

/// What becomes of an actor that faces another way.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Words)]
#[serde(rename_all = "kebab-case")]
pub enum Turns {
    /// It faces left or right, and all of it is mirrored.
    #[default]
    Mirrors,
    /// It faces any way, and all of it but its body and fixed boxes is turned.
    Rotates,
}

/// What turns an actor that rotates: one of `to`, `toward`, `spin` and `keeps`, else its motion.
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(parts, at_most_one("to", "toward", "spin", "keeps"))]
pub struct Faces {
    /// It faces that way.
    #[key(absent = "no fixed way")]
    pub to: Option<Facing>,
    /// It faces the nearest of them; or `"noticed"`, whom it noticed.
    #[key(text = "selector", absent = "nobody")]
    pub toward: Option<String>,
    /// It turns for ever, positive toward up.
    #[key(range = limits::SPIN, absent = "no spin")]
    pub spin: Option<f64>,
    /// Whether nothing turns it by itself.
    #[key(default = "false", flag)]
    pub keeps: Option<bool>,
    /// How fast it can turn.
    #[key(range = limits::TURN, absent = "at once")]
    pub turn: Option<f64>,
}
