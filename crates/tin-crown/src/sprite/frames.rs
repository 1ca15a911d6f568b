//! A sprite cell by cell: when each is shown, for how long, and which boxes are live meanwhile.

use std::collections::BTreeMap;

use crate::encounter::{Facing, Phase};
use crate::geometry::Shape;
use crate::plan::{
    AttackIx, BoxPlan, BoxSet, Moment, Plan, Shown, Spec, SpritePlan, StateIx, StatePlan,
};
use crate::time::Ticks;

/// By its actor's own clock so many ticks are looked at.
const MOST: u64 = 3600;

/// A cell in one of its sprite's clips.
#[derive(Clone, Debug, PartialEq)]
pub struct CellFrame {
    /// The place of the clip in the sprite's list.
    pub clip: usize,
    /// The cell.
    pub cell: u32,
    /// How many ticks it is shown: of an attack, a death, or a round of the clip.
    pub ticks: u32,
    /// When that is, in words: `always`, `thrust: startup`.
    pub when: Vec<String>,
    /// The boxes that are live at some time meanwhile, hurtboxes first.
    pub boxes: Vec<CellBox>,
    /// Whether its actor lives, in no attack, so that it launches what it launches.
    pub launches: bool,
    /// The attack and the phases in which it is shown.
    pub attacks: Vec<(AttackIx, Phase)>,
}

/// A box that is live while a cell is shown.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct CellBox {
    /// Whether it gives; else it takes.
    pub hits: bool,
    /// Its place among the kind's hitboxes, or hurtboxes.
    pub place: usize,
    /// Its shape, facing right; of one that grows, the largest meanwhile.
    pub shape: Shape,
}

/// Every cell that a sprite ever shows, in the order of its clips.
pub fn frames(plan: &Plan, spec: &Spec, sprite: &SpritePlan) -> Vec<CellFrame> {
    let mut film = Film {
        spec,
        sprite,
        frames: BTreeMap::new(),
    };
    let states: Vec<Option<StateIx>> = match spec.states.len() {
        0 => vec![None],
        count => (0..count)
            .map(StateIx::new)
            .filter(|state| !spec.states[state.index()].ends)
            .map(Some)
            .collect(),
    };
    for state in &states {
        film.stands(plan, *state);
    }
    for nth in 0..spec.attacks.len() {
        let named = |state: &StatePlan| state.attacks & (1 << nth) != 0;
        let only = spec.states.iter().any(named);
        let starts = states
            .iter()
            .filter(|state| !only || state.is_some_and(|state| named(&spec.states[state.index()])));
        for (first, state) in starts.enumerate() {
            film.attack(plan, *state, AttackIx::new(nth), first == 0);
        }
    }
    film.dies();
    film.frames.into_values().collect()
}

struct Film<'f> {
    spec: &'f Spec,
    sprite: &'f SpritePlan,
    /// By clip, and by the place of the cell in it.
    frames: BTreeMap<(usize, u32), CellFrame>,
}

/// A situation: how a moment goes on.
struct Situation<'s> {
    name: &'s str,
    live: BoxSet,
    launches: bool,
    attack: Option<(AttackIx, Phase)>,
}

impl Film<'_> {
    /// Without an attack, in a state: stunned or not, on the ground or not, as far as a clip asks for it.
    fn stands(&mut self, plan: &Plan, state: Option<StateIx>) {
        let asked = |ask: fn(&crate::plan::Asks) -> bool| {
            self.sprite.clips.iter().any(|clip| ask(&clip.asks))
        };
        let either = |asked: bool, usual: bool| match asked {
            true => vec![usual, !usual],
            false => vec![usual],
        };
        let stuns = either(asked(|asks| asks.stunned.is_some()), false);
        let guards = either(
            asked(|asks| asks.guarding.is_some()) && self.spec.guard.is_some(),
            false,
        );
        let grounds = either(asked(|asks| asks.grounded.is_some()), true);
        let moves = either(asked(|asks| asks.moving.is_some()), false);
        let live = self.live(state);
        for stunned in &stuns {
            for guarding in &guards {
                for grounded in &grounds {
                    for moving in &moves {
                        let moment = Moment {
                            state: state.map(|state| (state, Ticks(0))),
                            stunned: *stunned,
                            guarding: *guarding,
                            grounded: *grounded,
                            moving: *moving,
                            ..Moment::default()
                        };
                        let name = self.name(plan, &moment);
                        self.goes_on(
                            &moment,
                            &Situation {
                                name: &name,
                                live,
                                launches: !stunned,
                                attack: None,
                            },
                        );
                    }
                }
            }
        }
    }

    fn name(&self, plan: &Plan, moment: &Moment) -> String {
        let state = moment.state.map(|(state, _)| {
            let name = &plan.names.states[self.spec.states[state.index()].name];
            format!("in state {name}")
        });
        let words = [
            (moment.stunned, "stunned"),
            (moment.guarding, "guard up"),
            (!moment.grounded, "in the air"),
            (moment.moving, "moving"),
        ];
        let words = words.into_iter().filter(|(is, _)| *is);
        let words = words.map(|(_, words)| words.to_owned());
        let all: Vec<String> = state.into_iter().chain(words).collect();
        match all.is_empty() {
            true => "standing".to_owned(),
            false => all.join(", "),
        }
    }

    /// The boxes that are live in a state, but for those of attacks.
    fn live(&self, state: Option<StateIx>) -> BoxSet {
        let of_state = state.map(|state| self.spec.states[state.index()].live);
        self.spec.always_live().with(of_state.unwrap_or_default())
    }

    /// A round of what is shown in a moment; by the actor's own clock as long as its boxes change.
    fn goes_on(&mut self, moment: &Moment, situation: &Situation<'_>) {
        let Shown { clip, .. } = self.sprite.shown(moment);
        let plan = &self.sprite.clips[clip];
        let round = plan.round.0.max(1);
        let own = plan.asks.by_age();
        let ticks = if own { self.period(round) } else { round };
        for tick in 0..ticks {
            let cell = plan.cell(Ticks(tick));
            let age = own.then_some(Ticks(tick));
            // Only the first round counts.
            self.show((clip, cell), situation, age, tick < round);
        }
    }

    /// After how many ticks of an actor's life all is as at its beginning, or it is gone.
    fn period(&self, round: u32) -> u32 {
        let spec = self.spec;
        let boxes = || spec.hitboxes.iter().chain(&spec.hurtboxes);
        let pulses = boxes().filter_map(|own| own.pulse);
        let pulses = pulses.map(|pulse| u64::from(pulse.on.0) + u64::from(pulse.off.0));
        let all = pulses.fold(u64::from(round), common);
        let grows = boxes().filter_map(|own| own.grows);
        let grows = grows.map(|own| u64::from(own.ticks.0)).max().unwrap_or(0);
        let life = spec.lifetime.map_or(MOST, |life| u64::from(life.0.max(1)));
        all.max(grows).min(life).min(MOST) as u32
    }

    fn attack(&mut self, plan: &Plan, state: Option<StateIx>, attack: AttackIx, counts: bool) {
        let own = &self.spec.attacks[attack.index()];
        let name = &plan.names.attacks[own.name];
        let base = self.live(state);
        let mut before = 0;
        for (phase, length) in Phase::ALL.iter().zip(own.phases) {
            let name = format!("{name}: {}", phase.as_str());
            for tick in 0..length.0 {
                let whole = Ticks(before + tick);
                let moment = Moment {
                    state: state.map(|state| (state, Ticks(0))),
                    attack: Some((attack, *phase, whole, Ticks(tick))),
                    grounded: true,
                    ..Moment::default()
                };
                let live = base.with(own.live[*phase as usize]);
                let cell = self.sprite.cell_at(&moment);
                let clip = self.sprite.shown(&moment).clip;
                let situation = Situation {
                    name: &name,
                    live,
                    launches: false,
                    attack: Some((attack, *phase)),
                };
                self.show((clip, cell), &situation, None, counts);
            }
            before += length.0;
        }
    }

    fn dies(&mut self) {
        let death = &self.spec.death;
        let last = death.last().map_or(Ticks(0), |step| step.after);
        let mut live = BoxSet::default();
        let mut step = None;
        for tick in 0..last.0 {
            while let Some(next) = death.get(step.map_or(0, |step: usize| step + 1))
                && next.after <= Ticks(tick)
            {
                live = next.live.unwrap_or(live);
                let state = next.state.map(|state| self.spec.states[state.index()].live);
                live = live.with(state.unwrap_or_default());
                step = Some(step.map_or(0, |step| step + 1));
            }
            let moment = Moment {
                dying: Some(Ticks(tick)),
                step: step.map(|step| (step, Ticks(tick - death[step].after.0))),
                ..Moment::default()
            };
            let cell = self.sprite.cell_at(&moment);
            let clip = self.sprite.shown(&moment).clip;
            let situation = Situation {
                name: "dying",
                live,
                launches: false,
                attack: None,
            };
            self.show((clip, cell), &situation, None, true);
        }
    }

    /// A tick on which a cell is shown; at an age of its actor, when that is known.
    fn show(
        &mut self,
        key: (usize, u32),
        situation: &Situation<'_>,
        age: Option<Ticks>,
        counts: bool,
    ) {
        let spec = self.spec;
        let frame = self.frames.entry(key).or_insert_with(|| CellFrame {
            clip: key.0,
            cell: key.1,
            ticks: 0,
            when: Vec::new(),
            boxes: Vec::new(),
            launches: false,
            attacks: Vec::new(),
        });
        let known = frame.when.iter().any(|name| name == situation.name);
        if !known {
            frame.when.push(situation.name.to_owned());
        }
        // Ticks are those of the first situation, and of what an attack has more.
        let first = frame.when[0] == situation.name || situation.attack.is_some();
        if counts && first {
            frame.ticks += 1;
        }
        frame.launches |= situation.launches;
        frame
            .attacks
            .extend(situation.attack.filter(|own| !frame.attacks.contains(own)));
        let mut add = |hits: bool, place: usize, own: &BoxPlan| {
            let on = own
                .pulse
                .zip(age)
                .is_none_or(|(pulse, age)| pulse.is_on(age));
            if !on {
                return;
            }
            let shape = match age {
                Some(age) => own.shape_at(Facing::Right, age),
                None => own.shape(Facing::Right).into_owned(),
            };
            let same = |known: &&mut CellBox| known.hits == hits && known.place == place;
            let large = |shape: &Shape| shape.bounds().size().length();
            match frame.boxes.iter_mut().find(same) {
                Some(known) if large(&known.shape) < large(&shape) => known.shape = shape,
                Some(_) => {}
                None => frame.boxes.push(CellBox { hits, place, shape }),
            }
        };
        for (place, own) in spec.hurtboxes.iter().enumerate() {
            if situation.live.hurt & (1 << place) != 0 {
                add(false, place, own);
            }
        }
        for (place, own) in spec.hitboxes.iter().enumerate() {
            if situation.live.hit & (1 << place) != 0 {
                add(true, place, own);
            }
        }
    }
}

/// The least common multiple, as long as it is small.
fn common(a: u64, b: u64) -> u64 {
    let (mut x, mut y) = (a.max(1), b.max(1));
    while y != 0 {
        (x, y) = (y, x % y);
    }
    (a.max(1) / x).saturating_mul(b.max(1)).min(MOST)
}
