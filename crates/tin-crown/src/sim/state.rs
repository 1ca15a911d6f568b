//! All that a replay remembers from one tick to the next.

use serde::{Deserialize, Serialize};
use std::sync::Arc;
use tin_crown_derive::CloneFrom;

use crate::encounter::{Ending, Outside};
use crate::geometry::Vec2;
use crate::ledger::{Cast, DeathCause, Event, LineId, What};
use crate::outcome::Outcome;
use crate::plan::{ActorIx, BoxSet, DrillIx, DrillPlan, Drive, LauncherIx, Plan, Spec, StateIx};
use crate::sim::log::Log;
use crate::sim::parts::actor::{Actor, Doom, Legs, Life};
use crate::sim::parts::appearing::{Birth, Return};
use crate::sim::parts::chance::Stream;
use crate::sim::parts::clocked;
use crate::sim::parts::feed::Feed;
use crate::sim::parts::goals::Visit;
use crate::sim::parts::groups::Crowds;
use crate::sim::parts::memory::Pairs;
use crate::sim::parts::newcomer::Newcomer;
use crate::sim::parts::pickups::{Grab, Taker};
use crate::sim::parts::posing::Posed;
use crate::sim::parts::precedence::Marks;
use crate::sim::parts::rising::Rise;
use crate::sim::parts::script::Script;
use crate::sim::parts::shots::End;
use crate::sim::parts::solids::FixedSolids;
use crate::sim::parts::transitions::Turn;
use crate::sim::phases::touch::Touching;
use crate::sim::phases::verdict::Judgement;
use crate::sim::roll::Roll;
use crate::sim::slot::{Slot, Slots};
use crate::sim::stock::Stock;
use crate::time::Tick;

/// A replay between two ticks.
#[derive(CloneFrom, Debug, Serialize, Deserialize)]
pub(crate) struct State {
    pub played: Played,
    pub tick: Tick,
    /// The placed actors, then those that were launched.
    pub actors: Slots<Actor>,
    pub legs: Slots<Legs>,
    pub stock: Stock,
    pub lists: Lists,
    pub pending: Pending,
    pub contacts: Contacts,
    #[serde(skip)]
    pub crowds: Crowds,
    #[serde(skip)]
    pub fixed: Arc<FixedSolids>,
    /// What the drill plays.
    pub script: Script,
    /// What its recordings have told.
    pub feed: Feed,
    /// Those whom something else moves, in the order of slots.
    pub posed: Vec<Posed>,
    pub log: Log,
    pub roll: Roll,
    pub outcome: Option<Outcome>,
    /// Whether the outcome has its line.
    pub told: bool,
    /// The limit that this tick went beyond, and because of whom.
    #[serde(skip)]
    pub excess: Option<Excess>,
}

/// What is played.
#[derive(Clone, Copy, Debug, Serialize, Deserialize)]
pub(crate) enum Played {
    /// A drill.
    Drill(DrillIx),
    /// What comes from outside, without an end; chance is drawn from the seed.
    Open { seed: u32 },
}

impl Played {
    /// The drill, when it is one.
    pub fn drill(self, plan: &Plan) -> Option<&DrillPlan> {
        match self {
            Played::Drill(drill) => Some(&plan.drills[drill.index()]),
            Played::Open { .. } => None,
        }
    }
}

/// Those that are there, or may come back.
#[derive(CloneFrom, Debug, Default, Serialize, Deserialize)]
pub(crate) struct Lists {
    /// In the order of ids, and of their numbers.
    pub order: Vec<Slot>,
    pub roster: Vec<Slot>,
    /// Those of some sort, in the order of ids.
    #[serde(skip)]
    pub solids: Vec<Slot>,
    #[serde(skip)]
    pub bodies: Vec<Slot>,
    #[serde(skip)]
    pub confined: Vec<Slot>,
    #[serde(skip)]
    pub thinking: Vec<Slot>,
    /// Those who rotate.
    #[serde(skip)]
    pub rotating: Vec<Slot>,
    #[serde(skip)]
    pub pickups: Vec<Slot>,
    /// Who may be in an attack this tick, or has boxes that go on and off.
    #[scratch]
    #[serde(skip)]
    pub swinging: Vec<Slot>,
    /// Whether an actor that will not come back is gone since the lists were made.
    pub stale: bool,
    /// Who is gone for good and in no list any more, but whose slot is not given on yet.
    pub limbo: Vec<Slot>,
}

/// What one phase leaves to a later one, or to the next tick.
#[derive(CloneFrom, Debug, Default, Serialize, Deserialize)]
pub(crate) struct Pending {
    /// The gauges whose clock stands still on this tick.
    pub paused: Vec<usize>,
    /// Who is to die in phase 6.
    pub doomed: Vec<Slot>,
    /// Whose flight ends in phase 6.
    #[scratch]
    #[serde(skip)]
    pub ended: Vec<End>,
    /// What is to appear.
    pub births: Vec<Birth>,
    pub returns: Vec<Return>,
    /// Who has appeared on this tick, and why.
    #[scratch]
    #[serde(skip)]
    pub born: Vec<(Slot, Option<LineId>)>,
    /// The id of what was born last, whose room is used again.
    #[scratch]
    #[serde(skip)]
    pub id: String,
    /// How many appeared this tick.
    #[scratch]
    #[serde(skip)]
    pub appeared: usize,
    /// Who touches a pickup, a checkpoint or an exit on this tick.
    #[scratch]
    #[serde(skip)]
    pub grabs: Vec<Grab>,
    #[scratch]
    #[serde(skip)]
    pub takers: Vec<Taker>,
    #[scratch]
    #[serde(skip)]
    pub visits: Vec<Visit>,
    /// Who comes back with everything reset.
    pub resets: Vec<Return>,
    /// Who is to change its state.
    #[scratch]
    #[serde(skip)]
    pub turns: Vec<Turn>,
    /// Whether a player was gone this tick.
    pub player_gone: bool,
    /// Who was pushed on this tick, and the line of the hit.
    #[serde(skip)]
    pub pushed: Vec<(Slot, LineId)>,
}

/// What touches what, the verdicts, and what is remembered of each pair.
#[derive(CloneFrom, Debug, Serialize, Deserialize)]
pub(crate) struct Contacts {
    pub touching: Touching,
    #[serde(skip)]
    pub judgement: Judgement,
    pub pairs: Pairs,
    pub marks: Marks,
}

/// A limit that a tick went beyond.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Excess {
    /// Too many actors at once, on one tick, or in all, launched by this launcher of this actor, or
    /// left behind by it.
    Alive(ActorIx, Option<LauncherIx>),
    Launches(ActorIx, Option<LauncherIx>),
    Launched(ActorIx, Option<LauncherIx>),
    /// Too long a chain of makers, the last of them this actor.
    Chain(ActorIx, Option<LauncherIx>),
    /// Too many actors at once, the last of them introduced by a recording.
    Recorded,
    /// Too many transitions, the last of them of this actor to this state.
    Transitions(ActorIx, StateIx),
}

impl State {
    /// Everyone as placed, on a tick.
    pub fn new(plan: &Plan, played: Played, tick: Tick) -> State {
        let mut state = State {
            played,
            tick,
            actors: Slots::with_capacity(plan.actors.len()),
            legs: Slots::with_capacity(plan.actors.len()),
            stock: Stock::default(),
            lists: Lists {
                order: plan.cast().map(Slot::placed).collect(),
                roster: plan.cast().map(Slot::placed).collect(),
                ..Lists::default()
            },
            pending: Pending::default(),
            contacts: Contacts {
                touching: Touching::new(plan),
                judgement: Judgement::default(),
                pairs: Pairs::default(),
                marks: Marks::default(),
            },
            crowds: Crowds::new(plan),
            fixed: Arc::new(FixedSolids::new(&plan.arena)),
            script: Script::default(),
            feed: Feed::default(),
            posed: Vec::new(),
            log: Log::default(),
            roll: Roll::new(plan.actors.len()),
            outcome: None,
            told: false,
            excess: None,
        };
        for (index, placed) in plan.cast().zip(&plan.actors) {
            let at = state.stream(plan, &placed.id, &["place"]).point(&placed.at);
            let spec = plan.spec_of(placed.spec);
            state.add(
                plan,
                &Newcomer {
                    id: &placed.id,
                    breed: placed.breed,
                    facing: placed.facing,
                    side: spec.side,
                    at,
                    rise: Rise::new(placed.rise, 0.0),
                    velocity: Vec2::ZERO,
                    shot: false,
                    number: index,
                    root: index,
                    depth: 0,
                    maker: None,
                    origin: None,
                    launcher: None,
                },
            );
            state.actors[Slot::placed(index)].rank = index.0;
        }
        state.list(plan);
        state
    }

    /// From which all chance is drawn.
    pub fn seed(&self, plan: &Plan) -> u32 {
        match self.played {
            Played::Drill(drill) => plan.drills[drill.index()].seed,
            Played::Open { seed } => seed,
        }
    }

    /// The stream of chance of an actor for a purpose.
    pub fn stream(&self, plan: &Plan, id: &str, purpose: &[&str]) -> Stream {
        Stream::new(self.seed(plan), id, purpose)
    }

    /// Adds an actor that appears on this tick.
    pub fn add(&mut self, plan: &Plan, new: &Newcomer<'_>) -> Slot {
        let index = plan.breed(new.breed).spec;
        let (spec, seed) = (plan.spec_of(index), self.seed(plan));
        let free = self.roll.reuse(index);
        let own = match free {
            Some(slot) => {
                let own = self.actors[slot].life.own.clone();
                self.stock.renew(spec, &own, self.tick);
                self.stock.refill(spec, &own, seed, new.id);
                own
            }
            None => self.stock.grow(spec, seed, new.id, self.tick),
        };
        let actor = Actor::new(
            plan,
            new,
            self.tick,
            Life::new(spec, new, own, seed, self.tick),
        );
        let legs = Legs::new(spec, Drive::Still, 0.0, 0.0);
        let slot = match free {
            Some(slot) => {
                self.actors[slot] = actor;
                self.legs[slot] = legs;
                slot
            }
            None => {
                self.legs.push(legs);
                self.actors.push(actor)
            }
        };
        self.set_off(plan, slot);
        let drive = self.legs[slot].drive;
        let actor = &mut self.actors[slot];
        // A motion by a clock may begin elsewhere than in its middle.
        let (at, up) = clocked::offset(plan, actor, drive, 0);
        actor.at += at;
        actor.start = actor.at;
        actor.life.rise.at += up;
        actor.life.rise.start = actor.life.rise.at;
        slot
    }

    /// Lets an actor's motion begin, and its boxes be live, as its state says.
    pub fn set_off(&mut self, plan: &Plan, index: Slot) {
        let actor = &mut self.actors[index];
        let spec = plan.spec_of(actor.spec);
        let state = actor
            .life
            .mind
            .state
            .map(|state| &spec.states[state.index()]);
        let (drive, pace) = match state {
            Some(state) if state.drive.is_some() => (state.drive, &state.pace),
            _ => (None, &spec.pace),
        };
        let coasts = spec.coasts && drive.is_none() && actor.life.maker.is_some();
        let mut drive = drive.unwrap_or(spec.drive);
        if let Some(pace) = pace {
            drive = drive.at_speed(actor.life.pace.number(pace));
        }
        if coasts {
            drive = Drive::Coast;
        }
        actor.anchor = actor.at;
        actor.life.rise.anchor = actor.life.rise.at;
        actor.clock = 0;
        actor.arrived = false;
        actor.life.course = Vec2::ZERO;
        actor.heading = match drive {
            Drive::Patrol {
                axis: crate::encounter::Axis::Y,
                ..
            } => match actor.facing.ahead().y {
                0.0 => plan.arena.up.sign(),
                y => y.signum(),
            },
            _ => actor.facing.sign(),
        };
        actor.life.outset = actor.facing;
        let lit = state.map_or(BoxSet::default(), |state| state.live);
        actor.always = spec.always_live().with(lit);
        actor.live = actor.always;
        let dt = 1.0 / f64::from(plan.rate);
        let [gravity, height] = plan.arena.pull();
        actor.life.rise.drop = spec.fall(&drive, height);
        self.legs[index] = Legs::new(spec, drive, gravity, dt);
    }

    /// Makes the lists of those that are there anew.
    pub fn list(&mut self, plan: &Plan) {
        let placed = plan.actors.len();
        let actors = &mut self.actors;
        let stays = |index: &Slot| index.index() < placed || actors[*index].alive;
        let limbo = &mut self.lists.limbo;
        self.lists.order.retain(|index| {
            let stays = stays(index);
            if !stays {
                limbo.push(*index);
            }
            stays
        });
        self.lists.roster.retain(stays);
        self.posed.retain(|posed| stays(&posed.who));
        for (rank, index) in self.lists.order.iter().enumerate() {
            actors[*index].rank = rank as u32;
        }
        self.catalogue(plan);
        let actors = &self.actors;
        let roll = &self.roll;
        let stays = |actor: ActorIx| {
            let slot = roll.slot(actor);
            actor.index() < placed || slot.is_some_and(|slot| actors[slot].alive)
        };
        self.contacts
            .pairs
            .retain(|key| stays(key.who) && stays(key.whom));
        self.lists.stale = false;
    }

    /// Makes what is not kept in bytes.
    pub fn furnish(&mut self, plan: &Plan) {
        self.fixed = Arc::new(FixedSolids::new(&plan.arena));
        self.crowds = Crowds::new(plan);
        self.contacts.touching.furnish(plan);
        self.catalogue(plan);
    }

    /// Lists those that are there by what they are.
    pub fn catalogue(&mut self, plan: &Plan) {
        let actors = &self.actors;
        let Lists {
            order,
            solids,
            bodies,
            confined,
            thinking,
            rotating,
            pickups,
            ..
        } = &mut self.lists;
        for list in [&mut *solids, bodies, confined, thinking, rotating, pickups] {
            list.clear();
        }
        for &index in &*order {
            let actor = &actors[index];
            let spec = plan.spec_of(actor.spec);
            let ends_outside = spec.flight.ends_at(Ending::Edge, actor.shot);
            for (list, is) in [
                (&mut *solids, spec.solid.is_some()),
                (bodies, spec.body.is_some()),
                (confined, spec.outside != Outside::Stays || ends_outside),
                (
                    thinking,
                    !spec.sensors.is_empty() || !spec.states.is_empty(),
                ),
                (rotating, spec.rotates),
                (pickups, spec.pickup.is_some()),
            ] {
                if is {
                    list.push(index);
                }
            }
        }
        self.crowds.list(plan, &self.actors, &self.lists.order);
        self.contacts
            .touching
            .list(plan, &self.actors, &self.lists.roster);
    }

    /// Gives on the slots of those that are gone, but of whoever something is still to come, or whom a sensor
    /// is still to lose.
    pub fn give_on(&mut self) {
        if self.lists.limbo.is_empty() {
            return;
        }
        let State {
            actors,
            lists,
            pending,
            stock,
            roll,
            ..
        } = self;
        lists.limbo.retain(|&slot| {
            let number = actors[slot].number;
            let bears = pending.births.iter().any(|birth| birth.maker == slot);
            let mut sights = stock.sights.iter();
            let seen = sights.any(|sight| sight.seen.iter().any(|seen| seen.whom == number));
            let stays = bears || seen;
            if !stays {
                roll.free(number);
            }
            stays
        });
        roll.forget();
    }

    /// An actor that is there, or may come back.
    pub fn find(&self, actor: ActorIx) -> Option<&Actor> {
        Some(&self.actors[self.roll.slot(actor)?])
    }

    /// Tells of something that someone does.
    pub fn tell(&mut self, who: Option<Slot>, what: What) -> &mut Event {
        let who = who.map(|slot| self.number(slot));
        self.log.push(self.tick, who, what)
    }

    /// The number of an actor.
    pub fn number(&self, slot: Slot) -> ActorIx {
        self.actors[slot].number
    }

    /// The id of an actor.
    pub fn id<'s>(&'s self, plan: &'s Plan, slot: Slot) -> &'s str {
        let cast = Cast {
            plan,
            launched: self.roll.all(),
        };
        cast.id(self.number(slot))
    }

    /// The resolved kind of an actor.
    pub fn spec<'p>(&self, plan: &'p Plan, actor: Slot) -> &'p Spec {
        plan.spec_of(self.actors[actor].spec)
    }

    /// Whether the last tick is played.
    pub fn is_over(&self, plan: &Plan) -> bool {
        self.played.drill(plan).is_some_and(|drill| {
            self.tick >= drill.last || (self.outcome.is_some() && !drill.goes_on)
        })
    }

    /// Says that an actor is to die of something that is nobody's hit: it is counted to the last one
    /// that landed on it within 3 s.
    pub fn doom_without_hit(&mut self, plan: &Plan, actor: Slot, of: DeathCause) {
        let last = self.actors[actor].life.last_hit;
        let recent = last.filter(|last| (self.tick - last.tick).0 <= 3 * plan.rate);
        let doom = Doom {
            of,
            hit: recent.map(|last| last.line),
            by: recent.map(|last| last.by),
        };
        self.doom(actor, doom);
    }

    /// Says what an actor is to die of, unless it is doomed already.
    pub fn doom(&mut self, actor: Slot, doom: Doom) {
        let own = &mut self.actors[actor];
        if own.life.doom.is_none() && !own.dying {
            own.life.doom = Some(doom);
            self.pending.doomed.push(actor);
        }
    }
}
