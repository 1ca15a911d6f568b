//! Whether a state that was read from bytes can be one of a plan: nothing in it leads beyond what there is.

use std::ops::Range;

use super::parts::actor::Actor;
use super::parts::appearing::From;
use super::slot::Slot;
use super::state::State;
use crate::plan::{ActorIx, BoxSet, Named, Plan, Spec};

impl State {
    /// Whether nothing in it leads beyond what there is.
    pub fn is_sound(&self, plan: &Plan) -> bool {
        let placed = plan.actors.len();
        let there = |slot: &Slot| slot.index() < self.actors.len();
        let actors = self.actors.iter();
        let mut actors = actors.enumerate();
        self.actors.len() >= placed
            && self.legs.len() == self.actors.len()
            && self
                .roll
                .is_sound(placed, self.actors.len(), plan.specs.len())
            && actors.all(|(nth, own)| {
                (nth >= placed || own.number.index() == nth) && self.is_sound_actor(plan, own)
            })
            && self.lists.order.iter().all(there)
            && self.lists.roster.iter().all(there)
            && self.lists.limbo.iter().all(there)
            && self.is_sound_pending(plan)
            && self.posed.iter().all(|posed| there(&posed.who))
            && self.is_sound_script(plan)
            && self.contacts.touching.now.iter().all(|touch| {
                let [who, whom] = touch.slots;
                there(&who)
                    && there(&whom)
                    && touch.pair.hitbox.index() < self.spec(plan, who).hitboxes.len()
                    && touch.pair.hurtbox.index() < self.spec(plan, whom).hurtboxes.len()
            })
    }

    fn is_sound_actor(&self, plan: &Plan, own: &Actor) -> bool {
        if own.spec.index() >= plan.specs.len() || own.breed.index() >= plan.breeds.len() {
            return false;
        }
        let (spec, life, stock) = (plan.spec_of(own.spec), &own.life, &self.stock);
        let fits = |range: &Range<usize>, count: usize, all: usize| {
            range.end <= all && range.end.checked_sub(range.start) == Some(count)
        };
        let states = spec.states.len();
        let state = life.mind.state.map(|state| state.index() < states);
        let goals = life.checkpoint.iter().chain(&life.reached).chain(&life.on);
        let mut goals = goals.map(|checkpoint| checkpoint.index());
        // Of who is gone there are remains, whose makers nobody remembers.
        let maker = life.maker.filter(|_| own.alive);
        let maker = maker.and_then(|maker| self.roll.slot(maker));
        let launchers = maker.map(|maker| self.spec(plan, maker).launchers.len());
        fits(&life.own.meters, spec.meters.len(), stock.meters.len())
            && stock.gauges.len() == stock.meters.len()
            && fits(&life.own.attacks, spec.attacks.len(), stock.attacks.len())
            && fits(
                &life.own.launchers,
                spec.launchers.len(),
                stock.barrels.len(),
            )
            && fits(&life.own.sensors, spec.sensors.len(), stock.sights.len())
            && fits(
                &life.own.transitions,
                spec.transitions(),
                stock.switches.len(),
            )
            && state.unwrap_or(states == 0)
            && (own.swing).is_none_or(|swing| {
                swing.attack.index() < spec.attacks.len() && swing.since <= self.tick
            })
            && (life.dying).is_none_or(|dying| dying.next <= spec.death.len())
            && within(own.always, spec)
            && within(own.live, spec)
            && goals.all(|goal| goal < plan.checkpoints.len())
            && (life.launcher.zip(launchers)).is_none_or(|(own, count)| own.index() < count)
            && life.root.index() < plan.actors.len()
            && (!own.alive || self.roll.slot(own.number).is_some())
    }

    fn is_sound_pending(&self, plan: &Plan) -> bool {
        let pending = &self.pending;
        let there = |slot: &Slot| slot.index() < self.actors.len();
        let mut returns = pending.returns.iter().chain(&pending.resets);
        pending
            .paused
            .iter()
            .all(|gauge| *gauge < self.stock.gauges.len())
            && pending.doomed.iter().all(there)
            && returns.all(|own| there(&own.who))
            && pending.births.iter().all(|birth| {
                birth.breed.index() < plan.breeds.len()
                    && there(&birth.maker)
                    && match birth.from {
                        From::Left { .. } => true,
                        From::Launcher { launcher, .. } => {
                            launcher.index() < self.spec(plan, birth.maker).launchers.len()
                        }
                    }
            })
    }

    fn is_sound_script(&self, plan: &Plan) -> bool {
        let script = &self.script;
        let placed = |actor: ActorIx| actor.index() < plan.actors.len();
        let named = |named: &Named| match named {
            Named::Placed(actor) => placed(*actor),
            Named::Launched(_) => true,
        };
        script
            .live
            .iter()
            .all(|edge| placed(edge.who) && edge.button.index() < plan.names.buttons.len())
            && script.told.to_come().all(|told| placed(told.who))
            && script.poses.to_come().all(|told| placed(told.who))
            && (script.effects.to_come())
                .all(|effect| named(&effect.whom) && effect.who.as_ref().is_none_or(named))
    }
}

/// Whether boxes are all of a kind.
fn within(boxes: BoxSet, spec: &Spec) -> bool {
    let all = |bits: u64, count: usize| bits.checked_shr(count as u32).is_none_or(|rest| rest == 0);
    all(boxes.hit, spec.hitboxes.len()) && all(boxes.hurt, spec.hurtboxes.len())
}
