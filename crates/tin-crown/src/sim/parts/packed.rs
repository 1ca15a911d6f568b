//! How what a plan writes as JSON, with what is at its default left out, stands in the bytes of a snapshot.

use serde::{Deserialize, Serialize};

use crate::encounter::Axis;
use crate::geometry::Vec2;
use crate::plan::{ActorIx, ButtonIx, Drive, Edge, Group, Target};
use crate::time::{Tick, Ticks};

/// As [`Drive`], nothing left out.
#[derive(Serialize, Deserialize)]
#[serde(remote = "Drive")]
pub(crate) enum PackedDrive {
    Still,
    Coast,
    Fall {
        most: Option<f64>,
    },
    Patrol {
        axis: Axis,
        low: f64,
        high: f64,
        speed: f64,
        ledges: bool,
    },
    Walk {
        speed: f64,
        accel: Option<f64>,
        brake: Option<f64>,
        jump: Option<f64>,
        turn: Option<u32>,
    },
    Path {
        route: u16,
        speed: f64,
    },
    Chase {
        whom: Target,
        speed: f64,
        turn: Option<[f64; 2]>,
        stop_at: f64,
    },
    Hover {
        size: Vec2,
        rise: f64,
        period: Ticks,
        phase: Ticks,
        speed: f64,
    },
    Swing {
        length: f64,
        arc: f64,
        period: Ticks,
        phase: Ticks,
    },
    Follow {
        whom: Option<Group>,
        offset: Vec2,
        rise: f64,
        speed: Option<f64>,
    },
    Return {
        speed: f64,
    },
}

/// As [`Edge`], nothing left out.
#[derive(Clone, Copy, Serialize, Deserialize)]
pub(crate) struct PackedEdge {
    tick: Tick,
    who: ActorIx,
    button: ButtonIx,
    down: bool,
    ignored: bool,
}

impl From<Edge> for PackedEdge {
    fn from(edge: Edge) -> PackedEdge {
        let Edge {
            tick,
            who,
            button,
            down,
            ignored,
        } = edge;
        PackedEdge {
            tick,
            who,
            button,
            down,
            ignored,
        }
    }
}

impl From<PackedEdge> for Edge {
    fn from(packed: PackedEdge) -> Edge {
        let PackedEdge {
            tick,
            who,
            button,
            down,
            ignored,
        } = packed;
        Edge {
            tick,
            who,
            button,
            down,
            ignored,
        }
    }
}

/// Edges, packed one by one.
pub(crate) mod edges {
    use serde::{Deserialize, Deserializer, Serializer};

    use super::{Edge, PackedEdge};

    pub fn serialize<S: Serializer>(edges: &[Edge], serializer: S) -> Result<S::Ok, S::Error> {
        serializer.collect_seq(edges.iter().map(|edge| PackedEdge::from(*edge)))
    }

    pub fn deserialize<'de, D: Deserializer<'de>>(deserializer: D) -> Result<Vec<Edge>, D::Error> {
        let packed = Vec::<PackedEdge>::deserialize(deserializer)?;
        Ok(packed.into_iter().map(Edge::from).collect())
    }
}
