//! The plan: an encounter checked and resolved, names turned into indices, durations into ticks and
//! meters into thousandths.

mod attacks;
mod cast;
mod checker;
mod digest;
pub(crate) mod drills;
mod gates;
mod guard;
mod hits;
mod index;
mod kinds;
mod pairing;
mod rules;
mod select;
mod sense;
mod spec;

pub use attacks::{AttackPlan, BoxSet, CancelPlan, Start};
pub use cast::Actor;
pub use drills::{DrillPlan, Edge};
pub use gates::{Ask, GatePlan, SideOf};
pub use guard::{GuardPlan, ParryPlan};
pub use hits::{DamagePlan, EffectPlan, PushPlan};
pub use index::{
    ActorIx, AttackIx, AttackNameIx, BoxIx, ButtonIx, DrillIx, KindIx, MeterIx, ProfileIx, RuleIx,
    SideIx, SortIx, SpecIx, TagIx,
};
pub use rules::{ReboundPlan, RulePlan};
pub use select::{Selection, UnknownName};
pub use spec::{BoxPlan, Drive, MeterPlan, Spec};

use std::collections::{BTreeMap, BTreeSet};
use std::fmt;
use std::sync::Arc;

use serde::Serialize;

use crate::encounter::{Contact, Encounter, Kind, Up, Who};
use crate::finding::{Code, Finding, Findings, Path};
use crate::geometry::Bounds;
use crate::limits;
use checker::Checker;

/// The meter whose emptiness is death.
pub(crate) const HEALTH: &str = "health";

/// An encounter checked and resolved: all that a replay needs.
///
/// Lists are in the order of names (actors: of ids), but for rules, which keep the order of the
/// file.
///
/// ```
/// # let file = include_bytes!("../../../tin-crown-cli/demo/first-shelf.toml");
/// use tin_crown::Who;
///
/// let plan = tin_crown::check(file).plan.unwrap();
/// let beetles = plan.select(&Who::Tag("windup".into()))?;
/// assert_eq!(plan.cast().filter(|actor| beetles.contains(*actor)).count(), 4);
/// assert_eq!(plan.drill("carefull").unwrap_err().nearest.as_deref(), Some("careful"));
/// # Ok::<(), tin_crown::UnknownName>(())
/// ```
#[derive(Debug, Serialize)]
pub struct Plan {
    /// What the encounter is called.
    #[serde(skip)]
    pub title: String,
    /// Ticks a second.
    pub rate: u32,
    /// The place.
    pub arena: ArenaPlan,
    /// The names of the kinds.
    pub kinds: Vec<String>,
    /// The names of the sides.
    pub sides: Vec<String>,
    /// The names of the tags.
    pub tags: Vec<String>,
    /// The names of the meters.
    pub meters: Vec<String>,
    /// The names of the attacks.
    pub attacks: Vec<String>,
    /// The types of damage.
    pub sorts: Vec<String>,
    /// The buttons: left, right, up, down, jump, then others by name.
    pub buttons: Vec<String>,
    /// The kinds resolved, then placements that override parts of theirs.
    pub specs: Vec<Spec>,
    /// The placed actors.
    pub actors: Vec<Actor>,
    /// The rules.
    pub rules: Vec<RulePlan>,
    /// The drills.
    #[serde(skip)]
    pub drills: Vec<DrillPlan>,
    /// The rules that beat others, winners before those they beat.
    #[serde(skip)]
    pub(crate) precedence: Vec<RuleIx>,
    #[serde(skip)]
    profiles: Vec<Vec<RuleIx>>,
}

/// The arena resolved.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct ArenaPlan {
    /// Its bounds.
    pub bounds: Bounds,
    /// Which way is up.
    pub up: Up,
    /// Acceleration downward, in units a second squared.
    pub gravity: f64,
    /// How contact is tested.
    pub contact: Contact,
    /// Walls and floors, sorted: their order says nothing.
    pub solids: Vec<SolidPlan>,
}

/// A wall or floor.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
pub struct SolidPlan {
    /// Where it is.
    pub bounds: Bounds,
    /// Whether it only stops who comes down on it.
    pub one_way: bool,
}

/// There is no drill of that name.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct UnknownDrill {
    /// The name asked for.
    pub name: String,
    /// The nearest name there is.
    pub nearest: Option<String>,
}

impl fmt::Display for UnknownDrill {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "there is no drill `{}`", self.name)?;
        match &self.nearest {
            Some(near) => write!(f, "; did you mean `{near}`?"),
            None => Ok(()),
        }
    }
}

impl std::error::Error for UnknownDrill {}

impl Plan {
    /// The drill of that name.
    ///
    /// # Errors
    ///
    /// When there is none; the error names the nearest.
    pub fn drill(&self, name: &str) -> Result<DrillIx, UnknownDrill> {
        let names = || self.drills.iter().map(|drill| drill.name.as_str());
        names()
            .position(|known| known == name)
            .map(DrillIx::new)
            .ok_or_else(|| UnknownDrill {
                name: name.to_owned(),
                nearest: crate::nearest::nearest(name, names()).map(str::to_owned),
            })
    }

    /// Every drill, in the order of names.
    pub fn all_drills(&self) -> impl Iterator<Item = DrillIx> + use<> {
        (0..self.drills.len()).map(DrillIx::new)
    }

    /// Every actor, in the order of ids.
    pub fn cast(&self) -> impl Iterator<Item = ActorIx> + use<> {
        (0..self.actors.len()).map(ActorIx::new)
    }

    /// The actor of that id.
    pub fn actor(&self, id: &str) -> Option<ActorIx> {
        self.actors
            .binary_search_by(|actor| actor.id.as_str().cmp(id))
            .ok()
            .map(ActorIx::new)
    }

    /// The actors that a selector names: an id, a kind, a `#tag`, or `*`.
    ///
    /// # Errors
    ///
    /// When nobody is called so; the error names the nearest.
    pub fn select(&self, who: &Who) -> Result<Selection<'_>, UnknownName> {
        let directory = select::Directory {
            kinds: &self.kinds,
            tags: &self.tags,
            actors: &self.actors,
        };
        Ok(Selection::new(self, directory.look_up(who)?))
    }

    /// The resolved kind of an actor.
    pub fn spec(&self, actor: ActorIx) -> &Spec {
        &self.specs[self.actors[actor.index()].spec.index()]
    }

    /// The name of a button.
    pub fn button(&self, button: ButtonIx) -> &str {
        &self.buttons[button.index()]
    }

    /// A digest of all that decides how a drill goes: 32 hexadecimal digits, the same for every
    /// file that means the same. Titles, and other drills, do not count.
    pub fn digest(&self, drill: DrillIx) -> String {
        digest::digest(self, &self.drills[drill.index()])
    }

    /// Replays a drill from beginning to end.
    ///
    /// # Errors
    ///
    /// When there is no drill of that name, or the ledger grows beyond
    /// [`limits::LEDGER_LINES`].
    pub fn replay(self: &Arc<Plan>, drill: &str) -> Result<crate::Replay, crate::ReplayError> {
        crate::sim::replay(self, self.drill(drill)?)
    }

    /// Whether a box that is always live gives by a rule.
    fn gives_always(&self, rule: RuleIx) -> bool {
        self.actors.iter().any(|actor| {
            let by_attack = self.specs[actor.spec.index()].by_attack.hit;
            let mut gives = actor.gives.iter().enumerate();
            gives.any(|(index, &profile)| {
                by_attack & (1 << index) == 0 && self.profile(profile).contains(&rule)
            })
        })
    }

    /// Whether a meter is the one whose emptiness is death.
    pub(crate) fn is_health(&self, meter: MeterIx) -> bool {
        self.meters[meter.index()] == HEALTH
    }

    pub(crate) fn profile(&self, profile: ProfileIx) -> &[RuleIx] {
        &self.profiles[profile.index()]
    }
}

/// Checks and resolves an encounter. There is a plan when no finding is an error.
pub(crate) fn resolve(encounter: &Encounter) -> (Option<Arc<Plan>>, Findings) {
    let mut check = Checker {
        findings: Findings::new(),
        // A wrong rate is one finding, not one for every duration too.
        rate: if limits::TICK_RATE.contains(f64::from(encounter.tick_rate)) {
            encounter.tick_rate
        } else {
            60
        },
    };
    let root = Path::root();
    check.number(
        root.key("tick_rate"),
        f64::from(encounter.tick_rate),
        &limits::TICK_RATE,
    );
    let arena = arena(&mut check, encounter);
    check.at_most(
        root.key("kind"),
        encounter.kinds.len(),
        limits::KINDS,
        "kinds",
    );
    let laid = kinds::laid(&mut check, encounter);
    let entrants = cast::enter(&mut check, encounter);

    let with = || entrants.iter().map(|entrant| entrant.with);
    let all = || laid.values().chain(with());
    let kinds: Vec<String> = laid.keys().cloned().collect();
    let sides = sorted(all().filter_map(|kind| kind.side.clone()));
    let tags = sorted(all().flat_map(|kind| kind.tags.clone().unwrap_or_default()));
    let meters = sorted(all().flat_map(|kind| kind.meters.keys().cloned()));
    let attacks = sorted(all().flat_map(|kind| kind.attacks.keys().cloned()));
    let buttons = drills::buttons(&mut check, all());
    let effects = encounter.rules.iter().flat_map(|rule| {
        let also = rule.also.iter().map(|also| &also.does);
        also.chain([&rule.does])
    });
    let damages = effects.flat_map(|does| does.damage.iter().chain(&does.heal));
    let sorts = sorted(damages.filter_map(|damage| damage.sort.clone()));
    for (name, kind) in &laid {
        for tag in kind.tags.iter().flatten() {
            check.name(kinds::path(name).key("tags"), tag, "a tag");
        }
    }

    let names = spec::Names {
        sides: &sides,
        meters: &meters,
        attacks: &attacks,
        sorts: &sorts,
        buttons: &buttons,
        up: encounter.arena.up,
        gravity: arena.gravity,
    };
    let mut specs = kind_specs(&mut check, encounter, &laid, &names);
    let kind_tags: Vec<Vec<TagIx>> = laid
        .values()
        .map(|kind| indices(kind.tags.iter().flatten(), &tags))
        .collect();
    let paths: Vec<Path> = entrants
        .iter()
        .map(|entrant| entrant.path.clone())
        .collect();
    let mut variants = BTreeMap::new();
    let mut actors: Vec<Actor> = entrants
        .into_iter()
        .map(|entrant| {
            let kind = kinds.binary_search_by(|name| name.as_str().cmp(entrant.kind));
            let kind = kind.unwrap_or_else(|_| unreachable!("entrants are of known kinds"));
            let own = Kind {
                tags: None,
                ..entrant.with.clone()
            };
            let spec = if own == Kind::default() {
                SpecIx::new(kind)
            } else {
                *variants.entry(entrant.path.clone()).or_insert_with(|| {
                    let laid = own.over(&laid[entrant.kind]);
                    let kind = KindIx::new(kind);
                    specs.push(spec::resolve(
                        &mut check,
                        &entrant.path,
                        kind,
                        &laid,
                        &names,
                    ));
                    SpecIx::new(specs.len() - 1)
                })
            };
            let more = indices(entrant.with.tags.iter().flatten(), &tags);
            let all: BTreeSet<TagIx> = kind_tags[kind].iter().copied().chain(more).collect();
            Actor {
                id: entrant.id,
                spec,
                at: entrant.at,
                facing: entrant.facing,
                tags: all.into_iter().collect(),
                gives: Vec::new(),
                takes: Vec::new(),
            }
        })
        .collect();
    let world = pairing::World {
        kinds: &kinds,
        kind_tags: &kind_tags,
        tags: &tags,
        meters: &meters,
        attacks: &attacks,
        sorts: &sorts,
        specs: &specs,
        actors: &actors,
    };
    let resolved = rules::resolve(&mut check, &encounter.rules, &world);
    let profiles = resolved.profiles.intern(&specs, &mut actors);
    let drills = drills::resolve(&mut check, &encounter.drills, &actors, &specs, &buttons);
    let plan = Plan {
        title: encounter.title.clone(),
        rate: check.rate,
        arena,
        kinds,
        sides,
        tags,
        meters,
        attacks,
        sorts,
        buttons,
        specs,
        actors,
        rules: resolved.rules,
        drills,
        precedence: resolved.precedence,
        profiles,
    };
    if !check.findings.has_errors() {
        sense::check(&mut check, &plan, &paths);
    }
    check.findings.withhold_guesses();
    let plan = (!check.findings.has_errors()).then(|| Arc::new(plan));
    (plan, check.findings)
}

/// The kinds resolved. What is wrong with a part that a kind took over from another is reported
/// there alone.
fn kind_specs(
    check: &mut Checker,
    encounter: &Encounter,
    laid: &BTreeMap<String, Kind>,
    names: &spec::Names<'_>,
) -> Vec<Spec> {
    let mut found: BTreeMap<&str, Findings> = BTreeMap::new();
    let mut specs = Vec::new();
    for (index, (name, kind)) in laid.iter().enumerate().take(limits::KINDS) {
        let mut alone = Checker {
            findings: Findings::new(),
            rate: check.rate,
        };
        let path = kinds::path(name);
        specs.push(spec::resolve(
            &mut alone,
            &path,
            KindIx::new(index),
            kind,
            names,
        ));
        found.insert(name, alone.findings);
    }
    for (name, findings) in &found {
        let like = encounter
            .kinds
            .get(*name)
            .and_then(|kind| kind.like.as_deref());
        let inherited = like.and_then(|like| found.get(like));
        for finding in findings {
            let known = inherited.into_iter().flatten().any(|earlier| {
                earlier.message == finding.message
                    && earlier.path.steps().get(2..) == finding.path.steps().get(2..)
            });
            if !known {
                check.report(finding.clone());
            }
        }
    }
    specs
}

fn arena(check: &mut Checker, encounter: &Encounter) -> ArenaPlan {
    let arena = &encounter.arena;
    let base = Path::root().key("arena");
    let solids_path = base.key("solids");
    check.at_most(
        solids_path.clone(),
        arena.solids.len(),
        limits::SOLIDS,
        "solids",
    );
    let bounds = bounds(
        check,
        &base.key("bounds"),
        arena.min,
        arena.max,
        "the arena",
    );
    let mut solids: Vec<SolidPlan> = Vec::new();
    for (index, solid) in arena.solids.iter().take(limits::SOLIDS).enumerate() {
        let path = solids_path.index(index);
        solids.push(SolidPlan {
            bounds: self::bounds(check, &path, solid.min, solid.max, "a solid"),
            one_way: solid.one_way,
        });
    }
    solids.sort_by(|a, b| {
        let key = |solid: &SolidPlan| {
            let Bounds { min, max } = solid.bounds;
            [min.x, min.y, max.x, max.y]
        };
        let both = key(a).into_iter().zip(key(b));
        both.map(|(a, b)| a.total_cmp(&b))
            .find(|order| order.is_ne())
            .unwrap_or(a.one_way.cmp(&b.one_way))
    });
    ArenaPlan {
        bounds,
        up: arena.up,
        gravity: check.number(base.key("gravity"), arena.gravity, &limits::GRAVITY),
        contact: arena.contact,
        solids,
    }
}

fn bounds(check: &mut Checker, path: &Path, min: [f64; 2], max: [f64; 2], what: &str) -> Bounds {
    let low = check.pair(&path.key("min"), min, &limits::COORDINATE);
    let high = check.pair(&path.key("max"), max, &limits::COORDINATE);
    if low[0] >= high[0] || low[1] >= high[1] {
        let message = format!(
            "the bounds of {what} are inside out: min [{}, {}] is not below max [{}, {}]",
            min[0], min[1], max[0], max[1]
        );
        check.report(
            Finding::new(Code::BadBounds, path.key("min"), message)
                .help("min holds the least x and y, max the greatest"),
        );
    }
    Bounds::new(low, high)
}

/// All of them once, in the order of their bytes.
fn sorted(names: impl Iterator<Item = String>) -> Vec<String> {
    let set: BTreeSet<String> = names.collect();
    set.into_iter().collect()
}

/// Where the tags that someone carries stand among all tags.
fn indices<'a>(own: impl Iterator<Item = &'a String>, all: &[String]) -> Vec<TagIx> {
    let mut indices: Vec<TagIx> = own
        .filter_map(|tag| all.binary_search(tag).ok())
        .map(TagIx::new)
        .collect();
    indices.sort_unstable();
    indices.dedup();
    indices
}
