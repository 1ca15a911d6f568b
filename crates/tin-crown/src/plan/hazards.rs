//! What hurts without anybody's doing, and where: boxes that stand still, or that a motion takes round
//! and round.

use super::Plan;
use super::cast::Actor;
use super::drives::Drive;
use super::index::{ActorIx, RuleIx};
use super::rules::RulePlan;
use super::spec::Spec;
use crate::encounter::{Axis, Chance, Facing};
use crate::geometry::{Bounds, TOUCH, Vec2, overlap};
use crate::time::Ticks;

/// Hitboxes that are live without anybody's doing, and the space that each takes up.
pub(super) struct Hazards {
    /// In the order of their left edges.
    all: Vec<Hazard>,
    /// How wide the widest is.
    widest: f64,
}

struct Hazard {
    owner: ActorIx,
    hitbox: usize,
    /// All that it covers in the course of its motion.
    bounds: Bounds,
    moves: bool,
    /// How long it is live at a time, when not always.
    long: Option<Ticks>,
}

/// What would hurt somebody at a place.
pub(super) struct Threat<'p> {
    owner: &'p Actor,
    rule: &'p RulePlan,
    moves: bool,
    long: Option<Ticks>,
}

impl Threat<'_> {
    pub fn told(&self, plan: &Plan, whom: &Actor) -> String {
        let Threat { owner, rule, .. } = self;
        let (whom, grace) = (&whom.id, plan.spec_of(whom.spec).after_respawn.0);
        if self.moves {
            return format!(
                "where `{whom}` comes back, `{}` passes and hurts it by `{}`, and there is no grace",
                owner.id, rule.name
            );
        }
        let stays = match self.long {
            Some(Ticks(long)) => format!("for {long} ticks at a time"),
            None => "always".to_owned(),
        };
        format!(
            "where `{whom}` comes back, `{}` hurts it by `{}`: it is live {stays}, and the grace is \
             {grace} ticks",
            owner.id, rule.name
        )
    }
}

/// The places that an actor can be at, around where it is placed, when its motion alone decides.
fn covered(plan: &Plan, actor: &Actor, spec: &Spec) -> Option<Bounds> {
    let point = |at: Vec2| Bounds { min: at, max: at };
    if !spec.states.is_empty() {
        return None;
    }
    let Chance::Fixed(at) = actor.at else {
        return None;
    };
    let faces = |offset: Vec2| match actor.facing {
        Facing::Right => offset,
        Facing::Left => offset.mirrored(),
    };
    Some(match spec.drive {
        Drive::Still if spec.gravity.is_none() => point(at),
        Drive::Patrol {
            axis, low, high, ..
        } => {
            let arena = plan.arena.bounds;
            let ends = match axis {
                Axis::X => {
                    [low.max(arena.min.x), high.min(arena.max.x)].map(|x| Vec2::new(x, at.y))
                }
                Axis::Y => {
                    [low.max(arena.min.y), high.min(arena.max.y)].map(|y| Vec2::new(at.x, y))
                }
            };
            ends.into_iter().map(point).fold(point(at), Bounds::joined)
        }
        Drive::Path { route, .. } => {
            let legs = spec.routes[usize::from(route)].legs.iter();
            let ends = legs.flat_map(|leg| [leg.from, leg.to]);
            ends.map(|offset| point(at + faces(offset)))
                .fold(point(at), Bounds::joined)
        }
        Drive::Hover { size, .. } => point(at + size).joined(point(at - size)),
        Drive::Swing { length, arc, .. } => {
            let wide = length * libm::sin(arc.abs().min(core::f64::consts::FRAC_PI_2));
            let high = plan.arena.up.sign() * (length - length * libm::cos(arc));
            point(at + Vec2::new(wide, high))
                .joined(point(at + Vec2::new(-wide, high)))
                .joined(point(at))
        }
        _ => return None,
    })
}

impl Hazards {
    pub fn new(plan: &Plan) -> Hazards {
        let mut all = Vec::new();
        for (index, actor) in plan.cast().zip(&plan.actors) {
            let spec = plan.spec_of(actor.spec);
            let Some(places) = covered(plan, actor, spec) else {
                continue;
            };
            let moves = places.min != places.max;
            for (nth, hitbox) in spec.hitboxes.iter().enumerate() {
                if (spec.by_attack.hit | spec.by_state.hit) & (1 << nth) != 0 {
                    continue;
                }
                let shape = |facing| hitbox.shape(facing).bounds();
                let own = if moves {
                    shape(Facing::Right).joined(shape(Facing::Left))
                } else {
                    shape(actor.facing)
                };
                all.push(Hazard {
                    owner: index,
                    hitbox: nth,
                    bounds: own.moved(places.min).joined(own.moved(places.max)),
                    moves,
                    long: hitbox.pulse.map(|pulse| pulse.on),
                });
            }
        }
        all.sort_by(|a, b| a.bounds.min.x.total_cmp(&b.bounds.min.x));
        let widths = all.iter().map(|hazard| hazard.bounds.size().x);
        Hazards {
            widest: widths.fold(0.0, f64::max),
            all,
        }
    }

    /// Something that hurts an actor at a place: that stays live there longer than its grace lasts, or
    /// passes there while it has none.
    pub fn at<'p>(
        &self,
        plan: &'p Plan,
        actor: &Actor,
        at: Vec2,
        facing: Facing,
    ) -> Option<Threat<'p>> {
        let spec = plan.spec_of(actor.spec);
        let takes = &plan.breed(actor.breed).takes;
        for (place, hurtbox) in spec.hurtboxes.iter().enumerate() {
            let own = hurtbox.shape(facing).bounds().moved(at);
            let from = self
                .all
                .partition_point(|hazard| hazard.bounds.min.x < own.min.x - self.widest);
            let near = self.all[from..]
                .iter()
                .take_while(|hazard| hazard.bounds.min.x < own.max.x);
            for hazard in near.filter(|hazard| meets(hazard.bounds, own)) {
                let owner = &plan.actors[hazard.owner.index()];
                let grace = spec.after_respawn;
                let harmless = match hazard.long {
                    _ if hazard.moves => grace > Ticks(0),
                    Some(long) => long <= grace,
                    None => false,
                };
                let Chance::Fixed(there) = owner.at else {
                    continue;
                };
                if owner.id == actor.id || harmless {
                    continue;
                }
                let theirs = plan.spec_of(owner.spec);
                let gives = plan.profile(plan.breed(owner.breed).gives[hazard.hitbox]);
                let ally = spec.side.is_some() && spec.side == theirs.side;
                let rules = plan.profile(takes[place]).iter();
                let found = rules
                    .filter(|rule| gives.contains(rule))
                    .find_map(|rule: &RuleIx| {
                        let rule = &plan.rules[rule.index()];
                        let hurts = rule.does.damage.is_some() || rule.does.kill;
                        (hurts && rule.gates.is_empty() && (!ally || rule.friendly)).then_some(rule)
                    });
                let hitbox = theirs.hitboxes[hazard.hitbox].shape(owner.facing);
                if let Some(rule) = found
                    && (hazard.moves || overlap(hurtbox.shape(facing), hitbox, there - at))
                {
                    return Some(Threat {
                        owner,
                        rule,
                        moves: hazard.moves,
                        long: hazard.long,
                    });
                }
            }
        }
        None
    }
}

/// Whether two rectangles are more than an edge inside each other.
fn meets(a: Bounds, b: Bounds) -> bool {
    a.min.x + TOUCH < b.max.x
        && b.min.x + TOUCH < a.max.x
        && a.min.y + TOUCH < b.max.y
        && b.min.y + TOUCH < a.max.y
}
