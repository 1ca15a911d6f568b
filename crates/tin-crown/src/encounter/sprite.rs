//! Sprites: the drawing under a kind's boxes. They change nothing that is replayed.

use super::gate::Phase;
use crate::limits;
use crate::syntax::Table;
use crate::time::Duration;

/// The drawing of a kind: a PNG, whole or as a sheet of cells of one size, that is shown under its boxes. It has no part
/// in what is replayed.
///
/// ```
/// use tin_crown::Kind;
/// use tin_crown::encounter::{Clip, SpriteSpec};
///
/// let sprite = SpriteSpec::new("beetle.png")
///     .cell([32.0, 24.0])
///     .cells([0, 1])
///     .every("8t".parse()?)
///     .clip(Clip::new([2, 3]).dying());
/// let beetle = Kind::new().sprite(sprite);
/// # Ok::<(), tin_crown::time::DurationError>(())
/// ```
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(parts)]
pub struct SpriteSpec {
    /// The PNG, from the encounter's folder.
    #[key(due, text = "file", set = "")]
    pub file: Option<String>,
    /// Width and height of a cell, in pixels. Cells are counted from 0, row by row.
    #[key(range = limits::PIXELS, absent = "the whole picture")]
    pub cell: Option<[f64; 2]>,
    /// Where the middle of a cell is, from the actor's position, facing right.
    #[key(range = limits::COORDINATE, default = "[0, 0]")]
    pub at: Option<[f64; 2]>,
    /// How large a pixel is.
    #[key(range = limits::SIZE, default = "1")]
    pub scale: Option<f64>,
    /// The cells that it shows where no clip does, one after the other; they begin when it appears.
    #[key(default = "[0]")]
    pub cells: Option<Vec<u32>>,
    /// How long each of them is shown.
    #[key(absent = "required with several cells")]
    pub every: Option<Duration>,
    /// What it shows instead: the first clip whose conditions all hold.
    #[key(absent = "none", set = "clip")]
    pub clips: Option<Vec<Clip>>,
    /// From which opacity on a pixel counts as drawn.
    #[key(range = limits::OPACITY, default = "0.5")]
    pub opaque: Option<f64>,
    /// By how many pixels boxes and muzzles may be off the drawing without a finding.
    #[key(range = limits::LENIENCE, default = "4")]
    pub tolerance: Option<f64>,
}

/// Cells that are shown while some conditions hold.
#[derive(Clone, Debug, Default, PartialEq, Table)]
pub struct Clip {
    /// While it is in this state.
    #[key(text = "state", absent = "any")]
    pub state: Option<String>,
    /// While it is in this attack.
    #[key(text = "attack", absent = "any, or none")]
    pub attack: Option<String>,
    /// In this phase of the attack.
    #[key(absent = "all of it")]
    pub phase: Option<Phase>,
    /// While it dies.
    #[key(default = "false", flag)]
    pub dying: bool,
    /// In this step of its death, counted from 1.
    #[key(range = limits::STEP, absent = "any")]
    pub step: Option<u32>,
    /// Whether it is stunned.
    #[key(absent = "either")]
    pub stunned: Option<bool>,
    /// Whether its guard is up.
    #[key(absent = "either")]
    pub guarding: Option<bool>,
    /// Whether it stands on something.
    #[key(absent = "either")]
    pub grounded: Option<bool>,
    /// Whether it moves in the plane (of who is grounded: sideways).
    #[key(absent = "either")]
    pub moving: Option<bool>,
    /// The cells, one after the other.
    #[key(required, set = "")]
    pub cells: Vec<u32>,
    /// How long each is shown.
    #[key(absent = "in an attack or a death: its length, shared evenly")]
    pub every: Option<Duration>,
    /// Whether it begins again after the last cell; else that one stays.
    #[key(absent = "`false` in an attack or a death, else `true`")]
    pub repeats: Option<bool>,
}

impl SpriteSpec {
    /// The whole of a PNG.
    pub fn new(file: impl Into<String>) -> SpriteSpec {
        SpriteSpec {
            file: Some(file.into()),
            ..SpriteSpec::default()
        }
    }
}

impl Clip {
    /// These cells, whatever holds.
    pub fn new(cells: impl Into<Vec<u32>>) -> Clip {
        Clip {
            cells: cells.into(),
            ..Clip::default()
        }
    }

    /// Whether it is shown in a death.
    pub(crate) fn in_death(&self) -> bool {
        self.dying || self.step.is_some()
    }
}
