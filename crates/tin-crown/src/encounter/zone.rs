//! Zones: parts of the arena that expectations ask about.

use super::goal::Region;
use crate::syntax::{At, Shape, Syntax};
use crate::text::Value;

/// A part of the arena: a rectangle, or the area of a checkpoint or an exit, by its name.
#[derive(Clone, Debug, PartialEq)]
pub enum Zone {
    /// The area of a checkpoint or an exit.
    Named(String),
    /// A rectangle.
    Region(Region),
}

impl Syntax for Zone {
    fn read(at: At<'_>) -> Option<Zone> {
        match at.text() {
            Some(name) => Some(Zone::Named(name.to_owned())),
            None if at.is_table() => Region::read(at).map(Zone::Region),
            None => at.wrong("the name of a checkpoint or exit, or a table with `min` and `max`"),
        }
    }

    fn write(&self) -> Value {
        match self {
            Zone::Named(name) => name.write(),
            Zone::Region(region) => region.write(),
        }
    }

    fn shape() -> Shape {
        Shape::Any(vec![Shape::Text("checkpoint or exit"), Region::shape()])
    }
}
