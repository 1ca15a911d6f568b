//! Two values varied: a heat map; of more a heat map for each value of the others.

use super::axis::Axis;
use super::{Chart, Spot, WIDTH};
use crate::canvas::{Anchor, Canvas, Text, number};
use crate::look::Look;
use crate::text::{Weight, fitted, shortened, width};

const LEFT: f64 = 64.0;
const TOP: f64 = 96.0;
/// So many maps are drawn.
const MOST: usize = 12;

/// One of the maps: a drill, and the places of the other values.
struct Panel {
    drill: usize,
    others: Vec<usize>,
}

pub(super) fn svg(chart: &Chart, look: &Look) -> String {
    let mut panels: Vec<Panel> = Vec::new();
    for (drill, places) in chart.spots.keys() {
        let others = &places[2..];
        let known = panels
            .iter()
            .any(|panel| panel.drill == *drill && panel.others == others);
        if !known {
            panels.push(Panel {
                drill: *drill,
                others: others.to_vec(),
            });
        }
    }
    let more = panels.len().saturating_sub(MOST);
    panels.truncate(MOST);
    let across = match panels.len() {
        0 | 1 => 1,
        2..=4 => 2,
        _ => 3,
    };
    let wide = (WIDTH - LEFT - 40.0) / across as f64;
    let tall = match across {
        1 => 560.0,
        2 => 420.0,
        _ => 320.0,
    };
    let down = panels.len().div_ceil(across).max(1);
    let high = TOP + tall * down as f64 + 72.0;
    let maps = match panels.len() {
        1 => String::new(),
        _ if more > 0 => format!(", the first {MOST} of {} maps", MOST + more),
        count => format!(", {count} maps"),
    };
    let cells = chart.sheet.cells;
    let caption = format!("{cells} cells{maps}");
    let mut canvas = chart.page(look, high, &caption);
    for (nth, panel) in panels.iter().enumerate() {
        let corner = [
            LEFT + wide * (nth % across) as f64,
            TOP + tall * (nth / across) as f64,
        ];
        map(&mut canvas, look, chart, panel, corner, [wide, tall]);
    }
    legend(&mut canvas, look, chart, high - 28.0);
    canvas.finish()
}

fn words(canvas: &mut Canvas, [x, y]: [f64; 2], anchor: Anchor, fill: &str, text: &str) {
    canvas.text(&Text {
        x,
        y,
        size: 12.0,
        weight: Weight::Regular,
        anchor,
        fill,
        text,
    });
}

fn map(
    canvas: &mut Canvas,
    look: &Look,
    chart: &Chart,
    panel: &Panel,
    [x, y]: [f64; 2],
    [wide, tall]: [f64; 2],
) {
    let (across, down) = (&chart.axes[0], &chart.axes[1]);
    let mut said: Vec<String> = Vec::new();
    if chart.sheet.drills.len() > 1 {
        said.push(chart.sheet.drills[panel.drill].clone());
    }
    for (axis, place) in chart.axes[2..].iter().zip(&panel.others) {
        said.push(format!("{} = {}", axis.path, axis.label(*place)));
    }
    let title = shortened(&said.join(", "), 13.0, Weight::SemiBold, wide - 110.0);
    canvas.words(
        [x + 70.0, y + 14.0],
        13.0,
        Weight::SemiBold,
        look.ink,
        &title,
    );
    let [left, top] = [x + 70.0, y + 24.0];
    let (right, bottom) = (x + wide - 24.0, y + tall - 48.0);
    canvas.rect(
        [left, top, right - left, bottom - top],
        &[("fill", look.arena)],
    );
    let cell = [
        (right - left) / across.len() as f64,
        (bottom - top) / down.len() as f64,
    ];
    let (least, most) = chart.span();
    for row in 0..down.len() {
        for column in 0..across.len() {
            let mut places = vec![column, row];
            places.extend(&panel.others);
            let Some(spot) = chart.spots.get(&(panel.drill, places)) else {
                continue;
            };
            // The second value grows upward.
            let corner = [
                left + cell[0] * column as f64,
                bottom - cell[1] * (row + 1) as f64,
            ];
            tile(canvas, look, spot, (least, most), corner, cell);
        }
    }
    present(canvas, look, across, down, [left, bottom], cell);
    labels(canvas, look, across, down, [left, top, right, bottom], cell);
}

fn tile(
    canvas: &mut Canvas,
    look: &Look,
    spot: &Spot,
    (least, most): (f64, f64),
    [x, y]: [f64; 2],
    [wide, tall]: [f64; 2],
) {
    let Some(mean) = spot.mean() else {
        return;
    };
    let share = (mean - least) / (most - least).max(1e-12);
    let (wider, taller) = (wide + 0.3, tall + 0.3);
    canvas.rect(
        [x, y, wider, taller],
        &[
            ("fill", look.copper),
            ("fill-opacity", &number(0.06 + 0.66 * share)),
        ],
    );
    let text = Chart::shown(mean);
    let room = width(&text, 12.0, Weight::Regular) + 6.0 < wide && tall > 18.0;
    if !spot.missed.is_empty() {
        // A stroke through the corner says the same where colour does not.
        let side = wide.min(tall).min(12.0);
        canvas.path(
            &format!(
                "M{} {}h{}v{}z",
                number(x + wide - side),
                number(y),
                number(side),
                number(side)
            ),
            &[("fill", look.oxblood)],
        );
    }
    if room {
        words(
            canvas,
            [x + wide / 2.0, y + tall / 2.0 + 4.0],
            Anchor::Middle,
            look.ink,
            &text,
        );
    }
}

/// A frame around the present values.
fn present(
    canvas: &mut Canvas,
    look: &Look,
    across: &Axis,
    down: &Axis,
    [left, bottom]: [f64; 2],
    cell: [f64; 2],
) {
    let place = |axis: &Axis| axis.now().and_then(|(_, place)| place);
    if let (Some(column), Some(row)) = (place(across), place(down)) {
        canvas.rect(
            [
                left + cell[0] * column as f64,
                bottom - cell[1] * (row + 1) as f64,
                cell[0],
                cell[1],
            ],
            &[
                ("fill", "none"),
                ("stroke", look.brass),
                ("stroke-width", "3"),
                ("stroke-dasharray", "6 3"),
            ],
        );
    }
}

fn labels(
    canvas: &mut Canvas,
    look: &Look,
    across: &Axis,
    down: &Axis,
    [left, top, right, bottom]: [f64; 4],
    cell: [f64; 2],
) {
    let mut free = f64::NEG_INFINITY;
    for column in 0..across.len() {
        let (label, x) = (across.label(column), left + cell[0] * (column as f64 + 0.5));
        let half = width(&label, 12.0, Weight::Regular) / 2.0;
        if x - half > free {
            words(
                canvas,
                [x, bottom + 16.0],
                Anchor::Middle,
                look.faint,
                &label,
            );
            free = x + half + 8.0;
        }
    }
    let mut free = f64::INFINITY;
    for row in 0..down.len() {
        let y = bottom - cell[1] * (row as f64 + 0.5) + 4.0;
        if y < free {
            words(
                canvas,
                [left - 6.0, y],
                Anchor::End,
                look.faint,
                &fitted(&down.label(row), 12.0, Weight::Regular, 60.0),
            );
            free = y - 14.0;
        }
    }
    let room = right - left;
    let name = shortened(&across.path, 12.0, Weight::SemiBold, room);
    canvas.text(&Text {
        x: (left + right) / 2.0,
        y: bottom + 34.0,
        size: 12.0,
        weight: Weight::SemiBold,
        anchor: Anchor::Middle,
        fill: look.ink,
        text: &name,
    });
    let (x, y) = (left - 56.0, (top + bottom) / 2.0);
    let turn = format!("rotate(-90 {} {})", number(x), number(y));
    canvas.open("g", &[("transform", &turn)]);
    canvas.text(&Text {
        x,
        y,
        size: 12.0,
        weight: Weight::SemiBold,
        anchor: Anchor::Middle,
        fill: look.ink,
        text: &shortened(&down.path, 12.0, Weight::SemiBold, bottom - top),
    });
    canvas.close("g");
}

fn legend(canvas: &mut Canvas, look: &Look, chart: &Chart, y: f64) {
    let (least, most) = chart.span();
    let mut x = LEFT + 70.0;
    for step in 0..=4 {
        let share = f64::from(step) / 4.0;
        canvas.rect(
            [x, y - 12.0, 26.0, 16.0],
            &[
                ("fill", look.copper),
                ("fill-opacity", &number(0.06 + 0.66 * share)),
            ],
        );
        let label = Chart::shown(least + (most - least) * share);
        words(canvas, [x + 32.0, y + 1.0], Anchor::Start, look.ink, &label);
        x += 42.0 + width(&label, 12.0, Weight::Regular);
    }
    x += 16.0;
    canvas.path(
        &format!("M{} {}h12v12z", number(x), number(y - 10.0)),
        &[("fill", look.oxblood)],
    );
    words(
        canvas,
        [x + 18.0, y + 1.0],
        Anchor::Start,
        look.ink,
        "misses an expectation",
    );
    x += 180.0;
    if chart
        .axes
        .iter()
        .take(2)
        .all(|axis| axis.now().is_some_and(|(_, place)| place.is_some()))
    {
        canvas.rect(
            [x, y - 11.0, 14.0, 14.0],
            &[
                ("fill", "none"),
                ("stroke", look.brass),
                ("stroke-width", "2.5"),
                ("stroke-dasharray", "4 2"),
            ],
        );
        words(
            canvas,
            [x + 20.0, y + 1.0],
            Anchor::Start,
            look.ink,
            "present values",
        );
    }
}
