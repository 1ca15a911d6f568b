//! Playing by hand: somebody presses buttons, turns time back, changes numbers, and keeps what was played.

mod branch;
mod draft;
mod error;
mod ghost;
mod keep;
mod numbers;
mod snapshots;
mod stage;
mod take;

pub use branch::Branch;
pub use draft::Draft;
pub use error::{DriveError, KeepError, PlayError};
pub use ghost::{Ghost, Parting, Stance};
pub use keep::{Kept, explain_line};
pub use numbers::{Change, Changed};

use std::collections::BTreeSet;
use std::sync::Arc;

use crate::encounter::{Encounter, Setting};
use crate::finding::Path;
use crate::plan::Plan;
use crate::sim::{PressError, ReplayError, Sim};
use crate::study;
use crate::time::Tick;
use branch::{Branches, Call};
use stage::Stage;
use take::Take;

/// So many steps can be undone.
const UNDONE: usize = 200;

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
    hands: BTreeSet<String>,
    driven: Option<Arc<str>>,
    /// The buttons that the hands hold down.
    held: BTreeSet<Arc<str>>,
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

/// Somebody who can be driven.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Player {
    /// The id.
    pub id: String,
    /// Whether its lives decide the drill.
    pub player: bool,
    /// The buttons that it has.
    pub buttons: Vec<String>,
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
        let drivable = players(plan, &setup);
        let first = drivable.first().map(|player| Arc::<str>::from(&*player.id));
        let hands: BTreeSet<String> = first.iter().map(|id| id.to_string()).collect();
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
            held: BTreeSet::new(),
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

/// Whose hands, and on what.
impl Session {
    /// Everyone who has a button and is not moved by the drill's recordings or poses: players first, each in the
    /// order of ids.
    pub fn players(&self) -> Vec<Player> {
        players(&self.plan, &self.setup)
    }

    /// Who is driven; nobody where nobody has a button.
    pub fn driven(&self) -> Option<&str> {
        self.driven.as_deref()
    }

    /// From now on drives another: what was pressed for whom was driven up to now stays as it is, and goes on when
    /// time is turned back and played again.
    ///
    /// # Errors
    ///
    /// When it has no buttons, or something else moves it.
    pub fn drive(&mut self, id: &str) -> Result<(), DriveError> {
        let players = self.players();
        if !players.iter().any(|player| player.id == id) {
            let known = players.into_iter().map(|player| player.id).collect();
            let who = id.to_owned();
            return Err(DriveError::Nobody { who, known });
        }
        self.release();
        if self.hands.insert(id.to_owned()) {
            // What its drill pressed so far is as if the hands had.
            let now = self.tick();
            let calls = self.take.stage.calls_of(&self.take.run, id, now);
            self.branches.add(calls);
            let replayed = Stage::new(&self.encounter, &self.plan, &self.setup, &self.hands)
                .map_err(DriveError::from)
                .and_then(|stage| Ok(self.replayed(stage)?));
            match replayed {
                Ok(take) => self.settle(take),
                Err(error) => {
                    self.hands.remove(id);
                    self.branches.remove(id);
                    return Err(error);
                }
            }
        }
        self.driven = Some(id.into());
        Ok(())
    }

    /// A button of whom is driven goes down or up, as of the next tick that is played.
    ///
    /// # Errors
    ///
    /// When the button does nothing for it.
    pub fn press(&mut self, button: &str, down: bool) -> Result<(), PressError> {
        let Some(who) = self.driven.clone() else {
            return Ok(());
        };
        let button: Arc<str> = button.into();
        let players = self.players();
        let own = players.into_iter().find(|player| *player.id == *who);
        let known = own.map_or_else(Vec::new, |player| player.buttons);
        if !known.iter().any(|known| **known == *button) {
            return Err(PressError {
                who: who.to_string(),
                button: button.to_string(),
                known,
            });
        }
        let changed = match down {
            true => self.held.insert(Arc::clone(&button)),
            false => self.held.remove(&button),
        };
        // In the past the hands only get ready: what was played stays till they play on.
        if changed && self.tick() == self.end() {
            self.call(button, down);
        }
        Ok(())
    }

    /// Everything that the hands hold goes up.
    pub fn release(&mut self) {
        for button in std::mem::take(&mut self.held) {
            if self.tick() == self.end() {
                self.call(button, false);
            }
        }
    }

    fn call(&mut self, button: Arc<str>, down: bool) {
        let Some(who) = self.driven.clone() else {
            return;
        };
        let after = self.tick();
        let call = Call {
            after,
            who,
            button,
            down,
        };
        self.branches.current_mut().push(call);
    }

    /// What is down is what the hands hold.
    fn grip(&mut self) {
        let Some(who) = self.driven.clone() else {
            return;
        };
        let now = self.tick();
        for (button, mut down) in self.take.buttons(&who) {
            let calls = self.branches.current().at(now);
            let last = calls.iter().rev().find(|call| call.is(&who, &button));
            down = last.map_or(down, |call| call.down);
            let holds = self.held.contains(&button);
            if holds != down {
                self.call(button, holds);
            }
        }
    }
}

/// Time.
impl Session {
    /// Plays a tick by hand. Before the end of what was played it begins a new branch there.
    ///
    /// # Errors
    ///
    /// When the run goes beyond a limit: see [`Sim::step`].
    pub fn play(&mut self) -> Result<(), ReplayError> {
        if self.tick() < self.end() {
            self.mark();
            let now = self.tick();
            let who = self.driven.clone();
            self.branches.fork(now, who.as_deref());
            self.take.snapshots.cut(now);
        }
        self.grip();
        let calls = self.branches.current();
        self.take.advance(calls, self.ghost.as_ref())?;
        self.branches.current_mut().end = self.take.run.tick();
        Ok(())
    }

    /// Goes to a tick of what was played on this branch, or to its end.
    ///
    /// # Errors
    ///
    /// As [`play`](Self::play).
    pub fn seek(&mut self, tick: Tick) -> Result<(), ReplayError> {
        let tick = tick.min(self.end());
        if tick < self.tick() {
            self.take.back_to(tick);
            self.rewound();
        }
        let calls = self.branches.current();
        self.take.run_to(tick, calls, self.ghost.as_ref())
    }

    /// The branches that are kept, in the order in which they began.
    pub fn branches(&self) -> impl Iterator<Item = &Branch> {
        self.branches.all()
    }

    /// The branch that is played.
    pub fn branch(&self) -> &Branch {
        self.branches.current()
    }

    /// Returns to the end of another branch; nothing happens when it is not kept.
    ///
    /// # Errors
    ///
    /// As [`play`](Self::play).
    pub fn switch(&mut self, branch: u32) -> Result<(), ReplayError> {
        if branch == self.branch().id || !self.branches().any(|own| own.id == branch) {
            return Ok(());
        }
        self.mark();
        self.go(branch, Tick(u32::MAX))
    }

    fn go(&mut self, branch: u32, tick: Tick) -> Result<(), ReplayError> {
        let common = self.branches.switch(branch);
        self.take.snapshots.cut(common);
        if common < self.tick() {
            self.take.back_to(common);
            self.rewound();
        }
        self.seek(tick)
    }

    fn mark(&mut self) {
        let mark = Mark {
            branch: self.branch().id,
            tick: self.end(),
            changes: self.changes.clone(),
        };
        self.marks.push(mark);
        if self.marks.len() > UNDONE {
            self.marks.remove(0);
        }
    }

    /// Takes back the last new branch, change of a branch or change of a number; says whether there was one.
    ///
    /// # Errors
    ///
    /// As [`play`](Self::play).
    pub fn undo(&mut self) -> Result<bool, PlayError> {
        let Some(mark) = self.marks.pop() else {
            return Ok(false);
        };
        let now = self.tick();
        if mark.changes != self.changes {
            self.put(mark.changes)?;
        }
        if mark.branch != self.branch().id {
            self.go(mark.branch, mark.tick)?;
        } else {
            self.seek(now)?;
        }
        Ok(true)
    }
}

/// The run under other numbers.
impl Session {
    /// Another run under a stage, up to the present tick.
    fn replayed(&self, stage: Stage) -> Result<Take, ReplayError> {
        let mut take = Take::new(stage);
        take.run_to(self.tick(), self.branches.current(), self.ghost.as_ref())?;
        Ok(take)
    }

    fn settle(&mut self, take: Take) {
        self.take = take;
        self.stayed = 0;
    }

    /// A drill to be seen beside what is played, or none.
    ///
    /// # Errors
    ///
    /// When there is no such drill, or it cannot be replayed.
    pub fn haunt(&mut self, drill: Option<&str>) -> Result<(), PlayError> {
        self.ghost = match drill {
            Some(drill) => Some(Ghost::new(&self.plan, drill)?),
            None => None,
        };
        // Where they part may lie behind.
        let take = self.replayed(self.take.stage.clone())?;
        self.settle(take);
        Ok(())
    }

    /// The drill that is seen beside what is played.
    pub fn ghost(&self) -> Option<&Ghost> {
        self.ghost.as_ref()
    }

    /// Where what is played first parts from the ghost, up to now.
    pub fn parting(&self) -> Option<&Parting> {
        self.take.parting.as_ref()
    }

    /// How the run was changed since its file was read.
    pub fn changes(&self) -> &[Change] {
        &self.changes
    }

    /// Gives the encounter a value, and replays the run with the same inputs up to the present tick.
    ///
    /// # Errors
    ///
    /// When the path leads nowhere, or the encounter makes no sense with that value; then nothing is changed.
    pub fn set(&mut self, path: &Path, value: impl Into<Setting>) -> Result<Changed, PlayError> {
        let mut changes = self.changes.clone();
        changes.retain(|change| change.path != *path);
        changes.push(Change {
            path: path.clone(),
            value: value.into(),
        });
        self.change(changes)
    }

    /// Gives a value back that was changed.
    ///
    /// # Errors
    ///
    /// As [`set`](Self::set).
    pub fn unset(&mut self, path: &Path) -> Result<Changed, PlayError> {
        let mut changes = self.changes.clone();
        changes.retain(|change| change.path != *path);
        self.change(changes)
    }

    fn change(&mut self, changes: Vec<Change>) -> Result<Changed, PlayError> {
        self.mark();
        let changed = self.put(changes);
        if changed.is_err() {
            self.marks.pop();
        }
        changed
    }

    fn put(&mut self, changes: Vec<Change>) -> Result<Changed, PlayError> {
        let mut encounter = self.written.clone();
        for change in &changes {
            encounter.set(&change.path, change.value.clone())?;
        }
        let plan = encounter.resolve_again(&self.plan)?;
        let changed = self.play_under(encounter, plan)?;
        self.changes = changes;
        Ok(changed)
    }

    /// The run under an encounter that is resolved.
    fn play_under(&mut self, encounter: Encounter, plan: Arc<Plan>) -> Result<Changed, PlayError> {
        let stage = Stage::new(&encounter, &plan, &self.setup, &self.hands)?;
        let haunting = self.ghost.as_ref().map(|ghost| ghost.drill());
        // A ghost whose drill is gone is no more.
        let ghost = match haunting.filter(|drill| plan.drill(drill).is_ok()) {
            Some(drill) => Some(Ghost::new(&plan, drill)?),
            None => None,
        };
        let mut take = Take::new(stage);
        take.run_to(self.tick(), self.branches.current(), ghost.as_ref())?;
        let changed = Changed::between(&self.take.run, &take.run, take.unfit);
        (self.encounter, self.plan, self.ghost) = (encounter, plan, ghost);
        self.settle(take);
        Ok(changed)
    }

    /// Takes over the encounter as its file has it now. What was changed here stays changed, but for what
    /// the file does not have any more, which is given back.
    ///
    /// # Errors
    ///
    /// When the encounter makes no sense with what was changed here, or the drill is gone; then nothing is changed.
    pub fn reread(
        &mut self,
        written: &Encounter,
        plan: &Arc<Plan>,
    ) -> Result<(Changed, Vec<Change>), PlayError> {
        let mut encounter = written.clone();
        let (mut kept, mut lost) = (Vec::new(), Vec::new());
        for change in &self.changes {
            match encounter.set(&change.path, change.value.clone()) {
                Ok(()) => kept.push(change.clone()),
                Err(_) => lost.push(change.clone()),
            }
        }
        let plan = match kept.is_empty() {
            true => Arc::clone(plan),
            false => encounter.resolve_again(plan)?,
        };
        let changed = self.play_under(encounter, plan)?;
        // A number that the file has by now is none that was changed.
        let at = |encounter, change: &Change| study::written(encounter, &change.path);
        let same = |change: &Change| at(written, change) == at(&self.encounter, change);
        kept.retain(|change| !same(change));
        (self.written, self.changes) = (written.clone(), kept);
        Ok((changed, lost))
    }
}

/// Everyone who can be driven.
fn players(plan: &Plan, setup: &Setup) -> Vec<Player> {
    let drill = setup.drill.as_ref();
    let moved = stage::moved(plan, drill.map(String::as_str));
    let mut all: Vec<Player> = plan
        .steered()
        .filter(|(id, ..)| !moved.contains(*id))
        .map(|(id, player, buttons)| Player {
            id: id.to_owned(),
            player,
            buttons: buttons.into_iter().map(str::to_owned).collect(),
        })
        .collect();
    all.sort_by_key(|own| !own.player);
    all
}
