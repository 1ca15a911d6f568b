//! Resolved drills: when each button goes down and up.

use std::sync::Arc;

use serde::{Deserialize, Serialize};
use tin_crown_derive::Getters;

use super::checker::Checker;
use super::hit_logs::{self, LogPlan};
use super::index::{ActorIx, ButtonIx};
use super::inputs::Uses;
use super::outside::{ApplyPlan, PosePlan};
use super::pairing::World;
use super::recording::Recording;
use super::tracks::{self, TrackPlan};
use super::{PatternPlan, Plan, expectations};
use crate::encounter::{Afterwards, Begin, Drill, Pattern, Rule};
use crate::finding::{Code, Finding, Path};
use crate::geometry::Angle;
use crate::limits;
use crate::map::Map;
use crate::syntax::Syntax;
use crate::text::{Entry, write_toml};
use crate::time::{Tick, Ticks};

/// A resolved drill.
#[derive(Clone, Debug, Getters, PartialEq, Serialize)]
pub struct DrillPlan {
    /// Its name.
    #[serde(skip)]
    pub(crate) name: String,
    /// The tick after which it ends.
    pub(crate) last: Tick,
    /// From which its chance is drawn.
    pub(crate) seed: u32,
    /// Whether it goes on after it is won or lost.
    pub(crate) goes_on: bool,
    /// When buttons go down and up, in the order of ticks, actors and buttons, of which `left` and
    /// `right` count as one; what goes up comes first.
    pub(crate) edges: Vec<Edge>,
    /// Which way actors are told to face, in the order of ticks and actors.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub(crate) told: Vec<Told>,
    /// The effects from outside, in the order of ticks.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub(crate) effects: Vec<ApplyPlan>,
    /// The poses of actors that something else moves, in the order of ticks and actors.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub(crate) poses: Vec<PosePlan>,
    /// What is played after some events.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub(crate) later: Vec<LaterPlan>,
    /// How its recordings are read.
    #[serde(skip)]
    #[getters(skip)]
    pub(crate) tracks: Vec<TrackPlan>,
    /// How its hit log is read.
    #[serde(skip)]
    #[getters(skip)]
    pub(crate) log: Option<LogPlan>,
    /// What they tell, once they are read.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[getters(skip)]
    pub(crate) recording: Option<Arc<Recording>>,
}

impl DrillPlan {
    /// The files of the recordings that drive it, as the encounter names them.
    pub fn recordings(&self) -> impl Iterator<Item = &str> {
        self.tracks.iter().map(|track| track.rows.file.as_str())
    }

    /// The file of its hit log, if the encounter names one.
    pub fn hit_log(&self) -> Option<&str> {
        self.log.as_ref().map(|log| log.rows.file.as_str())
    }

    /// Whether recordings drive it.
    pub fn is_recorded(&self) -> bool {
        !self.tracks.is_empty()
    }
}

/// Inputs that begin with an event of the drill.
#[derive(Clone, Debug, Getters, PartialEq, Serialize)]
pub struct LaterPlan {
    /// The first of these.
    #[serde(skip)]
    pub(crate) after: PatternPlan,
    /// The same as it is written.
    pub(crate) written: String,
    /// How long after it they begin.
    pub(crate) shift: Ticks,
    /// When buttons go down and up, counted from there.
    pub(crate) edges: Vec<Edge>,
    /// Which way actors are told to face, counted from there.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub(crate) told: Vec<Told>,
    /// The effects from outside, counted from there.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub(crate) effects: Vec<ApplyPlan>,
    /// The poses, counted from there.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub(crate) poses: Vec<PosePlan>,
}

/// An actor is told which way to face.
#[derive(Clone, Copy, Debug, Eq, Getters, Ord, PartialEq, PartialOrd, Serialize, Deserialize)]
pub struct Told {
    /// When.
    pub(crate) tick: Tick,
    /// Who.
    pub(crate) who: ActorIx,
    /// Which way.
    #[getters(copy)]
    pub(crate) to: Angle,
}

/// A button that goes down or up.
#[derive(Clone, Copy, Debug, Eq, Getters, PartialEq, Serialize)]
pub struct Edge {
    /// The first tick on which it is so.
    pub(crate) tick: Tick,
    /// Whose button.
    pub(crate) who: ActorIx,
    /// Which button.
    pub(crate) button: ButtonIx,
    /// Whether it is down from here on.
    pub(crate) down: bool,
    /// Whether it was down already, so that the press has no effect.
    #[serde(skip_serializing_if = "std::ops::Not::not")]
    pub(crate) ignored: bool,
}

impl Edge {
    /// Its place in the order of a drill. Left and right are one there, so that the mirror image of a
    /// drill has the mirrored order.
    pub(crate) fn place(&self) -> impl Ord + use<> {
        let button = if self.button == RIGHT {
            LEFT
        } else {
            self.button
        };
        (
            self.tick,
            self.who,
            button,
            self.ignored,
            self.down,
            self.button,
        )
    }

    /// Whether two are of left and right, and the same otherwise.
    pub(crate) fn is_twin(&self, other: &Edge) -> bool {
        let mirrored = match self.button {
            LEFT => RIGHT,
            RIGHT => LEFT,
            _ => return false,
        };
        let image = Edge {
            button: mirrored,
            ..*self
        };
        image == *other
    }
}

impl Told {
    /// The same so much later.
    pub(crate) fn later(&self, shift: Ticks) -> Told {
        Told {
            tick: self.tick + shift,
            ..*self
        }
    }
}

/// The buttons of a walk, in the order of their indices.
pub(crate) const BUTTONS: [&str; 5] = ["left", "right", "up", "down", "jump"];
pub(crate) const LEFT: ButtonIx = ButtonIx(0);
pub(crate) const RIGHT: ButtonIx = ButtonIx(1);
pub(crate) const UP: ButtonIx = ButtonIx(2);
pub(crate) const DOWN: ButtonIx = ButtonIx(3);
pub(crate) const JUMP: ButtonIx = ButtonIx(4);

/// Inputs that begin with an event, before its names are looked up.
#[derive(Clone)]
pub(super) struct Later {
    after: Pattern,
    /// Where it is written.
    path: Path,
    shift: Ticks,
    edges: Vec<Edge>,
    told: Vec<Told>,
    effects: Vec<ApplyPlan>,
    poses: Vec<PosePlan>,
}

/// The drills, and what each plays later.
pub(super) fn resolve(
    check: &mut Checker,
    drills: &Map<String, Drill>,
    rules: &[Rule],
    world: &World<'_>,
) -> (Vec<DrillPlan>, Vec<Vec<Later>>) {
    let base = Path::root().key("drill");
    let lasts = drills.iter().map(|(name, drill)| {
        let path = base.named(name);
        check.name(path.clone(), name, "a drill");
        let last = Tick(check.duration(path.key("length"), drill.length).0);
        if last > Tick(limits::DRILL_TICKS) {
            let message = format!(
                "a drill of {last} ticks; at most {} are allowed",
                limits::DRILL_TICKS
            );
            check.report(Finding::new(Code::TooMany, path.key("length"), message));
        }
        last
    });
    let lasts: Vec<Tick> = lasts.collect();
    let own = drills.iter().zip(&lasts).map(|((name, drill), last)| {
        let own = Uses::own(check, &base.named(name), drill, *last, world);
        (name.as_str(), own)
    });
    let mut scripts = Scripts {
        drills,
        own: own.collect(),
        made: Map::new(),
        making: Vec::new(),
        world,
    };
    let names = drills.iter().zip(lasts);
    names
        .map(|((name, drill), last)| {
            let (uses, later) = scripts.of(check, name);
            let plan = DrillPlan {
                name: name.clone(),
                last,
                seed: drill.seed,
                goes_on: drill.afterwards == Afterwards::GoesOn,
                told: uses.told(),
                effects: uses.effects(),
                poses: uses.poses(),
                edges: uses.edges(check, &base.named(name).key("input"), world),
                later: Vec::new(),
                tracks: tracks::resolve(check, &base.named(name), drill, world),
                log: hit_logs::resolve(check, &base.named(name), drill, rules, world),
                recording: None,
            };
            (plan, later)
        })
        .unzip()
}

/// Looks up the events after which drills play more.
pub(super) fn look_up(
    check: &mut Checker,
    plan: &Plan,
    later: Vec<Vec<Later>>,
) -> Vec<Vec<LaterPlan>> {
    let mut one = |later: Later| {
        let after = expectations::event(check, plan, &later.path, &later.after)?;
        Some(LaterPlan {
            after,
            written: write_toml(&[Entry::new("after", later.after.write())]),
            shift: later.shift,
            edges: later.edges,
            told: later.told,
            effects: later.effects,
            poses: later.poses,
        })
    };
    let all = later.into_iter();
    all.map(|own| own.into_iter().filter_map(&mut one).collect())
        .collect()
}

/// The inputs of drills, with those of others that they begin as.
struct Scripts<'a> {
    drills: &'a Map<String, Drill>,
    own: Map<&'a str, Uses>,
    made: Map<&'a str, (Uses, Vec<Later>)>,
    /// The drills that are being made, each one begins as the next.
    making: Vec<&'a str>,
    world: &'a World<'a>,
}

impl<'a> Scripts<'a> {
    fn of(&mut self, check: &mut Checker, name: &'a str) -> (Uses, Vec<Later>) {
        if let Some(made) = self.made.get(name) {
            return made.clone();
        }
        self.making.push(name);
        let mut uses = self.own.remove(name).unwrap_or_default();
        let mut later = Vec::new();
        let base = Path::root().key("drill").named(name).key("begins");
        let begins = &self.drills[name].begins.0;
        for (nth, begin) in begins.iter().enumerate() {
            let path = match begins.len() {
                1 => base.clone(),
                _ => base.index(nth),
            };
            self.begin(check, &path, begin, &mut uses, &mut later);
        }
        self.making.pop();
        if !check.at_most(
            base,
            later.len(),
            limits::BEGINS,
            "inputs that begin with an event",
        ) {
            later.truncate(limits::BEGINS);
        }
        self.made.insert(name, (uses.clone(), later.clone()));
        (uses, later)
    }

    fn begin(
        &mut self,
        check: &mut Checker,
        path: &Path,
        begin: &'a Begin,
        uses: &mut Uses,
        later: &mut Vec<Later>,
    ) {
        let Some((name, _)) = self.drills.get_key_value(&begin.drill) else {
            let known = self.drills.keys().map(String::as_str);
            check.unknown(path.key("drill"), "drill", &begin.drill, known);
            return;
        };
        if self.making.contains(&name.as_str()) {
            let message = format!("`{name}` begins as itself");
            let finding = Finding::new(Code::Contradiction, path.key("drill"), message);
            check.report(finding.help("begin as another drill"));
            return;
        }
        let (mut other, more) = self.of(check, name);
        if let Some(until) = begin.until {
            other = other.before(Tick(check.duration(path.key("until"), until).0));
        }
        let shift = begin
            .shift
            .map_or(Ticks(0), |shift| check.duration(path.key("shift"), shift));
        match &begin.after {
            None => {
                uses.join(other, shift);
                later.extend(more);
            }
            Some(after) => later.push(Later {
                after: after.clone(),
                path: path.key("after"),
                shift,
                told: other.told(),
                effects: other.effects(),
                poses: other.poses(),
                edges: other.edges(check, path, self.world),
            }),
        }
    }
}
