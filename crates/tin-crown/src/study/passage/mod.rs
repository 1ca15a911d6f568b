//! Passage: when in the hazards' cycle a drill gets through unhurt.

mod cycle;

pub use cycle::Cycle;

use std::sync::Arc;

use serde::Serialize;

use super::parallel::{self, Watch};
use super::workbench::Workbench;
use crate::encounter::{Begin, Begins, Drill, Encounter, Expectation};
use crate::ledger::{Replay, What};
use crate::limits;
use crate::outcome::Outcome;
use crate::plan::{ActorIx, Plan, Unknown};
use crate::sim::ReplayError;
use crate::time::{Duration, Tick, Ticks};

/// What is tried.
#[derive(Clone, Debug, PartialEq)]
pub struct PassageSetup {
    /// The drill.
    pub drill: String,
    /// The longest cycle that is looked for; where there is none, how far the drill is shifted.
    pub cap: Ticks,
}

impl PassageSetup {
    /// A drill, with the usual cap of a minute.
    pub fn new(plan: &Plan, drill: impl Into<String>) -> PassageSetup {
        PassageSetup {
            drill: drill.into(),
            cap: Ticks(60 * plan.rate),
        }
    }
}

/// When a drill gets through: for each start, counted in ticks later than it is written.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Passage {
    /// The drill.
    pub drill: String,
    /// Ticks a second.
    pub rate: u32,
    /// The hazards' common cycle, while the players wait where they are placed.
    pub cycle: Cycle,
    /// For each start what comes of it, from 0 on.
    pub starts: Vec<Attempt>,
    /// Whether the starts cover a whole cycle after it has settled, so that the last is followed by the first of it.
    pub whole: bool,
}

/// What comes of a start.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
#[serde(rename_all = "kebab-case")]
pub enum Attempt {
    /// The players get through unhurt.
    Through,
    /// A player is hurt while it still waits.
    Waiting {
        /// When.
        tick: Tick,
        /// By whom.
        who: String,
    },
    /// A player is hurt.
    Hurt {
        /// How many ticks after it set out.
        after: Ticks,
        /// By whom.
        who: String,
    },
    /// Unhurt, but the drill is not won as it is when it is played as written.
    Short,
    /// It cannot be played.
    Failed(String),
}

/// Why a passage cannot be looked for.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
#[non_exhaustive]
pub enum PassageError {
    /// There is no drill of that name.
    #[error(transparent)]
    Unknown(#[from] Unknown),
    /// There is no player.
    #[error("there is no player who could pass")]
    NoPlayer,
    /// A recording cannot be shifted.
    #[error("drill `{0}` is recorded: what the game played cannot be played at another time")]
    Recorded(String),
    /// The world does not go on for so long.
    #[error(transparent)]
    Replay(#[from] ReplayError),
    /// It was stopped.
    #[error("stopped before it was done")]
    Stopped,
}

impl Passage {
    /// The stretches of starts that get through, each from its first to its last tick; one that goes on over the end
    /// of the cycle ends after it.
    pub fn stretches(&self) -> Vec<[u32; 2]> {
        let mut stretches: Vec<[u32; 2]> = Vec::new();
        for (start, comes) in (0..).zip(&self.starts) {
            match stretches.last_mut() {
                Some([_, last]) if *comes == Attempt::Through && *last + 1 == start => {
                    *last = start
                }
                _ if *comes == Attempt::Through => stretches.push([start, start]),
                _ => {}
            }
        }
        self.joined(stretches)
    }

    /// The last stretch with the beginning of the cycle that follows it.
    fn joined(&self, mut stretches: Vec<[u32; 2]>) -> Vec<[u32; 2]> {
        if !self.whole || stretches.len() < 2 {
            return stretches;
        }
        let (settled, end) = (self.cycle.settles.0, self.starts.len() as u32 - 1);
        let follows = stretches
            .iter()
            .position(|[from, to]| *from <= settled && *to >= settled);
        if let (Some(nth), Some(last)) = (follows, stretches.last_mut())
            && last[1] == end
        {
            let [from, to] = stretches[nth];
            let last = stretches.len() - 1;
            stretches[last][1] = end + (to - settled) + 1;
            // Begun before the cycle it is one of its own, too.
            if from == settled && nth < last {
                stretches.remove(nth);
            }
        }
        stretches
    }

    /// The narrowest of them, in ticks.
    pub fn narrowest(&self) -> Option<Ticks> {
        let lengths = self.stretches().into_iter().map(|[from, to]| to - from + 1);
        lengths.min().map(Ticks)
    }
}

/// Shifts a drill's start over the hazards' common cycle: the players wait where they are placed, and then do what
/// the drill says. Where there is no cycle, or it is longer than the cap, over the cap.
///
/// # Errors
///
/// When there is no such drill or no player, when it is recorded, when the world goes beyond a limit, or when
/// `watch` says stop.
///
/// ```
/// # let file = tin_crown::demo::FIRST_SHELF.as_bytes();
/// use tin_crown::Ticks;
/// use tin_crown::study::{PassageSetup, passage};
///
/// let checked = tin_crown::check(file);
/// let (encounter, plan) = (checked.encounter.unwrap(), checked.plan.unwrap());
/// let setup = PassageSetup { cap: Ticks(60), ..PassageSetup::new(&plan, "careless") };
/// let passage = passage(&encounter, &plan, &setup, &mut |_, _| true)?;
/// assert!(passage.stretches().is_empty());
/// # Ok::<(), tin_crown::study::PassageError>(())
/// ```
pub fn passage(
    encounter: &Encounter,
    plan: &Arc<Plan>,
    setup: &PassageSetup,
    watch: &mut Watch<'_>,
) -> Result<Passage, PassageError> {
    let name = &setup.drill;
    let index = plan.drill(name)?;
    let own = &plan.drills[index.index()];
    if own.is_recorded() {
        return Err(PassageError::Recorded(name.clone()));
    }
    let players: Vec<ActorIx> = plan
        .cast()
        .filter(|actor| plan.spec(*actor).player)
        .collect();
    if players.is_empty() {
        return Err(PassageError::NoPlayer);
    }
    let cycle = cycle::find(plan, own.seed, setup.cap)?;
    let count = match cycle.period {
        Some(period) => cycle.settles.0 + period.0,
        None => setup.cap.0,
    };
    // No drill is longer than a drill may be.
    let most = limits::DRILL_TICKS.saturating_sub(own.last.0);
    let starts = count.max(1).min(most.max(1));
    let bench = Workbench::new(encounter, plan, std::slice::from_ref(name));
    let shifted = Shifted {
        name,
        won: won(&plan.replay(name)?),
        last: own.last,
        players: &players,
    };
    let job = |bench: &mut Workbench, start: u64| shifted.play(bench, encounter, start as u32);
    let starts = parallel::watched(u64::from(starts), || bench.clone(), job, watch);
    let starts = starts.ok_or(PassageError::Stopped)?;
    Ok(Passage {
        drill: name.clone(),
        rate: plan.rate,
        whole: cycle.period.is_some() && starts.len() as u32 == count,
        cycle,
        starts,
    })
}

fn won(replay: &Replay) -> bool {
    let events = replay.ledger().events().iter();
    let mut outcomes = events.filter_map(|event| match event.what {
        What::Outcome(outcome) => Some(outcome),
        _ => None,
    });
    outcomes.next() == Some(Outcome::Won)
}

/// A drill that is to be played later.
struct Shifted<'a> {
    name: &'a str,
    /// Whether it is won as it is written.
    won: bool,
    last: Tick,
    players: &'a [ActorIx],
}

impl Shifted<'_> {
    /// Plays it so many ticks later.
    fn play(&self, bench: &mut Workbench, encounter: &Encounter, start: u32) -> Attempt {
        const LATER: &str = "later";
        let mut own = encounter.drills.get(self.name).cloned().unwrap_or_default();
        own.expect = Vec::<Expectation>::new();
        bench.encounter.expect.clear();
        let later = Drill {
            seed: own.seed,
            afterwards: own.afterwards,
            begins: Begins(vec![Begin {
                shift: Some(Duration::ticked(start)),
                ..Begin::new(self.name)
            }]),
            ..Drill::new(Duration::ticked(self.last.0 + start))
        };
        bench.encounter.drills.insert(self.name.to_owned(), own);
        bench.encounter.drills.insert(LATER.to_owned(), later);
        let replay = match bench.plan() {
            Ok(plan) => plan.replay(LATER),
            Err(findings) => return Attempt::Failed(findings.first_error()),
        };
        match replay {
            Ok(replay) => self.comes(&replay, start),
            Err(error) => Attempt::Failed(error.to_string()),
        }
    }

    fn comes(&self, replay: &Replay, start: u32) -> Attempt {
        let hurt = replay.ledger().events().iter().find(|event| {
            let of = event
                .whom
                .or(event.who)
                .filter(|own| self.players.contains(own));
            of.is_some()
                && match &event.what {
                    What::Hit(hit) => {
                        let harms = event
                            .rule
                            .is_some_and(|rule| replay.plan().harms_whom(rule));
                        hit.verdict.took_effect() && harms
                    }
                    What::Death { .. } => true,
                    _ => false,
                }
        });
        if let Some(hurt) = hurt {
            let who = match hurt.what {
                What::Death { by, .. } => by,
                _ => hurt.who,
            };
            let who = who
                .map_or("a fall", |who| replay.id(replay.root(who)))
                .to_owned();
            return match hurt.tick.0 < start {
                true => Attempt::Waiting {
                    tick: hurt.tick,
                    who,
                },
                false => Attempt::Hurt {
                    after: Ticks(hurt.tick.0 - start),
                    who,
                },
            };
        }
        if self.won && !won(replay) {
            return Attempt::Short;
        }
        Attempt::Through
    }
}
