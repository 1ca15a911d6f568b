//! The documented limits, each declared once and named in the error that meets it.

/// A range of numbers that a key accepts, both ends included.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Range {
    /// The least number accepted.
    pub least: f64,
    /// The greatest number accepted.
    pub most: f64,
    /// The unit, for the message; empty for a plain count.
    pub unit: &'static str,
}

impl Range {
    const fn new(least: f64, most: f64, unit: &'static str) -> Range {
        Range { least, most, unit }
    }

    /// Whether `number` is finite and within.
    pub fn contains(&self, number: f64) -> bool {
        number >= self.least && number <= self.most
    }
}

/// The file edition this version reads.
pub const EDITION: u32 = 1;
/// The greatest size of an encounter file, in bytes.
pub const FILE_BYTES: u64 = 8 * 1024 * 1024;
/// How deeply tables and arrays may nest in a file.
pub const NESTING: usize = 64;
/// How many placed actors an encounter may have, copies counted.
pub const PLACED: usize = 100_000;
/// How many kinds an encounter may have.
pub const KINDS: usize = 2_000;
/// How many hitboxes, and how many hurtboxes, one kind may have.
pub const BOXES: usize = 64;
/// How many attacks one kind may have.
pub const ATTACKS: usize = 64;
/// How many launchers one kind may have.
pub const LAUNCHERS: usize = 64;
/// How many things one kind may leave behind.
pub const LEAVES: usize = 16;
/// How many sensors one kind may have.
pub const SENSORS: usize = 64;
/// How many states one kind may have.
pub const STATES: usize = 128;
/// How many ways may lead out of one state.
pub const TRANSITIONS_OF_STATE: usize = 64;
/// How many steps a death may have.
pub const DEATH_STEPS: usize = 64;
/// How many checkpoints, how many exits and how many other conditions an encounter may have.
pub const GOALS: usize = 1_000;
/// How many keys a path may have.
pub const ROUTE_KEYS: usize = 256;
/// How many buttons an encounter may know.
pub const BUTTONS: usize = 32;
/// How many meters one kind may have.
pub const METERS: usize = 32;
/// How many rules an encounter may have.
pub const RULES: usize = 2_000;
/// How many meters and tags a rule's gate may ask of one party.
pub const GATES: usize = 50;
/// How many cells a study may have.
pub const CELLS: u64 = 100_000_000;
/// How many names of one sort an encounter may know: tags, sides, cues, and the names of meters,
/// attacks, sensors and states.
pub const NAMES: usize = 10_000;
/// How many entries any other list may have.
pub const LIST: usize = 1_000;
/// How many solids an arena may have.
pub const SOLIDS: usize = 4_096;
/// How many drills an encounter may have.
pub const DRILLS: usize = 256;
/// Drills that one begins as; inputs of a drill that begin with an event.
pub const BEGINS: usize = 64;
/// How many expectations a drill, or a whole encounter, may have.
pub const EXPECTATIONS: usize = 1_000;
/// How many inputs a drill may have.
pub const INPUTS: usize = 100_000;
/// How many poses and effects from outside a drill may have, each.
pub const POSES: usize = 1_000_000;
/// How many recordings may drive one drill.
pub const TRACKS: usize = 64;
/// How many reports of a recording, one for each actor and tick, are kept in memory; of a longer one the file is read
/// again by each replay.
pub const REPORTS_KEPT: usize = 400_000;
/// The greatest length of a line of a recording or a hit log, in bytes.
pub const ROW_BYTES: u64 = 64 * 1024;
/// The greatest length of a line of a pipe, in bytes.
pub const PIPE_BYTES: u64 = 1024 * 1024;
/// How many states a pipe may have saved.
pub const SAVED: usize = 10_000;
/// How many columns a CSV may have.
pub const ROW_COLUMNS: usize = 1024;
/// How many ticks a drill may last.
pub const DRILL_TICKS: u32 = 1_000_000;
/// How many lines a ledger may have.
pub const LEDGER_LINES: usize = 2_000_000;
/// How many pairs of boxes may touch on one tick.
pub const TOUCHES: usize = 500_000;
/// How many actors may be there at once.
pub const ALIVE: usize = 200_000;
/// How many actors may appear on one tick, those of tick 0 apart.
pub const LAUNCHES: usize = 16_000;
/// How many actors may be launched in one drill.
pub const LAUNCHED: usize = 500_000;
/// How many makers an actor may have one above the other: what is launched has one, what that
/// launches or leaves behind two, and so on.
pub const CHAIN: usize = 16;
/// How many actors may change their state on one tick.
pub const TRANSITIONS: usize = 10_000;
/// How many bytes a name or id may have.
pub const NAME_BYTES: usize = 80;
/// How many pairs of kinds that could hit each other and never did are listed.
pub const PAIRS_LISTED: usize = 2_000;
/// How many findings of a severity are listed before the rest is only counted.
pub const FINDINGS: usize = 200;
/// How many findings of a severity are kept until all are found, and those that are allowed set
/// aside.
pub const FINDINGS_KEPT: usize = 2_000;
/// How many syntax errors of a file are listed: what follows the first few is hardly worth reading.
pub const SYNTAX_ERRORS: usize = 5;
/// Syntax errors with which a text is no encounter at all, and only its first is reported.
pub const SYNTAX_ERRORS_AT_ALL: usize = 20;
/// The greatest size of a file of ledgers or golden records, in bytes.
pub const RECORD_BYTES: u64 = 256 * 1024 * 1024;

/// The greatest size of a sprite's file, in bytes.
pub const SPRITE_BYTES: u64 = 8 * 1024 * 1024;
/// How many pixels all sprites of an encounter may have.
pub const SPRITE_PIXELS: u64 = 32 * 1024 * 1024;

/// `tick_rate`.
pub const TICK_RATE: Range = Range::new(1.0, 1000.0, "ticks per second");
/// Frames of a recording.
pub const FRAME_RATE: Range = Range::new(0.001, 100_000.0, "frames per second");
/// The time of a recording that is tick 0, in its unit.
pub const ROW_TIME: Range = Range::new(-1e12, 1e12, "");
/// How many units one of a recording is.
pub const TRACK_SCALE: Range = Range::new(1e-9, 1e9, "units");
/// Coordinates and offsets.
pub const COORDINATE: Range = Range::new(-1e6, 1e6, "units");
/// Widths and heights of sprites and their cells.
pub const PIXELS: Range = Range::new(1.0, 4096.0, "pixels");
/// From which opacity on a pixel is drawn.
pub const OPACITY: Range = Range::new(0.01, 1.0, "");
/// How far boxes may be off a drawing.
pub const LENIENCE: Range = Range::new(0.0, 4096.0, "pixels");
/// Steps of a death, by their number.
pub const STEP: Range = Range::new(1.0, DEATH_STEPS as f64, "");
/// Sizes and radii.
pub const SIZE: Range = Range::new(0.001, 1e6, "units");
/// Speeds that have no direction of their own.
pub const SPEED: Range = Range::new(0.0, 1e6, "units per second");
/// Velocity components.
pub const VELOCITY: Range = Range::new(-1e6, 1e6, "units per second");
/// Accelerations.
pub const ACCELERATION: Range = Range::new(0.0, 1e7, "units per second squared");
/// The arena's gravity.
pub const GRAVITY: Range = Range::new(-1e6, 1e6, "units per second squared");
/// A kind's share of the arena's gravity.
pub const FACTOR: Range = Range::new(-100.0, 100.0, "");
/// Shares of damage that come through.
pub const SHARE: Range = Range::new(0.0, 1.0, "");
/// How many times damage of a type counts, and shares that are gained.
pub const TIMES: Range = Range::new(0.0, 1000.0, "");
/// How likely something is, against others.
pub const WEIGHT: Range = Range::new(1.0, 1e6, "");
/// Lengths and distances.
pub const LENGTH: Range = Range::new(0.0, 1e6, "units");
/// Turning speeds.
pub const TURN: Range = Range::new(0.0, 1e5, "degrees per second");
/// Turning for ever, either way.
pub const SPIN: Range = Range::new(-1e5, 1e5, "degrees per second");
/// `drag`.
pub const DRAG: Range = Range::new(0.0, 1000.0, "per second");
/// Shares of its size that a box grows from and to.
pub const GROWTH: Range = Range::new(0.001, 1000.0, "");
/// Spreads and fans.
pub const ARC: Range = Range::new(0.0, 360.0, "degrees");
/// How many are launched at once, and in one volley.
pub const AT_ONCE: Range = Range::new(1.0, 1000.0, "");
/// Angles.
pub const ANGLE: Range = Range::new(-360.0, 360.0, "degrees");
/// `copies.count`.
pub const COPIES: Range = Range::new(1.0, PLACED as f64, "copies");
