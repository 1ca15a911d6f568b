//! Search: inputs that break an expectation, or reach a goal.

mod play;
mod script;
mod shrink;

use std::sync::Arc;

use serde::Serialize;

use super::parallel::{self, Watch};
use super::workbench::Workbench;
use crate::encounter::{Drill, Encounter, Expectation, Expected};
use crate::order;
use crate::plan::{ButtonIx, Plan, Unknown};
use crate::random::Sequence;
use play::{Seen, Stage};
use script::{Script, Words};

/// What is looked for, and how long.
#[derive(Clone, Debug, PartialEq)]
pub struct SearchSetup {
    /// The drill whose inputs are changed.
    pub drill: String,
    /// What the inputs are to do.
    pub aim: Aim,
    /// How many runs are played at the most, those that shrink what is found apart.
    pub budget: u64,
    /// What changes are drawn from.
    pub seed: u64,
    /// The buttons that may be pressed; all that players answer to when there are none.
    pub buttons: Vec<String>,
    /// Whether the drill's seed is changed, too.
    pub reseeds: bool,
}

/// What inputs are to do.
#[derive(Clone, Debug, PartialEq)]
pub enum Aim {
    /// Miss an expectation of the drill, by its number, counted from 1 in the order of [`Replay::verify`](crate::Replay::verify).
    Break(usize),
    /// Meet all of these.
    Reach(Vec<Expectation>),
}

impl SearchSetup {
    /// A drill and an aim, with the usual budget of 20,000 runs.
    pub fn new(drill: impl Into<String>, aim: Aim) -> SearchSetup {
        SearchSetup {
            drill: drill.into(),
            aim,
            budget: 20_000,
            seed: 0,
            buttons: Vec::new(),
            reseeds: false,
        }
    }
}

/// What a search came to.
#[derive(Clone, Debug, PartialEq)]
pub struct Search {
    /// How many runs were played.
    pub runs: u64,
    /// How many different things happened in them: places, hits, levels of meters.
    pub novelties: usize,
    /// What was found, if anything was. Nothing found is no proof that there is nothing.
    pub found: Option<Found>,
}

/// Inputs that do it.
#[derive(Clone, Debug, PartialEq)]
pub struct Found {
    /// In which run they were found, counted from 1.
    pub run: u64,
    /// How many presses that run had.
    pub presses: usize,
    /// The drill with the fewest and plainest inputs that still do it.
    pub drill: Drill,
    /// How many runs it took to shrink them.
    pub shrinking: u64,
}

/// Why nothing can be looked for.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, thiserror::Error)]
#[non_exhaustive]
pub enum SearchError {
    /// There is no drill of that name.
    #[error("{0}")]
    Unknown(String),
    /// There is no such expectation.
    #[error("drill `{drill}` has {} to break, and there is no number {number}", counted(*.count))]
    NoExpectation {
        /// The drill.
        drill: String,
        /// Which was asked for.
        number: usize,
        /// How many there are.
        count: usize,
    },
    /// There is nothing to reach.
    #[error("there is no goal")]
    NoGoal,
    /// No player answers to a button.
    #[error("no player answers to a button")]
    NoButtons,
    /// No player answers to that button.
    #[error("no player answers to button `{button}`; there are: {}", .known.join(", "))]
    UnknownButton {
        /// The button.
        button: String,
        /// Those that players answer to.
        known: Vec<String>,
    },
    /// It was stopped.
    #[error("stopped before it was done")]
    Stopped,
}

fn counted(count: usize) -> String {
    match count {
        0 => "no expectation".to_owned(),
        1 => "1 expectation".to_owned(),
        count => format!("{count} expectations"),
    }
}

impl From<Unknown> for SearchError {
    fn from(unknown: Unknown) -> SearchError {
        SearchError::Unknown(unknown.to_string())
    }
}

/// How many runs are drawn before any of them is judged: the same on however many cores they are played.
const GENERATION: u64 = 64;

/// Plays a drill with other inputs until they do what they are to do, or the budget is spent: some drawn at random, most
/// of them changes of those that showed something new. What is found is shrunk.
///
/// # Errors
///
/// When there is no such drill, expectation or button, or `watch` says stop.
///
/// ```
/// # let file = tin_crown::demo::FIRST_SHELF.as_bytes();
/// use tin_crown::Expectation;
/// use tin_crown::study::{Aim, SearchSetup, search};
///
/// let checked = tin_crown::check(file);
/// let (encounter, plan) = (checked.encounter.unwrap(), checked.plan.unwrap());
/// let goal = Expectation::read("hit = { who = 'porter', whom = 'beetle_1' }").value.unwrap();
/// let setup = SearchSetup::new("careless", Aim::Reach(vec![goal]));
/// let search = search(&encounter, &plan, &setup, &mut |_, _| true)?;
/// assert!(search.found.is_some_and(|found| found.drill.input.len() <= 3));
/// # Ok::<(), tin_crown::study::SearchError>(())
/// ```
pub fn search(
    encounter: &Encounter,
    plan: &Arc<Plan>,
    setup: &SearchSetup,
    watch: &mut Watch<'_>,
) -> Result<Search, SearchError> {
    let name = &setup.drill;
    let index = plan.drill(name)?;
    let words = words(plan, setup)?;
    let mut bench = Workbench::new(encounter, plan, std::slice::from_ref(name));
    aim(&mut bench, setup)?;
    let own = bench
        .encounter
        .drills
        .get(name)
        .cloned()
        .unwrap_or_default();
    let last = plan.drills[index.index()].last;
    let (first, rest) = Script::of(&own, &words, plan.rate, last);
    let stage = Stage {
        name,
        breaks: matches!(setup.aim, Aim::Break(_)),
        last,
        words: &words,
        rest,
    };
    let mut corpus = Corpus::default();
    let mut runs = 0;
    while runs < setup.budget {
        let count = GENERATION.min(setup.budget - runs);
        let scripts: Vec<Script> = (runs..runs + count)
            .map(|run| match run {
                0 => first.clone(),
                1 => Script {
                    presses: Vec::new(),
                    ..first.clone()
                },
                run => corpus.next(run, setup, &first, &stage),
            })
            .collect();
        let job = |bench: &mut Workbench, nth: u64| stage.play(bench, &scripts[nth as usize]);
        let seen = parallel::map(&(0..count), || bench.clone(), job);
        for ((run, script), seen) in (runs + 1..).zip(scripts).zip(seen) {
            if seen.reached {
                let presses = script.presses.len();
                let (shrunk, shrinking) =
                    shrink::shrink(&stage, &mut bench, script, &first, plan.rate);
                let drill = found(&own, &shrunk, &stage, setup, plan.rate);
                let found = Found {
                    run,
                    presses,
                    drill,
                    shrinking,
                };
                let novelties = corpus.known.len();
                return Ok(Search {
                    runs: run,
                    novelties,
                    found: Some(found),
                });
            }
            corpus.keep(script, &seen);
        }
        runs += count;
        if !watch(runs, setup.budget) {
            return Err(SearchError::Stopped);
        }
    }
    Ok(Search {
        runs,
        novelties: corpus.known.len(),
        found: None,
    })
}

/// Who may press what.
fn words(plan: &Plan, setup: &SearchSetup) -> Result<Words, SearchError> {
    let mut all = Vec::new();
    for actor in plan.cast().filter(|actor| plan.spec(*actor).player) {
        for (nth, button) in plan.names.buttons.iter().enumerate() {
            if plan.spec(actor).answers(ButtonIx::new(nth)) {
                all.push((plan.actors[actor.index()].id.clone(), button.to_owned()));
            }
        }
    }
    if all.is_empty() {
        return Err(SearchError::NoButtons);
    }
    if let Some(button) = setup
        .buttons
        .iter()
        .find(|button| !all.iter().any(|(_, own)| own == *button))
    {
        let mut known: Vec<String> = all.into_iter().map(|(_, own)| own).collect();
        order::sort(&mut known);
        known.dedup();
        return Err(SearchError::UnknownButton {
            button: button.clone(),
            known,
        });
    }
    let may = |own: &String| setup.buttons.is_empty() || setup.buttons.contains(own);
    let pressed = all
        .iter()
        .enumerate()
        .filter(|(_, (_, own))| may(own))
        .map(|(nth, _)| nth)
        .collect();
    Ok(Words { all, pressed })
}

/// Lets the drill expect what it is held against, and nothing else.
fn aim(bench: &mut Workbench, setup: &SearchSetup) -> Result<(), SearchError> {
    let all = std::mem::take(&mut bench.encounter.expect);
    let Some(drill) = bench.encounter.drills.get_mut(&setup.drill) else {
        return Ok(());
    };
    let own = std::mem::take(&mut drill.expect);
    drill.expect = match &setup.aim {
        Aim::Reach(goals) if goals.is_empty() => return Err(SearchError::NoGoal),
        Aim::Reach(goals) => goals.clone(),
        Aim::Break(number) => {
            let count = own.len() + all.len();
            let mut both = own.into_iter().chain(all);
            let nth = number.checked_sub(1).and_then(|nth| both.nth(nth));
            let Some(nth) = nth else {
                return Err(SearchError::NoExpectation {
                    drill: setup.drill.clone(),
                    number: *number,
                    count,
                });
            };
            vec![nth]
        }
    };
    Ok(())
}

/// The drill that does it, with what it comes to expected of it where that can be said.
fn found(own: &Drill, script: &Script, stage: &Stage<'_>, setup: &SearchSetup, rate: u32) -> Drill {
    let mut drill = own.clone();
    drill.seed = script.seed;
    drill.input = stage.inputs(script, rate);
    if let Aim::Break(_) = setup.aim {
        drill.expect = own.expect.iter().filter_map(contrary).collect();
    }
    drill
}

/// What is met where an expectation is missed, if that can be said.
fn contrary(expectation: &Expectation) -> Option<Expectation> {
    let bare = expectation.times.is_none()
        && expectation.apart.is_none()
        && expectation.by.is_none()
        && expectation.before.is_none()
        && expectation.after.is_none();
    let what = match &expectation.what {
        Expected::Never(pattern) => Expected::Happens(pattern.clone()),
        Expected::Happens(pattern) if expectation.when.is_none() => {
            Expected::Never(pattern.clone())
        }
        _ => return None,
    };
    bare.then(|| Expectation {
        what,
        ..expectation.clone()
    })
}

/// Scripts that showed something new.
#[derive(Default)]
struct Corpus {
    scripts: Vec<Script>,
    known: std::collections::BTreeSet<u64>,
}

impl Corpus {
    fn keep(&mut self, script: Script, seen: &Seen) {
        let before = self.known.len();
        self.known.extend(&seen.novelties);
        if self.known.len() > before {
            self.scripts.push(script);
        }
    }

    /// The script of a run: a new one, or a change of one that showed something new, most often of a late one.
    fn next(&self, run: u64, setup: &SearchSetup, first: &Script, stage: &Stage<'_>) -> Script {
        const LATE: usize = 12;
        let mut drawn = Sequence::new(setup.seed, &[run]);
        if drawn.unit() < 0.15 || self.scripts.is_empty() {
            return Script::drawn(&mut drawn, first.seed, stage);
        }
        let late = drawn.unit() < 0.6;
        let from = if late {
            self.scripts.len().saturating_sub(LATE)
        } else {
            0
        };
        let nth = from + drawn.below(self.scripts.len() - from);
        let other = drawn.below(self.scripts.len());
        let mut script = self.scripts[nth].changed(&mut drawn, &self.scripts[other], stage);
        if setup.reseeds && drawn.unit() < 0.2 {
            script.seed = drawn.next() as u32;
        }
        script
    }
}
