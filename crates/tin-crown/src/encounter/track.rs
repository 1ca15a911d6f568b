//! Recordings of the game that ships: where actors are, row by row of a file.

use super::arena::Up;
use crate::geometry::Facing;
use crate::limits;
use crate::map::Map;
use crate::syntax::{Table, Words};
use crate::time::Duration;

/// A recording that drives actors.
///
/// ```
/// use tin_crown::encounter::Track;
///
/// let track = Track::new("run.csv").of("porter");
/// assert_eq!(track.rows.file, "run.csv");
/// ```
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(no_builder, most = limits::TRACKS)]
pub struct Track {
    /// The file, and how its rows are read.
    #[key(flatten)]
    pub rows: Rows,
    /// The actor that all of it is about.
    #[key(text = "id", absent = "the column `who` says")]
    pub who: Option<String>,
    /// Which columns hold what.
    #[key(absent = "`time`, `who`, `x` and `y`")]
    pub columns: TrackColumns,
    /// The columns of buttons, by the encounter's buttons: a number but 0, or `true`, is down. A recording, or a row,
    /// of buttons need not have a place.
    #[key(absent = "none")]
    pub buttons: Map<String, String>,
    /// Which of the recorded axes are the plane: `xz` takes `z` for y, and `y` for the height.
    #[key(default = "\"xy\"")]
    pub plane: Plane,
    /// Which way the recorded y grows.
    #[key(absent = "as the arena's")]
    pub up: Option<Up>,
    /// How many units one of the recording is.
    #[key(range = limits::TRACK_SCALE, default = "1")]
    pub scale: Option<f64>,
    /// Where the encounter's origin is in the recording.
    #[key(range = limits::COORDINATE, default = "[0, 0]", set = "")]
    pub origin: Option<[f64; 2]>,
    /// The recorded height at which the encounter's is 0.
    #[key(range = limits::COORDINATE, default = "0")]
    pub ground: Option<f64>,
    /// In what facings are recorded as angles: 0 along +x, positive toward +y of the recording.
    #[key(absent = "degrees of who rotates; of others only the sign counts")]
    pub angles: Option<Angles>,
    /// What the recording's words for a facing mean.
    #[key(absent = "`left`, `right`, or a number")]
    pub facings: Map<String, Facing>,
    /// What the recording calls states; what stands for `""` is not told.
    #[key(text = "state", absent = "as the kind does")]
    pub states: Map<String, String>,
    /// What the recording calls attacks; what stands for `""` is not told.
    #[key(text = "attack", absent = "as the kind does")]
    pub attacks: Map<String, String>,
    /// The kinds of what has no id: whoever is not placed is introduced as one of these.
    #[key(text = "kind", absent = "everyone is placed")]
    pub introduces: Map<String, String>,
    /// Further apart than that, two rows of an actor leave it absent in between.
    #[key(default = "\"0.5s\"")]
    pub gap: Option<Duration>,
    /// The greatest speed that is no slip of the recording, in units a second.
    #[key(range = limits::SPEED, absent = "ten times the arena's longer side")]
    pub fastest: Option<f64>,
}

/// A file of rows, and how they are read.
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(no_builder)]
pub struct Rows {
    /// The file, beside the encounter's.
    #[key(required, set = "")]
    pub file: String,
    /// What it is.
    #[key(absent = "what the file's ending says")]
    pub format: Option<RowFormat>,
    /// What separates the columns of a CSV: a single character.
    #[key(default = "\",\"")]
    pub separator: Option<String>,
    /// What stands before the decimals: `.` or `,`.
    #[key(default = "\".\"")]
    pub decimal: Option<String>,
    /// What its times mean.
    #[key(absent = "ticks from 0 on")]
    pub time: RowTime,
    /// The actors that its names mean; a name that is not here is an id.
    #[key(text = "id", absent = "names are ids")]
    pub ids: Map<String, String>,
    /// Names whose rows are passed over.
    #[key(absent = "none", set = "")]
    pub ignores: Vec<String>,
}

/// What a file of rows is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Words)]
pub enum RowFormat {
    /// Comma-separated values, the first line with the names of the columns.
    Csv,
    /// An object in JSON a line; `pos.x` names a member of a member.
    Jsonl,
}

/// What the times of a file mean.
#[derive(Clone, Copy, Debug, Default, PartialEq, Table)]
#[table(no_builder)]
pub struct RowTime {
    /// Their unit.
    #[key(default = "\"ticks\"")]
    pub unit: TimeUnit,
    /// How many frames there are a second.
    #[key(range = limits::FRAME_RATE, absent = "the tick rate")]
    pub rate: Option<f64>,
    /// The time that is tick 0, in that unit.
    #[key(range = limits::ROW_TIME, default = "0")]
    pub zero: Option<f64>,
}

/// The unit of recorded times.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Words)]
pub enum TimeUnit {
    /// Ticks of the encounter.
    #[default]
    Ticks,
    /// Frames, `rate` of them a second.
    Frames,
    /// Seconds.
    Seconds,
    /// Milliseconds.
    Milliseconds,
}

/// Which recorded axes are the plane's x and y; the third is the height.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Words)]
pub enum Plane {
    /// x and y; z is the height.
    #[default]
    Xy,
    /// x and z; y is the height.
    Xz,
    /// z and y; x is the height.
    Zy,
}

/// In what angles are recorded.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Words)]
pub enum Angles {
    /// 360 a turn.
    Degrees,
    /// 2π a turn.
    Radians,
    /// One a turn.
    Turns,
}

/// Which columns hold what; what has no column is not told.
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(no_builder)]
pub struct TrackColumns {
    /// When.
    #[key(text = "column", default = "\"time\"")]
    pub time: Option<String>,
    /// Whom it is about.
    #[key(text = "column", default = "\"who\"")]
    pub who: Option<String>,
    /// Along the recorded x axis.
    #[key(text = "column", default = "\"x\"")]
    pub x: Option<String>,
    /// Along the recorded y axis.
    #[key(text = "column", default = "\"y\"")]
    pub y: Option<String>,
    /// Along the recorded z axis.
    #[key(text = "column", absent = "`z` in a plane of it; else no height")]
    pub z: Option<String>,
    /// Which way it faces.
    #[key(text = "column")]
    pub facing: Option<String>,
    /// Its velocity along the recorded x axis, a second.
    #[key(text = "column")]
    pub velocity_x: Option<String>,
    /// The same along y.
    #[key(text = "column")]
    pub velocity_y: Option<String>,
    /// The same along z.
    #[key(text = "column")]
    pub velocity_z: Option<String>,
    /// Whether it stands on something.
    #[key(text = "column")]
    pub grounded: Option<String>,
    /// The state that it is in; an empty cell does not tell.
    #[key(text = "column")]
    pub state: Option<String>,
    /// The attack that it is in; an empty cell, or `none`, is none.
    #[key(text = "column")]
    pub attack: Option<String>,
    /// Which of its attacks that is.
    #[key(text = "column")]
    pub count: Option<String>,
    /// Whether it comes there without a way.
    #[key(text = "column")]
    pub teleport: Option<String>,
    /// What it is, where it is not placed.
    #[key(text = "column")]
    pub kind: Option<String>,
    /// Whose it is, where it is not placed.
    #[key(text = "column")]
    pub maker: Option<String>,
}

impl Rows {
    /// A file in which nothing is out of the ordinary.
    pub fn new(file: impl Into<String>) -> Rows {
        Rows {
            file: file.into(),
            ..Rows::default()
        }
    }
}

impl Track {
    /// A recording with columns `time` (in ticks), `who`, `x` and `y`.
    pub fn new(file: impl Into<String>) -> Track {
        Track {
            rows: Rows::new(file),
            ..Track::default()
        }
    }

    /// All of it about one actor.
    #[must_use]
    pub fn of(mut self, who: impl Into<String>) -> Track {
        self.who = Some(who.into());
        self
    }
}
