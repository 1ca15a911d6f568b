//! How two boxes miss each other: in the plane, and in height.

use crate::geometry::{Gap, HeightSpan, Shape, Vec2, gap, sweep};

/// How near two boxes come.
#[derive(Clone, Copy, Debug)]
pub(super) struct Miss {
    /// How far apart, in units, of all axes.
    pub distance: f64,
    /// From the nearest point of what gives to that of what takes, in the plane.
    pub toward: Vec2,
    /// How far above what gives the other is then; negative below, 0 when they are at one height.
    pub above: f64,
}

/// One of two boxes: its form and span, where it sets out from, and its way.
pub(super) struct Course {
    pub shape: Shape,
    pub span: Option<HeightSpan>,
    pub from: (Vec2, f64),
    pub way: (Vec2, f64),
}

/// How near what gives comes to what takes, both going straight over a tick, or standing.
pub(super) fn miss(gives: &Course, takes: &Course) -> Miss {
    let offset = gives.from.0 - takes.from.0;
    let path = gives.way.0 - takes.way.0;
    let flat = gap(&takes.shape, &gives.shape, offset, path);
    let above = |moment: f64| {
        let at = |course: &Course| {
            let height = course.from.1 + course.way.1 * moment;
            course.span.map(|span| span.moved(height))
        };
        HeightSpan::apart(at(gives), at(takes))
    };
    let of = |flat: Gap, moment: f64| {
        let above = above(moment);
        Miss {
            distance: (flat.distance * flat.distance + above * above).sqrt(),
            toward: flat.toward,
            above,
        }
    };
    if flat.distance > 0.0 {
        return of(flat, flat.moment);
    }
    // While one is over the other, the heights decide; they come nearest at one of its ends.
    let time = sweep(&takes.shape, &gives.shape, offset, path);
    let ends = [time.from.clamp(0.0, 1.0), time.to.clamp(0.0, 1.0)];
    let all = ends.map(|moment| of(flat, moment));
    let [first, last] = all;
    if last.distance < first.distance {
        last
    } else {
        first
    }
}
