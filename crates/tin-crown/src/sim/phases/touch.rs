//! Phase 4, touch: live hitboxes against live hurtboxes of other actors that some rule pairs.

use crate::encounter::{Contact, Facing};
use crate::geometry::{Bounds, HeightSpan, Interval, Vec2, sweep, sweep_upright};
use crate::limits;
use crate::plan::{ActorIx, BoxIx, BoxPlan, PauseIx, Plan, ProfileIx, RuleIx};
use crate::sim::parts::actor::Actor;
use crate::sim::parts::attacks;
use crate::sim::parts::nearby::Nearby;
use crate::sim::parts::turning;
use crate::sim::slot::{Slot, Slots};
use crate::sim::state::State;
use crate::time::{Tick, Ticks};
use serde::{Deserialize, Serialize};
use tin_crown_derive::CloneFrom;

/// Moments are rounded down to this part of a tick before they are compared.
pub(crate) const PARTS: f64 = END as f64;
/// The moment at the end of a tick.
pub(crate) const END: u16 = 4096;

/// The boxes that touch, on this tick and on the last.
#[derive(CloneFrom, Debug, Default, Serialize, Deserialize)]
pub(crate) struct Touching {
    /// In the order of who, hitbox, whom and hurtbox.
    pub now: Vec<Touch>,
    #[scratch]
    #[serde(skip)]
    last: Vec<Touch>,
    /// The boxes that rules concern, in the order of actors and boxes.
    #[serde(skip)]
    gives: Vec<Part>,
    #[serde(skip)]
    takes: Vec<Part>,
    /// Whether one of them grows or turns.
    #[serde(skip)]
    change: bool,
    #[serde(skip)]
    pairing: Pairing,
    #[serde(skip)]
    nearby: Nearby,
    #[scratch]
    #[serde(skip)]
    near: Vec<u32>,
}

/// Which boxes any rule pairs, or of which one pauses meters of the other's owner: by their profiles.
#[derive(Clone, Debug, Default)]
struct Pairing {
    /// Of each profile that gives, bits of those that take; none when there are more than bits.
    pairs: Vec<u64>,
}

impl Pairing {
    fn new(plan: &Plan) -> Pairing {
        let all = plan.profiles();
        if all.len() > 64 {
            return Pairing::default();
        }
        let takers = |gives| {
            let takes = plan.profiles().filter(|takes| pair(plan, [gives, *takes]));
            takes.fold(0, |bits, takes| bits | 1 << takes.index())
        };
        Pairing {
            pairs: all.map(takers).collect(),
        }
    }

    fn pairs(&self, plan: &Plan, hitbox: &Part, hurtbox: &Part) -> bool {
        if hitbox.actor == hurtbox.actor {
            return false;
        }
        let (gives, takes) = (hitbox.profile, hurtbox.profile);
        match self.pairs.get(gives.index()) {
            Some(takers) => takers & (1 << takes.index()) != 0,
            None => pair(plan, [gives, takes]),
        }
    }
}

/// A hitbox that touches a hurtbox.
#[derive(Clone, Copy, Debug, Serialize, Deserialize)]
pub(crate) struct Touch {
    pub pair: BoxPair,
    /// Who and whom.
    pub slots: [Slot; 2],
    /// When, in 4096ths of the tick.
    pub moment: u16,
    profiles: [ProfileIx; 2],
}

/// A hitbox and a hurtbox.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
pub(crate) struct BoxPair {
    pub who: ActorIx,
    pub hitbox: BoxIx,
    pub whom: ActorIx,
    pub hurtbox: BoxIx,
}

/// A box that rules concern: what has to be known of it at every tick, close together.
#[derive(Clone, Copy, Debug)]
struct Part {
    actor: Slot,
    number: ActorIx,
    part: BoxIx,
    /// Whether its bounds say all there is to say.
    upright: bool,
    /// Whether it is another size on each tick.
    grows: bool,
    /// Whether it turns with its owner.
    turns: bool,
    profile: ProfileIx,
    /// Facing right; of what turns, as it is turned.
    right: Bounds,
    left: Bounds,
}

impl Part {
    fn bounds(&self, facing: Facing) -> Bounds {
        match facing {
            Facing::Right | Facing::Angle(_) => self.right,
            Facing::Left => self.left,
        }
    }

    fn changes(&self) -> bool {
        self.grows || self.turns
    }

    /// Takes the size that it has on a tick, and the way that it is turned.
    fn resize(&mut self, boxes: &[BoxPlan], actor: &Actor, age: Ticks) {
        let plan = &boxes[self.part.index()];
        if self.turns {
            let bounds = plan.shape_at(actor.facing, age).bounds();
            self.right = match turning::parts(actor.life.turning) {
                1 => bounds,
                // Wherever it is meanwhile.
                _ => {
                    let far = bounds.min.max(bounds.min * -1.0).max(bounds.max);
                    let far = far.max(bounds.max * -1.0).length();
                    Bounds::new([-far, -far], [far, far])
                }
            };
            return;
        }
        self.right = plan.shape_at(Facing::Right, age).bounds();
        self.left = plan.shape_at(Facing::Left, age).bounds();
    }

    /// The space it takes up over the tick.
    fn space(&self, actor: &Actor, swept: bool) -> Bounds {
        let bounds = self.bounds(actor.facing);
        let end = bounds.moved(actor.at);
        if swept {
            end.joined(bounds.moved(actor.start))
        } else {
            end
        }
    }
}

fn parts<'p>(
    (actor, number): (Slot, ActorIx),
    boxes: &'p [BoxPlan],
    profiles: &'p [ProfileIx],
) -> impl Iterator<Item = Part> + use<'p> {
    let all = boxes.iter().zip(profiles).enumerate();
    let concerned = all.filter(|(_, (_, profile))| profile.index() != 0);
    concerned.map(move |(part, (plan, &profile))| {
        let (right, left) = (plan.shape(Facing::Right), plan.shape(Facing::Left));
        Part {
            actor,
            number,
            part: BoxIx::new(part),
            upright: right.is_upright() && !plan.turns(),
            grows: plan.grows.is_some(),
            turns: plan.turns(),
            profile,
            right: right.bounds(),
            left: left.bounds(),
        }
    })
}

impl Touching {
    pub fn new(plan: &Plan) -> Touching {
        let mut touching = Touching::default();
        touching.furnish(plan);
        touching
    }

    /// Makes what is found out anew on each tick.
    pub fn furnish(&mut self, plan: &Plan) {
        // As many as are placed; what is launched is of one of those kinds, or of another.
        let placed = plan.actors.iter().map(|actor| plan.spec_of(actor.spec));
        let boxes = placed.chain(&plan.specs).flat_map(|spec| &spec.hurtboxes);
        let bounds = boxes.map(|plan| plan.shape(Facing::Right).bounds());
        self.nearby = Nearby::new(plan, bounds);
        self.pairing = Pairing::new(plan);
    }

    /// Lists the boxes of those who are there anew.
    pub fn list(&mut self, plan: &Plan, actors: &Slots<Actor>, roster: &[Slot]) {
        self.gives.clear();
        self.takes.clear();
        for &index in roster {
            let actor = &actors[index];
            let (spec, breed) = (plan.spec_of(actor.spec), plan.breed(actor.breed));
            self.gives
                .extend(parts((index, actor.number), &spec.hitboxes, &breed.gives));
            self.takes
                .extend(parts((index, actor.number), &spec.hurtboxes, &breed.takes));
        }
        let mut all = self.gives.iter().chain(&self.takes);
        self.change = all.any(Part::changes);
        let (gives, takes, pairing) = (&self.gives, &self.takes, &self.pairing);
        self.nearby.list(gives.len(), takes.len(), |give, take| {
            pairing.pairs(plan, &gives[give], &takes[take])
        });
    }
}

pub(crate) fn run(plan: &Plan, state: &mut State) {
    let Touching {
        now,
        last,
        gives,
        takes,
        change,
        pairing,
        nearby,
        near,
    } = &mut state.contacts.touching;
    let tick = state.tick;
    // Everybody else's are as ever.
    for &index in &state.lists.swinging {
        let actor = &mut state.actors[index];
        actor.live = attacks::live(plan, actor, tick);
    }
    let actors = &state.actors;
    if *change {
        for part in gives.iter_mut().filter(|part| part.changes()) {
            let actor = &actors[part.actor];
            let boxes = &plan.spec_of(actor.spec).hitboxes;
            part.resize(boxes, actor, actor.age(tick));
        }
        for part in takes.iter_mut().filter(|part| part.changes()) {
            let actor = &actors[part.actor];
            let boxes = &plan.spec_of(actor.spec).hurtboxes;
            part.resize(boxes, actor, actor.age(tick));
        }
    }
    let swept = plan.arena.contact == Contact::Swept;
    std::mem::swap(now, last);
    now.clear();
    nearby.fill(takes.iter().map(|part| {
        let actor = &actors[part.actor];
        let on = actor.alive && actor.live.hurt & (1 << part.part.0) != 0;
        on.then(|| part.space(actor, swept))
    }));
    let mut earlier = last.iter().peekable();
    for (give, hitbox) in gives.iter().enumerate() {
        if now.len() > limits::TOUCHES {
            // The tick ends the replay; there is no use in finding out how many more there are.
            break;
        }
        let who = &actors[hitbox.actor];
        if !who.alive || who.live.hit & (1 << hitbox.part.0) == 0 {
            continue;
        }
        // The hurtboxes are in the order of actors and boxes, so their numbers are too.
        nearby.find(give, hitbox.space(who, swept), near);
        for &index in &*near {
            let hurtbox = &takes[index as usize];
            if !pairing.pairs(plan, hitbox, hurtbox) {
                continue;
            }
            let pair = BoxPair {
                who: hitbox.number,
                hitbox: hitbox.part,
                whom: hurtbox.number,
                hurtbox: hurtbox.part,
            };
            while earlier.next_if(|touch| touch.pair < pair).is_some() {}
            let touched = earlier.peek().is_some_and(|touch| touch.pair == pair);
            let whom = &actors[hurtbox.actor];
            let meeting = Meeting {
                plan,
                hitbox,
                hurtbox,
                who,
                whom,
            };
            if let Some(moment) = meeting.moment(tick, touched) {
                now.push(Touch {
                    pair,
                    slots: [hitbox.actor, hurtbox.actor],
                    moment,
                    profiles: [hitbox.profile, hurtbox.profile],
                });
            }
        }
    }
}

/// Whether any rule pairs boxes of two profiles, or one pauses meters of the other's owner.
fn pair(plan: &Plan, profiles: [ProfileIx; 2]) -> bool {
    let [gives, takes] = profiles.map(|profile| plan.profile(profile));
    let [pauses, paused] = profiles.map(|profile| plan.pauses_of(profile));
    common(gives, takes).next().is_some() || common(pauses, paused).next().is_some()
}

/// The rules that pair the boxes of a touch, in their order.
pub(crate) fn rules<'p>(plan: &'p Plan, touch: &Touch) -> impl Iterator<Item = RuleIx> + use<'p> {
    let [gives, takes] = touch.profiles;
    common(plan.profile(gives), plan.profile(takes))
}

/// The groups by which the touch pauses meters of whom.
pub(crate) fn pauses<'p>(plan: &'p Plan, touch: &Touch) -> impl Iterator<Item = PauseIx> + use<'p> {
    let [gives, takes] = touch.profiles;
    common(plan.pauses_of(gives), plan.pauses_of(takes))
}

/// What two ascending lists have in common. The longer one is searched when it is much longer.
pub(crate) fn common<'p, T: Ord + Copy>(
    one: &'p [T],
    other: &'p [T],
) -> impl Iterator<Item = T> + use<'p, T> {
    let (mut short, mut long) = if one.len() <= other.len() {
        (one, other)
    } else {
        (other, one)
    };
    let searches = short.len() * 8 < long.len();
    std::iter::from_fn(move || {
        while let [next, rest @ ..] = short {
            short = rest;
            let place = if searches {
                long.partition_point(|known| known < next)
            } else {
                let smaller = long.iter().take_while(|known| *known < next);
                smaller.count()
            };
            long = &long[place..];
            if long.first() == Some(next) {
                return Some(*next);
            }
        }
        None
    })
}

/// Two boxes that may touch.
struct Meeting<'s> {
    plan: &'s Plan,
    hitbox: &'s Part,
    hurtbox: &'s Part,
    who: &'s Actor,
    whom: &'s Actor,
}

impl Meeting<'_> {
    /// When they first touch on this tick, if they do.
    fn moment(&self, tick: Tick, touched: bool) -> Option<u16> {
        let (who, whom) = (self.who, self.whom);
        let at_end = |part: f64| {
            let offset = who.at_part(part) - whom.at_part(part);
            let time = self.sweep(offset, Vec2::ZERO, tick);
            self.cut(time, tick, [part, part]).is_some_time()
        };
        // A flight that ends on the way is touched up to there.
        let part = who.part().min(whom.part());
        let last = libm::floor(part * PARTS) as u16;
        let came = who.came == tick || whom.came == tick;
        if self.plan.arena.contact == Contact::Sampled || came {
            let offset = who.at - whom.at;
            let time = self.sweep(offset, Vec2::ZERO, tick);
            let time = self.cut(time, tick, [1.0, 1.0]);
            return time.is_some_time().then_some(last);
        }
        let parts = match (self.hitbox.turns, self.hurtbox.turns) {
            (false, false) => 1,
            (gives, takes) => {
                let turned = |turns: bool, actor: &Actor| match turns {
                    true => turning::parts(actor.life.turning),
                    false => 1,
                };
                turned(gives, who).max(turned(takes, whom))
            }
        };
        if parts > 1 {
            let (first, again) = self.in_parts(tick, parts, part);
            return match touched {
                true => again.or_else(|| at_end(part).then(|| first.unwrap_or(last))),
                false => first,
            };
        }
        let over_the_tick = self.sweep(who.start - whom.start, who.path() - whom.path(), tick);
        let moment = self
            .cut(over_the_tick, tick, [0.0, 1.0])
            .first_moment()
            .filter(|first| *first <= part)
            .map(|first| libm::floor(first * PARTS) as u16);
        if touched {
            // Who only brushed by on the last tick has to be here again.
            return at_end(part).then(|| moment.unwrap_or(last));
        }
        moment
    }

    /// A time of overlap in the plane, cut to that in height; of the way from one part of the tick to another.
    fn cut(&self, time: Interval, tick: Tick, [from, to]: [f64; 2]) -> Interval {
        if self.plan.arena.height.is_none() || !time.is_some_time() {
            return time;
        }
        let (who, whom) = (self.who, self.whom);
        let gives = &self.plan.spec_of(who.spec).hitboxes[self.hitbox.part.index()];
        let takes = &self.plan.spec_of(whom.spec).hurtboxes[self.hurtbox.part.index()];
        let spans = [takes.span_at(whom.age(tick)), gives.span_at(who.age(tick))];
        let above = |part: f64| match part {
            // What would have been gone beyond the end of a flight counts as if it went on.
            1.0 if from < to => {
                let own = |actor: &Actor| actor.life.rise.start + actor.way_up();
                own(who) - own(whom)
            }
            part => who.height_at(part) - whom.height_at(part),
        };
        let offset = above(from);
        HeightSpan::cut(time, spans[0], spans[1], offset, above(to) - offset)
    }

    /// When they first touch, and when again after they did not, in equal parts of the tick: over each its
    /// share of the way, turned as at its end. Up to a part of the tick.
    fn in_parts(&self, tick: Tick, parts: u32, end: f64) -> (Option<u16>, Option<u16>) {
        let (who, whom) = (self.who, self.whom);
        let gives = &self.plan.spec_of(who.spec).hitboxes[self.hitbox.part.index()];
        let takes = &self.plan.spec_of(whom.spec).hurtboxes[self.hurtbox.part.index()];
        let (offset, path) = (who.start - whom.start, who.path() - whom.path());
        let share = 1.0 / f64::from(parts);
        let (mut first, mut again, mut apart) = (None, None, false);
        for nth in 1..=parts {
            let gives = gives.shape_at(turning::meanwhile(who, nth, parts), who.age(tick));
            let takes = takes.shape_at(turning::meanwhile(whom, nth, parts), whom.age(tick));
            let from = f64::from(nth - 1) * share;
            let met = sweep(&takes, &gives, offset + path * from, path * share);
            let met = self.cut(met, tick, [from, from + share]).first_moment();
            let met = met.map(|met| from + met * share).filter(|met| *met <= end);
            match met.map(|met| libm::floor(met * PARTS) as u16) {
                Some(moment) => {
                    first = first.or(Some(moment));
                    again = again.or_else(|| apart.then_some(moment));
                }
                None => apart = true,
            }
        }
        (first, again)
    }

    fn sweep(&self, offset: Vec2, path: Vec2, tick: Tick) -> Interval {
        let (hitbox, hurtbox) = (self.hitbox, self.hurtbox);
        let (who, whom) = (self.who.facing, self.whom.facing);
        if hitbox.upright && hurtbox.upright {
            return sweep_upright(hurtbox.bounds(whom), hitbox.bounds(who), offset, path);
        }
        let gives = &self.plan.spec_of(self.who.spec).hitboxes[hitbox.part.index()];
        let takes = &self.plan.spec_of(self.whom.spec).hurtboxes[hurtbox.part.index()];
        if hitbox.changes() || hurtbox.changes() {
            let gives = gives.shape_at(who, self.who.age(tick));
            let takes = takes.shape_at(whom, self.whom.age(tick));
            return sweep(&takes, &gives, offset, path);
        }
        sweep(takes.unturned(whom), gives.unturned(who), offset, path)
    }
}
