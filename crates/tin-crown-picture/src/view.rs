//! Where the arena lies in the picture.

use tin_crown::encounter::Up;
use tin_crown::geometry::{Bounds, HeightSpan, Vec2};

use crate::label::Area;

pub(crate) const LEFT: f64 = 64.0;
pub(crate) const RIGHT: f64 = 1248.0;
pub(crate) const TOP: f64 = 88.0;
/// The arena is never drawn higher than this.
const MOST_HEIGHT: f64 = 590.0;

/// Between the view from above and that from the front, in pixels.
const BETWEEN: f64 = 46.0;

/// From the author's units to pixels.
#[derive(Clone, Debug)]
pub(crate) struct View {
    origin: [f64; 2],
    corner: Vec2,
    pub scale: f64,
    /// Whether y grows upward, against the picture's.
    pub flipped: bool,
    pub area: Area,
}

impl View {
    /// The arena as wide as the picture, or as high as there is room for.
    pub fn new(bounds: Bounds, up: Up) -> View {
        let room = Area {
            x: LEFT,
            y: TOP,
            width: RIGHT - LEFT,
            height: MOST_HEIGHT,
        };
        View::within(bounds, up, room)
    }

    /// The arena from above, and below it from the front at the same scale, as large as there is room for.
    pub fn pair(bounds: Bounds, up: Up, heights: HeightSpan) -> [View; 2] {
        let (size, high) = (bounds.size(), heights.high - heights.low);
        let room = MOST_HEIGHT - BETWEEN;
        let scale = ((RIGHT - LEFT) / size.x).min(room / (size.y + high));
        let area = |y: f64, height: f64| Area {
            x: LEFT,
            y,
            width: RIGHT - LEFT,
            height,
        };
        let above = area(TOP, size.y * scale);
        let front = area(TOP + above.height + BETWEEN, high * scale);
        let face = Bounds::new([bounds.min.x, heights.low], [bounds.max.x, heights.high]);
        [
            View::within(bounds, up, above),
            View::within(face, Up::Plus, front),
        ]
    }

    /// Some of the arena, as large as there is room for, in the middle of the upper edge.
    pub fn within(bounds: Bounds, up: Up, room: Area) -> View {
        let size = bounds.size();
        let scale = (room.width / size.x).min(room.height / size.y);
        let (wide, high) = (size.x * scale, size.y * scale);
        let left = room.x + (room.width - wide) / 2.0;
        let flipped = up == Up::Plus;
        View {
            origin: [left, if flipped { room.y + high } else { room.y }],
            corner: bounds.min,
            scale,
            flipped,
            area: Area {
                x: left,
                y: room.y,
                width: wide,
                height: high,
            },
        }
    }

    /// As large as there is room for, from the picture's own corner on.
    pub fn at_origin(bounds: Bounds, up: Up, [width, height]: [f64; 2]) -> View {
        let size = bounds.size();
        let scale = (width / size.x).min(height / size.y);
        let (width, height) = (size.x * scale, size.y * scale);
        let room = Area {
            x: 0.0,
            y: 0.0,
            width,
            height,
        };
        View::within(bounds, up, room)
    }

    /// The same, from an owner's place on: what lies there is at the picture's corner.
    pub fn around_owner(&self) -> View {
        View {
            origin: [0.0, 0.0],
            corner: Vec2::ZERO,
            ..self.clone()
        }
    }

    /// Where a point of the arena is in the picture.
    pub fn place(&self, point: Vec2) -> [f64; 2] {
        let from = point - self.corner;
        let y = if self.flipped { -from.y } else { from.y };
        [
            self.origin[0] + from.x * self.scale,
            self.origin[1] + y * self.scale,
        ]
    }

    pub fn covered(&self, bounds: Bounds) -> Area {
        let [x, y, width, height] = self.rect(bounds);
        Area {
            x,
            y,
            width,
            height,
        }
    }

    pub fn rect(&self, bounds: Bounds) -> [f64; 4] {
        let (a, b) = (self.place(bounds.min), self.place(bounds.max));
        [
            a[0].min(b[0]),
            a[1].min(b[1]),
            (a[0] - b[0]).abs(),
            (a[1] - b[1]).abs(),
        ]
    }

    /// Whether any of a drawn rectangle is in the picture.
    pub fn shows(&self, [x, y, width, height]: [f64; 4]) -> bool {
        let Area {
            x: left,
            y: top,
            width: wide,
            height: high,
        } = self.area;
        x < left + wide && x + width > left && y < top + high && y + height > top
    }
}
