//! All that the page's script knows, packed: texts once each, places as steps.

use std::collections::HashMap;

use serde::Serialize;
use tin_crown::ledger::Tone;
use tin_crown::plan::{ActorIx, BoxPlan, SensorForm, Spec, SpecIx};
use tin_crown::study::Came;
use tin_crown::{Facing, Plan};

use super::poses::{Course, Poses};
use crate::film::Film;
use crate::guard;
use crate::legend;
use crate::nose;
use crate::outline::outline;
use crate::sensor;
use crate::view::View;
use tin_crown::geometry::{Bounds, HeightSpan, Vec2};

/// The arena is so wide on the page, in pixels of its own.
const WIDE: f64 = 1184.0;
const MOST_HIGH: f64 = 560.0;
/// Stands before a step that is made several times; no step is so long.
const REPEATED: i64 = 1 << 40;
/// So many lines of a ledger are on the page.
const LINES: usize = 20_000;
/// Places are kept in so many parts of a pixel.
const PARTS: f64 = 8.0;

#[derive(Clone, Debug, Serialize)]
pub(super) struct PageData {
    rate: u32,
    parts: f64,
    /// Of the arena, in pixels.
    size: [f64; 2],
    /// Whether the arena has heights; heights are in pixels, too.
    high: bool,
    #[serde(skip_serializing_if = "Option::is_none")]
    ground: Option<f64>,
    solids: Vec<SolidData>,
    goals: Vec<GoalData>,
    specs: Vec<SpecData>,
    drills: Vec<DrillData>,
    texts: Vec<String>,
    #[serde(skip)]
    known: HashMap<String, u32>,
    #[serde(skip)]
    view: View,
    #[serde(skip)]
    spec_of: HashMap<SpecIx, usize>,
}

#[derive(Clone, Debug, Serialize)]
struct SolidData {
    rect: [f64; 4],
    #[serde(skip_serializing_if = "Option::is_none")]
    span: Option<[f64; 2]>,
    one_way: bool,
}

#[derive(Clone, Debug, Serialize)]
struct GoalData {
    name: String,
    rect: [f64; 4],
    #[serde(skip_serializing_if = "Option::is_none")]
    span: Option<[f64; 2]>,
    exit: bool,
}

/// A kind: its boxes as outlines around its place, facing right and left.
#[derive(Clone, Debug, Serialize)]
struct SpecData {
    kind: String,
    player: bool,
    /// The larger of its width and height.
    size: f64,
    boxes: Vec<BoxData>,
}

#[derive(Clone, Debug, Serialize)]
struct BoxData {
    /// `hit`, `hurt`, `body`, `solid`, `pickup`, `sensor`, `guard`, or `boxless` for the mark of an
    /// actor without boxes.
    sort: &'static str,
    name: String,
    right: String,
    #[serde(skip_serializing_if = "String::is_empty")]
    left: String,
    /// From which height to which, from its owner's.
    #[serde(skip_serializing_if = "Option::is_none")]
    span: Option<[f64; 2]>,
    /// Of a ray with heights: at which its two ends are, from its owner's.
    #[serde(skip_serializing_if = "Option::is_none")]
    ray: Option<[f64; 2]>,
    /// Whether it turns with its owner.
    #[serde(skip_serializing_if = "std::ops::Not::not")]
    turns: bool,
    /// From which to which share of its size it grows, and on how many ticks.
    #[serde(skip_serializing_if = "Option::is_none")]
    grows: Option<[f64; 3]>,
}

#[derive(Clone, Debug, Serialize)]
struct DrillData {
    name: String,
    last: u32,
    actors: Vec<ActorData>,
    rows: Vec<Vec<u32>>,
    /// Of the lines that are explained: what is said of them.
    why: Vec<WhyData>,
    /// How many lines of the ledger are not on the page.
    left_out: usize,
}

#[derive(Clone, Debug, Serialize)]
struct ActorData {
    id: String,
    spec: usize,
    /// Stretches: the first tick, then the place, then steps from tick to tick; several that are the
    /// same as [`REPEATED`], how often, and the step.
    ways: Vec<Vec<i64>>,
    /// The same of its height, each with a 0 beside it, where the arena has heights.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    rises: Vec<Vec<i64>>,
    /// Tick, flags, live, doing, meters, born, how far it is turned: in 4096ths of a turn, as on a dial.
    stands: Vec<Vec<i64>>,
}

#[derive(Clone, Debug, Serialize)]
struct WhyData {
    line: u32,
    says: u32,
    /// Whether it was passed, which check, and what was found.
    checks: Vec<[u32; 3]>,
    #[serde(skip_serializing_if = "Option::is_none")]
    change: Option<u32>,
    /// The line, and what happened.
    causes: Vec<[u32; 2]>,
}

impl PageData {
    pub fn new(plan: &Plan) -> PageData {
        let view = View::at_origin(plan.arena().bounds(), plan.arena().up(), [WIDE, MOST_HIGH]);
        let rect = |bounds: Bounds| view.rect(bounds).map(short);
        let span = |span: HeightSpan| [span.low, span.high].map(|own| short(own * view.scale));
        let solids = plan.arena().solids().iter().map(|solid| SolidData {
            rect: rect(solid.bounds()),
            span: solid.span().map(span),
            one_way: solid.one_way(),
        });
        let checkpoints = plan
            .checkpoints()
            .iter()
            .map(|own| (own.area(), own.span(), own.name(), false));
        let exits = plan
            .exits()
            .iter()
            .map(|own| (own.area(), own.span(), own.name(), true));
        let goals = checkpoints
            .chain(exits)
            .map(|(area, heights, name, exit)| GoalData {
                name: name.to_owned(),
                rect: rect(area),
                span: heights.map(span),
                exit,
            });
        PageData {
            rate: plan.rate(),
            parts: PARTS,
            size: [short(view.area.width), short(view.area.height)],
            high: plan.arena().height().is_some(),
            ground: (plan.arena().height())
                .and_then(|height| height.ground())
                .map(|ground| short(ground * view.scale)),
            solids: solids.collect(),
            goals: goals.collect(),
            specs: Vec::new(),
            drills: Vec::new(),
            texts: Vec::new(),
            known: HashMap::new(),
            view,
            spec_of: HashMap::new(),
        }
    }

    pub fn json(&self) -> String {
        serde_json::to_string(self).expect("plain data")
    }

    fn text(&mut self, text: &str) -> u32 {
        if let Some(known) = self.known.get(text) {
            return *known;
        }
        let place = self.texts.len() as u32;
        self.texts.push(text.to_owned());
        self.known.insert(text.to_owned(), place);
        place
    }

    pub fn drill(&mut self, film: &Film, explained: &[Came], poses: Poses) {
        let (plan, replay) = (film.plan(), film.replay());
        let actors = poses
            .actors
            .iter()
            .map(|(actor, course)| self.actor(film, *actor, course))
            .collect();
        let mut rows = Vec::new();
        let ledger = replay.ledger();
        let events = &ledger.events()[..ledger.len().min(LINES)];
        for row in replay.rows(events) {
            let Some(event) = ledger.get(row.id) else {
                continue;
            };
            let mut texts = |text: &str| self.text(text);
            rows.push(vec![
                row.tick.0,
                row.id.0,
                texts(row.who),
                texts(&row.what),
                texts(row.whom),
                texts(row.rule),
                texts(&row.outcome),
                match row.tone {
                    Tone::Plain => 0,
                    Tone::Harm => 1,
                    Tone::Rejected => 2,
                },
                event.cause.map_or(0, |line| line.0),
                event.because.map_or(0, |line| line.0),
                texts(event.what.name()),
            ]);
        }
        let why = explained.iter().map(|came| self.why(came)).collect();
        self.drills.push(DrillData {
            name: plan.drills()[replay.drill().index()].name().to_owned(),
            last: poses.last,
            actors,
            rows,
            why,
            left_out: ledger.len() - events.len(),
        });
    }

    fn why(&mut self, came: &Came) -> WhyData {
        WhyData {
            line: came.line.unwrap_or_default(),
            says: self.text(&came.says),
            checks: came
                .checks
                .iter()
                .map(|check| {
                    [
                        u32::from(check.passed),
                        self.text(check.check),
                        self.text(&check.says),
                    ]
                })
                .collect(),
            change: came.change.as_ref().map(|change| self.text(change)),
            causes: came
                .causes
                .iter()
                .map(|step| [step.line, self.text(&step.says)])
                .collect(),
        }
    }

    fn actor(&mut self, film: &Film, actor: ActorIx, course: &Course) -> ActorData {
        let whole = |place: &[f64; 2]| {
            let [x, y] = self.view.place(Vec2::from(*place));
            [(x * PARTS).round() as i64, (y * PARTS).round() as i64]
        };
        let ways = course.stretches.iter();
        let ways = ways.map(|(tick, places)| way(*tick, places.iter().map(whole)));
        let ways = ways.collect();
        let risen = |height: &f64| [(height * self.view.scale * PARTS).round() as i64, 0];
        let rises = course.rises.iter();
        let rises = rises.map(|(tick, heights)| way(*tick, heights.iter().map(risen)));
        let rises = rises.collect();
        let stands = course
            .stands
            .iter()
            .map(|(tick, stand)| {
                vec![
                    i64::from(*tick),
                    i64::from(stand.flags),
                    i64::from(self.text(&stand.live)),
                    i64::from(self.text(&stand.doing)),
                    i64::from(self.text(&stand.meters)),
                    stand.born,
                    i64::from(stand.turned),
                ]
            })
            .collect();
        ActorData {
            id: film.replay().id(actor).to_owned(),
            spec: self.spec(film.plan(), film.replay().spec_index(actor)),
            ways,
            rises,
            stands,
        }
    }

    /// The place of a resolved kind among those on the page.
    fn spec(&mut self, plan: &Plan, index: SpecIx) -> usize {
        if let Some(known) = self.spec_of.get(&index) {
            return *known;
        }
        let spec = &plan.specs()[index.index()];
        let extent = spec.extent(Facing::Right).size();
        self.specs.push(SpecData {
            kind: plan.names().kinds()[spec.kind()].clone(),
            player: spec.player(),
            size: short(extent.x.max(extent.y).max(0.0) * self.view.scale),
            boxes: boxes(&self.view, spec, plan),
        });
        self.spec_of.insert(index, self.specs.len() - 1);
        self.specs.len() - 1
    }
}

/// Places from a tick on, as the first and the steps from each to the next.
fn way(tick: u32, places: impl Iterator<Item = [i64; 2]>) -> Vec<i64> {
    let mut last = [0, 0];
    let steps = places.map(|[x, y]| {
        let step = [x - last[0], y - last[1]];
        last = [x, y];
        step
    });
    let steps: Vec<[i64; 2]> = steps.collect();
    let mut way = vec![i64::from(tick)];
    for run in steps.chunk_by(|a, b| a == b) {
        match run.len() {
            0..3 => way.extend(run.as_flattened()),
            many => way.extend([REPEATED, many as i64, run[0][0], run[0][1]]),
        }
    }
    way
}

/// All boxes of a kind, in the order they are drawn; those that can be live in the order of the kind.
fn boxes(view: &View, spec: &Spec, plan: &Plan) -> Vec<BoxData> {
    // What rotates is turned on the page.
    let ways = match spec.rotates() {
        true => [Facing::Right; 2],
        false => [Facing::Right, Facing::Left],
    };
    let of = |sort: &'static str, own: &BoxPlan, name: &str| {
        let way = |facing| outline_at(view, own, facing);
        let (right, left) = (way(ways[0]), way(ways[1]));
        BoxData {
            sort,
            name: name.to_owned(),
            left: if left == right { String::new() } else { left },
            right,
            span: own
                .span()
                .map(|span| [span.low, span.high].map(|own| short(own * view.scale))),
            ray: None,
            turns: own.turns(),
            grows: own.grows().map(|grows| {
                let [from, to] = grows.shares();
                [from, to, f64::from(grows.ticks().0)]
            }),
        }
    };
    let outlined = |sort, name: &str, [right, left]: [String; 2]| BoxData {
        sort,
        name: name.to_owned(),
        right,
        left,
        span: None,
        ray: None,
        turns: spec.rotates(),
        grows: None,
    };
    let owner = view.around_owner();
    let mut all = Vec::new();
    for own in spec.sensors() {
        let name = &plan.names().sensors()[own.name()];
        let lines = ways.map(|facing| sensor::outline(&owner, own, facing, Vec2::ZERO));
        let scaled = |height: f64| short(height * view.scale);
        let (span, ray) = match own.form() {
            SensorForm::Area(area) => (area.span().map(|span| [span.low, span.high]), None),
            SensorForm::Ray { rise, .. } => (None, *rise),
        };
        all.push(BoxData {
            span: span.map(|span| span.map(scaled)),
            ray: ray.map(|ray| ray.map(scaled)),
            ..outlined("sensor", name, lines)
        });
    }
    all.extend(spec.solid().map(|own| of("solid", own, "solid")));
    all.extend(spec.body().map(|own| of("body", own, "body")));
    let pickup = spec.pickup();
    all.extend(pickup.map(|own| of("pickup", own.area(), "pickup")));
    all.extend(
        spec.hurtboxes()
            .iter()
            .map(|own| of("hurt", own, own.name())),
    );
    all.extend(spec.hitboxes().iter().map(|own| of("hit", own, own.name())));
    if spec.rotates() {
        let nose = nose::line(&owner, spec, Facing::Right, Vec2::ZERO);
        all.push(outlined("nose", "nose", [nose, String::new()]));
    }
    if let Some(own) = spec.guard() {
        let arcs = ways.map(|facing| guard::arc(&owner, spec, own, facing, Vec2::ZERO));
        all.push(outlined("guard", "guard", arcs));
    }
    if all.iter().all(|own| matches!(own.sort, "sensor" | "nose")) {
        let mark = legend::diamond([0.0, 0.0]);
        all.push(outlined("boxless", "place", [mark, String::new()]));
    }
    all
}

/// An outline around its owner's place.
fn outline_at(view: &View, own: &BoxPlan, facing: Facing) -> String {
    outline(&view.around_owner(), &own.shape(facing), Vec2::ZERO)
}

fn short(number: f64) -> f64 {
    (number * 100.0).round() / 100.0
}
