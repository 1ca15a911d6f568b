//! The timeline: who hurt whom and when, what everyone held, and what they were in the middle of.

mod axis;
mod blows;
mod flags;
mod heights;
mod levels;
mod logged;
mod rows;
mod slack;

use std::collections::BTreeMap;

use tin_crown::plan::{ActorIx, Chosen};
use tin_crown::study::{LogMark, Slack};
use tin_crown::{Tick, What};

use crate::canvas::{Anchor, Canvas, Text};
use crate::film::{Film, Track};
use crate::look::Look;
use crate::scene::heading;
use crate::text::{Weight, fitted};
use flags::Flags;

const WIDTH: f64 = 1280.0;
/// Names stand left of it, time runs right of it.
const LEFT: f64 = 190.0;
const RIGHT: f64 = 1248.0;
/// Where time begins and ends, and how wide the picture is.
pub(crate) const EDGES: [f64; 3] = [LEFT, RIGHT, WIDTH];
/// A second is not narrower than this, in pixels, where there is less room than for all of it.
const LEAST_SECOND: f64 = 24.0;
/// Texts can be read down to this share of their size.
const LEAST_SHARE: f64 = 0.66;
const TOP: f64 = 112.0;
/// A picture is not drawn higher than this.
const MOST_HEIGHT: f64 = 6000.0;

/// What is drawn of a film as a timeline.
///
/// ```
/// # let file = tin_crown::demo::FIRST_SHELF.as_bytes();
/// use tin_crown_picture::{Film, Look, Timeline};
///
/// let plan = tin_crown::check(file).plan.unwrap();
/// let film = Film::shoot(&plan, plan.drill("careless")?)?;
/// let svg = Timeline::new(&film).svg(&Look::paper());
/// assert!(svg.contains("horns gore porter") || svg.contains("porter"));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Clone, Debug)]
pub struct Timeline<'f> {
    film: &'f Film,
    from: Tick,
    to: Tick,
    who: Option<&'f Chosen>,
    logged: &'f [LogMark],
    slack: Option<&'f Slack>,
}

impl<'f> Timeline<'f> {
    /// All of a film.
    pub fn new(film: &'f Film) -> Timeline<'f> {
        Timeline {
            film,
            from: Tick(0),
            to: film.last(),
            who: None,
            logged: &[],
            slack: None,
        }
    }

    /// Only from one tick to another.
    #[must_use]
    pub fn between(mut self, from: Tick, to: Tick) -> Timeline<'f> {
        self.to = to.min(self.film.last());
        self.from = from.min(self.to);
        self
    }

    /// Only of these actors.
    #[must_use]
    pub fn of(mut self, who: &'f Chosen) -> Timeline<'f> {
        self.who = Some(who);
        self
    }

    /// With the hits of the game's own log.
    #[must_use]
    pub fn logged(mut self, marks: &'f [LogMark]) -> Timeline<'f> {
        self.logged = marks;
        self
    }

    /// With how far the drill's inputs may be off.
    #[must_use]
    pub fn slack(mut self, slack: &'f Slack) -> Timeline<'f> {
        self.slack = Some(slack);
        self
    }

    /// The picture, as an SVG document 1280 pixels wide.
    pub fn svg(&self, look: &Look) -> String {
        self.draw(look, 0.0)
    }

    /// The same without its heading.
    pub(crate) fn bare(&self, look: &Look) -> String {
        self.draw(look, TOP - 34.0)
    }

    fn draw(&self, look: &Look, from: f64) -> String {
        let scale = Scale::new(self);
        let plot = Plot::new(self, &scale);
        let mut measure = Canvas::new(WIDTH, 0.0, "");
        let height = plot.draw(&mut measure, look) + 24.0;
        let caption = self.film.caption(self.from, self.to);
        let title = self.film.plan().title();
        let mut canvas = Canvas::from_below(from, WIDTH, height, &format!("{title}: {caption}"));
        canvas.rect([0.0, 0.0, WIDTH, height], &[("fill", look.ground)]);
        if from == 0.0 {
            heading(&mut canvas, look, title, &caption);
        }
        plot.draw(&mut canvas, look);
        canvas.finish()
    }

    /// Whether an actor has a row of its own: who is placed, or what was asked for by its id.
    fn has_row(&self, track: &Track) -> bool {
        let replay = self.film.replay();
        let placed = replay.root(track.actor) == track.actor;
        match self.who {
            Some(who) => replay.is_chosen(who, track.actor),
            None => placed,
        }
    }
}

/// Down to which width in pixels the picture of so many seconds can be read.
pub(crate) fn least_width(seconds: f64) -> f64 {
    let wide = WIDTH / (RIGHT - LEFT) * LEAST_SECOND * seconds;
    wide.max(WIDTH * LEAST_SHARE)
}

/// From ticks to pixels.
struct Scale {
    from: Tick,
    to: Tick,
    rate: u32,
    pixels: f64,
}

impl Scale {
    fn new(timeline: &Timeline<'_>) -> Scale {
        let (from, to) = (timeline.from, timeline.to);
        Scale {
            from,
            to,
            rate: timeline.film.plan().rate(),
            pixels: (RIGHT - LEFT) / f64::from((to - from).0 + 1),
        }
    }

    /// Where a tick begins.
    fn at(&self, tick: Tick) -> f64 {
        let off = f64::from(tick.0) - f64::from(self.from.0);
        (LEFT + off * self.pixels).clamp(LEFT, RIGHT)
    }

    fn shows(&self, tick: Tick) -> bool {
        tick >= self.from && tick <= self.to
    }
}

/// All that is drawn, and where.
struct Plot<'t> {
    timeline: &'t Timeline<'t>,
    scale: &'t Scale,
    cues: Flags,
    groups: Vec<rows::Group<'t>>,
    /// The base line of everyone who has a group.
    lines: BTreeMap<ActorIx, f64>,
    /// Of whom there is nothing to show, and how many more there was no room for.
    quiet: Vec<&'t str>,
    left_out: usize,
    /// Where the slack of inputs begins.
    slack: f64,
    bottom: f64,
}

impl<'t> Plot<'t> {
    fn new(timeline: &'t Timeline<'t>, scale: &'t Scale) -> Plot<'t> {
        let film = timeline.film;
        let busy = busy(timeline, scale);
        let cues = rows::cues(film, scale);
        let deeds = rows::deeds(film, scale);
        let mut logged = logged::marks(timeline.logged, scale);
        let mut plot = Plot {
            timeline,
            scale,
            groups: Vec::new(),
            lines: BTreeMap::new(),
            quiet: Vec::new(),
            left_out: 0,
            slack: 0.0,
            bottom: TOP
                + 8.0
                + if cues.is_empty() {
                    0.0
                } else {
                    cues.height() + 7.0
                },
            cues,
        };
        for track in film.tracks.iter().filter(|track| timeline.has_row(track)) {
            let own = deeds.get(&track.actor).map_or(&[][..], Vec::as_slice);
            let logged = logged.remove(&track.actor).unwrap_or_default();
            let group = rows::Group::new(film, scale, track, own, plot.bottom).logged(logged);
            if !group.has_rows() && busy.binary_search(&track.actor).is_err() {
                plot.quiet.push(film.replay().id(track.actor));
            } else if group.bottom() > MOST_HEIGHT {
                plot.left_out += 1;
            } else {
                plot.lines.insert(track.actor, group.base());
                plot.bottom = group.bottom();
                plot.groups.push(group);
            }
        }
        plot.slack = plot.bottom;
        plot.bottom += timeline.slack.map_or(0.0, slack::height);
        plot
    }

    /// Draws it all, and says where it ends.
    fn draw(&self, canvas: &mut Canvas, look: &Look) -> f64 {
        axis::draw(canvas, look, self.scale, [TOP, self.bottom]);
        let blows = blows::Blows::new(self);
        // Beneath all texts.
        blows.draw_joins(canvas, look, &self.lines);
        let mut unnamed = self.cues.unnamed;
        if !self.cues.is_empty() {
            rows::label(canvas, look.faint, TOP + 19.0, Weight::Regular, "cues");
            self.cues.draw(canvas, look, TOP + 6.0);
        }
        for group in &self.groups {
            group.draw(canvas, look, self.scale);
            unnamed += group.unnamed();
        }
        blows.draw(canvas, look, &self.lines);
        if let Some(slack) = self.timeline.slack {
            slack::draw(canvas, look, self.scale, slack, self.slack);
        }
        let mut y = self.bottom + 48.0;
        blows::legend(canvas, look, y, blows.has_applied());
        y += 30.0;
        if !self.timeline.logged.is_empty() {
            logged::legend(canvas, look, y - 4.0);
            y += 26.0;
        }
        if self.timeline.slack.is_some() {
            slack::legend(canvas, look, y - 4.0);
            y += 26.0;
        }
        let mut note = |text: String| {
            canvas.text(&Text {
                x: 32.0,
                y,
                size: 14.0,
                weight: Weight::Regular,
                anchor: Anchor::Start,
                fill: look.faint,
                text: &fitted(&text, 14.0, Weight::Regular, RIGHT - 32.0),
            });
            y += 20.0;
        };
        if !self.quiet.is_empty() {
            note(format!("nothing happens to {}", self.quiet.join(", ")));
        }
        if self.left_out > 0 {
            note(format!(
                "{} more actors omitted for lack of space: narrow it with --who",
                self.left_out
            ));
        }
        if blows.hits > blows.drawn() {
            note(format!(
                "{} marks stand for {} hits: ×n is how many coincide",
                blows.drawn(),
                blows.hits
            ));
        }
        if blows.crowded {
            note(
                "too many hits to draw lines between: narrow it with --who, --from and --to".into(),
            );
        }
        if unnamed > 0 {
            note(format!(
                "{unnamed} cues and actions are not named for lack of space: narrow it with --from and --to"
            ));
        }
        y
    }
}

/// Who deals or takes a hit.
fn busy(timeline: &Timeline<'_>, scale: &Scale) -> Vec<ActorIx> {
    let replay = timeline.film.replay();
    let mut busy = Vec::new();
    for event in timeline.film.events() {
        if matches!(event.what, What::Hit(_) | What::Apply { .. }) && scale.shows(event.tick) {
            busy.extend(event.whom);
            busy.extend(event.who.map(|who| replay.root(who)));
        }
    }
    busy.sort_unstable();
    busy.dedup();
    busy
}
