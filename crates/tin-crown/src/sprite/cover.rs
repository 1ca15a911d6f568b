//! How boxes lie on a drawing: counted in pixels, a pixel being within a box when its middle is.

use super::distances::Distances;
use super::{Mask, Placing};
use crate::geometry::{Bounds, Shape, Vec2};

/// How a box lies on a drawing.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Cover {
    /// How many pixels are within it, drawn or not.
    pub inside: u64,
    /// How many of them are drawn.
    pub drawn: u64,
    /// How far it sticks out: of the pixels within it, the distance of the farthest from the nearest drawn one, in
    /// pixels. Infinite when nothing is drawn.
    pub beyond: f64,
}

impl Cover {
    /// The share of it that lies on drawn pixels; of one too small for a pixel, none.
    pub fn share(&self) -> f64 {
        self.drawn as f64 / self.inside.max(1) as f64
    }
}

/// Rows so far from a cell are not counted: a box may be far larger than it.
const FAR: i64 = 1 << 16;
/// So far beyond a cell distances are exact; further off they are those to the rectangle around the drawing.
const NEAR: i64 = 256;

/// How a box lies on the drawing of a cell.
pub fn cover(mask: &Mask, placing: &Placing, shape: &Shape) -> Cover {
    let around = placing.bounds(shape);
    let (first, last) = rows(&around);
    let mut found = Cover {
        inside: 0,
        drawn: 0,
        beyond: 0.0,
    };
    if mask.count() == 0 {
        found.beyond = f64::INFINITY;
    }
    let mut distances = None;
    let [width, height] = mask.size().map(i64::from);
    let (low, high) = ([-NEAR, -NEAR], [width + NEAR, height + NEAR]);
    let drawing = mask.bounds();
    for y in first..last {
        let Some([from, to]) = placing.row(shape, y) else {
            continue;
        };
        found.inside += (to - from).max(0) as u64;
        let within = from.max(0)..to.min(width);
        found.drawn += within.filter(|x| mask.is_drawn(*x, y)).count() as u64;
        if found.beyond.is_infinite() {
            continue;
        }
        let exact = (low[1]..high[1]).contains(&y);
        let reach = if exact {
            from.max(low[0])..to.min(high[0])
        } else {
            0..0
        };
        for x in reach.filter(|x| !mask.is_drawn(*x, y)) {
            let distances = distances.get_or_insert_with(|| near(mask, &around));
            found.beyond = found.beyond.max(distances.at(x, y));
        }
        for x in [from, to - 1] {
            if !exact || !(low[0]..high[0]).contains(&x) {
                found.beyond = found.beyond.max(outside(&drawing, x, y));
            }
        }
    }
    found
}

/// The rows that a rectangle reaches.
fn rows(around: &Bounds) -> (i64, i64) {
    let first = around.min.y.floor() as i64;
    let last = (around.max.y.ceil() as i64).max(first);
    (first.max(-FAR), last.min(FAR))
}

/// Distances in the cell and around it, as far as a box reaches and distances are exact.
fn near(mask: &Mask, around: &Bounds) -> Distances {
    let [width, height] = mask.size().map(i64::from);
    let low = |at: f64| (at.floor() as i64 - 1).clamp(-NEAR, 0);
    let high = |at: f64, size: i64| (at.ceil() as i64 + 1).clamp(size, size + NEAR);
    Distances::new(
        mask,
        [low(around.min.x), low(around.min.y)],
        [high(around.max.x, width), high(around.max.y, height)],
    )
}

/// How far a pixel's middle is from a rectangle.
fn outside(bounds: &Bounds, x: i64, y: i64) -> f64 {
    let off = |at: i64, min: f64, max: f64| {
        let at = at as f64 + 0.5;
        (min - at).max(at - max).max(0.0)
    };
    let x = off(x, bounds.min.x, bounds.max.x);
    let y = off(y, bounds.min.y, bounds.max.y);
    Vec2::new(x, y).length()
}

/// How many drawn pixels are within none of some boxes.
pub fn uncovered<'s>(
    mask: &Mask,
    placing: &Placing,
    shapes: impl IntoIterator<Item = &'s Shape>,
) -> u64 {
    let [width, height] = mask.size();
    let mut bare = mask.clone();
    for shape in shapes {
        let (first, last) = rows(&placing.bounds(shape));
        for y in first.max(0)..last.min(i64::from(height)) {
            if let Some([from, to]) = placing.row(shape, y) {
                bare.clear(
                    y as u32,
                    from.clamp(0, i64::from(width)),
                    to.clamp(0, i64::from(width)),
                );
            }
        }
    }
    bare.count()
}

/// How far a place (in units) is from the nearest drawn pixel, in pixels; infinite when nothing is drawn.
pub fn far(mask: &Mask, placing: &Placing, place: Vec2) -> f64 {
    let place = placing.pixel(place);
    let off = |at: f64, pixel: u32| {
        let low = f64::from(pixel);
        (low - at).max(at - low - 1.0).max(0.0)
    };
    let away = |[x, y]: [u32; 2]| Vec2::new(off(place.x, x), off(place.y, y)).length();
    mask.pixels().map(away).fold(f64::INFINITY, f64::min)
}
