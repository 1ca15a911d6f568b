//! Resolved drills: when each button goes down and up.

use std::collections::BTreeMap;

use serde::Serialize;
use tin_crown_derive::Getters;

use super::checker::Checker;
use super::index::{ActorIx, ButtonIx};
use super::inputs;
use super::pairing::World;
use crate::encounter::{Afterwards, Drill};
use crate::finding::{Code, Finding, Path};
use crate::limits;
use crate::time::Tick;

/// A resolved drill.
#[derive(Clone, Debug, Getters, PartialEq, Serialize)]
pub struct DrillPlan {
    /// Its name.
    #[serde(skip)]
    pub(crate) name: String,
    /// The tick after which it ends.
    pub(crate) last: Tick,
    /// From which its chance is drawn.
    pub(crate) seed: u32,
    /// Whether it goes on after it is won or lost.
    pub(crate) goes_on: bool,
    /// When buttons go down and up, in the order of ticks, actors and buttons, of which `left` and
    /// `right` count as one; what goes up comes first.
    pub(crate) edges: Vec<Edge>,
}

/// A button that goes down or up.
#[derive(Clone, Copy, Debug, Eq, Getters, PartialEq, Serialize)]
pub struct Edge {
    /// The first tick on which it is so.
    pub(crate) tick: Tick,
    /// Whose button.
    pub(crate) who: ActorIx,
    /// Which button.
    pub(crate) button: ButtonIx,
    /// Whether it is down from here on.
    pub(crate) down: bool,
    /// Whether it was down already, so that the press has no effect.
    #[serde(skip_serializing_if = "std::ops::Not::not")]
    pub(crate) ignored: bool,
}

impl Edge {
    /// Its place in the order of a drill. Left and right are one there, so that the mirror image of a
    /// drill has the mirrored order.
    pub(super) fn place(&self) -> impl Ord + use<> {
        let button = if self.button == RIGHT {
            LEFT
        } else {
            self.button
        };
        (
            self.tick,
            self.who,
            button,
            self.ignored,
            self.down,
            self.button,
        )
    }

    /// Whether two are of left and right, and the same otherwise.
    pub(crate) fn is_twin(&self, other: &Edge) -> bool {
        let mirrored = match self.button {
            LEFT => RIGHT,
            RIGHT => LEFT,
            _ => return false,
        };
        let image = Edge {
            button: mirrored,
            ..*self
        };
        image == *other
    }
}

/// The buttons of a walk, in the order of their indices.
pub(crate) const BUTTONS: [&str; 5] = ["left", "right", "up", "down", "jump"];
pub(crate) const LEFT: ButtonIx = ButtonIx(0);
pub(crate) const RIGHT: ButtonIx = ButtonIx(1);
pub(crate) const UP: ButtonIx = ButtonIx(2);
pub(crate) const DOWN: ButtonIx = ButtonIx(3);
pub(crate) const JUMP: ButtonIx = ButtonIx(4);

pub(super) fn resolve(
    check: &mut Checker,
    drills: &BTreeMap<String, Drill>,
    world: &World<'_>,
) -> Vec<DrillPlan> {
    let base = Path::root().key("drill");
    drills
        .iter()
        .map(|(name, drill)| {
            let path = base.key(name);
            check.name(path.clone(), name, "a drill");
            let last = Tick(check.duration(path.key("length"), drill.length).0);
            if last > Tick(limits::DRILL_TICKS) {
                let message = format!(
                    "a drill of {last} ticks; at most {} are allowed",
                    limits::DRILL_TICKS
                );
                check.report(Finding::new(Code::TooMany, path.key("length"), message));
            }
            DrillPlan {
                name: name.clone(),
                last,
                seed: drill.seed,
                goes_on: drill.afterwards == Afterwards::GoesOn,
                edges: inputs::edges(check, &path.key("input"), drill, last, world),
            }
        })
        .collect()
}
