//! A filmstrip: the arena at the ticks that matter, each with its caption.

use std::collections::BTreeMap;
use std::sync::Arc;

use tin_crown::geometry::{Bounds, Vec2};
use tin_crown::{ActorIx, DrillIx, Event, Plan, Replay, Tick, Ticks, What};

use crate::canvas::Canvas;
use crate::film::Film;
use crate::frame::{Camera, Frame, FrameError};
use crate::label::Area;
use crate::legend;
use crate::look::Look;
use crate::scene::{arena, heading};
use crate::tags::{self, Detail};
use crate::text::{Weight, fitted};
use crate::view::View;

const WIDTH: f64 = 1280.0;
const LEFT: f64 = 40.0;
const TOP: f64 = 92.0;
const COLUMNS: usize = 3;
const CELL: [f64; 2] = [392.0, 220.0];
const GAP: f64 = 12.0;
const CAPTION: f64 = 52.0;
/// So many frames are drawn at the most.
const MOST: usize = 24;

/// Frames of a drill, one after the other.
///
/// ```
/// # let file = include_bytes!("../../tin-crown-cli/demo/first-shelf.toml");
/// use tin_crown_picture::{Film, Look, Strip};
///
/// let plan = tin_crown::check(file).plan.unwrap();
/// let film = Film::shoot(&plan, plan.drill("careless")?)?;
/// let strip = Strip::of_moments(&plan, &film)?;
/// assert_eq!(strip.len(), 4);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Clone, Debug)]
pub struct Strip {
    title: String,
    caption: String,
    frames: Vec<(Frame, Vec<String>)>,
    /// How many moments there are.
    moments: usize,
}

/// A tick that matters: what happens on it, and between whom.
#[derive(Default)]
struct Moment {
    captions: Vec<String>,
    cast: Vec<ActorIx>,
}

impl Strip {
    /// At each hit that took effect, each death and each return; of too many some are left out.
    ///
    /// # Errors
    ///
    /// When the drill cannot be replayed.
    pub fn of_moments(plan: &Arc<Plan>, film: &Film) -> Result<Strip, FrameError> {
        let replay = film.replay();
        let mut moments: BTreeMap<Tick, Moment> = BTreeMap::new();
        for event in replay
            .ledger()
            .events()
            .iter()
            .filter(|event| matters(event))
        {
            let moment = moments.entry(event.tick).or_default();
            moment.captions.push(caption(replay, event));
            moment.cast.extend(event.who.into_iter().chain(event.whom));
        }
        Strip::at(plan, replay.drill(), film, moments)
    }

    /// At every so many ticks.
    ///
    /// # Errors
    ///
    /// When the drill cannot be replayed.
    pub fn every(plan: &Arc<Plan>, film: &Film, step: Ticks) -> Result<Strip, FrameError> {
        let ticks = (0..=film.last().0).step_by(step.0.max(1) as usize);
        let moments = ticks.map(|tick| (Tick(tick), Moment::default())).collect();
        Strip::at(plan, film.replay().drill(), film, moments)
    }

    fn at(
        plan: &Arc<Plan>,
        drill: DrillIx,
        film: &Film,
        moments: BTreeMap<Tick, Moment>,
    ) -> Result<Strip, FrameError> {
        let count = moments.len();
        let mut camera = Camera::new(plan, drill);
        let mut frames = Vec::new();
        for (nth, (tick, moment)) in moments.into_iter().enumerate() {
            // Evenly, the first and the last among them.
            let drawn = |nth: usize| nth * (MOST - 1) / (count - 1).max(1);
            if count > MOST && nth > 0 && drawn(nth) == drawn(nth - 1) {
                continue;
            }
            camera.play_to(tick)?;
            let frame = camera.frame();
            let region = region(&camera, &moment.cast);
            let mut lines = vec![format!("{:.3} s, tick {tick}", tick.seconds(plan.rate))];
            lines.extend(moment.captions);
            let frame = match region {
                Some(region) => frame.region(region),
                None => frame,
            };
            frames.push((frame, lines));
        }
        Ok(Strip {
            title: plan.title.clone(),
            caption: film.caption(Tick(0), film.last()),
            frames,
            moments: count,
        })
    }

    /// How many frames it has.
    pub fn len(&self) -> usize {
        self.frames.len()
    }

    /// Whether there was nothing to show.
    pub fn is_empty(&self) -> bool {
        self.frames.is_empty()
    }

    /// The picture, as an SVG document 1280 pixels wide.
    pub fn svg(&self, look: &Look) -> String {
        let rows = self.frames.len().div_ceil(COLUMNS).max(1);
        let high = TOP + (CELL[1] + CAPTION + GAP) * rows as f64 + 36.0;
        let mut canvas = Canvas::new(WIDTH, high, &format!("{}: {}", self.title, self.caption));
        legend::hatch(&mut canvas, look);
        canvas.rect([0.0, 0.0, WIDTH, high], &[("fill", look.ground)]);
        heading(&mut canvas, look, &self.title, &self.caption);
        for (nth, (frame, lines)) in self.frames.iter().enumerate() {
            let (column, row) = (nth % COLUMNS, nth / COLUMNS);
            let room = Area {
                x: LEFT + (CELL[0] + GAP) * column as f64,
                y: TOP + (CELL[1] + CAPTION + GAP) * row as f64,
                width: CELL[0],
                height: CELL[1],
            };
            let bounds = frame.region.unwrap_or(frame.plan.arena.bounds);
            let view = View::within(bounds, frame.plan.arena.up, room);
            arena(&mut canvas, look, &view, frame, &format!("frame{nth}"));
            tags::draw(&mut canvas, look, &view, frame, Detail::Name);
            captions(&mut canvas, look, room, lines);
        }
        let told = match (self.frames.len(), self.moments) {
            (0, _) => "nobody is hit, dies or comes back in this drill".to_owned(),
            (frames, moments) if moments > frames => {
                format!("{frames} of {moments} moments, evenly chosen")
            }
            _ => String::new(),
        };
        canvas.words(
            [LEFT, high - 20.0],
            13.0,
            Weight::Regular,
            look.faint,
            &told,
        );
        canvas.finish()
    }
}

fn matters(event: &Event) -> bool {
    match &event.what {
        What::Hit(hit) => hit.verdict.took_effect(),
        What::Death { .. } | What::Respawn { .. } => true,
        _ => false,
    }
}

/// "beetle_1 hits porter: health 4 → 3".
fn caption(replay: &Replay, event: &Event) -> String {
    let events = replay.ledger().events().iter();
    let caused = events
        .filter(|other| other.cause == Some(event.id) && matches!(other.what, What::Meter { .. }));
    let rows = replay.rows([event].into_iter().chain(caused));
    let Some(row) = rows.first() else {
        return String::new();
    };
    let words = [row.who, &row.what, row.whom];
    let words: Vec<&str> = words.into_iter().filter(|word| !word.is_empty()).collect();
    // What the windows do is on the timeline.
    let outcome = row.outcome.split(", invincible").next().unwrap_or_default();
    match outcome.starts_with("invincible") || outcome.is_empty() {
        true => words.join(" "),
        false => format!("{}: {outcome}", words.join(" ")),
    }
}

/// What is shown around those whom a moment is about.
fn region(camera: &Camera, cast: &[ActorIx]) -> Option<Bounds> {
    let sim = &camera.sim;
    let arena = sim.plan().arena.bounds;
    let around = cast.iter().fold(Bounds::EMPTY, |bounds, actor| {
        let view = sim.actor(*actor);
        let own = sim.spec(*actor).extent(view.facing);
        let own = if own.is_empty() {
            Bounds {
                min: view.at,
                max: view.at,
            }
        } else {
            own.moved(view.at)
        };
        bounds.joined(own)
    });
    if around.is_empty() {
        return None;
    }
    let (size, all) = (around.size(), arena.size());
    let ratio = CELL[1] / CELL[0];
    let wide = (size.x * 1.8)
        .max(size.y * 1.8 / ratio)
        .max(all.x.min(all.y) * 0.5);
    let size = Vec2::new(wide, wide * ratio);
    if size.x >= all.x || size.y >= all.y {
        return None;
    }
    let half = size * 0.5;
    let middle = around.centre();
    // Of who is beyond the edge, what is there is shown.
    let within = |at: f64, half: f64, low: f64, high: f64| {
        if at < low || at > high {
            at
        } else {
            at.clamp(low + half, high - half)
        }
    };
    let middle = Vec2::new(
        within(middle.x, half.x, arena.min.x, arena.max.x),
        within(middle.y, half.y, arena.min.y, arena.max.y),
    );
    Some(Bounds {
        min: middle - half,
        max: middle + half,
    })
}

fn captions(canvas: &mut Canvas, look: &Look, room: Area, lines: &[String]) {
    let y = room.y + room.height;
    let [time, rest @ ..] = lines else { return };
    let first = rest.first().map_or("", String::as_str);
    let more = rest.len().saturating_sub(2);
    let second = match (rest.get(1), more) {
        (None, _) => String::new(),
        (Some(text), 0) => text.clone(),
        (Some(text), more) => format!("{text}, and {more} more"),
    };
    let head = fitted(&format!("{time}: {first}"), 13.0, Weight::SemiBold, CELL[0]);
    let head = head.trim_end_matches(": ");
    canvas.words([room.x, y + 18.0], 13.0, Weight::SemiBold, look.ink, head);
    let second = fitted(&second, 13.0, Weight::Regular, CELL[0]);
    canvas.words([room.x, y + 36.0], 13.0, Weight::Regular, look.ink, &second);
}
