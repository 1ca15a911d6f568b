//! Swept contact against an oracle that knows nothing of it: the distance of two outlines, looked at
//! in many small steps.

use std::fmt::Write;

use proptest::prelude::*;
use tin_crown::geometry::{Shape, Vec2, overlap, sweep};

fn shape() -> impl Strategy<Value = Shape> {
    let size = || 0.5..12.0f64;
    let at = || -4.0..4.0f64;
    let rectangle = (
        at(),
        at(),
        size(),
        size(),
        prop_oneof![Just(0.0), -180.0..180.0f64],
    )
        .prop_map(|(x, y, w, h, turn)| Shape::rectangle([x, y], [w, h], turn));
    let circle = (at(), at(), size()).prop_map(|(x, y, r)| Shape::circle([x, y], r));
    let capsule = (at(), at(), at(), at(), size())
        .prop_map(|(a, b, c, d, r)| Shape::capsule([[a, b], [c + 5.0, d]], r));
    let polygon = (
        3..=8usize,
        size(),
        0.0..6.3f64,
        prop_oneof![Just(0.0), 0.1..3.0f64],
    )
        .prop_map(|(corners, radius, turn, round)| {
            let corner = |nth: usize| {
                let angle = turn + nth as f64 * std::f64::consts::TAU / corners as f64;
                [radius * angle.cos(), radius * angle.sin()]
            };
            let corners: Vec<[f64; 2]> = (0..corners).map(corner).collect();
            Shape::polygon(&corners, round)
        });
    prop_oneof![rectangle, circle, capsule, polygon].prop_filter_map("a shape", Result::ok)
}

/// How far apart two outlines are: negative, by how much is not said, when they overlap.
fn gap(standing: &Shape, moving: &Shape, offset: Vec2) -> f64 {
    let a: Vec<Vec2> = standing.points().to_vec();
    let b: Vec<Vec2> = moving
        .points()
        .iter()
        .map(|&point| point + offset)
        .collect();
    let cores = if inside(&a, b[0]) || inside(&b, a[0]) {
        0.0
    } else {
        between(&a, &b)
    };
    cores - standing.radius() - moving.radius()
}

fn edges(points: &[Vec2]) -> Vec<(Vec2, Vec2)> {
    (0..points.len())
        .map(|i| (points[i], points[(i + 1) % points.len()]))
        .collect()
}

fn inside(points: &[Vec2], point: Vec2) -> bool {
    points.len() > 2
        && edges(points)
            .iter()
            .all(|&(a, b)| (b - a).cross(point - a) >= 0.0)
}

fn between(a: &[Vec2], b: &[Vec2]) -> f64 {
    let mut least = f64::INFINITY;
    for (p, q) in edges(a) {
        for (r, s) in edges(b) {
            let crossing = (q - p).cross(r - p) * (q - p).cross(s - p) < 0.0
                && (s - r).cross(p - r) * (s - r).cross(q - r) < 0.0;
            let ends = [
                to_line(p, r, s),
                to_line(q, r, s),
                to_line(r, p, q),
                to_line(s, p, q),
            ];
            let nearest = ends.into_iter().fold(f64::INFINITY, f64::min);
            least = least.min(if crossing { 0.0 } else { nearest });
        }
    }
    least
}

fn to_line(point: Vec2, a: Vec2, b: Vec2) -> f64 {
    let along = b - a;
    let square = along.dot(along);
    let t = if square == 0.0 {
        0.0
    } else {
        ((point - a).dot(along) / square).clamp(0.0, 1.0)
    };
    (point - a - along * t).length()
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(300))]

    #[test]
    fn a_sweep_agrees_with_small_steps(
        standing in shape(),
        moving in shape(),
        from in (-40.0..40.0f64, -40.0..40.0f64),
        path in (-90.0..90.0f64, -90.0..90.0f64),
    ) {
        const STEPS: u32 = 400;
        let (from, path) = (Vec2::new(from.0, from.1), Vec2::new(path.0, path.1));
        let found = sweep(&standing, &moving, from, path);
        let moment = found.first_moment();
        let mut first = None;
        for step in 0..=STEPS {
            let t = f64::from(step) / f64::from(STEPS);
            let gap = gap(&standing, &moving, from + path * t);
            let within = found.from < t && t < found.to;
            // Sharp cores that overlap have no depth here, so only clear gaps speak against.
            prop_assert!(!(within && gap > 1e-5), "overlap at {t} with a gap of {gap}");
            if gap < -1e-5 || (gap <= 0.0 && standing.radius() + moving.radius() == 0.0) {
                first.get_or_insert(t);
                prop_assert!(
                    found.from - 1e-4 < t && t < found.to + 1e-4,
                    "no overlap at {t}, inside by {gap}: {found:?}"
                );
            }
        }
        if let (Some(moment), Some(first)) = (moment, first) {
            prop_assert!(moment <= first + 1e-4, "{moment} after {first}");
        }
    }

    #[test]
    fn a_mirrored_sweep_is_the_same_to_the_bit(
        standing in shape(),
        moving in shape(),
        from in (-40.0..40.0f64, -40.0..40.0f64),
        path in (-90.0..90.0f64, -90.0..90.0f64),
    ) {
        let (from, path) = (Vec2::new(from.0, from.1), Vec2::new(path.0, path.1));
        let there = sweep(&standing, &moving, from, path);
        let image = sweep(&standing.mirrored(), &moving.mirrored(), from.mirrored(), path.mirrored());
        prop_assert_eq!(there, image);
        prop_assert_eq!(
            overlap(&standing, &moving, from),
            overlap(&standing.mirrored(), &moving.mirrored(), from.mirrored())
        );
    }

    #[test]
    fn the_nearest_moment_is_as_near_as_any(
        standing in shape(),
        moving in shape(),
        (x, y) in (-40.0..40.0f64, -40.0..40.0f64),
        (dx, dy) in (-60.0..60.0f64, -60.0..60.0f64),
    ) {
        let (offset, path) = (Vec2::new(x, y), Vec2::new(dx, dy));
        let found = tin_crown::geometry::gap(&standing, &moving, offset, path);
        let at = |part: f64| gap(&standing, &moving, offset + path * part).max(0.0);
        prop_assert!((found.distance - at(found.moment)).abs() < 2e-6, "{found:?}");
        for step in 0..=200 {
            let part = f64::from(step) / 200.0;
            prop_assert!(at(part) > found.distance - 2e-6, "nearer at {part}: {found:?}");
        }
        // Going the rest of the way, they touch.
        let rest = gap(&standing, &moving, offset + path * found.moment + found.toward);
        prop_assert!(rest.abs() < 2e-6 || found.distance == 0.0, "{rest}: {found:?}");
    }
}

/// Boxes by where they are and how large, of one of two sorts.
fn boxes(most: usize) -> impl Strategy<Value = Vec<([f64; 2], [f64; 2], usize)>> {
    let own = (
        1.0..99.0f64,
        1.0..69.0f64,
        0.5..20.0f64,
        0.5..20.0f64,
        0..2usize,
    );
    let own = own.prop_map(|(x, y, w, h, sort)| ([x, y], [w, h], sort));
    prop::collection::vec(own, 1..most)
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(48))]

    /// Few boxes or many, large or small: those that a rule pairs and that overlap hit each other, and no others.
    #[test]
    fn all_pairs_that_overlap_are_found(gives in boxes(90), takes in boxes(90)) {
        let mut text = String::from(
            "edition = 1\ntitle = \"boxes\"\narena.bounds = { min = [0, 0], max = [100, 70] }\n[drill.d]\nlength = \"1t\"\n",
        );
        for (side, all, key) in [("g", &gives, "hitbox"), ("t", &takes, "hurtbox")] {
            for (nth, (at, size, sort)) in all.iter().enumerate() {
                let id = format!("{side}{nth}");
                write!(text, "[kind.{id}]\ntags = [\"{side}{sort}\"]\n{key}.all = {{ size = {size:?} }}\n").unwrap();
                write!(text, "[[place]]\nkind = \"{id}\"\nid = \"{id}\"\nat = {at:?}\n").unwrap();
            }
        }
        for sort in 0..2 {
            write!(
                text,
                "[[rule]]\nname = \"r{sort}\"\nhitbox = \"#g{sort}\"\nhurtbox = \"#t{sort}\"\nstun = \"1t\"\n"
            )
            .unwrap();
        }
        let plan = tin_crown::check(text.as_bytes()).plan;
        // Without one of each sort a rule matches nothing, which is an error.
        let both = |all: &[([f64; 2], [f64; 2], usize)]| {
            (0..2).all(|sort| all.iter().any(|own| own.2 == sort))
        };
        prop_assume!(both(&gives) && both(&takes));
        let replay = plan.expect("no errors").replay("d").unwrap();
        let lines = replay.ledger().events().iter().map(|event| replay.line(event));
        let hits = lines.filter(|line| line.event == "hit" && line.tick == 0);
        let mut found: Vec<(String, String)> = hits
            .map(|line| (line.who.unwrap().into_owned(), line.whom.unwrap().into_owned()))
            .collect();
        let mut wanted = Vec::new();
        for (g, (at, size, sort)) in gives.iter().enumerate() {
            for (t, (there, other, own)) in takes.iter().enumerate() {
                let near = |axis: usize| {
                    (at[axis] - there[axis]).abs() < (size[axis] + other[axis]) / 2.0 - 1e-6
                };
                if sort == own && near(0) && near(1) {
                    wanted.push((format!("g{g}"), format!("t{t}")));
                }
            }
        }
        found.sort();
        wanted.sort();
        prop_assert_eq!(found, wanted);
    }
}
