//! An encounter as written: arena, kinds, placements, rules and drills, before names are looked up.

mod allow;
mod arena;
mod attack;
mod beside;
mod boxes;
mod chance;
mod death;
mod drill;
pub(crate) mod expect;
mod flight;
mod gate;
mod goal;
mod guard;
mod kind;
mod launcher;
mod meter;
mod motion;
mod pickup;
mod placement;
pub(crate) mod read;
mod respawn;
mod rule;
mod selector;
mod sensor;
mod state;

pub use allow::Allow;
pub use arena::{Arena, Contact, Solid, Up};
pub use attack::{AttackSpec, Cancels, Clock, Live, Movement, Trigger};
pub(crate) use beside::read_beside;
pub use boxes::{BoxSpec, Pulse};
pub use chance::Chance;
pub use death::{DeathStep, DropSpec, Leaving};
pub use drill::{Action, Afterwards, Drill, Input};
pub use expect::{During, Expectation, Expected, Happening, MeterStand, Pattern, Times};
pub use flight::{Ending, FlightSpec, Leave};
pub use gate::{Approach, Gate, Level, Looking, PartyGate, Phase};
pub use goal::{Checkpoint, Clear, Exit, Region};
pub use guard::{GuardSpec, ParrySpec};
pub use kind::{Against, Invincible, Kind, Outside};
pub use launcher::{Aim, Ammo, LauncherSpec, Volley};
pub use meter::{Breaks, MeterSpec, RegenSpec, ReloadSpec};
pub use motion::{
    Axis, Chase, Ease, Fall, Follow, Hover, Motion, Patrol, Return, Route, RouteKey, Swing, Then,
    Walk,
};
pub use pickup::{Gift, PickupSpec, WhenFull};
pub use placement::{Copies, Facing, Placement};
pub use respawn::{MetersAt, Near, Places, Resets, RespawnSpec, ReturnTo};
pub use rule::{Also, Damage, Drain, Effect, Party, Pierce, Push, Rebound, Repeat, Rule};
pub use selector::{Selector, SelectorError, Who};
pub use sensor::{Ray, SensorSpec};
pub use state::{Condition, Other, StateSpec, Transition, When};

use std::cell::RefCell;
use std::collections::BTreeMap;

use crate::finding::{Code, Finding, Findings, Path};
use crate::limits;
use crate::text::{Document, Value};
use read::{At, Fields};

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
#[derive(Clone, Debug, PartialEq)]
pub struct Encounter {
    /// What it is called, for people.
    pub title: String,
    /// Ticks a second.
    pub tick_rate: u32,
    /// The place.
    pub arena: Arena,
    /// Reusable actor definitions, by name.
    pub kinds: BTreeMap<String, Kind>,
    /// The actors.
    pub placements: Vec<Placement>,
    /// Which hitbox does what to which hurtbox; their order is a tie-break.
    pub rules: Vec<Rule>,
    /// Places to come back to.
    pub checkpoints: Vec<Checkpoint>,
    /// Where a drill is won.
    pub exits: Vec<Exit>,
    /// What else wins a drill: each is enough.
    pub clear: Vec<Clear>,
    /// Scripted run-throughs, by name.
    pub drills: BTreeMap<String, Drill>,
    /// What every drill has to come to.
    pub expect: Vec<Expectation>,
    /// Findings that are known and meant.
    pub allow: Vec<Allow>,
}

impl Default for Encounter {
    fn default() -> Encounter {
        Encounter {
            title: String::new(),
            tick_rate: 60,
            arena: Arena::default(),
            kinds: BTreeMap::new(),
            placements: Vec::new(),
            rules: Vec::new(),
            checkpoints: Vec::new(),
            exits: Vec::new(),
            clear: Vec::new(),
            drills: BTreeMap::new(),
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

    /// Sets the tick rate, in ticks a second.
    #[must_use]
    pub fn tick_rate(mut self, rate: u32) -> Encounter {
        self.tick_rate = rate;
        self
    }

    /// Sets the arena's corners of least and greatest coordinates.
    #[must_use]
    pub fn bounds(mut self, min: [f64; 2], max: [f64; 2]) -> Encounter {
        self.arena.min = min;
        self.arena.max = max;
        self
    }

    /// Replaces the arena.
    #[must_use]
    pub fn arena(mut self, arena: Arena) -> Encounter {
        self.arena = arena;
        self
    }

    /// Adds a solid to the arena.
    #[must_use]
    pub fn solid(mut self, min: [f64; 2], max: [f64; 2]) -> Encounter {
        self.arena.solids.push(Solid::new(min, max));
        self
    }

    /// Adds a kind, or replaces the one of that name.
    #[must_use]
    pub fn kind(mut self, name: impl Into<String>, kind: Kind) -> Encounter {
        self.kinds.insert(name.into(), kind);
        self
    }

    /// Adds a placement.
    #[must_use]
    pub fn place(mut self, placement: Placement) -> Encounter {
        self.placements.push(placement);
        self
    }

    /// Adds a rule, after those there are.
    #[must_use]
    pub fn rule(mut self, rule: Rule) -> Encounter {
        self.rules.push(rule);
        self
    }

    /// Adds a place to come back to.
    #[must_use]
    pub fn checkpoint(mut self, checkpoint: Checkpoint) -> Encounter {
        self.checkpoints.push(checkpoint);
        self
    }

    /// Adds where a drill is won.
    #[must_use]
    pub fn exit(mut self, exit: Exit) -> Encounter {
        self.exits.push(exit);
        self
    }

    /// Adds a drill, or replaces the one of that name.
    #[must_use]
    pub fn drill(mut self, name: impl Into<String>, drill: Drill) -> Encounter {
        self.drills.insert(name.into(), drill);
        self
    }

    /// Says what every drill has to come to.
    #[must_use]
    pub fn expect(mut self, expectation: Expectation) -> Encounter {
        self.expect.push(expectation);
        self
    }

    /// Allows a finding.
    #[must_use]
    pub fn allow(mut self, allow: Allow) -> Encounter {
        self.allow.push(allow);
        self
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
        edition(fields).then(|| Encounter {
            title: fields.need("title").unwrap_or_default(),
            tick_rate: fields.get("tick_rate").unwrap_or(60),
            arena: fields.need("arena").unwrap_or_default(),
            kinds: fields.get("kind").unwrap_or_default(),
            placements: fields.get("place").unwrap_or_default(),
            rules: fields.get("rule").unwrap_or_default(),
            checkpoints: fields.get("checkpoint").unwrap_or_default(),
            exits: fields.get("exit").unwrap_or_default(),
            clear: fields.get("clear").unwrap_or_default(),
            drills: fields.get("drill").unwrap_or_default(),
            expect: fields.get("expect").unwrap_or_default(),
            allow: fields.get("allow").unwrap_or_default(),
        })
    });
    (encounter, findings.into_inner())
}

/// What is wrong with a document that is JSON, but no object.
fn not_an_object(document: &Document) -> Option<Finding> {
    let sort = document.root.value.sort();
    let is_table = matches!(document.root.value, Value::Table(_));
    (!is_table).then(|| {
        let message = format!("an encounter is a JSON object, and this is {sort}");
        let mut finding = Finding::new(Code::WrongType, Path::root(), message)
            .help("begin it with { \"edition\": 1");
        finding.span = Some(document.root.span);
        finding
    })
}

/// Whether the edition is one that can be read; if not, that is the only thing worth saying.
fn edition(fields: &mut Fields<'_>) -> bool {
    fields.strict(false);
    let Some(edition) = fields.need::<f64>("edition") else {
        return false;
    };
    if edition == f64::from(limits::EDITION) {
        fields.strict(true);
        return true;
    }
    let message = format!("edition {edition} is not one that this version reads");
    fields.report(
        Finding::new(Code::Edition, fields.path().key("edition"), message)
            .help(format!("write `edition = {}`", limits::EDITION)),
    );
    false
}
