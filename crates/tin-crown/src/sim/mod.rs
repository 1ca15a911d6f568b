//! The simulator: what happens in a tick, phase by phase. It knows no names, and allocates nothing
//! per tick but what the ledger grows by.

mod actor;
mod births;
mod buttons;
mod chance;
mod clocks;
mod crowds;
mod deaths;
mod drive;
mod effects;
mod fill;
mod flight;
mod gates;
mod goals;
mod grid;
mod guard;
mod inquest;
mod intent;
mod launch;
mod minds;
mod motion;
mod pairs;
mod pickups;
mod precedence;
mod record;
mod resets;
mod sense;
mod solids;
mod state;
mod strike;
mod swings;
mod touch;
mod verdict;
mod windows;

use std::sync::Arc;

use crate::amount::Amount;
use crate::encounter::{Facing, Phase};
use crate::geometry::Vec2;
use crate::ledger::{Ledger, Outcome};
use crate::limits;
use crate::plan::{
    ActorIx, AttackIx, BoxIx, BoxSet, Chosen, DrillIx, LauncherIx, Plan, RuleIx, Selection, Spec,
    SpecIx, StateIx, UnknownDrill,
};
use crate::time::{Tick, Ticks};
pub use inquest::{Answer, Inquest, Judged, Withheld};
use state::{Excess, State};

/// A drill being replayed, tick by tick. A clone is a snapshot, from which it goes on exactly alike.
///
/// ```
/// # let file = include_bytes!("../../../tin-crown-cli/demo/first-shelf.toml");
/// use tin_crown::Sim;
///
/// let plan = tin_crown::check(file).plan.unwrap();
/// let mut sim = Sim::new(&plan, plan.drill("careful")?);
/// while sim.tick().0 < 60 && sim.step()? {}
/// let snapshot = sim.clone();
/// let porter = sim.actor(plan.actor("porter").unwrap());
/// assert!(porter.alive);
/// # assert_eq!(snapshot.tick(), sim.tick());
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Clone, Debug)]
pub struct Sim {
    plan: Arc<Plan>,
    state: State,
}

/// An actor as it stands at the end of a tick.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct ActorView<'s> {
    /// Whether it is there and not dying.
    pub alive: bool,
    /// Whether its death plays out.
    pub dying: bool,
    /// How many lives it has left, this one included, when they are counted.
    pub lives: Option<u32>,
    /// Where it is.
    pub at: Vec2,
    /// Where it was when the tick began; of one that appeared on it, where it is.
    pub start: Vec2,
    /// Its velocity, in units a second.
    pub velocity: Vec2,
    /// Which way it faces.
    pub facing: Facing,
    /// Whether it stands on something.
    pub grounded: bool,
    /// Whether a window of invincibility is open, against whomever; what a guarded hit opens, only
    /// against itself, does not count.
    pub invincible: bool,
    /// The attack that it is in, and its phase.
    pub attack: Option<(AttackIx, Phase)>,
    /// Whether its guard is up.
    pub guarding: bool,
    /// Whether it cannot act.
    pub stunned: bool,
    /// The state that it is in.
    pub state: Option<StateIx>,
    /// How long it has been there, rests apart.
    pub age: Ticks,
    /// Whether it rests on the next tick, after a hit that says so.
    pub resting: bool,
    /// The boxes that were live on this tick.
    pub live: BoxSet,
    /// The velocity it set out with on this tick, before solids stopped it.
    pub set_out: Vec2,
    /// What its meters hold, in the order of its kind's meters.
    pub meters: &'s [Amount],
}

/// A replay that cannot be.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum ReplayError {
    /// There is no such drill.
    #[error(transparent)]
    Drill(#[from] UnknownDrill),
    /// The ledger would grow beyond its limit.
    #[error(
        "the ledger of drill `{drill}` is full on tick {tick}: {} lines are the most it may have; \
         shorten the drill, or space the hits",
        limits::LEDGER_LINES
    )]
    LedgerFull {
        /// The drill.
        drill: String,
        /// The tick on which it was full.
        tick: Tick,
    },
    /// More actors, launches or changes of state than there may be.
    #[error(
        "on tick {tick} of drill `{drill}` there are more than {most} {of}, the most there may be; the \
         last straw is {last_straw}: {help}"
    )]
    TooMany {
        /// The drill.
        drill: String,
        /// The tick.
        tick: Tick,
        /// Of what.
        of: &'static str,
        /// How many there may be.
        most: usize,
        /// The launcher or state that went beyond.
        last_straw: String,
        /// What to do.
        help: &'static str,
    },
    /// More boxes touch each other on one tick than may.
    #[error(
        "on tick {tick} of drill `{drill}` more than {} pairs of boxes touch, the most there may be; \
         place fewer actors in one spot, or let rules pair fewer boxes",
        limits::TOUCHES
    )]
    TooManyTouches {
        /// The drill.
        drill: String,
        /// The tick.
        tick: Tick,
    },
}

/// A drill replayed from beginning to end.
///
/// ```
/// # let file = include_bytes!("../../../tin-crown-cli/demo/first-shelf.toml");
/// let plan = tin_crown::check(file).plan.unwrap();
/// let replay = plan.replay("careless")?;
/// let first = &replay.summary().dealt[0];
/// assert_eq!((first.hits, first.first.0), (3, 64));
/// let mut jsonl = Vec::new();
/// replay.write_jsonl(&mut jsonl, replay.ledger().events())?;
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Clone, Debug)]
pub struct Replay {
    plan: Arc<Plan>,
    drill: DrillIx,
    ledger: Ledger,
}

impl Replay {
    /// The plan that was replayed.
    pub fn plan(&self) -> &Arc<Plan> {
        &self.plan
    }

    /// The drill that was replayed.
    pub fn drill(&self) -> DrillIx {
        self.drill
    }

    /// Everything that happened.
    pub fn ledger(&self) -> &Ledger {
        &self.ledger
    }

    /// The id of an actor, placed or launched.
    pub fn id(&self, actor: ActorIx) -> &str {
        self.ledger.id(&self.plan, actor)
    }

    /// The resolved kind of an actor, placed or launched.
    pub fn spec(&self, actor: ActorIx) -> &Spec {
        &self.plan.specs[self.spec_index(actor).index()]
    }

    /// Where that stands in the plan.
    pub fn spec_index(&self, actor: ActorIx) -> SpecIx {
        match self.ledger.origin(actor) {
            Some(launched) => launched.spec,
            None => self.plan.actors[actor.index()].spec,
        }
    }

    /// Whether an actor, or one of its makers, is among those that a selection names.
    pub fn is_of(&self, selection: &Selection<'_>, actor: ActorIx) -> bool {
        let kind = self.spec(actor).kind;
        match self.ledger.origin(actor) {
            None => selection.contains(actor),
            Some(launched) => selection.is_of_kind(kind) || self.is_of(selection, launched.maker),
        }
    }

    /// Whether an actor itself is asked for.
    pub fn is_chosen(&self, chosen: &Chosen, actor: ActorIx) -> bool {
        let plan = &self.plan;
        match self.ledger.origin(actor) {
            None => chosen.means(plan, self.id(actor), Ok(actor)),
            Some(launched) => {
                let subject = plan.kind_subject(plan.spec_of(launched.spec).kind);
                chosen.means(plan, &launched.id, Err(&subject))
            }
        }
    }

    /// Whether an actor, or one of its makers, is asked for.
    pub fn acts_for(&self, chosen: &Chosen, actor: ActorIx) -> bool {
        let maker = || self.ledger.origin(actor).map(|launched| launched.maker);
        self.is_chosen(chosen, actor) || maker().is_some_and(|maker| self.acts_for(chosen, maker))
    }

    /// The placed actor to whose credit an actor's hits are: itself, or the root of its makers.
    pub fn root(&self, actor: ActorIx) -> ActorIx {
        self.ledger
            .origin(actor)
            .map_or(actor, |launched| launched.root)
    }
}

pub(crate) fn replay(plan: &Arc<Plan>, drill: DrillIx) -> Result<Replay, ReplayError> {
    let mut sim = Sim::new(plan, drill);
    while sim.step()? {}
    sim.into_replay()
}

impl Sim {
    /// A drill on tick 0: the encounter as placed, everyone there, and their first touches judged.
    pub fn new(plan: &Arc<Plan>, drill: DrillIx) -> Sim {
        let mut sim = Sim::placed(plan, drill);
        judge(plan, &mut sim.state);
        sim
    }

    /// Everyone as placed on tick 0, whose touches are not judged yet.
    fn placed(plan: &Arc<Plan>, drill: DrillIx) -> Sim {
        let mut state = State::new(plan, drill, Tick(0));
        births::place(plan, &mut state, &mut Vec::new(), None);
        Sim {
            plan: Arc::clone(plan),
            state,
        }
    }

    /// Goes one tick on, and says whether there was one left to go.
    ///
    /// # Errors
    ///
    /// When the ledger is full, or more boxes touch than may.
    pub fn step(&mut self) -> Result<bool, ReplayError> {
        if !self.advance()? {
            return Ok(false);
        }
        judge(&self.plan, &mut self.state);
        self.check()?;
        Ok(true)
    }

    /// Phases 1 to 3 of the next tick, if there is one left to go.
    fn advance(&mut self) -> Result<bool, ReplayError> {
        self.check()?;
        let Sim { plan, state } = self;
        if state.is_over(plan) {
            return Ok(false);
        }
        clocks::run(plan, state);
        // When everything is put back, nobody decides or moves on that tick.
        if !resets::everything(plan, state) {
            intent::run(plan, state);
            motion::run(plan, state);
        }
        Ok(true)
    }

    /// Whether the last tick stayed within the limits.
    fn check(&self) -> Result<(), ReplayError> {
        let (tick, drill) = (self.state.tick, || {
            self.plan.drills[self.state.drill.index()].name.clone()
        });
        if self.state.touching.now.len() > limits::TOUCHES {
            return Err(ReplayError::TooManyTouches {
                drill: drill(),
                tick,
            });
        }
        if let Some(excess) = self.state.excess {
            return Err(self.explain(excess, drill()));
        }
        if self.state.ledger.len() > limits::LEDGER_LINES {
            return Err(ReplayError::LedgerFull {
                drill: drill(),
                tick,
            });
        }
        Ok(())
    }

    /// Which limit the last tick went beyond, and because of whom.
    fn explain(&self, excess: Excess, drill: String) -> ReplayError {
        let tick = self.state.tick;
        let source = |maker, launcher: Option<LauncherIx>| match launcher {
            Some(launcher) => {
                let name = &self.spec(maker).launchers[launcher.index()].name;
                format!("launcher `{name}` of `{}`", self.id(maker))
            }
            None => format!("what `{}` leaves behind", self.id(maker)),
        };
        let (most, of, last_straw) = match excess {
            Excess::Alive(maker, launcher) => {
                (limits::ALIVE, "actors at once", source(maker, launcher))
            }
            Excess::Launches(maker, launcher) => (
                limits::LAUNCHES,
                "launches on one tick",
                source(maker, launcher),
            ),
            Excess::Launched(maker, launcher) => (
                limits::LAUNCHED,
                "launches in one drill",
                source(maker, launcher),
            ),
            Excess::Chain(maker, launcher) => (
                limits::CHAIN,
                "makers of one actor",
                source(maker, launcher),
            ),
            Excess::Transitions(actor, state) => {
                let name = self.spec(actor).states[state.index()].name;
                let name = &self.plan.states[name.index()];
                let source = format!("state `{name}` of `{}`", self.id(actor));
                (limits::TRANSITIONS, "changes of state on one tick", source)
            }
        };
        ReplayError::TooMany {
            drill,
            tick,
            of,
            most,
            last_straw,
            help: match excess {
                Excess::Transitions(..) => "let fewer change at once",
                Excess::Chain(..) => {
                    "let one of the chain launch nothing, and leave nothing behind"
                }
                _ => "give it a cooldown, or what it launches a shorter lifetime",
            },
        }
    }

    /// The last tick that was played.
    pub fn tick(&self) -> Tick {
        self.state.tick
    }

    /// The drill that is played.
    pub fn drill(&self) -> DrillIx {
        self.state.drill
    }

    /// The plan that is played.
    pub fn plan(&self) -> &Arc<Plan> {
        &self.plan
    }

    /// How the drill ended, when it has.
    pub fn outcome(&self) -> Option<Outcome> {
        self.state.outcome
    }

    /// Everyone who is there, or may come back, in the order of ids.
    pub fn cast(&self) -> impl Iterator<Item = ActorIx> {
        self.state.order.iter().copied()
    }

    /// The id of an actor, placed or launched.
    pub fn id(&self, actor: ActorIx) -> &str {
        self.state.ledger.id(&self.plan, actor)
    }

    /// The resolved kind of an actor, placed or launched.
    pub fn spec(&self, actor: ActorIx) -> &Spec {
        self.state.spec(&self.plan, actor)
    }

    /// Whom a sensor of an actor notices (by its place in the kind's list), and how far off they are.
    pub fn noticed(&self, actor: ActorIx, sensor: usize) -> impl Iterator<Item = (ActorIx, f64)> {
        let first = self.state.actors[actor.index()].life.sensors.start;
        let sight = &self.state.sights[first + sensor];
        sight.seen.iter().map(|seen| (seen.whom, seen.distance))
    }

    /// An actor as it stands.
    pub fn actor(&self, actor: ActorIx) -> ActorView<'_> {
        let state = &self.state;
        let own = &state.actors[actor.index()];
        let guard = self.spec(actor).guard.as_ref();
        ActorView {
            alive: own.alive && !own.dying,
            dying: own.dying,
            lives: own.life.lives,
            at: own.at,
            start: own.start,
            velocity: own.velocity,
            facing: own.facing,
            grounded: own.ground.is_some(),
            invincible: own.is_invincible(state.tick),
            attack: swings::under_way(&self.plan, own, state.tick),
            guarding: guard.is_some_and(|guard| guard::is_up(guard, own.life.guard, state.tick)),
            stunned: own.is_stunned(state.tick + Ticks(1)),
            resting: own.rests(state.tick + Ticks(1)),
            live: BoxSet {
                hit: own.live.hit,
                // Those that no step keeps only say `down`.
                hurt: own
                    .life
                    .dying
                    .map_or(own.live.hurt, |dying| dying.kept.hurt),
            },
            set_out: own.set_out,
            state: own.life.mind.state,
            age: own.age(state.tick),
            meters: &state.meters[own.life.meters.clone()],
        }
    }

    /// At whom a launcher of an actor (by its place in the kind's list) would be aimed now, and at which
    /// place: where they stand, or will be met. Nobody when its aim does not depend on others, or nobody
    /// is there. Of a speed by chance, its mean is taken.
    pub fn aimed_at(&self, actor: ActorIx, launcher: usize) -> Option<(ActorIx, Vec2)> {
        let own = &self.state.actors[actor.index()];
        let launcher = self.spec(actor).launchers.get(launcher)?;
        let muzzle = launcher.muzzle;
        let muzzle = own.at + Vec2::new(muzzle.x * own.facing.sign(), muzzle.y);
        let speed = launcher.speed.mean();
        let (whom, way) = launch::aim(&self.state, actor, launcher.aim, muzzle, speed)?;
        Some((whom, muzzle + way))
    }

    /// The rules by which a hitbox of an actor gives.
    pub fn gives(&self, actor: ActorIx, hitbox: BoxIx) -> &[RuleIx] {
        let breed = self.plan.breed(self.state.actors[actor.index()].breed);
        self.plan.profile(breed.gives[hitbox.index()])
    }

    /// The rules by which a hurtbox of an actor takes.
    pub fn takes(&self, actor: ActorIx, hurtbox: BoxIx) -> &[RuleIx] {
        let breed = self.plan.breed(self.state.actors[actor.index()].breed);
        self.plan.profile(breed.takes[hurtbox.index()])
    }

    /// The rules by which a hitbox of who hits a hurtbox of whom.
    pub fn rules_between(
        &self,
        (who, hitbox): (ActorIx, BoxIx),
        (whom, hurtbox): (ActorIx, BoxIx),
    ) -> impl Iterator<Item = RuleIx> {
        touch::common(self.gives(who, hitbox), self.takes(whom, hurtbox))
    }

    /// What has happened so far.
    pub fn ledger(&self) -> &Ledger {
        &self.state.ledger
    }

    /// What has happened, as a replay.
    ///
    /// # Errors
    ///
    /// When the last tick went beyond a limit.
    pub fn into_replay(self) -> Result<Replay, ReplayError> {
        self.check()?;
        Ok(Replay {
            plan: self.plan,
            drill: self.state.drill,
            ledger: self.state.ledger,
        })
    }
}

/// Phases 4 to 7.
fn judge(plan: &Plan, state: &mut State) {
    touch::run(plan, state);
    verdict::run(plan, state);
    effects::run(plan, state);
    record::run(plan, state);
}
