//! A frame: an encounter at one tick of a drill, ready to be drawn.

use std::sync::Arc;

use tin_crown::geometry::{Bounds, Vec2};
use tin_crown::plan::{ActorIx, BoxSet, DrillIx, Drive, Moment, Spec, StatePlan};

use crate::layers::Layers;
use tin_crown::sim::ActorView;
use tin_crown::{Amount, Event, Facing, Plan, ReplayError, Sim, Tick, Ticks, What};

/// An encounter at the end of one tick of a drill.
#[derive(Clone, Debug)]
pub struct Frame {
    pub(crate) plan: Arc<Plan>,
    /// The drill, where it is of one.
    pub(crate) drill: Option<DrillIx>,
    pub(crate) tick: Tick,
    pub(crate) figures: Vec<Figure>,
    /// The part of the arena that is shown, when it is not all.
    pub(crate) region: Option<Bounds>,
    pub(crate) layers: Layers,
}

/// An actor in a frame.
#[derive(Clone, Debug)]
pub(crate) struct Figure {
    pub actor: ActorIx,
    pub id: String,
    pub spec: Spec,
    pub at: Vec2,
    /// How high, where the arena has heights.
    pub height: f64,
    /// Where it was when the tick began.
    pub start: Vec2,
    pub facing: Facing,
    /// How long it has been there, by which boxes grow.
    pub age: Ticks,
    pub invincible: bool,
    pub live: BoxSet,
    pub guarding: bool,
    /// Of each of its sensors, where the actors are that it notices.
    pub sees: Vec<Vec<Vec2>>,
    /// Of each of its launchers that is aimed at others and can launch, at which place it would be.
    pub aims: Vec<Option<Vec2>>,
    /// What drives it, in its state.
    pub drive: Drive,
    /// What it is in the middle of, in words.
    pub doing: Vec<String>,
    pub meters: Vec<Amount>,
    /// Where it was over the last half second, oldest first.
    pub trail: Vec<Vec2>,
    pub part: Part,
    /// Whom it hit, or was hit by, on this tick.
    pub hits: Vec<ActorIx>,
    /// Whether it acts: not dying, nor gone.
    pub acts: bool,
    /// By which its sprite is chosen.
    pub moment: Moment,
}

/// What part an actor plays in a picture; names are placed in this order.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub(crate) enum Part {
    /// It is a player.
    Player,
    /// It hits, is hit, acts or dies on this tick.
    Acts,
    /// It is there.
    There,
}

/// A frame that cannot be.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum FrameError {
    /// The drill cannot be replayed so far.
    #[error(transparent)]
    Replay(#[from] ReplayError),
    /// The drill is over by then.
    #[error("drill `{drill}` is over after tick {last}{}", if *.lost { " (lost)" } else { "" })]
    Over {
        /// The drill.
        drill: String,
        /// Its last tick.
        last: Tick,
        /// Whether it ended early because it was lost.
        lost: bool,
    },
    /// Who was to be shown is not there.
    #[error(transparent)]
    NotThere(#[from] NotThere),
}

/// A part of the arena that is shown instead of all.
#[derive(Clone, Debug, PartialEq)]
pub enum Zoom {
    /// What is around an actor, a few times its size: its id.
    Around(String),
    /// A region, in the arena's units.
    Region(Bounds),
}

/// An actor who was to be shown is not there.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[error("`{id}` does not exist on tick {tick}")]
pub struct NotThere {
    /// Who.
    pub id: String,
    /// When.
    pub tick: Tick,
}

impl Frame {
    /// Everyone as they stand in a simulation that is running, without the paths they came by.
    ///
    /// ```
    /// # let file = tin_crown::demo::FIRST_SHELF.as_bytes();
    /// use tin_crown::Sim;
    /// use tin_crown_picture::{Frame, Look};
    ///
    /// let plan = tin_crown::check(file).plan.unwrap();
    /// let mut sim = Sim::new(&plan, plan.drill("careless")?);
    /// while sim.tick().0 < 93 && sim.step()? {}
    /// assert!(Frame::of(&sim).svg(&Look::paper()).contains("tick 93"));
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    pub fn of(sim: &Sim) -> Frame {
        Frame::with_trails(sim, |_| Vec::new())
    }

    /// The same, with where each came from over the last half second.
    pub(crate) fn with_trails(sim: &Sim, trail: impl Fn(ActorIx) -> Vec<Vec2>) -> Frame {
        let figures = sim
            .enrolled()
            .filter_map(|actor| {
                let view = sim.actor(actor);
                let shown = view.alive || view.dying || goes_with_a_hit(sim, actor);
                shown.then(|| figure(sim, actor, &view, trail(actor)))
            })
            .collect();
        Frame {
            plan: Arc::clone(sim.plan()),
            drill: sim.drill(),
            tick: sim.tick(),
            figures,
            region: None,
            layers: Layers::default(),
        }
    }

    /// Draws boxes over sprites, or one of the two.
    #[must_use]
    pub fn over(mut self, layers: Layers) -> Frame {
        self.layers = layers;
        self
    }

    /// Shows only a part of the arena, in its units.
    #[must_use]
    pub fn region(mut self, region: Bounds) -> Frame {
        self.region = Some(region);
        self
    }

    /// Shows only a part of the arena.
    ///
    /// # Errors
    ///
    /// When it is around an actor that is not there.
    pub fn zoom(self, zoom: &Zoom) -> Result<Frame, NotThere> {
        match zoom {
            Zoom::Around(id) => self.around(id),
            Zoom::Region(region) => Ok(self.region(*region)),
        }
    }

    /// Shows only what is around an actor, a few times its size, and those with whom it exchanges hits.
    ///
    /// # Errors
    ///
    /// When it is not there.
    pub fn around(self, id: &str) -> Result<Frame, NotThere> {
        let found = self.figures.iter().find(|figure| figure.id == id);
        let Some(figure) = found else {
            return Err(NotThere {
                id: id.to_owned(),
                tick: self.tick,
            });
        };
        let all = self.plan.arena().bounds().size();
        let size = figure.spec.extent(figure.facing).size();
        let reach = (size.x.max(size.y) * 2.5).max(all.x.min(all.y) * 0.25);
        let half = Vec2::new(reach, reach * 0.5);
        let own = Bounds {
            min: figure.at - half,
            max: figure.at + half,
        };
        let others = self.figures.iter();
        let others = others.filter(|other| figure.hits.contains(&other.actor));
        let edge = Vec2::new(reach, reach) * 0.1;
        let region = others.map(Figure::around).fold(own, |region, other| {
            region.joined(Bounds {
                min: other.min - edge,
                max: other.max + edge,
            })
        });
        Ok(self.region(region))
    }
}

impl Figure {
    /// The rectangle around all its boxes, and its place.
    fn around(&self) -> Bounds {
        let place = Bounds {
            min: self.at,
            max: self.at,
        };
        match self.spec.extent(self.facing) {
            boxes if boxes.is_empty() => place,
            boxes => place.joined(boxes.moved(self.at)),
        }
    }
}

fn figure(sim: &Sim, actor: ActorIx, view: &ActorView<'_>, trail: Vec<Vec2>) -> Figure {
    let spec = sim.spec(actor);
    let noticed = |sensor| {
        sim.noticed(actor, sensor)
            .map(|(whom, _)| sim.actor(whom).at)
    };
    Figure {
        actor,
        id: sim.id(actor).to_owned(),
        spec: spec.clone(),
        at: view.at,
        height: view.height,
        start: view.start,
        facing: view.facing,
        age: view.age,
        invincible: view.invincible,
        live: view.live,
        guarding: view.guarding,
        sees: (0..spec.sensors().len())
            .filter(|_| view.alive)
            .map(|sensor| noticed(sensor).collect())
            .collect(),
        aims: (0..spec.launchers().len())
            .map(|nth| aim(sim, actor, view, nth))
            .collect(),
        drive: view
            .state
            .and_then(|state| spec.states()[state.index()].drive())
            .unwrap_or(spec.drive()),
        doing: match view.alive || view.dying {
            true => doing(sim.plan(), spec, view),
            false => vec!["gone".to_owned()],
        },
        meters: view.meters.to_vec(),
        trail,
        part: part(sim, actor),
        hits: hits(sim, actor),
        acts: view.alive,
        moment: sim.moment(actor),
    }
}

/// Where a launcher is aimed at, when its owner's state lets it launch and it has what that costs.
fn aim(sim: &Sim, actor: ActorIx, view: &ActorView<'_>, nth: usize) -> Option<Vec2> {
    let spec = sim.spec(actor);
    let names = |state: &StatePlan| state.launchers() & (1 << nth) != 0;
    let state = view.state.map(|state| &spec.states()[state.index()]);
    if spec.states().iter().any(names) && !state.is_some_and(names) {
        return None;
    }
    if let Some((meter, cost)) = spec.launchers()[nth].ammo() {
        let mut meters = spec.meters().iter().zip(view.meters);
        let (_, held) = meters.find(|(own, _)| own.name() == *meter)?;
        if held < cost {
            return None;
        }
    }
    sim.aimed_at(actor, nth).map(|(_, place)| place)
}

/// Whether an actor hit or was hit on the last tick, and is gone since: the picture of the hit has both.
fn goes_with_a_hit(sim: &Sim, actor: ActorIx) -> bool {
    let own = |event: &&Event| event.who == Some(actor) || event.whom == Some(actor);
    let mut gone = events(sim).filter(own);
    gone.any(|event| {
        event.who == Some(actor) && matches!(event.what, What::Gone | What::Vanish { .. })
    }) && events(sim)
        .filter(own)
        .any(|event| matches!(event.what, What::Hit(_)))
}

/// The events of the last tick, the latest first.
fn events(sim: &Sim) -> impl Iterator<Item = &Event> {
    let all = sim.ledger().events().iter().rev();
    all.take_while(|event| event.tick == sim.tick())
}

fn hits(sim: &Sim, actor: ActorIx) -> Vec<ActorIx> {
    let took = |event: &&Event| match &event.what {
        What::Hit(hit) => hit.verdict.took_effect(),
        What::Apply { .. } => true,
        _ => false,
    };
    let pairs = events(sim).filter(took);
    let pairs = pairs.filter_map(|event| Some((event.who?, event.whom?)));
    pairs
        .filter_map(|(who, whom)| match (who == actor, whom == actor) {
            (true, false) => Some(whom),
            (false, true) => Some(who),
            _ => None,
        })
        .collect()
}

fn part(sim: &Sim, actor: ActorIx) -> Part {
    if sim.spec(actor).player() {
        return Part::Player;
    }
    let acts = events(sim).any(|event| {
        !matches!(event.what, What::Appear)
            && [event.who, event.whom]
                .into_iter()
                .flatten()
                .any(|own| own == actor)
    });
    if acts { Part::Acts } else { Part::There }
}

/// What an actor is in the middle of: a state, an attack, a guard, a stun, a rest.
pub(crate) fn doing(plan: &Plan, spec: &Spec, view: &ActorView<'_>) -> Vec<String> {
    let state = view.state.map(|state| {
        let name = spec.states()[state.index()].name();
        plan.names().states()[name].clone()
    });
    let attack = view.attack.map(|(attack, phase)| {
        let name = spec.attacks()[attack.index()].name();
        format!("{}: {}", plan.names().attacks()[name], phase.as_str())
    });
    let states = [
        (view.guarding, "guard up"),
        (view.stunned, "stunned"),
        (view.resting, "hitstop"),
        (view.dying, "dying"),
    ];
    let states = states.into_iter().filter(|(is, _)| *is);
    state
        .into_iter()
        .chain(attack)
        .chain(states.map(|(_, words)| words.to_owned()))
        .collect()
}
