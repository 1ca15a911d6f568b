//! Sensors, in phase 2: whom each notices, how far off and since when.

use super::sight_line::SightLine;
use super::{rising, solids};
use crate::geometry::{Gap, HeightSpan, Vec2, gap, overlap};
use crate::ledger::{LineId, What};
use crate::plan::{ActorIx, BoxPlan, Plan, SensorForm, SensorIx, SensorPlan, Spec};
use crate::sim::slot::Slot;
use crate::sim::state::State;
use crate::time::Tick;
use serde::{Deserialize, Serialize};
use tin_crown_derive::CloneFrom;

/// What a sensor notices.
#[derive(CloneFrom, Debug, Serialize, Deserialize)]
pub(crate) struct Sight {
    pub seen: Vec<Seen>,
    /// Since when it notices nobody, and the line that says so.
    pub empty: Tick,
    pub lost: Option<LineId>,
}

/// An actor who is noticed.
#[derive(Clone, Copy, Debug, Serialize, Deserialize)]
pub(crate) struct Seen {
    pub whom: ActorIx,
    /// Since when.
    pub since: Tick,
    /// The line that says so.
    pub line: LineId,
    /// How far off.
    pub distance: f64,
}

/// Why a sensor does not notice an actor.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Unseen {
    /// It is not there, or is dying.
    Absent,
    /// It is out of reach.
    Away {
        /// How far, in units.
        by: f64,
        /// The way from what the sensor reaches to it.
        toward: Vec2,
        /// How far above what the sensor reaches it is; negative below, 0 at its heights.
        above: f64,
    },
    /// Something is in the way.
    Behind {
        /// What: an actor, else a solid of the arena.
        what: Option<ActorIx>,
        /// Where it stops the view.
        at: Vec2,
    },
}

impl Sight {
    pub fn new(tick: Tick) -> Sight {
        Sight {
            seen: Vec::new(),
            empty: tick,
            lost: None,
        }
    }
}

/// All sensors of all actors look.
pub(crate) fn run(plan: &Plan, state: &mut State) {
    for nth in 0..state.lists.thinking.len() {
        let index = state.lists.thinking[nth];
        let actor = &state.actors[index];
        if !actor.alive || actor.dying || actor.rests(state.tick) {
            continue;
        }
        for (nth, sensor) in state.spec(plan, index).sensors.iter().enumerate() {
            look(plan, state, index, SensorIx::new(nth), sensor);
        }
    }
}

fn look(plan: &Plan, state: &mut State, index: Slot, which: SensorIx, sensor: &SensorPlan) {
    let place = state.actors[index].life.own.sensors.start + which.index();
    for nth in 0..state.crowds.of(sensor.notices).len() {
        let whom = state.crowds.of(sensor.notices)[nth];
        if whom == index {
            continue;
        }
        let other = &state.actors[whom];
        let number = other.number;
        let there = other.alive && !other.dying;
        let noticed = there.then(|| notices(plan, state, index, sensor, whom));
        let noticed = match noticed {
            Some(View::Clear { distance }) => Some(distance),
            _ => None,
        };
        let known = state.stock.sights[place]
            .seen
            .iter()
            .position(|seen| seen.whom == number);
        match (noticed, known) {
            (Some(distance), Some(known)) => {
                state.stock.sights[place].seen[known].distance = distance
            }
            (Some(distance), None) => {
                let line = say(state, index, which, number, Some(distance));
                let since = state.tick;
                state.stock.sights[place].seen.push(Seen {
                    whom: number,
                    since,
                    line,
                    distance,
                });
            }
            (None, Some(known)) => lose(state, index, which, place, known),
            (None, None) => {}
        }
    }
    // Who is gone for good is of no crowd any more.
    while let Some(known) = {
        let gone = |seen: &Seen| !state.find(seen.whom).is_some_and(|whom| whom.alive);
        state.stock.sights[place].seen.iter().position(gone)
    } {
        lose(state, index, which, place, known);
    }
}

fn lose(state: &mut State, index: Slot, which: SensorIx, place: usize, known: usize) {
    let seen = state.stock.sights[place].seen.remove(known);
    let line = say(state, index, which, seen.whom, None);
    if let Some(event) = state.log.get_mut(line) {
        event.cause = Some(seen.line);
    }
    let sight = &mut state.stock.sights[place];
    if sight.seen.is_empty() {
        sight.empty = state.tick;
        sight.lost = Some(line);
    }
}

fn say(
    state: &mut State,
    index: Slot,
    sensor: SensorIx,
    whom: ActorIx,
    distance: Option<f64>,
) -> LineId {
    let what = What::Sense { sensor, distance };
    let event = state.tell(Some(index), what);
    event.whom = Some(whom);
    event.id
}

/// What a sensor makes of an actor that is there.
enum View {
    /// It notices it, so far off.
    Clear { distance: f64 },
    /// It is out of reach.
    Away,
    /// Something is in the way.
    Blocked { what: Option<ActorIx>, at: Vec2 },
}

fn notices(plan: &Plan, state: &State, index: Slot, sensor: &SensorPlan, whom: Slot) -> View {
    let (own, other) = (&state.actors[index], &state.actors[whom]);
    let figure = figure(plan.spec_of(other.spec));
    let (line, part, distance) = match &sensor.form {
        SensorForm::Area(area) => {
            let shape = area.shape(own.facing);
            let offset = other.at - own.at;
            let bounds = shape.bounds();
            let own_span = solids::height_of(own, area);
            let meets = figure.iter().any(|plan: &BoxPlan| {
                if !HeightSpan::meet(own_span, solids::height_of(other, plan), 0.0) {
                    return false;
                }
                let part = plan.shape(other.facing);
                bounds.meets(part.bounds().moved(offset)) && overlap(&shape, &part, offset)
            });
            if !meets {
                return View::Away;
            }
            let above = rising::above(plan, plan.spec_of(own.spec), own.life.rise.at, other);
            (
                SightLine::between(plan, own, other),
                1.0,
                offset.length_with(above),
            )
        }
        &SensorForm::Ray { from, to, rise } => {
            let ray = SightLine::of_ray(own, [from, to], rise);
            let meets = figure.iter().filter_map(|part| ray.meets(other, part));
            let Some(meets) = meets.min_by(f64::total_cmp) else {
                return View::Away;
            };
            let distance = meets * ray.length();
            (ray, meets, distance)
        }
    };
    match blocker(plan, state, sensor, [index, whom], &line, part) {
        None => View::Clear { distance },
        Some((part, what)) => View::Blocked {
            what,
            at: line.from + line.path * part,
        },
    }
}

/// Whom a sensor could notice, each with how far off it is, or why it is not noticed.
pub(crate) fn views(
    plan: &Plan,
    state: &State,
    index: Slot,
    sensor: &SensorPlan,
    mut tell: impl FnMut(ActorIx, Result<f64, Unseen>),
) {
    for &whom in state.crowds.of(sensor.notices) {
        let other = &state.actors[whom];
        let number = other.number;
        if whom == index {
            continue;
        }
        if !other.alive || other.dying {
            tell(other.number, Err(Unseen::Absent));
            continue;
        }
        let view = match notices(plan, state, index, sensor, whom) {
            View::Clear { distance } => Ok(distance),
            View::Away => Err(miss(plan, state, index, sensor, whom)),
            View::Blocked { what, at } => Err(Unseen::Behind { what, at }),
        };
        tell(number, view);
    }
}

/// How far out of a sensor's reach an actor is.
fn miss(plan: &Plan, state: &State, index: Slot, sensor: &SensorPlan, whom: Slot) -> Unseen {
    let (own, other) = (&state.actors[index], &state.actors[whom]);
    let passes = figure(plan.spec_of(other.spec))
        .iter()
        .map(|part| match &sensor.form {
            SensorForm::Area(area) => {
                let (shape, own_shape) = (part.shape(other.facing), area.shape(own.facing));
                let gap = gap(&shape, &own_shape, own.at - other.at, Vec2::ZERO);
                let spans = (solids::height_of(own, area), solids::height_of(other, part));
                (gap, HeightSpan::apart(spans.0, spans.1))
            }
            &SensorForm::Ray { from, to, rise } => {
                SightLine::of_ray(own, [from, to], rise).passes(other, part)
            }
        });
    let far = |(gap, above): &(Gap, f64)| Vec2::new(gap.distance, 0.0).length_with(*above);
    let nearest = passes.min_by(|a, b| far(a).total_cmp(&far(b)));
    nearest.map_or(Unseen::Absent, |nearest| Unseen::Away {
        by: far(&nearest),
        toward: nearest.0.toward,
        above: nearest.1,
    })
}

/// What of an actor can be noticed: its body, else its hurtboxes, else its hitboxes.
fn figure(spec: &Spec) -> &[BoxPlan] {
    match &spec.body {
        Some(body) => std::slice::from_ref(body),
        None if !spec.hurtboxes.is_empty() => &spec.hurtboxes,
        None => &spec.hitboxes,
    }
}

/// What stops a sensor's view before a part of a line, and after which part: an actor, else a solid of
/// the arena.
fn blocker(
    plan: &Plan,
    state: &State,
    sensor: &SensorPlan,
    parties: [Slot; 2],
    line: &SightLine,
    part: f64,
) -> Option<(f64, Option<ActorIx>)> {
    let &SightLine {
        from,
        path,
        heights,
    } = line;
    if sensor.solids
        && let Some((met, solid)) = solids::on_line(plan, state, parties, from, path, heights)
        && met < part
    {
        return Some((met, solid.mover()));
    }
    let blocks = |&index: &Slot| {
        let actor = &state.actors[index];
        let spec = plan.spec_of(actor.spec);
        let mut parts = figure(spec).iter().chain(spec.solid.as_deref());
        if !actor.alive || parties.contains(&index) {
            return None;
        }
        let met = parts.find_map(|own| line.meets(actor, own).filter(|met| *met < part))?;
        Some((met, Some(actor.number)))
    };
    let mut groups = sensor.blockers.iter();
    groups.find_map(|group| state.crowds.of(*group).iter().find_map(blocks))
}
