//! What a hit does to either party, when it lands or comes to a guard.

use super::impact::{Impact, Taken};
use super::{guards, meters};
use crate::amount::Amount;
use crate::encounter::Party;
use crate::geometry::{HeightSpan, Vec2, distance};
use crate::ledger::{Bearing, GuardSaid, LineId, What};
use crate::plan::drills::JUMP;
use crate::plan::{ActorIx, DamagePlan, GuardPlan, Plan, PushPlan, ReboundPlan};
use crate::sim::phases::touch::PARTS;
use crate::sim::phases::verdict::Candidate;
use crate::sim::slot::Slot;
use crate::sim::state::State;
use crate::time::Ticks;
use crate::verdict::Verdict;

/// A hit that took effect, or at least bounces.
pub(crate) struct Strike<'s> {
    pub plan: &'s Plan,
    pub candidate: Candidate,
    /// Its line.
    pub line: LineId,
}

impl<'s> Strike<'s> {
    fn impact(&self) -> Impact<'s> {
        Impact {
            plan: self.plan,
            who: Some(self.candidate.who),
            whom: self.candidate.whom,
            rule: Some(self.candidate.rule),
            line: self.line,
            moment: self.candidate.moment,
        }
    }

    /// All that a hit does that landed.
    pub fn land(&self, state: &mut State) {
        let rule = &self.plan.rules[self.candidate.rule.index()];
        if !rule.only_gives {
            let whom = self.candidate.whom;
            state.actors[whom].life.mind.hurt = Some(self.line);
            meters::shaken(self.plan, state, whom, self.line);
        }
        let chain = self.count(state);
        let dose = |state: &State, damage: &DamagePlan| self.dose(state, damage, chain);
        let impact = self.impact();
        let taken = impact.effect(state, Party::Whom, &rule.does, dose);
        if rule.does.damage.is_some() {
            self.note(state, taken, Amount::ZERO);
        }
        self.drain(state, taken.all);
        self.rebound(state);
        for (party, effect) in &rule.also {
            impact.effect(state, *party, effect, dose);
        }
    }

    /// All that a hit does that came to a guard which held.
    pub fn meet_guard(&self, state: &mut State) {
        let rule = &self.plan.rules[self.candidate.rule.index()];
        let whom = self.candidate.whom;
        let Some(guard) = &state.spec(self.plan, whom).guard else {
            return;
        };
        let chain = self.count(state);
        let parried = self.candidate.guard == Some(GuardSaid::Parried);
        let parry = guard.parry.as_ref().filter(|_| parried);
        let through = parry.map_or(guard.through, |parry| parry.through);
        if let Some(damage) = &rule.does.damage {
            let spec = state.spec(self.plan, whom);
            let full = spec.taken(self.dose(state, damage, chain), damage.sort);
            let share = full.times(through);
            let taken = self.impact().take(state, whom, damage, share);
            self.note(state, taken, full - share);
            self.drain(state, taken.all);
        }
        let cost = parry.map_or(rule.guard_cost.unwrap_or(guard.cost), |parry| parry.cost);
        self.charge(state, guard, cost);
        self.rebound(state);
        if let Some(parry) = parry {
            if let Some(push) = &parry.push {
                self.impact().push(state, Party::Who, push);
            }
            let who = self.candidate.who;
            self.impact().stun(state, who, parry.stun, Bearing::Stunned);
        }
    }

    /// Counts a hit of who's chain, and says how many came before.
    fn count(&self, state: &mut State) -> u32 {
        let who = &mut state.actors[self.candidate.who];
        let before = who.chain;
        if !self.plan.rules[self.candidate.rule.index()].chain {
            return before;
        }
        who.chain += 1;
        let chain = who.chain;
        if let Some(What::Hit(hit)) = state.log.get_mut(self.line).map(|event| &mut event.what) {
            hit.chain = Some(chain);
        }
        before
    }

    /// Writes into the hit's line how much it did.
    fn note(&self, state: &mut State, taken: Taken, blocked: Amount) {
        if let Some(What::Hit(hit)) = state.log.get_mut(self.line).map(|event| &mut event.what) {
            hit.amount = taken.found.then(|| taken.all + taken.overkill);
            hit.overkill = taken.overkill;
            hit.blocked = blocked;
        }
    }

    /// How much a hit does: by distance, from who's position to the hurtbox at the moment of touch.
    fn dose(&self, state: &State, damage: &DamagePlan, chain: u32) -> Amount {
        let Candidate {
            who,
            whom,
            hitbox,
            hurtbox,
            moment,
            ..
        } = self.candidate;
        damage.after(chain, || {
            let (who, whom) = (&state.actors[who], &state.actors[whom]);
            let hurtbox = &self.plan.spec_of(whom.spec).hurtboxes[hurtbox.index()];
            let shape = hurtbox.shape_at(whom.facing, whom.age(state.tick));
            let flat = distance(&shape, who.at_moment(moment) - whom.at_moment(moment));
            let gives = &self.plan.spec_of(who.spec).hitboxes[hitbox.index()];
            let (Some(_), Some(span)) = (gives.span, hurtbox.span_at(whom.age(state.tick))) else {
                return flat;
            };
            let part = f64::from(moment) / PARTS;
            let (from, span) = (who.height_at(part), span.moved(whom.height_at(part)));
            let above = HeightSpan::apart(Some(HeightSpan::new(from, from)), Some(span));
            Vec2::new(flat, 0.0).length_with(above)
        })
    }

    fn drain(&self, state: &mut State, taken: Amount) {
        if let Some((share, meter)) = self.plan.rules[self.candidate.rule.index()].drain {
            // At the root there is always a placed actor.
            let maker = Slot::placed(self.credit(state));
            self.impact()
                .give(state, maker, &[meter], taken.times(share));
        }
    }

    /// What a guarded hit costs; an empty meter breaks the guard.
    fn charge(&self, state: &mut State, guard: &GuardPlan, cost: Amount) {
        let whom = self.candidate.whom;
        let Some(meter) = guard.meter else { return };
        let impact = self.impact();
        let Some((nth, held)) = impact.held(state, whom, meter) else {
            return;
        };
        let part = held.min(cost);
        impact.change(state, whom, nth, -part);
        if part.is_positive() && part == held {
            impact.stun(state, whom, guard.break_stun, Bearing::GuardBroken);
            guards::lower(state, whom, Some(self.line), Bearing::GuardBroken);
        }
    }

    /// To whom the hit is counted: who, or its maker.
    fn credit(&self, state: &State) -> ActorIx {
        state.actors[self.candidate.who].life.root
    }

    /// Throws who hit, once per attack and whom, for other boxes once per touch; a new landing
    /// throws again.
    pub fn rebound(&self, state: &mut State) {
        let rule = &self.plan.rules[self.candidate.rule.index()];
        let Some(ReboundPlan { push, up_held }) = &rule.rebound else {
            return;
        };
        let swing = self.candidate.swing;
        let pair = state.contacts.pairs.get_mut(&self.candidate);
        let already = if swing == 0 {
            pair.rebounded
        } else {
            pair.rebounded_by == swing
        };
        if already && self.candidate.verdict != Verdict::Landed {
            return;
        }
        pair.rebounded = true;
        pair.rebounded_by = swing;
        let held = state.actors[self.candidate.who].buttons.is_down(JUMP);
        let up = up_held.filter(|_| held).or(push.up);
        let push = PushPlan { up, ..*push };
        self.impact().push(state, Party::Who, &push);
    }
}

/// Both parties of a hit rest on the next so many ticks. A longer rest replaces a shorter one.
pub(crate) fn rest(plan: &Plan, state: &mut State, candidate: &Candidate) {
    let length = plan.rules[candidate.rule.index()].hitstop;
    if length == Ticks(0) {
        return;
    }
    let until = state.tick + length + Ticks(1);
    for party in [candidate.who, candidate.whom] {
        let actor = &mut state.actors[party];
        actor.rests_until = actor.rests_until.max(until);
    }
}
