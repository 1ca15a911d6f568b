//! What takes hold of an actor, by a hit or from outside: meters, pushes and stuns.

use super::actor::Doom;
use super::meters::{self, Source};
use super::{attacks, guards, rising};
use crate::amount::Amount;
use crate::encounter::Party;
use crate::geometry::{Facing, Vec2};
use crate::ledger::{Bearing, DeathCause, LineId, What};
use crate::plan::{DamagePlan, EffectPlan, MeterIx, Plan, PushPlan, RuleIx};
use crate::sim::slot::Slot;
use crate::sim::state::State;
use crate::time::Ticks;

/// Something that takes hold of an actor.
#[derive(Clone, Copy)]
pub(crate) struct Impact<'p> {
    pub plan: &'p Plan,
    /// Who acts; nobody of the encounter when absent.
    pub who: Option<Slot>,
    pub whom: Slot,
    pub rule: Option<RuleIx>,
    /// Its line.
    pub line: LineId,
    /// When on the tick they touched, in 4096ths; what comes from outside comes at its end.
    pub moment: u16,
}

/// What was taken from meters.
#[derive(Clone, Copy, Default)]
pub(crate) struct Taken {
    /// Whether there was a meter to take from.
    pub found: bool,
    pub all: Amount,
    pub overkill: Amount,
}

impl Impact<'_> {
    /// All that an effect does to a party; `dose` says how much it takes or gives.
    pub fn effect(
        &self,
        state: &mut State,
        party: Party,
        effect: &EffectPlan,
        dose: impl Fn(&State, &DamagePlan) -> Amount,
    ) -> Taken {
        let target = match party {
            Party::Who => self.who.unwrap_or(self.whom),
            Party::Whom => self.whom,
        };
        let mut taken = Taken::default();
        if let Some(damage) = &effect.damage {
            let amount = dose(state, damage);
            let amount = state.spec(self.plan, target).taken(amount, damage.sort);
            taken = self.take(state, target, damage, amount);
        }
        if effect.kill {
            self.kill(state, target);
        }
        if let Some(heal) = &effect.heal {
            let amount = dose(state, heal);
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

    /// Takes from meters, one after the other, down to nothing.
    pub fn take(
        &self,
        state: &mut State,
        target: Slot,
        damage: &DamagePlan,
        amount: Amount,
    ) -> Taken {
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
    pub fn give(&self, state: &mut State, target: Slot, meters: &[MeterIx], mut amount: Amount) {
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

    /// Which of an actor's meters it is, and what it holds.
    pub fn held(&self, state: &State, actor: Slot, meter: MeterIx) -> Option<(usize, Amount)> {
        let nth = state.spec(self.plan, actor).meter(meter)?;
        let first = state.actors[actor].life.own.meters.start;
        Some((nth, state.stock.meters[first + nth]))
    }

    fn source(&self) -> Source {
        Source {
            who: self.who,
            rule: self.rule,
            cause: Some(self.line),
            of: None,
        }
    }

    pub fn change(&self, state: &mut State, owner: Slot, nth: usize, by: Amount) {
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
            by: self.who.map(|who| state.actors[who].life.root),
        };
        state.doom(target, doom);
        if first && target == self.whom {
            match state.log.get_mut(self.line).map(|event| &mut event.what) {
                Some(What::Hit(hit)) => hit.kills = true,
                Some(What::Apply { kills, .. }) => *kills = true,
                _ => {}
            }
        }
        let source = Source {
            of: Some(DeathCause::Kill),
            ..self.source()
        };
        meters::empty_health(self.plan, state, target, source);
    }

    /// Sets the components of velocity that a push names: of whom away from who, or of who away from
    /// whom.
    pub fn push(&self, state: &mut State, party: Party, push: &PushPlan) {
        // Without anybody to be pushed away from, there is no such component.
        let who = self.who.unwrap_or(self.whom);
        let (index, other) = match party {
            Party::Whom => (self.whom, who),
            Party::Who => (who, self.whom),
        };
        let other_at = state.actors[other].at_moment(self.moment);
        let who_faces = state.actors[who].facing;
        // At equal x, away from who is the way who faces; who itself goes back.
        let back = if party == Party::Whom { 1.0 } else { -1.0 };
        let level = back * who_faces.sign();
        state.pending.pushed.push((index, self.line));
        let tick = state.tick;
        let actor = &mut state.actors[index];
        // It goes on as it is told.
        if actor.is_posed() {
            return;
        }
        let from = actor.at_moment(self.moment) - other_at;
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

    /// Takes the use of its limbs from an actor: attack, guard and remembered presses end.
    pub fn stun(&self, state: &mut State, target: Slot, length: Ticks, bearing: Bearing) {
        if length == Ticks(0) {
            return;
        }
        let until = state.tick + length;
        let actor = &mut state.actors[target];
        if until > actor.stunned_until {
            actor.stunned_until = until;
            let what = What::State {
                bearing: Bearing::Stunned,
                until: Some(actor.rested(until, state.tick)),
            };
            let event = state.tell(Some(target), what);
            event.cause = Some(self.line);
        }
        give_up(self.plan, state, target, Some(self.line), bearing);
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
