//! Playing by hand: somebody presses buttons, turns time back, changes numbers, and keeps what was played.

mod branch;
mod draft;
mod error;
mod ghost;
mod hands;
mod keep;
mod numbers;
mod snapshots;
mod stage;
mod take;
mod time;

pub use branch::Branch;
pub use draft::Draft;
pub use error::{DriveError, KeepError, PlayError};
pub use ghost::{Ghost, Parting, Stance};
pub use hands::Player;
pub use keep::{Kept, explain_line};
pub use numbers::{Change, Changed};

use std::sync::Arc;

use crate::encounter::Encounter;
use crate::map::Set;
use crate::plan::Plan;
use crate::sim::Sim;
use crate::time::Tick;
use branch::Branches;
use stage::Stage;
use take::Take;

/// What is played.
#[derive(Clone, Debug, Default)]
pub struct Setup {
    /// The drill by which those go on whom nobody drives; without one they stand.
    pub drill: Option<String>,
    /// From which chance is drawn, without a drill.
    pub seed: u32,
}

/// An encounter in somebody's hands: at any tick of what was played, with the numbers as they are now.
///
/// ```
/// use tin_crown::play::{Session, Setup};
/// use tin_crown::{Tick, demo};
///
/// let checked = tin_crown::check(demo::FIRST_SHELF.as_bytes());
/// let (encounter, plan) = (checked.encounter.unwrap(), checked.plan.unwrap());
/// let mut session = Session::new(&encounter, &plan, Setup::default())?;
/// session.press("right", true)?;
/// for _ in 0..60 {
///     session.play()?;
/// }
/// // Back, and on from there in another way: the first is kept.
/// session.seek(Tick(30))?;
/// session.press("right", false)?;
/// session.play()?;
/// assert_eq!((session.tick(), session.branches().count()), (Tick(31), 2));
/// // What was played, as a drill.
/// let kept = session.keep(session.tick())?;
/// assert_eq!(kept.drill.input.len(), 1);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Clone, Debug)]
pub struct Session {
    setup: Setup,
    /// The encounter as its file has it.
    written: Encounter,
    /// The same with the numbers that were changed.
    encounter: Encounter,
    changes: Vec<Change>,
    /// The encounter with its own drills.
    plan: Arc<Plan>,
    /// Whoever was driven at some time: their inputs come from here alone.
    hands: Set<String>,
    driven: Option<Arc<str>>,
    /// The buttons that the hands hold down.
    held: Set<Arc<str>>,
    branches: Branches,
    take: Take,
    ghost: Option<Ghost>,
    marks: Vec<Mark>,
    /// How many lines of the ledger have stayed since somebody asked.
    stayed: usize,
}

/// Where the session was before something was done.
#[derive(Clone, Debug)]
struct Mark {
    branch: u32,
    tick: Tick,
    changes: Vec<Change>,
}

impl Session {
    /// A session on tick 0, in which the first player is driven. The plan is the encounter's; it has the recordings
    /// of the drill, if it is driven by some.
    ///
    /// # Errors
    ///
    /// When there is no such drill, or it cannot be played on.
    pub fn new(
        encounter: &Encounter,
        plan: &Arc<Plan>,
        setup: Setup,
    ) -> Result<Session, PlayError> {
        if let Some(drill) = &setup.drill {
            plan.drill(drill)?;
        }
        let drivable = hands::players(plan, &setup);
        let first = drivable.first().map(|player| Arc::<str>::from(&*player.id));
        let hands: Set<String> = first.iter().map(|id| id.to_string()).collect();
        let stage = Stage::new(encounter, plan, &setup, &hands)?;
        Ok(Session {
            take: Take::new(stage),
            setup,
            written: encounter.clone(),
            encounter: encounter.clone(),
            changes: Vec::new(),
            plan: Arc::clone(plan),
            hands,
            driven: first,
            held: Set::new(),
            branches: Branches::new(),
            ghost: None,
            marks: Vec::new(),
            stayed: 0,
        })
    }

    /// The run as it stands.
    pub fn run(&self) -> &Sim {
        &self.take.run
    }

    /// The plan of the encounter as it is now, with its own drills.
    pub fn plan(&self) -> &Arc<Plan> {
        &self.plan
    }

    /// The encounter as it is now.
    pub fn encounter(&self) -> &Encounter {
        &self.encounter
    }

    /// The encounter as its file has it.
    pub fn written(&self) -> &Encounter {
        &self.written
    }

    /// What is played.
    pub fn setup(&self) -> &Setup {
        &self.setup
    }

    /// The present tick.
    pub fn tick(&self) -> Tick {
        self.take.run.tick()
    }

    /// The last tick that was played on this branch.
    pub fn end(&self) -> Tick {
        self.branches.current().end
    }

    /// How many lines of the ledger are as they were when this was asked last.
    pub fn stayed(&mut self) -> usize {
        let stayed = self.stayed;
        self.stayed = self.take.run.ledger().len();
        stayed
    }

    fn rewound(&mut self) {
        self.stayed = self.stayed.min(self.take.run.ledger().len());
    }
}
