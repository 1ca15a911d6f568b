//! The nose of an actor that rotates: the way it faces.

use tin_crown::Facing;
use tin_crown::geometry::{Bounds, Vec2};
use tin_crown::plan::{BoxPlan, Spec};

use crate::canvas::number;
use crate::view::View;

/// How long the wings of its tip are, in pixels.
const WING: f64 = 7.0;

/// A line from its place to the edge of what takes hits, with a tip.
pub(crate) fn line(view: &View, spec: &Spec, facing: Facing, at: Vec2) -> String {
    let (ahead, reach) = (facing.ahead(), reach(spec));
    let tip = at + ahead * reach;
    let back = ahead * (WING / view.scale);
    let aside = Vec2::new(-back.y, back.x) * 0.6;
    let place = |point: Vec2| {
        let [x, y] = view.place(point);
        format!("{} {}", number(x), number(y))
    };
    format!(
        "M{}L{}M{}L{}L{}",
        place(at),
        place(tip),
        place(tip - back + aside),
        place(tip),
        place(tip - back - aside)
    )
}

/// How far it goes: to the edge of its body, or else of its hurtboxes, or of all its boxes.
pub(crate) fn reach(spec: &Spec) -> f64 {
    let around = |boxes: &[BoxPlan]| {
        let shapes = boxes.iter().map(|own| own.shape(Facing::Right).bounds());
        shapes.fold(Bounds::EMPTY, Bounds::joined)
    };
    let own = match spec.body() {
        Some(body) => body.unturned(Facing::Right).bounds(),
        None if !spec.hurtboxes().is_empty() => around(spec.hurtboxes()),
        None => around(spec.hitboxes()),
    };
    // Without boxes, a little.
    if own.is_empty() {
        6.0
    } else {
        own.max.x.max(own.size().x / 2.0)
    }
}
