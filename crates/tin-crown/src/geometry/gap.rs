//! How near two shapes come to each other, one standing and the other moving straight past it.
//!
//! Asked, as in [`sweep`](super::sweep), of a point moving against the Minkowski difference of the
//! two: the least distance between its way and that outline, edge by edge (C. Ericson, *Real-Time
//! Collision Detection*, 2005, section 5.1.9), less the radii.

use super::sweep::{TOUCH, sweep};
use super::{Shape, Vec2};

/// The closest that two shapes come.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Gap {
    /// How far they are from each other then, in units: 0 when they touch.
    pub distance: f64,
    /// The part of the movement that is over by then, from 0 to 1.
    pub moment: f64,
    /// From the nearest point of the moving shape to that of the standing one.
    pub toward: Vec2,
}

/// How near `moving`, set out at `offset` from `standing` (both relative to their own origins) and
/// going by `path`, comes to it.
///
/// ```
/// use tin_crown::geometry::{Shape, Vec2, gap};
///
/// let block = Shape::rectangle([0.0, 0.0], [4.0, 4.0], 0.0)?;
/// let past = gap(&block, &block, Vec2::new(-10.0, 7.0), Vec2::new(20.0, 0.0));
/// // 7 apart, half of each between.
/// assert_eq!((past.distance, past.toward), (3.0, Vec2::new(0.0, -3.0)));
/// # Ok::<(), tin_crown::geometry::ShapeError>(())
/// ```
pub fn gap(standing: &Shape, moving: &Shape, offset: Vec2, path: Vec2) -> Gap {
    if let Some(moment) = sweep(standing, moving, offset, path).first_moment() {
        return Gap {
            distance: 0.0,
            moment,
            toward: Vec2::ZERO,
        };
    }
    let mut nearest = (f64::INFINITY, 0.0, Vec2::ZERO);
    let mut look = |a: Vec2, b: Vec2| {
        let (moment, between) = between(offset, path, a, b - a);
        let distance = between.length();
        if distance < nearest.0 - TOUCH {
            nearest = (distance, moment, between);
        }
    };
    for &other in moving.points() {
        standing
            .edges()
            .for_each(|(a, b)| look(a - other, b - other));
        standing
            .points()
            .iter()
            .for_each(|&corner| look(corner - other, corner - other));
    }
    for &corner in standing.points() {
        moving
            .edges()
            .for_each(|(a, b)| look(corner - a, corner - b));
    }
    let (distance, moment, toward) = nearest;
    let apart = (distance - standing.radius() - moving.radius()).max(0.0);
    Gap {
        distance: apart,
        moment,
        toward: toward.unit() * apart,
    }
}

/// When a point from `start` along `path` is nearest to the line from `a` along `edge`, and the way
/// from there to the line.
fn between(start: Vec2, path: Vec2, a: Vec2, edge: Vec2) -> (f64, Vec2) {
    let (paths, edges, both) = (path.dot(path), edge.dot(edge), path.dot(edge));
    let from = start - a;
    let (along_path, along_edge) = (path.dot(from), edge.dot(from));
    let on_path = |on_edge: f64| {
        if paths == 0.0 {
            0.0
        } else {
            ((both * on_edge - along_path) / paths).clamp(0.0, 1.0)
        }
    };
    let cross = paths * edges - both * both;
    let guess = if cross > 0.0 {
        ((both * along_edge - along_path * edges) / cross).clamp(0.0, 1.0)
    } else {
        on_path(0.0)
    };
    let on_edge = if edges == 0.0 {
        0.0
    } else {
        ((both * guess + along_edge) / edges).clamp(0.0, 1.0)
    };
    let moment = on_path(on_edge);
    (moment, a + edge * on_edge - (start + path * moment))
}
