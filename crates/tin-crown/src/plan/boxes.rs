//! Resolved boxes.

use serde::Serialize;

use super::checker::Checker;
use crate::encounter::{BoxSpec, Facing, Up};
use crate::finding::{Code, Finding, Path};
use crate::geometry::{Shape, ShapeError, Vec2};
use crate::limits;

/// A resolved box.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct BoxPlan {
    /// Its name.
    pub name: String,
    right: Shape,
    left: Shape,
}

impl BoxPlan {
    /// Its shape around the actor's position.
    pub fn shape(&self, facing: Facing) -> &Shape {
        match facing {
            Facing::Right => &self.right,
            Facing::Left => &self.left,
        }
    }

    /// Whether turning round changes nothing.
    pub(crate) fn same_both_ways(&self) -> bool {
        self.right.bounds() == self.left.bounds()
    }
}

/// A resolved box. One without a form keeps its name, so that others who name it are not blamed.
pub(super) fn shape(
    check: &mut Checker,
    path: &Path,
    name: &str,
    spec: &BoxSpec,
    up: Up,
) -> Option<BoxPlan> {
    let right = match form(check, path, name, spec, up) {
        Some(shape) => shape,
        None => Shape::circle(Vec2::ZERO, 1.0).ok()?,
    };
    let fixed = spec.fixed.unwrap_or(false);
    let left = if fixed { right } else { right.mirrored() };
    Some(BoxPlan {
        name: name.to_owned(),
        right,
        left,
    })
}

fn form(check: &mut Checker, path: &Path, name: &str, spec: &BoxSpec, up: Up) -> Option<Shape> {
    let [x, y] = check.pair(
        &path.key("at"),
        spec.at.unwrap_or_default(),
        &limits::COORDINATE,
    );
    let at = Vec2::new(x, y);
    let moved = |[x, y]: [f64; 2]| [x + at.x, y + at.y];
    let radius = spec
        .radius
        .map(|radius| check.number(path.key("radius"), radius, &limits::SIZE));
    let turn = spec
        .turn
        .map(|turn| check.number(path.key("turn"), turn, &limits::ANGLE) * up.sign());
    let bad = |check: &mut Checker, message: String| {
        check.report(Finding::new(Code::BadShape, path.clone(), message).at_key());
        None
    };
    if turn.is_some() && spec.size.is_none() {
        return bad(
            check,
            format!("`turn` turns a rectangle, and `{name}` has no `size`"),
        );
    }
    let shape = match (&spec.size, &spec.ends, &spec.points, radius) {
        (Some(size), None, None, None) => {
            let size = check.pair(&path.key("size"), *size, &limits::SIZE);
            Shape::rectangle(at, size, turn.unwrap_or(0.0))
        }
        (None, Some(ends), None, Some(radius)) => {
            let base = path.key("ends");
            let mut end = |i| moved(check.pair(&base.index(i), ends[i], &limits::COORDINATE));
            let ends = [end(0), end(1)];
            Shape::capsule(ends, radius)
        }
        (None, None, Some(points), radius) => {
            let base = path.key("points");
            let mut point = |(i, p): (usize, &[f64; 2])| {
                moved(check.pair(&base.index(i), *p, &limits::COORDINATE))
            };
            let points: Vec<[f64; 2]> = points.iter().take(9).enumerate().map(&mut point).collect();
            Shape::polygon(&points, radius.unwrap_or(0.0))
        }
        (None, None, None, Some(radius)) => Shape::circle(at, radius),
        (None, None, None, None) => return bad(check, format!("`{name}` has no form")),
        (None, Some(_), None, None) => {
            return bad(check, format!("`{name}` has `ends` but no `radius`"));
        }
        _ => return bad(check, format!("`{name}` has two forms at once")),
    };
    match shape {
        Ok(shape) => Some(shape),
        Err(error) => {
            let key = match error {
                ShapeError::NotConvex | ShapeError::Count => path.key("points"),
                _ => path.clone(),
            };
            check.report(Finding::new(
                Code::BadShape,
                key,
                format!("`{name}`: {error}"),
            ));
            None
        }
    }
}
