//! What cannot be touched, and is good to see: sight lines, ways, muzzles, places to come back to.

use tin_crown::Plan;
use tin_crown::encounter::{Axis, Chance};
use tin_crown::geometry::Vec2;
use tin_crown::plan::{Drive, ReturnPlan};

use crate::canvas::number;
use crate::frame::{Figure, Frame};
use crate::legend::Mark;
use crate::muzzle;
use crate::view::View;

/// All of them in a frame, each with its line.
pub(crate) fn all(frame: &Frame, view: &View) -> Vec<(Mark, String)> {
    let mut found = Vec::new();
    for figure in &frame.figures {
        found.extend(swept(view, figure).map(|line| (Mark::Swept, line)));
        // Who is dying goes nowhere by itself, sees nobody, and aims at nothing.
        if !figure.acts {
            continue;
        }
        found.extend(way(frame, view, figure).map(|way| (Mark::Way, way)));
        found.extend(sights(view, figure).map(|line| (Mark::Sight, line)));
        for (launcher, aim) in figure.spec.launchers().iter().zip(&figure.aims) {
            let (facing, at) = (figure.facing, figure.at);
            let own = muzzle::line(view, launcher, facing, at);
            found.push((Mark::Muzzle, own));
            let muzzle = muzzle::place(launcher, facing, at);
            found.extend(aim.map(|target| (Mark::Aim, line(view, [muzzle, target]))));
        }
    }
    found.extend(places(&frame.plan, view).map(|place| (Mark::Return, place)));
    found
}

fn point(view: &View, at: Vec2) -> String {
    let [x, y] = view.place(at);
    format!("{} {}", number(x), number(y))
}

fn line(view: &View, points: impl IntoIterator<Item = Vec2>) -> String {
    let points: Vec<String> = points.into_iter().map(|at| point(view, at)).collect();
    format!("M{}", points.join("L"))
}

/// Where an actor's own motion leads it: between what it goes to and fro, or along which points.
fn way(frame: &Frame, view: &View, figure: &Figure) -> Option<String> {
    let spec = &figure.spec;
    match figure.drive {
        Drive::Patrol {
            axis, low, high, ..
        } if low.is_finite() && high.is_finite() => {
            let end = |along: f64| match axis {
                Axis::X => Vec2::new(along, figure.at.y),
                Axis::Y => Vec2::new(figure.at.x, along),
            };
            let across = match axis {
                Axis::X => Vec2::new(0.0, 3.0),
                Axis::Y => Vec2::new(3.0, 0.0),
            };
            let stop = |along| line(view, [end(along) - across, end(along) + across]);
            let ends = line(view, [end(low), end(high)]);
            Some(ends + &stop(low) + &stop(high))
        }
        // A path that began with a state begins where its owner was then, which is not known here.
        Drive::Path { route, .. } if figure.drive == spec.drive() => {
            let route = spec.routes().get(usize::from(route))?;
            let placed = frame.plan.actor(&figure.id).ok()?;
            let placed = &frame.plan.actors()[placed.index()];
            let Chance::Fixed(home) = &placed.at() else {
                return None;
            };
            let at = |offset: Vec2| *home + placed.facing().turn(offset);
            let first = route.legs().first()?.from();
            let ends = route.legs().iter().map(|leg| leg.to());
            Some(line(view, [first].into_iter().chain(ends).map(at)))
        }
        _ => None,
    }
}

/// From who notices to whom they notice.
fn sights<'f>(view: &'f View, figure: &'f Figure) -> impl Iterator<Item = String> + 'f {
    let seen = figure.sees.iter().flatten();
    seen.map(|whom| line(view, [figure.at, *whom]))
}

/// The path of this tick, of what is fast.
fn swept(view: &View, figure: &Figure) -> Option<String> {
    let way = figure.at - figure.start;
    let size = figure.spec.extent(figure.facing);
    let small = size.size().x.min(size.size().y) / 2.0;
    let fast = !size.is_empty() && way.length() > small;
    fast.then(|| line(view, [figure.start, figure.at]))
}

/// Where checkpoints and respawns bring an actor back.
fn places<'f>(plan: &'f Plan, view: &'f View) -> impl Iterator<Item = String> + 'f {
    let points = plan.checkpoints().iter().map(|point| point.at());
    let respawns = plan.specs().iter().filter_map(|spec| spec.respawn());
    let drawn = respawns.flat_map(|respawn| match &respawn.at() {
        ReturnPlan::Places { at, .. } => at.all().copied().collect(),
        ReturnPlan::Start | ReturnPlan::Checkpoint | ReturnPlan::Here => Vec::new(),
    });
    points.chain(drawn).map(move |at| {
        let [x, y] = view.place(at);
        let (x, y) = (number(x), number(y - 9.0));
        // A pennant on a pole.
        format!("M{x} {y}v9M{x} {y}l7 3l-7 3")
    })
}
