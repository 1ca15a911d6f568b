//! Writing pictures.

use std::io::Write;
use std::path::Path;

use tin_crown_picture::{Look, png};

use crate::args::Theme;
use crate::failure::Failure;
use crate::source::is_dash;
use crate::terminal::shown;
use crate::{output, terminal};

/// Where a picture goes, and as what.
pub struct Picture<'p> {
    path: &'p Path,
    as_png: bool,
}

impl<'p> Picture<'p> {
    /// A picture in the format of its ending; `-` is SVG on standard output.
    pub fn new(path: &'p Path) -> Result<Picture<'p>, Failure> {
        let ending = path.extension().and_then(|ending| ending.to_str());
        let as_png = match ending.map(str::to_ascii_lowercase).as_deref() {
            Some("png") => true,
            Some("svg") => false,
            None if is_dash(path) => false,
            _ => {
                let what = format!("{} is neither .svg nor .png", shown(path));
                return Err(Failure::new(what).help("choose a name with one of those endings"));
            }
        };
        Ok(Picture { path, as_png })
    }

    pub fn write(&self, svg: &str) -> Result<(), Failure> {
        if is_dash(self.path) {
            let mut out = terminal::out();
            out.write_all(svg.as_bytes())?;
            out.flush()?;
            return Ok(());
        }
        if self.as_png {
            let png = png(svg).map_err(|error| Failure::new(error.to_string()))?;
            return output::write(self.path, &png);
        }
        output::write(self.path, svg.as_bytes())
    }
}

/// The look of a theme.
pub fn look(theme: Theme) -> Look {
    match theme {
        Theme::Paper => Look::paper(),
        Theme::Graphite => Look::graphite(),
    }
}
