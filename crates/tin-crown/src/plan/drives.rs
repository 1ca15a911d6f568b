//! What drives actors, resolved.

use serde::{Deserialize, Serialize};

use super::heights::is_zero;
use super::select::Group;
use crate::encounter::Axis;
use crate::geometry::Vec2;
use crate::time::Ticks;

/// What drives an actor: its own motion.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
#[non_exhaustive]
pub enum Drive {
    /// It stays.
    Still,
    /// It goes on as it was sent off.
    Coast,
    /// It falls.
    Fall {
        /// The greatest speed downward, in units a second.
        most: Option<f64>,
    },
    /// To and fro.
    Patrol {
        /// Along which axis.
        axis: Axis,
        /// The lesser turning point; minus infinity when there is none.
        low: f64,
        /// The greater turning point; infinity when there is none.
        high: f64,
        /// Units a second.
        speed: f64,
        /// Whether it turns before its body would walk over an edge.
        ledges: bool,
    },
    /// By buttons.
    Walk {
        /// Units a second.
        speed: f64,
        /// Units a second squared; at once when absent.
        accel: Option<f64>,
        /// Units a second squared; at once when absent.
        brake: Option<f64>,
        /// Units a second upward; no jump when absent.
        jump: Option<f64>,
        /// How much `left` and `right` turn it in a tick, in 2^32ths of a turn; it goes where the buttons
        /// point when absent.
        #[serde(skip_serializing_if = "Option::is_none")]
        turn: Option<u32>,
    },
    /// From point to point.
    Path {
        /// Which of its kind's routes.
        route: u16,
        /// How fast it returns to its path, in units a second.
        speed: f64,
    },
    /// Chases an actor.
    Chase {
        /// After whom.
        whom: Target,
        /// Units a second.
        speed: f64,
        /// Cosine and sine of the most it turns in a tick; at once when absent.
        turn: Option<[f64; 2]>,
        /// How near it comes, in units.
        stop_at: f64,
    },
    /// About a point.
    Hover {
        /// How far it goes to one side, facing right.
        size: Vec2,
        /// How far it goes up with that.
        #[serde(skip_serializing_if = "is_zero")]
        rise: f64,
        /// From there to there again.
        period: Ticks,
        /// How far into the period it begins.
        phase: Ticks,
        /// How fast it returns to its line, in units a second.
        speed: f64,
    },
    /// As a pendulum.
    Swing {
        /// From where it hangs, in units.
        length: f64,
        /// How far it swings to either side, in radians.
        arc: f64,
        /// There and back.
        period: Ticks,
        /// How far into the period it begins.
        phase: Ticks,
    },
    /// Stays at an offset from an actor.
    Follow {
        /// From whom; its maker when absent.
        whom: Option<Group>,
        /// The offset, facing right.
        offset: Vec2,
        /// How far above the other.
        #[serde(skip_serializing_if = "is_zero")]
        rise: f64,
        /// Units a second; at once when absent.
        speed: Option<f64>,
    },
    /// Straight back to where it was placed.
    Return {
        /// Units a second.
        speed: f64,
    },
}

/// At whom something is aimed.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub enum Target {
    /// Whom its owner noticed when it came into its state.
    Noticed,
    /// The nearest of these.
    Nearest(Group),
}

impl Drive {
    /// Whether the arena's gravity acts on who is driven so, unless its kind says how much.
    pub(crate) fn falls(&self) -> bool {
        matches!(self, Drive::Walk { .. } | Drive::Fall { .. })
    }

    /// The same at another speed.
    pub(crate) fn at_speed(mut self, to: f64) -> Drive {
        if let Drive::Patrol { speed, .. } | Drive::Chase { speed, .. } = &mut self {
            *speed = to;
        }
        self
    }
}
