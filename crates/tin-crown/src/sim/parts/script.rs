//! What a drill plays: its own edges, and those that begin with an event.

use serde::{Deserialize, Serialize};
use std::sync::Arc;
use tin_crown_derive::CloneFrom;

use super::packed;
use crate::ledger::{Alike, Cast};
use crate::plan::{Edge, Plan, Told, merged};
use crate::sim::state::{Played, State};
use crate::time::{Tick, Ticks};

/// The script of a drill, as far as it is known.
#[derive(CloneFrom, Debug, Default, Serialize, Deserialize)]
pub(crate) struct Script {
    /// All edges, once some of them began with an event; till then those of the drill.
    #[serde(with = "begun")]
    edges: Option<Arc<[Edge]>>,
    told: Option<Arc<[Told]>>,
    /// The next edge.
    pub next: usize,
    /// The next that is told which way to face.
    next_told: usize,
    /// Bits of what has begun.
    begun: u64,
    /// What was pressed and released from outside and is still to come, in the order of edges.
    #[serde(with = "packed::edges")]
    pub live: Vec<Edge>,
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
        let Tick(tick) = state.tick;
        let known = state.script.edges.as_deref().unwrap_or(&drill.edges);
        let edges = merged(
            known,
            &later.edges,
            Ticks(later.shift.0.saturating_add(tick)),
        );
        // What was due up to now has been played.
        state.script.next = edges.partition_point(|edge| edge.tick <= state.tick);
        state.script.edges = Some(edges.into());
        let shift = Ticks(later.shift.0.saturating_add(tick));
        let known = state.script.told.as_deref().unwrap_or(&drill.told);
        let more = later.told.iter().map(|told| told.later(shift));
        let mut told: Vec<Told> = known.iter().copied().chain(more).collect();
        // Of two on one tick, the one that came last.
        told.sort_by_key(|told| (told.tick, told.who));
        state.script.next_told = told.partition_point(|told| told.tick <= state.tick);
        state.script.told = Some(told.into());
        state.script.begun |= 1 << nth;
    }
}

/// Who is told on this tick which way to face.
pub(crate) fn told(plan: &Plan, state: &mut State) -> Option<Told> {
    let own = &state.played.drill(plan)?.told;
    let told = state.script.told.as_deref().unwrap_or(own);
    let next = *told.get(state.script.next_told)?;
    (next.tick <= state.tick).then(|| {
        state.script.next_told += 1;
        next
    })
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
