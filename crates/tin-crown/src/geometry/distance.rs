//! How far a point is from a shape, and where a line first meets one.

use super::{HeightSpan, Shape, TOUCH, Vec2, sweep};

/// The distance from a point to the nearest point of a shape, both relative to the shape's origin: 0
/// within it.
///
/// ```
/// use tin_crown::geometry::{Shape, Vec2, distance};
///
/// let block = Shape::rectangle([0.0, 0.0], [4.0, 2.0], 0.0)?;
/// assert_eq!(distance(&block, Vec2::new(5.0, 5.0)), 5.0);
/// # Ok::<(), tin_crown::geometry::ShapeError>(())
/// ```
pub fn distance(shape: &Shape, point: Vec2) -> f64 {
    let inside =
        shape.points().len() > 2 && shape.edges().all(|(a, b)| (b - a).cross(point - a) >= 0.0);
    if inside {
        return 0.0;
    }
    let to_edge = |(a, b): (Vec2, Vec2)| {
        let edge = b - a;
        let share = ((point - a).dot(edge) / edge.dot(edge)).clamp(0.0, 1.0);
        (point - a - edge * share).length()
    };
    let edges = shape.edges().map(to_edge);
    let corner = (point - shape.points()[0]).length();
    (edges.fold(corner, f64::min) - shape.radius()).max(0.0)
}

/// How far along a line from `from` by `path` a shape is first met, from 0 to 1, both relative to the
/// shape's origin; none when it is not.
pub fn along(shape: &Shape, from: Vec2, path: Vec2) -> Option<f64> {
    along_prism(shape, None, from, path, None)
}

/// The same of an upright prism, and of a line that begins at a height and rises by so much. What says no
/// height reaches through all.
pub fn along_prism(
    shape: &Shape,
    span: Option<HeightSpan>,
    from: Vec2,
    path: Vec2,
    line: Option<[f64; 2]>,
) -> Option<f64> {
    // A point, but for the depth that counts as overlap; as far as that the line has to go in.
    let point = Shape::circle(Vec2::ZERO, TOUCH).ok()?;
    let [height, rise] = line.unwrap_or_default();
    let own = line.map(|_| HeightSpan::new(0.0, 0.0));
    let within = HeightSpan::cut(sweep(shape, &point, from, path), span, own, height, rise);
    let depth = TOUCH / path.length_with(rise);
    let deep = within.from < 1.0 - depth && within.to > depth;
    within.first_moment().filter(|_| deep)
}
