//! Sensors, in phase 2: whom each notices, how far off and since when.

use super::solids;
use crate::encounter::Facing;
use crate::geometry::{Vec2, along, overlap};
use crate::ledger::{LineId, What};
use crate::plan::{ActorIx, BoxPlan, Plan, SensorForm, SensorIx, SensorPlan, Spec};
use crate::sim::state::State;
use crate::time::Tick;

/// What a sensor notices.
#[derive(Clone, Debug)]
pub(crate) struct Sight {
    pub seen: Vec<Seen>,
    /// Since when it notices nobody, and the line that says so.
    pub empty: Tick,
    pub lost: Option<LineId>,
}

/// An actor who is noticed.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Seen {
    pub whom: ActorIx,
    /// Since when.
    pub since: Tick,
    /// The line that says so.
    pub line: LineId,
    /// How far off.
    pub distance: f64,
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
        let actor = &state.actors[index.index()];
        if !actor.alive || actor.dying || actor.rests(state.tick) {
            continue;
        }
        for (nth, sensor) in state.spec(plan, index).sensors.iter().enumerate() {
            look(plan, state, index, SensorIx::new(nth), sensor);
        }
    }
}

fn look(plan: &Plan, state: &mut State, index: ActorIx, which: SensorIx, sensor: &SensorPlan) {
    let place = state.actors[index.index()].life.sensors.start + which.index();
    for nth in 0..state.crowds.of(sensor.notices).len() {
        let whom = state.crowds.of(sensor.notices)[nth];
        if whom == index {
            continue;
        }
        let other = &state.actors[whom.index()];
        let there = other.alive && !other.dying;
        let noticed = there
            .then(|| notices(plan, state, index, sensor, whom))
            .flatten();
        let known = state.stock.sights[place]
            .seen
            .iter()
            .position(|seen| seen.whom == whom);
        match (noticed, known) {
            (Some(distance), Some(known)) => {
                state.stock.sights[place].seen[known].distance = distance
            }
            (Some(distance), None) => {
                let line = say(state, index, which, whom, Some(distance));
                let since = state.tick;
                state.stock.sights[place].seen.push(Seen {
                    whom,
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
        let actors = &state.actors;
        let gone = |seen: &Seen| !actors[seen.whom.index()].alive;
        state.stock.sights[place].seen.iter().position(gone)
    } {
        lose(state, index, which, place, known);
    }
}

fn lose(state: &mut State, index: ActorIx, which: SensorIx, place: usize, known: usize) {
    let seen = state.stock.sights[place].seen.remove(known);
    let line = say(state, index, which, seen.whom, None);
    if let Some(event) = state.ledger.get_mut(line) {
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
    index: ActorIx,
    sensor: SensorIx,
    whom: ActorIx,
    distance: Option<f64>,
) -> LineId {
    let what = What::Sense { sensor, distance };
    let event = state.ledger.push(state.tick, Some(index), what);
    event.whom = Some(whom);
    event.id
}

/// How far off whom is, when a sensor notices them.
fn notices(
    plan: &Plan,
    state: &State,
    index: ActorIx,
    sensor: &SensorPlan,
    whom: ActorIx,
) -> Option<f64> {
    let (own, other) = (&state.actors[index.index()], &state.actors[whom.index()]);
    let figure = figure(plan.spec_of(other.spec));
    match &sensor.form {
        SensorForm::Area(area) => {
            let shape = area.shape(own.facing);
            let offset = other.at - own.at;
            let bounds = shape.bounds();
            let meets = figure.iter().any(|part: &BoxPlan| {
                let part = part.shape(other.facing);
                bounds.meets(part.bounds().moved(offset)) && overlap(shape, part, offset)
            });
            let clear = meets && is_clear(plan, state, sensor, [index, whom], own.at, offset, 1.0);
            clear.then(|| offset.length())
        }
        SensorForm::Ray { from, to } => {
            let turned = |offset: Vec2| match own.facing {
                Facing::Right => offset,
                Facing::Left => offset.mirrored(),
            };
            let (eye, path) = (own.at + turned(*from), turned(*to - *from));
            let meets = figure
                .iter()
                .filter_map(|part| along(part.shape(other.facing), eye - other.at, path))
                .min_by(f64::total_cmp)?;
            let clear = is_clear(plan, state, sensor, [index, whom], eye, path, meets);
            clear.then(|| meets * path.length())
        }
    }
}

/// What of an actor can be noticed: its body, else its hurtboxes, else its hitboxes.
fn figure(spec: &Spec) -> &[BoxPlan] {
    match &spec.body {
        Some(body) => std::slice::from_ref(body),
        None if !spec.hurtboxes.is_empty() => &spec.hurtboxes,
        None => &spec.hitboxes,
    }
}

/// Whether nothing that stops a sensor's view stands before a part of a line.
fn is_clear(
    plan: &Plan,
    state: &State,
    sensor: &SensorPlan,
    parties: [ActorIx; 2],
    from: Vec2,
    path: Vec2,
    part: f64,
) -> bool {
    if sensor.solids
        && solids::on_line(plan, state, parties, from, path).is_some_and(|met| met < part)
    {
        return false;
    }
    let blocks = |index: &ActorIx| {
        let actor = &state.actors[index.index()];
        let spec = plan.spec_of(actor.spec);
        let parts = figure(spec).iter().chain(spec.solid.as_deref());
        actor.alive
            && !parties.contains(index)
            && parts
                .filter_map(|plan| along(plan.shape(actor.facing), from - actor.at, path))
                .any(|met| met < part)
    };
    let mut groups = sensor.blockers.iter();
    !groups.any(|group| state.crowds.of(*group).iter().any(blocks))
}
