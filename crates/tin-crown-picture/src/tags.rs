//! Names above everyone, with meters and what they are in the middle of, never on each other.

use tin_crown::Amount;
use tin_crown::geometry::Bounds;
use tin_crown::plan::{BoxPlan, MeterPlan, Spec};

use crate::canvas::{Anchor, Canvas, Text};
use crate::frame::{Figure, Frame};
use crate::label::{Area, spread};
use crate::look::Look;
use crate::text::{Weight, fitted, width};
use crate::view::{RIGHT, View};

/// How much is told of everyone.
#[derive(Clone, Copy, PartialEq, Eq)]
pub(crate) enum Detail {
    /// Name, meters, and what they are in the middle of.
    All,
    /// The name.
    Name,
}

/// Draws them all.
pub(crate) fn draw(canvas: &mut Canvas, look: &Look, view: &View, frame: &Frame, detail: Detail) {
    const NAME: f32 = 14.0;
    const ROW: f64 = 17.0;
    let plan = &frame.plan;
    let all = detail == Detail::All;
    // Of those who are in the picture.
    let figures: Vec<&Figure> = frame
        .figures
        .iter()
        .filter(|figure| shows(view, figure))
        .collect();
    let rows = |figure: &Figure| -> Vec<String> {
        if !all {
            return Vec::new();
        }
        let spec = &figure.spec;
        let held = spec.meters().iter().zip(&figure.meters);
        held.map(|(meter, held)| {
            format!(
                "{} {held} / {}",
                plan.meters()[meter.name().index()],
                meter.max()
            )
        })
        .collect()
    };
    let name = |figure: &Figure| fitted(&figure.id, NAME, Weight::SemiBold, 220.0);
    let doing = |figure: &Figure| -> Vec<String> {
        if all {
            figure.doing.clone()
        } else {
            Vec::new()
        }
    };
    let wanted: Vec<Area> = figures
        .iter()
        .map(|figure| {
            let rows = rows(figure);
            let texts = rows
                .iter()
                .map(|row| 52.0 + width(row, 13.0, Weight::Regular));
            let wide = texts.fold(width(&name(figure), NAME, Weight::SemiBold), f64::max);
            let [x, top] = above(view, &figure.spec, figure);
            let doing = doing(figure);
            let states = doing.iter().map(|row| width(row, 13.0, Weight::Regular));
            let wide = states.fold(wide, f64::max);
            let high = ROW * (1 + rows.len() + doing.len()) as f64 + 2.0;
            Area {
                x: x - wide / 2.0 - 3.0,
                y: top - high - 6.0,
                width: wide + 6.0,
                height: high,
            }
        })
        .collect();
    let mut obstacles: Vec<Area> = figures
        .iter()
        .map(|figure| shown(&figure.spec, figure))
        .filter(|bounds| !bounds.is_empty())
        .map(|bounds| view.covered(bounds))
        .collect();
    let thin = plan.arena().solids().iter().filter(|solid| solid.one_way());
    obstacles.extend(thin.map(|solid| view.covered(solid.bounds())));
    obstacles.extend(goal_names(view, plan));
    let placed = spread(&wanted, &obstacles, view.area);
    // Lines first, so that they pass beneath the labels.
    for (figure, area) in figures.iter().zip(&placed) {
        let Some(area) = area else { continue };
        let [x, top] = above(view, &figure.spec, figure);
        let below = area.y + area.height;
        if top - below > 12.0 || below - top > 2.0 {
            let style = [("stroke", look.faint), ("stroke-width", "0.8")];
            let middle = area.x + area.width / 2.0;
            let (high, low) = (view.area.y, view.area.y + view.area.height);
            let (x, top) = (
                x.clamp(view.area.x, view.area.x + view.area.width),
                top.clamp(high, low),
            );
            canvas.line([x, top], [middle, below.min(top.max(area.y))], &style);
        }
    }
    let mut untold = 0;
    for (figure, area) in figures.iter().zip(placed) {
        let Some(area) = area else {
            untold += 1;
            continue;
        };
        let back = [("fill", look.arena), ("fill-opacity", "0.82"), ("rx", "3")];
        canvas.rect([area.x, area.y, area.width, area.height], &back);
        canvas.text(&Text {
            x: area.x + area.width / 2.0,
            y: area.y + 14.0,
            size: NAME,
            weight: Weight::SemiBold,
            anchor: Anchor::Middle,
            fill: look.ink,
            text: &name(figure),
        });
        let meters = if all { figure.spec.meters() } else { &[] };
        for (nth, row) in doing(figure).iter().enumerate() {
            canvas.text(&Text {
                x: area.x + area.width / 2.0,
                y: area.y + ROW * (1 + meters.len() + nth) as f64 + 13.0,
                size: 13.0,
                weight: Weight::Regular,
                anchor: Anchor::Middle,
                fill: look.ink,
                text: row,
            });
        }
        let held = meters.iter().zip(&figure.meters).zip(rows(figure));
        for (nth, ((meter, &held), row)) in held.enumerate() {
            let y = area.y + ROW * (nth + 1) as f64;
            gauge(canvas, look, [area.x + 3.0, y + 4.0], meter, held);
            canvas.text(&Text {
                x: area.x + 52.0,
                y: y + 13.0,
                size: 13.0,
                weight: Weight::Regular,
                anchor: Anchor::Start,
                fill: look.ink,
                text: &row,
            });
        }
    }
    if untold > 0 && all {
        canvas.text(&Text {
            x: RIGHT,
            y: 66.0,
            size: 15.0,
            weight: Weight::Regular,
            anchor: Anchor::End,
            fill: look.faint,
            text: &format!("names omitted for lack of space: {untold}"),
        });
    }
}

/// Where the names of checkpoints and exits stand.
fn goal_names(view: &View, plan: &tin_crown::Plan) -> Vec<Area> {
    let checkpoints = plan.checkpoints().iter();
    let checkpoints = checkpoints.map(|own| (own.area(), own.name()));
    let goals = checkpoints.chain(plan.exits().iter().map(|own| (own.area(), own.name())));
    goals
        .filter(|(area, _)| view.shows(view.rect(*area)))
        .map(|(area, name)| {
            let [x, y] = goal_name(view, area, name);
            let wide = width(name, GOAL, Weight::Regular);
            Area {
                x: x - wide / 2.0,
                y: y - 11.0,
                width: wide,
                height: 14.0,
            }
        })
        .collect()
}

/// The size of the names of checkpoints and exits.
pub(crate) const GOAL: f32 = 12.0;

/// Where the name of a checkpoint or an exit stands: the middle of its base line.
pub(crate) fn goal_name(view: &View, area: Bounds, name: &str) -> [f64; 2] {
    let [x, y, wide, _] = view.rect(area);
    let half = width(name, GOAL, Weight::Regular) / 2.0 + 4.0;
    let (left, right) = (view.area.x + half, view.area.x + view.area.width - half);
    let middle = (x + wide / 2.0).min(right).max(left);
    [middle, (y - 5.0).max(view.area.y + 13.0)]
}

/// Whether any of an actor is in the picture.
fn shows(view: &View, figure: &Figure) -> bool {
    let bounds = shown(&figure.spec, figure);
    let [x, y, width, height] = if bounds.is_empty() {
        let [x, y] = view.place(figure.at);
        [x, y, 0.0, 0.0]
    } else {
        view.rect(bounds)
    };
    view.shows([x, y, width, height])
}

/// The rectangle around the boxes of an actor that are on.
fn shown(spec: &Spec, figure: &Figure) -> Bounds {
    let on = |set: u64| move |(nth, plan)| (set & (1u64 << nth) != 0).then_some(plan);
    let hit = spec
        .hitboxes()
        .iter()
        .enumerate()
        .filter_map(on(figure.live.hit()));
    let hurt = spec
        .hurtboxes()
        .iter()
        .enumerate()
        .filter_map(on(figure.live.hurt()));
    let all = hit.chain(hurt).chain(spec.body()).chain(spec.solid());
    let around = all.fold(Bounds::EMPTY, |bounds, plan: &BoxPlan| {
        bounds.joined(plan.shape_at(figure.facing, figure.age).bounds())
    });
    around.moved(figure.at)
}

/// The middle of the upper edge of all of an actor's boxes.
fn above(view: &View, spec: &Spec, figure: &Figure) -> [f64; 2] {
    let extent = shown(spec, figure);
    if extent.is_empty() {
        return view.place(figure.at);
    }
    let [x, y, width, _] = view.rect(extent);
    [x + width / 2.0, y]
}

/// A bar: what a meter holds of what it can hold.
fn gauge(canvas: &mut Canvas, look: &Look, [x, y]: [f64; 2], meter: &MeterPlan, held: Amount) {
    const LENGTH: f64 = 44.0;
    let share = held.as_f64() / meter.max().as_f64();
    canvas.rect(
        [x, y, LENGTH, 9.0],
        &[("fill", look.oxblood), ("fill-opacity", "0.3")],
    );
    canvas.rect([x, y, LENGTH * share, 9.0], &[("fill", look.verdigris)]);
    canvas.rect(
        [x, y, LENGTH, 9.0],
        &[
            ("fill", "none"),
            ("stroke", look.ink),
            ("stroke-width", "1"),
        ],
    );
}
