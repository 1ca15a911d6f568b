//! The outline of a shape as an SVG path.

use tin_crown::geometry::{Shape, Vec2};

use crate::canvas::number;
use crate::view::View;

/// The outline of a shape whose origin is at `at`.
pub(crate) fn outline(view: &View, shape: &Shape, at: Vec2) -> String {
    let radius = shape.radius();
    let place = |point: Vec2| {
        let [x, y] = view.place(point + at);
        format!("{} {}", number(x), number(y))
    };
    let points = shape.points();
    if radius == 0.0 {
        let corners: Vec<String> = points.iter().map(|&point| place(point)).collect();
        return format!("M{}Z", corners.join("L"));
    }
    let scaled = number(radius * view.scale);
    // Corners go counter-clockwise with y upward; an SVG's y is downward.
    let sweep = if view.flipped { 0 } else { 1 };
    let arc = |to: Vec2| format!("A{scaled} {scaled} 0 0 {sweep} {}", place(to));
    if let [centre] = points {
        let side = Vec2::new(radius, 0.0);
        let (left, right) = (*centre - side, *centre + side);
        return format!("M{}{}{}Z", place(left), arc(right), arc(left));
    }
    let mut path = String::new();
    let next = points.iter().cycle().skip(1);
    for (index, (&from, &to)) in points.iter().zip(next).enumerate() {
        let along = to - from;
        let out = Vec2::new(along.y, -along.x) * (radius / along.length());
        let begin = from + out;
        path += &if index == 0 {
            format!("M{}", place(begin))
        } else {
            arc(begin)
        };
        path += &format!("L{}", place(to + out));
    }
    let along = points[1] - points[0];
    let out = Vec2::new(along.y, -along.x) * (radius / along.length());
    path + &arc(points[0] + out) + "Z"
}
