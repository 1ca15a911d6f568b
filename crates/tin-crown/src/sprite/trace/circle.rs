//! The least circle around points.

use crate::geometry::Vec2;

/// What is beyond a circle by less than this share of its size is within it.
const SLACK: f64 = 1.0 + 1e-9;

/// The least circle around points: its middle and radius. It goes through two or three of them, and grows point by
/// point (E. Welzl, "Smallest enclosing disks", Lecture Notes in Computer Science 555, 1991).
pub(super) fn around(points: &[Vec2]) -> Option<(Vec2, f64)> {
    let mut circle = (*points.first()?, 0.0);
    for (nth, a) in points.iter().enumerate() {
        if holds(circle, *a) {
            continue;
        }
        circle = (*a, 0.0);
        for (mth, b) in points[..nth].iter().enumerate() {
            if holds(circle, *b) {
                continue;
            }
            circle = through_two(*a, *b);
            for c in &points[..mth] {
                if !holds(circle, *c) {
                    circle = through_three(*a, *b, *c);
                }
            }
        }
    }
    Some(circle)
}

fn holds((middle, radius): (Vec2, f64), point: Vec2) -> bool {
    (point - middle).length() <= radius * SLACK
}

fn through_two(a: Vec2, b: Vec2) -> (Vec2, f64) {
    ((a + b) * 0.5, (b - a).length() / 2.0)
}

fn through_three(a: Vec2, b: Vec2, c: Vec2) -> (Vec2, f64) {
    let (u, v) = (b - a, c - a);
    let twice = 2.0 * u.cross(v);
    if twice == 0.0 {
        return through_two(a, b);
    }
    let (uu, vv) = (u.dot(u), v.dot(v));
    let off = Vec2::new(v.y * uu - u.y * vv, u.x * vv - v.x * uu) * (1.0 / twice);
    (a + off, off.length())
}
