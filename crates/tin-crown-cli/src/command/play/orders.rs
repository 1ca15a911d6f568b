//! What the page asks for.

use serde::Deserialize;

/// An order of the page that plays.
#[derive(Clone, Debug, Deserialize)]
#[serde(tag = "do", rename_all = "kebab-case", deny_unknown_fields)]
pub enum Order {
    /// A button goes down or up.
    Press { button: String, down: bool },
    /// Every button goes up.
    Release,
    /// Time runs, and the hands play.
    Play,
    /// Time rests.
    Pause,
    /// Time runs up to the end of what was played.
    Watch,
    /// Time runs back.
    Rewind,
    /// So many ticks on, or back: at the end of what was played, one is played.
    Step { by: i32 },
    /// To a tick of what was played.
    Seek { tick: u32 },
    /// How fast time runs: 1 as the encounter has it.
    Speed { speed: f64 },
    /// To the end of another branch.
    Switch { branch: u32 },
    /// Takes the last branch, change of branch or change of a number back.
    Undo,
    /// Drives another.
    Drive { who: String },
    /// Shows a drill beside what is played, or none.
    Ghost { drill: Option<String> },
    /// Changes a number.
    Set { path: String, value: Given },
    /// Gives a number back.
    Unset { path: String },
    /// Writes the numbers that were changed to the file; there is no other file.
    Write {},
    /// Asks why a line came about.
    Why { line: u32 },
    /// Drafts expectations for what was played up to now, or whole.
    Draft { whole: bool },
    /// Appends what was drafted last to the file.
    Keep {
        name: String,
        expect: Vec<usize>,
        golden: bool,
    },
    /// Ends the server.
    Quit,
}

/// A value that is given.
#[derive(Clone, Debug, Deserialize)]
#[serde(untagged)]
pub enum Given {
    Number(f64),
    Flag(bool),
    Text(String),
}
