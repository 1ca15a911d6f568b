//! A PNG that was read: its size, and how opaque each pixel is.

use std::io::Cursor;

use super::Mask;
use crate::limits;

/// How every PNG begins.
const SIGNATURE: [u8; 8] = *b"\x89PNG\r\n\x1a\n";

/// A PNG that was read.
#[derive(Clone, PartialEq, Eq)]
pub struct Sheet {
    bytes: Vec<u8>,
    width: u32,
    height: u32,
    /// How opaque each pixel is, row by row from above.
    alpha: Vec<u8>,
}

/// A file that is no PNG of a size that is read.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum SheetError {
    /// The file is too large.
    #[error("it has more than {} MiB", limits::SPRITE_BYTES / 1024 / 1024)]
    Heavy,
    /// It has too many pixels.
    #[error("it has {width} × {height} pixels, more than {most} × {most}", most = limits::PIXELS.most)]
    Large {
        /// In pixels.
        width: u32,
        /// In pixels.
        height: u32,
    },
    /// It is something else.
    #[error("it is not a PNG")]
    NotPng,
    /// It ends before its picture does.
    #[error("this PNG is cut short")]
    CutShort,
    /// It begins as a PNG, and is none.
    #[error("this PNG is damaged")]
    Damaged,
}

impl std::fmt::Debug for Sheet {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        write!(f, "Sheet({} × {})", self.width, self.height)
    }
}

impl Sheet {
    /// Reads a PNG.
    ///
    /// # Errors
    ///
    /// When it is none, or is too large; that is known before its pixels are unpacked.
    pub fn read(bytes: Vec<u8>) -> Result<Sheet, SheetError> {
        if bytes.len() as u64 > limits::SPRITE_BYTES {
            return Err(SheetError::Heavy);
        }
        if !bytes.starts_with(&SIGNATURE) {
            return Err(SheetError::NotPng);
        }
        let (width, height) = size(&bytes)?;
        let pixels = pixels(&bytes)?;
        Ok(Sheet {
            alpha: pixels.chunks_exact(4).map(|pixel| pixel[3]).collect(),
            bytes,
            width,
            height,
        })
    }

    /// The file.
    pub fn bytes(&self) -> &[u8] {
        &self.bytes
    }

    /// Width and height, in pixels.
    pub fn size(&self) -> [u32; 2] {
        [self.width, self.height]
    }

    /// Red, green, blue and opacity of each pixel, row by row from above; they are unpacked anew.
    pub fn pixels(&self) -> Vec<u8> {
        // What was read once can be read again.
        pixels(&self.bytes).unwrap_or_default()
    }

    /// A cell as a PNG of its own, from [all pixels](Sheet::pixels) of the sheet. None when there is no such cell.
    pub fn cut(&self, pixels: &[u8], cell: Option<[u32; 2]>, number: u32) -> Option<Vec<u8>> {
        let [left, top] = self.corner(cell, number)?.map(|at| at as usize);
        let [width, height] = self.cell_size(cell);
        let row = |y: usize| {
            let first = ((top + y) * self.width as usize + left) * 4;
            pixels.get(first..first + width as usize * 4)
        };
        let own: Vec<u8> = (0..height as usize)
            .flat_map(row)
            .flatten()
            .copied()
            .collect();
        let mut png = Vec::new();
        let mut encoder = png::Encoder::new(&mut png, width, height);
        encoder.set_color(png::ColorType::Rgba);
        let written = encoder.write_header().and_then(|mut writer| {
            writer.write_image_data(&own)?;
            writer.finish()
        });
        written.ok()?;
        Some(png)
    }

    /// How many cells of a size it has, across and down; one where no size is given.
    pub fn cells(&self, cell: Option<[u32; 2]>) -> [u32; 2] {
        let [width, height] = self.cell_size(cell);
        [self.width / width, self.height / height]
    }

    /// The size of a cell: its own where none is given.
    pub fn cell_size(&self, cell: Option<[u32; 2]>) -> [u32; 2] {
        let [width, height] = cell.unwrap_or(self.size());
        [width.max(1), height.max(1)]
    }

    /// Where a cell is in the sheet: its left and upper edge. None when there is no such cell.
    pub fn corner(&self, cell: Option<[u32; 2]>, number: u32) -> Option<[u32; 2]> {
        let [across, down] = self.cells(cell);
        let [width, height] = self.cell_size(cell);
        let there = u64::from(number) < u64::from(across) * u64::from(down);
        there.then(|| [number % across * width, number / across * height])
    }

    /// Whether no pixel counts as transparent.
    pub(crate) fn is_opaque(&self, opaque: u8) -> bool {
        self.alpha.iter().all(|alpha| *alpha >= opaque.max(1))
    }

    /// The pixels of a cell that are at least so opaque, of 255. Empty when there is no such cell.
    pub fn mask(&self, cell: Option<[u32; 2]>, number: u32, opaque: u8) -> Mask {
        let Some([left, top]) = self.corner(cell, number) else {
            return Mask::new(0, 0, |_, _| false);
        };
        let [width, height] = self.cell_size(cell);
        let across = self.width as usize;
        Mask::new(width, height, |x, y| {
            let place = (top + y) as usize * across + (left + x) as usize;
            self.alpha[place] >= opaque.max(1)
        })
    }
}

/// Width and height, when they are not too large.
fn size(bytes: &[u8]) -> Result<(u32, u32), SheetError> {
    let mut decoder = png::Decoder::new(Cursor::new(bytes));
    let header = decoder.read_header_info().map_err(broken)?;
    let (width, height) = (header.width, header.height);
    let most = limits::PIXELS.most as u32;
    if width > most || height > most {
        return Err(SheetError::Large { width, height });
    }
    Ok((width, height))
}

/// Red, green, blue and opacity of each pixel.
fn pixels(bytes: &[u8]) -> Result<Vec<u8>, SheetError> {
    let mut decoder = png::Decoder::new(Cursor::new(bytes));
    decoder.set_transformations(
        png::Transformations::normalize_to_color8() | png::Transformations::ALPHA,
    );
    let mut reader = decoder.read_info().map_err(broken)?;
    let long = reader.output_buffer_size();
    let long = long.ok_or(SheetError::Damaged)?;
    let mut own = vec![0; long];
    let frame = reader.next_frame(&mut own).map_err(broken)?;
    own.truncate(frame.buffer_size());
    Ok(match frame.color_type {
        png::ColorType::GrayscaleAlpha => own
            .chunks_exact(2)
            .flat_map(|pixel| [pixel[0], pixel[0], pixel[0], pixel[1]])
            .collect(),
        _ => own,
    })
}

fn broken(error: png::DecodingError) -> SheetError {
    match error {
        png::DecodingError::IoError(_) => SheetError::CutShort,
        _ => SheetError::Damaged,
    }
}
