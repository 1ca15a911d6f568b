//! Draws the sprites of the demo, pixel by pixel, and compares them with those that come with it; given a folder, writes
//! them there as PNGs.
//!
//! ```sh
//! cargo run --example draw_sprites -- crates/tin-crown/demo
//! ```

#[path = "draw_sprites/easel.rs"]
mod easel;
#[path = "draw_sprites/foes.rs"]
mod foes;
#[path = "draw_sprites/porter.rs"]
mod porter;
#[path = "draw_sprites/things.rs"]
mod things;

use std::error::Error;
use std::path::Path;

use tin_crown::demo::SPRITES;
use tin_crown::sprite::Sheet;

use easel::Easel;

fn main() -> Result<(), Box<dyn Error>> {
    let all = [porter::all(), foes::all(), things::all()].concat();
    let folder = std::env::args().nth(1);
    for (name, sheet) in &all {
        let png = sheet.png()?;
        match &folder {
            Some(folder) => {
                std::fs::write(Path::new(folder).join(name), &png)?;
                println!("wrote {name}: {} cells, {} bytes", sheet.cells(), png.len());
            }
            None => {
                let known = SPRITES.iter().find(|(own, _)| own == name);
                let (_, known) = known.ok_or_else(|| format!("the demo has no {name}"))?;
                let same = Sheet::read(known.to_vec())?.pixels() == sheet.pixels();
                assert!(same, "{name} of the demo is drawn otherwise");
                println!("{name}: {} cells, as in the demo", sheet.cells());
            }
        }
    }
    assert_eq!(all.len(), SPRITES.len());
    Ok(())
}

/// A sheet of the demo, by the name of its file.
type Drawn = (&'static str, Easel);
