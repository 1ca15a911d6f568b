//! The command line of `tin-crown trace`.

use std::path::PathBuf;

use clap::{Args as Arguments, ValueEnum};

use super::{StudyFormat, Theme};

#[derive(Arguments)]
#[command(
    after_help = "A pixel is covered when its middle is. Every number is in units of the arena, from the position of \
                  the actor, facing right: without a kind, that is the middle of the cell.\n\nExamples:\n  \
                  tin-crown trace beetle.png --cell 32x24\n  \
                  tin-crown trace attic.toml --kind beetle -o beetle-boxes.png\n  \
                  tin-crown trace porter.png --cell 64x48 --only 8 --part 38,20,26,8"
)]
pub struct Trace {
    /// A PNG; or an encounter, with --kind
    pub file: PathBuf,
    /// Of an encounter: the kind whose sprite is traced; its cells, offset and scale count
    #[arg(long, value_name = "NAME", conflicts_with_all = ["cell", "at", "scale", "up", "opaque"])]
    pub kind: Option<String>,
    /// Width and height of a cell, in pixels [default: the whole picture]
    #[arg(long, value_name = "WxH", value_parser = cell)]
    pub cell: Option<Pair>,
    /// Only this cell, counted from 0 (repeatable)
    #[arg(long, value_name = "NUMBER")]
    pub only: Vec<u32>,
    /// Only this part of each cell: left, top, width and height, in pixels from its left upper corner
    #[arg(long, value_name = "X,Y,W,H", value_parser = part)]
    pub part: Option<Part>,
    /// Where the middle of a cell is, from the position of the actor
    #[arg(long, value_name = "X,Y", default_value = "0,0", value_parser = place, allow_hyphen_values = true)]
    pub at: Place,
    /// How many units a pixel is
    #[arg(long, value_name = "UNITS", default_value_t = 1.0)]
    pub scale: f64,
    /// Which way the arena's y grows when it goes up
    #[arg(long, default_value = "+y", allow_hyphen_values = true)]
    pub up: Upward,
    /// From which opacity on, of 1, a pixel counts as drawn
    #[arg(long, value_name = "SHARE", default_value_t = 0.5)]
    pub opaque: f64,
    /// How the boxes are printed
    #[arg(long, default_value = "text")]
    pub format: StudyFormat,
    /// Draw them over the sheet, too (.svg or .png)
    #[arg(short, long, value_name = "OUT")]
    pub output: Option<PathBuf>,
    /// Light or dark background
    #[arg(long, default_value = "paper")]
    pub theme: Theme,
}

/// Which way y grows when it goes up.
#[derive(Clone, Copy, ValueEnum)]
pub enum Upward {
    /// Upward.
    #[value(name = "+y")]
    Plus,
    /// Downward.
    #[value(name = "-y")]
    Minus,
}

/// Width and height, in pixels.
#[derive(Clone, Copy)]
pub struct Pair(pub [u32; 2]);

/// Left, top, width and height, in pixels.
#[derive(Clone, Copy)]
pub struct Part(pub [u32; 4]);

/// A place, in units.
#[derive(Clone, Copy)]
pub struct Place(pub [f64; 2]);

fn cell(text: &str) -> Result<Pair, String> {
    let found = text.split_once(['x', 'X', '×']);
    let found = found.and_then(|(width, height)| {
        let side = |text: &str| text.trim().parse().ok().filter(|side| *side > 0);
        Some([side(width)?, side(height)?])
    });
    found
        .map(Pair)
        .ok_or_else(|| "expected width and height: 32x24".to_owned())
}

fn numbers<T: std::str::FromStr, const N: usize>(text: &str) -> Option<[T; N]> {
    let numbers: Option<Vec<T>> = text.split(',').map(|own| own.trim().parse().ok()).collect();
    numbers?.try_into().ok()
}

fn part(text: &str) -> Result<Part, String> {
    let part = numbers(text).filter(|[_, _, width, height]| *width > 0 && *height > 0);
    part.map(Part)
        .ok_or_else(|| "expected left, top, width and height: 8,0,16,10".to_owned())
}

fn place(text: &str) -> Result<Place, String> {
    let place: Option<[f64; 2]> = numbers(text);
    let place = place.filter(|own| own.iter().all(|own| own.is_finite()));
    place
        .map(Place)
        .ok_or_else(|| "expected two numbers: 0,2".to_owned())
}
