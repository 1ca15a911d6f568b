//! Sprites on the page: each sheet once, and which cells of it are shown when.

use std::collections::BTreeMap;

use serde::Serialize;
use tin_crown::encounter::Up;
use tin_crown::plan::{ClipPlan, SpritePlan};
use tin_crown::sprite::Sheets;

use super::stage::short;
use crate::layers;
use crate::view::View;

/// The sheets, as addresses of pictures, and the sizes that sprites ask of them.
#[derive(Clone, Debug, Default)]
pub(crate) struct Pictures {
    sheets: Sheets,
}

/// A sprite: its sheet, and what it shows.
#[derive(Clone, Debug, Serialize)]
pub(crate) struct SpriteData {
    sheet: String,
    /// Width and height of a cell, in pixels, and how many there are in a row.
    cell: [u32; 2],
    across: u32,
    /// Where the middle of a cell is, from its owner's place, and how large a pixel is; both in pixels of the page.
    at: [f64; 2],
    scale: f64,
    clips: Vec<ClipData>,
}

/// The cells, how many ticks all of them take, whether they begin again.
type ClipData = (Vec<u32>, u32, bool);

impl Pictures {
    pub fn new(sheets: &Sheets) -> Pictures {
        Pictures {
            sheets: sheets.clone(),
        }
    }

    /// Every sheet as the address of a picture, by its file.
    pub fn addresses(&self) -> BTreeMap<String, String> {
        let read = self.sheets.iter();
        let read = read.filter_map(|(file, sheet)| Some((file, sheet.ok()?)));
        read.map(|(file, sheet)| (file.to_owned(), layers::address(sheet.bytes())))
            .collect()
    }

    /// A sprite whose sheet was read.
    pub fn sprite(&self, view: &View, sprite: Option<&SpritePlan>) -> Option<SpriteData> {
        let sprite = sprite?;
        let sheet = self.sheets.of(sprite)?;
        let up = if sprite.up() == Up::Plus { -1.0 } else { 1.0 };
        let at = sprite.at();
        let clip = |clip: &ClipPlan| (clip.cells().to_vec(), clip.round().0, clip.repeats());
        Some(SpriteData {
            sheet: sprite.file().to_owned(),
            cell: sheet.cell_size(sprite.cell()),
            across: sheet.cells(sprite.cell())[0],
            at: [at.x, at.y * up].map(|own| short(own * view.scale)),
            scale: sprite.scale() * view.scale,
            clips: sprite.clips().iter().map(clip).collect(),
        })
    }
}
