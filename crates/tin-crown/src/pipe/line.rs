//! What a line asks for.

use std::cell::RefCell;

use crate::encounter::{Effect, Stance};
use crate::finding::{Code, Finding, Findings, Path};
use crate::geometry::Facing;
use crate::map::Map;
use crate::syntax::{At, Table, Words};
use crate::text::{Document, Value};

/// What is asked for on a line.
#[derive(Clone, Default, PartialEq, Table)]
#[table(no_builder)]
pub(crate) struct PipeLine {
    /// Buttons that go down (`true`) or up (`false`), by actor and button.
    #[key(absent = "none")]
    pub buttons: Map<String, Map<String, bool>>,
    /// Which way actors that rotate are told to face.
    #[key(absent = "none")]
    pub face: Map<String, Facing>,
    /// Where actors stand that something else moves, by actor.
    #[key(absent = "none")]
    pub poses: Map<String, Stance>,
    /// Effects from outside.
    #[key(absent = "none")]
    pub effects: Vec<PipeEffect>,
    /// What else is told of every tick from this one on.
    #[key(absent = "as before")]
    pub tell: Option<Vec<Tell>>,
    /// Saves the state under that name; no tick is played.
    #[key(absent = "nothing is saved")]
    pub save: Option<String>,
    /// Goes back to the state that was saved under that name; no tick is played.
    #[key(absent = "nothing is restored")]
    pub restore: Option<String>,
    /// Tells the digest of the tick; no tick is played.
    #[key(default = "false", flag)]
    pub digest: bool,
}

/// An effect from outside.
#[derive(Clone, Default, PartialEq, Table)]
#[table(no_builder)]
pub(crate) struct PipeEffect {
    /// The actor that it acts on, placed or launched.
    #[key(required, text = "id")]
    pub whom: String,
    /// The actor to whose credit it is.
    #[key(text = "id", absent = "nobody")]
    pub who: Option<String>,
    /// What it does to whom.
    #[key(flatten)]
    pub does: Effect,
}

/// What can be told of every tick.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Words)]
pub enum Tell {
    /// Where everyone is, and how they stand.
    #[default]
    Poses,
    /// What their meters hold.
    Meters,
    /// Their windows of invincibility.
    Windows,
    /// Their live boxes, where they are.
    Boxes,
}

impl PipeLine {
    /// Reads a line of JSON.
    pub fn read(text: &str) -> Result<PipeLine, Findings> {
        let document = Document::parse_json(text)?;
        let findings = RefCell::new(Findings::new());
        let root = Path::root();
        if !matches!(document.root.value, Value::Table(_)) {
            let mut all = Findings::new();
            let message = format!(
                "expected a JSON object, found {}",
                document.root.value.sort()
            );
            all.push(
                Finding::new(Code::WrongType, root, message).help("an empty one, {}, is a tick"),
            );
            return Err(all);
        }
        let line = At::new(&document, &root, &findings).table(PipeLine::read_keys);
        let findings = findings.into_inner();
        match line {
            Some(line) if findings.is_empty() => Ok(line),
            _ => Err(findings),
        }
    }

    /// Whether it asks for no tick.
    pub fn is_bare(&self) -> bool {
        self.buttons.is_empty()
            && self.face.is_empty()
            && self.poses.is_empty()
            && self.effects.is_empty()
            && self.tell.is_none()
    }
}
