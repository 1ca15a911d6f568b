//! Where everyone is on every tick, and how they stand: as numbers that pack well.

use std::collections::BTreeMap;

use tin_crown::encounter::Up;
use tin_crown::plan::ActorIx;
use tin_crown::sim::ActorView;
use tin_crown::{Facing, Replay, Sim, Tick};

use crate::frame::doing;

/// Everyone who ever was there in a drill.
#[derive(Clone, Debug, Default)]
pub(super) struct Poses {
    pub last: u32,
    pub actors: Vec<(ActorIx, Course)>,
}

/// An actor on every tick.
#[derive(Clone, Debug, Default)]
pub(super) struct Course {
    /// Stretches during which it is there: the first tick, and the places.
    pub stretches: Vec<(u32, Vec<[f64; 2]>)>,
    /// The same of its height, where the arena has heights.
    pub rises: Vec<(u32, Vec<f64>)>,
    /// How it stands, from a tick on.
    pub stands: Vec<(u32, Stand)>,
}

/// How an actor stands.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub(super) struct Stand {
    pub flags: u32,
    /// Which hitboxes and hurtboxes are live, and which sensors notice an actor: `101|1|0`.
    pub live: String,
    pub doing: String,
    pub meters: String,
    /// How long it has been there, when that matters to its boxes: from then on it goes on by the tick.
    pub born: i64,
    /// How far it is turned on the page, in 4096ths of a turn, as the hands of a clock go.
    pub turned: u16,
}

const LEFT: u32 = 1;
const INVINCIBLE: u32 = 2;
const GUARDING: u32 = 4;
const DYING: u32 = 8;

/// Where everyone is, tick by tick, while a drill is played.
#[derive(Default)]
pub(super) struct Poser {
    courses: BTreeMap<ActorIx, Course>,
}

impl Poser {
    /// Takes in a tick.
    pub fn see(&mut self, sim: &Sim) {
        let tick = sim.tick().0;
        for actor in sim.cast() {
            let view = sim.actor(actor);
            if !view.alive && !view.dying {
                continue;
            }
            let course = self.courses.entry(actor).or_default();
            if sim.plan().arena().height().is_some() {
                match course.rises.last_mut() {
                    Some((from, heights)) if *from + heights.len() as u32 == tick => {
                        heights.push(view.height);
                    }
                    _ => course.rises.push((tick, vec![view.height])),
                }
            }
            let place = [view.at.x, view.at.y];
            match course.stretches.last_mut() {
                Some((from, places)) if *from + places.len() as u32 == tick => places.push(place),
                _ => course.stretches.push((tick, vec![place])),
            }
            let stand = stand(sim, actor, &view);
            if course.stands.last().is_none_or(|(_, last)| *last != stand) {
                course.stands.push((tick, stand));
            }
        }
    }

    /// All of it, when the drill is over.
    pub fn done(self, replay: &Replay, last: Tick) -> Poses {
        let mut actors: Vec<(ActorIx, Course)> = self.courses.into_iter().collect();
        actors.sort_by(|(a, _), (b, _)| replay.id(*a).cmp(replay.id(*b)));
        Poses {
            last: last.0,
            actors,
        }
    }
}

fn stand(sim: &Sim, actor: ActorIx, view: &ActorView<'_>) -> Stand {
    let (plan, spec) = (sim.plan(), sim.spec(actor));
    let bits = |set: u64, count: usize| -> String {
        let bit = |nth: usize| if set & (1 << nth) != 0 { '1' } else { '0' };
        (0..count).map(bit).collect()
    };
    let sees: String = (0..spec.sensors().len())
        .map(|sensor| match sim.noticed(actor, sensor).next() {
            Some(_) => '1',
            None => '0',
        })
        .collect();
    let meters: Vec<String> = spec
        .meters()
        .iter()
        .zip(view.meters)
        .map(|(meter, held)| {
            let name = &plan.names().meters()[meter.name()];
            format!("{name} {held} / {}", meter.max())
        })
        .collect();
    let grows = spec.hitboxes().iter().chain(spec.hurtboxes());
    let grows = grows.into_iter().any(|own| own.grows().is_some());
    let flag = |is: bool, flag: u32| if is { flag } else { 0 };
    let turned = match view.facing {
        Facing::Angle(angle) if plan.arena().up() == Up::Plus => 4096 - angle.steps(),
        Facing::Angle(angle) => angle.steps(),
        Facing::Right | Facing::Left => 0,
    };
    Stand {
        turned,
        flags: flag(view.facing == Facing::Left, LEFT)
            | flag(view.invincible, INVINCIBLE)
            | flag(view.guarding, GUARDING)
            | flag(view.dying, DYING),
        live: format!(
            "{}|{}|{sees}",
            bits(view.live.hit(), spec.hitboxes().len()),
            bits(view.live.hurt(), spec.hurtboxes().len())
        ),
        doing: doing(plan, spec, view).join(", "),
        meters: meters.join(" · "),
        born: if grows {
            i64::from(sim.tick().0) - i64::from(view.age.0)
        } else {
            0
        },
    }
}
