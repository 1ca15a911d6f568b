//! The drawn pixels of a cell.

use crate::geometry::{Bounds, Vec2};

/// Which pixels of a cell are drawn. Places count from its left upper corner, to the right and down; a pixel's middle
/// is half a pixel further.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Mask {
    width: u32,
    height: u32,
    drawn: Vec<bool>,
}

impl Mask {
    /// From what is said of each pixel.
    pub fn new(width: u32, height: u32, drawn: impl Fn(u32, u32) -> bool) -> Mask {
        let rows = (0..height).flat_map(|y| (0..width).map(move |x| (x, y)));
        Mask {
            width,
            height,
            drawn: rows.map(|(x, y)| drawn(x, y)).collect(),
        }
    }

    /// From rows of `#` for a pixel that is drawn; rows are as long as the first.
    pub fn of_rows(rows: &[&str]) -> Mask {
        let width = rows.first().map_or(0, |row| row.len()) as u32;
        Mask::new(width, rows.len() as u32, |x, y| {
            rows[y as usize].as_bytes().get(x as usize) == Some(&b'#')
        })
    }

    /// Width and height, in pixels.
    pub fn size(&self) -> [u32; 2] {
        [self.width, self.height]
    }

    /// Whether a pixel is drawn; none beyond its edges is.
    pub fn is_drawn(&self, x: i64, y: i64) -> bool {
        let inside = |at: i64, most: u32| (0..i64::from(most)).contains(&at);
        inside(x, self.width) && inside(y, self.height) && {
            self.drawn[y as usize * self.width as usize + x as usize]
        }
    }

    /// How many pixels are drawn.
    pub fn count(&self) -> u64 {
        self.drawn.iter().filter(|drawn| **drawn).count() as u64
    }

    /// Every pixel that is drawn, row by row.
    pub fn pixels(&self) -> impl Iterator<Item = [u32; 2]> {
        let width = self.width.max(1);
        let all = (0u32..).zip(&self.drawn).filter(|(_, drawn)| **drawn);
        all.map(move |(nth, _)| [nth % width, nth / width])
    }

    /// Only what is within a rectangle: left, top, width and height.
    #[must_use]
    pub fn part(&self, [left, top, width, height]: [u32; 4]) -> Mask {
        let within = |at: u32, from: u32, size: u32| at >= from && at - from < size;
        Mask::new(self.width, self.height, |x, y| {
            within(x, left, width)
                && within(y, top, height)
                && self.is_drawn(i64::from(x), i64::from(y))
        })
    }

    /// Takes pixels of a row away.
    pub(super) fn clear(&mut self, y: u32, from: i64, to: i64) {
        let row = y as usize * self.width as usize;
        self.drawn[row + from as usize..row + to.max(from) as usize].fill(false);
    }

    /// The rectangle around the drawn pixels, edges included; empty when there are none.
    pub fn bounds(&self) -> Bounds {
        self.pixels().fold(Bounds::EMPTY, |bounds, pixel| {
            let [x, y] = pixel.map(f64::from);
            bounds.joined(Bounds {
                min: Vec2::new(x, y),
                max: Vec2::new(x + 1.0, y + 1.0),
            })
        })
    }
}
