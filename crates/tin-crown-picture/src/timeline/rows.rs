//! The rows of everyone: meters as steps with numbers, and a bar for each stretch.

use std::collections::BTreeMap;

use tin_crown::plan::{ActorIx, MeterPlan};
use tin_crown::study::LogMark;
use tin_crown::{Amount, Event, Tick, What};

use super::flags::Flags;
use super::{LEFT, RIGHT, Scale, heights, levels, logged};
use crate::canvas::{Anchor, Canvas, Text};
use crate::film::{Film, Lane, Span, Track};
use crate::look::Look;
use crate::text::{Weight, shortened, width};

const NAME: f64 = 26.0;
const METER: f64 = 36.0;
const BAR: f64 = 19.0;
const GAP: f64 = 12.0;

/// All rows of one actor.
pub(super) struct Group<'f> {
    film: &'f Film,
    track: &'f Track,
    top: f64,
    meters: Vec<(&'f MeterPlan, &'f [(Tick, Amount)])>,
    /// The rows of bars, each with its name.
    bars: Vec<(&'static str, Vec<Span>)>,
    deeds: Flags,
    logged: Vec<LogMark>,
}

impl<'f> Group<'f> {
    /// `deeds` are what the actor did, in order.
    pub fn new(
        film: &'f Film,
        scale: &Scale,
        track: &'f Track,
        deeds: &[&Event],
        top: f64,
    ) -> Group<'f> {
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
            .meters()
            .iter()
            .zip(track.meters.iter().map(Vec::as_slice));
        let deeds = deeds.iter().map(|event| deed(film, event));
        Group {
            film,
            track,
            top,
            meters: meters.filter(|(_, course)| !course.is_empty()).collect(),
            bars,
            deeds: Flags::new(scale, deeds),
            logged: Vec::new(),
        }
    }

    /// With the hits on it of the game's own log.
    pub fn logged(mut self, marks: Vec<LogMark>) -> Group<'f> {
        self.logged = marks;
        self
    }

    /// Whether there is more to show than its name and meters that never change.
    pub fn has_rows(&self) -> bool {
        !self.bars.is_empty()
            || !self.deeds.is_empty()
            || !self.logged.is_empty()
            || self.rises()
            || self.meters.iter().any(|(_, course)| course.len() > 1)
    }

    /// Whether it is not always as high.
    fn rises(&self) -> bool {
        heights::changes(&self.track.heights)
    }

    /// The line on which hits are marked.
    pub fn base(&self) -> f64 {
        self.top + 15.0
    }

    pub fn bottom(&self) -> f64 {
        let meters = METER * (self.meters.len() + usize::from(self.rises())) as f64;
        let bars = BAR * (self.bars.len() + usize::from(!self.logged.is_empty())) as f64;
        self.top + NAME + self.deeds.height() + meters + bars + GAP
    }

    /// How many deeds are not named.
    pub fn unnamed(&self) -> usize {
        self.deeds.unnamed
    }

    pub fn draw(&self, canvas: &mut Canvas, look: &Look, scale: &Scale) {
        let id = self.film.replay().id(self.track.actor);
        label(canvas, look.ink, self.base() + 5.0, Weight::SemiBold, id);
        let base = self.base();
        let thin = [("stroke", look.ink), ("stroke-width", "0.8")];
        canvas.line([LEFT, base], [RIGHT, base], &thin);
        let mut y = self.top + NAME;
        if !self.logged.is_empty() {
            label(canvas, look.faint, y + 13.0, Weight::Regular, "game's log");
            logged::draw(canvas, look, scale, &self.logged, y + 8.0);
            y += BAR;
        }
        if !self.deeds.is_empty() {
            label(canvas, look.faint, y + 13.0, Weight::Regular, "does");
            self.deeds.draw(canvas, look, y);
            y += self.deeds.height();
        }
        let gone = self.track.spans.iter();
        let gone: Vec<&Span> = gone.filter(|span| span.lane == Lane::Gone).collect();
        for (meter, course) in &self.meters {
            let name = &self.film.plan().names().meters()[meter.name()];
            label(canvas, look.faint, y + 22.0, Weight::Regular, name);
            levels::draw(
                canvas,
                look,
                scale,
                (meter, course),
                &gone,
                [y + 4.0, y + METER - 6.0],
            );
            y += METER;
        }
        if self.rises() {
            label(canvas, look.faint, y + 22.0, Weight::Regular, "height");
            let (course, between) = (&self.track.heights, [y + 4.0, y + METER - 6.0]);
            heights::draw(canvas, look, scale, course, between);
            y += METER;
        }
        for (row, spans) in &self.bars {
            label(canvas, look.faint, y + 13.0, Weight::Regular, row);
            for span in spans {
                bar(canvas, look, scale, span, y);
            }
            if spans.iter().any(|span| span.lane == Lane::Active) {
                name_after(canvas, look, scale, spans, y);
            }
            y += BAR;
        }
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

pub(super) fn label(canvas: &mut Canvas, fill: &str, y: f64, weight: Weight, text: &str) {
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

/// What everyone did that is neither a hit nor a stretch.
pub(super) fn deeds<'f>(film: &'f Film, scale: &Scale) -> BTreeMap<ActorIx, Vec<&'f Event>> {
    let mut deeds: BTreeMap<ActorIx, Vec<&Event>> = BTreeMap::new();
    for event in film.events().iter().filter(|event| scale.shows(event.tick)) {
        if let (true, Some(who)) = (is_deed(event), event.who) {
            deeds.entry(who).or_default().push(event);
        }
    }
    deeds
}

fn is_deed(event: &Event) -> bool {
    matches!(
        event.what,
        What::Shot { .. }
            | What::DryFire { .. }
            | What::Pickup
            | What::Checkpoint { .. }
            | What::Exit { .. }
            | What::Respawn { .. }
            | What::Reset
            | What::Death { .. }
    )
}

/// A deed in a few words.
fn deed(film: &Film, event: &Event) -> (Tick, String) {
    let rows = film.replay().rows([event]);
    let words = rows.first().map(|row| format!("{} {}", row.what, row.whom));
    let words = words.unwrap_or_default();
    (event.tick, words.trim_end().to_owned())
}

/// The cues of everyone.
pub(super) fn cues(film: &Film, scale: &Scale) -> Flags {
    let cues = film.events().iter().filter_map(|event| match event.what {
        What::Cue { cue } if scale.shows(event.tick) => {
            Some((event.tick, film.plan().names().cues()[cue].clone()))
        }
        _ => None,
    });
    Flags::new(scale, cues)
}

/// Attacks whose name has no room in their startup are named in their recovery, or else after it, where
/// there is room.
fn name_after(canvas: &mut Canvas, look: &Look, scale: &Scale, spans: &[Span], y: f64) {
    let mut phases: Vec<&Span> = spans.iter().collect();
    phases.sort_by_key(|span| (span.from, span.lane));
    let attacks: Vec<&[&Span]> = phases
        .chunk_by(|one, next| one.to == next.from && one.words == next.words)
        .collect();
    for (nth, attack) in attacks.iter().enumerate() {
        let (Some(first), Some(last)) = (attack.first(), attack.last()) else {
            continue;
        };
        if named_within(scale, first) {
            continue;
        }
        let next = attacks.get(nth + 1).and_then(|next| next.first());
        let next = next.map_or(RIGHT, |next| scale.at(next.from));
        let (begin, end) = (scale.at(last.from), scale.at(last.to));
        let long = width(&last.words, 12.0, Weight::Regular) + 6.0;
        let x = match last.lane {
            Lane::Recovery if begin + long < end => begin,
            _ if end + long < next => end,
            _ => continue,
        };
        let at = [x + 4.0, y + 13.0];
        canvas.words(at, 12.0, Weight::Regular, look.ink, &last.words);
    }
}

/// Whether a bar has room for its name.
fn named_within(scale: &Scale, span: &Span) -> bool {
    let long = scale.at(span.to) - scale.at(span.from.max(scale.from));
    !matches!(span.lane, Lane::Active | Lane::Recovery)
        && width(&span.words, 12.0, Weight::Regular) < long - 6.0
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
    if !span.words.is_empty() && named_within(scale, span) {
        let at = [x + 4.0, y + 13.0];
        canvas.words(at, 12.0, Weight::Regular, look.ink, &span.words);
    }
}
