//! SVG into PNG, with the embedded font and no other.

use std::sync::Arc;

use resvg::tiny_skia::{Pixmap, Transform};
use resvg::usvg::{Options, Tree, fontdb};

use crate::text::{REGULAR, SEMI_BOLD};

/// A picture that could not be painted.
#[derive(Debug, thiserror::Error)]
pub enum PngError {
    /// The SVG cannot be read.
    #[error("the SVG cannot be read: {0}")]
    Svg(String),
    /// It has no size that can be painted.
    #[error("a picture of {width} by {height} pixels cannot be painted")]
    Size {
        /// In pixels.
        width: u32,
        /// In pixels.
        height: u32,
    },
    /// It could not be packed.
    #[error("the PNG cannot be packed: {0}")]
    Pack(String),
}

/// Paints an SVG of ours. Nothing of the machine's fonts shows in it.
///
/// # Errors
///
/// When the SVG cannot be read or is too large.
pub fn png(svg: &str) -> Result<Vec<u8>, PngError> {
    let mut fonts = fontdb::Database::new();
    fonts.load_font_data(REGULAR.to_vec());
    fonts.load_font_data(SEMI_BOLD.to_vec());
    let options = Options {
        fontdb: Arc::new(fonts),
        font_family: "Inter".to_owned(),
        ..Options::default()
    };
    let tree = Tree::from_str(svg, &options).map_err(|error| PngError::Svg(error.to_string()))?;
    let size = tree.size().to_int_size();
    let (width, height) = (size.width(), size.height());
    let mut pixels = Pixmap::new(width, height).ok_or(PngError::Size { width, height })?;
    resvg::render(&tree, Transform::identity(), &mut pixels.as_mut());
    pixels
        .encode_png()
        .map_err(|error| PngError::Pack(error.to_string()))
}
