//! The numbers of boxes, each in its box.

use tin_crown::geometry::Shape;

use crate::canvas::{Anchor, Canvas, Text};
use crate::label::{Area, spread};
use crate::look::Look;
use crate::text::Weight;
use crate::view::View;

/// How large a number is, with some room around it.
const SIZE: [f64; 2] = [16.0, 15.0];
/// Where in a rectangle a number is tried, as shares of its width and height: its corners first.
const CORNERED: [[f64; 2]; 9] = [
    [1.0, 0.0],
    [0.0, 0.0],
    [1.0, 1.0],
    [0.0, 1.0],
    [0.5, 0.0],
    [0.5, 1.0],
    [0.0, 0.5],
    [1.0, 0.5],
    [0.5, 0.5],
];
/// The same in what has other corners or none.
const ROUND: [[f64; 2]; 5] = [[0.5, 0.5], [0.5, 0.7], [0.7, 0.6], [0.3, 0.6], [0.5, 0.3]];

/// Draws the numbers of all shapes, from 1 on.
pub(super) fn draw<'s>(
    canvas: &mut Canvas,
    look: &Look,
    view: &View,
    shapes: impl Iterator<Item = &'s Shape>,
) {
    let mut taken: Vec<Area> = Vec::new();
    for (nth, shape) in shapes.enumerate() {
        let places = inside(view, shape);
        let free = places
            .iter()
            .find(|own| !taken.iter().any(|other| own.meets(other)));
        // Where there is no room in it, close by.
        let beside = || {
            spread(&places[..1], &taken, view.area)
                .into_iter()
                .flatten()
                .next()
        };
        let Some(area) = free.copied().or_else(beside) else {
            continue;
        };
        number(canvas, look, &area, nth + 1);
        taken.push(area);
    }
}

/// The places for a number in a shape, the best first.
fn inside(view: &View, shape: &Shape) -> Vec<Area> {
    let [x, y, width, height] = view.rect(shape.bounds());
    let upright = shape.radius() == 0.0 && shape.is_upright();
    let shares: &[[f64; 2]] = if upright { &CORNERED } else { &ROUND };
    let place = |&[across, down]: &[f64; 2]| {
        // A box smaller than a number has it in its middle.
        let [left, top] = [(width, SIZE[0], across), (height, SIZE[1], down)].map(
            |(room, size, share)| match room - size - 4.0 {
                free if free > 0.0 => 2.0 + free * share,
                _ => (room - size) / 2.0,
            },
        );
        Area {
            x: x + left,
            y: y + top,
            width: SIZE[0],
            height: SIZE[1],
        }
    };
    shares.iter().map(place).collect()
}

fn number(canvas: &mut Canvas, look: &Look, area: &Area, number: usize) {
    let back = [("fill", look.arena), ("fill-opacity", "0.85"), ("rx", "3")];
    canvas.rect([area.x, area.y, area.width, area.height], &back);
    canvas.text(&Text {
        x: area.x + area.width / 2.0,
        y: area.y + 12.0,
        size: 12.0,
        weight: Weight::SemiBold,
        anchor: Anchor::Middle,
        fill: look.ink,
        text: &number.to_string(),
    });
}
