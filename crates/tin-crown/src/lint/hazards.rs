//! What hurts without anybody's doing, and where: boxes that stand still, or that a motion takes round
//! and round.

use crate::encounter::{Axis, Chance, Facing};
use crate::geometry::{Bounds, HeightSpan, Shape, TOUCH, Vec2, sweep};
use crate::order;
use crate::plan::{Actor, ActorIx, Drive, Plan, RuleIx, RulePlan, Spec};
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
    /// A way of its owner.
    way: Way,
    /// All that it covers on that way.
    bounds: Bounds,
    /// How long it is live at a time, when not always.
    long: Option<Ticks>,
}

impl Hazard {
    fn moves(&self) -> bool {
        self.way[0] != self.way[1]
    }
}

/// What would hurt an actor at a place.
pub(super) struct Threat<'p> {
    owner: &'p Actor,
    rule: &'p RulePlan,
    moves: bool,
    long: Option<Ticks>,
}

impl Threat<'_> {
    pub fn told(&self, plan: &Plan, whom: &Actor) -> String {
        let Threat { owner, rule, .. } = self;
        let grace = plan.spec_of(whom.spec).after_respawn.in_words();
        let whom = &whom.id;
        if self.moves {
            return format!(
                "where `{whom}` comes back, `{}` passes and hurts it with `{}`, and there is no grace",
                owner.id, rule.name
            );
        }
        let stays = match self.long {
            Some(long) => format!("for {} at a time", long.in_words()),
            None => "always".to_owned(),
        };
        format!(
            "where `{whom}` comes back, `{}` hurts it by `{}`: it is live {stays}, and the grace is \
             {grace}",
            owner.id, rule.name
        )
    }
}

/// A straight way of an actor's position, from and to: in the plane, and how high.
type Way = [(Vec2, f64); 2];

/// The ways of an actor when its motion alone decides; none when that cannot be told.
fn ways(plan: &Plan, actor: &Actor, spec: &Spec) -> Vec<Way> {
    let Chance::Fixed(at) = actor.at else {
        return Vec::new();
    };
    let rise = actor.rise;
    // To and fro, a mirrored way is the same way.
    let turned = |way: Vec2| match actor.facing {
        Facing::Angle(_) => actor.facing.turn(way),
        _ => way,
    };
    if !spec.states.is_empty() {
        return Vec::new();
    }
    match spec.drive {
        Drive::Still if spec.gravity.is_none() => vec![[(at, rise); 2]],
        Drive::Patrol {
            axis,
            low,
            high,
            ledges: false,
            ..
        } => {
            let body = spec.body.as_ref().map(|body| body.unturned(actor.facing));
            let room = room(plan, axis, at, body.map(Shape::bounds));
            let (low, high) = (low.max(room[0]), high.min(room[1]));
            vec![match axis {
                Axis::X => [low, high].map(|x| (Vec2::new(x, at.y), rise)),
                Axis::Y => [low, high].map(|y| (Vec2::new(at.x, y), rise)),
            }]
        }
        Drive::Path { route, .. } => {
            let place = |offset: Vec2, up: f64| (at + actor.facing.turn(offset), rise + up);
            let legs = spec.routes[usize::from(route)].legs.iter();
            legs.map(|leg| [place(leg.from, leg.rise[0]), place(leg.to, leg.rise[1])])
                .collect()
        }
        Drive::Hover { size, rise: up, .. } => {
            let size = turned(size);
            vec![[(at - size, rise - up), (at + size, rise + up)]]
        }
        Drive::Swing { length, arc, .. } => {
            let hangs = |nth: i32| {
                let angle = arc * f64::from(nth) / f64::from(CHORDS);
                let (side, up) = (
                    length * libm::sin(angle),
                    length - length * libm::cos(angle),
                );
                match plan.arena.height {
                    Some(_) => (at + turned(Vec2::new(side, 0.0)), rise + up),
                    None => {
                        let way = Vec2::new(side, plan.arena.up.sign() * up);
                        (at + turned(way), rise)
                    }
                }
            };
            let chords = -CHORDS..CHORDS;
            chords.map(|nth| [hangs(nth), hangs(nth + 1)]).collect()
        }
        _ => Vec::new(),
    }
}

/// Into how many straight pieces each half of a swing is cut.
const CHORDS: i32 = 16;

/// How far an actor can go either way along an axis before the arena's edge, or a solid that its body
/// meets.
fn room(plan: &Plan, axis: Axis, at: Vec2, body: Option<Bounds>) -> [f64; 2] {
    let along = |point: Vec2| match axis {
        Axis::X => [point.x, point.y],
        Axis::Y => [point.y, point.x],
    };
    let arena = plan.arena.bounds;
    let mut room = [along(arena.min)[0], along(arena.max)[0]];
    let Some(body) = body else { return room };
    let [[near, low], [far, high]] = [along(body.min), along(body.max)];
    let [here, beside] = along(at);
    for solid in plan.arena.solids.iter().filter(|solid| !solid.one_way) {
        let [[from, under], [to, over]] = [along(solid.bounds.min), along(solid.bounds.max)];
        if beside + low + TOUCH >= over || under + TOUCH >= beside + high {
            continue;
        }
        if to <= here + near + TOUCH {
            room[0] = room[0].max(to - near);
        } else if from >= here + far - TOUCH {
            room[1] = room[1].min(from - far);
        }
    }
    room
}

impl Hazards {
    pub fn new(plan: &Plan) -> Hazards {
        let mut all = Vec::new();
        for (index, actor) in plan.cast().zip(&plan.actors) {
            let spec = plan.spec_of(actor.spec);
            let ways = ways(plan, actor, spec);
            for (nth, hitbox) in spec.hitboxes.iter().enumerate() {
                if (spec.by_attack.hit | spec.by_state.hit) & (1 << nth) != 0 {
                    continue;
                }
                let all_ways = spec.ways().map(|facing| hitbox.shape(facing).bounds());
                let around = all_ways.fold(Bounds::EMPTY, Bounds::joined);
                all.extend(ways.iter().map(|&way| {
                    Hazard {
                        owner: index,
                        hitbox: nth,
                        way,
                        bounds: way
                            .map(|(at, _)| around.moved(at))
                            .into_iter()
                            .reduce(Bounds::joined)
                            .expect("a way has two ends"),
                        long: hitbox.pulse.map(|pulse| pulse.on),
                    }
                }));
            }
        }
        order::sort_by(&mut all, |a, b| a.bounds.min.x.total_cmp(&b.bounds.min.x));
        let widths = all.iter().map(|hazard| hazard.bounds.size().x);
        Hazards {
            widest: widths.fold(0.0, f64::max),
            all,
        }
    }

    /// Something that hurts an actor at a place: that stays live there longer than its grace lasts, or
    /// passes there while it has none. Those that are spared do not count.
    pub fn at<'p>(
        &self,
        plan: &'p Plan,
        actor: &Actor,
        (at, rise): (Vec2, f64),
        facing: Facing,
        spared: &dyn Fn(ActorIx) -> bool,
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
                    _ if hazard.moves() => grace > Ticks(0),
                    Some(long) => long <= grace,
                    None => false,
                };
                if owner.id == actor.id || harmless || spared(hazard.owner) {
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
                let hitbox = &theirs.hitboxes[hazard.hitbox];
                let [(from, low), (to, high)] = hazard.way;
                let hurts = |theirs| {
                    let own = hurtbox.shape(facing);
                    let met = sweep(&own, &hitbox.shape(theirs), from - at, to - from);
                    let (own, theirs) = (hurtbox.span, hitbox.span);
                    let met = HeightSpan::cut(met, own, theirs, low - rise, high - low);
                    met.first_moment().is_some()
                };
                let turns = hazard.moves() || theirs.rotates;
                if let Some(rule) = found
                    && match turns {
                        true => theirs.ways().any(hurts),
                        false => hurts(owner.facing),
                    }
                {
                    return Some(Threat {
                        owner,
                        rule,
                        moves: hazard.moves(),
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
