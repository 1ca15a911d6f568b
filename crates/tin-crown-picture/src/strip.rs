//! A filmstrip: the arena at the ticks that matter, each with its caption.

use std::collections::BTreeMap;

use tin_crown::geometry::{Bounds, Vec2};
use tin_crown::plan::ActorIx;
use tin_crown::{Event, Replay, Tick, Ticks, What};

use crate::camera::Camera;
use crate::canvas::Canvas;
use crate::film::Film;
use crate::frame::{Frame, FrameError, Zoom};
use crate::label::Area;
use crate::layers::Layers;
use crate::legend;
use crate::look::Look;
use crate::scene::{arena, heading};
use crate::tags::{self, Detail};
use crate::text::{Weight, fitted, width};
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
/// # let file = tin_crown::demo::FIRST_SHELF.as_bytes();
/// use tin_crown_picture::{Film, Look, Strip};
///
/// let plan = tin_crown::check(file).plan.unwrap();
/// let film = Film::shoot(&plan, plan.drill("careless")?)?;
/// assert_eq!(Strip::of(&film).take()?.len(), 4);
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

/// Which frames of a film a strip has: at each hit that took effect, each death and each return, unless
/// it says otherwise. Of too many some are left out.
#[derive(Clone, Debug)]
pub struct Shots<'f> {
    film: &'f Film,
    every: Option<Ticks>,
    from: Tick,
    to: Tick,
    zoom: Option<Zoom>,
    layers: Layers,
}

/// A tick that matters: what happens on it, and between whom.
#[derive(Default)]
struct Moment {
    captions: Vec<String>,
    cast: Vec<ActorIx>,
}

impl Shots<'_> {
    /// At every so many ticks.
    #[must_use]
    pub fn every(mut self, step: Ticks) -> Self {
        self.every = Some(step);
        self
    }

    /// Only from one tick to another.
    #[must_use]
    pub fn between(mut self, from: Tick, to: Tick) -> Self {
        self.to = to.min(self.film.last());
        self.from = from.min(self.to);
        self
    }

    /// Only a part of the arena. Around an actor: in the frames in which it is there.
    #[must_use]
    pub fn zoom(mut self, zoom: Zoom) -> Self {
        self.zoom = Some(zoom);
        self
    }

    /// Draws boxes over sprites, or one of the two.
    #[must_use]
    pub fn over(mut self, layers: Layers) -> Self {
        self.layers = layers;
        self
    }

    /// Takes them.
    ///
    /// # Errors
    ///
    /// When the drill cannot be replayed, or an actor to zoom in on is in none of the frames.
    pub fn take(&self) -> Result<Strip, FrameError> {
        let replay = self.film.replay();
        let moments = self.moments();
        let count = moments.len();
        let mut camera = Camera::new(replay.plan(), replay.drill());
        let mut frames = Vec::new();
        let mut missing = None;
        let mut seen = false;
        for (nth, (tick, moment)) in moments.into_iter().enumerate() {
            // Evenly, the first and the last among them.
            let drawn = |nth: usize| nth * (MOST - 1) / (count - 1).max(1);
            if count > MOST && nth > 0 && drawn(nth) == drawn(nth - 1) {
                continue;
            }
            camera.play_to(tick)?;
            let mut lines = vec![format!(
                "{:.3} s, tick {tick}",
                tick.seconds(replay.plan().rate())
            )];
            lines.extend(moment.captions);
            let usual = |frame: Frame| match region(&camera, &moment.cast) {
                Some(region) => frame.region(region),
                None => frame,
            };
            let frame = match &self.zoom {
                None => usual(camera.frame()),
                Some(zoom) => match camera.frame().zoom(zoom) {
                    Ok(frame) => {
                        seen = true;
                        frame
                    }
                    Err(not_there) => {
                        missing.get_or_insert(not_there);
                        usual(camera.frame())
                    }
                },
            };
            frames.push((frame.over(self.layers.clone()), lines));
        }
        if let Some(not_there) = missing.filter(|_| !seen) {
            return Err(not_there.into());
        }
        Ok(Strip {
            title: replay.plan().title().to_owned(),
            caption: self.film.caption(self.from, self.to),
            frames,
            moments: count,
        })
    }

    fn moments(&self) -> BTreeMap<Tick, Moment> {
        let within = |tick: Tick| tick >= self.from && tick <= self.to;
        if let Some(step) = self.every {
            let ticks = (self.from.0..=self.to.0).step_by(step.0.max(1) as usize);
            return ticks.map(|tick| (Tick(tick), Moment::default())).collect();
        }
        let replay = self.film.replay();
        let mut moments: BTreeMap<Tick, Moment> = BTreeMap::new();
        for event in self.film.events() {
            if !matters(event) || !within(event.tick) {
                continue;
            }
            let moment = moments.entry(event.tick).or_default();
            moment.captions.push(caption(replay, event));
            moment.cast.extend(event.who.into_iter().chain(event.whom));
        }
        moments
    }
}

impl Strip {
    /// The frames of a film.
    pub fn of(film: &Film) -> Shots<'_> {
        Shots {
            film,
            every: None,
            from: Tick(0),
            to: film.last(),
            zoom: None,
            layers: Layers::default(),
        }
    }

    /// How many frames it has.
    pub fn len(&self) -> usize {
        self.frames.len()
    }

    /// How many moments were asked for: more than [`len`](Strip::len) when some are left out.
    pub fn moments(&self) -> usize {
        self.moments
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
            let bounds = frame.region.unwrap_or(frame.plan.arena().bounds());
            let view = View::within(bounds, frame.plan.arena().up(), room);
            arena(&mut canvas, look, &view, frame, &format!("frame{nth}"));
            tags::draw(&mut canvas, look, &view, frame, Detail::Name);
            captions(&mut canvas, look, room, lines);
        }
        let told = match (self.frames.len(), self.moments) {
            (0, _) => "nobody is hit, dies or respawns in this drill".to_owned(),
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
        What::Death { .. } | What::Respawn { .. } | What::Apply { .. } => true,
        _ => false,
    }
}

/// "beetle_1 hits porter: health 4 → 3".
fn caption(replay: &Replay, event: &Event) -> String {
    // What an event does to meters follows it.
    let later = replay.ledger().events()[event.id.0 as usize..].iter();
    let own = |other: &&Event| other.tick == event.tick && !matches!(other.what, What::Hit(_));
    let caused = later
        .take_while(own)
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
    let arena = sim.plan().arena().bounds();
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
    let head = format!("{time}: {first}");
    // What is too long goes on below, where that line is free.
    let (head, second) = match second.is_empty() {
        true => wrapped(&head),
        false => (head.as_str(), second.as_str()),
    };
    let head = fitted(head, 13.0, Weight::SemiBold, CELL[0]);
    let head = head.trim_end_matches(": ");
    canvas.words([room.x, y + 18.0], 13.0, Weight::SemiBold, look.ink, head);
    let second = fitted(second, 13.0, Weight::Regular, CELL[0]);
    canvas.words([room.x, y + 36.0], 13.0, Weight::Regular, look.ink, &second);
}

/// As many words as a caption has room for, and the rest.
fn wrapped(text: &str) -> (&str, &str) {
    let fits = |text: &str| width(text, 13.0, Weight::SemiBold) <= CELL[0];
    if fits(text) {
        return (text, "");
    }
    let ends = text.match_indices(' ').map(|(end, _)| end);
    match ends.rev().find(|end| fits(&text[..*end])) {
        Some(end) => (&text[..end], &text[end + 1..]),
        None => (text, ""),
    }
}
