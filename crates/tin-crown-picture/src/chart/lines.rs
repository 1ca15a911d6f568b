//! One value varied: a line for each drill, and below it where expectations are missed.

use super::axis::Axis;
use super::{Chart, Spot, WIDTH};
use crate::canvas::{Anchor, Canvas, Text, number};
use crate::look::Look;
use crate::scene::{multiples, round_step};
use crate::text::{Weight, fitted, width};

const LEFT: f64 = 120.0;
const RIGHT: f64 = WIDTH - 200.0;
const TOP: f64 = 116.0;
const BOTTOM: f64 = 560.0;
/// How high a row is that shows where an expectation is missed.
const ROW: f64 = 24.0;
/// So many of those rows are drawn.
const MOST_ROWS: usize = 12;
/// So many drills have a line.
const MOST_LINES: usize = 6;
/// How lines are told apart without their colour.
const DASHES: [&str; MOST_LINES] = ["", "9 4", "2 3", "12 3 2 3", "5 2", "1 5"];

pub(super) fn svg(chart: &Chart, axis: &Axis, look: &Look) -> String {
    let missed: Vec<&(usize, u32)> = chart.missed.iter().take(MOST_ROWS).collect();
    let rows = ROW * missed.len() as f64;
    let high = BOTTOM + 96.0 + rows;
    let drills = chart.sheet.drills.len();
    let caption = match drills {
        1 => format!("drill {}, {} values", chart.sheet.drills[0], axis.len()),
        _ => format!("{drills} drills, {} values", axis.len()),
    };
    let caption = match chart.missed.is_empty() {
        true => caption,
        false => caption + "; hollow points miss an expectation",
    };
    let mut canvas = chart.page(look, high, &caption);
    let scale = Scale::new(chart, axis);
    frame(&mut canvas, look, chart, axis, &scale);
    let mut labels = Vec::new();
    for drill in 0..drills.min(MOST_LINES) {
        line(&mut canvas, look, chart, &scale, drill, &mut labels);
    }
    names(&mut canvas, look, chart, labels);
    for (nth, &&(drill, expectation)) in missed.iter().enumerate() {
        let y = BOTTOM + 8.0 + ROW * nth as f64;
        misses(&mut canvas, look, chart, &scale, (drill, expectation), y);
    }
    now(&mut canvas, look, axis, &scale, BOTTOM + rows);
    note(
        &mut canvas,
        look,
        [(LEFT + RIGHT) / 2.0, BOTTOM + rows + 56.0],
        Anchor::Middle,
        &axis.path,
    );
    canvas.finish()
}

/// From values to pixels.
struct Scale {
    places: Vec<f64>,
    /// The numbers at the left and right ends, if the values are numbers.
    numbers: Option<[f64; 2]>,
    span: (f64, f64),
}

impl Scale {
    fn new(chart: &Chart, axis: &Axis) -> Scale {
        let count = axis.len();
        let numbers: Option<Vec<f64>> = (0..count).map(|place| axis.number(place)).collect();
        let numbers = numbers.filter(|all| all.len() > 1);
        let ends = numbers.as_ref().map(|all| {
            let least = all.iter().copied().fold(f64::INFINITY, f64::min);
            let most = all.iter().copied().fold(f64::NEG_INFINITY, f64::max);
            [least, most]
        });
        let places = (0..count).map(|place| match (&numbers, ends) {
            (Some(all), Some([least, most])) => {
                LEFT + (RIGHT - LEFT) * (all[place] - least) / (most - least).max(1e-12)
            }
            _ => LEFT + (RIGHT - LEFT) * (place as f64 + 0.5) / count.max(1) as f64,
        });
        Scale {
            places: places.collect(),
            numbers: ends,
            span: chart.span(),
        }
    }

    fn height(&self, value: f64) -> f64 {
        let (least, most) = self.span;
        BOTTOM - (BOTTOM - TOP - 12.0) * (value - least) / (most - least)
    }

    /// The stretch of pixels that a place stands for.
    fn stretch(&self, place: usize) -> [f64; 2] {
        let at = self.places[place];
        let before = place
            .checked_sub(1)
            .map_or(at, |before| self.places[before]);
        let after = self.places.get(place + 1).copied().unwrap_or(at);
        let (from, to) = ((before + at) / 2.0, (at + after) / 2.0);
        [from.min(at - 1.5), to.max(at + 1.5)]
    }
}

fn note(canvas: &mut Canvas, look: &Look, [x, y]: [f64; 2], anchor: Anchor, text: &str) {
    canvas.text(&Text {
        x,
        y,
        size: 13.0,
        weight: Weight::Regular,
        anchor,
        fill: look.faint,
        text,
    });
}

fn frame(canvas: &mut Canvas, look: &Look, chart: &Chart, axis: &Axis, scale: &Scale) {
    canvas.rect(
        [LEFT, TOP - 12.0, RIGHT - LEFT, BOTTOM - TOP + 12.0],
        &[("fill", look.arena)],
    );
    let (least, most) = scale.span;
    let faint = [
        ("stroke", look.faint),
        ("stroke-width", "0.6"),
        ("stroke-opacity", "0.5"),
    ];
    let mut step = round_step((most - least) / 7.0);
    // What is counted has no halves.
    if chart.spots.values().all(|spot| spot.sum.fract() == 0.0) && most - least >= 2.0 {
        step = step.max(1.0);
    }
    for value in multiples(step, least, most) {
        let y = scale.height(value);
        canvas.line([LEFT, y], [RIGHT, y], &faint);
        note(
            canvas,
            look,
            [LEFT - 10.0, y + 4.5],
            Anchor::End,
            &value.to_string(),
        );
    }
    canvas.line(
        [LEFT, BOTTOM],
        [RIGHT, BOTTOM],
        &[("stroke", look.ink), ("stroke-width", "1.2")],
    );
    let rows = ROW * chart.missed.len().min(MOST_ROWS) as f64;
    let mut free = f64::NEG_INFINITY;
    for (place, x) in scale.places.iter().enumerate() {
        let label = axis.label(place);
        let half = width(&label, 13.0, Weight::Regular) / 2.0;
        canvas.line([*x, BOTTOM], [*x, BOTTOM + 4.0], &faint);
        if x - half > free {
            note(
                canvas,
                look,
                [*x, BOTTOM + rows + 30.0],
                Anchor::Middle,
                &label,
            );
            free = x + half + 12.0;
        }
    }
}

/// The present value.
fn now(canvas: &mut Canvas, look: &Look, axis: &Axis, scale: &Scale, bottom: f64) {
    let Some((number, place)) = axis.now() else {
        return;
    };
    let at = match (scale.numbers, number, place) {
        (Some([least, most]), Some(at), _) if at >= least && at <= most => {
            LEFT + (RIGHT - LEFT) * (at - least) / (most - least).max(1e-12)
        }
        (None, _, Some(place)) => scale.places[place],
        _ => return,
    };
    canvas.line(
        [at, TOP - 12.0],
        [at, bottom + 4.0],
        &[
            ("stroke", look.brass),
            ("stroke-width", "2"),
            ("stroke-dasharray", "6 4"),
        ],
    );
    let present = axis.present.as_deref().unwrap_or_default();
    canvas.text(&Text {
        x: at,
        y: TOP - 18.0,
        size: 13.0,
        weight: Weight::SemiBold,
        anchor: Anchor::Middle,
        fill: look.brass,
        text: &format!("now {present}"),
    });
}

fn line(
    canvas: &mut Canvas,
    look: &Look,
    chart: &Chart,
    scale: &Scale,
    drill: usize,
    labels: &mut Vec<(f64, usize)>,
) {
    let spots = (0..scale.places.len()).map(|place| chart.spots.get(&(drill, vec![place])));
    let spots: Vec<Option<&Spot>> = spots.collect();
    let mut way = String::new();
    let mut pen = "M";
    for (x, spot) in scale.places.iter().zip(&spots) {
        match spot.and_then(Spot::mean) {
            Some(mean) => {
                way += &format!("{pen}{} {}", number(*x), number(scale.height(mean)));
                pen = "L";
            }
            None => pen = "M",
        }
    }
    let mut style = vec![
        ("fill", "none"),
        ("stroke", look.copper),
        ("stroke-width", "2.2"),
    ];
    if !DASHES[drill].is_empty() {
        style.push(("stroke-dasharray", DASHES[drill]));
    }
    canvas.path(&way, &style);
    let mut last = None;
    for (x, spot) in scale.places.iter().zip(&spots) {
        let Some((spot, mean)) = spot.and_then(|spot| Some((spot, spot.mean()?))) else {
            continue;
        };
        if spot.most > spot.least {
            let ends = [scale.height(spot.least), scale.height(spot.most)];
            canvas.line(
                [*x, ends[0]],
                [*x, ends[1]],
                &[("stroke", look.copper), ("stroke-width", "1")],
            );
        }
        let y = scale.height(mean);
        let (fill, stroke) = match spot.missed.is_empty() {
            true => (look.copper, look.copper),
            false => (look.ground, look.oxblood),
        };
        canvas.empty(
            "circle",
            &[
                ("cx", &number(*x)),
                ("cy", &number(y)),
                ("r", "4"),
                ("fill", fill),
                ("stroke", stroke),
                ("stroke-width", "2"),
            ],
        );
        last = Some(y);
    }
    if let Some(y) = last {
        labels.push((y, drill));
    }
}

/// The drills' names at the ends of their lines, none over another.
fn names(canvas: &mut Canvas, look: &Look, chart: &Chart, mut labels: Vec<(f64, usize)>) {
    if chart.sheet.drills.len() == 1 {
        return;
    }
    labels.sort_by(|one, other| one.0.total_cmp(&other.0).then(one.1.cmp(&other.1)));
    let mut free = f64::NEG_INFINITY;
    for (y, drill) in labels {
        let at = (y + 4.5).max(free);
        free = at + 20.0;
        let mut style = vec![("stroke", look.copper), ("stroke-width", "2.2")];
        if !DASHES[drill].is_empty() {
            style.push(("stroke-dasharray", DASHES[drill]));
        }
        canvas.line([RIGHT + 14.0, at - 4.5], [RIGHT + 44.0, at - 4.5], &style);
        let name = fitted(
            &chart.sheet.drills[drill],
            13.0,
            Weight::SemiBold,
            WIDTH - RIGHT - 64.0,
        );
        canvas.words([RIGHT + 50.0, at], 13.0, Weight::SemiBold, look.ink, &name);
    }
    let more = chart.sheet.drills.len().saturating_sub(MOST_LINES);
    if more > 0 {
        let said = format!("and {more} more drills");
        canvas.words(
            [RIGHT + 14.0, free + 6.0],
            13.0,
            Weight::Regular,
            look.faint,
            &said,
        );
    }
}

/// Where an expectation is missed.
fn misses(
    canvas: &mut Canvas,
    look: &Look,
    chart: &Chart,
    scale: &Scale,
    (drill, expectation): (usize, u32),
    y: f64,
) {
    canvas.rect(
        [LEFT, y + 3.0, RIGHT - LEFT, ROW - 8.0],
        &[("fill", look.arena)],
    );
    for place in 0..scale.places.len() {
        let spot = chart.spots.get(&(drill, vec![place]));
        let Some(share) = spot.and_then(|spot| {
            Some(f64::from(*spot.missed.get(&expectation)?) / f64::from(spot.rows))
        }) else {
            continue;
        };
        let [from, to] = scale.stretch(place);
        canvas.rect(
            [
                from.max(LEFT - 3.0),
                y + 3.0,
                to.min(RIGHT + 3.0) - from.max(LEFT - 3.0),
                ROW - 8.0,
            ],
            &[
                ("fill", look.oxblood),
                ("fill-opacity", &number(0.35 + 0.65 * share)),
            ],
        );
    }
    let of = match chart.sheet.drills.len() {
        1 => String::new(),
        _ => format!(" of {}", chart.sheet.drills[drill]),
    };
    let said = fitted(
        &format!("missed: {expectation}{of}"),
        13.0,
        Weight::Regular,
        WIDTH - RIGHT - 24.0,
    );
    canvas.words(
        [RIGHT + 14.0, y + ROW - 8.5],
        13.0,
        Weight::Regular,
        look.oxblood,
        &said,
    );
}
