//! How high an actor is, as a line with its highest and lowest number.

use tin_crown::Tick;

use super::{LEFT, RIGHT, Scale};
use crate::canvas::{Anchor, Canvas, Text, number};
use crate::look::Look;
use crate::text::{Weight, width};

/// Whether a height ever changes.
pub(super) fn changes(course: &[(Tick, f64)]) -> bool {
    course.windows(2).any(|pair| pair[0].1 != pair[1].1)
}

/// Draws the heights on some ticks between two places; nothing where it is not there.
pub(super) fn draw(
    canvas: &mut Canvas,
    look: &Look,
    scale: &Scale,
    course: &[(Tick, f64)],
    [ceiling, floor]: [f64; 2],
) {
    let shown = course.iter();
    let shown: Vec<(Tick, f64)> = shown
        .filter(|(tick, _)| scale.shows(*tick))
        .copied()
        .collect();
    let ends = shown.iter().map(|(_, height)| *height);
    let (low, high) = ends.fold((f64::INFINITY, f64::NEG_INFINITY), |(low, high), height| {
        (low.min(height), high.max(height))
    });
    let reach = (high - low).max(1e-9);
    let level = |height: f64| floor - (floor - ceiling) * (height - low) / reach;
    for stretch in shown.chunk_by(|a, b| b.0.0 - a.0.0 == 1) {
        let points = stretch.iter();
        let points = points.map(|(tick, height)| {
            format!("{} {}", number(scale.at(*tick)), number(level(*height)))
        });
        let way = points.collect::<Vec<_>>().join("L");
        let style = [
            ("fill", "none"),
            ("stroke", look.pewter),
            ("stroke-width", "1.8"),
        ];
        canvas.path(&format!("M{way}"), &style);
    }
    let first = |wanted: f64| shown.iter().find(|(_, height)| *height == wanted);
    let mut last = LEFT;
    let mut ends: Vec<_> = [first(low), first(high)].into_iter().flatten().collect();
    ends.sort_by_key(|(tick, _)| *tick);
    for (tick, height) in ends {
        let text = format!("{} high", (height * 100.0).round() / 100.0);
        let long = width(&text, 12.0, Weight::SemiBold);
        let y = level(*height);
        // Under its peak, which may be a short one.
        let back = if y == ceiling { long / 2.0 } else { -4.0 };
        let x = (scale.at(*tick) - back).clamp(LEFT + 4.0, RIGHT - long);
        if x < last {
            continue;
        }
        // Below the line at its top, above it at its bottom.
        let y = if y - ceiling < floor - y {
            y + 13.0
        } else {
            y - 4.0
        };
        canvas.text(&Text {
            x,
            y,
            size: 12.0,
            weight: Weight::SemiBold,
            anchor: Anchor::Start,
            fill: look.ink,
            text: &text,
        });
        last = x + long + 8.0;
    }
}
