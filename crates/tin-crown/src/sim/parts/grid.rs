//! Uniform grids over the arena, fine to coarse: what is near what.
//!
//! Every rectangle is listed once, by its least corner, in the finest grid whose cells are not much
//! smaller than it; what lies outside the arena counts to the cells at its edge. A query looks at the
//! cells it covers and at those from which something may reach into it. Refilled every tick by
//! counting, without allocation once it has grown.

use crate::geometry::{Bounds, Vec2};

#[derive(Clone, Debug, Default)]
pub(crate) struct Grid {
    /// Each with cells four times as wide as the last; unless there are so few that looking at each is quickest.
    levels: Vec<Level>,
}

#[derive(Clone, Debug)]
struct Level {
    origin: Vec2,
    cell: f64,
    /// How many cells there are to a unit.
    cells: f64,
    columns: u32,
    rows: u32,
    /// The widest and highest of what is listed.
    reach: Vec2,
    /// Where each cell's list begins in `listed`; one more than there are cells.
    starts: Vec<u32>,
    listed: Vec<Listed>,
}

/// A rectangle, and what it is of.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Listed {
    pub bounds: Bounds,
    pub index: u32,
}

/// Up to so many are looked at one by one: measured, with a query for each.
const FEW: usize = 64;
/// Never more cells than this, however large the arena.
const MOST_CELLS: f64 = 262_144.0;
/// From one level to the next.
const COARSER: f64 = 4.0;

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
        let widest = size.x.max(size.y);
        let typical = if count == 0 {
            widest
        } else {
            1.5 * total / f64::from(count)
        };
        let most = (4.0 * f64::from(count) + 64.0).min(MOST_CELLS);
        let mut cell = typical
            .max((size.x * size.y / most).sqrt())
            .max(widest / 4096.0);
        let mut levels = vec![Level::new(arena, cell)];
        while cell < widest {
            cell *= COARSER;
            levels.push(Level::new(arena, cell));
        }
        Grid { levels }
    }

    fn level_of(&self, bounds: Bounds) -> usize {
        let size = bounds.size();
        let wide = size.x.max(size.y);
        let fits = |level: &Level| wide <= 2.0 * level.cell;
        let finest = self.levels.iter().position(fits);
        finest.unwrap_or(self.levels.len() - 1)
    }

    /// Replaces what is listed.
    pub fn fill(&mut self, all: &[Listed]) {
        self.levels.iter_mut().for_each(Level::clear);
        if all.len() <= FEW {
            return;
        }
        for listed in all {
            let level = self.level_of(listed.bounds);
            self.levels[level].count(listed.bounds);
        }
        self.levels.iter_mut().for_each(Level::make_room);
        for listed in all {
            let level = self.level_of(listed.bounds);
            self.levels[level].list(*listed);
        }
        self.levels.iter_mut().for_each(Level::finish);
    }

    /// Calls `found` with the index of every rectangle that meets `bounds`, once each, of those it was filled with.
    pub fn query(&self, all: &[Listed], bounds: Bounds, mut found: impl FnMut(u32)) {
        if all.len() <= FEW {
            for listed in all {
                if listed.bounds.meets(bounds) {
                    found(listed.index);
                }
            }
            return;
        }
        let used = |level: &&Level| !level.listed.is_empty();
        for level in self.levels.iter().filter(used) {
            for listed in level.near(bounds) {
                if listed.bounds.meets(bounds) {
                    found(listed.index);
                }
            }
        }
    }
}

impl Level {
    fn new(arena: Bounds, cell: f64) -> Level {
        let size = arena.size();
        let across = |length: f64| libm::ceil(length / cell).max(1.0) as u32;
        let (columns, rows) = (across(size.x), across(size.y));
        Level {
            origin: arena.min,
            cell,
            cells: 1.0 / cell,
            columns,
            rows,
            reach: Vec2::ZERO,
            starts: vec![0; (columns * rows) as usize + 1],
            listed: Vec::new(),
        }
    }

    // Conversions saturate, so that what is outside counts to the edge.

    fn column(&self, x: f64) -> u32 {
        (((x - self.origin.x) * self.cells) as u32).min(self.columns - 1)
    }

    fn row(&self, y: f64) -> u32 {
        (((y - self.origin.y) * self.cells) as u32).min(self.rows - 1)
    }

    fn place(&self, bounds: Bounds) -> usize {
        (self.row(bounds.min.y) * self.columns + self.column(bounds.min.x)) as usize
    }

    fn clear(&mut self) {
        if !self.listed.is_empty() {
            self.starts.fill(0);
            self.listed.clear();
            self.reach = Vec2::ZERO;
        }
    }

    fn count(&mut self, bounds: Bounds) {
        let cell = self.place(bounds);
        self.starts[cell + 1] += 1;
        self.reach = self.reach.max(bounds.size());
        // Room is made for it later; until then this says that the level is in use.
        self.listed.push(Listed { bounds, index: 0 });
    }

    fn make_room(&mut self) {
        if !self.listed.is_empty() {
            for cell in 1..self.starts.len() {
                self.starts[cell] += self.starts[cell - 1];
            }
        }
    }

    /// Each start moves on as its cell fills, and ends where the next cell began…
    fn list(&mut self, listed: Listed) {
        let cell = self.place(listed.bounds);
        let start = &mut self.starts[cell];
        self.listed[*start as usize] = listed;
        *start += 1;
    }

    /// …so all are one cell ahead.
    fn finish(&mut self) {
        if !self.listed.is_empty() {
            let cells = self.starts.len() - 1;
            self.starts.copy_within(..cells, 1);
            self.starts[0] = 0;
        }
    }

    /// What is listed in cells from which it may reach into `bounds`: row by row, since the lists of
    /// a row's cells follow each other.
    fn near(&self, bounds: Bounds) -> impl Iterator<Item = &Listed> {
        // A little more than the reach, whose sum may have been rounded down.
        let from = bounds.min - self.reach * (1.0 + 1e-9) - Vec2::new(1e-9, 1e-9);
        let (left, right) = (self.column(from.x), self.column(bounds.max.x));
        let rows = self.row(from.y)..self.row(bounds.max.y) + 1;
        rows.flat_map(move |row| {
            let cell = |column| (row * self.columns + column) as usize;
            let (from, to) = (self.starts[cell(left)], self.starts[cell(right) + 1]);
            &self.listed[from as usize..to as usize]
        })
    }
}
