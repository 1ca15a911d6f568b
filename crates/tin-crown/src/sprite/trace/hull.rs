//! Convex hulls.

use crate::geometry::Vec2;
use crate::order;

/// The convex hull of points, counter-clockwise with y upward, without corners on a straight line (by A. M. Andrew's
/// monotone chain, "Another efficient algorithm for convex hulls in two dimensions", Information Processing Letters 9,
/// 1979).
pub(super) fn hull(mut points: Vec<Vec2>) -> Vec<Vec2> {
    order::sort_by(&mut points, |a, b| {
        a.x.total_cmp(&b.x).then(a.y.total_cmp(&b.y))
    });
    points.dedup();
    if points.len() < 3 {
        return points;
    }
    let chain = |points: &mut dyn Iterator<Item = Vec2>| {
        let mut chain: Vec<Vec2> = Vec::new();
        for point in points {
            while let [.., a, b] = chain.as_slice()
                && (*b - *a).cross(point - *b) <= 0.0
            {
                chain.pop();
            }
            chain.push(point);
        }
        chain.pop();
        chain
    };
    let mut all = chain(&mut points.iter().copied());
    all.extend(chain(&mut points.iter().rev().copied()));
    all
}

/// The direction of an edge of a hull, of length 1, for which something is least, and what that is.
pub(super) fn least(hull: &[Vec2], of: impl Fn(Vec2) -> f64) -> Option<(Vec2, f64)> {
    let next = hull.iter().cycle().skip(1);
    let edges = hull.iter().zip(next).map(|(a, b)| (*b - *a).unit());
    let edges = edges.filter(|along| along.length() > 0.0);
    let all = edges.map(|along| (along, of(along)));
    all.min_by(|(_, a), (_, b)| a.total_cmp(b))
}

/// A hull of at most so many corners around another: edges are dropped, their neighbours lengthened until they meet,
/// those first that add the least.
pub(super) fn reduced(hull: &[Vec2], most: usize) -> Vec<Vec2> {
    let mut points = hull.to_vec();
    while points.len() > most {
        let count = points.len();
        let at = |nth: usize| points[nth % count];
        let dropped = (0..count).filter_map(|nth| {
            let (a, b, c, d) = (at(nth), at(nth + 1), at(nth + 2), at(nth + 3));
            let corner = meeting(a, b, d, c)?;
            let added = (corner - b).cross(c - b).abs();
            Some((nth, corner, added))
        });
        let Some((nth, corner, _)) = dropped.min_by(|a, b| a.2.total_cmp(&b.2)) else {
            break;
        };
        let (kept, gone) = ((nth + 1) % count, (nth + 2) % count);
        points[kept] = corner;
        points.remove(gone);
    }
    points
}

/// Where the line from `a` through `b` meets that from `d` through `c`, beyond both.
fn meeting(a: Vec2, b: Vec2, d: Vec2, c: Vec2) -> Option<Vec2> {
    let (one, other) = (b - a, c - d);
    let cross = one.cross(other);
    let along = (c - b).cross(other) / cross;
    let back = (c - b).cross(one) / cross;
    (cross < 0.0 && along >= 0.0 && back >= 0.0).then(|| b + one * along)
}
