//! Which way an actor faces, as a file says it.

use crate::finding::Code;
use crate::geometry::{Angle, Facing};
use crate::limits;
use crate::syntax::{At, Shape, Syntax, Word};
use crate::text::Value;

/// `"right"`, `"left"`, or an angle in degrees, positive toward up.
impl Syntax for Facing {
    fn read(at: At<'_>) -> Option<Facing> {
        let Some(degrees) = at.number() else {
            let word = at.word(&["right", "left"])?;
            return Some([Facing::Right, Facing::Left][word]);
        };
        if limits::ANGLE.contains(degrees) {
            return Some(Facing::Angle(Angle::from_degrees(degrees)));
        }
        let limits::Range { least, most, unit } = limits::ANGLE;
        let message = format!("expected {least} to {most} {unit}, found {degrees}");
        at.refuse(Code::OutOfRange, message, "a full turn is 360".to_owned())
    }

    fn write(&self) -> Value {
        match self {
            Facing::Right => Value::Text("right".to_owned()),
            Facing::Left => Value::Text("left".to_owned()),
            Facing::Angle(angle) => Value::Number(angle.degrees()),
        }
    }

    fn shape() -> Shape {
        let word = |word, about| Word { word, about };
        Shape::Any(vec![
            Shape::Words(vec![
                word("right", "Toward +x."),
                word("left", "Toward -x."),
            ]),
            Shape::Number(Some(&limits::ANGLE)),
        ])
    }
}
