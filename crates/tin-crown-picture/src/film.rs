//! A film: a drill played from beginning to end, and what everyone was in the middle of meanwhile.

use std::collections::BTreeMap;
use std::sync::Arc;

use tin_crown::encounter::Phase;
use tin_crown::plan::{ActorIx, DrillIx, Spec};
use tin_crown::sim::ActorView;
use tin_crown::{Amount, Event, Plan, Replay, ReplayError, Sim, Tick, Ticks, What};

/// A drill played from beginning to end, ready to be drawn.
///
/// ```
/// # let file = tin_crown::demo::FIRST_SHELF.as_bytes();
/// use tin_crown_picture::Film;
///
/// let plan = tin_crown::check(file).plan.unwrap();
/// let film = Film::shoot(&plan, plan.drill("careless")?)?;
/// assert_eq!(film.last().0, 177);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Clone, Debug)]
pub struct Film {
    pub(crate) replay: Replay,
    pub(crate) last: Tick,
    /// Everyone who ever was there, in the order of ids.
    pub(crate) tracks: Vec<Track>,
}

/// What an actor went through.
#[derive(Clone, Debug)]
pub(crate) struct Track {
    pub actor: ActorIx,
    pub spans: Vec<Span>,
    /// Of each of its meters, what it held from a tick on.
    pub meters: Vec<Vec<(Tick, Amount)>>,
    /// How high it was on each tick on which it was there, where the arena has heights.
    pub heights: Vec<(Tick, f64)>,
}

/// A stretch of time, its end not included.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Span {
    pub lane: Lane,
    pub from: Tick,
    pub to: Tick,
    /// What it is in the middle of, where that has a name.
    pub words: String,
}

/// What an actor can be in the middle of, in the order in which it is drawn.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub(crate) enum Lane {
    State,
    Startup,
    Active,
    Recovery,
    Guard,
    Invincible,
    Stunned,
    Resting,
    Regen,
    Dying,
    Gone,
}

impl Lane {
    pub const ALL: [Lane; 11] = [
        Lane::State,
        Lane::Startup,
        Lane::Active,
        Lane::Recovery,
        Lane::Guard,
        Lane::Invincible,
        Lane::Stunned,
        Lane::Resting,
        Lane::Regen,
        Lane::Dying,
        Lane::Gone,
    ];

    /// The row that it is drawn in.
    pub const fn row(self) -> &'static str {
        match self {
            Lane::State => "state",
            Lane::Startup | Lane::Active | Lane::Recovery => "attack",
            Lane::Guard => "guard",
            Lane::Invincible => "invincible",
            Lane::Stunned => "stunned",
            Lane::Resting => "hitstop",
            Lane::Regen => "waits to regain",
            Lane::Dying => "dying",
            Lane::Gone => "gone",
        }
    }
}

/// What is the case of an actor on a tick, lane by lane: a number tells one thing from another.
type Now = [Option<u16>; Lane::ALL.len()];

impl Film {
    /// Plays a drill.
    ///
    /// # Errors
    ///
    /// When it cannot be replayed.
    ///
    /// # Panics
    ///
    /// When an index is of another plan.
    pub fn shoot(plan: &Arc<Plan>, drill: DrillIx) -> Result<Film, ReplayError> {
        let mut sim = Sim::new(plan, drill);
        let mut recorder = Recorder::default();
        loop {
            recorder.see(&sim);
            if !sim.step()? {
                break;
            }
        }
        let last = sim.tick();
        Ok(recorder.develop(sim.into_replay()?, last))
    }

    /// The last tick.
    pub fn last(&self) -> Tick {
        self.last
    }

    /// The plan.
    pub fn plan(&self) -> &Plan {
        self.replay.plan()
    }

    /// What happened.
    pub fn replay(&self) -> &Replay {
        &self.replay
    }

    /// "drill careless, 0.000 s to 2.933 s".
    pub(crate) fn caption(&self, from: Tick, to: Tick) -> String {
        let plan = self.plan();
        format!(
            "drill {}, {:.3} s to {:.3} s (ticks {from} to {to})",
            plan.drills()[self.replay.drill().index()].name(),
            from.seconds(plan.rate()),
            to.seconds(plan.rate())
        )
    }

    pub(crate) fn events(&self) -> &[Event] {
        self.replay.ledger().events()
    }
}

/// A film while it is shot, tick by tick.
#[derive(Default)]
pub(crate) struct Recorder {
    /// By the number of the actor.
    reels: Vec<Option<(ActorIx, Reel)>>,
}

impl Recorder {
    /// Takes in a tick.
    pub fn see(&mut self, sim: &Sim) {
        for actor in sim.enrolled() {
            let nth = actor.index();
            if nth >= self.reels.len() {
                self.reels.resize_with(nth + 1, || None);
            }
            let (_, reel) = self.reels[nth].get_or_insert_with(|| (actor, Reel::default()));
            let view = sim.actor(actor);
            reel.expose(sim.tick(), &view);
            if sim.plan().arena().height().is_some() && (view.alive || view.dying) {
                reel.heights.push((sim.tick(), view.height));
            }
        }
    }

    /// The film, when the drill is over.
    pub fn develop(self, replay: Replay, last: Tick) -> Film {
        let mut reels: Vec<(ActorIx, Reel)> = self.reels.into_iter().flatten().collect();
        reels.sort_by(|(a, _), (b, _)| replay.id(*a).cmp(replay.id(*b)));
        let mut tracks: Vec<Track> = reels
            .into_iter()
            .map(|(actor, reel)| reel.develop(&replay, actor, last))
            .collect();
        meters(&replay, &mut tracks);
        Film {
            replay,
            last,
            tracks,
        }
    }
}

/// What a film records of an actor while it runs.
#[derive(Default)]
struct Reel {
    seen: bool,
    now: Now,
    since: [Tick; Lane::ALL.len()],
    done: Vec<(Lane, u16, Tick, Tick)>,
    heights: Vec<(Tick, f64)>,
}

impl Reel {
    fn expose(&mut self, tick: Tick, view: &ActorView<'_>) {
        let there = view.alive || view.dying;
        let now = if there {
            now(view)
        } else {
            let mut now = Now::default();
            // Only who was there before can be missed.
            now[Lane::Gone as usize] = self.seen.then_some(0);
            now
        };
        self.seen |= there;
        for (lane, is) in Lane::ALL.into_iter().zip(now) {
            let nth = lane as usize;
            if self.now[nth] == is {
                continue;
            }
            if let Some(was) = self.now[nth] {
                self.done.push((lane, was, self.since[nth], tick));
            }
            self.now[nth] = is;
            self.since[nth] = tick;
        }
    }

    fn develop(mut self, replay: &Replay, actor: ActorIx, last: Tick) -> Track {
        for lane in Lane::ALL {
            let nth = lane as usize;
            if let Some(is) = self.now[nth] {
                self.done.push((lane, is, self.since[nth], last + Ticks(1)));
            }
        }
        let spec = replay.spec(actor);
        let words = |lane: Lane, is: u16| named(replay.plan(), spec, lane, usize::from(is));
        let mut spans: Vec<Span> = self
            .done
            .into_iter()
            .map(|(lane, is, from, to)| Span {
                lane,
                from,
                to,
                words: words(lane, is),
            })
            .collect();
        spans.sort_by_key(|span| (span.from, span.lane));
        Track {
            actor,
            spans,
            meters: vec![Vec::new(); spec.meters().len()],
            heights: self.heights,
        }
    }
}

fn now(view: &ActorView<'_>) -> Now {
    let mut now = Now::default();
    let mut set = |lane: Lane, is: bool| now[lane as usize] = is.then_some(0);
    set(Lane::Guard, view.guarding);
    set(Lane::Invincible, view.invincible);
    set(Lane::Stunned, view.stunned);
    set(Lane::Resting, view.resting);
    set(Lane::Dying, view.dying);
    now[Lane::State as usize] = view.state.map(|state| state.index() as u16);
    if let Some((attack, phase)) = view.attack {
        let lane = match phase {
            Phase::Startup => Lane::Startup,
            Phase::Active => Lane::Active,
            Phase::Recovery => Lane::Recovery,
        };
        now[lane as usize] = Some(attack.index() as u16);
    }
    now
}

/// What a stretch is called, where it has a name.
fn named(plan: &Plan, spec: &Spec, lane: Lane, is: usize) -> String {
    match lane {
        Lane::State => plan.names().states()[spec.states()[is].name()].clone(),
        Lane::Startup | Lane::Active | Lane::Recovery => {
            plan.names().attacks()[spec.attacks()[is].name()].clone()
        }
        _ => String::new(),
    }
}

/// What the meters of everyone held, and how long what was lost is waited for.
fn meters(replay: &Replay, tracks: &mut [Track]) {
    let mut places: BTreeMap<ActorIx, usize> = BTreeMap::new();
    places.extend(
        tracks
            .iter()
            .zip(0..)
            .map(|(track, nth)| (track.actor, nth)),
    );
    for event in replay.ledger().events() {
        match event.what {
            What::Appear => {
                let Some(&nth) = event.who.and_then(|who| places.get(&who)) else {
                    continue;
                };
                let spec = replay.spec(tracks[nth].actor);
                for (meter, course) in spec.meters().iter().zip(&mut tracks[nth].meters) {
                    if course.is_empty() {
                        course.push((event.tick, meter.start()));
                    }
                }
            }
            What::Meter {
                meter,
                before,
                after,
                ..
            } => {
                let Some(&nth) = event.whom.or(event.who).and_then(|own| places.get(&own)) else {
                    continue;
                };
                let track = &mut tracks[nth];
                let spec = replay.spec(track.actor);
                let Some(place) = spec.meter(meter) else {
                    continue;
                };
                track.meters[place].push((event.tick, after));
                let delay = spec.meters()[place]
                    .regen()
                    .as_ref()
                    .and_then(|regen| regen.delay());
                if let Some(delay) = delay.filter(|_| after < before) {
                    let name = &replay.plan().names().meters()[meter];
                    waits(track, event.tick, event.tick + delay, name);
                }
            }
            // The dying regain nothing.
            What::Death { .. } => {
                let Some(&nth) = event.who.and_then(|who| places.get(&who)) else {
                    continue;
                };
                let spans = tracks[nth].spans.iter_mut();
                for span in spans.filter(|span| span.lane == Lane::Regen) {
                    span.to = span.to.min(event.tick.max(span.from));
                }
            }
            _ => {}
        }
    }
}

/// A loss begins the wait anew.
fn waits(track: &mut Track, from: Tick, to: Tick, name: &str) {
    let own = |span: &&mut Span| span.lane == Lane::Regen && span.words == name;
    let last = track.spans.iter_mut().rfind(own);
    if let Some(last) = last.filter(|last| last.to >= from) {
        last.to = to;
        return;
    }
    track.spans.push(Span {
        lane: Lane::Regen,
        from,
        to,
        words: name.to_owned(),
    });
}
