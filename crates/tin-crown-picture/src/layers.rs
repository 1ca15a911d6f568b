//! What is drawn of actors: their boxes, their sprites, or both.

use std::collections::BTreeMap;
use std::sync::{Arc, OnceLock};

use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;
use tin_crown::encounter::Up;
use tin_crown::geometry::Vec2;
use tin_crown::plan::SpritePlan;
use tin_crown::sprite::{Sheet, Sheets};
use tin_crown::{Facing, Plan};

use crate::canvas::{Canvas, number};
use crate::page::poses::turned;
use crate::view::View;

/// How opaque sprites are where nothing else is said: boxes read over them.
pub const OPACITY: f64 = 0.75;

/// What is drawn of actors: their boxes, the sprites beneath them, or both.
#[derive(Clone, Debug)]
pub struct Layers {
    /// Whether boxes are drawn.
    pub boxes: bool,
    /// How opaque sprites are, from 0 to 1.
    pub opacity: f64,
    sheets: Arc<BTreeMap<String, Layer>>,
}

/// A sheet, and its pixels once they are asked for.
#[derive(Debug)]
struct Layer {
    sheet: Arc<Sheet>,
    pixels: OnceLock<Vec<u8>>,
}

impl Default for Layers {
    /// Boxes alone.
    fn default() -> Layers {
        Layers::new(&Sheets::default())
    }
}

impl Layers {
    /// Boxes over sprites.
    pub fn new(sheets: &Sheets) -> Layers {
        let read = sheets
            .iter()
            .filter_map(|(file, sheet)| Some((file, sheet.ok()?)));
        let layers = read.map(|(file, sheet)| {
            let layer = Layer {
                sheet: Arc::clone(sheet),
                pixels: OnceLock::new(),
            };
            (file.to_owned(), layer)
        });
        Layers {
            boxes: true,
            opacity: OPACITY,
            sheets: Arc::new(layers.collect()),
        }
    }

    /// Boxes alone.
    #[must_use]
    pub fn without_sprites(self) -> Layers {
        Layers {
            sheets: Arc::default(),
            ..self
        }
    }

    /// The sheet of a sprite, when it is drawn.
    pub(crate) fn sheet(&self, sprite: &SpritePlan) -> Option<&Arc<Sheet>> {
        self.sheets.get(sprite.file()).map(|layer| &layer.sheet)
    }

    /// A cell as the address of a picture.
    fn address(&self, sprite: &SpritePlan, cell: u32) -> Option<String> {
        let layer = self.sheets.get(sprite.file())?;
        let pixels = layer.pixels.get_or_init(|| layer.sheet.pixels());
        let png = layer.sheet.cut(pixels, sprite.cell(), cell)?;
        Some(address(&png))
    }
}

/// A PNG as the address of a picture.
pub(crate) fn address(png: &[u8]) -> String {
    format!("data:image/png;base64,{}", STANDARD.encode(png))
}

/// Where a sprite is drawn.
#[derive(Clone, Copy)]
pub(crate) struct Stood<'p> {
    pub plan: &'p Plan,
    pub at: Vec2,
    pub facing: Facing,
}

/// A cell of a sprite where its actor is. Says whether there is anything to be seen.
pub(crate) fn draw(
    canvas: &mut Canvas,
    layers: &Layers,
    view: &View,
    sprite: &SpritePlan,
    cell: u32,
    stood: Stood<'_>,
) -> bool {
    let Some(sheet) = layers.sheet(sprite) else {
        return false;
    };
    let [width, height] = sheet.cell_size(sprite.cell()).map(f64::from);
    let id = format!("{}-{cell}", sprite.file());
    let size = sprite.scale() * view.scale;
    let drawn = ([width, height], size >= 1.0);
    let known = canvas.picture(&id, drawn, || layers.address(sprite, cell));
    let Some(name) = known else { return false };
    let [x, y] = view.place(stood.at);
    let mirrored = if stood.facing == Facing::Left {
        -size
    } else {
        size
    };
    let up = if sprite.up() == Up::Plus { 1.0 } else { -1.0 };
    let [left, top] = [
        sprite.at().x / sprite.scale() - width / 2.0,
        -up * sprite.at().y / sprite.scale() - height / 2.0,
    ];
    let turn = f64::from(turned(stood.plan, stood.facing)) * 360.0 / 4096.0;
    let turn = match turn {
        0.0 => String::new(),
        turn => format!("rotate({turn})"),
    };
    let placed = format!(
        "translate({} {}){turn}scale({mirrored:.5} {size:.5})translate({} {})",
        number(x),
        number(y),
        number(left),
        number(top)
    );
    let opacity = number(layers.opacity);
    canvas.empty(
        "use",
        &[
            ("href", &format!("#{name}")),
            ("transform", &placed),
            ("opacity", &opacity),
        ],
    );
    true
}
