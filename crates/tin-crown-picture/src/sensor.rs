//! The outline of a sensor.

use tin_crown::Facing;
use tin_crown::geometry::{Bounds, Vec2};
use tin_crown::plan::{SensorForm, SensorPlan};

use crate::canvas::number;
use crate::frame::Figure;
use crate::legend::Mark;
use crate::outline;
use crate::view::View;

/// The sensors of an actor, each with its mark.
pub(crate) fn marked(figure: &Figure) -> impl Iterator<Item = (Mark, &SensorPlan)> {
    let all = figure.spec.sensors().iter().zip(&figure.sees);
    all.map(|(sensor, seen)| match seen.is_empty() {
        true => (Mark::Sensor, sensor),
        false => (Mark::Sees, sensor),
    })
}

/// The same from the front, where it has a height.
pub(crate) fn from_front(view: &View, sensor: &SensorPlan, figure: &Figure) -> Option<String> {
    let place = |x: f64, up: f64| {
        let [x, y] = view.place(Vec2::new(x, up + figure.height));
        format!("{} {}", number(x), number(y))
    };
    match sensor.form() {
        SensorForm::Area(area) => {
            let Bounds { min, max } = area.shape(figure.facing).bounds().moved(figure.at);
            let span = area.span()?;
            let corners = [
                place(min.x, span.low),
                place(max.x, span.low),
                place(max.x, span.high),
                place(min.x, span.high),
            ];
            Some(format!("M{}Z", corners.join("L")))
        }
        SensorForm::Ray { from, to, rise } => {
            let [low, high] = (*rise)?;
            let across = |offset: &Vec2| (figure.at + figure.facing.turn(*offset)).x;
            let (from, to) = (place(across(from), low), place(across(to), high));
            Some(format!("M{from}L{to}"))
        }
    }
}

/// Where one who stands at `at` notices others: a region, or a line.
pub(crate) fn outline(view: &View, sensor: &SensorPlan, facing: Facing, at: Vec2) -> String {
    match sensor.form() {
        SensorForm::Area(area) => outline::outline(view, &area.shape(facing), at),
        SensorForm::Ray { from, to, .. } => {
            let end = |offset: &Vec2| {
                let [x, y] = view.place(at + facing.turn(*offset));
                format!("{} {}", number(x), number(y))
            };
            format!("M{}L{}", end(from), end(to))
        }
    }
}
