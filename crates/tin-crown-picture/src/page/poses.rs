//! Where everyone is on every tick, and how they stand: as numbers that pack well.

use std::collections::BTreeMap;

use tin_crown::encounter::{Phase, Up};
use tin_crown::plan::{ActorIx, AttackIx, BoxSet, SpecIx, StateIx};
use tin_crown::sim::ActorView;
use tin_crown::{Amount, Facing, Plan, Replay, Sim, Tick};

use crate::frame::doing;

/// Everyone who ever was there in a drill.
#[derive(Clone, Debug, Default)]
pub(crate) struct Poses {
    pub last: u32,
    pub actors: Vec<(ActorIx, Course)>,
}

/// An actor on every tick.
#[derive(Clone, Debug, Default)]
pub(crate) struct Course {
    /// Stretches during which it is there: the first tick, and the places.
    pub stretches: Vec<(u32, Vec<[f64; 2]>)>,
    /// The same of its height, where the arena has heights.
    pub rises: Vec<(u32, Vec<f64>)>,
    /// How it stands, from a tick on.
    pub stands: Vec<(u32, Stand)>,
}

/// How an actor stands.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub(crate) struct Stand {
    pub flags: u32,
    /// Which hitboxes and hurtboxes are live, and which sensors notice an actor: `101|1|0`.
    pub live: String,
    pub doing: String,
    pub meters: String,
    /// How long it has been there, when that matters to its boxes: from then on it goes on by the tick.
    pub born: i64,
    /// How far it is turned on the page, in 4096ths of a turn, as the hands of a clock go.
    pub turned: u16,
    /// Which clip of its sprite is shown, and since which tick.
    pub clip: (usize, i64),
}

pub(crate) const LEFT: u32 = 1;
const INVINCIBLE: u32 = 2;
const GUARDING: u32 = 4;
const DYING: u32 = 8;

/// Where everyone is, tick by tick, while a drill is played.
#[derive(Default)]
pub(crate) struct Poser {
    courses: BTreeMap<ActorIx, Course>,
    stands: Stands,
}

impl Poser {
    /// Takes in a tick.
    pub fn see(&mut self, sim: &Sim) {
        let tick = sim.tick().0;
        for actor in sim.cast() {
            let view = sim.actor(actor);
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
            let (stand, changed) = self.stands.of(sim, actor, &view);
            if changed {
                course.stands.push((tick, stand.clone()));
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

/// How everyone last stood, so that only what changes is put into words.
#[derive(Clone, Debug, Default)]
pub(crate) struct Stands(BTreeMap<ActorIx, Last>);

#[derive(Clone, Debug)]
struct Last {
    outward: Outward,
    meters: Vec<Amount>,
    stand: Stand,
}

impl Stands {
    /// How an actor stands, and whether it is otherwise than last.
    pub fn of(&mut self, sim: &Sim, actor: ActorIx, view: &ActorView<'_>) -> (&Stand, bool) {
        let outward = Outward::of(sim, actor, view);
        let same = |last: &&mut Last| last.outward == outward && last.meters == view.meters;
        let changed = self.0.get_mut(&actor).filter(same).is_none();
        if changed {
            let last = Last {
                outward,
                meters: view.meters.to_vec(),
                stand: stand(sim, actor, view, &outward),
            };
            self.0.insert(actor, last);
        }
        (&self.0[&actor].stand, changed)
    }
}

/// What tells one stand from another, in numbers: compared on every tick, put into words when it changes.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
struct Outward {
    /// Which kind: numbers of launched actors are used again when time is turned back.
    spec: SpecIx,
    turned: u16,
    flags: u32,
    live: BoxSet,
    /// Which sensors notice an actor, a bit for each.
    sees: u64,
    state: Option<StateIx>,
    attack: Option<(AttackIx, Phase)>,
    stunned: bool,
    resting: bool,
    born: i64,
    clip: (usize, i64),
}

impl Outward {
    fn of(sim: &Sim, actor: ActorIx, view: &ActorView<'_>) -> Outward {
        let spec = sim.spec(actor);
        let sees = (0..spec.sensors().len())
            .filter(|sensor| sim.noticed(actor, *sensor).next().is_some())
            .fold(0, |sees, sensor| sees | 1 << sensor);
        let mut boxes = spec.hitboxes().iter().chain(spec.hurtboxes());
        let grows = boxes.any(|own| own.grows().is_some());
        let flag = |is: bool, flag: u32| if is { flag } else { 0 };
        let turned = turned(sim.plan(), view.facing);
        Outward {
            spec: sim.spec_index(actor),
            turned,
            flags: flag(view.facing == Facing::Left, LEFT)
                | flag(view.invincible, INVINCIBLE)
                | flag(view.guarding, GUARDING)
                | flag(view.dying, DYING),
            live: view.live,
            sees,
            state: view.state,
            attack: view.attack,
            stunned: view.stunned,
            resting: view.resting,
            born: if grows {
                i64::from(sim.tick().0) - i64::from(view.age.0)
            } else {
                0
            },
            clip: clip(sim, actor),
        }
    }
}

/// Which clip of its sprite is shown, and since which tick, where that makes a difference.
fn clip(sim: &Sim, actor: ActorIx) -> (usize, i64) {
    let Some(sprite) = sim.spec(actor).sprite() else {
        return (0, 0);
    };
    let shown = sprite.shown(&sim.moment(actor));
    let clip = &sprite.clips()[shown.clip];
    let since = match clip.cells().len() {
        0 | 1 => 0,
        _ => i64::from(sim.tick().0) - i64::from(shown.elapsed.0),
    };
    (shown.clip, since)
}

/// How far a facing is turned on the page, in 4096ths of a turn, as the hands of a clock go.
pub(crate) fn turned(plan: &Plan, facing: Facing) -> u16 {
    match facing {
        Facing::Angle(angle) if plan.arena().up() == Up::Plus => 4096 - angle.steps(),
        Facing::Angle(angle) => angle.steps(),
        Facing::Right | Facing::Left => 0,
    }
}

fn stand(sim: &Sim, actor: ActorIx, view: &ActorView<'_>, outward: &Outward) -> Stand {
    let (plan, spec) = (sim.plan(), sim.spec(actor));
    let bits = |set: u64, count: usize| -> String {
        let bit = |nth: usize| if set & (1 << nth) != 0 { '1' } else { '0' };
        (0..count).map(bit).collect()
    };
    let meters: Vec<String> = spec
        .meters()
        .iter()
        .zip(view.meters)
        .map(|(meter, held)| {
            let name = &plan.names().meters()[meter.name()];
            format!("{name} {held} / {}", meter.max())
        })
        .collect();
    Stand {
        turned: outward.turned,
        flags: outward.flags,
        live: format!(
            "{}|{}|{}",
            bits(view.live.hit(), spec.hitboxes().len()),
            bits(view.live.hurt(), spec.hurtboxes().len()),
            bits(outward.sees, spec.sensors().len())
        ),
        doing: doing(plan, spec, view).join(", "),
        meters: meters.join(" · "),
        born: outward.born,
        clip: outward.clip,
    }
}
