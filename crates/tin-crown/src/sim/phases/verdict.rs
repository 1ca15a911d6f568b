//! Phase 5, verdict: the first check that fails decides each touch.

use tin_crown_derive::CloneFrom;

use super::touch;
use super::touch::Touch;
use crate::encounter::{Ending, Repeat};
use crate::ledger::{GateNo, GuardSaid};
use crate::plan::{ActorIx, BoxIx, Plan, RuleIx};
use crate::sim::parts::actor::Actor;
use crate::sim::parts::gates::Asked;
use crate::sim::parts::memory::{Pair, PairKey};
use crate::sim::parts::windows::{Because, Scope, Window};
use crate::sim::parts::{guards, precedence};
use crate::sim::slot::Slot;
use crate::sim::state::State;
use crate::time::{Tick, Ticks};
use crate::verdict::Verdict;

/// This tick's candidates.
#[derive(CloneFrom, Debug, Default)]
pub(crate) struct Judgement {
    /// In the order of who, whom and rule.
    #[scratch]
    pub candidates: Vec<Candidate>,
    /// Their places in that list, in candidate order: moment, rule, who, whom.
    #[scratch]
    pub order: Vec<u32>,
    #[scratch]
    offers: Vec<Offer>,
}

/// Two actors of whom a box of one touches a box of the other that a rule pairs.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Candidate {
    pub who: Slot,
    pub whom: Slot,
    /// Who, whom and by which rule.
    pub key: PairKey,
    pub rule: RuleIx,
    pub hitbox: BoxIx,
    pub hurtbox: BoxIx,
    pub moment: u16,
    /// Where who and whom stand in the order of ids.
    ranks: [u32; 2],
    /// Where its memory is.
    pub memory: u32,
    /// The swing that makes the hitbox live, or the shot that it is; 0 when it is always live.
    pub swing: u32,
    /// Whether it is the last that a shot may hit.
    pub last: bool,
    /// Whether who rests, and so gives nothing.
    pub withheld: bool,
    pub verdict: Verdict,
    /// What decided the verdict.
    pub because: Option<Because>,
    pub gate: Option<GateNo>,
    pub guard: Option<GuardSaid>,
    /// Until when whom is invincible, because of this or in spite of it.
    pub until: Option<Tick>,
}

/// A touch and a rule that pairs its boxes.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
struct Offer {
    whom: ActorIx,
    rule: RuleIx,
    refused: bool,
    moment: u16,
    hitbox: BoxIx,
    hurtbox: BoxIx,
    /// Its place among the touches.
    touch: u32,
}

/// A shot is one attack, as long as it is there.
const SHOT: u32 = 1;

impl Candidate {
    /// Whether no check has failed so far.
    pub fn is_open(&self) -> bool {
        self.verdict == Verdict::Landed && !self.withheld
    }
}

pub(crate) fn run(plan: &Plan, state: &mut State) {
    let mut judgement = std::mem::take(&mut state.contacts.judgement);
    judgement.candidates.clear();
    judgement.order.clear();
    if !state.contacts.touching.now.is_empty() {
        gather(plan, state, &mut judgement);
    }
    let candidates = &mut judgement.candidates;
    state.contacts.pairs.begin_tick(state.tick, candidates);
    if !candidates.is_empty() {
        freeze(plan, state, candidates);
        precedence::run(plan, state, candidates);
        settle(plan, state, &mut judgement);
    }
    state.contacts.judgement = judgement;
}

/// One candidate for each who, whom and rule: the earliest pair of boxes that passes the gates, else
/// the earliest.
fn gather(plan: &Plan, state: &State, judgement: &mut Judgement) {
    let Judgement {
        candidates, offers, ..
    } = judgement;
    let touches = &state.contacts.touching.now;
    let mut first = 0;
    for group in touches.chunk_by(|a, b| a.pair.who == b.pair.who) {
        offers.clear();
        for (nth, touch) in group.iter().enumerate() {
            let asked = Asked::new(plan, state, touch);
            for rule in touch::rules(plan, touch) {
                let gates = &plan.rules[rule.index()].gates;
                offers.push(Offer {
                    whom: touch.pair.whom,
                    rule,
                    refused: !gates.is_empty() && asked.refuses(gates).is_some(),
                    moment: touch.moment,
                    hitbox: touch.pair.hitbox,
                    hurtbox: touch.pair.hurtbox,
                    touch: (first + nth) as u32,
                });
            }
        }
        if offers.len() > 1 {
            offers.sort_unstable();
            offers.dedup_by_key(|offer| (offer.whom, offer.rule));
        }
        for offer in &*offers {
            let touch = &touches[offer.touch as usize];
            let gates = &plan.rules[offer.rule.index()].gates;
            let refused = offer
                .refused
                .then(|| Asked::new(plan, state, touch).refuses(gates));
            candidates.push(candidate(state, touch, offer.rule, refused.flatten()));
        }
        first += group.len();
    }
}

fn candidate(state: &State, touch: &Touch, rule: RuleIx, gate: Option<GateNo>) -> Candidate {
    let pair = touch.pair;
    let [who_slot, whom_slot] = touch.slots;
    let who = &state.actors[who_slot];
    let by_attack = who.always.hit & (1 << pair.hitbox.0) == 0;
    Candidate {
        who: who_slot,
        whom: whom_slot,
        key: PairKey {
            who: pair.who,
            whom: pair.whom,
            rule,
        },
        rule,
        hitbox: pair.hitbox,
        hurtbox: pair.hurtbox,
        moment: touch.moment,
        ranks: [who.rank, state.actors[whom_slot].rank],
        memory: 0,
        swing: match who.swing {
            _ if who.shot => SHOT,
            Some(swing) if by_attack => swing.serial,
            _ => 0,
        },
        last: false,
        withheld: who.rests(state.tick),
        verdict: Verdict::Landed,
        because: None,
        gate,
        guard: None,
        until: None,
    }
}

/// The checks that look at the state as it was after phase 4, whatever else happens this tick.
fn freeze(plan: &Plan, state: &State, candidates: &mut [Candidate]) {
    for candidate in candidates {
        let rule = &plan.rules[candidate.rule.index()];
        let whom = &state.actors[candidate.whom];
        if let Some(dying) = whom.life.dying.filter(|_| whom.dying)
            && dying.kept.hurt & (1 << candidate.hurtbox.0) == 0
        {
            candidate.verdict = Verdict::Down;
            continue;
        }
        let side = state.actors[candidate.who].side;
        let other = state.actors[candidate.whom].side;
        if side.is_some() && side == other && !rule.friendly {
            candidate.verdict = Verdict::Ally;
            continue;
        }
        if candidate.gate.is_some() {
            candidate.verdict = Verdict::Gate;
            continue;
        }
        let pair = state.contacts.pairs.get(candidate);
        if pair.next > state.tick || !may_again(plan, state, candidate) {
            candidate.verdict = Verdict::Repeat;
            let between = state.contacts.pairs.between(&candidate.key).iter();
            let hit = pair
                .hit
                .or_else(|| between.filter_map(|pair| pair.hit).max());
            candidate.because = hit.map(Because::Line);
        }
    }
}

/// Whether the repeat policy lets it land again.
fn may_again(plan: &Plan, state: &State, candidate: &Candidate) -> bool {
    let rule = &plan.rules[candidate.rule.index()];
    match repeat(rule.repeat, candidate.swing) {
        Repeat::WhileTouching => true,
        Repeat::OncePerTouch => !state.contacts.pairs.get(candidate).landed_in_touch,
        Repeat::PerAttack => {
            let who = &state.actors[candidate.who];
            match (
                last_spent(state, candidate),
                multi_hit(plan, who, candidate),
            ) {
                (None, _) => true,
                (Some(_), None) => false,
                (Some(last), Some(every)) => state.tick >= last + every,
            }
        }
    }
}

/// When the swing last hit whom, by whatever rule.
fn last_spent(state: &State, candidate: &Candidate) -> Option<Tick> {
    let between = state.contacts.pairs.between(&candidate.key).iter();
    between.filter_map(|pair| pair.spent(candidate.swing)).max()
}

/// The first tick on which a rule that may not land again yet can, if it ever can in this touch.
pub(crate) fn again(plan: &Plan, state: &State, candidate: &Candidate) -> Option<Tick> {
    let rule = &plan.rules[candidate.rule.index()];
    let spaced = state.contacts.pairs.get(candidate).next;
    let attack = match repeat(rule.repeat, candidate.swing) {
        Repeat::WhileTouching => Some(Tick(0)),
        Repeat::OncePerTouch => may_again(plan, state, candidate).then_some(Tick(0)),
        Repeat::PerAttack => match last_spent(state, candidate) {
            None => Some(Tick(0)),
            Some(last) => {
                let who = &state.actors[candidate.who];
                multi_hit(plan, who, candidate).map(|every| last + every)
            }
        },
    };
    attack.map(|attack| attack.max(spaced))
}

/// The policy of a rule for a box that some swing, or none, makes live.
pub(crate) fn repeat(written: Option<Repeat>, swing: u32) -> Repeat {
    written.unwrap_or(if swing == 0 {
        Repeat::WhileTouching
    } else {
        Repeat::PerAttack
    })
}

/// The time between two hits of the swing under way, when it hits several times.
fn multi_hit(plan: &Plan, who: &Actor, candidate: &Candidate) -> Option<Ticks> {
    if who.shot {
        return plan.spec_of(who.spec).flight.every;
    }
    let attack = &plan.spec_of(who.spec).attacks[who.swing?.attack.index()];
    attack.every.filter(|_| candidate.swing != 0)
}

/// The checks that depend on what came before in candidate order.
fn settle(plan: &Plan, state: &mut State, judgement: &mut Judgement) {
    let Judgement {
        candidates, order, ..
    } = judgement;
    order.extend(0..candidates.len() as u32);
    order.sort_unstable_by_key(|&index| {
        let candidate = &candidates[index as usize];
        (candidate.moment, candidate.rule, candidate.ranks)
    });
    for &index in &*order {
        let candidate = &mut candidates[index as usize];
        let over = |index: Slot| state.actors[index].is_over(candidate.moment);
        if over(candidate.who) || over(candidate.whom) {
            // Its flight was over by then.
            candidate.withheld = true;
        }
        if candidate.is_open() {
            settle_one(plan, state, candidate, index);
        }
    }
}

fn settle_one(plan: &Plan, state: &mut State, candidate: &mut Candidate, index: u32) {
    let rule = &plan.rules[candidate.rule.index()];
    let spec = state.spec(plan, candidate.whom);
    if used_up(plan, state, candidate) {
        candidate.verdict = Verdict::UsedUp;
        return;
    }
    let whom = &state.actors[candidate.whom];
    if !rule.only_gives {
        let shield = whom
            .windows
            .against(state.tick, candidate.key.who, candidate.rule);
        if let Some(shield) = shield.filter(|_| !rule.pierces_invincible) {
            candidate.verdict = Verdict::Invincible;
            candidate.because = Some(shield.because);
            candidate.until = Some(shield.until);
            return;
        }
        let who = &state.actors[candidate.who];
        let parties = [who, whom];
        let (moment, tick) = (candidate.moment, state.tick);
        candidate.guard = guards::says(plan, rule, parties, moment, &state.stock.meters, tick);
        if matches!(candidate.guard, Some(GuardSaid::Held | GuardSaid::Parried)) {
            candidate.verdict = Verdict::Guarded;
        }
    }
    // From here on it took effect, one way or the other.
    let pair = state.contacts.pairs.get_mut(candidate);
    pair.landed_in_touch = true;
    pair.next = state.tick + rule.every;
    if repeat(rule.repeat, candidate.swing) == Repeat::PerAttack || candidate.swing != 0 {
        pair.spend(candidate.swing, state.tick);
    }
    if candidate.swing != 0 {
        let hits = &mut state.actors[candidate.who].life.swing_hits;
        if !hits.contains(&candidate.key.whom) {
            hits.push(candidate.key.whom);
        }
    }
    spend(plan, state, candidate);
    if rule.only_gives || spec.after_hit == Ticks(0) {
        return;
    }
    let until = state.tick + spec.after_hit;
    let landed = candidate.verdict == Verdict::Landed;
    let scope = if landed {
        Scope::of(spec.against, candidate.key.who, candidate.rule)
    } else {
        Scope::Both(candidate.key.who, candidate.rule)
    };
    let window = Window {
        scope,
        until,
        because: Because::Candidate(index),
    };
    state.actors[candidate.whom]
        .windows
        .open(state.tick, window);
    candidate.until = Some(until).filter(|_| landed);
}

/// A flight that ends with its hits is over when it has hit the last that it may.
fn spend(plan: &Plan, state: &mut State, candidate: &mut Candidate) {
    let who = &mut state.actors[candidate.who];
    let flight = &plan.spec_of(who.spec).flight;
    if who.life.maker.is_none() || !flight.ends_at(Ending::Hit, who.shot) {
        return;
    }
    let targets = flight.most_targets(who.shot).unwrap_or(1) as usize;
    if !who.shot || who.life.swing_hits.len() >= targets {
        who.spent = Some(candidate.moment);
        candidate.last = true;
    }
}

/// Whether the swing has hit whom already on this tick, or as many as it may.
fn used_up(plan: &Plan, state: &State, candidate: &Candidate) -> bool {
    let one_attack = candidate.swing != 0
        || plan.rules[candidate.rule.index()].repeat == Some(Repeat::PerAttack);
    if !one_attack {
        return false;
    }
    let between = state.contacts.pairs.between(&candidate.key);
    let hit_now = |pair: &Pair| pair.spent(candidate.swing) == Some(state.tick);
    if between.iter().any(hit_now) {
        return true;
    }
    let who = &state.actors[candidate.who];
    if candidate.swing == 0 {
        return false;
    }
    let spec = plan.spec_of(who.spec);
    let targets = match who.swing {
        _ if who.shot => spec.flight.most_targets(true),
        Some(swing) => spec.attacks[swing.attack.index()].targets,
        None => None,
    };
    let new = !who.life.swing_hits.contains(&candidate.key.whom);
    new && targets.is_some_and(|targets| who.life.swing_hits.len() >= targets as usize)
}
