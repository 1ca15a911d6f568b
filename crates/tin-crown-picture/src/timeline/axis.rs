//! Time across: seconds above, ticks below.

use super::{LEFT, RIGHT, Scale};
use crate::canvas::{Anchor, Canvas, Text, number};
use crate::look::Look;
use crate::scene::{multiples, round_step};
use crate::text::Weight;

pub(super) fn draw(canvas: &mut Canvas, look: &Look, scale: &Scale, [top, bottom]: [f64; 2]) {
    let mut note = |x, y, anchor, text: &str| {
        canvas.text(&Text {
            x,
            y,
            size: 13.0,
            weight: Weight::Regular,
            anchor,
            fill: look.faint,
            text,
        });
    };
    let rate = f64::from(scale.rate);
    let (from, to) = (scale.from.seconds(scale.rate), scale.to.seconds(scale.rate));
    let mut lines = Vec::new();
    for seconds in multiples(round_step(80.0 / (scale.pixels * rate)), from, to) {
        let x = LEFT + (seconds * rate - f64::from(scale.from.0)) * scale.pixels;
        lines.push(x);
        if x < RIGHT - 30.0 {
            note(x, top - 8.0, Anchor::Middle, &seconds.to_string());
        }
    }
    note(LEFT - 22.0, top - 8.0, Anchor::End, "time, seconds");
    let step = round_step(80.0 / scale.pixels).max(1.0);
    for tick in multiples(step, f64::from(scale.from.0), f64::from(scale.to.0)) {
        let x = LEFT + (tick - f64::from(scale.from.0)) * scale.pixels;
        if x < RIGHT - 30.0 {
            note(x, bottom + 20.0, Anchor::Middle, &tick.to_string());
        }
    }
    note(LEFT - 22.0, bottom + 20.0, Anchor::End, "time, ticks");
    for x in lines {
        canvas.path(
            &format!("M{} {}V{}", number(x), number(top), number(bottom)),
            &[
                ("stroke", look.faint),
                ("stroke-width", "0.6"),
                ("stroke-opacity", "0.5"),
            ],
        );
    }
    for y in [top, bottom] {
        canvas.line(
            [LEFT, y],
            [RIGHT, y],
            &[("stroke", look.ink), ("stroke-width", "1.2")],
        );
    }
}
