//! A uniform grid over the arena: what is near what.
//!
//! Every rectangle is listed in each cell it touches; what lies outside the arena counts to the
//! cells at its edge. Two rectangles that meet are reported once, from the cell in which the lower
//! left corner of their common part lies. Refilled every tick by counting, without allocation once
//! it has grown.

use crate::geometry::{Bounds, Vec2};

#[derive(Clone, Debug)]
pub(super) struct Grid {
    origin: Vec2,
    /// Cells in a unit.
    scale: f64,
    columns: u32,
    rows: u32,
    /// Where each cell's list begins in `listed`; one more than there are cells.
    starts: Vec<u32>,
    listed: Vec<Listed>,
}

/// A rectangle in the list of a cell, where it is read without looking elsewhere.
#[derive(Clone, Copy, Debug)]
struct Listed {
    bounds: Bounds,
    index: u32,
}

/// The cells of a rectangle, both ends included.
#[derive(Clone, Copy)]
struct Cells {
    left: u32,
    low: u32,
    right: u32,
    high: u32,
}

/// Never more cells than this, however large the arena.
const MOST_CELLS: f64 = 262_144.0;

impl Grid {
    /// A grid for things about as many and as large as `sample`.
    pub fn new(arena: Bounds, sample: impl Iterator<Item = Bounds>) -> Grid {
        let (mut count, mut total) = (0u32, 0.0);
        for bounds in sample {
            let size = bounds.size();
            total += size.x.max(size.y);
            count += 1;
        }
        let size = arena.size();
        let typical = if count == 0 {
            size.x.max(size.y)
        } else {
            1.5 * total / f64::from(count)
        };
        let area = size.x * size.y;
        let most = (4.0 * f64::from(count) + 64.0).min(MOST_CELLS);
        let cell = typical
            .max((area / most).sqrt())
            .max(size.x.max(size.y) / 4096.0);
        let across = |length: f64| libm::ceil(length / cell).max(1.0) as u32;
        let (columns, rows) = (across(size.x), across(size.y));
        Grid {
            origin: arena.min,
            scale: 1.0 / cell,
            columns,
            rows,
            starts: vec![0; (columns * rows) as usize + 1],
            listed: Vec::new(),
        }
    }

    fn column(&self, x: f64) -> u32 {
        // Saturating, so that what is outside counts to the edge.
        (((x - self.origin.x) * self.scale) as u32).min(self.columns - 1)
    }

    fn row(&self, y: f64) -> u32 {
        (((y - self.origin.y) * self.scale) as u32).min(self.rows - 1)
    }

    fn cells(&self, bounds: Bounds) -> Cells {
        Cells {
            left: self.column(bounds.min.x),
            low: self.row(bounds.min.y),
            right: self.column(bounds.max.x),
            high: self.row(bounds.max.y),
        }
    }

    /// Replaces what is listed.
    pub fn fill(&mut self, all: impl Iterator<Item = Bounds> + Clone) {
        self.starts.fill(0);
        for bounds in all.clone() {
            let cells = self.cells(bounds);
            for row in cells.low..=cells.high {
                for column in cells.left..=cells.right {
                    self.starts[(row * self.columns + column) as usize + 1] += 1;
                }
            }
        }
        for cell in 1..self.starts.len() {
            self.starts[cell] += self.starts[cell - 1];
        }
        let total = self.starts[self.starts.len() - 1];
        let nothing = Listed {
            bounds: Bounds::EMPTY,
            index: 0,
        };
        self.listed.resize(total as usize, nothing);
        // Each start moves on as its cell fills, and ends where the next cell began…
        for (index, bounds) in all.enumerate() {
            let cells = self.cells(bounds);
            let index = index as u32;
            for row in cells.low..=cells.high {
                for column in cells.left..=cells.right {
                    let start = &mut self.starts[(row * self.columns + column) as usize];
                    self.listed[*start as usize] = Listed { bounds, index };
                    *start += 1;
                }
            }
        }
        // …so all are one cell ahead.
        self.starts
            .copy_within(..self.columns as usize * self.rows as usize, 1);
        self.starts[0] = 0;
    }

    /// Calls `found` with the index of every listed rectangle that meets `bounds`, once each.
    pub fn query(&self, bounds: Bounds, mut found: impl FnMut(u32)) {
        let cells = self.cells(bounds);
        for row in cells.low..=cells.high {
            for column in cells.left..=cells.right {
                let cell = (row * self.columns + column) as usize;
                let (from, to) = (self.starts[cell] as usize, self.starts[cell + 1] as usize);
                for &Listed {
                    bounds: other,
                    index,
                } in &self.listed[from..to]
                {
                    if other.meets(bounds)
                        && self.column(other.min.x.max(bounds.min.x)) == column
                        && self.row(other.min.y.max(bounds.min.y)) == row
                    {
                        found(index);
                    }
                }
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn rectangle() -> impl Strategy<Value = Bounds> {
        (-50.0..150.0f64, -50.0..150.0f64, 0.1..60.0f64, 0.1..60.0f64)
            .prop_map(|(x, y, w, h)| Bounds::new([x, y], [x + w, y + h]))
    }

    proptest! {
        #[test]
        fn finds_what_looking_at_all_pairs_finds(
            listed in prop::collection::vec(rectangle(), 0..60),
            asked in rectangle(),
        ) {
            let arena = Bounds::new([0.0, 0.0], [100.0, 70.0]);
            let mut grid = Grid::new(arena, listed.iter().copied());
            // Twice, for a grid that has been filled before.
            grid.fill(listed.iter().rev().copied());
            grid.fill(listed.iter().copied());
            let mut found = Vec::new();
            grid.query(asked, |index| found.push(index));
            found.sort_unstable();
            let all: Vec<u32> = (0..listed.len() as u32)
                .filter(|&index| listed[index as usize].meets(asked))
                .collect();
            prop_assert_eq!(found, all);
        }
    }
}
