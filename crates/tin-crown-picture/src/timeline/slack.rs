//! The slack of inputs: a row for each, with how much earlier and later it may come and end.

use tin_crown::study::{InputSlack, Slack, Window};

use super::Scale;
use super::blows::explain;
use super::rows::label;
use crate::canvas::{Canvas, number};
use crate::look::Look;
use crate::text::{Weight, shortened};

/// How high the row of an input is.
const ROW: f64 = 22.0;
/// So many inputs have a row.
const MOST: usize = 80;

/// How high all rows are.
pub(super) fn height(slack: &Slack) -> f64 {
    ROW * slack.inputs.len().min(MOST) as f64 + 34.0
}

/// Draws the rows from a height on.
pub(super) fn draw(canvas: &mut Canvas, look: &Look, scale: &Scale, slack: &Slack, top: f64) {
    label(
        canvas,
        look.ink,
        top + 18.0,
        Weight::SemiBold,
        "slack of inputs",
    );
    for (nth, input) in slack.inputs.iter().take(MOST).enumerate() {
        let y = top + 38.0 + ROW * nth as f64;
        let several = slack.inputs.iter().any(|other| other.who != input.who);
        let who = if several {
            format!("{} ", input.who)
        } else {
            String::new()
        };
        let name = shortened(
            &format!("{who}{}", input.what),
            13.0,
            Weight::Regular,
            150.0,
        );
        label(canvas, look.faint, y + 4.0, Weight::Regular, &name);
        row(canvas, look, scale, input, y);
    }
}

fn row(canvas: &mut Canvas, look: &Look, scale: &Scale, input: &InputSlack, y: f64) {
    let begins = f64::from(input.tick.0);
    bars(canvas, scale, &input.when, begins, look.verdigris, y - 5.0);
    let ends = begins + input.length.map_or(0.0, |length| f64::from(length.0));
    if let Some(held) = &input.held
        && ends > begins + 1.0
    {
        bars(canvas, scale, held, ends, look.pewter, y + 1.0);
        if let (Some(from), Some(to)) = (at(scale, begins), at(scale, ends)) {
            canvas.line(
                [from, y],
                [to, y],
                &[("stroke", look.ink), ("stroke-width", "1.4")],
            );
        }
        tick(canvas, look, scale, ends, y);
    }
    tick(canvas, look, scale, begins, y);
}

/// Where a moment is, if it is in the picture.
fn at(scale: &Scale, tick: f64) -> Option<f64> {
    let (from, to) = (f64::from(scale.from.0), f64::from(scale.to.0) + 1.0);
    (tick >= from && tick <= to).then_some(super::LEFT + (tick - from) * scale.pixels)
}

/// The stretches of a window: thick around where it is now, thin beside that.
fn bars(canvas: &mut Canvas, scale: &Scale, window: &Window, now: f64, colour: &str, y: f64) {
    let (first, last) = (f64::from(scale.from.0), f64::from(scale.to.0) + 1.0);
    for stretch in &window.met {
        let [from, to] = stretch.map(|offset| now + offset as f64);
        let (from, to) = (from.max(first), (to + 1.0).min(last));
        let (Some(left), Some(right)) = (at(scale, from), at(scale, to)) else {
            continue;
        };
        if right <= left {
            continue;
        }
        let own = Some(*stretch) == window.around();
        let (top, high) = if own { (y, 5.0) } else { (y + 1.5, 2.0) };
        canvas.rect(
            [left, top, right - left, high],
            &[
                ("fill", colour),
                ("fill-opacity", if own { "0.75" } else { "0.5" }),
            ],
        );
    }
}

/// Where an input begins or ends now.
fn tick(canvas: &mut Canvas, look: &Look, scale: &Scale, tick: f64, y: f64) {
    if let Some(x) = at(scale, tick) {
        let way = format!("M{} {}v16", number(x), number(y - 8.0));
        canvas.path(&way, &[("stroke", look.ink), ("stroke-width", "2")]);
    }
}

/// What the bars mean.
pub(super) fn legend(canvas: &mut Canvas, look: &Look, y: f64) {
    let mut x = 40.0;
    for (colour, text) in [
        (look.verdigris, "when it may begin"),
        (look.pewter, "when it may end"),
    ] {
        canvas.rect(
            [x - 8.0, y - 3.0, 16.0, 5.0],
            &[("fill", colour), ("fill-opacity", "0.75")],
        );
        x += explain(canvas, look, [x + 6.0, y], text) + 6.0;
    }
    canvas.path(
        &format!("M{} {}v14", number(x), number(y - 7.0)),
        &[("stroke", look.ink), ("stroke-width", "2")],
    );
    explain(
        canvas,
        look,
        [x, y],
        "when it does; thin bars are further windows",
    );
}
