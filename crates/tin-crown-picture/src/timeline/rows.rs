//! The rows of everyone: meters as steps with numbers, and a bar for each stretch.

use tin_crown::{Amount, Event, MeterPlan, Tick, What};

use super::{LEFT, RIGHT, Scale};
use crate::canvas::{Anchor, Canvas, Text, number};
use crate::film::{Film, Lane, Span, Track};
use crate::look::Look;
use crate::text::{Weight, shortened, width};

const NAME: f64 = 26.0;
const METER: f64 = 36.0;
const BAR: f64 = 19.0;
const DEEDS: f64 = 19.0;
const GAP: f64 = 12.0;

/// All rows of one actor.
pub(super) struct Group<'f> {
    film: &'f Film,
    track: &'f Track,
    top: f64,
    meters: Vec<(&'f MeterPlan, &'f [(Tick, Amount)])>,
    /// The rows of bars, each with its name.
    bars: Vec<(&'static str, Vec<Span>)>,
    deeds: Vec<(Tick, String)>,
}

impl<'f> Group<'f> {
    pub fn new(film: &'f Film, scale: &Scale, track: &'f Track, top: f64) -> Group<'f> {
        let spec = film.replay().spec(track.actor);
        let within = |span: &&Span| span.from <= scale.to && span.to > scale.from;
        let mut bars: Vec<(&'static str, Vec<Span>)> = Vec::new();
        for lane in Lane::ALL {
            let spans = track.spans.iter().filter(|span| span.lane == lane);
            let spans = thinned(scale, spans.filter(within));
            match bars.last_mut() {
                _ if spans.is_empty() => {}
                Some((row, known)) if *row == lane.row() => known.extend(spans),
                _ => bars.push((lane.row(), spans)),
            }
        }
        let meters = spec
            .meters
            .iter()
            .zip(track.meters.iter().map(Vec::as_slice));
        let own = film.events().iter();
        let own = own.filter(|event| event.who == Some(track.actor) && scale.shows(event.tick));
        Group {
            film,
            track,
            top,
            meters: meters.filter(|(_, course)| !course.is_empty()).collect(),
            bars,
            deeds: own.filter_map(|event| deed(film, event)).collect(),
        }
    }

    /// Whether there is more to show than its name and meters that never change.
    pub fn has_rows(&self) -> bool {
        !self.bars.is_empty()
            || !self.deeds.is_empty()
            || self.meters.iter().any(|(_, course)| course.len() > 1)
    }

    /// The line on which hits are marked.
    pub fn base(&self) -> f64 {
        self.top + 15.0
    }

    pub fn bottom(&self) -> f64 {
        let deeds = if self.deeds.is_empty() { 0.0 } else { DEEDS };
        let meters = METER * self.meters.len() as f64;
        self.top + NAME + deeds + meters + BAR * self.bars.len() as f64 + GAP
    }

    /// Draws them, and says how many deeds are not named.
    pub fn draw(&self, canvas: &mut Canvas, look: &Look, scale: &Scale) -> usize {
        let id = self.film.replay().id(self.track.actor);
        label(canvas, look.ink, self.base() + 5.0, Weight::SemiBold, id);
        let base = self.base();
        let thin = [("stroke", look.ink), ("stroke-width", "0.8")];
        canvas.line([LEFT, base], [RIGHT, base], &thin);
        let mut y = self.top + NAME;
        let mut unnamed = 0;
        if !self.deeds.is_empty() {
            label(canvas, look.faint, y + 13.0, Weight::Regular, "does");
            unnamed = flags(canvas, look, scale, &self.deeds, y);
            y += DEEDS;
        }
        for (meter, course) in &self.meters {
            let name = &self.film.plan().meters[meter.name.index()];
            label(canvas, look.faint, y + 22.0, Weight::Regular, name);
            steps(canvas, look, scale, (meter, course), y);
            y += METER;
        }
        for (row, spans) in &self.bars {
            label(canvas, look.faint, y + 13.0, Weight::Regular, row);
            for span in spans {
                bar(canvas, look, scale, span, y);
            }
            y += BAR;
        }
        unnamed
    }
}

/// Bars so thin that nobody can tell them apart are drawn as one.
fn thinned<'s>(scale: &Scale, spans: impl Iterator<Item = &'s Span>) -> Vec<Span> {
    let mut kept: Vec<Span> = Vec::new();
    for span in spans {
        let close = kept.last().is_some_and(|last| {
            let gap = scale.at(span.from) - scale.at(last.to);
            last.words == span.words && gap < 1.0 && scale.at(span.to) - scale.at(span.from) < 3.0
        });
        match kept.last_mut() {
            Some(last) if close => last.to = last.to.max(span.to),
            _ => kept.push(span.clone()),
        }
    }
    kept
}

fn label(canvas: &mut Canvas, fill: &str, y: f64, weight: Weight, text: &str) {
    let size = if weight == Weight::SemiBold {
        15.0
    } else {
        13.0
    };
    canvas.text(&Text {
        x: LEFT - 14.0,
        y,
        size,
        weight,
        anchor: Anchor::End,
        fill,
        text: &shortened(text, size, weight, LEFT - 34.0),
    });
}

/// What an actor did that is neither a hit nor a stretch, in a few words.
fn deed(film: &Film, event: &Event) -> Option<(Tick, String)> {
    match event.what {
        What::Shot { .. }
        | What::DryFire { .. }
        | What::Pickup
        | What::Checkpoint { .. }
        | What::Exit { .. }
        | What::Respawn { .. }
        | What::Reset
        | What::Death { .. } => {
            let rows = film.replay().rows([event]);
            let row = rows.first()?;
            let words = format!("{} {}", row.what, row.whom);
            Some((event.tick, words.trim_end().to_owned()))
        }
        _ => None,
    }
}

/// Draws cues, named where there is room; says how many are not.
pub(super) fn draw_cues(
    canvas: &mut Canvas,
    look: &Look,
    scale: &Scale,
    cues: &[(Tick, String)],
    y: f64,
) -> usize {
    label(canvas, look.faint, y + 13.0, Weight::Regular, "cues");
    flags(canvas, look, scale, cues, y)
}

/// The cues of everyone.
pub(super) fn cues(film: &Film, scale: &Scale) -> Vec<(Tick, String)> {
    let cues = film.events().iter().filter_map(|event| match event.what {
        What::Cue { cue } if scale.shows(event.tick) => {
            Some((event.tick, film.plan().cues[cue.index()].clone()))
        }
        _ => None,
    });
    cues.collect()
}

/// Small flags with their names, where there is room; says how many names there is none for.
fn flags(
    canvas: &mut Canvas,
    look: &Look,
    scale: &Scale,
    flags: &[(Tick, String)],
    y: f64,
) -> usize {
    let (mut free, mut drawn, mut unnamed) = (LEFT, f64::NEG_INFINITY, 0);
    for (nth, (tick, words)) in flags.iter().enumerate() {
        let x = scale.at(*tick);
        if x - drawn >= 1.0 {
            let pole = [("stroke", look.ink), ("stroke-width", "1.2")];
            canvas.line([x, y + 1.0], [x, y + 16.0], &pole);
            drawn = x;
        }
        let long = width(words, 12.0, Weight::Regular);
        // As far as the next one, unless that is at the same place.
        let later = flags[nth + 1..].iter().map(|(tick, _)| scale.at(*tick));
        let next = later.into_iter().find(|next| *next > x + 1.0);
        let room = next.unwrap_or(RIGHT).min(RIGHT) - x - 7.0;
        if x < free || long > room {
            unnamed += 1;
            continue;
        }
        canvas.text(&Text {
            x: x + 4.0,
            y: y + 13.0,
            size: 12.0,
            weight: Weight::Regular,
            anchor: Anchor::Start,
            fill: look.ink,
            text: words,
        });
        free = x + long + 8.0;
    }
    unnamed
}

/// What a meter held: a step line, with its numbers where there is room.
fn steps(
    canvas: &mut Canvas,
    look: &Look,
    scale: &Scale,
    (meter, course): (&MeterPlan, &[(Tick, Amount)]),
    y: f64,
) {
    let high = METER - 10.0;
    let level =
        |held: Amount| y + 4.0 + high * (1.0 - held.as_f64() / meter.max.as_f64().max(1e-9));
    let floor = y + 4.0 + high;
    let last = course.partition_point(|(tick, _)| *tick <= scale.from);
    let shown = &course[last.saturating_sub(1)..];
    let mut numbers: Vec<(f64, f64, Amount, bool)> = Vec::new();
    for &(tick, held) in shown.iter().take_while(|(tick, _)| *tick <= scale.to) {
        let (x, level) = (scale.at(tick), level(held));
        // Several changes within half a pixel are one step to the last of them.
        let near = numbers.last().is_some_and(|(before, ..)| x - before < 0.5);
        if near && numbers.len() > 1 {
            numbers.pop();
        }
        let before = numbers.last().map(|(_, _, before, _)| *before);
        numbers.push((x, level, held, before.is_some_and(|before| held < before)));
    }
    let mut steps = numbers.iter();
    let Some((x, level, ..)) = steps.next() else {
        return;
    };
    let mut way = format!("V{}", number(*level));
    for (x, level, ..) in steps {
        way += &format!("H{}V{}", number(*x), number(*level));
    }
    way += &format!("H{}", number(RIGHT));
    let from = format!("M{} {}", number(*x), number(floor));
    let fill = [("fill", look.verdigris), ("fill-opacity", "0.16")];
    canvas.path(&format!("{from}{way}V{}Z", number(floor)), &fill);
    let from = format!("M{} {}", number(*x), number(*level));
    canvas.path(
        &format!("{from}{way}"),
        &[
            ("fill", "none"),
            ("stroke", look.verdigris),
            ("stroke-width", "1.8"),
        ],
    );
    let mut free = LEFT;
    for (nth, &(x, level, held, lost)) in numbers.iter().enumerate() {
        let text = if nth == 0 {
            format!("{held} of {}", meter.max)
        } else {
            held.to_string()
        };
        let long = width(&text, 12.0, Weight::SemiBold);
        let next = numbers.get(nth + 1).map_or(RIGHT, |(next, ..)| *next);
        if x < free || x + long + 6.0 > next.min(RIGHT) {
            continue;
        }
        canvas.text(&Text {
            x: x + 4.0,
            // Below the line, or above it where there is no room below.
            y: if level + 14.0 <= floor {
                level + 12.5
            } else {
                level - 3.5
            },
            size: 12.0,
            weight: Weight::SemiBold,
            anchor: Anchor::Start,
            fill: if lost { look.oxblood } else { look.ink },
            text: &text,
        });
        free = x + long + 8.0;
    }
}

fn bar(canvas: &mut Canvas, look: &Look, scale: &Scale, span: &Span, y: f64) {
    let (x, end) = (scale.at(span.from.max(scale.from)), scale.at(span.to));
    let long = (end - x).max(1.0);
    let style: Vec<(&str, &str)> = match span.lane {
        Lane::State => vec![
            ("fill", look.arena),
            ("stroke", look.faint),
            ("stroke-width", "1"),
        ],
        Lane::Startup => vec![
            ("fill", look.arena),
            ("stroke", look.copper),
            ("stroke-width", "1"),
        ],
        Lane::Active => vec![("fill", look.copper)],
        Lane::Recovery => vec![
            ("fill", look.arena),
            ("stroke", look.copper),
            ("stroke-width", "1"),
            ("stroke-dasharray", "3 2"),
        ],
        Lane::Guard => vec![("fill", look.verdigris), ("fill-opacity", "0.75")],
        Lane::Invincible => vec![
            ("fill", look.verdigris),
            ("fill-opacity", "0.16"),
            ("stroke", look.verdigris),
            ("stroke-width", "1"),
            ("stroke-dasharray", "8 3 2 3"),
        ],
        Lane::Stunned => vec![
            ("fill", look.brass),
            ("fill-opacity", "0.35"),
            ("stroke", look.brass),
            ("stroke-width", "1"),
        ],
        Lane::Resting => vec![("fill", look.ink), ("fill-opacity", "0.55")],
        Lane::Regen => vec![
            ("fill", "none"),
            ("stroke", look.verdigris),
            ("stroke-width", "1"),
            ("stroke-dasharray", "1 3"),
        ],
        Lane::Dying => vec![("fill", look.oxblood), ("fill-opacity", "0.8")],
        Lane::Gone => vec![
            ("fill", "none"),
            ("stroke", look.oxblood),
            ("stroke-width", "1"),
            ("stroke-dasharray", "2 4"),
        ],
    };
    canvas.rect([x, y + 2.0, long, BAR - 5.0], &style);
    let words = match span.lane {
        Lane::Active | Lane::Recovery => "",
        _ => span.words.as_str(),
    };
    if !words.is_empty() && width(words, 12.0, Weight::Regular) < long - 6.0 {
        canvas.text(&Text {
            x: x + 4.0,
            y: y + 13.0,
            size: 12.0,
            weight: Weight::Regular,
            anchor: Anchor::Start,
            fill: look.ink,
            text: words,
        });
    }
}
