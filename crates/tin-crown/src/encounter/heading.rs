//! Headings: the ways an expectation asks an actor to face.

use crate::finding::Code;
use crate::geometry::{Angle, Facing};
use crate::limits;
use crate::syntax::{At, Shape, Syntax};
use crate::text::Value;

/// One way to face, or all from one angle on to another.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Heading {
    /// That way.
    Just(Facing),
    /// From the first angle on to the second, in degrees, positive toward up.
    Between([f64; 2]),
}

impl Heading {
    /// Whether an angle is among them, edges included; compared in 4096ths of a turn.
    ///
    /// ```
    /// use tin_crown::encounter::Heading;
    /// use tin_crown::geometry::Angle;
    ///
    /// let ahead = Heading::Between([-30.0, 30.0]);
    /// assert!(ahead.holds(Angle::from_degrees(330.0)));
    /// assert!(!ahead.holds(Angle::from_degrees(31.0)));
    /// ```
    pub fn holds(&self, angle: Angle) -> bool {
        let [first, last] = match *self {
            Heading::Just(facing) => [facing.angle(); 2],
            Heading::Between([from, to]) if to - from >= 360.0 => return true,
            Heading::Between(ends) => ends.map(Angle::from_degrees),
        };
        angle.steps_after(first) <= last.steps_after(first)
    }

    /// How far an angle is from the nearest of them, in degrees.
    pub(crate) fn misses(&self, angle: Angle) -> f64 {
        if self.holds(angle) {
            return 0.0;
        }
        let ends = match *self {
            Heading::Just(facing) => [facing.angle(); 2],
            Heading::Between(ends) => ends.map(Angle::from_degrees),
        };
        let far = ends.map(|end| angle.to(end).unsigned_abs());
        f64::from(far[0].min(far[1])) * (360.0 / 4_294_967_296.0)
    }
}

/// As a facing, or a pair of angles.
impl Syntax for Heading {
    fn read(at: At<'_>) -> Option<Heading> {
        let numbers = at.numbers();
        let [from, to] = match numbers[..] {
            [from, to] => [from, to],
            [] => return Facing::read(at).map(Heading::Just),
            _ => return at.wrong("an angle, or two, such as [45, 135]"),
        };
        let ends = [from, to].map(|angle| limits::ANGLE.contains(angle));
        if ends != [true; 2] {
            let limits::Range { least, most, unit } = limits::ANGLE;
            let message = format!("expected angles from {least} to {most} {unit}");
            return at.refuse(Code::OutOfRange, message, "a full turn is 360".to_owned());
        }
        if from > to {
            let message = format!("{from} is beyond {to}");
            let pair = match from < 0.0 {
                true => [from, to + 360.0],
                false => [from - 360.0, to],
            };
            let help = format!(
                "from the first on to the second: [{}, {}]",
                pair[0], pair[1]
            );
            return at.refuse(Code::BadBounds, message, help);
        }
        Some(Heading::Between([from, to]))
    }

    fn write(&self) -> Value {
        match self {
            Heading::Just(facing) => facing.write(),
            Heading::Between(ends) => Value::array(ends.iter().map(f64::write)),
        }
    }

    fn shape() -> Shape {
        let angle = Shape::Number(Some(&limits::ANGLE));
        Shape::Any(vec![
            <Facing as Syntax>::shape(),
            Shape::Pair(Box::new(angle)),
        ])
    }
}

/// "left", "90°" or "45° to 135°".
impl std::fmt::Display for Heading {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        match self {
            Heading::Just(Facing::Right) => f.write_str("right"),
            Heading::Just(Facing::Left) => f.write_str("left"),
            Heading::Just(Facing::Angle(angle)) => write!(f, "{}°", angle.degrees()),
            Heading::Between([from, to]) => write!(f, "{from}° to {to}°"),
        }
    }
}
