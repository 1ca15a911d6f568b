//! Precedence: rules that beat others between the same two actors, now and for a moment after.

use super::actor::Actor;
use super::memory::PairKey;
use super::windows::Because;
use crate::geometry::{Bounds, Vec2, sweep_upright};
use crate::ledger::LineId;
use crate::plan::{ActorIx, Plan, RuleIx};
use crate::sim::phases::verdict::Candidate;
use crate::sim::roll::Roll;
use crate::sim::slot::Slots;
use crate::sim::state::State;
use crate::time::Tick;
use crate::verdict::Verdict;
use serde::{Deserialize, Serialize};
use tin_crown_derive::CloneFrom;

/// Rules that stay beaten between two actors, in the order of keys.
#[derive(CloneFrom, Debug, Default, Serialize, Deserialize)]
pub(crate) struct Marks {
    all: Vec<Mark>,
}

#[derive(Clone, Copy, Debug, Serialize, Deserialize)]
struct Mark {
    key: MarkKey,
    /// The first tick on which the mark is over in any case.
    until: Tick,
    because: Because,
}

/// A rule between two actors, whichever of them gives.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
struct MarkKey {
    lesser: ActorIx,
    greater: ActorIx,
    rule: RuleIx,
}

impl MarkKey {
    fn new(PairKey { who, whom, .. }: PairKey, rule: RuleIx) -> MarkKey {
        MarkKey {
            lesser: who.min(whom),
            greater: who.max(whom),
            rule,
        }
    }
}

impl Marks {
    /// What beat a rule between two actors a moment ago, if that still counts.
    fn beaten(&self, candidate: &Candidate, tick: Tick) -> Option<Because> {
        let key = MarkKey::new(candidate.key, candidate.rule);
        let place = self.all.binary_search_by_key(&key, |mark| mark.key).ok()?;
        let mark = &self.all[place];
        (mark.until > tick).then_some(mark.because)
    }

    fn set(&mut self, mark: Mark) {
        match self.all.binary_search_by_key(&mark.key, |mark| mark.key) {
            Ok(place) => {
                let old = &mut self.all[place];
                if mark.until >= old.until {
                    *old = mark;
                }
            }
            Err(place) => self.all.insert(place, mark),
        }
    }

    /// A winner's line is written: marks that refer to it know it from now on.
    pub fn written(&mut self, candidate: &Candidate, index: u32, line: LineId) {
        let from = MarkKey::new(candidate.key, RuleIx(0));
        let first = self.all.partition_point(|mark| mark.key < from);
        let between = self.all[first..].iter_mut();
        let both = (from.lesser, from.greater);
        for mark in between.take_while(|mark| (mark.key.lesser, mark.key.greater) == both) {
            if matches!(mark.because, Because::Candidate(winner) if winner == index) {
                mark.because = Because::Line(line);
            }
        }
    }

    /// An actor appears anew: nothing between them and others counts any more.
    pub fn forget(&mut self, index: ActorIx) {
        self.all
            .retain(|Mark { key, .. }| key.lesser != index && key.greater != index);
    }

    /// Marks end with their time, with the life of one of the two, and when they part.
    pub fn end_tick(&mut self, plan: &Plan, actors: &Slots<Actor>, roll: &Roll, tick: Tick) {
        self.all.retain(|mark| {
            let around = |actor: ActorIx| {
                let actor = &actors[roll.slot(actor)?];
                let extent: Bounds = plan.spec_of(actor.spec).extent(actor.facing);
                Some((extent, actor))
            };
            let parties = (around(mark.key.lesser), around(mark.key.greater));
            let (Some((a, lesser)), Some((b, greater))) = parties else {
                return false;
            };
            let offset = greater.at - lesser.at;
            mark.until.0 > tick.0 + 1
                && lesser.alive
                && greater.alive
                && sweep_upright(a, b, offset, Vec2::ZERO).is_some_time()
        });
    }
}

/// Settles who is beaten among the candidates that have passed all checks before, winners first.
pub(crate) fn run(plan: &Plan, state: &mut State, candidates: &mut [Candidate]) {
    if plan.precedence.is_empty() {
        return;
    }
    let marks = &mut state.contacts.marks;
    for candidate in candidates
        .iter_mut()
        .filter(|candidate| candidate.is_open())
    {
        if let Some(because) = marks.beaten(candidate, state.tick) {
            candidate.verdict = Verdict::Beaten;
            candidate.because = Some(because);
        }
    }
    for &winner in &plan.precedence {
        let rule = &plan.rules[winner.index()];
        for index in 0..candidates.len() {
            let Candidate { key, rule: own, .. } = candidates[index];
            if own != winner || !candidates[index].is_open() {
                continue;
            }
            let because = Because::Candidate(index as u32);
            for &beaten in &rule.beats {
                marks.set(Mark {
                    key: MarkKey::new(key, beaten),
                    until: state.tick + rule.beats_for,
                    because,
                });
                for (who, whom) in [(key.who, key.whom), (key.whom, key.who)] {
                    let key = PairKey {
                        who,
                        whom,
                        rule: beaten,
                    };
                    let found = candidates.binary_search_by_key(&key, |own| own.key);
                    if let Some(loser) = found.ok().map(|place| &mut candidates[place])
                        && loser.is_open()
                    {
                        loser.verdict = Verdict::Beaten;
                        loser.because = Some(because);
                    }
                }
            }
        }
    }
}
