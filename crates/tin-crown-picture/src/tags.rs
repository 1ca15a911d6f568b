//! Names above everyone, with meters and what they are in the middle of, never on each other.

use tin_crown::geometry::Bounds;
use tin_crown::plan::{BoxPlan, MeterPlan};
use tin_crown::{Amount, Plan};

use crate::canvas::{Anchor, Canvas, Text};
use crate::frame::{Figure, Frame};
use crate::label::{Area, spread};
use crate::legend;
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

/// The size of an actor's name.
const NAME: f32 = 14.0;
/// The size of what stands below it, and the height of a row.
const SMALL: f32 = 13.0;
const ROW: f64 = 17.0;
/// Where the text beside a gauge begins.
const BESIDE: f64 = 52.0;

/// Draws them all.
pub(crate) fn draw(canvas: &mut Canvas, look: &Look, view: &View, frame: &Frame, detail: Detail) {
    let plan = &frame.plan;
    // Of those who are in the picture.
    let figures = frame.figures.iter().filter(|figure| shows(view, figure));
    let mut tags: Vec<Tag<'_>> = figures
        .map(|figure| Tag::new(plan, figure, detail))
        .collect();
    // Those whom the picture is about first: where there is little room, theirs are told.
    tags.sort_by_key(|tag| tag.figure.part);
    let wanted: Vec<Area> = tags.iter().map(|tag| tag.wanted(view)).collect();
    let mut obstacles: Vec<Area> = tags.iter().map(|tag| covered(view, tag.figure)).collect();
    let thin = plan.arena().solids().iter().filter(|solid| solid.one_way());
    obstacles.extend(thin.map(|solid| view.covered(solid.bounds())));
    obstacles.extend(goal_names(view, plan));
    let places = spread(&wanted, &obstacles, view.area);
    // Lines first, so that they pass beneath the labels.
    for (tag, area) in tags.iter().zip(&places) {
        if let Some(area) = area {
            tag.lead(canvas, look, view, area);
        }
    }
    for (tag, area) in tags.iter().zip(&places) {
        if let Some(area) = area {
            tag.draw(canvas, look, area);
        }
    }
    let omitted = places.iter().filter(|place| place.is_none()).count();
    if omitted > 0 && detail == Detail::All {
        canvas.text(&Text {
            x: RIGHT,
            y: 66.0,
            size: 15.0,
            weight: Weight::Regular,
            anchor: Anchor::End,
            fill: look.faint,
            text: &format!("names omitted for lack of space: {omitted}"),
        });
    }
}

/// What is written over an actor: its name, its meters, and what it does.
struct Tag<'f> {
    figure: &'f Figure,
    name: String,
    /// A gauge each, and what stands beside it.
    meters: Vec<(&'f MeterPlan, Amount, String)>,
    doing: &'f [String],
}

impl<'f> Tag<'f> {
    fn new(plan: &Plan, figure: &'f Figure, detail: Detail) -> Tag<'f> {
        let name = fitted(&figure.id, NAME, Weight::SemiBold, 220.0);
        if detail != Detail::All {
            return Tag {
                figure,
                name,
                meters: Vec::new(),
                doing: &[],
            };
        }
        let held = figure.spec.meters().iter().zip(&figure.meters);
        let meters = held.map(|(meter, held)| {
            let name = &plan.names().meters()[meter.name()];
            (meter, *held, format!("{name} {held} / {}", meter.max()))
        });
        Tag {
            figure,
            name,
            meters: meters.collect(),
            doing: &figure.doing,
        }
    }

    /// Where it stands when nothing is in its way: over its actor.
    fn wanted(&self, view: &View) -> Area {
        let meters = self.meters.iter();
        let meters = meters.map(|(.., row)| BESIDE + width(row, SMALL, Weight::Regular));
        let doing = self.doing.iter();
        let doing = doing.map(|row| width(row, SMALL, Weight::Regular));
        let name = width(&self.name, NAME, Weight::SemiBold);
        let wide = meters.chain(doing).fold(name, f64::max);
        let high = ROW * (1 + self.meters.len() + self.doing.len()) as f64 + 2.0;
        let [x, top] = above(view, self.figure);
        Area {
            x: x - wide / 2.0 - 3.0,
            y: top - high - 6.0,
            width: wide + 6.0,
            height: high,
        }
    }

    /// A line from its actor to where it stands, unless that is close by.
    fn lead(&self, canvas: &mut Canvas, look: &Look, view: &View, area: &Area) {
        let [x, top] = above(view, self.figure);
        let below = area.y + area.height;
        if top - below <= 12.0 && below - top <= 2.0 {
            return;
        }
        let style = [("stroke", look.faint), ("stroke-width", "0.8")];
        let middle = area.x + area.width / 2.0;
        let x = x.clamp(view.area.x, view.area.x + view.area.width);
        let top = top.clamp(view.area.y, view.area.y + view.area.height);
        canvas.line([x, top], [middle, below.min(top.max(area.y))], &style);
    }

    fn draw(&self, canvas: &mut Canvas, look: &Look, area: &Area) {
        let back = [("fill", look.arena), ("fill-opacity", "0.82"), ("rx", "3")];
        canvas.rect([area.x, area.y, area.width, area.height], &back);
        let middle = area.x + area.width / 2.0;
        let text = |canvas: &mut Canvas, [x, y]: [f64; 2], size, weight, anchor, text: &str| {
            canvas.text(&Text {
                x,
                y,
                size,
                weight,
                anchor,
                fill: look.ink,
                text,
            });
        };
        let name = [middle, area.y + 14.0];
        text(
            canvas,
            name,
            NAME,
            Weight::SemiBold,
            Anchor::Middle,
            &self.name,
        );
        let mut y = area.y + ROW;
        for (meter, held, row) in &self.meters {
            gauge(canvas, look, [area.x + 3.0, y + 4.0], meter, *held);
            let at = [area.x + BESIDE, y + 13.0];
            text(canvas, at, SMALL, Weight::Regular, Anchor::Start, row);
            y += ROW;
        }
        for row in self.doing {
            let at = [middle, y + 13.0];
            text(canvas, at, SMALL, Weight::Regular, Anchor::Middle, row);
            y += ROW;
        }
    }
}

/// Where the names of checkpoints and exits stand.
fn goal_names(view: &View, plan: &Plan) -> Vec<Area> {
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
    let Area {
        x,
        y,
        width,
        height,
    } = covered(view, figure);
    view.shows([x, y, width, height])
}

/// What an actor covers: its boxes that are on, or the mark of one that has none.
fn covered(view: &View, figure: &Figure) -> Area {
    let bounds = shown(figure);
    if !bounds.is_empty() {
        return view.covered(bounds);
    }
    let [x, y] = view.place(figure.at);
    Area {
        x: x - legend::DIAMOND,
        y: y - legend::DIAMOND,
        width: 2.0 * legend::DIAMOND,
        height: 2.0 * legend::DIAMOND,
    }
}

/// The rectangle around the boxes of an actor that are on.
fn shown(figure: &Figure) -> Bounds {
    let spec = &figure.spec;
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

/// The middle of the upper edge of what an actor covers.
fn above(view: &View, figure: &Figure) -> [f64; 2] {
    let area = covered(view, figure);
    [area.x + area.width / 2.0, area.y]
}

/// A bar: what a meter holds of what it can hold.
fn gauge(canvas: &mut Canvas, look: &Look, [x, y]: [f64; 2], meter: &MeterPlan, held: Amount) {
    const LENGTH: f64 = 44.0;
    let share = held.as_f64() / meter.max().as_f64();
    canvas.rect([x, y, LENGTH, 9.0], &[("fill", look.arena)]);
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
