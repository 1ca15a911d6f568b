//! All that the report's script knows, packed: texts once each, places as steps.

use serde::Serialize;
use tin_crown::Plan;
use tin_crown::geometry::Vec2;
use tin_crown::plan::ActorIx;
use tin_crown::sprite::Sheets;
use tin_crown::study::Came;

use crate::film::Film;
use crate::page::poses::{Course, Poses};
use crate::page::stage::{self, Stage};
use crate::page::texts::Texts;

/// Stands before a step that is made several times; no step is so long.
const REPEATED: i64 = 1 << 40;
/// So many lines of a ledger are on the page.
const LINES: usize = 20_000;
/// Places are kept in so many parts of a pixel.
const PARTS: f64 = 8.0;

#[derive(Clone, Debug, Serialize)]
pub(super) struct PageData {
    parts: f64,
    #[serde(flatten)]
    stage: Stage,
    drills: Vec<DrillData>,
    texts: Texts,
}

#[derive(Clone, Debug, Serialize)]
struct DrillData {
    name: String,
    last: u32,
    actors: Vec<ActorData>,
    rows: Vec<[u32; 11]>,
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
    /// Tick, flags, live, doing, meters, born, how far it is turned: in 4096ths of a turn, as on a dial;
    /// which clip of its sprite, since when.
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
    pub fn new(plan: &Plan, sheets: &Sheets) -> PageData {
        PageData {
            parts: PARTS,
            stage: Stage::new(plan, sheets),
            drills: Vec::new(),
            texts: Texts::default(),
        }
    }

    pub fn drill(&mut self, film: &Film, explained: &[Came], poses: Poses) {
        let (plan, replay) = (film.plan(), film.replay());
        let actors = poses
            .actors
            .iter()
            .map(|(actor, course)| self.actor(film, *actor, course))
            .collect();
        let ledger = replay.ledger();
        let events = &ledger.events()[..ledger.len().min(LINES)];
        let rows = stage::rows(&mut self.texts, replay.reading(), events);
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
            says: self.texts.of(&came.says),
            checks: came
                .checks
                .iter()
                .map(|check| {
                    [
                        u32::from(check.passed),
                        self.texts.of(check.check),
                        self.texts.of(&check.says),
                    ]
                })
                .collect(),
            change: came.change.as_ref().map(|change| self.texts.of(change)),
            causes: came
                .causes
                .iter()
                .map(|step| [step.line, self.texts.of(&step.says)])
                .collect(),
        }
    }

    fn actor(&mut self, film: &Film, actor: ActorIx, course: &Course) -> ActorData {
        let whole = |place: &[f64; 2]| {
            let [x, y] = self.stage.view.place(Vec2::from(*place));
            [(x * PARTS).round() as i64, (y * PARTS).round() as i64]
        };
        let ways = course.stretches.iter();
        let ways = ways.map(|(tick, places)| way(*tick, places.iter().map(whole)));
        let ways = ways.collect();
        let risen = |height: &f64| [(height * self.stage.view.scale * PARTS).round() as i64, 0];
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
                    i64::from(self.texts.of(&stand.live)),
                    i64::from(self.texts.of(&stand.doing)),
                    i64::from(self.texts.of(&stand.meters)),
                    stand.born,
                    i64::from(stand.turned),
                    stand.clip.0 as i64,
                    stand.clip.1,
                ]
            })
            .collect();
        ActorData {
            id: film.replay().id(actor).to_owned(),
            spec: self
                .stage
                .spec(film.plan(), film.replay().spec_index(actor)),
            ways,
            rises,
            stands,
        }
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
