//! The largest rectangle of drawn pixels.

use crate::geometry::{Bounds, Vec2};
use crate::sprite::Mask;

/// The largest upright rectangle of drawn pixels only; of several the uppermost, then the leftmost.
///
/// Row by row, from how high the drawn column above each pixel is: a rectangle ends where a lower column comes.
pub(super) fn largest(mask: &Mask) -> Option<Bounds> {
    let [width, height] = mask.size().map(|size| size as usize);
    let mut columns = vec![0usize; width + 1];
    let mut best: Option<(usize, Bounds)> = None;
    for y in 0..height {
        for (x, column) in columns.iter_mut().enumerate().take(width) {
            let drawn = mask.is_drawn(x as i64, y as i64);
            *column = if drawn { *column + 1 } else { 0 };
        }
        // Where columns begin that are not ended yet, each higher than the one before.
        let mut open: Vec<(usize, usize)> = Vec::new();
        for (x, high) in columns.iter().copied().enumerate() {
            let mut from = x;
            while let Some((start, tall)) = open.last().copied()
                && tall >= high
            {
                open.pop();
                from = start;
                let area = tall * (x - start);
                if area > best.map_or(0, |(area, _)| area) {
                    let place = |x: usize, y: usize| Vec2::new(x as f64, y as f64);
                    let found = Bounds {
                        min: place(start, y + 1 - tall),
                        max: place(x, y + 1),
                    };
                    best = Some((area, found));
                }
            }
            if high > 0 {
                open.push((from, high));
            }
        }
    }
    best.map(|(_, found)| found)
}
