//! What does not change while a page is played: the arena, and the kinds with the outlines of their boxes.

use std::collections::{BTreeMap, HashMap};

use serde::Serialize;
use tin_crown::geometry::{Bounds, HeightSpan, Vec2};
use tin_crown::ledger::{Event, Reading, Tone};
use tin_crown::plan::{BoxPlan, SensorForm, Spec, SpecIx};
use tin_crown::sprite::Sheets;
use tin_crown::{Facing, Plan};

use super::sprites::{Pictures, SpriteData};
use super::texts::Texts;
use crate::guard;
use crate::legend;
use crate::nose;
use crate::outline::outline;
use crate::sensor;
use crate::view::View;

/// The arena is so wide on the page, in pixels of its own.
const WIDE: f64 = 1184.0;
const MOST_HIGH: f64 = 560.0;

#[derive(Clone, Debug, Serialize)]
pub(crate) struct Stage {
    rate: u32,
    /// Of the arena, in pixels.
    size: [f64; 2],
    /// Whether the arena has heights; heights are in pixels, too.
    high: bool,
    #[serde(skip_serializing_if = "Option::is_none")]
    ground: Option<f64>,
    solids: Vec<SolidData>,
    goals: Vec<GoalData>,
    /// Sheets of sprites, by their files: each is here once.
    #[serde(skip_serializing_if = "BTreeMap::is_empty")]
    pictures: BTreeMap<String, String>,
    specs: Vec<SpecData>,
    #[serde(skip)]
    pub view: View,
    #[serde(skip)]
    sprites: Pictures,
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
    #[serde(skip_serializing_if = "Option::is_none")]
    sprite: Option<SpriteData>,
}

/// A kind: its boxes as outlines around its place, facing right and left.
#[derive(Clone, Debug, Serialize)]
pub(crate) struct SpecData {
    kind: String,
    player: bool,
    /// The larger of its width and height.
    size: f64,
    boxes: Vec<BoxData>,
    #[serde(skip_serializing_if = "Option::is_none")]
    sprite: Option<SpriteData>,
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

impl Stage {
    pub fn new(plan: &Plan, sheets: &Sheets) -> Stage {
        let sprites = Pictures::new(sheets);
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
            .map(|own| (own.area(), own.span(), own.name(), own.sprite(), false));
        let exits = plan
            .exits()
            .iter()
            .map(|own| (own.area(), own.span(), own.name(), own.sprite(), true));
        let goals = checkpoints
            .chain(exits)
            .map(|(area, heights, name, sprite, exit)| GoalData {
                name: name.to_owned(),
                rect: rect(area),
                span: heights.map(span),
                exit,
                sprite: sprites.sprite(&view, sprite),
            });
        Stage {
            rate: plan.rate(),
            size: [short(view.area.width), short(view.area.height)],
            high: plan.arena().height().is_some(),
            ground: (plan.arena().height())
                .and_then(|height| height.ground())
                .map(|ground| short(ground * view.scale)),
            solids: solids.collect(),
            goals: goals.collect(),
            pictures: sprites.addresses(),
            specs: Vec::new(),
            view,
            sprites,
            spec_of: HashMap::new(),
        }
    }

    /// The place of a resolved kind among those on the page.
    pub fn spec(&mut self, plan: &Plan, index: SpecIx) -> usize {
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
            sprite: self.sprites.sprite(&self.view, spec.sprite()),
        });
        self.spec_of.insert(index, self.specs.len() - 1);
        self.specs.len() - 1
    }

    /// The kinds from a place on.
    pub fn specs_since(&self, first: usize) -> &[SpecData] {
        &self.specs[first..]
    }
}

/// Lines of a ledger as rows of numbers: tick, line, who, what, whom, rule, outcome, tone, cause, because, event.
pub(crate) fn rows<'l>(
    texts: &mut Texts,
    reading: Reading<'l>,
    events: &'l [Event],
) -> Vec<[u32; 11]> {
    let rows = reading.rows(events).into_iter();
    rows.map(|row| {
        let event = reading.ledger().get(row.id);
        let event = event.map_or("", |event| event.what.name());
        [
            row.tick.0,
            row.id.0,
            texts.of(row.who),
            texts.of(&row.what),
            texts.of(row.whom),
            texts.of(row.rule),
            texts.of(&row.outcome),
            match row.tone {
                Tone::Plain => 0,
                Tone::Harm => 1,
                Tone::Rejected => 2,
            },
            row.cause.map_or(0, |line| line.0),
            row.because.map_or(0, |line| line.0),
            texts.of(event),
        ]
    })
    .collect()
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

pub(crate) fn short(number: f64) -> f64 {
    (number * 100.0).round() / 100.0
}
