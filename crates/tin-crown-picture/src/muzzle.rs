//! The muzzle of a launcher.

use tin_crown::Facing;
use tin_crown::geometry::Vec2;
use tin_crown::plan::{AimPlan, LauncherPlan};

use crate::canvas::number;
use crate::view::View;

/// How long the line of an aim is that has no target, in pixels.
const SHORT: f64 = 22.0;

/// Where a launcher sets things down, and the way it points: a little way, or to where it is aimed at.
pub(crate) fn line(
    view: &View,
    launcher: &LauncherPlan,
    facing: Facing,
    owner: Vec2,
    aimed: Option<Vec2>,
) -> String {
    let side = facing.sign();
    let at = owner + Vec2::new(launcher.muzzle().x * side, launcher.muzzle().y);
    let [x, y] = view.place(at);
    let (left, top) = (number(x - 3.0), number(y - 3.0));
    let cross = format!("M{left} {0}h6M{1} {top}v6", number(y), number(x));
    let degrees = match launcher.aim() {
        AimPlan::Facing => 0.0,
        AimPlan::Angle(degrees) => degrees,
        AimPlan::At(_) | AimPlan::Lead(_) => {
            let aim = aimed.map(|place| to(view, [x, y], place));
            return cross + &aim.unwrap_or_default();
        }
    };
    let up = if view.flipped { 1.0 } else { -1.0 };
    let (sin, cos) = degrees.to_radians().sin_cos();
    let aim = Vec2::new(cos * side, sin * up) * (SHORT / view.scale);
    cross + &to(view, [x, y], at + aim)
}

fn to(view: &View, [x, y]: [f64; 2], end: Vec2) -> String {
    let [to_x, to_y] = view.place(end);
    let [x, y, to_x, to_y] = [x, y, to_x, to_y].map(number);
    format!("M{x} {y}L{to_x} {to_y}")
}
