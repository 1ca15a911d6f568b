//! The arc of a guard.

use tin_crown::Facing;
use tin_crown::geometry::{Bounds, Vec2};
use tin_crown::plan::{GuardPlan, Spec};

use crate::canvas::number;
use crate::view::View;

/// An arc before who stands at `at`, as wide as its guard.
pub(crate) fn arc(view: &View, spec: &Spec, guard: &GuardPlan, facing: Facing, at: Vec2) -> String {
    let reach = reach(spec, facing);
    let (radius, centre) = (reach.size().x / 2.0, at + reach.centre());
    let (middle, half) = (guard.arc().middle(), guard.arc().half().min(3.1));
    let up = if view.flipped { 1.0 } else { -1.0 };
    let edge = |turn: f64| {
        let (sin, cos) = turn.sin_cos();
        let x = middle.x * cos - middle.y * sin;
        let y = middle.x * sin + middle.y * cos;
        let out = facing.turn(Vec2::new(x, y * up)) * radius;
        let [x, y] = view.place(centre + out);
        format!("{} {}", number(x), number(y))
    };
    let steps = 24;
    let points =
        (0..=steps).map(|step| edge(half * (2.0 * f64::from(step) / f64::from(steps) - 1.0)));
    format!("M{}", points.collect::<Vec<_>>().join("L"))
}

/// The square that the arc lies in.
pub(crate) fn reach(spec: &Spec, facing: Facing) -> Bounds {
    let own = spec
        .body()
        .map_or(spec.extent(facing), |body| body.unturned(facing).bounds());
    // Without boxes, what is around its place.
    let own = if own.is_empty() {
        Bounds::new(Vec2::ZERO, Vec2::ZERO)
    } else {
        own
    };
    let radius = own.size().length() / 2.0 + 3.0;
    let corner = Vec2::new(radius, radius);
    Bounds {
        min: own.centre() - corner,
        max: own.centre() + corner,
    }
}
