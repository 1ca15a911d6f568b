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
pub(crate) fn along_prism(
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

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn distances_worked_on_paper() {
        let block = Shape::rectangle([0.0, 0.0], [4.0, 2.0], 0.0).unwrap();
        let rod = Shape::capsule([[0.0, 0.0], [10.0, 0.0]], 1.0).unwrap();
        let ball = Shape::circle([3.0, 0.0], 2.0).unwrap();
        for (shape, point, far) in [
            (&block, [1.0, 0.5], 0.0),
            (&block, [2.0, 0.0], 0.0),
            // 3 beside and 4 above the corner at (2, 1).
            (&block, [5.0, 5.0], 5.0),
            (&rod, [5.0, 4.0], 3.0),
            (&rod, [13.0, 0.0], 2.0),
            (&ball, [0.0, 0.0], 1.0),
            (&ball, [3.5, 0.0], 0.0),
        ] {
            assert_eq!(distance(shape, point.into()), far, "{point:?}");
        }
    }

    #[test]
    fn a_line_meets_the_first_side_in_its_way() {
        let block = Shape::rectangle([0.0, 0.0], [4.0, 2.0], 0.0).unwrap();
        let meet = |from: [f64; 2], path: [f64; 2]| along(&block, from.into(), path.into());
        // From -12 by 20: the side at -2 is half the way.
        assert!((meet([-12.0, 0.0], [20.0, 0.0]).unwrap() - 0.5).abs() < 1e-6);
        // Above it, along its upper side, and up to its side: touching is not meeting.
        assert_eq!(meet([-12.0, 2.0], [20.0, 0.0]), None);
        assert_eq!(meet([-12.0, 1.0], [20.0, 0.0]), None);
        assert_eq!(meet([-12.0, 0.0], [10.0, 0.0]), None);
        assert_eq!(meet([2.0, 0.0], [10.0, 0.0]), None);
        assert_eq!(meet([0.0, 0.0], [9.0, 0.0]), Some(0.0));
    }

    #[test]
    fn a_line_that_falls_meets_a_prism_at_its_top_or_its_side() {
        let block = Shape::rectangle([0.0, 0.0], [4.0, 2.0], 0.0).unwrap();
        let span = Some(HeightSpan::new(0.0, 6.0));
        let meet = |from: [f64; 2], path: [f64; 2], line: [f64; 2]| {
            along_prism(&block, span, from.into(), path.into(), Some(line))
        };
        for (from, path, line, met) in [
            // At the side after half the way; 12 high by then, 6 high after three quarters, beyond it.
            ([-12.0, 0.0], [20.0, 0.0], [24.0, -24.0], None),
            // At the side 5 high: (24 - 38 / 2).
            ([-12.0, 0.0], [20.0, 0.0], [24.0, -38.0], Some(0.5)),
            // At the side 8 high, 6 high at 18 / 32, on top.
            ([-12.0, 0.0], [20.0, 0.0], [24.0, -32.0], Some(0.5625)),
            // Along its top, and straight down.
            ([-12.0, 0.0], [20.0, 0.0], [6.0, 0.0], None),
            ([0.0, 0.0], [0.0, 0.0], [10.0, -8.0], Some(0.5)),
            ([0.0, 0.0], [0.0, 0.0], [10.0, -4.0], None),
        ] {
            let found = meet(from, path, line);
            let near = |met: f64| found.is_some_and(|found| (found - met).abs() < 1e-6);
            assert!(met.map_or(found.is_none(), near), "{line:?}: {found:?}");
        }
    }
}
