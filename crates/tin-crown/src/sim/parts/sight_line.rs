//! Lines along which sensors look.

use super::actor::Actor;
use super::solids;
use crate::geometry::{Gap, HeightSpan, Shape, Vec2, along_prism, gap, sweep};
use crate::plan::{BoxPlan, Plan};

/// A straight line along which one looks.
pub(crate) struct SightLine {
    pub from: Vec2,
    pub path: Vec2,
    /// At which height it begins, and how far it rises; through all heights when absent.
    pub heights: Option<[f64; 2]>,
}

impl SightLine {
    /// From one actor to another.
    pub fn between(plan: &Plan, own: &Actor, other: &Actor) -> SightLine {
        let heights = plan.arena.height.map(|_| {
            let [own, other] = [own, other].map(|actor| actor.eye(plan.spec_of(actor.spec)));
            [own, other - own]
        });
        SightLine {
            from: own.at,
            path: other.at - own.at,
            heights,
        }
    }

    /// Of a ray, as its owner stands.
    pub fn of_ray(own: &Actor, [from, to]: [Vec2; 2], rise: Option<[f64; 2]>) -> SightLine {
        let height = own.life.rise.at;
        SightLine {
            from: own.at + own.facing.turn(from),
            path: own.facing.turn(to - from),
            heights: rise.map(|[low, high]| [height + low, high - low]),
        }
    }

    pub fn length(&self) -> f64 {
        let [_, rise] = self.heights.unwrap_or_default();
        self.path.length_with(rise)
    }

    /// After which part of it, if at all, it meets a box of an actor.
    pub fn meets(&self, actor: &Actor, part: &BoxPlan) -> Option<f64> {
        let shape = part.shape(actor.facing);
        let span = solids::height_of(actor, part);
        along_prism(&shape, span, self.from - actor.at, self.path, self.heights)
    }

    /// How it passes a box of an actor: in the plane, and how far the box is above it.
    pub fn passes(&self, actor: &Actor, part: &BoxPlan) -> (Gap, f64) {
        let point = Shape::circle([0.0, 0.0], f64::MIN_POSITIVE);
        let point = point.unwrap_or_else(|error| unreachable!("a circle that small: {error}"));
        let (shape, offset) = (part.shape(actor.facing), self.from - actor.at);
        let gap = gap(&shape, &point, offset, self.path);
        let Some([height, rise]) = self.heights else {
            return (gap, 0.0);
        };
        // While it is over or under the box, the nearest is at one of the two ends.
        let within = sweep(&shape, &point, offset, self.path);
        let ends = match gap.distance > 0.0 {
            true => [gap.moment; 2],
            false => [within.from.max(0.0), within.to.min(1.0)],
        };
        let span = solids::height_of(actor, part);
        let above = ends.map(|moment| {
            let height = height + rise * moment;
            HeightSpan::apart(Some(HeightSpan::new(height, height)), span)
        });
        let nearest = above.into_iter().min_by(|a, b| a.abs().total_cmp(&b.abs()));
        (gap, nearest.unwrap_or(0.0))
    }
}
