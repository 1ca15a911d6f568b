//! The plan: an encounter checked and resolved, names turned into indices, durations into ticks and
//! meters into thousandths.

mod arena;
mod attacks;
mod boxes;
mod breeds;
mod cast;
mod checker;
mod choice;
mod collect;
mod conditions;
mod deaths;
mod digest;
pub(crate) mod drills;
mod drives;
mod expectations;
mod faces;
mod gates;
mod goals;
mod guard;
mod heights;
mod hit_logs;
mod hits;
mod index;
mod inputs;
pub(crate) mod kinds;
mod launchers;
mod lookup;
mod measures;
mod meters;
mod motions;
mod names;
mod outside;
mod pairing;
mod portion;
mod present;
mod recording;
mod resolve;
mod respawns;
mod routes;
mod rules;
mod scope;
pub(crate) mod select;
mod sensors;
mod sizes;
mod spec;
mod specs;
mod sprites;
mod states;
mod timing;
mod tracks;

pub use arena::{ArenaPlan, SolidPlan};
pub use attacks::{AttackPlan, BoxSet, CancelPlan, Start};
pub use boxes::{BoxPlan, Growth, PulsePlan};
pub(crate) use breeds::Breed;
use breeds::Profile;
pub use cast::Actor;
pub use choice::{ChoiceError, Chosen};
pub use conditions::{ConditionPlan, OtherAsk};
pub use deaths::DeathPlan;
pub use drills::{DrillPlan, Edge, LaterPlan, Told};
pub use drives::{Drive, Target};
pub(crate) use expectations::Place;
pub(crate) use expectations::beside as expectations_beside;
pub use expectations::{
    About, Counted, DuringPlan, ExpectPlan, Expectations, ExpectedPlan, Holds, PatternPlan,
    StandPlan, StayArea, StayPlan,
};
pub(crate) use faces::facing;
pub use faces::{FaceAim, FacesPlan};
pub use gates::{Ask, GatePlan, SideOf};
pub use goals::{CheckpointPlan, ClearPlan, ExitPlan, NeedsPlan};
pub use guard::{GuardPlan, ParryPlan};
pub use heights::HeightPlan;
pub(crate) use hit_logs::LogPlan;
pub use hits::{DamagePlan, EffectPlan, PushPlan};
pub use index::{
    ActorIx, AttackIx, AttackNameIx, BoxIx, BreedIx, ButtonIx, CheckpointIx, CueIx, DrillIx,
    ExitIx, Ix, KindIx, LauncherIx, MeterIx, PauseIx, ProfileIx, RuleIx, SensorIx, SensorNameIx,
    SideIx, SortIx, SpecIx, StateIx, StateNameIx, TagIx,
};
pub(crate) use inputs::merged;
pub use launchers::{AimPlan, FlightPlan, LauncherPlan, LeavePlan};
pub use lookup::Unknown;
pub(crate) use measures::Gauge;
pub use measures::MeasurePlan;
pub use meters::{MeterPlan, RegenPlan, ReloadPlan};
pub use names::{List, Names};
pub use outside::{ApplyPlan, Named, Pose, PosePlan};
pub(crate) use outside::{AttackTold, NO_ATTACK, effect_of, pose_of};
pub use portion::PortionPlan;
pub use recording::Recording;
pub(crate) use recording::{Does, Introduction, Print, Report, Reports, Reread, Role, Source};
pub(crate) use resolve::{Resolution, resolve};
pub use respawns::{ResetPlan, RespawnPlan, ReturnPlan};
pub use routes::{Leg, RoutePlan};
pub use rules::{ReboundPlan, RulePlan};
pub use select::{Group, Selection, UnknownName};
pub use sensors::{PickupPlan, SensorForm, SensorPlan};
pub use spec::Spec;
pub(crate) use sprites::Asks;
pub use sprites::{ClipPlan, Moment, Shown, SpritePlan};
pub use states::{StatePlan, TransitionPlan};
pub(crate) use tracks::{RowsPlan, TrackPlan};

use std::sync::OnceLock;

use serde::Serialize;
use tin_crown_derive::Getters;

use crate::encounter::{Party, Who};
use crate::order;

/// The meter whose emptiness is death.
pub(crate) const HEALTH: &str = "health";

/// An encounter checked and resolved: all that a replay needs.
///
/// Lists are in the order of names (actors: of ids), but for rules, which keep the order of the
/// file.
///
/// ```
/// # let file = tin_crown::demo::FIRST_SHELF.as_bytes();
/// use tin_crown::encounter::Who;
///
/// let plan = tin_crown::check(file).plan.unwrap();
/// let beetles = plan.select(&Who::Tag("windup".into()))?;
/// assert_eq!(plan.cast().filter(|actor| beetles.contains(*actor)).count(), 4);
/// assert_eq!(plan.drill("carefull").unwrap_err().nearest.as_deref(), Some("careful"));
/// # Ok::<(), tin_crown::plan::UnknownName>(())
/// ```
#[derive(Clone, Debug, Getters, Serialize)]
pub struct Plan {
    /// What the encounter is called.
    #[serde(skip)]
    pub(crate) title: String,
    /// Ticks a second.
    pub(crate) rate: u32,
    /// The place.
    pub(crate) arena: ArenaPlan,
    /// Every name.
    #[serde(flatten)]
    pub(crate) names: Names,
    /// The kinds resolved, then placements that override parts of theirs.
    pub(crate) specs: Vec<Spec>,
    /// The placed actors.
    pub(crate) actors: Vec<Actor>,
    /// The rules.
    pub(crate) rules: Vec<RulePlan>,
    /// Places to come back to, in the order of names.
    pub(crate) checkpoints: Vec<CheckpointPlan>,
    /// Where a drill is won, in the order of names.
    pub(crate) exits: Vec<ExitPlan>,
    /// What else wins a drill.
    pub(crate) clear: Vec<ClearPlan>,
    /// The drills.
    #[serde(skip)]
    pub(crate) drills: Vec<DrillPlan>,
    /// The drills as they are written.
    #[serde(skip)]
    #[getters(skip)]
    pub(crate) drill_order: Vec<DrillIx>,
    /// What the drills have to come to.
    #[serde(skip)]
    pub(crate) expectations: Expectations,
    /// The rules that beat others, winners before those they beat.
    #[serde(skip)]
    #[getters(skip)]
    pub(crate) precedence: Vec<RuleIx>,
    #[serde(skip)]
    profiles: Vec<Profile>,
    /// The groups whose touch pauses meters.
    #[serde(skip)]
    #[getters(skip)]
    pub(crate) pauses: Vec<Group>,
    #[serde(skip)]
    #[getters(skip)]
    pub(crate) breeds: Vec<Breed>,
    /// The kinds that recordings introduce, and the breed of each that nobody made.
    #[serde(skip)]
    #[getters(skip)]
    pub(crate) introduced: Vec<(KindIx, BreedIx)>,
    /// The tags of each kind.
    #[serde(skip)]
    kind_tags: Vec<Vec<TagIx>>,
    /// The digest of it all, once it is asked for.
    #[serde(skip)]
    #[getters(skip)]
    print: OnceLock<[u8; 16]>,
}

impl Plan {
    /// Every drill, in the order of the file; of an encounter built in code, in the order of names.
    pub fn all_drills(&self) -> impl Iterator<Item = DrillIx> {
        self.drill_order.iter().copied()
    }

    /// Puts the drills in the order in which they are written.
    pub(crate) fn order_drills(&mut self, place: impl Fn(&str) -> Option<usize>) {
        let drills = &self.drills;
        order::sort_by_key(&mut self.drill_order, |drill| {
            place(&drills[drill.index()].name)
        });
    }

    /// Every placed actor, in the order of ids.
    pub fn cast(&self) -> impl Iterator<Item = ActorIx> + use<> {
        (0..self.actors.len()).map(ActorIx::new)
    }

    /// The placed actors that a selector names: an id, a kind, a `#tag`, or `*`.
    ///
    /// # Errors
    ///
    /// When no actor, kind or tag has that name; the error names the nearest.
    pub fn select(&self, who: &Who) -> Result<Selection<'_>, UnknownName> {
        Ok(Selection::new(self, self.names.look_up(who)?))
    }

    /// The resolved kind of a placed actor.
    ///
    /// # Panics
    ///
    /// When the actor is not a placed one of this plan: for what was launched, ask the [`Replay`](crate::ledger::Replay::spec) or the
    /// [`Sim`](crate::sim::Sim::spec).
    pub fn spec(&self, actor: ActorIx) -> &Spec {
        self.spec_of(self.placed(actor).spec)
    }

    /// An actor as it is placed.
    ///
    /// # Panics
    ///
    /// When it is no placed one of this plan.
    pub(crate) fn placed(&self, actor: ActorIx) -> &Actor {
        let (count, index) = (self.actors.len(), actor.index());
        let placed = self.actors.get(index);
        placed.unwrap_or_else(|| {
            panic!("actor {index} is none of the {count} that this plan places, and none that is remembered of what was launched")
        })
    }

    /// What a launched kind is to selectors.
    pub(crate) fn kind_subject(&self, kind: KindIx) -> select::Subject<'_> {
        select::Subject {
            actor: None,
            kind,
            tags: &self.kind_tags[kind.index()],
        }
    }

    pub(crate) fn breed(&self, breed: BreedIx) -> &Breed {
        &self.breeds[breed.index()]
    }

    pub(crate) fn spec_of(&self, spec: SpecIx) -> &Spec {
        &self.specs[spec.index()]
    }

    /// A digest of the plan, and of a drill.
    pub(crate) fn print(&self, drill: Option<&DrillPlan>) -> [u8; 16] {
        match drill {
            None => *self.print.get_or_init(|| digest::print(self, None)),
            drill => digest::print(self, drill),
        }
    }

    /// A digest of all that decides how a drill goes: 32 hexadecimal digits, the same for every
    /// file that means the same. Titles, and other drills, do not count.
    ///
    /// # Panics
    ///
    /// When an index is of another plan.
    pub fn digest(&self, drill: DrillIx) -> String {
        digest::digest(self, &self.drills[drill.index()])
    }

    /// Whether a rule does anything to whom but give.
    ///
    /// # Panics
    ///
    /// When an index is of another plan.
    pub fn harms_whom(&self, rule: RuleIx) -> bool {
        let rule = &self.rules[rule.index()];
        let also = rule.also.iter();
        let mut also = also.filter(|(party, _)| *party == Party::Whom);
        rule.does.harms() || also.any(|(_, does)| does.harms())
    }

    /// Whether a meter is the one whose emptiness is death.
    pub(crate) fn is_health(&self, meter: MeterIx) -> bool {
        self.names.meters[meter] == HEALTH
    }

    pub(crate) fn profile(&self, profile: ProfileIx) -> &[RuleIx] {
        &self.profiles[profile.index()].rules
    }

    /// How many sets of rules boxes give or take by.
    pub(crate) fn profiles(&self) -> impl ExactSizeIterator<Item = ProfileIx> + use<> {
        (0..self.profiles.len()).map(ProfileIx::new)
    }

    pub(crate) fn pauses_of(&self, profile: ProfileIx) -> &[PauseIx] {
        &self.profiles[profile.index()].pauses
    }
}
