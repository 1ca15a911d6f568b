//! How far every pixel is from the nearest drawn one, exactly.
//!
//! By the lower envelope of parabolas, along rows and then along columns: P. Felzenszwalb and D. Huttenlocher,
//! "Distance Transforms of Sampled Functions", Theory of Computing 8 (2012).

use super::Mask;

/// Squares of distances stand for "none" from here on.
const NONE: f64 = 1e20;

/// The distance of every pixel of a region to the nearest drawn one, middle to middle.
pub(super) struct Distances {
    left: i64,
    top: i64,
    width: usize,
    squares: Vec<f64>,
}

impl Distances {
    /// Of the pixels from `[left, top]` up to `[right, bottom]`, those not included.
    pub fn new(mask: &Mask, [left, top]: [i64; 2], [right, bottom]: [i64; 2]) -> Distances {
        let (width, height) = ((right - left) as usize, (bottom - top) as usize);
        let mut squares: Vec<f64> = (top..bottom)
            .flat_map(|y| (left..right).map(move |x| (x, y)))
            .map(|(x, y)| if mask.is_drawn(x, y) { 0.0 } else { NONE })
            .collect();
        let mut line = Line::default();
        for row in squares.chunks_exact_mut(width.max(1)) {
            line.set(row.iter().copied());
            line.run(|nth, value| row[nth] = value);
        }
        for x in 0..width {
            line.set(squares.iter().skip(x).step_by(width).copied());
            line.run(|nth, value| squares[nth * width + x] = value);
        }
        debug_assert_eq!(squares.len(), width * height);
        Distances {
            left,
            top,
            width,
            squares,
        }
    }

    /// The distance of a pixel of the region; infinite when nothing is drawn in it.
    pub fn at(&self, x: i64, y: i64) -> f64 {
        let place = (y - self.top) as usize * self.width + (x - self.left) as usize;
        match self.squares[place] {
            square if square >= NONE => f64::INFINITY,
            square => square.sqrt(),
        }
    }
}

/// One row or column.
#[derive(Default)]
struct Line {
    values: Vec<f64>,
    /// Whose parabola is lowest, and from where on.
    lowest: Vec<(usize, f64)>,
}

impl Line {
    fn set(&mut self, values: impl Iterator<Item = f64>) {
        self.values.clear();
        self.values.extend(values);
    }

    fn run(&mut self, mut tell: impl FnMut(usize, f64)) {
        self.lowest.clear();
        for (nth, value) in self.values.iter().enumerate() {
            if *value >= NONE {
                continue;
            }
            let own = value + (nth * nth) as f64;
            let mut from = f64::NEG_INFINITY;
            while let Some((last, since)) = self.lowest.last() {
                let other = self.values[*last] + (last * last) as f64;
                from = (own - other) / (2 * (nth - last)) as f64;
                if from > *since {
                    break;
                }
                self.lowest.pop();
                from = f64::NEG_INFINITY;
            }
            self.lowest.push((nth, from));
        }
        let mut now = 0;
        for nth in 0..self.values.len() {
            let next = |now: usize| self.lowest.get(now + 1).map(|own| own.1);
            while next(now).is_some_and(|from| from < nth as f64) {
                now += 1;
            }
            if let Some((own, _)) = self.lowest.get(now) {
                let far = nth as f64 - *own as f64;
                tell(nth, far * far + self.values[*own]);
            }
        }
    }
}
