//! Boxes fitted to drawings, and how boxes lie on them.

use proptest::prelude::*;
use tin_crown::encounter::Up;
use tin_crown::geometry::{Shape, Vec2, distance};
use tin_crown::sprite::{Form, Mask, Placing, Traced, cover, far, trace, uncovered};

/// A cell whose middle is its actor's position, a unit a pixel.
fn placing(width: u32, height: u32) -> Placing {
    Placing {
        size: [width, height],
        at: Vec2::new(0.0, 0.0),
        scale: 1.0,
        up: Up::Plus,
    }
}

/// The pixels of a cell whose middles are in a shape, which is around the cell's middle with y up.
fn drawn(size: u32, inside: impl Fn(f64, f64) -> bool) -> Mask {
    let half = f64::from(size) / 2.0;
    Mask::new(size, size, |x, y| {
        inside(f64::from(x) + 0.5 - half, half - f64::from(y) - 0.5)
    })
}

fn of(traced: &[Traced], form: Form) -> &Traced {
    let found = traced.iter().find(|own| own.form == form);
    found.unwrap_or_else(|| panic!("{form:?} is told"))
}

fn near(a: f64, b: f64, by: f64) {
    assert!((a - b).abs() <= by, "{a} is {b}, but for {by}");
}

#[test]
fn a_disc_is_a_circle() {
    // Radius 10, its middle at 3, -2.
    let disc = drawn(40, |x, y| (x - 3.0).hypot(y + 2.0) <= 10.0);
    let traced = trace(&disc, &placing(40, 40));
    let circle = of(&traced, Form::Circle);
    let at = circle.spec.at.expect("it has a place");
    near(circle.spec.radius.expect("it has a radius"), 10.0, 1.0);
    near(at[0], 3.0, 0.5);
    near(at[1], -2.0, 0.5);
    assert_eq!(circle.covers, 1.0);
    // A square around it has a share of 1 - π/4 of air, and so has none of the others less than the circle.
    near(
        of(&traced, Form::Tight).air,
        1.0 - std::f64::consts::PI / 4.0,
        0.02,
    );
    assert!(
        traced
            .iter()
            .all(|own| own.form == Form::Inset || own.air >= circle.air)
    );
    assert!(
        traced
            .iter()
            .all(|own| own.form != Form::Capsule && own.form != Form::Turned)
    );
}

#[test]
fn a_bar_at_30_degrees_is_a_turned_rectangle() {
    // 30 long and 6 wide, about 1, 2.
    let (sine, cosine) = 30f64.to_radians().sin_cos();
    for up in [Up::Plus, Up::Minus] {
        let bar = drawn(48, |x, y| {
            let (x, y) = (x - 1.0, y - 2.0);
            (x * cosine + y * sine).abs() <= 15.0 && (y * cosine - x * sine).abs() <= 3.0
        });
        let traced = trace(
            &bar,
            &Placing {
                up,
                ..placing(48, 48)
            },
        );
        let turned = of(&traced, Form::Turned);
        let [long, wide] = turned.spec.size.expect("it is a rectangle");
        let (at, turn) = (
            turned.spec.at.expect("a place"),
            turned.spec.turn.expect("a turn"),
        );
        // Positive toward up, whichever way that is; a quarter turn swaps the sides.
        let (long, wide, turn) = match turn > 0.0 {
            true => (long, wide, turn),
            false => (wide, long, turn + 90.0),
        };
        near(turn, 30.0, 2.5);
        near(long, 30.0, 1.0);
        near(wide, 6.0, 1.0);
        near(at[0], 1.0, 0.5);
        near(at[1], if up == Up::Plus { 2.0 } else { -2.0 }, 0.5);
        near(turned.covers, 1.0, 0.01);
        // A capsule as wide lies along it.
        let capsule = of(&traced, Form::Capsule);
        let [a, b] = capsule.spec.ends.expect("it has ends");
        near(
            ((b[1] - a[1]) / (b[0] - a[0])).abs(),
            30f64.to_radians().tan(),
            0.06,
        );
        assert_eq!(capsule.covers, 1.0);
        assert!(turned.air < of(&traced, Form::Tight).air);
    }
}

#[test]
fn an_l_is_its_arms_and_its_hull() {
    // 12 wide and 16 high; its arms are 4 wide: 4·16 + 8·4 = 96 of 192 pixels.
    let l = Mask::new(12, 16, |x, y| x < 4 || y >= 12);
    let traced = trace(&l, &placing(12, 16));
    let tight = of(&traced, Form::Tight);
    assert_eq!((tight.spec.size, tight.air), (Some([12.0, 16.0]), 0.5));
    // The largest rectangle within is the upright arm: 64 of 96 pixels.
    let inset = of(&traced, Form::Inset);
    assert_eq!(inset.spec.size, Some([4.0, 16.0]));
    assert_eq!(inset.spec.at, Some([-4.0, 0.0]));
    assert_eq!((inset.covers, inset.air), (64.0 / 96.0, 0.0));
    // The hull cuts the corner from (4, 0) to (12, 12) off.
    let hull = of(&traced, Form::Polygon)
        .spec
        .points
        .as_ref()
        .expect("corners");
    let mut hull = hull.clone();
    hull.sort_by(|a, b| a.partial_cmp(b).expect("numbers"));
    assert_eq!(
        hull,
        [
            [-6.0, -8.0],
            [-6.0, 8.0],
            [-2.0, 8.0],
            [6.0, -8.0],
            [6.0, -4.0]
        ]
    );
}

#[test]
fn offset_scale_and_part_are_those_of_the_sprite() {
    let block = Mask::new(16, 8, |x, y| x >= 12 && y >= 4);
    let placing = Placing {
        at: Vec2::new(10.0, 20.0),
        scale: 0.25,
        ..placing(16, 8)
    };
    // Pixels 12 to 16 and 4 to 8 of 16 by 8: 4 to 8 right of the middle, 0 to 4 below it, a quarter of a unit each.
    let tight = &trace(&block, &placing)[0];
    assert_eq!(tight.spec.size, Some([1.0, 1.0]));
    assert_eq!(tight.spec.at, Some([11.5, 19.5]));
    assert_eq!(far(&block, &placing, Vec2::new(11.5, 19.5)), 0.0);
    // One unit, four pixels, to the left of it.
    assert_eq!(far(&block, &placing, Vec2::new(10.0, 19.5)), 4.0);
    assert!(trace(&block.part([0, 0, 12, 8]), &placing).is_empty());
    assert_eq!(
        trace(&block.part([14, 0, 1, 8]), &placing)[0].spec.size,
        Some([0.25, 1.0])
    );
}

/// A box far larger than its cell is measured in no more time and room than there is a use for.
#[test]
fn a_huge_box_is_no_burden() {
    let block = Mask::new(8, 8, |_, _| true);
    let placing = Placing {
        scale: 0.001,
        ..placing(8, 8)
    };
    let huge = Shape::rectangle([0.0, 0.0], [1e6, 1e6], 0.0).expect("a box");
    let found = cover(&block, &placing, &huge);
    assert_eq!((found.drawn, uncovered(&block, &placing, [&huge])), (64, 0));
    // 500 units are 500,000 pixels.
    assert!(found.beyond > 100_000.0);
}

/// A box of any form near a cell of 12 by 10.
fn shapes() -> impl Strategy<Value = Shape> {
    let number = || (-120i32..=120).prop_map(|own| f64::from(own) / 10.0);
    let size = || (1i32..=100).prop_map(|own| f64::from(own) / 10.0);
    prop_oneof![
        (number(), number(), size(), size(), -90i32..90).prop_filter_map("a box", |own| {
            let (x, y, width, height, turn) = own;
            Shape::rectangle([x, y], [width, height], f64::from(turn)).ok()
        }),
        (number(), number(), size()).prop_filter_map("a box", |(x, y, radius)| Shape::circle(
            [x, y],
            radius
        )
        .ok()),
        (number(), number(), number(), number(), size()).prop_filter_map("a box", |own| {
            let (a, b, c, d, radius) = own;
            Shape::capsule([[a, b], [c, d]], radius).ok()
        }),
    ]
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 300, failure_persistence: None, ..ProptestConfig::default() })]

    /// What is counted row by row, and by the nearest drawn pixel, is what is counted pixel by pixel.
    #[test]
    fn shares_are_those_of_a_count_of_pixels(
        pixels in proptest::collection::vec(proptest::bool::weighted(0.3), 120),
        shape in shapes(),
        upward: bool,
    ) {
        let up = if upward { Up::Plus } else { Up::Minus };
        let mask = Mask::new(12, 10, |x, y| pixels[(y * 12 + x) as usize]);
        let placing = Placing { up, ..placing(12, 10) };
        let middle = |x: i64, y: i64| placing.unit(Vec2::new(x as f64 + 0.5, y as f64 + 0.5));
        // On the edge itself either is right.
        let edge = (-20..32).flat_map(|x| (-20..30).map(move |y| (x, y)));
        let unsure = edge.clone().any(|(x, y)| {
            let off = distance(&shape, middle(x, y));
            off > 0.0 && off < 1e-6
        });
        prop_assume!(!unsure);
        let within: Vec<(i64, i64)> = edge.filter(|(x, y)| distance(&shape, middle(*x, *y)) == 0.0).collect();
        let found = cover(&mask, &placing, &shape);
        prop_assert_eq!(found.inside, within.len() as u64);
        let drawn = within.iter().filter(|(x, y)| mask.is_drawn(*x, *y)).count() as u64;
        prop_assert_eq!(found.drawn, drawn);
        let bare = mask.count() - drawn;
        prop_assert_eq!(uncovered(&mask, &placing, [&shape]), bare);
        // The farthest.
        let all: Vec<[u32; 2]> = mask.pixels().collect();
        let nearest = |(x, y): &(i64, i64)| {
            let away = |[px, py]: &[u32; 2]| ((i64::from(*px) - x) as f64).hypot((i64::from(*py) - y) as f64);
            all.iter().map(away).fold(f64::INFINITY, f64::min)
        };
        if !within.is_empty() {
            let beyond = within.iter().map(nearest).fold(0.0, f64::max);
            prop_assert!(beyond == found.beyond || (beyond - found.beyond).abs() < 1e-9, "{} is {}", found.beyond, beyond);
        }
    }

    /// Whatever is drawn, what is told around it covers all of it, and is a box that a kind may have.
    #[test]
    fn what_is_told_around_a_drawing_covers_it(
        pixels in proptest::collection::vec(proptest::bool::weighted(0.2), 120),
    ) {
        let mask = Mask::new(12, 10, |x, y| pixels[(y * 12 + x) as usize]);
        let traced = trace(&mask, &placing(12, 10));
        prop_assert_eq!(traced.is_empty(), mask.count() == 0);
        for own in &traced {
            match own.form {
                Form::Inset => prop_assert_eq!(own.air, 0.0),
                Form::Turned => prop_assert!(own.covers > 0.85, "{:?}", own),
                _ => prop_assert_eq!(own.covers, 1.0, "{:?}", own),
            }
        }
        prop_assert_eq!(mask.count() > 0, traced.iter().any(|own| own.form == Form::Polygon));
    }
}
