//! The hits of the game's own log, on a row of whom they hit: those that the rules have too, and those that they
//! have not.

use std::collections::BTreeMap;

use tin_crown::plan::ActorIx;
use tin_crown::study::{LogMark, Unlike};

use super::Scale;
use super::blows::explain;
use crate::canvas::{Canvas, number};
use crate::look::Look;

/// The marks of each actor that are in the picture, those that differ last.
pub(super) fn marks(marks: &[LogMark], scale: &Scale) -> BTreeMap<ActorIx, Vec<LogMark>> {
    let mut of: BTreeMap<ActorIx, Vec<LogMark>> = BTreeMap::new();
    for mark in marks.iter().filter(|mark| scale.shows(mark.tick)) {
        of.entry(mark.whom).or_default().push(*mark);
    }
    for own in of.values_mut() {
        own.sort_by_key(|mark| (mark.unlike.is_some(), mark.tick));
    }
    of
}

/// Draws marks on a line.
pub(super) fn draw(canvas: &mut Canvas, look: &Look, scale: &Scale, marks: &[LogMark], y: f64) {
    for own in marks {
        mark(canvas, look, own.unlike, [scale.at(own.tick), y]);
    }
}

/// A triangle for a hit of the game: filled when the rules have it alike, else hollow; a cross in a circle where only
/// the rules have one.
fn mark(canvas: &mut Canvas, look: &Look, unlike: Option<Unlike>, [x, y]: [f64; 2]) {
    let triangle = format!("M{} {}h9l-4.5 -8.5Z", number(x - 4.5), number(y + 4.0));
    let hollow = |width: &'static str| {
        [
            ("fill", look.ground),
            ("stroke", look.oxblood),
            ("stroke-width", width),
        ]
    };
    match unlike {
        None => canvas.path(&triangle, &[("fill", look.pewter)]),
        Some(Unlike::OnlyGame) => canvas.path(&triangle, &hollow("1.8")),
        Some(Unlike::Moved | Unlike::Changed) => {
            canvas.path(&triangle, &hollow("1.8"));
            let d = format!("M{} {}h5", number(x - 2.5), number(y + 1.6));
            canvas.path(&d, &[("stroke", look.oxblood), ("stroke-width", "1.4")]);
        }
        Some(Unlike::OnlyRules) => {
            let (left, right) = (number(x - 4.5), number(x + 4.5));
            let ring = format!(
                "M{left} {0}A4.5 4.5 0 0 1 {right} {0}A4.5 4.5 0 0 1 {left} {0}Z",
                number(y)
            );
            canvas.path(&ring, &hollow("1.4"));
            let cross = format!(
                "M{} {}l6 6M{} {}l-6 6",
                number(x - 3.0),
                number(y - 3.0),
                number(x + 3.0),
                number(y - 3.0)
            );
            canvas.path(&cross, &[("stroke", look.oxblood), ("stroke-width", "1.4")]);
        }
    }
}

/// What the marks mean.
pub(super) fn legend(canvas: &mut Canvas, look: &Look, y: f64) {
    let mut x = 40.0;
    for (unlike, text) in [
        (None, "in the game's log, alike"),
        (Some(Unlike::OnlyGame), "only in the game"),
        (Some(Unlike::OnlyRules), "only by the rules"),
        (
            Some(Unlike::Moved),
            "on another tick, or with another effect",
        ),
    ] {
        mark(canvas, look, unlike, [x, y]);
        x += explain(canvas, look, [x, y], text);
    }
}
