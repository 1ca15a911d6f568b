//! The embedded font, and how wide its texts are.

use skrifa::charmap::Charmap;
use skrifa::instance::{LocationRef, Size};
use skrifa::metrics::GlyphMetrics;
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

/// How wide characters are at a size, in pixels. Those that the font lacks count as an em.
struct Ruler<'f> {
    font: Option<(Charmap<'f>, GlyphMetrics<'f>)>,
    em: f64,
}

impl Ruler<'_> {
    fn new(size: f32, weight: Weight) -> Ruler<'static> {
        let data = match weight {
            Weight::Regular => REGULAR,
            Weight::SemiBold => SEMI_BOLD,
        };
        let font = FontRef::new(data).ok();
        Ruler {
            font: font.map(|font| {
                let metrics = font.glyph_metrics(Size::new(size), LocationRef::default());
                (font.charmap(), metrics)
            }),
            em: f64::from(size),
        }
    }

    fn of(&self, character: char) -> f64 {
        let advance = self.font.as_ref().and_then(|(charmap, metrics)| {
            let glyph = charmap.map(character)?;
            metrics.advance_width(glyph)
        });
        advance.map_or(self.em, f64::from)
    }
}

/// How wide a text is at a size, in pixels.
pub(crate) fn width(text: &str, size: f32, weight: Weight) -> f64 {
    let ruler = Ruler::new(size, weight);
    text.chars().map(|character| ruler.of(character)).sum()
}

/// Whether a text fits a width; of one that is far too long only its beginning is measured.
fn fits(text: &str, ruler: &Ruler<'_>, most: f64) -> bool {
    let mut wide = 0.0;
    text.chars().all(|character| {
        wide += ruler.of(character);
        wide <= most
    })
}

/// The text, cut to fit a width with an ellipsis.
pub(crate) fn fitted(text: &str, size: f32, weight: Weight, most: f64) -> String {
    let ruler = Ruler::new(size, weight);
    if fits(text, &ruler, most) {
        return text.to_owned();
    }
    let room = most - ruler.of('…');
    let (mut wide, mut kept) = (0.0, None);
    for (at, character) in text.char_indices() {
        wide += ruler.of(character);
        if wide > room && !character.is_whitespace() {
            break;
        }
        kept = Some(at + character.len_utf8());
    }
    match kept {
        Some(end) => format!("{}…", text[..end].trim_end()),
        None if room >= 0.0 => "…".to_owned(),
        None => String::new(),
    }
}

/// The text, its middle cut out to fit a width: names often differ at their end.
pub(crate) fn shortened(text: &str, size: f32, weight: Weight, most: f64) -> String {
    let ruler = Ruler::new(size, weight);
    if fits(text, &ruler, most) {
        return text.to_owned();
    }
    // A character more at the beginning, then one more at the end, while there is room.
    let room = most - ruler.of('…');
    let (mut head, mut tail) = (0, text.len());
    let mut wide = 0.0;
    for nth in 0.. {
        let rest = &text[head..tail];
        let next = if nth % 2 == 0 {
            rest.chars().next()
        } else {
            rest.chars().next_back()
        };
        let Some(next) = next else { break };
        wide += ruler.of(next);
        if wide > room {
            break;
        }
        if nth % 2 == 0 {
            head += next.len_utf8();
        } else {
            tail -= next.len_utf8();
        }
    }
    if room < 0.0 {
        return String::new();
    }
    format!("{}…{}", &text[..head], &text[tail..])
}
