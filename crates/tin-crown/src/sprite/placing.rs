//! Where the pixels of a cell are around an actor's position, facing right.

use crate::encounter::Up;
use crate::geometry::{Bounds, Shape, Vec2, row};
use crate::plan::SpritePlan;

/// Where the pixels of a cell are, in the arena's units around its actor's position.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Placing {
    /// Width and height of a cell, in pixels.
    pub size: [u32; 2],
    /// Where its middle is.
    pub at: Vec2,
    /// How many units a pixel is wide and high.
    pub scale: f64,
    /// Which way its upper edge is.
    pub up: Up,
}

impl Placing {
    /// Of a sprite, whose cells have that size.
    pub fn of(sprite: &SpritePlan, size: [u32; 2]) -> Placing {
        Placing {
            size,
            at: sprite.at,
            scale: sprite.scale,
            up: sprite.up,
        }
    }

    /// How much y grows, in units, from a row to that below it.
    fn down(&self) -> f64 {
        match self.up {
            Up::Plus => -self.scale,
            Up::Minus => self.scale,
        }
    }

    /// Where a place of the cell is, in units: pixels from its left upper corner.
    pub fn unit(&self, pixel: Vec2) -> Vec2 {
        let [width, height] = self.size.map(f64::from);
        Vec2::new(
            self.at.x + (pixel.x - width / 2.0) * self.scale,
            self.at.y + (pixel.y - height / 2.0) * self.down(),
        )
    }

    /// Where a rectangle of the cell is, in units: in pixels from its left upper corner.
    pub fn units(&self, pixels: Bounds) -> Bounds {
        let (a, b) = (self.unit(pixels.min), self.unit(pixels.max));
        Bounds {
            min: a.min(b),
            max: a.max(b),
        }
    }

    /// The whole cell, in units.
    pub fn edges(&self) -> Bounds {
        self.units(Bounds::new([0.0, 0.0], self.size.map(f64::from)))
    }

    /// Where a place is in the cell: in pixels from its left upper corner.
    pub fn pixel(&self, unit: Vec2) -> Vec2 {
        let [width, height] = self.size.map(f64::from);
        Vec2::new(
            (unit.x - self.at.x) / self.scale + width / 2.0,
            (unit.y - self.at.y) / self.down() + height / 2.0,
        )
    }

    /// The rectangle around a shape, in pixels.
    pub(super) fn bounds(&self, shape: &Shape) -> Bounds {
        let bounds = shape.bounds();
        let (a, b) = (self.pixel(bounds.min), self.pixel(bounds.max));
        Bounds {
            min: a.min(b),
            max: a.max(b),
        }
    }

    /// The pixels of a row whose middles are within a shape: the first, and the one after the last.
    pub(super) fn row(&self, shape: &Shape, y: i64) -> Option<[i64; 2]> {
        let middle = self.unit(Vec2::new(0.0, y as f64 + 0.5));
        let [from, to] = row(shape, middle.y)?;
        let [from, to] = [from, to].map(|x| self.pixel(Vec2::new(x, middle.y)).x);
        let (first, last) = ((from - 0.5 - 1e-9).ceil(), (to - 0.5 + 1e-9).floor());
        (last >= first).then_some([first as i64, last as i64 + 1])
    }
}
