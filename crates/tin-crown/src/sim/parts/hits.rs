//! What a hit does: meters, pushes, stuns and rests, to either party.

use super::actor::Doom;
use super::meters::{self, Source};
use super::{attacks, guards, rising};
use crate::amount::Amount;
use crate::encounter::Party;
use crate::geometry::{Facing, HeightSpan, Vec2, distance};
use crate::ledger::{Bearing, DeathCause, GuardSaid, LineId, What};
use crate::plan::drills::JUMP;
use crate::plan::{
    ActorIx, DamagePlan, EffectPlan, GuardPlan, MeterIx, Plan, PushPlan, ReboundPlan,
};
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

/// What a hit took from meters.
#[derive(Clone, Copy, Default)]
struct Taken {
    /// Whether anybody had a meter to take from.
    found: bool,
    all: Amount,
    overkill: Amount,
}

impl Strike<'_> {
    fn party(&self, party: Party) -> Slot {
        match party {
            Party::Who => self.candidate.who,
            Party::Whom => self.candidate.whom,
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
        let taken = self.effect(state, Party::Whom, &rule.does, chain);
        if rule.does.damage.is_some() {
            self.note(state, taken, Amount::ZERO);
        }
        self.drain(state, taken.all);
        self.rebound(state);
        for (party, effect) in &rule.also {
            self.effect(state, *party, effect, chain);
        }
        self.rest(state, rule.hitstop);
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
            let taken = self.take(state, whom, damage, share);
            self.note(state, taken, full - share);
            self.drain(state, taken.all);
        }
        let cost = parry.map_or(rule.guard_cost.unwrap_or(guard.cost), |parry| parry.cost);
        self.charge(state, guard, cost);
        self.rebound(state);
        if let Some(parry) = parry {
            if let Some(push) = &parry.push {
                self.push(state, Party::Who, push);
            }
            self.stun(state, self.candidate.who, parry.stun, Bearing::Stunned);
        }
        self.rest(state, rule.hitstop);
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

    fn effect(&self, state: &mut State, party: Party, effect: &EffectPlan, chain: u32) -> Taken {
        let target = self.party(party);
        let mut taken = Taken::default();
        if let Some(damage) = &effect.damage {
            let amount = self.dose(state, damage, chain);
            let amount = state.spec(self.plan, target).taken(amount, damage.sort);
            taken = self.take(state, target, damage, amount);
        }
        if effect.kill {
            self.kill(state, target);
        }
        if let Some(heal) = &effect.heal {
            let amount = self.dose(state, heal, chain);
            self.give(state, target, &heal.meters, amount);
        }
        if let Some(push) = &effect.knockback {
            self.push(state, party, push);
        }
        self.stun(state, target, effect.stun, Bearing::Stunned);
        for &(meter, length) in &effect.freeze {
            meters::freeze(self.plan, state, target, meter, length, self.line);
        }
        taken
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
            let part = f64::from(moment) / 4096.0;
            let (from, span) = (who.height_at(part), span.moved(whom.height_at(part)));
            let above = HeightSpan::apart(Some(HeightSpan::new(from, from)), Some(span));
            Vec2::new(flat, 0.0).length_with(above)
        })
    }

    /// Takes from meters, one after the other, down to nothing.
    fn take(&self, state: &mut State, target: Slot, damage: &DamagePlan, amount: Amount) -> Taken {
        let mut taken = Taken {
            overkill: amount,
            ..Taken::default()
        };
        for &meter in &damage.meters {
            let Some((nth, held)) = self.held(state, target, meter) else {
                continue;
            };
            taken.found = true;
            let part = held.min(taken.overkill);
            taken.overkill -= part;
            taken.all += part;
            self.change(state, target, nth, -part);
            if !damage.overflow && held.is_positive() {
                break;
            }
        }
        if !taken.found {
            taken.overkill = Amount::ZERO;
        }
        taken
    }

    /// Gives to meters, one after the other, up to what they hold. The dead get nothing.
    fn give(&self, state: &mut State, target: Slot, meters: &[MeterIx], mut amount: Amount) {
        let own = &state.actors[target];
        if own.life.doom.is_some() || own.dying || !own.alive {
            return;
        }
        for &meter in meters {
            let Some((nth, held)) = self.held(state, target, meter) else {
                continue;
            };
            let part = (state.spec(self.plan, target).meters[nth].max - held).min(amount);
            amount -= part;
            self.change(state, target, nth, part);
        }
    }

    fn drain(&self, state: &mut State, taken: Amount) {
        if let Some((share, meter)) = self.plan.rules[self.candidate.rule.index()].drain {
            // At the root there is always a placed actor.
            let maker = Slot::placed(self.credit(state));
            self.give(state, maker, &[meter], taken.times(share));
        }
    }

    /// What a guarded hit costs; an empty meter breaks the guard.
    fn charge(&self, state: &mut State, guard: &GuardPlan, cost: Amount) {
        let whom = self.candidate.whom;
        let Some(meter) = guard.meter else { return };
        let Some((nth, held)) = self.held(state, whom, meter) else {
            return;
        };
        let part = held.min(cost);
        self.change(state, whom, nth, -part);
        if part.is_positive() && part == held {
            self.stun(state, whom, guard.break_stun, Bearing::GuardBroken);
            guards::lower(state, whom, Some(self.line), Bearing::GuardBroken);
        }
    }

    /// Which of an actor's meters it is, and what it holds.
    fn held(&self, state: &State, actor: Slot, meter: MeterIx) -> Option<(usize, Amount)> {
        let nth = state.spec(self.plan, actor).meter(meter)?;
        let first = state.actors[actor].life.own.meters.start;
        Some((nth, state.stock.meters[first + nth]))
    }

    /// To whom the hit is counted: who, or its maker.
    fn credit(&self, state: &State) -> ActorIx {
        state.actors[self.candidate.who].life.root
    }

    fn source(&self) -> Source {
        Source {
            who: Some(self.candidate.who),
            rule: Some(self.candidate.rule),
            cause: Some(self.line),
            of: None,
        }
    }

    fn change(&self, state: &mut State, owner: Slot, nth: usize, by: Amount) {
        meters::change(self.plan, state, owner, nth, by, self.source());
    }

    /// Empties health outright. Who is to die already does so of what came first.
    fn kill(&self, state: &mut State, target: Slot) {
        let own = &state.actors[target];
        if own.dying {
            return;
        }
        let first = own.life.doom.is_none();
        let doom = Doom {
            of: DeathCause::Kill,
            hit: Some(self.line),
            by: Some(self.credit(state)),
        };
        state.doom(target, doom);
        if first
            && target == self.candidate.whom
            && let Some(What::Hit(hit)) = state.log.get_mut(self.line).map(|event| &mut event.what)
        {
            hit.kills = true;
        }
        let source = Source {
            of: Some(DeathCause::Kill),
            ..self.source()
        };
        meters::empty_health(self.plan, state, target, source);
    }

    /// Sets the components of velocity that a push names: of whom away from who, or of who away from
    /// whom.
    fn push(&self, state: &mut State, party: Party, push: &PushPlan) {
        let (index, other) = match party {
            Party::Whom => (self.candidate.whom, self.candidate.who),
            Party::Who => (self.candidate.who, self.candidate.whom),
        };
        let (other_at, who_faces) = (
            state.actors[other].at,
            state.actors[self.candidate.who].facing,
        );
        // At equal x, away from who is the way who faces; who itself goes back.
        let back = if party == Party::Whom { 1.0 } else { -1.0 };
        let level = back * who_faces.sign();
        state.pending.pushed.push((index, self.line));
        let tick = state.tick;
        let actor = &mut state.actors[index];
        let from = actor.at - other_at;
        let rotates = matches!(actor.facing, Facing::Angle(_));
        let line = match from {
            Vec2::ZERO if rotates => who_faces.ahead() * back,
            Vec2::ZERO => Vec2::new(level, 0.0),
            from => from.unit(),
        };
        if let (Some(away), true) = (push.away, rotates) {
            actor.velocity = line * away;
        } else if let Some(away) = push.away {
            let way = if from.x == 0.0 {
                level
            } else {
                from.x.signum()
            };
            actor.velocity.x = away * way;
        }
        if let Some(forward) = push.forward {
            match rotates {
                true => actor.velocity = actor.facing.ahead() * forward,
                false => actor.velocity.x = forward * actor.facing.sign(),
            }
        }
        if let Some(along) = push.along {
            actor.velocity = line * along;
        }
        if let Some(up) = push.up {
            rising::throw(self.plan, actor, up);
        }
        if push.length > Ticks(0) {
            // The hit is of this tick, whose motion is over: the window covers those to come.
            actor.undriven_until = actor.undriven_until.max(tick + push.length);
        }
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
        self.push(state, Party::Who, &PushPlan { up, ..*push });
    }

    /// Takes the use of its limbs from an actor: attack, guard and remembered presses end.
    fn stun(&self, state: &mut State, target: Slot, length: Ticks, bearing: Bearing) {
        if length == Ticks(0) {
            return;
        }
        let until = state.tick + length;
        let actor = &mut state.actors[target];
        if until > actor.stunned_until {
            actor.stunned_until = until;
            let what = What::State {
                bearing: Bearing::Stunned,
                until: Some(until),
            };
            let event = state.tell(Some(target), what);
            event.cause = Some(self.line);
        }
        give_up(self.plan, state, target, Some(self.line), bearing);
    }

    /// Both parties rest on the next so many ticks. A longer rest replaces a shorter one.
    fn rest(&self, state: &mut State, length: Ticks) {
        if length == Ticks(0) {
            return;
        }
        let until = state.tick + length + Ticks(1);
        for party in [self.candidate.who, self.candidate.whom] {
            let actor = &mut state.actors[party];
            actor.rests_until = actor.rests_until.max(until);
        }
    }
}

/// The attack, the guard and the remembered presses of an actor end.
pub(crate) fn give_up(
    plan: &Plan,
    state: &mut State,
    index: Slot,
    cause: Option<LineId>,
    bearing: Bearing,
) {
    attacks::end(plan, state, index, cause, true);
    let bearing = match bearing {
        Bearing::GuardBroken => Bearing::GuardBroken,
        _ => Bearing::GuardDown,
    };
    guards::lower(state, index, cause, bearing);
    let attacks = state.actors[index].life.own.attacks.clone();
    for readiness in &mut state.stock.attacks[attacks] {
        readiness.pressed = None;
    }
}
