//! How actors stand, line by line of a ledger.

use super::seen::Seen;
use crate::amount::Amount;
use crate::ledger::Replay;
use crate::ledger::{Bearing, Event, What};
use crate::map::Map;
use crate::plan::{ActorIx, AttackIx, DuringPlan, MeterIx, PortionPlan, StateIx};
use crate::time::Tick;

/// How an actor stands.
#[derive(Clone, Debug, Default)]
pub(super) struct Standing {
    pub there: bool,
    pub dying: bool,
    pub guarding: bool,
    /// Whether it is stunned, as of a tick of which a line tells.
    pub stunned: Option<(Tick, bool)>,
    pub state: Option<StateIx>,
    pub attack: Option<AttackIx>,
    pub meters: Map<MeterIx, Amount>,
}

/// How everyone stands after some lines of a ledger.
pub(super) struct Stage<'a> {
    replay: &'a Replay,
    pub cast: Map<ActorIx, Standing>,
}

impl<'a> Stage<'a> {
    pub fn new(replay: &'a Replay) -> Stage<'a> {
        Stage {
            replay,
            cast: Map::new(),
        }
    }

    /// Takes in one more line.
    pub fn take(&mut self, event: &Event) {
        let Some(who) = event.who else { return };
        let spec = self.replay.spec(who);
        let own = self.cast.or_default(who);
        match &event.what {
            What::Appear => {
                let meters = std::mem::take(&mut own.meters);
                *own = Standing {
                    there: true,
                    stunned: Some((event.tick, false)),
                    state: spec.start,
                    meters,
                    ..Standing::default()
                };
                for meter in &spec.meters {
                    // What it held before it died is reset by lines of its own.
                    own.meters.or_insert_with(meter.name, || meter.start);
                }
            }
            What::Death { .. } => own.dying = true,
            What::Gone | What::Vanish { .. } => {
                own.there = false;
                own.dying = false;
            }
            What::Enter { state, .. } => own.state = Some(*state),
            What::Attack {
                attack, over: None, ..
            } => own.attack = Some(*attack),
            What::Attack { .. } => own.attack = None,
            What::State { bearing, .. } => match bearing {
                Bearing::GuardUp => own.guarding = true,
                Bearing::GuardDown | Bearing::GuardBroken => own.guarding = false,
                Bearing::Stunned => own.stunned = Some((event.tick, true)),
                Bearing::Reloading
                | Bearing::Reloaded
                | Bearing::ReloadBroken
                | Bearing::Frozen(_) => {}
            },
            What::Meter { meter, after, .. } => {
                let owner = self.cast.or_default(event.whom.unwrap_or(who));
                owner.meters.insert(*meter, *after);
            }
            _ => {}
        }
    }

    /// Whether an actor whom it asks for stands so.
    fn is_so(&self, during: &DuringPlan, tick: Tick, seen: &Seen) -> bool {
        let mut there = self.cast.iter().filter(|(_, own)| own.there);
        there.any(|(&actor, own)| {
            // How long a stun lasts only the run itself knows.
            let stunned = || match own.stunned {
                Some((told, stunned)) if told == tick => stunned,
                _ => seen.stunned.contains(&(tick, actor)),
            };
            let spec = self.replay.spec(actor);
            let state = own.state.map(|state| spec.states[state.index()].name);
            let attack = own.attack.map(|attack| spec.attacks[attack.index()].name);
            let between = |asked: &(MeterIx, Option<PortionPlan>, Option<PortionPlan>)| {
                let (meter, least, most) = *asked;
                let held = own.meters.get(&meter).zip(spec.meter(meter));
                held.is_some_and(|(held, place)| {
                    let max = spec.meters[place].max;
                    least.is_none_or(|least| *held >= least.of(max))
                        && most.is_none_or(|most| *held <= most.of(max))
                })
            };
            self.replay.is_chosen(&during.who, actor)
                && (during.state.is_none() || during.state == state)
                && (during.attack.is_none() || during.attack == attack)
                && during.guarding.is_none_or(|yes| own.guarding == yes)
                && during.stunned.is_none_or(|yes| stunned() == yes)
                && during.dying.is_none_or(|yes| own.dying == yes)
                && during.meters.iter().all(between)
        })
    }
}

/// For each line of the ledger, whether it was so just before it.
pub(super) fn when(replay: &Replay, during: &DuringPlan, seen: &Seen) -> Vec<bool> {
    let mut stage = Stage::new(replay);
    let events = replay.ledger().events().iter();
    events
        .map(|event| {
            let so = stage.is_so(during, event.tick, seen);
            stage.take(event);
            so
        })
        .collect()
}
