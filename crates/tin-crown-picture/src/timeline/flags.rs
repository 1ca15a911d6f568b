//! Small flags with their names: what was announced, and what an actor did.

use tin_crown::Tick;

use super::{LEFT, RIGHT, Scale};
use crate::canvas::Canvas;
use crate::look::Look;
use crate::text::{Weight, width};

/// Names that would lie on each other go into the next of so many rows.
const ROWS: usize = 3;
const HIGH: f64 = 16.0;
const SIZE: f32 = 12.0;

/// Flags, each in its row.
pub(super) struct Flags {
    flags: Vec<Flag>,
    rows: usize,
    /// How many there was no room to name.
    pub unnamed: usize,
}

struct Flag {
    x: f64,
    /// When there is room: its row, where its name begins, and its name.
    named: Option<(usize, f64, String)>,
}

impl Flags {
    pub fn new(scale: &Scale, flags: impl Iterator<Item = (Tick, String)>) -> Flags {
        let mut free = [LEFT; ROWS];
        let mut laid = Flags {
            flags: Vec::new(),
            rows: 1,
            unnamed: 0,
        };
        for (tick, name) in flags {
            let x = scale.at(tick);
            let long = width(&name, SIZE, Weight::Regular) + 8.0;
            // Before the flag where time ends.
            let (from, to) = if x + long <= RIGHT + 8.0 {
                (x, x + long)
            } else {
                (x - long, x + 2.0)
            };
            if let Some(row) = free.iter().position(|free| *free <= from) {
                free[row] = to;
                laid.rows = laid.rows.max(row + 1);
                let named = Some((row, from + 4.0, name));
                laid.flags.push(Flag { x, named });
                continue;
            }
            laid.unnamed += 1;
            // Those that nobody could tell apart are one.
            if laid.flags.last().is_none_or(|last| x - last.x >= 1.0) {
                laid.flags.push(Flag { x, named: None });
            }
        }
        laid
    }

    pub fn is_empty(&self) -> bool {
        self.flags.is_empty()
    }

    pub fn height(&self) -> f64 {
        if self.is_empty() {
            0.0
        } else {
            HIGH * self.rows as f64 + 3.0
        }
    }

    pub fn draw(&self, canvas: &mut Canvas, look: &Look, y: f64) {
        let pole = [("stroke", look.ink), ("stroke-width", "1.2")];
        for flag in &self.flags {
            let x = flag.x;
            let Some((row, begin, name)) = &flag.named else {
                canvas.line([x, y], [x, y + 4.0], &pole);
                continue;
            };
            let top = y + 1.0 + HIGH * *row as f64;
            canvas.line([x, top], [x, top + HIGH - 1.0], &pole);
            // The lines of hits end at a name.
            let back = [("fill", look.ground), ("fill-opacity", "0.85")];
            let long = width(name, SIZE, Weight::Regular);
            canvas.rect([begin - 1.0, top + 1.0, long + 2.0, HIGH - 3.0], &back);
            let at = [*begin, top + 12.0];
            canvas.words(at, SIZE, Weight::Regular, look.ink, name);
        }
    }
}
