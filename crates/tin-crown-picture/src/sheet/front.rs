//! A kind from the front, in an arena with heights: facing right, with the height of each box.

use tin_crown::Facing;
use tin_crown::encounter::Up;
use tin_crown::geometry::{Bounds, HeightSpan, Vec2};
use tin_crown::plan::BoxPlan;

use crate::canvas::{Canvas, number};
use crate::label::Area;
use crate::legend::Mark;
use crate::look::Look;
use crate::text::Weight;
use crate::view::View;

/// The room that it takes, below the list of boxes.
pub(super) const HIGH: f64 = 150.0;

/// Draws the boxes that have a height, around their owner's own height; nothing when none has.
pub(super) fn draw(canvas: &mut Canvas, look: &Look, boxes: &[(Mark, &BoxPlan)], [x, y]: [f64; 2]) {
    let spans = boxes.iter().filter_map(|(mark, own)| {
        let bounds = own.shape(Facing::Right).bounds();
        Some((*mark, bounds, own.span()?))
    });
    let spans: Vec<(Mark, Bounds, HeightSpan)> = spans.collect();
    let prism = |bounds: Bounds, span: HeightSpan| {
        Bounds::new([bounds.min.x, span.low], [bounds.max.x, span.high])
    };
    let around = spans
        .iter()
        .fold(Bounds::EMPTY, |around, (_, bounds, span)| {
            around.joined(prism(*bounds, *span))
        });
    if around.is_empty() {
        return;
    }
    let around = around.joined(Bounds::new(Vec2::ZERO, Vec2::ZERO));
    let margin = around.size() * 0.1 + Vec2::new(1.0, 1.0);
    let around = Bounds {
        min: around.min - margin,
        max: around.max + margin,
    };
    let room = Area {
        x,
        y,
        width: 380.0,
        height: HIGH - 40.0,
    };
    let size = around.size();
    let scale = (room.width / size.x).min(room.height / size.y);
    // From the left edge on, under the list.
    let room = Area {
        width: size.x * scale,
        ..room
    };
    let view = View::within(around, Up::Plus, room);
    let area = view.area;
    let ground = [("fill", look.arena)];
    canvas.rect([area.x, area.y, area.width, area.height], &ground);
    for (mark, bounds, span) in &spans {
        canvas.rect(view.rect(prism(*bounds, *span)), &mark.style(look));
    }
    let [cx, cy] = view.place(Vec2::ZERO);
    let cross = format!(
        "M{} {1}h10M{2} {3}v10",
        number(cx - 5.0),
        number(cy),
        number(cx),
        number(cy - 5.0)
    );
    canvas.path(&cross, &[("stroke", look.ink), ("stroke-width", "1")]);
    let at = [area.x, area.y + area.height + 18.0];
    canvas.words(
        at,
        14.0,
        Weight::Regular,
        look.faint,
        "from the front, facing right",
    );
}
