//! Height above a view from above.

use crate::limits;
use crate::syntax::{At, Shape, Syntax, Table, Word};
use crate::text::Value;

/// Height above the plane, which is then seen from above.
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(all)]
pub struct ArenaHeight {
    /// Acceleration downward of those who fall.
    #[key(range = limits::GRAVITY, default = "0")]
    pub gravity: f64,
    /// The height of the ground, which is everywhere; `"none"` where one falls.
    #[key(default = "0")]
    pub ground: Floor,
}

/// The ground of an arena with height.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Floor {
    /// At that height.
    At(f64),
    /// There is none.
    None,
}

impl Default for Floor {
    fn default() -> Floor {
        Floor::At(0.0)
    }
}

impl Syntax for Floor {
    fn read(at: At<'_>) -> Option<Floor> {
        match at.number() {
            Some(height) => Some(Floor::At(height)),
            None => at.word(&["none"]).map(|_| Floor::None),
        }
    }

    fn write(&self) -> Value {
        match self {
            Floor::At(height) => height.write(),
            Floor::None => Value::Text("none".to_owned()),
        }
    }

    fn shape() -> Shape {
        let none = Word {
            word: "none",
            about: "There is no ground.",
        };
        Shape::Any(vec![
            Shape::Number(Some(&limits::COORDINATE)),
            Shape::Words(vec![none]),
        ])
    }
}
