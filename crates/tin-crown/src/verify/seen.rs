//! What a ledger does not tell: where actors are, pushes and landings, seen by playing the drill again.

use crate::encounter::Happening;
use crate::geometry::{Angle, Vec2};
use crate::ledger::{LineId, Replay};
use crate::map::{Map, Set};
use crate::plan::{ActorIx, Chosen, ExpectPlan, ExpectedPlan};
use crate::sim::Sim;
use crate::time::{Tick, Ticks};

/// Where an actor is.
#[derive(Clone, Copy, Debug)]
pub(super) struct Place {
    /// In the plane.
    pub at: Vec2,
    /// How high above it.
    pub height: f64,
    /// Which way it faces, positive toward up.
    pub facing: Angle,
}

/// Something that happened: when, and the line of the ledger that tells of it, or the last before it.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) struct Found {
    pub tick: Tick,
    pub id: LineId,
}

/// What was seen of a drill.
#[derive(Debug, Default)]
pub(super) struct Seen {
    /// Who came to stand on something.
    pub landings: Vec<(ActorIx, Found)>,
    /// Who was pushed, by the hit of that line.
    pub pushes: Vec<(ActorIx, Found)>,
    /// Where those were whose place is asked for, on each tick on which they were there.
    pub places: Map<ActorIx, Vec<(Tick, Place)>>,
    /// Who was stunned when a tick began.
    pub stunned: Set<(Tick, ActorIx)>,
}

/// Whether an expectation asks for what only a second look can tell.
pub(super) fn needed(expected: &ExpectPlan) -> bool {
    let during = expected.during.as_ref();
    if during.is_some_and(|during| during.stunned.is_some()) {
        return true;
    }
    let what = match &expected.what {
        ExpectedPlan::Place(_) => return true,
        ExpectedPlan::Happens(pattern) | ExpectedPlan::Never(pattern) => Some(pattern),
        ExpectedPlan::Stand(_) | ExpectedPlan::Ends(_) => None,
    };
    let all = [what, expected.before.as_ref(), expected.after.as_ref()];
    let mut all = all.into_iter().flatten();
    all.any(|pattern| matches!(pattern.happening, Happening::Push | Happening::Landing))
}

impl Seen {
    /// Plays the drill again up to the ledger's last tick.
    pub fn of(replay: &Replay, expected: &[&ExpectPlan]) -> Seen {
        let asked: Vec<&Chosen> = expected
            .iter()
            .filter_map(|expected| match &expected.what {
                ExpectedPlan::Place(stay) => Some(&stay.who),
                _ => None,
            })
            .collect();
        let last = replay
            .ledger()
            .events()
            .last()
            .map_or(Tick(0), |event| event.tick);
        let mut sim = Sim::new(replay.plan(), replay.drill());
        let mut seen = Seen::default();
        let mut grounded: Set<ActorIx> = Set::new();
        let mut told = 0;
        loop {
            let tick = sim.tick();
            let before = LineId(told.max(1));
            for actor in sim.cast() {
                let view = sim.actor(actor);
                if view.stunned {
                    seen.stunned.insert((tick + Ticks(1), actor));
                }
                if !view.grounded {
                    grounded.remove(&actor);
                } else if grounded.insert(actor) && view.age.0 > 0 {
                    seen.landings.push((actor, Found { tick, id: before }));
                }
                if asked.iter().any(|chosen| replay.is_chosen(chosen, actor)) {
                    seen.places.or_default(actor).push((
                        tick,
                        Place {
                            at: view.at,
                            height: view.height,
                            facing: replay.upward(view.facing.angle()),
                        },
                    ));
                }
            }
            let pushes = sim.pushed().map(|(actor, id)| (actor, Found { tick, id }));
            seen.pushes.extend(pushes);
            told = sim.ledger().len() as u32;
            // It was played before: it stays within the limits.
            if tick >= last || !sim.step().unwrap_or(false) {
                return seen;
            }
        }
    }
}
