//! What is told of a tick.

use serde::Serialize;
use serde::ser::SerializeMap;

use super::line::Tell;
use crate::geometry::{Facing, Shape, Vec2};
use crate::ledger::{Line, Shortest};
use crate::plan::{ActorIx, BoxPlan, facing};
use crate::sim::{ActorView, Live};

/// A tick, as it is told.
#[derive(Serialize)]
pub(super) struct Tick<'r> {
    pub tick: u32,
    pub events: Vec<Line<'r>>,
    #[serde(flatten)]
    pub state: State<'r>,
}

/// How everyone is, as far as it is asked for.
#[derive(Serialize)]
pub(super) struct State<'r> {
    #[serde(skip_serializing_if = "Option::is_none")]
    poses: Option<By<'r, Pose<'r>>>,
    #[serde(skip_serializing_if = "Option::is_none")]
    meters: Option<By<'r, By<'r, Shortest>>>,
    #[serde(skip_serializing_if = "Option::is_none")]
    windows: Option<By<'r, Vec<Window<'r>>>>,
    #[serde(skip_serializing_if = "Option::is_none")]
    boxes: Option<By<'r, Boxes<'r>>>,
}

/// Things by name, in the order of names.
struct By<'r, T>(Vec<(&'r str, T)>);

impl<T: Serialize> Serialize for By<'_, T> {
    fn serialize<S: serde::Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        let mut map = serializer.serialize_map(Some(self.0.len()))?;
        for (name, one) in &self.0 {
            map.serialize_entry(name, one)?;
        }
        map.end()
    }
}

#[derive(Serialize)]
struct Pose<'r> {
    at: Place,
    velocity: Place,
    facing: Told,
    grounded: bool,
    #[serde(skip_serializing_if = "Option::is_none")]
    state: Option<&'r str>,
    #[serde(skip_serializing_if = "Option::is_none")]
    attack: Option<&'r str>,
    #[serde(skip_serializing_if = "Option::is_none")]
    phase: Option<&'static str>,
    #[serde(skip_serializing_if = "std::ops::Not::not")]
    dying: bool,
}

/// Two coordinates, or three where the arena has heights.
#[derive(Serialize)]
#[serde(untagged)]
enum Place {
    Plane([Shortest; 2]),
    High([Shortest; 3]),
}

#[derive(Serialize)]
#[serde(untagged)]
enum Told {
    Word(&'static str),
    Degrees(Shortest),
}

#[derive(Serialize)]
struct Window<'r> {
    until: u32,
    #[serde(skip_serializing_if = "Option::is_none")]
    against: Option<&'r str>,
    #[serde(skip_serializing_if = "Option::is_none")]
    rule: Option<&'r str>,
    #[serde(skip_serializing_if = "Option::is_none")]
    because: Option<u32>,
}

#[derive(Serialize)]
struct Boxes<'r> {
    hit: By<'r, Form>,
    hurt: By<'r, Form>,
}

/// A convex core of points, in the arena, with a radius around it.
#[derive(Serialize)]
struct Form {
    points: Vec<[Shortest; 2]>,
    radius: Shortest,
}

impl<'r> State<'r> {
    pub fn of(run: &'r Live, tell: &[Tell]) -> State<'r> {
        let asked = |what: Tell| tell.contains(&what);
        let mut there: Vec<ActorIx> = Vec::new();
        if !tell.is_empty() {
            there.extend(run.cast());
        }
        State {
            poses: asked(Tell::Poses).then(|| by(run, &there, pose)),
            meters: asked(Tell::Meters).then(|| by(run, &there, meters)),
            windows: asked(Tell::Windows).then(|| by(run, &there, windows)),
            boxes: asked(Tell::Boxes).then(|| by(run, &there, boxes)),
        }
    }
}

fn by<'r, T>(
    run: &'r Live,
    there: &[ActorIx],
    of: impl Fn(&'r Live, ActorIx, ActorView<'r>) -> T,
) -> By<'r, T> {
    let all = there.iter();
    By(all
        .map(|actor| (run.id(*actor), of(run, *actor, run.actor(*actor))))
        .collect())
}

fn pose<'r>(run: &'r Live, actor: ActorIx, view: ActorView<'r>) -> Pose<'r> {
    let (plan, spec) = (run.plan(), run.spec(actor));
    let high = plan.arena.height.is_some();
    let place = |plane: Vec2, up: f64| match high {
        true => Place::High([plane.x, plane.y, up].map(Shortest::of)),
        false => Place::Plane([plane.x, plane.y].map(Shortest::of)),
    };
    let attack = view.attack.map(|(attack, phase)| {
        let name = spec.attacks[attack.index()].name;
        (plan.names.attacks[name].as_str(), phase.as_str())
    });
    Pose {
        at: place(view.at, view.height),
        velocity: place(view.velocity, view.velocity_up),
        facing: match facing(view.facing, plan.arena.up) {
            Facing::Right => Told::Word("right"),
            Facing::Left => Told::Word("left"),
            Facing::Angle(angle) => Told::Degrees(Shortest::of(angle.degrees())),
        },
        grounded: view.grounded,
        state: view.state.map(|state| {
            let name = spec.states[state.index()].name;
            plan.names.states[name].as_str()
        }),
        attack: attack.map(|(name, _)| name),
        phase: attack.map(|(_, phase)| phase),
        dying: view.dying,
    }
}

fn meters<'r>(run: &'r Live, actor: ActorIx, view: ActorView<'r>) -> By<'r, Shortest> {
    let meters = run.spec(actor).meters.iter().zip(view.meters);
    By(meters
        .map(|(meter, held)| {
            (
                run.plan().names.meters[meter.name].as_str(),
                Shortest::of(held.as_f64()),
            )
        })
        .collect())
}

fn windows<'r>(run: &'r Live, actor: ActorIx, _: ActorView<'r>) -> Vec<Window<'r>> {
    let open = run.windows(actor).map(|window| Window {
        until: window.until.0,
        against: window.against.map(|who| run.id(who)),
        rule: window
            .rule
            .map(|rule| run.plan().rules[rule.index()].name.as_str()),
        because: window.because.map(|line| line.0),
    });
    open.collect()
}

fn boxes<'r>(run: &'r Live, actor: ActorIx, view: ActorView<'r>) -> Boxes<'r> {
    let spec = run.spec(actor);
    let live = |all: &'r [BoxPlan], bits: u64| {
        let live = all.iter().enumerate();
        let live = live.filter(|(nth, _)| bits & (1 << nth) != 0);
        By(live
            .map(|(_, own)| {
                let shape = own.shape_at(view.facing, view.age);
                (own.name.as_str(), form(&shape, view.at))
            })
            .collect())
    };
    Boxes {
        hit: live(&spec.hitboxes, view.live.hit()),
        hurt: live(&spec.hurtboxes, view.live.hurt()),
    }
}

fn form(shape: &Shape, at: Vec2) -> Form {
    let points = shape.points().iter();
    Form {
        points: points
            .map(|point| [point.x + at.x, point.y + at.y].map(Shortest::of))
            .collect(),
        radius: Shortest::of(shape.radius()),
    }
}
