//! What a run plays: what its drill says, what begins with an event, and what comes from outside.

use serde::{Deserialize, Serialize};
use std::collections::VecDeque;
use std::sync::Arc;
use tin_crown_derive::CloneFrom;

use super::packed;
use crate::ledger::{Alike, Cast};
use crate::plan::{ActorIx, ApplyPlan, DrillPlan, Edge, Plan, PosePlan, Told, merged};
use crate::sim::state::{Played, State};
use crate::time::{Tick, Ticks};

/// The script of a run, as far as it is known.
#[derive(CloneFrom, Debug, Default, Serialize, Deserialize)]
pub(crate) struct Script {
    /// All edges, once some of them began with an event; till then those of the drill.
    #[serde(with = "begun")]
    edges: Option<Arc<[Edge]>>,
    /// The next edge.
    pub next: usize,
    /// What was pressed and released from outside and is still to come, in the order of edges.
    #[serde(with = "packed::edges")]
    pub live: Vec<Edge>,
    pub told: Queue<Told>,
    pub effects: Queue<ApplyPlan>,
    pub poses: Queue<PosePlan>,
    /// Bits of what has begun.
    begun: u64,
}

/// What is due on some tick: in the order of a drill's list, and of what came in besides.
#[derive(Debug, Serialize, Deserialize)]
pub(crate) struct Queue<T> {
    /// The next of the drill's list.
    next: usize,
    /// What came in besides, and is still to come, in order.
    more: VecDeque<T>,
}

impl<T> Default for Queue<T> {
    fn default() -> Queue<T> {
        Queue {
            next: 0,
            more: VecDeque::new(),
        }
    }
}

impl<T: Clone> Clone for Queue<T> {
    fn clone(&self) -> Queue<T> {
        Queue {
            next: self.next,
            more: self.more.clone(),
        }
    }

    fn clone_from(&mut self, other: &Queue<T>) {
        self.next = other.next;
        self.more.clone_from(&other.more);
    }
}

/// Something that is due on a tick.
pub(crate) trait Timed: Clone {
    /// Its place in the order of what is due.
    fn place(&self) -> (Tick, Option<ActorIx>);
}

impl Timed for Told {
    fn place(&self) -> (Tick, Option<ActorIx>) {
        (self.tick, Some(self.who))
    }
}

impl Timed for PosePlan {
    fn place(&self) -> (Tick, Option<ActorIx>) {
        (self.tick, Some(self.who))
    }
}

/// Those of one tick keep the order in which they were given.
impl Timed for ApplyPlan {
    fn place(&self) -> (Tick, Option<ActorIx>) {
        (self.tick, None)
    }
}

impl<T: Timed> Queue<T> {
    /// Adds one that comes after all of its place.
    pub fn add(&mut self, one: T) {
        let place = self
            .more
            .partition_point(|other| other.place() <= one.place());
        self.more.insert(place, one);
    }

    /// Adds one in the place of another of the same place.
    pub fn replace(&mut self, one: T) {
        self.more.retain(|other| other.place() != one.place());
        self.add(one);
    }

    /// What came in besides the drill's list, and is still to come.
    pub fn to_come(&self) -> impl Iterator<Item = &T> {
        self.more.iter()
    }

    /// Whether nothing is to come any more.
    fn is_over(&self, own: &[T]) -> bool {
        self.next >= own.len() && self.more.is_empty()
    }

    /// The next that is due by a tick.
    pub fn due(&mut self, own: &[T], tick: Tick) -> Option<T> {
        let own = own.get(self.next);
        let more = self.more.front();
        let first = match (own, more) {
            (Some(own), Some(more)) => own.place() <= more.place(),
            (own, _) => own.is_some(),
        };
        let next = if first { own } else { more };
        let next = next.filter(|next| next.place().0 <= tick)?.clone();
        if first {
            self.next += 1;
        } else {
            self.more.pop_front();
        }
        Some(next)
    }
}

mod begun {
    use std::sync::Arc;

    use serde::{Deserialize, Deserializer, Serialize, Serializer};

    use super::packed::PackedEdge;
    use crate::plan::Edge;

    pub fn serialize<S: Serializer>(
        edges: &Option<Arc<[Edge]>>,
        serializer: S,
    ) -> Result<S::Ok, S::Error> {
        let packed = edges.as_ref().map(|edges| {
            let edges = edges.iter().map(|edge| PackedEdge::from(*edge));
            edges.collect::<Vec<_>>()
        });
        packed.serialize(serializer)
    }

    pub fn deserialize<'de, D: Deserializer<'de>>(
        deserializer: D,
    ) -> Result<Option<Arc<[Edge]>>, D::Error> {
        let packed = Option::<Vec<PackedEdge>>::deserialize(deserializer)?;
        Ok(packed.map(|packed| packed.into_iter().map(Edge::from).collect()))
    }
}

impl Script {
    /// The same, where they are.
    pub fn begun_edges(&self) -> &Option<Arc<[Edge]>> {
        &self.edges
    }

    /// The edges that began with an event, if any have.
    pub fn begun(&self) -> Option<Arc<[Edge]>> {
        self.edges.clone()
    }
}

/// Phase 7: what waits for an event of this tick begins.
pub(crate) fn begin(plan: &Plan, state: &mut State) {
    let Some(drill) = state.played.drill(plan) else {
        return;
    };
    for (nth, later) in drill.later.iter().enumerate() {
        if state.script.begun & (1 << nth) != 0 {
            continue;
        }
        let cast = Cast {
            plan,
            launched: state.roll.all(),
        };
        let alike = Alike::new(cast, &later.after);
        let events = state.log.events();
        if !events.iter().any(|event| alike.is(event)) {
            continue;
        }
        let shift = Ticks(later.shift.0.saturating_add(state.tick.0));
        let script = &mut state.script;
        let known = script.edges.as_deref().unwrap_or(&drill.edges);
        let edges = merged(known, &later.edges, shift);
        // What was due up to now has been played.
        script.next = edges.partition_point(|edge| edge.tick <= state.tick);
        script.edges = Some(edges.into());
        let tick = state.tick;
        let to_come = |at: Tick| at > tick;
        for told in later.told.iter().map(|own| own.later(shift)) {
            if to_come(told.tick) {
                script.told.add(told);
            }
        }
        for effect in later.effects.iter().map(|own| own.later(shift)) {
            if to_come(effect.tick) {
                script.effects.add(effect);
            }
        }
        for pose in later.poses.iter().map(|own| own.later(shift)) {
            if to_come(pose.tick) {
                script.poses.add(pose);
            }
        }
        script.begun |= 1 << nth;
    }
}

/// The next that is due on this tick, of what a drill has in such a list.
#[inline]
pub(crate) fn due<T: Timed>(
    plan: &Plan,
    state: &mut State,
    own: impl Fn(&DrillPlan) -> &[T],
    queue: impl Fn(&mut Script) -> &mut Queue<T>,
) -> Option<T> {
    let own = state.played.drill(plan).map_or(&[][..], own);
    let queue = queue(&mut state.script);
    if queue.is_over(own) {
        return None;
    }
    queue.due(own, state.tick)
}

/// The edges of a drill, whatever waits.
pub(crate) fn edges<'p>(
    plan: &'p Plan,
    played: Played,
    begun: &'p Option<Arc<[Edge]>>,
) -> &'p [Edge] {
    let own = played.drill(plan).map_or(&[][..], |drill| &drill.edges);
    begun.as_deref().unwrap_or(own)
}
