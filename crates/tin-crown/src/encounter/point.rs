//! Points of the arena.

use crate::finding::Step;
use crate::syntax::set::{self, Missed};
use crate::syntax::{At, Shape, Syntax};
use crate::text::Value;

use super::Chance;

/// A point: x, y, and its height where the arena has heights.
///
/// ```
/// use tin_crown::encounter::Point;
///
/// assert_eq!(Point::from([3.0, 4.0]).height(), 0.0);
/// assert_eq!(Point::from([3.0, 4.0, 5.0]).height(), 5.0);
/// ```
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Point {
    /// In the plane.
    pub at: [f64; 2],
    /// Above it, where that is said.
    pub height: Option<f64>,
}

impl Point {
    /// How high it is: 0 where that is not said.
    pub fn height(&self) -> f64 {
        self.height.unwrap_or(0.0)
    }
}

impl From<[f64; 2]> for Point {
    fn from(at: [f64; 2]) -> Point {
        Point { at, height: None }
    }
}

impl From<[f64; 3]> for Point {
    fn from([x, y, height]: [f64; 3]) -> Point {
        Point {
            at: [x, y],
            height: Some(height),
        }
    }
}

impl From<[f64; 2]> for Chance<Point> {
    fn from(at: [f64; 2]) -> Chance<Point> {
        Chance::Fixed(at.into())
    }
}

impl From<[f64; 3]> for Chance<Point> {
    fn from(at: [f64; 3]) -> Chance<Point> {
        Chance::Fixed(at.into())
    }
}

impl From<Chance<[f64; 2]>> for Chance<Point> {
    fn from(points: Chance<[f64; 2]>) -> Chance<Point> {
        points.map(|at| (*at).into())
    }
}

/// `[x, y]` or `[x, y, height]`.
impl Syntax for Point {
    fn read(at: At<'_>) -> Option<Point> {
        match at.numbers()[..] {
            [x, y] => Some([x, y].into()),
            [x, y, height] => Some([x, y, height].into()),
            _ => at.wrong("a point, such as [12, 20], or [12, 20, 5] with a height"),
        }
    }

    fn write(&self) -> Value {
        Value::array(self.at.iter().chain(&self.height).map(f64::write))
    }

    fn shape() -> Shape {
        Shape::Any(vec![
            <[f64; 2]>::shape(),
            Shape::Triple(Box::new(f64::shape())),
        ])
    }

    fn set(&mut self, steps: &[Step], at: At<'_>) -> Result<(), Missed> {
        match steps {
            [] => set::whole(self, steps, at),
            [Step::Index(2)] => self.height.get_or_insert(0.0).set(&[], at),
            _ => set::element(&mut self.at, steps, at),
        }
    }
}

impl Syntax for [Point; 2] {
    fn read(at: At<'_>) -> Option<[Point; 2]> {
        let points: Vec<Point> = Syntax::read(at)?;
        let points = points.try_into().ok();
        points.or_else(|| at.wrong("a pair of points, such as [[0, 0], [10, 0]]"))
    }

    fn write(&self) -> Value {
        Value::array(self.iter().map(Syntax::write))
    }

    fn shape() -> Shape {
        Shape::Pair(Box::new(Point::shape()))
    }

    fn set(&mut self, steps: &[Step], at: At<'_>) -> Result<(), Missed> {
        match steps {
            [] => set::whole(self, steps, at),
            _ => set::element(self, steps, at),
        }
    }
}
