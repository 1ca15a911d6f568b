//! The muzzle of a launcher.

use tin_crown::Facing;
use tin_crown::geometry::Vec2;
use tin_crown::plan::{AimPlan, LauncherPlan};

use crate::canvas::number;
use crate::view::View;

/// How long the line of an aim is that has no target, in pixels.
const SHORT: f64 = 22.0;

/// Where a launcher sets things down.
pub(crate) fn place(launcher: &LauncherPlan, facing: Facing, owner: Vec2) -> Vec2 {
    owner + facing.turn(launcher.muzzle())
}

/// A cross there, and a little of the way it points when that is not at an actor.
pub(crate) fn line(view: &View, launcher: &LauncherPlan, facing: Facing, owner: Vec2) -> String {
    let at = place(launcher, facing, owner);
    let [x, y] = view.place(at);
    let (left, top) = (number(x - 3.0), number(y - 3.0));
    let cross = format!("M{left} {0}h6M{1} {top}v6", number(y), number(x));
    let degrees = match launcher.aim() {
        AimPlan::Facing => 0.0,
        AimPlan::Angle(degrees) => degrees,
        AimPlan::At(_) | AimPlan::Lead(_) => return cross,
    };
    let up = if view.flipped { 1.0 } else { -1.0 };
    let (sin, cos) = degrees.to_radians().sin_cos();
    let aim = facing.turn(Vec2::new(cos, sin * up)) * (SHORT / view.scale);
    let [to_x, to_y] = view.place(at + aim).map(number);
    format!("{cross}M{} {}L{to_x} {to_y}", number(x), number(y))
}
