//! Phase 5, verdict: what comes of every touch, the first check that fails deciding it.

use super::pairs::PairKey;
use super::state::{Because, Scope, State, Window};
use super::touch;
use crate::encounter::Repeat;
use crate::ledger::Verdict;
use crate::plan::{ActorIx, BoxIx, Plan, RuleIx};
use crate::time::{Tick, Ticks};

/// This tick's candidates.
#[derive(Clone, Debug, Default)]
pub(super) struct Judgement {
    /// In the order of who, whom and rule.
    pub candidates: Vec<Candidate>,
    /// Their places in that list, in candidate order: moment, rule, who, whom.
    pub order: Vec<u32>,
    offers: Vec<Candidate>,
}

/// Two actors of whom a box of one touches a box of the other that a rule pairs.
#[derive(Clone, Copy, Debug)]
pub(super) struct Candidate {
    pub who: ActorIx,
    pub whom: ActorIx,
    pub rule: RuleIx,
    pub hitbox: BoxIx,
    pub hurtbox: BoxIx,
    pub moment: u16,
    /// Where its memory is.
    pub memory: u32,
    pub verdict: Verdict,
    /// What decided the verdict.
    pub because: Option<Because>,
    /// Until when whom is invincible, because of this or in spite of it.
    pub until: Option<Tick>,
}

impl Candidate {
    pub fn key(&self) -> PairKey {
        PairKey {
            who: self.who,
            whom: self.whom,
            rule: self.rule,
        }
    }
}

pub(super) fn run(plan: &Plan, state: &mut State) {
    gather(plan, state);
    state
        .pairs
        .begin_tick(state.tick, &mut state.judgement.candidates);
    freeze(plan, state);
    settle(plan, state);
}

/// One candidate for each who, whom and rule: the earliest pair of boxes.
fn gather(plan: &Plan, state: &mut State) {
    let Judgement {
        candidates, offers, ..
    } = &mut state.judgement;
    candidates.clear();
    let touches = &state.touching.now;
    for touches in touches.chunk_by(|a, b| a.pair.who == b.pair.who) {
        offers.clear();
        for touch in touches {
            let pair = touch.pair;
            offers.extend(touch::rules(plan, touch).map(|rule| Candidate {
                who: pair.who,
                whom: pair.whom,
                rule,
                hitbox: pair.hitbox,
                hurtbox: pair.hurtbox,
                moment: touch.moment,
                memory: 0,
                verdict: Verdict::Landed,
                because: None,
                until: None,
            }));
        }
        offers.sort_unstable_by_key(|offer| {
            (
                offer.whom,
                offer.rule,
                offer.moment,
                offer.hitbox,
                offer.hurtbox,
            )
        });
        offers.dedup_by_key(|offer| (offer.whom, offer.rule));
        candidates.append(offers);
    }
}

/// The checks that look at the state as it was after phase 4, whatever else happens this tick.
fn freeze(plan: &Plan, state: &mut State) {
    for candidate in &mut state.judgement.candidates {
        let rule = &plan.rules[candidate.rule.index()];
        let side = state.actors[candidate.who.index()].side;
        let other = state.actors[candidate.whom.index()].side;
        if side.is_some() && side == other && !rule.friendly {
            candidate.verdict = Verdict::Ally;
            continue;
        }
        let pair = state.pairs.get(candidate);
        let again = match rule.repeat {
            Repeat::WhileTouching => true,
            Repeat::OncePerTouch => !pair.landed_in_touch,
            Repeat::PerAttack => {
                let between = state.pairs.between(candidate.who, candidate.whom);
                !between.iter().any(|pair| pair.spent)
            }
        };
        if !again || pair.next > state.tick {
            candidate.verdict = Verdict::Repeat;
            candidate.because = pair.hit.map(Because::Line);
        }
    }
}

/// The checks that depend on what came before in candidate order.
fn settle(plan: &Plan, state: &mut State) {
    let Judgement {
        candidates, order, ..
    } = &mut state.judgement;
    order.clear();
    order.extend(0..candidates.len() as u32);
    order.sort_unstable_by_key(|&index| {
        let candidate = &candidates[index as usize];
        (
            candidate.moment,
            candidate.rule,
            candidate.who,
            candidate.whom,
        )
    });
    for &index in &*order {
        let candidate = &mut candidates[index as usize];
        if candidate.verdict != Verdict::Landed {
            continue;
        }
        let rule = &plan.rules[candidate.rule.index()];
        let spec = plan.spec(candidate.whom);
        let whom = &mut state.actors[candidate.whom.index()];
        if let Some(shield) = whom.shield(state.tick, candidate.who, candidate.rule) {
            candidate.verdict = Verdict::Invincible;
            candidate.because = Some(shield.because);
            candidate.until = Some(shield.until);
            continue;
        }
        let pair = state.pairs.get_mut(candidate);
        pair.landed_in_touch = true;
        pair.spent = rule.repeat == Repeat::PerAttack;
        pair.next = state.tick + rule.every;
        if spec.after_hit > Ticks(0) {
            let until = state.tick + spec.after_hit;
            let window = Window {
                scope: Scope::of(spec.against, candidate.who, candidate.rule),
                until,
                because: Because::Candidate(index),
            };
            whom.open(state.tick, window);
            candidate.until = Some(until);
        }
    }
}
