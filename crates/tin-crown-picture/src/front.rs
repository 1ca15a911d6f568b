//! The view from the front, of an arena with heights: x to the right, height up.

use tin_crown::geometry::{Bounds, HeightSpan, Vec2};
use tin_crown::plan::BoxPlan;

use crate::canvas::{Anchor, Canvas, Text};
use crate::frame::{Figure, Frame};
use crate::label::{Area, spread};
use crate::legend::Mark;
use crate::look::Look;
use crate::scene::{fighting, multiples, round_step};
use crate::sensor;
use crate::text::{Weight, fitted, width};
use crate::view::View;

/// The size of a name, and the height of its row.
const NAME: f32 = 14.0;
const ROW: f64 = 19.0;
/// Some room above the highest and below the lowest, as a share of what is between.
const ROOM: f64 = 0.12;

/// From which height to which a picture goes; nothing in an arena without heights.
pub(crate) fn range(frame: &Frame) -> Option<HeightSpan> {
    let arena = frame.plan.arena();
    let ground = arena.height()?.ground();
    let solids = arena.solids().iter().filter_map(|solid| solid.span());
    let boxes = frame.figures.iter().flat_map(|figure| {
        let own = parts(figure).filter_map(|(_, part)| span(figure, part));
        own.chain([HeightSpan::new(figure.height, figure.height)])
    });
    let ground = ground.map(|ground| HeightSpan::new(ground, ground));
    let all = solids.chain(boxes).chain(ground);
    let all =
        all.reduce(|all, one| HeightSpan::new(all.low.min(one.low), all.high.max(one.high)))?;
    let room = ((all.high - all.low) * ROOM).max(4.0);
    // Names stand above the highest.
    Some(HeightSpan::new(all.low - room, all.high + 2.0 * room))
}

/// Every box of an actor, in the order they are drawn, with its mark.
fn parts(figure: &Figure) -> impl Iterator<Item = (Mark, &BoxPlan)> {
    let spec = &figure.spec;
    let solid = spec.solid().map(|own| (Mark::Solid, own));
    let body = spec.body().map(|own| (Mark::Body, own));
    let pickup = spec.pickup().map(|own| (Mark::Pickup, own.area()));
    let first = solid.into_iter().chain(body).chain(pickup);
    first.chain(fighting(figure))
}

fn span(figure: &Figure, part: &BoxPlan) -> Option<HeightSpan> {
    Some(part.span_at(figure.age)?.moved(figure.height))
}

/// Draws it within a view of x and height.
pub(crate) fn draw(
    canvas: &mut Canvas,
    look: &Look,
    view: &View,
    frame: &Frame,
    range: HeightSpan,
) {
    let Area {
        x,
        y,
        width: wide,
        height,
    } = view.area;
    let all = Some(range);
    canvas.open("clipPath", &[("id", "front")]);
    canvas.rect([x, y, wide, height], &[]);
    canvas.close("clipPath");
    canvas.rect([x, y, wide, height], &[("fill", look.arena)]);
    canvas.open("g", &[("clip-path", "url(#front)")]);
    let rect = |bounds: Bounds, span: Option<HeightSpan>| {
        let span = span.or(all).unwrap_or(range);
        view.rect(Bounds::new(
            [bounds.min.x, span.low],
            [bounds.max.x, span.high],
        ))
    };
    let arena = frame.plan.arena();
    if let Some(ground) = arena.height().and_then(|height| height.ground()) {
        let below = HeightSpan::new(range.low, ground);
        canvas.rect(rect(arena.bounds(), Some(below)), &Mark::Solid.style(look));
    }
    for solid in arena.solids() {
        let mark = if solid.one_way() {
            Mark::OneWay
        } else {
            Mark::Solid
        };
        // Whoever is behind one is seen through it.
        let mut style = mark.style(look);
        style.push(("fill-opacity", "0.4"));
        canvas.rect(rect(solid.bounds(), solid.span()), &style);
    }
    for point in frame.plan.checkpoints() {
        canvas.rect(
            rect(point.area(), point.span()),
            &Mark::Checkpoint.style(look),
        );
    }
    for exit in frame.plan.exits() {
        canvas.rect(rect(exit.area(), exit.span()), &Mark::Exit.style(look));
    }
    for figure in &frame.figures {
        for (mark, own) in sensor::marked(figure) {
            if let Some(path) = sensor::from_front(view, own, figure) {
                canvas.path(&path, &mark.style(look));
            }
        }
        for (mark, part) in parts(figure) {
            let bounds = part.shape_at(figure.facing, figure.age).bounds();
            let rect = rect(bounds.moved(figure.at), span(figure, part));
            canvas.rect(rect, &mark.style(look));
        }
    }
    canvas.close("g");
    canvas.rect(
        [x, y, wide, height],
        &[
            ("fill", "none"),
            ("stroke", look.ink),
            ("stroke-width", "1.5"),
        ],
    );
    ruler(canvas, look, view, range);
    names(canvas, look, view, frame, range);
}

/// From where a view is seen, above its right end.
pub(crate) fn title(canvas: &mut Canvas, look: &Look, view: &View, text: &str) {
    canvas.text(&Text {
        x: view.area.x + view.area.width,
        y: view.area.y - 5.0,
        size: 13.0,
        weight: Weight::Regular,
        anchor: Anchor::End,
        fill: look.faint,
        text,
    });
}

/// The names of those who are there, above them.
fn names(canvas: &mut Canvas, look: &Look, view: &View, frame: &Frame, range: HeightSpan) {
    let mut figures: Vec<&Figure> = frame.figures.iter().collect();
    figures.sort_by_key(|figure| figure.part);
    let area = |figure: &Figure| {
        let spans =
            parts(figure).map(|(_, part)| span(figure, part).map_or(range.high, |own| own.high));
        let top = spans.fold(figure.height, f64::max).min(range.high);
        let bounds = figure.spec.extent(figure.facing).moved(figure.at);
        let middle = if bounds.is_empty() {
            figure.at.x
        } else {
            bounds.centre().x
        };
        let [x, y] = view.place(Vec2::new(middle, top));
        let wide = width(&figure.id, NAME, Weight::SemiBold) + 6.0;
        Area {
            x: x - wide / 2.0,
            y: y - ROW - 2.0,
            width: wide,
            height: ROW,
        }
    };
    let within =
        |area: &Area| area.x + area.width > view.area.x && area.x < view.area.x + view.area.width;
    let wanted: Vec<(&Figure, Area)> = figures
        .into_iter()
        .map(|figure| (figure, area(figure)))
        .filter(|(_, area)| within(area))
        .collect();
    let areas: Vec<Area> = wanted.iter().map(|(_, area)| *area).collect();
    // A name stands on no box, where that can be.
    let boxes = frame.figures.iter().flat_map(|figure| {
        parts(figure).map(|(_, part)| {
            let bounds = part.shape_at(figure.facing, figure.age).bounds();
            let own = span(figure, part).unwrap_or(range);
            let bounds = bounds.moved(figure.at);
            view.covered(Bounds::new(
                [bounds.min.x, own.low],
                [bounds.max.x, own.high],
            ))
        })
    });
    let boxes: Vec<Area> = boxes.collect();
    for ((figure, _), area) in wanted.iter().zip(spread(&areas, &boxes, view.area)) {
        let Some(area) = area else { continue };
        let back = [("fill", look.arena), ("fill-opacity", "0.82"), ("rx", "3")];
        canvas.rect([area.x, area.y, area.width, area.height], &back);
        canvas.text(&Text {
            x: area.x + area.width / 2.0,
            y: area.y + 14.0,
            size: NAME,
            weight: Weight::SemiBold,
            anchor: Anchor::Middle,
            fill: look.ink,
            text: &fitted(&figure.id, NAME, Weight::SemiBold, 220.0),
        });
    }
}

/// Heights along the left edge, at round numbers.
fn ruler(canvas: &mut Canvas, look: &Look, view: &View, range: HeightSpan) {
    let mut note = |y, text: &str| {
        canvas.text(&Text {
            x: view.area.x - 8.0,
            y,
            size: 13.0,
            weight: Weight::Regular,
            anchor: Anchor::End,
            fill: look.faint,
            text,
        });
    };
    let step = round_step(40.0 / view.scale);
    for value in multiples(step, range.low, range.high) {
        let [_, y] = view.place(Vec2::new(0.0, value));
        if y > view.area.y + 22.0 {
            note(y + 5.0, &value.to_string());
        }
    }
    note(view.area.y + 8.0, "height");
}
