//! Hits, and effects from outside: a mark at whom, joined to who.

use std::collections::BTreeMap;

use tin_crown::plan::ActorIx;
use tin_crown::{Verdict, What};

use super::Plot;
use crate::canvas::{Anchor, Canvas, Text, number};
use crate::look::Look;
use crate::text::{Weight, width};

/// The outcome of a hit, as far as a mark shows it; or an effect from outside.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub(crate) enum Blow {
    Rejected,
    Guarded,
    Landed,
    Applied,
}

impl Blow {
    pub fn of(verdict: Verdict) -> Blow {
        match verdict {
            Verdict::Landed => Blow::Landed,
            Verdict::Guarded => Blow::Guarded,
            _ => Blow::Rejected,
        }
    }

    fn words(self) -> &'static str {
        match self {
            Blow::Landed => "hit that landed",
            Blow::Guarded => "guarded hit",
            Blow::Rejected => "touch without effect",
            Blow::Applied => "effect from outside",
        }
    }
}

/// Hits that are near enough to share a mark.
struct Shared {
    blow: Blow,
    who: Option<ActorIx>,
    whom: ActorIx,
    x: f64,
    count: usize,
}

/// All hits of a plot, those that landed last.
pub(super) struct Blows {
    marks: Vec<Shared>,
    pub hits: usize,
    /// Whether there are so many that nobody could follow the lines from who to whom.
    pub crowded: bool,
}

/// With more marks than that the lines are left out, and all that hit one at a time share a mark.
const CROWD: usize = 3000;

/// Hits within so many pixels of each other share a mark.
const NEAR: f64 = 5.0;

impl Blows {
    pub fn new(plot: &Plot<'_>) -> Blows {
        let joined = Blows::gather(plot, true);
        if joined.marks.len() <= CROWD {
            return joined;
        }
        Blows {
            crowded: true,
            ..Blows::gather(plot, false)
        }
    }

    /// All hits; those of several actors on one apart, or together.
    fn gather(plot: &Plot<'_>, apart: bool) -> Blows {
        let replay = plot.timeline.film.replay();
        let mut found: BTreeMap<_, Shared> = BTreeMap::new();
        let mut hits = 0;
        for event in plot.timeline.film.events() {
            let blow = match &event.what {
                What::Hit(hit) => Blow::of(hit.verdict),
                What::Apply { .. } => Blow::Applied,
                _ => continue,
            };
            let Some(whom) = event.whom else { continue };
            if !plot.scale.shows(event.tick) {
                continue;
            }
            let drawn = |actor: &ActorIx| plot.lines.contains_key(actor);
            let acts = event.who.map(|who| [who, replay.root(who)]);
            let who = acts.into_iter().flatten().find(drawn);
            if !drawn(&whom) && who.is_none() {
                continue;
            }
            hits += usize::from(blow != Blow::Applied);
            let who = who.filter(|_| apart);
            let x = plot.scale.at(event.tick);
            let key = (blow, (x / NEAR) as i64, who, whom);
            let shared = found.entry(key).or_insert(Shared {
                blow,
                who,
                whom,
                x,
                count: 0,
            });
            shared.count += 1;
        }
        Blows {
            marks: found.into_values().collect(),
            hits,
            crowded: false,
        }
    }

    /// Whether there are effects from outside.
    pub fn has_applied(&self) -> bool {
        self.marks.iter().any(|mark| mark.blow == Blow::Applied)
    }

    pub fn drawn(&self) -> usize {
        self.marks.len()
    }

    /// Draws the lines from who to whom, fainter where there are many.
    pub fn draw_joins(&self, canvas: &mut Canvas, look: &Look, lines: &BTreeMap<ActorIx, f64>) {
        let opacity = (60.0 / self.marks.len().max(1) as f64).clamp(0.3, 1.0);
        canvas.open("g", &[("stroke-opacity", &number(opacity))]);
        for shared in &self.marks {
            let from = shared.who.and_then(|who| lines.get(&who).copied());
            let to = lines.get(&shared.whom).copied();
            if let (Some(from), Some(to)) = (from, to) {
                join(canvas, look, shared.blow, shared.x, [from, to]);
            }
        }
        canvas.close("g");
    }

    /// Draws the marks at whom and the arrows at who.
    pub fn draw(&self, canvas: &mut Canvas, look: &Look, lines: &BTreeMap<ActorIx, f64>) {
        // Up to where counts are written on each line.
        let mut free: BTreeMap<ActorIx, f64> = BTreeMap::new();
        for shared in &self.marks {
            let &Shared {
                blow,
                who,
                whom,
                x,
                count,
            } = shared;
            if let Some(from) = who.and_then(|who| lines.get(&who).copied()) {
                arrow(canvas, look, [x, from]);
            }
            let Some(&y) = lines.get(&whom) else { continue };
            mark(canvas, look, blow, [x, y]);
            let place = free.entry(whom).or_insert(f64::NEG_INFINITY);
            if count > 1 && x > *place {
                let text = format!("×{count}");
                canvas.text(&Text {
                    x: x + 5.0,
                    y: y - 5.0,
                    size: 11.0,
                    weight: Weight::SemiBold,
                    anchor: Anchor::Start,
                    fill: look.ink,
                    text: &text,
                });
                *place = x + 8.0 + width(&text, 11.0, Weight::SemiBold);
            }
        }
    }
}

fn arrow(canvas: &mut Canvas, look: &Look, [x, y]: [f64; 2]) {
    let d = format!("M{} {}h6.4l-3.2 6.4Z", number(x - 3.2), number(y - 3.2));
    canvas.path(&d, &[("fill", look.copper)]);
}

fn join(canvas: &mut Canvas, look: &Look, blow: Blow, x: f64, [from, to]: [f64; 2]) {
    let style: Vec<(&str, &str)> = match blow {
        Blow::Landed | Blow::Applied => vec![("stroke", look.oxblood), ("stroke-width", "1.1")],
        Blow::Guarded => vec![
            ("stroke", look.verdigris),
            ("stroke-width", "1.1"),
            ("stroke-dasharray", "5 3"),
        ],
        Blow::Rejected => vec![
            ("stroke", look.faint),
            ("stroke-width", "0.8"),
            ("stroke-dasharray", "1 4"),
        ],
    };
    canvas.line([x, from], [x, to], &style);
}

fn mark(canvas: &mut Canvas, look: &Look, blow: Blow, [x, y]: [f64; 2]) {
    let (left, right) = (number(x - 4.0), number(x + 4.0));
    let (top, bottom) = (number(y - 4.0), number(y + 4.0));
    match blow {
        Blow::Landed => canvas.path(
            &format!(
                "M{left} {0}A4 4 0 0 1 {right} {0}A4 4 0 0 1 {left} {0}Z",
                number(y)
            ),
            &[("fill", look.oxblood)],
        ),
        Blow::Applied => canvas.path(
            &format!(
                "M{left} {0}L{1} {top}L{right} {0}L{1} {bottom}Z",
                number(y),
                number(x)
            ),
            &[
                ("fill", look.ground),
                ("stroke", look.oxblood),
                ("stroke-width", "1.8"),
            ],
        ),
        Blow::Guarded => canvas.path(
            &format!("M{left} {top}H{right}V{bottom}H{left}Z"),
            &[
                ("fill", look.ground),
                ("stroke", look.verdigris),
                ("stroke-width", "1.8"),
            ],
        ),
        Blow::Rejected => canvas.path(
            &format!("M{left} {top}L{right} {bottom}M{left} {bottom}L{right} {top}"),
            &[("stroke", look.faint), ("stroke-width", "1.2")],
        ),
    }
}

/// Says what the mark at a place means, and how wide that is.
pub(super) fn explain(canvas: &mut Canvas, look: &Look, [x, y]: [f64; 2], text: &str) -> f64 {
    canvas.text(&Text {
        x: x + 12.0,
        y: y + 5.0,
        size: 14.0,
        weight: Weight::Regular,
        anchor: Anchor::Start,
        fill: look.ink,
        text,
    });
    12.0 + width(text, 14.0, Weight::Regular) + 30.0
}

pub(super) fn legend(canvas: &mut Canvas, look: &Look, y: f64, from_outside: bool) {
    let mut x = 40.0;
    let words = |canvas: &mut Canvas, x: &mut f64, text: &str| {
        *x += explain(canvas, look, [*x, y], text);
    };
    arrow(canvas, look, [x, y]);
    words(canvas, &mut x, "who hits");
    let all = [Blow::Landed, Blow::Guarded, Blow::Rejected, Blow::Applied];
    for blow in all
        .into_iter()
        .filter(|blow| from_outside || *blow != Blow::Applied)
    {
        mark(canvas, look, blow, [x, y]);
        words(canvas, &mut x, blow.words());
    }
    let phases = "attack: outlined before, filled while it is active, dashed after";
    words(canvas, &mut x, phases);
}
