//! The outline of a sensor.

use tin_crown::Facing;
use tin_crown::geometry::Vec2;
use tin_crown::plan::{SensorForm, SensorPlan};

use crate::canvas::number;
use crate::outline;
use crate::view::View;

/// Where one who stands at `at` notices others: a region, or a line.
pub(crate) fn outline(view: &View, sensor: &SensorPlan, facing: Facing, at: Vec2) -> String {
    match sensor.form() {
        SensorForm::Area(area) => outline::outline(view, &area.shape(facing), at),
        SensorForm::Ray { from, to } => {
            let end = |offset: &Vec2| {
                let [x, y] = view.place(at + facing.turn(*offset));
                format!("{} {}", number(x), number(y))
            };
            format!("M{}L{}", end(from), end(to))
        }
    }
}
