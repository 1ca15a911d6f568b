//! The simulator: what happens in a tick, phase by phase. It knows no names, and allocates nothing
//! per tick but what the ledger grows by.

mod error;
mod inquest;
mod live;
mod log;
mod observer;
mod outlook;
mod parts;
mod phases;
mod played;
mod roll;
mod run;
mod slot;
mod snapshot;
mod sound;
mod state;
mod stock;
mod view;

use std::sync::Arc;

use crate::ledger::{Ledger, Replay};
use crate::limits;
use crate::plan::{ApplyPlan, DrillIx, LauncherIx, Plan};
use crate::time::Tick;
pub use error::ReplayError;
pub use inquest::{Answer, Inquest, Judged, Withheld};
pub use live::{ApplyError, Live, PoseError, PressError};
use observer::Observer;
pub use outlook::{Considered, Outlook, Part, Unseen, Weight};
pub use parts::actor::Ground;
use parts::{appearing, feed, resets};
use phases::{clocks, effects, intent, motion, record, touch, verdict};
use run::Run;
pub use snapshot::{Digest, Snapshot, SnapshotError};
use state::{Excess, Played, State};
pub use view::{ActorView, WindowView};

/// A drill being replayed, tick by tick. A clone is a snapshot, from which it goes on exactly alike.
///
/// ```
/// # let file = tin_crown::demo::FIRST_SHELF.as_bytes();
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
    /// What has happened up to the last tick, this one included.
    history: Ledger,
    /// The print of what was played besides the drill, where it is known.
    played: Option<played::Print>,
}

impl Sim {
    /// A drill on tick 0: the encounter as placed, everyone there, and their first touches judged.
    ///
    /// # Panics
    ///
    /// When an index is of another plan.
    pub fn new(plan: &Arc<Plan>, drill: DrillIx) -> Sim {
        Sim::observed(plan, drill, &mut ())
    }

    /// The same, watched.
    fn observed(plan: &Arc<Plan>, drill: DrillIx, observer: &mut impl Observer) -> Sim {
        Sim::begin(plan, Played::Drill(drill), observer)
    }

    fn begin(plan: &Arc<Plan>, played: Played, observer: &mut impl Observer) -> Sim {
        let mut state = State::new(plan, played, Tick(0));
        feed::begin(plan, &mut state);
        appearing::place(plan, &mut state, &mut Vec::new(), None);
        appearing::appear(plan, &mut state);
        judge(plan, &mut state, observer);
        let mut sim = Sim {
            plan: Arc::clone(plan),
            state,
            history: Ledger::default(),
            played: Some(played::UNPLAYED),
        };
        sim.remember();
        sim
    }

    /// What was told on the tick that is over becomes history.
    fn remember(&mut self) {
        let all = self.state.roll.all();
        let known = self.history.launched().last().map(|own| own.number);
        let new = all.partition_point(|own| Some(own.number) <= known);
        let launched = all[new..].iter().cloned();
        self.history.add(self.state.log.drain(), launched);
    }

    /// Adds an effect from outside, besides those of the drill.
    pub(crate) fn add_effect(&mut self, effect: ApplyPlan) {
        self.state.script.effects.add(effect);
    }

    /// Goes one tick on, and says whether there was one left to go.
    ///
    /// # Errors
    ///
    /// When the ledger is full, or more boxes touch, or more is there, than may.
    pub fn step(&mut self) -> Result<bool, ReplayError> {
        self.step_observed(&mut ())
    }

    /// The same, watched.
    fn step_observed(&mut self, observer: &mut impl Observer) -> Result<bool, ReplayError> {
        self.check()?;
        let Sim { plan, state, .. } = self;
        if state.is_over(plan) {
            return Ok(false);
        }
        clocks::run(plan, state);
        // When everything is reset, nobody decides or moves on that tick.
        if !resets::everything(plan, state) {
            intent::run(plan, state, observer);
            motion::run(plan, state);
        }
        judge(plan, state, observer);
        self.remember();
        self.check()?;
        Ok(true)
    }

    /// Whether the last tick stayed within the limits.
    fn check(&self) -> Result<(), ReplayError> {
        let (tick, drill) = (self.state.tick, || {
            let drill = self.state.played.drill(&self.plan);
            drill.map_or_else(|| "open run".to_owned(), |drill| drill.name.clone())
        });
        if let Some(own) = self.state.played.drill(&self.plan) {
            if own.is_recorded() && own.recording.is_none() {
                return Err(ReplayError::Unrecorded { drill: drill() });
            }
            if let Some(why) = self.state.feed.failed() {
                let (drill, why) = (drill(), why.to_owned());
                return Err(ReplayError::Recording { drill, tick, why });
            }
        }
        if self.state.contacts.touching.now.len() > limits::TOUCHES {
            return Err(ReplayError::TooManyTouches {
                drill: drill(),
                tick,
            });
        }
        if let Some(excess) = self.state.excess {
            return Err(self.explain(excess, drill()));
        }
        let full = self.history.len() > limits::LEDGER_LINES;
        if let (true, Played::Open { .. }) = (full, self.state.played) {
            return Err(ReplayError::Undrained { tick });
        }
        if full {
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
            Excess::Recorded => (limits::ALIVE, "actors at once", "a recording".to_owned()),
            Excess::Transitions(actor, state) => {
                let name = self.spec(actor).states[state.index()].name;
                let name = &self.plan.names.states[name];
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
                Excess::Recorded => "let the recording introduce fewer",
                Excess::Chain(..) => {
                    "let one of the chain launch nothing, and leave nothing behind"
                }
                _ => "give it a cooldown, or what it launches a shorter lifetime",
            },
        }
    }

    /// What has happened, as a replay.
    ///
    /// # Errors
    ///
    /// When the last tick went beyond a limit, or this is an open run.
    pub fn into_replay(self) -> Result<Replay, ReplayError> {
        self.check()?;
        let Played::Drill(drill) = self.state.played else {
            return Err(ReplayError::NoDrill);
        };
        Ok(Replay::new(self.plan, drill, self.history))
    }
}

/// Phases 4 to 7.
fn judge(plan: &Plan, state: &mut State, observer: &mut impl Observer) {
    state.pending.pushed.clear();
    touch::run(plan, state);
    verdict::run(plan, state);
    observer.judged(plan, state);
    effects::run(plan, state);
    observer.told(state);
    record::run(plan, state);
}

/// Replays a drill from beginning to end.
pub(crate) fn replay(plan: &Arc<Plan>, drill: DrillIx) -> Result<Replay, ReplayError> {
    let mut sim = Sim::new(plan, drill);
    while sim.step()? {}
    sim.into_replay()
}

impl Plan {
    /// Replays a drill from beginning to end.
    ///
    /// # Errors
    ///
    /// When there is no drill of that name, or the replay goes beyond
    /// [`LEDGER_LINES`](limits::LEDGER_LINES) or [`TOUCHES`](limits::TOUCHES).
    pub fn replay(self: &Arc<Plan>, drill: &str) -> Result<Replay, ReplayError> {
        replay(self, self.drill(drill)?)
    }
}
