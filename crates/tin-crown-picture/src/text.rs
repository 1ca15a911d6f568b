//! The embedded font, and how wide its texts are.

use skrifa::instance::{LocationRef, Size};
use skrifa::{FontRef, MetadataProvider};

pub(crate) const REGULAR: &[u8] = include_bytes!("../font/Inter-Regular.otf");
pub(crate) const SEMI_BOLD: &[u8] = include_bytes!("../font/Inter-SemiBold.otf");

/// What viewers without the font fall back on.
pub(crate) const FAMILY: &str = "Inter, 'Helvetica Neue', Arial, 'Liberation Sans', sans-serif";

/// How heavy a text is.
#[derive(Clone, Copy, PartialEq, Eq)]
pub(crate) enum Weight {
    Regular,
    SemiBold,
}

/// How wide a text is at a size, in pixels. Characters that the font lacks count as an em.
pub(crate) fn width(text: &str, size: f32, weight: Weight) -> f64 {
    let data = match weight {
        Weight::Regular => REGULAR,
        Weight::SemiBold => SEMI_BOLD,
    };
    let em = f64::from(size);
    let Ok(font) = FontRef::new(data) else {
        return em * text.chars().count() as f64;
    };
    let charmap = font.charmap();
    let metrics = font.glyph_metrics(Size::new(size), LocationRef::default());
    let advance = |character| {
        let glyph = charmap.map(character)?;
        metrics.advance_width(glyph)
    };
    text.chars()
        .map(|character| advance(character).map_or(em, f64::from))
        .sum()
}

/// The text, cut to fit a width with an ellipsis.
pub(crate) fn fitted(text: &str, size: f32, weight: Weight, most: f64) -> String {
    if width(text, size, weight) <= most {
        return text.to_owned();
    }
    let mut kept: String = text.to_owned();
    while kept.pop().is_some() {
        let cut = format!("{}…", kept.trim_end());
        if width(&cut, size, weight) <= most {
            return cut;
        }
    }
    String::new()
}

/// The text, its middle cut out to fit a width: names often differ at their end.
pub(crate) fn shortened(text: &str, size: f32, weight: Weight, most: f64) -> String {
    if width(text, size, weight) <= most {
        return text.to_owned();
    }
    let characters: Vec<char> = text.chars().collect();
    let cut = |kept: usize| {
        let (head, tail) = (kept.div_ceil(2), kept / 2);
        let head: String = characters[..head].iter().collect();
        let tail: String = characters[characters.len() - tail..].iter().collect();
        format!("{head}…{tail}")
    };
    let fits = |kept: &usize| width(&cut(*kept), size, weight) <= most;
    let kept = (0..characters.len()).rev().find(fits);
    kept.map_or_else(String::new, cut)
}
