//! The one shape of all boxes: a convex core of 1 to 8 points, grown by a radius.

use serde::Serialize;

use super::{Bounds, Vec2};

/// The most points a core may have.
const MOST: usize = 8;

/// A convex core of 1 to 8 points with a radius around it: circle, capsule, rectangle, rotated
/// rectangle and convex polygon are all of this form.
///
/// ```
/// use tin_crown::geometry::Shape;
///
/// let ball = Shape::circle([0.0, 0.0], 3.0)?;
/// assert_eq!(ball.bounds().size().x, 6.0);
/// let dart = Shape::polygon(&[[0.0, 0.0], [9.0, 2.0], [0.0, 4.0]], 0.0)?;
/// assert!(Shape::polygon(&[[0.0, 0.0], [9.0, 0.0], [1.0, 1.0], [0.0, 9.0]], 0.0).is_err());
/// # Ok::<(), tin_crown::geometry::ShapeError>(())
/// ```
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
pub struct Shape {
    /// Counter-clockwise (with y upward); only the first `count` count.
    points: [Vec2; MOST],
    count: u8,
    radius: f64,
    upright: bool,
    bounds: Bounds,
}

/// Why points and a radius are not a shape.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
pub enum ShapeError {
    /// A core has 1 to 8 points; a polygon 3 to 8.
    #[error("a polygon has 3 to 8 points")]
    Count,
    /// A coordinate or the radius is not finite.
    #[error("coordinates are finite numbers")]
    Finite,
    /// The shape has no inside.
    #[error("sizes and radii are more than nothing")]
    Flat,
    /// The points turn inward, lie on one line, repeat, or go round more than once.
    #[error("the points must go round a convex outline once, each a corner")]
    NotConvex,
}

impl Shape {
    /// A rectangle around `centre`, turned by `turn` degrees counter-clockwise (with y upward).
    ///
    /// # Errors
    ///
    /// When a number is not finite or a size not above 0.
    pub fn rectangle(
        centre: impl Into<Vec2>,
        size: [f64; 2],
        turn: f64,
    ) -> Result<Shape, ShapeError> {
        let (half, centre) = (Vec2::from(size) * 0.5, centre.into());
        if !turn.is_finite() {
            return Err(ShapeError::Finite);
        }
        // Quarter turns stay upright, exactly.
        let quarters = turn / 90.0;
        let (sin, cos) = if quarters == libm::floor(quarters) {
            [(0.0, 1.0), (1.0, 0.0), (0.0, -1.0), (-1.0, 0.0)][quarters.rem_euclid(4.0) as usize]
        } else {
            let angle = turn * (core::f64::consts::PI / 180.0);
            (libm::sin(angle), libm::cos(angle))
        };
        let corner = |x: f64, y: f64| centre + Vec2::new(x * cos - y * sin, x * sin + y * cos);
        Shape::new(
            &[
                corner(-half.x, -half.y),
                corner(half.x, -half.y),
                corner(half.x, half.y),
                corner(-half.x, half.y),
            ],
            0.0,
        )
    }

    /// The upright rectangle that is `bounds`.
    ///
    /// # Errors
    ///
    /// When a number is not finite or a side not above 0.
    pub fn upright(bounds: Bounds) -> Result<Shape, ShapeError> {
        let Bounds { min, max } = bounds;
        Shape::new(
            &[min, Vec2::new(max.x, min.y), max, Vec2::new(min.x, max.y)],
            0.0,
        )
    }

    /// A circle.
    ///
    /// # Errors
    ///
    /// When a number is not finite or the radius not above 0.
    pub fn circle(centre: impl Into<Vec2>, radius: f64) -> Result<Shape, ShapeError> {
        Shape::new(&[centre.into()], radius)
    }

    /// All within `radius` of the line between `ends`.
    ///
    /// # Errors
    ///
    /// When a number is not finite, the radius not above 0, or the ends are one point.
    pub fn capsule(ends: [[f64; 2]; 2], radius: f64) -> Result<Shape, ShapeError> {
        let ends = ends.map(Vec2::from);
        if ends[0] == ends[1] {
            return Err(ShapeError::Flat);
        }
        Shape::new(&ends, radius)
    }

    /// A convex polygon of 3 to 8 points, in either sense of rotation, grown by `radius` (0 for
    /// sharp corners).
    ///
    /// # Errors
    ///
    /// When there are fewer or more points, when they are not the corners of a convex outline in
    /// order, or a number is not finite or negative.
    pub fn polygon(points: &[[f64; 2]], radius: f64) -> Result<Shape, ShapeError> {
        if !(3..=MOST).contains(&points.len()) {
            return Err(ShapeError::Count);
        }
        let mut core = [Vec2::ZERO; MOST];
        for (to, from) in core.iter_mut().zip(points) {
            *to = (*from).into();
        }
        let core = &mut core[..points.len()];
        let doubled_area: f64 = edges(core).map(|(a, b)| a.cross(b)).sum();
        if doubled_area < 0.0 {
            core.reverse();
        }
        Shape::new(core, radius)
    }

    fn new(core: &[Vec2], radius: f64) -> Result<Shape, ShapeError> {
        if !radius.is_finite() || core.iter().any(|point| !point.is_finite()) {
            return Err(ShapeError::Finite);
        }
        if radius < 0.0 || (core.len() < 3 && radius <= 0.0) {
            return Err(ShapeError::Flat);
        }
        if core.len() > 2 {
            let corners = edges(core).zip(edges(core).cycle().skip(1));
            let mut turned = 0.0;
            for ((a, b), (_, c)) in corners {
                let (before, after) = (b - a, c - b);
                let turn = before.cross(after);
                // Flat when the corner stands out less than a millionth of its edges.
                if turn <= 1e-6 * before.length() * after.length() {
                    let flat = before == Vec2::ZERO || after == Vec2::ZERO;
                    return Err(if flat {
                        ShapeError::Flat
                    } else {
                        ShapeError::NotConvex
                    });
                }
                turned += libm::atan2(turn, before.dot(after));
            }
            if turned > 1.5 * core::f64::consts::TAU {
                return Err(ShapeError::NotConvex);
            }
        }
        let mut points = [Vec2::ZERO; MOST];
        points[..core.len()].copy_from_slice(core);
        let mut shape = Shape {
            points,
            count: core.len() as u8,
            radius,
            upright: false,
            bounds: Bounds::EMPTY,
        };
        shape.upright = radius == 0.0 && core.len() == 4 && shape.is_square();
        shape.bounds = shape.measure();
        Ok(shape)
    }

    /// The corners of the core, counter-clockwise (with y upward).
    pub fn points(&self) -> &[Vec2] {
        &self.points[..usize::from(self.count)]
    }

    /// How far the shape reaches beyond its core.
    pub fn radius(&self) -> f64 {
        self.radius
    }

    /// Whether this is an upright rectangle with sharp corners.
    pub fn is_upright(&self) -> bool {
        self.upright
    }

    /// The upright rectangle around it.
    pub fn bounds(&self) -> Bounds {
        self.bounds
    }

    /// The mirror image in the line x = 0.
    #[must_use]
    pub fn mirrored(&self) -> Shape {
        let mut image = *self;
        for (to, from) in image.points.iter_mut().zip(self.points().iter().rev()) {
            *to = from.mirrored();
        }
        let Bounds { min, max } = self.bounds;
        image.bounds = Bounds {
            min: Vec2::new(-max.x, min.y),
            max: Vec2::new(-min.x, max.y),
        };
        image
    }

    /// Turned about its origin by an angle whose cosine and sine are given: from +x toward +y.
    #[must_use]
    pub(crate) fn turned(&self, cos: f64, sin: f64) -> Shape {
        let mut image = *self;
        for point in &mut image.points {
            *point = point.turned(cos, sin);
        }
        image.upright = self.radius == 0.0 && self.count == 4 && image.is_square();
        image.bounds = image.measure();
        image
    }

    /// Whether every edge runs along an axis.
    fn is_square(&self) -> bool {
        edges(self.points()).all(|(a, b)| a.x == b.x || a.y == b.y)
    }

    /// The same shape, so many times as large as seen from its origin.
    #[must_use]
    pub fn scaled(&self, times: f64) -> Shape {
        let mut image = *self;
        for point in &mut image.points {
            *point = *point * times;
        }
        image.radius *= times;
        image.bounds = Bounds {
            min: self.bounds.min * times,
            max: self.bounds.max * times,
        };
        image
    }

    /// The edges of the core, each from one corner to the next. A capsule has two, one each way.
    pub(crate) fn edges(&self) -> impl Iterator<Item = (Vec2, Vec2)> + Clone + '_ {
        edges(self.points()).take(if self.count > 1 { MOST } else { 0 })
    }

    fn measure(&self) -> Bounds {
        let grow = Vec2::new(self.radius, self.radius);
        let core = self.points().iter().fold(Bounds::EMPTY, |bounds, &point| {
            bounds.joined(Bounds {
                min: point,
                max: point,
            })
        });
        Bounds {
            min: core.min - grow,
            max: core.max + grow,
        }
    }
}

fn edges(points: &[Vec2]) -> impl Iterator<Item = (Vec2, Vec2)> + Clone + '_ {
    let next = points.iter().cycle().skip(1);
    points.iter().copied().zip(next.copied())
}
