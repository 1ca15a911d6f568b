//! A sprite cell by cell: when each is shown, for how long, and which boxes are live meanwhile.

use crate::encounter::{Facing, Phase};
use crate::geometry::Shape;
use crate::map::Map;
use crate::plan::{
    Asks, AttackIx, BoxPlan, BoxSet, Moment, Plan, Shown, Spec, SpritePlan, StateIx, StatePlan,
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
    /// The states in which it is shown without an attack.
    pub states: Vec<StateIx>,
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
    /// The place in [`when`](CellFrame::when) of what it is live in.
    pub when: usize,
}

/// Every cell that a sprite ever shows, in the order of its clips.
pub fn frames(plan: &Plan, spec: &Spec, sprite: &SpritePlan) -> Vec<CellFrame> {
    let mut film = Film {
        spec,
        sprite,
        frames: Map::new(),
        firsts: Map::new(),
        situations: 0,
    };
    let states = states(spec);
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
    film.dies(plan);
    film.frames.into_values().collect()
}

/// The states in which an actor of a kind may be.
fn states(spec: &Spec) -> Vec<Option<StateIx>> {
    match spec.states.len() {
        0 => vec![None],
        count => (0..count)
            .map(StateIx::new)
            .filter(|state| !spec.states[state.index()].ends)
            .map(Some)
            .collect(),
    }
}

/// A moment as it usually is, and in each other way that clips ask for: on the ground or not, moving or not.
fn variants(sprite: &SpritePlan, usual: Moment) -> Vec<Moment> {
    let asked = |ask: fn(&Asks) -> Option<bool>| {
        let mut clips = sprite.clips.iter();
        clips.any(|clip| ask(&clip.asks).is_some())
    };
    let mut all = vec![usual];
    let mut vary = |asked: bool, change: fn(&mut Moment)| {
        if asked {
            all.extend(all.clone().into_iter().map(|mut moment| {
                change(&mut moment);
                moment
            }));
        }
    };
    vary(asked(|asks| asks.grounded), |moment| {
        moment.grounded ^= true;
    });
    vary(asked(|asks| asks.moving), |moment| moment.moving ^= true);
    all
}

/// A tick of a death: the boxes that are live, and in which moments it may be shown.
struct Dying {
    live: BoxSet,
    moments: Vec<Moment>,
}

/// A death, tick by tick: begun in whatever state, on the ground or not, moving or not, as far as clips ask for it.
fn death(spec: &Spec, sprite: &SpritePlan) -> Vec<Dying> {
    let steps = &spec.death;
    let last = steps.last().map_or(Ticks(0), |step| step.after);
    let mut states: Vec<Option<(StateIx, u32)>> = states(spec)
        .into_iter()
        .map(|state| state.map(|state| (state, 0)))
        .collect();
    let mut live = BoxSet::default();
    let mut step = None;
    let tick = |tick: u32| {
        while let Some(next) = steps.get(step.map_or(0, |step: usize| step + 1))
            && next.after <= Ticks(tick)
        {
            live = next.live.unwrap_or(live);
            if let Some(state) = next.state {
                live = live.with(spec.states[state.index()].live);
                states = vec![Some((state, next.after.0))];
            }
            step = Some(step.map_or(0, |step| step + 1));
        }
        let moments = states.iter().flat_map(|state| {
            let usual = Moment {
                dying: Some(Ticks(tick)),
                step: step.map(|step| (step, Ticks(tick - steps[step].after.0))),
                state: state.map(|(state, since)| (state, Ticks(tick - since))),
                grounded: true,
                ..Moment::default()
            };
            variants(sprite, usual)
        });
        Dying {
            live,
            moments: moments.collect(),
        }
    };
    (0..last.0).map(tick).collect()
}

/// For how long of a death each clip is shown that is, from its own beginning on, and whether to the end of it.
pub(crate) fn shown_dying(spec: &Spec, sprite: &SpritePlan) -> Map<usize, (Ticks, bool)> {
    let mut long = Map::new();
    let ticks = death(spec, sprite);
    for (nth, tick) in ticks.iter().enumerate() {
        for moment in &tick.moments {
            let Shown { clip, elapsed } = sprite.shown(moment);
            let (known, ends): &mut (Ticks, bool) = long.or_default(clip);
            *known = (*known).max(Ticks(elapsed.0 + 1));
            *ends |= nth + 1 == ticks.len();
        }
    }
    long
}

struct Film<'f> {
    spec: &'f Spec,
    sprite: &'f SpritePlan,
    /// By clip, and by the cell.
    frames: Map<(usize, u32), CellFrame>,
    /// The situation that first showed each.
    firsts: Map<(usize, u32), u32>,
    /// How many situations there were.
    situations: u32,
}

/// A situation: how a moment goes on.
struct Situation<'s> {
    name: &'s str,
    /// Which it is; all that an attack usually goes through is one.
    number: u32,
    live: BoxSet,
    launches: bool,
    attack: Option<(AttackIx, Phase)>,
    state: Option<StateIx>,
}

/// The number of the situation of all attacks as they usually are.
const ATTACKS: u32 = 0;

impl Film<'_> {
    /// The number of another situation.
    fn next(&mut self) -> u32 {
        self.situations += 1;
        self.situations
    }

    /// Without an attack, in a state: stunned or not, on the ground or not, as far as a clip asks for it.
    fn stands(&mut self, plan: &Plan, state: Option<StateIx>) {
        let asked = |ask: fn(&Asks) -> Option<bool>| {
            let mut clips = self.sprite.clips.iter();
            clips.any(|clip| ask(&clip.asks).is_some())
        };
        let either = |asked: bool| match asked {
            true => vec![false, true],
            false => vec![false],
        };
        let stuns = either(asked(|asks| asks.stunned));
        let guards = either(asked(|asks| asks.guarding) && self.spec.guard.is_some());
        let live = self.live(state);
        for stunned in &stuns {
            for guarding in &guards {
                let usual = Moment {
                    state: state.map(|state| (state, Ticks(0))),
                    stunned: *stunned,
                    guarding: *guarding,
                    grounded: true,
                    ..Moment::default()
                };
                for moment in variants(self.sprite, usual) {
                    let name = self.name(plan, &moment);
                    let number = self.next();
                    self.goes_on(
                        &moment,
                        &Situation {
                            name: &name,
                            number,
                            live,
                            launches: !stunned,
                            attack: None,
                            state,
                        },
                    );
                }
            }
        }
    }

    /// Whether an actor is in a state from its beginning on, and never again.
    fn is_first(&self, state: Option<StateIx>) -> bool {
        let leads = |from: &StatePlan| from.go.iter().any(|go| Some(go.to) == state);
        state == self.spec.start && !self.spec.states.iter().any(leads)
    }

    fn name(&self, plan: &Plan, moment: &Moment) -> String {
        let state = moment.state;
        let state = state.map(|(state, _)| in_state(plan, self.spec, state));
        let all: Vec<String> = state.into_iter().chain(how(moment)).collect();
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
        let own = plan.asks.by_age() || self.is_first(situation.state);
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
        // One for each variant of its moments.
        let count = variants(self.sprite, Moment::default()).len();
        let others: Vec<u32> = (1..count).map(|_| self.next()).collect();
        let numbers: Vec<u32> = [ATTACKS].into_iter().chain(others).collect();
        for (phase, length) in Phase::ALL.iter().zip(own.phases) {
            let name = format!("{name}: {}", phase.as_str());
            for tick in 0..length.0 {
                let whole = Ticks(before + tick);
                let usual = Moment {
                    state: state.map(|state| (state, Ticks(0))),
                    attack: Some((attack, *phase, whole, Ticks(tick))),
                    grounded: true,
                    ..Moment::default()
                };
                for (moment, number) in variants(self.sprite, usual).into_iter().zip(&numbers) {
                    let Shown { clip, .. } = self.sprite.shown(&moment);
                    let cell = self.sprite.cell_at(&moment);
                    let words = how(&moment);
                    let situation = Situation {
                        name: match words.is_empty() {
                            true => &name,
                            false => &format!("{name}, {}", words.join(", ")),
                        },
                        number: *number,
                        live: base.with(own.live[*phase as usize]),
                        launches: false,
                        attack: Some((attack, *phase)),
                        state,
                    };
                    self.show((clip, cell), &situation, None, counts);
                }
            }
            before += length.0;
        }
    }

    fn dies(&mut self, plan: &Plan) {
        let ticks = death(self.spec, self.sprite);
        let count = ticks.first().map_or(0, |tick| tick.moments.len());
        let numbers: Vec<u32> = (0..count).map(|_| self.next()).collect();
        for Dying { live, moments } in ticks {
            for (moment, number) in moments.iter().zip(&numbers) {
                let state = moment.state.map(|own| own.0);
                let Shown { clip, .. } = self.sprite.shown(moment);
                let cell = self.sprite.cell_at(moment);
                // The state is told where the clip asks for it.
                let named = self.sprite.clips[clip].asks.state.and(state);
                let state = named.map(|state| in_state(plan, self.spec, state));
                let words = ["dying".to_owned()]
                    .into_iter()
                    .chain(state)
                    .chain(how(moment));
                let situation = Situation {
                    name: &words.collect::<Vec<_>>().join(", "),
                    number: *number,
                    live,
                    launches: false,
                    attack: None,
                    state: None,
                };
                self.show((clip, cell), &situation, None, true);
            }
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
        let frame = self.frames.or_insert_with(key, || CellFrame {
            clip: key.0,
            cell: key.1,
            ticks: 0,
            when: Vec::new(),
            boxes: Vec::new(),
            launches: false,
            attacks: Vec::new(),
            states: Vec::new(),
        });
        let first = *self.firsts.or_insert_with(key, || situation.number);
        let known = frame.when.iter().position(|name| name == situation.name);
        let when = known.unwrap_or(frame.when.len());
        if known.is_none() {
            frame.when.push(situation.name.to_owned());
        }
        // Ticks are those of the first situation, and of what an attack has more.
        if counts && (first == situation.number || situation.number == ATTACKS) {
            frame.ticks += 1;
        }
        frame.launches |= situation.launches;
        frame
            .attacks
            .extend(situation.attack.filter(|own| !frame.attacks.contains(own)));
        let state = situation.state.filter(|_| situation.attack.is_none());
        frame
            .states
            .extend(state.filter(|own| !frame.states.contains(own)));
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
                None => frame.boxes.push(CellBox {
                    hits,
                    place,
                    shape,
                    when,
                }),
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

/// In which state, in words.
fn in_state(plan: &Plan, spec: &Spec, state: StateIx) -> String {
    let name = &plan.names.states[spec.states[state.index()].name];
    format!("in state {name}")
}

/// What is unusual about a moment, in words.
fn how(moment: &Moment) -> Vec<String> {
    let words = [
        (moment.stunned, "stunned"),
        (moment.guarding, "guard up"),
        (!moment.grounded, "in the air"),
        (moment.moving, "moving"),
    ];
    let words = words.into_iter().filter(|(is, _)| *is);
    words.map(|(_, words)| words.to_owned()).collect()
}

/// The least common multiple, as long as it is small.
fn common(a: u64, b: u64) -> u64 {
    let (mut x, mut y) = (a.max(1), b.max(1));
    while y != 0 {
        (x, y) = (y, x % y);
    }
    (a.max(1) / x).saturating_mul(b.max(1)).min(MOST)
}
