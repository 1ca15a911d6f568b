//! What a meter held, as a step line with numbers.

use tin_crown::plan::MeterPlan;
use tin_crown::{Amount, Tick};

use super::{LEFT, RIGHT, Scale};
use crate::canvas::{Anchor, Canvas, Text, number};
use crate::film::Span;
use crate::look::Look;
use crate::text::{Weight, width};

/// A step: where it is, on which level, to what, and whether that is less than before.
#[derive(Clone, Copy)]
struct Step {
    x: f64,
    level: f64,
    held: Amount,
    lost: bool,
}

/// Draws what a meter held between two heights, with its numbers where there is room; nothing while its
/// owner is gone.
pub(super) fn draw(
    canvas: &mut Canvas,
    look: &Look,
    scale: &Scale,
    (meter, course): (&MeterPlan, &[(Tick, Amount)]),
    gone: &[&Span],
    [ceiling, floor]: [f64; 2],
) {
    let full = meter.max().as_f64().max(1e-9);
    let level = |held: Amount| floor - (floor - ceiling) * held.as_f64() / full;
    let steps = steps(scale, course, level);
    let Some(first) = steps.first() else {
        return;
    };
    let mut from = first.x;
    for span in gone {
        stretch(canvas, look, &steps, [from, scale.at(span.from)], floor);
        from = from.max(scale.at(span.to));
    }
    stretch(canvas, look, &steps, [from, RIGHT], floor);
    numbers(canvas, look, meter, &steps, floor);
}

fn steps(scale: &Scale, course: &[(Tick, Amount)], level: impl Fn(Amount) -> f64) -> Vec<Step> {
    let last = course.partition_point(|(tick, _)| *tick <= scale.from);
    let shown = &course[last.saturating_sub(1)..];
    let mut steps: Vec<Step> = Vec::new();
    for &(tick, held) in shown.iter().take_while(|(tick, _)| *tick <= scale.to) {
        let x = scale.at(tick);
        // Several changes within half a pixel are one step to the last of them.
        if steps.len() > 1 && steps.last().is_some_and(|before| x - before.x < 0.5) {
            steps.pop();
        }
        steps.push(Step {
            x,
            level: level(held),
            held,
            lost: steps.last().is_some_and(|before| held < before.held),
        });
    }
    steps
}

/// The step line between two places, filled down to the floor.
fn stretch(canvas: &mut Canvas, look: &Look, steps: &[Step], [from, to]: [f64; 2], floor: f64) {
    let begun = steps.partition_point(|step| step.x <= from);
    let Some(first) = begun
        .checked_sub(1)
        .map(|nth| steps[nth])
        .filter(|_| from < to)
    else {
        return;
    };
    let mut way = format!("V{}", number(first.level));
    for step in steps[begun..].iter().take_while(|step| step.x < to) {
        way += &format!("H{}V{}", number(step.x), number(step.level));
    }
    way += &format!("H{}", number(to));
    let start = format!("M{} {}", number(from), number(floor));
    let fill = [("fill", look.verdigris), ("fill-opacity", "0.16")];
    canvas.path(&format!("{start}{way}V{}Z", number(floor)), &fill);
    let start = format!("M{} {}", number(from), number(first.level));
    canvas.path(
        &format!("{start}{way}"),
        &[
            ("fill", "none"),
            ("stroke", look.verdigris),
            ("stroke-width", "1.8"),
        ],
    );
}

fn numbers(canvas: &mut Canvas, look: &Look, meter: &MeterPlan, steps: &[Step], floor: f64) {
    let mut free = LEFT;
    for (nth, step) in steps.iter().enumerate() {
        let Step {
            x,
            level,
            held,
            lost,
        } = *step;
        let text = if nth == 0 {
            format!("{held} of {}", meter.max())
        } else {
            held.to_string()
        };
        let long = width(&text, 12.0, Weight::SemiBold);
        let next = steps.get(nth + 1).map_or(RIGHT, |next| next.x);
        if x < free || x + long + 6.0 > next.min(RIGHT) {
            continue;
        }
        canvas.text(&Text {
            x: x + 4.0,
            // Below the line, or above it where there is no room below.
            y: if level + 14.0 <= floor {
                level + 12.5
            } else {
                level - 3.5
            },
            size: 12.0,
            weight: Weight::SemiBold,
            anchor: Anchor::Start,
            fill: if lost { look.oxblood } else { look.ink },
            text: &text,
        });
        free = x + long + 8.0;
    }
}
