//! Bodies against solids: how far along an axis a body gets.

use super::actor::{Actor, Ground};
use super::grid::{Grid, Listed};
use super::rising;
use crate::encounter::Facing;
use crate::geometry::{Bounds, HeightSpan, Shape, TOUCH, Vec2, along_prism, overlap, sweep};
use crate::plan::{ArenaPlan, BoxPlan, Plan, SolidPlan};
use crate::sim::slot::Slot;
use crate::sim::state::State;

/// The arena's own solids, found by place.
#[derive(Clone, Debug, Default)]
pub(crate) struct FixedSolids {
    solids: Vec<(SolidPlan, Shape)>,
    listed: Vec<Listed>,
    grid: Grid,
}

impl FixedSolids {
    pub fn new(arena: &ArenaPlan) -> FixedSolids {
        let shape = |bounds| {
            Shape::upright(bounds)
                .unwrap_or_else(|error| unreachable!("a solid is checked: {error}"))
        };
        let solids: Vec<(SolidPlan, Shape)> = arena
            .solids
            .iter()
            .map(|&solid| (solid, shape(solid.bounds)))
            .collect();
        let bounds = || solids.iter().map(|(solid, _)| solid.bounds);
        let mut grid = Grid::new(arena.bounds, bounds());
        let listed = bounds().enumerate().map(|(index, bounds)| Listed {
            bounds,
            index: index as u32,
        });
        let listed: Vec<Listed> = listed.collect();
        grid.fill(&listed);
        FixedSolids {
            solids,
            listed,
            grid,
        }
    }

    /// Calls `found` with every one that meets `bounds`.
    fn near(&self, bounds: Bounds, mut found: impl FnMut(&SolidPlan, &Shape)) {
        self.grid.query(&self.listed, bounds, |index| {
            let (solid, shape) = &self.solids[index as usize];
            found(solid, shape);
        });
    }
}

/// A body on its way along one axis.
#[derive(Clone, Copy)]
pub(crate) struct Mover<'s> {
    pub shape: &'s Shape,
    pub at: Vec2,
    /// A unit step along the axis: `(1, 0)` or `(0, 1)`.
    pub axis: Vec2,
    /// How far it means to go, either way.
    pub by: f64,
    /// From which height to which it is; through all when absent.
    pub span: Option<HeightSpan>,
}

impl Mover<'_> {
    /// How far it gets before it meets a solid at `origin`, if it meets it at all.
    pub fn meets(&self, solid: &Shape, origin: Vec2) -> Option<f64> {
        if self.by == 0.0 {
            return None;
        }
        if self.shape.is_upright() && solid.is_upright() {
            let wall = solid.bounds().moved(origin);
            let body = self.shape.bounds().moved(self.at);
            let pick = |v: Vec2| {
                if self.axis.x != 0.0 {
                    (v.x, v.y)
                } else {
                    (v.y, v.x)
                }
            };
            let ((wall_low, wall_left), (wall_high, wall_right)) = (pick(wall.min), pick(wall.max));
            let ((low, left), (high, right)) = (pick(body.min), pick(body.max));
            if wall_left + TOUCH >= right || left + TOUCH >= wall_right {
                return None;
            }
            let gap = if self.by > 0.0 {
                wall_low - high
            } else {
                low - wall_high
            };
            // Who is inside already is not stopped on the way out.
            return (gap >= -TOUCH && gap < self.by.abs()).then(|| gap.max(0.0) * self.by.signum());
        }
        let found = sweep(solid, self.shape, self.at - origin, self.axis * self.by);
        // The sweep ends where the two are TOUCH inside each other: that much further than touching.
        let gap = found.from * self.by.abs() - TOUCH;
        (found.from < found.to && gap >= -2.0 * TOUCH && gap < self.by.abs())
            .then(|| gap.max(0.0) * self.by.signum())
    }
}

/// Which solids count.
#[derive(Clone, Copy)]
pub(crate) struct Against {
    /// This one does not.
    pub except: Option<Slot>,
    /// The body moves downward, so that one-way solids count.
    pub downward: bool,
}

/// How far a body gets, and what stopped it: the first of the nearest.
pub(crate) fn advance(
    plan: &Plan,
    state: &State,
    mover: Mover<'_>,
    against: Against,
) -> (f64, Option<Ground>) {
    let mut reached = (mover.by, None);
    let mut meet = |shape: &Shape, origin: Vec2, ground: Ground| {
        if let Some(gap) = mover.meets(shape, origin)
            && gap.abs() < reached.0.abs()
        {
            reached = (gap, Some(ground));
        }
    };
    let body = mover.shape.bounds().moved(mover.at);
    let way = body.joined(body.moved(mover.axis * mover.by));
    state.fixed.near(way, |solid, shape| {
        let high = HeightSpan::meet(solid.span, mover.span, 0.0);
        if high && (!solid.one_way || against.downward) {
            meet(shape, Vec2::ZERO, Ground::Fixed);
        }
    });
    for &index in &state.lists.solids {
        let solid = &state.actors[index];
        if solid.alive
            && against.except != Some(index)
            && let Some(plan) = &plan.spec_of(solid.spec).solid
        {
            let shape = plan.unturned(solid.facing);
            let high = HeightSpan::meet(height_of(solid, plan), mover.span, 0.0);
            if high && shape.bounds().moved(solid.at).meets(way) {
                meet(shape, solid.at, Ground::Moving(solid.number));
            }
        }
    }
    reached
}

/// Moves an actor's body along one axis as far as solids let it, and says how far and what stopped
/// it.
pub(crate) fn shift(
    plan: &Plan,
    state: &mut State,
    index: Slot,
    body: &BoxPlan,
    axis: Vec2,
    by: f64,
    except: Option<Slot>,
) -> (f64, Option<Ground>) {
    let actor = &state.actors[index];
    let mover = Mover {
        shape: body.unturned(actor.facing),
        at: actor.at,
        axis,
        by,
        span: height_of(actor, body),
    };
    let against = Against {
        except,
        downward: axis.y * by * plan.arena.up.sign() < 0.0 && plan.arena.height.is_none(),
    };
    let (moved, stop) = advance(plan, state, mover, against);
    state.actors[index].at += axis * moved;
    (moved, stop)
}

/// What lies right beneath an actor's body.
pub(crate) fn beneath(plan: &Plan, state: &State, index: Slot, body: &BoxPlan) -> Option<Ground> {
    let actor = &state.actors[index];
    let mover = Mover {
        shape: body.unturned(actor.facing),
        at: actor.at,
        axis: Vec2::new(0.0, 1.0),
        by: -plan.arena.up.sign() * 4.0 * TOUCH,
        span: None,
    };
    let against = Against {
        except: None,
        downward: true,
    };
    advance(plan, state, mover, against).1
}

/// How far sideways a body that turned into solids has to go to be clear of them: 0 when it is.
pub(crate) fn sideways_out(plan: &Plan, state: &State, index: Slot, body: &BoxPlan) -> f64 {
    let actor = &state.actors[index];
    let shape = body.unturned(actor.facing);
    let own = shape.bounds().moved(actor.at);
    let mut out: f64 = 0.0;
    let mut clear = |solid: &Shape, origin: Vec2| {
        if overlap(solid, shape, actor.at - origin) {
            let wall: Bounds = solid.bounds().moved(origin);
            let (left, right) = (wall.min.x - own.max.x, wall.max.x - own.min.x);
            let least = if -left < right || (-left == right && actor.facing == Facing::Left) {
                left
            } else {
                right
            };
            if least.abs() > out.abs() {
                out = least;
            }
        }
    };
    for (solid, shape) in &state.fixed.solids {
        if !solid.one_way {
            clear(shape, Vec2::ZERO);
        }
    }
    for &solid in &state.lists.solids {
        let moving = &state.actors[solid];
        if let (true, Some(plan)) = (moving.alive, &plan.spec_of(moving.spec).solid) {
            clear(plan.unturned(moving.facing), moving.at);
        }
    }
    out
}

/// A solid that lies near.
pub(crate) struct Near<'s> {
    pub shape: &'s Shape,
    /// Where it is.
    pub origin: Vec2,
    /// From which height to which; through all when absent.
    pub span: Option<HeightSpan>,
    /// Whether it only stops who comes down on it.
    pub one_way: bool,
    pub solid: Ground,
}

/// From which height to which a box of an actor is, if it says so.
pub(crate) fn height_of(actor: &Actor, part: &BoxPlan) -> Option<HeightSpan> {
    Some(part.span?.moved(actor.life.rise.at))
}

/// Every solid that lies within some bounds, or may; moving ones but those of `except`.
pub(crate) fn near(
    plan: &Plan,
    state: &State,
    bounds: Bounds,
    except: [Option<Slot>; 2],
    mut visit: impl FnMut(Near<'_>),
) {
    state.fixed.near(bounds, |solid, shape| {
        visit(Near {
            shape,
            origin: Vec2::ZERO,
            span: solid.span,
            one_way: solid.one_way,
            solid: Ground::Fixed,
        });
    });
    for &index in &state.lists.solids {
        let actor = &state.actors[index];
        if let (true, false, Some(solid)) = (
            actor.alive,
            except.contains(&Some(index)),
            &plan.spec_of(actor.spec).solid,
        ) {
            let shape = solid.unturned(actor.facing);
            if shape.bounds().moved(actor.at).meets(bounds) {
                visit(Near {
                    shape,
                    origin: actor.at,
                    span: height_of(actor, solid),
                    one_way: false,
                    solid: Ground::Moving(actor.number),
                });
            }
        }
    }
}

/// After which part of a straight way a body first meets a solid, if it does.
pub(crate) fn first_contact(
    plan: &Plan,
    state: &State,
    index: Slot,
    body: &BoxPlan,
    path: Vec2,
) -> Option<f64> {
    let actor = &state.actors[index];
    let shape = body.unturned(actor.facing);
    let from = shape.bounds().moved(actor.at);
    let (own, way) = (height_of(actor, body), rising::way(plan, actor));
    let downward = match plan.arena.height {
        Some(_) => way < 0.0,
        None => path.y * plan.arena.up.sign() < 0.0,
    };
    let mut first = rising::meets_ground(plan, actor, body, way);
    near(
        plan,
        state,
        from.joined(from.moved(path)),
        [Some(index), None],
        |near| {
            let offset = actor.at - near.origin;
            let over = match plan.arena.height {
                Some(_) => !HeightSpan::meet(near.span, own, 0.0),
                None => !overlap(near.shape, shape, offset),
            };
            if near.one_way && !(downward && over) {
                return;
            }
            let met = sweep(near.shape, shape, offset, path);
            let met = HeightSpan::cut(met, near.span, own, 0.0, way);
            if let Some(part) = met.first_moment() {
                first = Some(first.map_or(part, |first| first.min(part)));
            }
        },
    );
    first
}

/// Whether a body is inside a solid.
pub(crate) fn is_within(plan: &Plan, state: &State, index: Slot, body: &BoxPlan) -> bool {
    let actor = &state.actors[index];
    let shape = body.unturned(actor.facing);
    let bounds = shape.bounds().moved(actor.at);
    let mut within = false;
    near(plan, state, bounds, [Some(index), None], |near| {
        within |= !near.one_way
            && HeightSpan::meet(near.span, height_of(actor, body), 0.0)
            && overlap(near.shape, shape, actor.at - near.origin);
    });
    within
}

/// After which part of a line the first solid stands on it, and which; one-way ones do not count. The line
/// begins at a height and rises so far; without, it is a sheet that any solid stops.
pub(crate) fn on_line(
    plan: &Plan,
    state: &State,
    except: [Slot; 2],
    from: Vec2,
    path: Vec2,
    heights: Option<[f64; 2]>,
) -> Option<(f64, Ground)> {
    let ends = [from, from + path].map(|end| Bounds { min: end, max: end });
    let mut first: Option<(f64, Ground)> = None;
    near(
        plan,
        state,
        ends[0].joined(ends[1]),
        except.map(Some),
        |near| {
            let met = along_prism(near.shape, near.span, from - near.origin, path, heights);
            if let (false, Some(part)) = (near.one_way, met)
                && first.is_none_or(|(first, _)| part < first)
            {
                first = Some((part, near.solid));
            }
        },
    );
    first
}

/// Whether there is something to stand on at a point.
pub(crate) fn is_ground(plan: &Plan, state: &State, index: Slot, at: Vec2) -> bool {
    let reach = Vec2::new(4.0 * TOUCH, 4.0 * TOUCH);
    let around = Bounds {
        min: at - reach,
        max: at + reach,
    };
    let mut ground = false;
    near(plan, state, around, [Some(index), None], |near| {
        ground |= near.shape.bounds().moved(near.origin).meets(around);
    });
    ground
}
