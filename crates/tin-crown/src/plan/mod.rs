//! The plan: an encounter checked and resolved, names turned into indices, durations into ticks and
//! meters into thousandths.

mod arena;
mod attacks;
mod boxes;
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
mod resolve;
mod rules;
mod select;
mod sense;
mod spec;

pub use arena::{ArenaPlan, SolidPlan};
pub use attacks::{AttackPlan, BoxSet, CancelPlan, Start};
pub use boxes::BoxPlan;
pub use cast::Actor;
pub use drills::{DrillPlan, Edge};
pub use gates::{Ask, GatePlan, SideOf};
pub use guard::{GuardPlan, ParryPlan};
pub use hits::{DamagePlan, EffectPlan, PushPlan};
pub use index::{
    ActorIx, AttackIx, AttackNameIx, BoxIx, ButtonIx, DrillIx, KindIx, MeterIx, ProfileIx, RuleIx,
    SideIx, SortIx, SpecIx, TagIx,
};
pub(crate) use resolve::resolve;
pub use rules::{ReboundPlan, RulePlan};
pub use select::{Selection, UnknownName};
pub use spec::{Drive, MeterPlan, Spec};

use std::fmt;
use std::sync::Arc;

use serde::Serialize;

use crate::encounter::Who;

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
    /// When there is no drill of that name, or the replay goes beyond
    /// [`LEDGER_LINES`](crate::limits::LEDGER_LINES) or [`TOUCHES`](crate::limits::TOUCHES).
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
