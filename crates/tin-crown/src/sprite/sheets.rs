//! The sheets of an encounter, each read once.

use std::io::Read;
use std::sync::Arc;

use super::{Mask, Sheet};
use crate::limits;
use crate::map::Map;
use crate::plan::{Plan, SpritePlan};
use crate::track::{Files, plainly};

/// The sheets of an encounter, by the names of their files: each is read, or has a reason why it is not.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Sheets(Map<String, Result<Arc<Sheet>, String>>);

impl Sheets {
    /// Reads what the kinds, checkpoints and exits of a plan name.
    pub fn read(plan: &Plan, files: &dyn Files) -> Sheets {
        let mut sheets = Map::new();
        let mut room = limits::SPRITE_PIXELS;
        for sprite in plan.sprites() {
            if !sheets.contains_key(&sprite.file) {
                let sheet = one(&sprite.file, files, &mut room).map(Arc::new);
                sheets.insert(sprite.file.clone(), sheet);
            }
        }
        Sheets(sheets)
    }

    /// The sheet of a sprite, when it was read.
    pub fn of(&self, sprite: &SpritePlan) -> Option<&Arc<Sheet>> {
        self.0.get(&sprite.file)?.as_ref().ok()
    }

    /// The drawn pixels of a cell of a sprite.
    pub fn mask(&self, sprite: &SpritePlan, cell: u32) -> Option<Mask> {
        let sheet = self.of(sprite)?;
        Some(sheet.mask(sprite.cell, cell, sprite.opaque))
    }

    /// Every sheet by its file, or why there is none.
    pub fn iter(&self) -> impl Iterator<Item = (&str, Result<&Arc<Sheet>, &str>)> {
        let all = self.0.iter();
        all.map(|(file, sheet)| (file.as_str(), sheet.as_ref().map_err(String::as_str)))
    }

    /// Whether there is none.
    pub fn is_empty(&self) -> bool {
        self.0.is_empty()
    }
}

/// Reads a file, as long as there is room for its pixels.
fn one(file: &str, files: &dyn Files, room: &mut u64) -> Result<Sheet, String> {
    let mut bytes = Vec::new();
    let opened = files.open(file);
    let opened = opened.map(|file| file.take(limits::SPRITE_BYTES + 1));
    let done = opened.and_then(|mut file| file.read_to_end(&mut bytes));
    done.map_err(|error| plainly(&error))?;
    let sheet = Sheet::read(bytes).map_err(|error| error.to_string())?;
    let [width, height] = sheet.size().map(u64::from);
    *room = room.checked_sub(width * height).ok_or_else(|| {
        let most = limits::SPRITE_PIXELS / 1024 / 1024;
        format!("with it the sprites have more than {most} Mi pixels together")
    })?;
    Ok(sheet)
}
