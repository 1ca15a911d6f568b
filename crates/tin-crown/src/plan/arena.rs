//! The arena, resolved.

use serde::Serialize;
use tin_crown_derive::Getters;

use super::checker::Checker;
use super::heights::{self, HeightPlan};
use crate::encounter::{Contact, Encounter, Up};
use crate::finding::{Code, Finding, Path};
use crate::geometry::{Bounds, HeightSpan};
use crate::limits;
use crate::order;

/// The arena resolved.
#[derive(Clone, Debug, Getters, PartialEq, Serialize)]
pub struct ArenaPlan {
    /// Its bounds.
    pub(crate) bounds: Bounds,
    /// Which way is up.
    #[getters(copy)]
    pub(crate) up: Up,
    /// Acceleration downward, in units a second squared.
    pub(crate) gravity: f64,
    /// Height above the plane, where there is any.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[getters(copy)]
    pub(crate) height: Option<HeightPlan>,
    /// From which height to which it goes, where its bounds say so.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[getters(copy)]
    pub(crate) span: Option<HeightSpan>,
    /// How contact is tested.
    #[getters(copy)]
    pub(crate) contact: Contact,
    /// Walls and floors, sorted: their order says nothing.
    pub(crate) solids: Vec<SolidPlan>,
}

impl ArenaPlan {
    /// Acceleration downward: in the plane, and above it.
    pub(crate) fn pull(&self) -> [f64; 2] {
        [
            self.gravity,
            self.height.map_or(0.0, |height| height.gravity),
        ]
    }
}

/// A wall or floor.
#[derive(Clone, Copy, Debug, Getters, PartialEq, Serialize)]
pub struct SolidPlan {
    /// Where it is.
    pub(crate) bounds: Bounds,
    /// From which height to which; through all when absent.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[getters(copy)]
    pub(crate) span: Option<HeightSpan>,
    /// Whether it only stops who comes down on it.
    pub(crate) one_way: bool,
    /// Its place in the file, counted from 0.
    #[serde(skip)]
    #[getters(skip)]
    pub(crate) written: usize,
}

pub(super) fn resolve(check: &mut Checker, encounter: &Encounter) -> ArenaPlan {
    let arena = &encounter.arena;
    let base = Path::root().key("arena");
    let solids_path = base.key("solids");
    let bounds = bounds(
        check,
        &base.key("bounds"),
        arena.bounds.min,
        arena.bounds.max,
        "the arena",
    );
    let mut solids: Vec<SolidPlan> = Vec::new();
    for (index, solid) in arena.solids.iter().enumerate() {
        let path = solids_path.index(index);
        solids.push(SolidPlan {
            bounds: self::bounds(check, &path, solid.min, solid.max, "a solid"),
            span: heights::span(check, &path, solid.height),
            one_way: solid.one_way,
            written: index,
        });
    }
    order::sort_by(&mut solids, |a, b| {
        let key = |solid: &SolidPlan| {
            let Bounds { min, max } = solid.bounds;
            let span = solid.span.unwrap_or(HeightSpan::new(0.0, 0.0));
            [min.x, min.y, max.x, max.y, span.low, span.high]
        };
        let both = key(a).into_iter().zip(key(b));
        both.map(|(a, b)| a.total_cmp(&b))
            .find(|order| order.is_ne())
            .unwrap_or(a.one_way.cmp(&b.one_way))
    });
    ArenaPlan {
        bounds,
        up: arena.up,
        gravity: check.number(base.key("gravity"), arena.gravity, &limits::GRAVITY),
        height: (arena.height.as_ref())
            .map(|height| heights::resolve(check, &base.key("height"), height)),
        span: heights::span(check, &base.key("bounds"), arena.bounds.height),
        contact: arena.contact,
        solids,
    }
}

pub(super) fn bounds(
    check: &mut Checker,
    path: &Path,
    min: [f64; 2],
    max: [f64; 2],
    what: &str,
) -> Bounds {
    let low = check.pair(&path.key("min"), min, &limits::COORDINATE);
    let high = check.pair(&path.key("max"), max, &limits::COORDINATE);
    if low[0] >= high[0] || low[1] >= high[1] {
        let message = format!(
            "the bounds of {what} are inverted: min [{}, {}] is not below max [{}, {}]",
            min[0], min[1], max[0], max[1]
        );
        check.report(
            Finding::new(Code::BadBounds, path.key("min"), message)
                .help("`min` holds the smaller x and y, `max` the greater"),
        );
    }
    Bounds::new(low, high)
}
