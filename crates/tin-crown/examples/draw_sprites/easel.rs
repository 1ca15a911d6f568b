//! Cells of pixels, drawn with a few shapes around the actor's position: x to the right, y up.

use std::error::Error;

/// Red, green, blue.
pub type Paint = [u8; 3];

pub const TIN: Paint = [168, 176, 184];
pub const SHINE: Paint = [214, 220, 224];
pub const SHADE: Paint = [104, 112, 122];
pub const BRASS: Paint = [206, 164, 84];
pub const RED: Paint = [176, 72, 62];
pub const WOOD: Paint = [150, 106, 70];
pub const BARK: Paint = [104, 72, 50];
pub const BLUE: Paint = [74, 104, 146];
pub const CREAM: Paint = [238, 228, 204];
pub const INK: Paint = [88, 80, 90];
pub const GREEN: Paint = [96, 124, 84];
pub const STEAM: Paint = [206, 214, 218];
pub const FLAME: Paint = [238, 178, 70];

/// A row of cells of one size.
#[derive(Clone)]
pub struct Easel {
    width: i32,
    height: i32,
    /// Where the actor's position is in a cell, from its left lower corner.
    origin: [f64; 2],
    cells: Vec<Vec<[u8; 4]>>,
}

impl Easel {
    /// Cells with the position in their middle, moved by so much.
    pub fn new(width: i32, height: i32, [x, y]: [f64; 2]) -> Easel {
        Easel {
            width,
            height,
            origin: [f64::from(width) / 2.0 - x, f64::from(height) / 2.0 - y],
            cells: Vec::new(),
        }
    }

    pub fn cells(&self) -> usize {
        self.cells.len()
    }

    /// Begins a cell, draws it, and darkens its edge.
    pub fn cell(mut self, draw: impl FnOnce(&mut Easel)) -> Easel {
        self.cells
            .push(vec![[0; 4]; (self.width * self.height) as usize]);
        draw(&mut self);
        self.edge();
        self
    }

    /// Paints every pixel whose middle is in a shape.
    fn fill(&mut self, paint: Paint, inside: impl Fn(f64, f64) -> bool) {
        let (width, height, [left, low]) = (self.width, self.height, self.origin);
        let Some(cell) = self.cells.last_mut() else {
            return;
        };
        for (nth, pixel) in cell.iter_mut().enumerate() {
            let (column, row) = (nth as i32 % width, nth as i32 / width);
            let x = f64::from(column) + 0.5 - left;
            let y = f64::from(height - row) - 0.5 - low;
            if inside(x, y) {
                *pixel = [paint[0], paint[1], paint[2], 255];
            }
        }
    }

    pub fn rect(&mut self, paint: Paint, [x1, y1]: [f64; 2], [x2, y2]: [f64; 2]) {
        self.fill(paint, |x, y| x > x1 && x < x2 && y > y1 && y < y2);
    }

    pub fn disc(&mut self, paint: Paint, [cx, cy]: [f64; 2], radius: f64) {
        self.oval(paint, [cx, cy], [radius, radius]);
    }

    pub fn oval(&mut self, paint: Paint, [cx, cy]: [f64; 2], [rx, ry]: [f64; 2]) {
        self.fill(paint, |x, y| {
            let (x, y) = ((x - cx) / rx, (y - cy) / ry);
            x * x + y * y < 1.0
        });
    }

    /// The upper half of an oval.
    pub fn dome(&mut self, paint: Paint, [cx, cy]: [f64; 2], [rx, ry]: [f64; 2]) {
        self.fill(paint, |x, y| {
            let (across, up) = ((x - cx) / rx, (y - cy) / ry);
            y > cy && across * across + up * up < 1.0
        });
    }

    pub fn ring(&mut self, paint: Paint, [cx, cy]: [f64; 2], radius: f64, wide: f64) {
        self.fill(paint, |x, y| {
            let far = ((x - cx) * (x - cx) + (y - cy) * (y - cy)).sqrt();
            far < radius && far > radius - wide
        });
    }

    /// A line so wide, with round ends.
    pub fn line(&mut self, paint: Paint, [x1, y1]: [f64; 2], [x2, y2]: [f64; 2], wide: f64) {
        let (dx, dy) = (x2 - x1, y2 - y1);
        let long = (dx * dx + dy * dy).max(1e-9);
        self.fill(paint, |x, y| {
            let share = (((x - x1) * dx + (y - y1) * dy) / long).clamp(0.0, 1.0);
            let (ox, oy) = (x - x1 - share * dx, y - y1 - share * dy);
            ox * ox + oy * oy < wide * wide / 4.0
        });
    }

    /// A convex polygon, its corners counter-clockwise.
    pub fn poly(&mut self, paint: Paint, corners: &[[f64; 2]]) {
        self.fill(paint, |x, y| {
            let next = corners.iter().cycle().skip(1);
            corners
                .iter()
                .zip(next)
                .all(|(a, b)| (b[0] - a[0]) * (y - a[1]) - (b[1] - a[1]) * (x - a[0]) > 0.0)
        });
    }

    /// Darkens what is at the edge of what is drawn.
    fn edge(&mut self) {
        let (width, height) = (self.width, self.height);
        let Some(cell) = self.cells.last_mut() else {
            return;
        };
        let drawn: Vec<bool> = cell.iter().map(|pixel| pixel[3] > 0).collect();
        let is = |x: i32, y: i32| {
            (0..width).contains(&x) && (0..height).contains(&y) && drawn[(y * width + x) as usize]
        };
        for (nth, pixel) in cell.iter_mut().enumerate() {
            let (x, y) = (nth as i32 % width, nth as i32 / width);
            let whole = is(x - 1, y) && is(x + 1, y) && is(x, y - 1) && is(x, y + 1);
            if drawn[nth] && !whole {
                for part in &mut pixel[..3] {
                    *part = (u16::from(*part) * 5 / 9) as u8;
                }
            }
        }
    }

    /// Red, green, blue and opacity of each pixel, cells side by side.
    pub fn pixels(&self) -> Vec<u8> {
        let rows = 0..self.height as usize;
        let width = self.width as usize;
        rows.flat_map(|row| {
            self.cells
                .iter()
                .map(move |cell| &cell[row * width..][..width])
        })
        .flatten()
        .flatten()
        .copied()
        .collect()
    }

    /// The sheet as a file: few colours, so each pixel is the number of one.
    pub fn png(&self) -> Result<Vec<u8>, Box<dyn Error>> {
        let pixels = self.pixels();
        let mut colours: Vec<[u8; 4]> = vec![[0; 4]];
        let numbers: Vec<u8> = pixels
            .chunks_exact(4)
            .map(|pixel| {
                let known = colours.iter().position(|own| own == pixel);
                known.unwrap_or_else(|| {
                    colours.push([pixel[0], pixel[1], pixel[2], pixel[3]]);
                    colours.len() - 1
                }) as u8
            })
            .collect();
        let mut file = Vec::new();
        let wide = self.width as u32 * self.cells.len() as u32;
        let mut encoder = png::Encoder::new(&mut file, wide, self.height as u32);
        encoder.set_color(png::ColorType::Indexed);
        encoder.set_compression(png::Compression::High);
        encoder.set_palette(
            colours
                .iter()
                .flat_map(|own| [own[0], own[1], own[2]])
                .collect::<Vec<u8>>(),
        );
        encoder.set_trns(colours.iter().map(|own| own[3]).collect::<Vec<u8>>());
        encoder.write_header()?.write_image_data(&numbers)?;
        Ok(file)
    }
}
