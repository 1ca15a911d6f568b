//! Checkpoints, exits, and what else wins a drill.

use super::Point;
use super::gate::Level;
use super::sprite::SpriteSpec;
use super::state::Other;
use crate::geometry::Facing;
use crate::limits;
use crate::map::Map;
use crate::syntax::{Choice, Table};
use crate::time::Duration;

/// An upright rectangle.
#[derive(Clone, Copy, Debug, PartialEq, Table)]
#[table(all, no_builder)]
pub struct Region {
    /// The corner of least coordinates.
    #[key(required, range = limits::COORDINATE)]
    pub min: [f64; 2],
    /// The corner of greatest coordinates.
    #[key(required, range = limits::COORDINATE)]
    pub max: [f64; 2],
    /// From which height to which, where the arena has heights.
    #[key(range = limits::COORDINATE, absent = "all heights")]
    pub height: Option<[f64; 2]>,
}

/// A respawn place, once a body has touched it.
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(label = Checkpoint::label)]
pub struct Checkpoint {
    /// Its name; unique. Where areas overlap, they are reached in the order of their names.
    #[key(required, set = "")]
    pub name: String,
    /// Where it is touched.
    #[key(required, set = "")]
    pub area: Region,
    /// Where who touched it comes back.
    #[key(required, range = limits::COORDINATE, set = "")]
    pub at: Point,
    /// Which way they face then.
    #[key(absent = "as placed")]
    pub facing: Option<Facing>,
    /// Who may touch it.
    #[key(text = "selector", absent = "anyone")]
    pub by: Option<String>,
    /// Its place in an order: one that comes before the last reached does not count.
    #[key(absent = "free")]
    pub order: Option<u32>,
    /// Whether it counts each time it is touched anew, not only the first time.
    #[key(default = "false", flag)]
    pub again: bool,
    /// The meters that it fills when it counts.
    #[key(text = "meter", absent = "none", set = "refills")]
    pub refills: Vec<String>,
    /// The cue given.
    #[key(text = "cue", absent = "none")]
    pub cue: Option<String>,
    /// The drawing in the middle of its area.
    #[key(absent = "none")]
    pub sprite: Option<SpriteSpec>,
}

/// Where a drill is won.
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(label = Exit::label)]
pub struct Exit {
    /// Its name; unique.
    #[key(required, set = "")]
    pub name: String,
    /// Where a body touches it.
    #[key(required, set = "")]
    pub area: Region,
    /// Who may leave.
    #[key(text = "selector", absent = "players")]
    pub by: Option<String>,
    /// What must hold before it opens.
    #[key(absent = "nothing")]
    pub needs: Option<Needs>,
    /// The cue given.
    #[key(text = "cue", absent = "none")]
    pub cue: Option<String>,
    /// The drawing in the middle of its area.
    #[key(absent = "none")]
    pub sprite: Option<SpriteSpec>,
}

/// What must hold before an exit opens: all that is named.
///
/// ```
/// use tin_crown::encounter::{Exit, Needs, Region};
///
/// let door = Region::new([300.0, 16.0], [320.0, 60.0]);
/// let locked = Exit::new("door", door).needs(Needs::default().taken("key"));
/// ```
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(some_of("gone", "taken", "meter", "other"))]
pub struct Needs {
    /// All of these are gone for good.
    #[key(text = "selector", absent = "nobody")]
    pub gone: Option<String>,
    /// All of these pickups have been taken, once at least.
    #[key(text = "selector", absent = "nothing")]
    pub taken: Option<String>,
    /// What a meter of who leaves holds.
    #[key(name = "meter", absent = "any", set = "")]
    pub meters: Map<String, Level>,
    /// What must hold of another actor.
    #[key(absent = "nothing")]
    pub other: Option<Other>,
}

/// What else wins a drill.
#[derive(Clone, Debug, PartialEq, Choice)]
pub enum Clear {
    /// All of these are gone for good.
    #[choice(text = "selector")]
    Gone(String),
    /// So long has passed.
    Survive(Duration),
}

impl Default for Region {
    fn default() -> Region {
        Region::new([0.0; 2], [1.0; 2])
    }
}

impl Region {
    /// The rectangle between two corners.
    pub fn new(min: [f64; 2], max: [f64; 2]) -> Region {
        Region {
            min,
            max,
            height: None,
        }
    }
}

impl Exit {
    fn label(&self) -> Option<&str> {
        Some(&self.name)
    }

    /// Touched in an area, by a player.
    pub fn new(name: impl Into<String>, area: Region) -> Exit {
        Exit {
            name: name.into(),
            area,
            ..Exit::default()
        }
    }
}

impl Checkpoint {
    fn label(&self) -> Option<&str> {
        Some(&self.name)
    }

    /// Touched in an area, and returned to at a place.
    pub fn new(name: impl Into<String>, area: Region, at: impl Into<Point>) -> Checkpoint {
        Checkpoint {
            name: name.into(),
            area,
            at: at.into(),
            ..Checkpoint::default()
        }
    }
}
