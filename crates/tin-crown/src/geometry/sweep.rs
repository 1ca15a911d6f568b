//! When do two shapes overlap, one standing and the other moving straight past it?
//!
//! Exact for every pair of shapes: the question is asked of a point moving against the Minkowski
//! difference of the two (C. Ericson, *Real-Time Collision Detection*, 2005, sections 5.3 and 5.5).
//! For sharp corners that is a slab per edge normal; for rounded ones the union of the core, a
//! rectangle on each edge and a disc on each corner. Written so that a mirrored question has the
//! mirrored answer, bit for bit.

use super::{Bounds, Shape, Vec2};

/// Two boxes overlap when they are more than this far inside each other, in units.
pub const TOUCH: f64 = 1e-6;

/// An open interval of time, in parts of the movement asked about; empty when `from >= to`.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Interval {
    /// When the overlap begins.
    pub from: f64,
    /// When it ends.
    pub to: f64,
}

impl Interval {
    pub(crate) const ALWAYS: Interval = Interval {
        from: f64::NEG_INFINITY,
        to: f64::INFINITY,
    };
    const NEVER: Interval = Interval {
        from: f64::INFINITY,
        to: f64::NEG_INFINITY,
    };

    /// Whether it is not empty. Of a path of no length: whether the two overlap.
    pub fn is_some_time(self) -> bool {
        self.from < self.to
    }

    /// The first moment from 0 to 1 within the interval.
    pub fn first_moment(self) -> Option<f64> {
        (self.from < self.to && self.from < 1.0 && self.to > 0.0).then_some(self.from.max(0.0))
    }

    pub(crate) fn and(self, other: Interval) -> Interval {
        Interval {
            from: self.from.max(other.from),
            to: self.to.min(other.to),
        }
    }

    /// Of two intervals whose union is one, or empty.
    fn or(self, other: Interval) -> Interval {
        if other.from >= other.to {
            self
        } else if self.from >= self.to {
            other
        } else {
            Interval {
                from: self.from.min(other.from),
                to: self.to.max(other.to),
            }
        }
    }

    /// When `low < start + speed * t < high`.
    pub(super) fn slab(start: f64, speed: f64, low: f64, high: f64) -> Interval {
        if speed == 0.0 {
            return if low < start && start < high {
                Interval::ALWAYS
            } else {
                Interval::NEVER
            };
        }
        let (a, b) = ((low - start) / speed, (high - start) / speed);
        Interval {
            from: a.min(b),
            to: a.max(b),
        }
    }
}

/// When `moving`, set out at `offset` from `standing` (both relative to their own origins) and going
/// by `path`, overlaps it.
///
/// The interval is not cut to 0 … 1: use [`Interval::first_moment`]. It is exact up to the rounding
/// of f64, and counts overlap as more than [`TOUCH`] inside each other.
pub fn sweep(standing: &Shape, moving: &Shape, offset: Vec2, path: Vec2) -> Interval {
    if standing.is_upright() && moving.is_upright() {
        return sweep_upright(standing.bounds(), moving.bounds(), offset, path);
    }
    let radius = standing.radius() + moving.radius();
    if radius == 0.0 {
        cores(standing, moving, offset, path, TOUCH)
    } else {
        rounded(standing, moving, offset, path, radius - TOUCH)
    }
}

/// [`sweep`] for upright rectangles with sharp corners, which are all bounds.
pub fn sweep_upright(standing: Bounds, moving: Bounds, offset: Vec2, path: Vec2) -> Interval {
    let low = standing.min - moving.max + Vec2::new(TOUCH, TOUCH);
    let high = standing.max - moving.min - Vec2::new(TOUCH, TOUCH);
    Interval::slab(offset.x, path.x, low.x, high.x)
        .and(Interval::slab(offset.y, path.y, low.y, high.y))
}

/// Whether the two overlap, `moving` being `offset` away from `standing`.
pub fn overlap(standing: &Shape, moving: &Shape, offset: Vec2) -> bool {
    sweep(standing, moving, offset, Vec2::ZERO).is_some_time()
}

/// How far a shape's core reaches from its origin along `axis`: least and greatest.
fn reach(shape: &Shape, axis: Vec2) -> (f64, f64) {
    shape
        .points()
        .iter()
        .map(|point| point.dot(axis))
        .fold((f64::INFINITY, f64::NEG_INFINITY), |(low, high), reach| {
            (low.min(reach), high.max(reach))
        })
}

/// The cores alone, without their radii. For cores without an inside (points and lines) the answer
/// is empty, or all but.
fn cores(standing: &Shape, moving: &Shape, offset: Vec2, path: Vec2, inside: f64) -> Interval {
    axes(standing)
        .chain(axes(moving))
        .fold(Interval::ALWAYS, |interval, axis| {
            let (standing, moving) = (reach(standing, axis), reach(moving, axis));
            interval.and(Interval::slab(
                offset.dot(axis),
                path.dot(axis),
                standing.0 - moving.1 + inside,
                standing.1 - moving.0 - inside,
            ))
        })
}

/// The directions across a core's edges; of a line also the one along it, which bounds its ends.
fn axes(shape: &Shape) -> impl Iterator<Item = Vec2> + '_ {
    let line = shape.points().len() == 2;
    shape.edges().enumerate().map(move |(nth, (a, b))| {
        let along = (b - a).unit();
        if line && nth == 1 {
            along
        } else {
            along.right()
        }
    })
}

fn rounded(standing: &Shape, moving: &Shape, offset: Vec2, path: Vec2, radius: f64) -> Interval {
    let solid = standing.points().len() > 1 || moving.points().len() > 1;
    let mut interval = if solid {
        cores(standing, moving, offset, path, 0.0)
    } else {
        Interval::NEVER
    };
    for &corner in standing.points() {
        for &other in moving.points() {
            interval = interval.or(disc(offset - (corner - other), path, radius));
        }
    }
    for (a, b) in standing.edges() {
        for &other in moving.points() {
            interval = interval.or(on_edge(a - other, b - other, offset, path, radius));
        }
    }
    for (a, b) in moving.edges() {
        for &other in standing.points() {
            // Seen from the standing shape the moving core is turned by half: its edges run back.
            interval = interval.or(on_edge(other - a, other - b, offset, path, radius));
        }
    }
    interval
}

/// When a point from `start` along `path` is within `radius` of the origin.
fn disc(start: Vec2, path: Vec2, radius: f64) -> Interval {
    let square = path.dot(path);
    let gap = start.dot(start) - radius * radius;
    if square == 0.0 {
        return if gap < 0.0 {
            Interval::ALWAYS
        } else {
            Interval::NEVER
        };
    }
    let half = start.dot(path);
    let root = half * half - square * gap;
    if root <= 0.0 {
        return Interval::NEVER;
    }
    let root = root.sqrt();
    Interval {
        from: (-half - root) / square,
        to: (-half + root) / square,
    }
}

/// When a point is within the rectangle that reaches `radius` to both sides of an edge. (The outer
/// side would do, but for points exactly on the line.)
fn on_edge(a: Vec2, b: Vec2, start: Vec2, path: Vec2, radius: f64) -> Interval {
    let along = (b - a).unit();
    let out = along.right();
    let (foot_a, foot_b) = (a.dot(out), b.dot(out));
    let (end_a, end_b) = (a.dot(along), b.dot(along));
    Interval::slab(
        start.dot(out),
        path.dot(out),
        foot_a.min(foot_b) - radius,
        foot_a.max(foot_b) + radius,
    )
    .and(Interval::slab(
        start.dot(along),
        path.dot(along),
        end_a.min(end_b),
        end_a.max(end_b),
    ))
}
