//! Phase 4, touch: live hitboxes against live hurtboxes of other actors that some rule pairs.

use super::grid::Grid;
use super::state::{Actor, State};
use crate::encounter::Contact;
use crate::geometry::{Bounds, Vec2, overlap, sweep};
use crate::plan::{ActorIx, BoxIx, BoxPlan, Plan, ProfileIx, RuleIx};
use crate::time::Tick;

/// Moments are rounded down to this part of a tick before they are compared.
const PARTS: f64 = 4096.0;
/// The end of a tick.
const END: u16 = 4096;

/// The boxes that touch, on this tick and on the last.
#[derive(Clone, Debug)]
pub(super) struct Touching {
    /// In the order of who, hitbox, whom and hurtbox.
    pub now: Vec<Touch>,
    last: Vec<Touch>,
    hurtboxes: Vec<Placed>,
    grid: Grid,
    near: Vec<u32>,
}

/// A hitbox that touches a hurtbox.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) struct Touch {
    pub pair: BoxPair,
    /// When, in 4096ths of the tick.
    pub moment: u16,
}

/// A hitbox and a hurtbox.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub(super) struct BoxPair {
    pub who: ActorIx,
    pub hitbox: BoxIx,
    pub whom: ActorIx,
    pub hurtbox: BoxIx,
}

/// A live box with the space it takes up over the tick.
#[derive(Clone, Copy, Debug)]
struct Placed {
    actor: ActorIx,
    part: BoxIx,
    profile: ProfileIx,
    bounds: Bounds,
}

impl Touching {
    pub fn new(plan: &Plan) -> Touching {
        let boxes = plan.actors.iter().flat_map(|actor| {
            let spec = &plan.specs[actor.spec.index()];
            spec.hurtboxes
                .iter()
                .map(|hurtbox| hurtbox.shape(actor.facing).bounds().moved(actor.at))
        });
        Touching {
            now: Vec::new(),
            last: Vec::new(),
            hurtboxes: Vec::new(),
            grid: Grid::new(plan.arena.bounds, boxes),
            near: Vec::new(),
        }
    }
}

pub(super) fn run(plan: &Plan, state: &mut State) {
    let Touching {
        now,
        last,
        hurtboxes,
        grid,
        near,
    } = &mut state.touching;
    let (actors, tick) = (&state.actors, state.tick);
    std::mem::swap(now, last);
    now.clear();
    hurtboxes.clear();
    let living = || {
        let all = actors.iter().enumerate().filter(|(_, actor)| actor.alive);
        all.map(|(index, actor)| (ActorIx::new(index), actor))
    };
    for (index, actor) in living() {
        let boxes = plan.spec(index).hurtboxes.iter();
        let profiles = &plan.actors[index.index()].takes;
        hurtboxes.extend(placed(plan, index, actor, tick, boxes.zip(profiles)));
    }
    grid.fill(hurtboxes.iter().map(|hurtbox| hurtbox.bounds));
    let mut earlier = last.iter().peekable();
    for (index, actor) in living() {
        let boxes = plan.spec(index).hitboxes.iter();
        let profiles = &plan.actors[index.index()].gives;
        for hitbox in placed(plan, index, actor, tick, boxes.zip(profiles)) {
            near.clear();
            grid.query(hitbox.bounds, |found| {
                let hurtbox = &hurtboxes[found as usize];
                if hurtbox.actor != index && paired(plan, &hitbox, hurtbox).next().is_some() {
                    near.push(found);
                }
            });
            // The hurtboxes are in the order of actors and boxes, so their numbers are too.
            near.sort_unstable();
            for &found in &*near {
                let hurtbox = &hurtboxes[found as usize];
                let pair = BoxPair {
                    who: index,
                    hitbox: hitbox.part,
                    whom: hurtbox.actor,
                    hurtbox: hurtbox.part,
                };
                while earlier.next_if(|touch| touch.pair < pair).is_some() {}
                let touched = earlier.peek().is_some_and(|touch| touch.pair == pair);
                let whom = &actors[hurtbox.actor.index()];
                if let Some(moment) = moment(plan, pair, actor, whom, tick, touched) {
                    now.push(Touch { pair, moment });
                }
            }
        }
    }
}

/// The rules that pair two boxes, in their order.
fn paired<'p>(
    plan: &'p Plan,
    hitbox: &Placed,
    hurtbox: &Placed,
) -> impl Iterator<Item = RuleIx> + use<'p> {
    common(plan.profile(hitbox.profile), plan.profile(hurtbox.profile))
}

/// The rules that pair the boxes of a touch, in their order.
pub(super) fn rules<'p>(plan: &'p Plan, pair: &BoxPair) -> impl Iterator<Item = RuleIx> + use<'p> {
    let gives = plan.actors[pair.who.index()].gives[pair.hitbox.index()];
    let takes = plan.actors[pair.whom.index()].takes[pair.hurtbox.index()];
    common(plan.profile(gives), plan.profile(takes))
}

/// What two ascending lists have in common.
fn common<'p>(
    mut one: &'p [RuleIx],
    mut other: &'p [RuleIx],
) -> impl Iterator<Item = RuleIx> + use<'p> {
    std::iter::from_fn(move || {
        while let ([a, rest_a @ ..], [b, rest_b @ ..]) = (one, other) {
            if a <= b {
                one = rest_a;
            }
            if b <= a {
                other = rest_b;
            }
            if a == b {
                return Some(*a);
            }
        }
        None
    })
}

/// The boxes of an actor that rules concern, with the space they take up over the tick.
fn placed<'p>(
    plan: &Plan,
    index: ActorIx,
    actor: &Actor,
    tick: Tick,
    boxes: impl Iterator<Item = (&'p BoxPlan, &'p ProfileIx)>,
) -> impl Iterator<Item = Placed> {
    let swept = plan.arena.contact == Contact::Swept && actor.appeared != tick;
    let (start, at, facing) = (actor.start, actor.at, actor.facing);
    let concerned = boxes
        .enumerate()
        .filter(|(_, (_, profile))| profile.index() != 0);
    concerned.map(move |(part, (plan, &profile))| {
        let bounds = plan.shape(facing).bounds();
        let end = bounds.moved(at);
        Placed {
            actor: index,
            part: BoxIx::new(part),
            profile,
            bounds: if swept {
                end.joined(bounds.moved(start))
            } else {
                end
            },
        }
    })
}

/// When the two boxes first touch on this tick, if they do.
fn moment(
    plan: &Plan,
    pair: BoxPair,
    who: &Actor,
    whom: &Actor,
    tick: Tick,
    touched: bool,
) -> Option<u16> {
    let hitbox = plan.spec(pair.who).hitboxes[pair.hitbox.index()].shape(who.facing);
    let hurtbox = plan.spec(pair.whom).hurtboxes[pair.hurtbox.index()].shape(whom.facing);
    let at_end = || overlap(hurtbox, hitbox, who.at - whom.at);
    let appeared = who.appeared == tick || whom.appeared == tick;
    if plan.arena.contact == Contact::Sampled || appeared {
        return at_end().then_some(END);
    }
    let (offset, path): (Vec2, Vec2) = (who.start - whom.start, who.path() - whom.path());
    let first = sweep(hurtbox, hitbox, offset, path).first_moment();
    let moment = first.map(|first| libm::floor(first * PARTS) as u16);
    if touched {
        // Who only brushed by on the last tick has to be here again.
        return at_end().then(|| moment.unwrap_or(END));
    }
    moment
}
