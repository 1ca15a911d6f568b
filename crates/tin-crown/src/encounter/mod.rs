//! An encounter as written: arena, kinds, placements, rules and drills, before names are looked up.

mod allow;
mod arena;
mod attack;
mod beside;
mod boxes;
mod chance;
mod death;
mod drill;
mod expect;
mod faces;
mod facing;
mod flight;
mod gate;
mod goal;
mod guard;
mod heading;
mod height;
mod kind;
mod launcher;
mod log;
mod measure;
mod meter;
mod motion;
mod outside;
mod pattern;
mod pickup;
mod placement;
mod point;
mod portion;
mod respawn;
mod rule;
mod selector;
mod sensor;
mod set;
mod sprite;
mod state;
mod track;
mod zone;

pub use crate::geometry::Facing;
pub use allow::*;
pub use arena::*;
pub use attack::*;
pub(crate) use beside::{Beside, DrillFile, SpriteFile, read_beside};
pub use boxes::*;
pub use chance::*;
pub use death::*;
pub use drill::*;
pub use expect::*;
pub use faces::*;
pub use flight::*;
pub use gate::*;
pub use goal::*;
pub use guard::*;
pub use heading::*;
pub use height::*;
pub use kind::*;
pub use launcher::*;
pub use log::*;
pub use measure::*;
pub use meter::*;
pub use motion::*;
pub use outside::*;
pub use pattern::*;
pub use pickup::*;
pub use placement::*;
pub use point::*;
pub use portion::*;
pub use respawn::*;
pub use rule::*;
pub use selector::*;
pub use sensor::*;
pub use set::*;
pub use sprite::*;
pub use state::*;
pub use track::*;
pub use zone::*;

use std::cell::RefCell;

use crate::finding::{Code, Finding, Findings, Path};
use crate::limits;
use crate::map::Map;
use crate::syntax::{At, Fields, Table};
use crate::text::{Document, Entry, Value, write_toml};

/// An encounter as written, from a file or built in code.
///
/// ```
/// use tin_crown::{BoxSpec, Drill, Encounter, Facing, Kind, MeterSpec, Motion, Placement, Rule};
///
/// let encounter = Encounter::new("A beetle walks into a porter")
///     .bounds([0.0, 0.0], [640.0, 240.0])
///     .kind(
///         "porter",
///         Kind::new()
///             .side("crown")
///             .meter("health", MeterSpec::new(4.0))
///             .hurtbox("torso", BoxSpec::rectangle(12.0, 20.0))
///             .invincible_after_hit("0.5s".parse()?),
///     )
///     .kind(
///         "beetle",
///         Kind::new()
///             .side("attic")
///             .hitbox("horns", BoxSpec::rectangle(26.0, 10.0).at(0.0, -3.0))
///             .motion(Motion::patrol(60.0, 290.0, 40.0)),
///     )
///     .place(Placement::new("porter", [100.0, 30.0]))
///     .place(Placement::new("beetle", [290.0, 24.0]).facing(Facing::Left))
///     .rule(Rule::new("horns gore porter", "beetle.horns", "porter.torso").damage(1.0))
///     .drill("stand", Drill::new("6s".parse()?));
/// let replay = encounter.plan()?.replay("stand")?;
/// assert!(replay.ledger().len() > 2);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Clone, Debug, PartialEq, Table)]
pub struct Encounter {
    /// What it is called.
    #[key(required, set = "")]
    pub title: String,
    /// Ticks per second.
    #[key(range = limits::TICK_RATE, default = "60")]
    pub tick_rate: u32,
    /// The place.
    #[key(required)]
    pub arena: Arena,
    /// A reusable actor definition.
    #[key(name = "kind", absent = "none")]
    pub kinds: Map<String, Kind>,
    /// The actors.
    #[key(name = "place", absent = "none", set = "place")]
    pub placements: Vec<Placement>,
    /// Places to come back to.
    #[key(name = "checkpoint", absent = "none", set = "checkpoint")]
    pub checkpoints: Vec<Checkpoint>,
    /// Where a drill is won.
    #[key(name = "exit", absent = "none", set = "exit")]
    pub exits: Vec<Exit>,
    /// What else wins a drill, each enough by itself.
    #[key(absent = "none", set = "clear")]
    pub clear: Vec<Clear>,
    /// Which hitbox does what to which hurtbox; their order is a tie-break.
    #[key(name = "rule", absent = "none", set = "rule")]
    pub rules: Vec<Rule>,
    /// A scripted run-through.
    #[key(name = "drill", absent = "none")]
    pub drills: Map<String, Drill>,
    /// A file beside this one that has more drills: its name, without a path.
    #[key(text = "file", absent = "none")]
    pub drill_file: Option<String>,
    /// A file beside this one that has sprites of its kinds: its name, without a path.
    #[key(text = "file", absent = "none")]
    pub sprite_file: Option<String>,
    /// What every drill has to come to.
    #[key(absent = "none", set = "expect")]
    pub expect: Vec<Expectation>,
    /// Findings that are known and meant.
    #[key(absent = "none", set = "allow")]
    pub allow: Vec<Allow>,
}

impl Default for Encounter {
    fn default() -> Encounter {
        Encounter {
            title: String::new(),
            tick_rate: 60,
            arena: Arena::default(),
            kinds: Map::new(),
            placements: Vec::new(),
            rules: Vec::new(),
            checkpoints: Vec::new(),
            exits: Vec::new(),
            clear: Vec::new(),
            drills: Map::new(),
            drill_file: None,
            sprite_file: None,
            expect: Vec::new(),
            allow: Vec::new(),
        }
    }
}

impl Encounter {
    /// An empty encounter at 60 ticks a second, without gravity.
    pub fn new(title: impl Into<String>) -> Encounter {
        Encounter {
            title: title.into(),
            ..Encounter::default()
        }
    }

    /// Sets the arena's corners of least and greatest coordinates.
    #[must_use]
    pub fn bounds(mut self, min: [f64; 2], max: [f64; 2]) -> Encounter {
        self.arena.bounds = Region::new(min, max);
        self
    }

    /// Adds a solid to the arena.
    #[must_use]
    pub fn solid(mut self, min: [f64; 2], max: [f64; 2]) -> Encounter {
        self.arena.solids.push(Solid::new(min, max));
        self
    }
}

impl Encounter {
    /// The encounter as the text of a TOML file: keys in the order of the reference, those that hold
    /// their default left out. Read again it gives an equal encounter.
    ///
    /// ```
    /// use tin_crown::encounter::{Exit, Region};
    /// use tin_crown::{Encounter};
    ///
    /// let encounter = Encounter::new("A way out")
    ///     .exit(Exit::new("door", Region::new([600.0, 16.0], [620.0, 60.0])));
    /// let text = encounter.to_toml();
    /// assert!(text.starts_with("edition = 1\ntitle = \"A way out\"\n\n[arena]\n"));
    /// assert_eq!(tin_crown::check(text.as_bytes()).encounter, Some(encounter));
    /// ```
    pub fn to_toml(&self) -> String {
        write_toml(&self.entries())
    }

    /// The same as the text of a JSON file, with the same keys in the same order.
    pub fn to_json(&self) -> String {
        let tree = Value::Table(self.entries());
        // A tree of texts, numbers, arrays and tables is JSON.
        serde_json::to_string_pretty(&tree).unwrap_or_default() + "\n"
    }

    /// The keys that are written, and what they hold.
    pub(crate) fn written(&self) -> Vec<Entry> {
        let mut entries = Vec::new();
        self.write_keys(&mut entries);
        entries
    }

    fn entries(&self) -> Vec<Entry> {
        let edition = Value::Number(f64::from(limits::EDITION));
        let mut entries = vec![Entry::new("edition", edition)];
        self.write_keys(&mut entries);
        entries
    }
}

/// Reads an encounter; what is wrong with it is in the findings.
pub(crate) fn read_document(document: &Document) -> (Option<Encounter>, Findings) {
    let findings = RefCell::new(Findings::new());
    let root = Path::root();
    if let Some(finding) = not_an_object(document) {
        findings.borrow_mut().push(finding);
        return (None, findings.into_inner());
    }
    let encounter = At::new(document, &root, &findings).table(|fields| {
        edition(fields)
            .then(|| Encounter::read_keys(fields))
            .flatten()
    });
    (encounter, findings.into_inner())
}

/// What is wrong with a document that is JSON, but no object.
fn not_an_object(document: &Document) -> Option<Finding> {
    let sort = document.root.value.sort();
    let is_table = matches!(document.root.value, Value::Table(_));
    (!is_table).then(|| {
        let message = format!("expected a JSON object, found {sort}");
        let mut finding = Finding::new(Code::WrongType, Path::root(), message)
            .help("begin it with { \"edition\": 1");
        finding.span = Some(document.root.span);
        finding
    })
}

/// Whether the edition is one that can be read; if not, that is the only thing worth saying.
fn edition(fields: &mut Fields<'_>) -> bool {
    fields.strict(false);
    // How JSON files name their schema: it is for editors.
    let _: Option<String> = fields.get("$schema");
    let Some(edition) = fields.need::<f64>("edition") else {
        return false;
    };
    if edition == f64::from(limits::EDITION) {
        fields.strict(true);
        return true;
    }
    let message = format!("this version does not read edition {edition}");
    fields.report(
        Finding::new(Code::Edition, fields.path().key("edition"), message)
            .help(format!("write `edition = {}`", limits::EDITION)),
    );
    false
}
