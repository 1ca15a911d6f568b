//! Where a horizontal line crosses a shape.

use super::{Shape, Vec2};

/// From which to which x a shape reaches at a height y; none when it does not reach there.
///
/// ```
/// use tin_crown::geometry::{Shape, row};
///
/// let disc = Shape::circle([10.0, 0.0], 5.0)?;
/// assert_eq!(row(&disc, 3.0), Some([6.0, 14.0]));
/// assert_eq!(row(&disc, 6.0), None);
/// # Ok::<(), tin_crown::geometry::ShapeError>(())
/// ```
pub fn row(shape: &Shape, y: f64) -> Option<[f64; 2]> {
    let radius = shape.radius();
    let mut span = [f64::INFINITY, f64::NEG_INFINITY];
    let mut join = |x: f64| span = [span[0].min(x), span[1].max(x)];
    for corner in shape.points() {
        let up = y - corner.y;
        if up.abs() <= radius {
            let half = (radius * radius - up * up).sqrt();
            join(corner.x - half);
            join(corner.x + half);
        }
    }
    for (a, b) in shape.edges() {
        let along = (b - a).unit();
        let out = Vec2::new(along.y, -along.x) * radius;
        // The edge moved out by the radius; moved in, it is within the shape.
        for (a, b) in [(a + out, b + out), (a - out, b - out)] {
            if (a.y - y) * (b.y - y) <= 0.0 {
                let share = if a.y == b.y {
                    0.0
                } else {
                    (y - a.y) / (b.y - a.y)
                };
                join(a.x + (b.x - a.x) * share);
                if a.y == b.y {
                    join(b.x);
                }
            }
        }
    }
    (span[0] <= span[1]).then_some(span)
}
