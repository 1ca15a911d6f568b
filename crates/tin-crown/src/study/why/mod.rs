//! Why a hit landed, why it did not, or why two never met.

mod advice;
mod apart;
mod causes;
mod checks;
mod miss;

pub use advice::Remedy;
use advice::Trials;
pub(super) use apart::aside;
pub use apart::{Apart, Near};
pub(super) use causes::Origins;
pub use causes::Step;
pub use checks::Asked;

use std::sync::Arc;

use serde::Serialize;

use crate::ledger::GuardSaid;
use crate::ledger::Replay;
use crate::order;
use crate::plan::{ActorIx, Chosen, DrillIx, Plan, RuleIx};
use crate::sim::{Inquest, Judged, ReplayError, Sim, Withheld};
use crate::time::Tick;
use crate::verdict::Verdict;

/// What is asked: of whom, by which rule, and about which moment.
#[derive(Clone, Debug)]
pub struct Question<'q> {
    /// Who gives; their shots count as theirs.
    pub who: &'q Chosen,
    /// Who takes.
    pub whom: &'q Chosen,
    /// By which rule only.
    pub rule: Option<RuleIx>,
    /// The moment; the whole drill when absent.
    pub when: Option<Tick>,
}

/// The answer to a question.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Why {
    /// The drill.
    pub drill: String,
    /// The outcomes of their touches, each different one once.
    pub came: Vec<Came>,
    /// When they did not touch: how near they came, and what stood in the way.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub apart: Option<Apart>,
}

/// An outcome of touches, and why.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Came {
    /// When first.
    pub tick: u32,
    /// The same in seconds.
    pub seconds: f64,
    /// On how many ticks.
    pub ticks: u32,
    /// When last.
    pub last: u32,
    /// The line of the ledger that tells of the first; a touch of one side is never told.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub line: Option<u32>,
    /// Who.
    pub who: String,
    /// Its box.
    pub hitbox: String,
    /// Whom.
    pub whom: String,
    /// Its box.
    pub hurtbox: String,
    /// The rule.
    pub rule: String,
    /// The verdict, or `withheld`.
    pub verdict: &'static str,
    /// The same in a sentence.
    pub says: String,
    /// Every check in the order in which it is asked, up to the first that failed.
    pub checks: Vec<Asked>,
    /// What would have changed it.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub change: Option<String>,
    /// The one value that was tried, and makes it land.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub remedy: Option<Remedy>,
    /// What brought it about, from it back to an input or a placement.
    pub causes: Vec<Step>,
}

/// What distinguishes one outcome of touches from another.
type Sort = (
    ActorIx,
    usize,
    ActorIx,
    RuleIx,
    Verdict,
    Option<Withheld>,
    Option<usize>,
    Option<GuardSaid>,
);

/// Answers why something came of the touches of some actors in a drill, or did not, or why they never
/// touched.
///
/// # Errors
///
/// As [`Plan::replay`].
///
/// # Panics
///
/// When an index is of another plan.
///
/// ```
/// # let file = tin_crown::demo::FIRST_SHELF.as_bytes();
/// use tin_crown::study::{Question, why};
///
/// let plan = tin_crown::check(file).plan.unwrap();
/// let (porter, stag) = (plan.choose("porter").unwrap(), plan.choose("stag").unwrap());
/// let question = Question { who: &stag, whom: &porter, rule: None, when: None };
/// let answer = why(&plan, plan.drill("careless")?, &question)?;
/// // They never met: here is how near they came.
/// assert!(answer.apart.unwrap().nearest.unwrap().distance > 0.0);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
pub fn why(plan: &Arc<Plan>, drill: DrillIx, question: &Question<'_>) -> Result<Why, ReplayError> {
    let replay = crate::sim::replay(plan, drill)?;
    let wanted = |who: ActorIx, whom: ActorIx| {
        who != whom && replay.acts_for(question.who, who) && replay.is_chosen(question.whom, whom)
    };
    let origins = Origins::new(&replay);
    let trials = Trials::new(&replay);
    let mut inquest = Inquest::new(plan, drill, wanted);
    let mut search = apart::Search::new(&replay, question);
    let mut sorts: Vec<(Sort, Judged, Came)> = Vec::new();
    let mut touched = Vec::new();
    while let Some((sim, judged)) = inquest.play()? {
        let asked = question.when.is_none_or(|when| when == sim.tick());
        if asked {
            search.look(sim);
        }
        for judged in judged {
            if question.rule.is_some_and(|rule| rule != judged.rule) {
                continue;
            }
            touched.push(judged.tick);
            if !asked {
                continue;
            }
            let sort = sort(&replay, &judged);
            match sorts.iter_mut().find(|(known, ..)| *known == sort) {
                Some((_, _, came)) => {
                    came.ticks += u32::from(came.last != judged.tick.0);
                    came.last = judged.tick.0;
                }
                None => {
                    let came = came(&replay, &origins, &trials, &judged);
                    sorts.push((sort, judged, came));
                }
            }
        }
    }
    let apart = sorts.is_empty().then(|| search.found(&touched));
    Ok(Why {
        drill: plan.drills[drill.index()].name.clone(),
        came: sorts.into_iter().map(|(.., came)| came).collect(),
        apart,
    })
}

/// Explains the lines of a replay's ledger that tell of a hit, in the order of the lines, up to so many.
///
/// # Errors
///
/// As [`Plan::replay`].
///
/// ```
/// # let file = tin_crown::demo::FIRST_SHELF.as_bytes();
/// let plan = tin_crown::check(file).plan.unwrap();
/// let explained = tin_crown::study::explain(&plan.replay("careless")?, 100)?;
/// // Four hits that landed, and one touch that did not.
/// assert_eq!(explained.len(), 5);
/// # Ok::<(), tin_crown::ReplayError>(())
/// ```
pub fn explain(replay: &Replay, most: usize) -> Result<Vec<Came>, ReplayError> {
    let mut told = ToldHits::new(most);
    let mut inquest = Inquest::new(replay.plan(), replay.drill(), |_, _| true);
    while let Some((sim, judged)) = inquest.play()? {
        told.see(sim, judged);
        if told.is_full() {
            break;
        }
    }
    Ok(told.explain(replay))
}

/// The touches that the ledger of a drill tells of, gathered tick by tick from an [`Inquest`] that others
/// may watch, too.
#[derive(Clone, Debug)]
pub struct ToldHits {
    most: usize,
    all: Vec<Judged>,
}

impl ToldHits {
    /// Up to so many.
    pub fn new(most: usize) -> ToldHits {
        ToldHits {
            most,
            all: Vec::new(),
        }
    }

    /// Whether there are so many.
    pub fn is_full(&self) -> bool {
        self.all.len() >= self.most
    }

    /// Keeps those of a tick that are told on it: one that was told before has its explanation there.
    pub fn see(&mut self, sim: &Sim, judged: Vec<Judged>) {
        let told = |judged: &Judged| {
            let line = judged.line.and_then(|line| sim.ledger().get(line));
            line.is_some_and(|line| line.tick == judged.tick)
        };
        self.all.extend(judged.into_iter().filter(told));
    }

    /// Explains them, in the order of their lines.
    pub fn explain(mut self, replay: &Replay) -> Vec<Came> {
        let origins = Origins::new(replay);
        let trials = Trials::new(replay);
        order::sort_by_key(&mut self.all, |judged| judged.line);
        self.all.truncate(self.most);
        let all = self.all.iter();
        all.map(|judged| came(replay, &origins, &trials, judged))
            .collect()
    }
}

fn sort(replay: &Replay, judged: &Judged) -> Sort {
    (
        replay.root(judged.who),
        replay.spec(judged.who).kind.index(),
        judged.whom,
        judged.rule,
        judged.verdict,
        judged.withheld,
        judged.gates.iter().position(|gate| !gate.passes),
        judged.guard,
    )
}

fn came(replay: &Replay, origins: &Origins<'_>, trials: &Trials<'_>, judged: &Judged) -> Came {
    let plan = replay.plan();
    let (who, whom) = (replay.spec(judged.who), replay.spec(judged.whom));
    let checks::Told {
        says,
        checks,
        change,
        remedy,
    } = checks::tell(replay, trials, judged);
    Came {
        tick: judged.tick.0,
        seconds: judged.tick.seconds(plan.rate),
        ticks: 1,
        last: judged.tick.0,
        line: judged.line.map(|line| line.0),
        who: replay.id(judged.who).to_owned(),
        hitbox: who.hitboxes[judged.hitbox.index()].name.clone(),
        whom: replay.id(judged.whom).to_owned(),
        hurtbox: whom.hurtboxes[judged.hurtbox.index()].name.clone(),
        rule: plan.rules[judged.rule.index()].name.clone(),
        verdict: match judged.withheld {
            Some(_) => "withheld",
            None => judged.verdict.as_str(),
        },
        says,
        checks,
        change,
        remedy,
        causes: origins.of(judged),
    }
}

/// "at 1.617 s (tick 97)".
pub(super) fn at(replay: &Replay, tick: Tick) -> String {
    format!("at {:.3} s (tick {tick})", tick.seconds(replay.plan().rate))
}
