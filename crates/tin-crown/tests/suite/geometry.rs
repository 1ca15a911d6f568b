//! Shapes, angles and sweeps, worked out on paper.

use tin_crown::geometry::{
    Angle, Arc, Bounds, HeightSpan, Shape, ShapeError, Vec2, along, along_prism, distance, gap,
    overlap, sweep,
};

#[test]
fn outlines_that_are_not_convex_are_refused() {
    let star = [
        [0.0, 10.0],
        [-6.0, -8.0],
        [9.0, 3.0],
        [-9.0, 3.0],
        [6.0, -8.0],
    ];
    for (points, error) in [
        (&star[..], ShapeError::NotConvex),
        (
            &[[0.0, 0.0], [1.0, 0.0], [2.0, 0.0]][..],
            ShapeError::NotConvex,
        ),
        (&[[0.0, 0.0], [0.0, 0.0], [2.0, 1.0]][..], ShapeError::Flat),
        (&[[0.0, 0.0], [1.0, 0.0]][..], ShapeError::Count),
        (
            &[[0.0, 0.0], [f64::NAN, 0.0], [2.0, 1.0]][..],
            ShapeError::Finite,
        ),
    ] {
        assert_eq!(Shape::polygon(points, 0.0), Err(error), "{points:?}");
    }
    assert_eq!(
        Shape::rectangle([0.0, 0.0], [4.0, 0.0], 0.0),
        Err(ShapeError::Flat)
    );
    assert_eq!(Shape::circle([0.0, 0.0], -1.0), Err(ShapeError::Flat));
}

#[test]
fn either_sense_of_rotation_gives_the_same_shape() {
    let there = Shape::polygon(&[[0.0, 0.0], [4.0, 0.0], [0.0, 3.0]], 1.0).unwrap();
    let back = Shape::polygon(&[[0.0, 3.0], [4.0, 0.0], [0.0, 0.0]], 1.0).unwrap();
    assert_eq!(there.bounds(), back.bounds());
    assert_eq!(there.mirrored().mirrored(), there);
}

#[test]
fn quarter_turns_stay_upright() {
    let beam = Shape::rectangle([1.0, 2.0], [10.0, 4.0], 90.0).unwrap();
    assert!(beam.is_upright());
    assert_eq!(beam.bounds(), Bounds::new([-1.0, -3.0], [3.0, 7.0]));
    assert!(
        !Shape::rectangle([0.0, 0.0], [10.0, 4.0], 45.0)
            .unwrap()
            .is_upright()
    );
}

/// So many 2³²ths of a turn.
fn part(of: u32) -> Angle {
    Angle::ZERO.plus(of as i32)
}

#[test]
fn quarter_turns_are_exact_and_the_rest_symmetric() {
    let v = Vec2::new;
    for (degrees, direction) in [
        (0.0, v(1.0, 0.0)),
        (90.0, v(0.0, 1.0)),
        (180.0, v(-1.0, 0.0)),
        (270.0, v(0.0, -1.0)),
        (45.0, v(0.5f64.sqrt(), 0.5f64.sqrt())),
    ] {
        assert_eq!(Angle::from_degrees(degrees).direction(), direction);
    }
    for step in 0..4096u32 {
        let angle = part(step << 20);
        let Vec2 { x, y } = angle.direction();
        assert!((x * x + y * y - 1.0).abs() < 1e-15);
        assert_eq!(angle.plus(1 << 30).direction(), v(-y, x));
        assert_eq!(angle.mirrored().direction(), v(x, -y));
        // The direction of an angle has that angle.
        assert_eq!(
            Angle::of(angle.direction()).map(Angle::steps),
            Some(angle.steps())
        );
    }
    // 30 degrees are 341.33 steps; ties go to the even one.
    assert_eq!(Angle::from_degrees(30.0).steps(), 341);
    assert_eq!([part(1 << 19).steps(), part(3 << 19).steps()], [0, 2]);
    assert_eq!(part(u32::MAX).steps(), 0);
}

#[test]
fn a_turn_goes_the_shorter_way_and_half_a_turn_by_way_of_up() {
    let angle = Angle::from_degrees;
    let most = 1 << 28; // 22.5 degrees
    for (from, to, up, then) in [
        (0.0, 45.0, 1.0, 22.5),
        (0.0, 315.0, 1.0, 337.5),
        (350.0, 10.0, 1.0, 10.0),
        (0.0, 180.0, 1.0, 22.5),
        (180.0, 0.0, 1.0, 157.5),
        (90.0, 270.0, 1.0, 112.5),
        (270.0, 90.0, 1.0, 292.5),
        // Up is toward -y: the same, mirrored.
        (0.0, 180.0, -1.0, 337.5),
        (180.0, 0.0, -1.0, 202.5),
        (270.0, 90.0, -1.0, 247.5),
    ] {
        let turned = angle(from).toward(angle(to), most, up);
        assert_eq!(turned.degrees(), then, "{from} to {to}");
    }
}

#[test]
fn edges_are_within() {
    for (range, direction, within) in [
        ([-90.0, 90.0], [0.0, 5.0], true),
        ([-90.0, 90.0], [-0.01, 5.0], false),
        ([45.0, 135.0], [3.0, 3.0], true),
        ([45.0, 135.0], [3.0, 2.9], false),
        ([0.0, 360.0], [-1.0, -1.0], true),
        ([170.0, 190.0], [-9.0, -1.0], true),
        ([-270.0, 0.0], [1.0, 0.1], false),
        ([-270.0, 0.0], [-1.0, 0.1], true),
    ] {
        assert_eq!(
            Arc::new(range).contains(direction.into()),
            within,
            "{range:?} {direction:?}"
        );
    }
}

#[test]
fn distances_worked_on_paper() {
    let block = Shape::rectangle([0.0, 0.0], [4.0, 2.0], 0.0).unwrap();
    let rod = Shape::capsule([[0.0, 0.0], [10.0, 0.0]], 1.0).unwrap();
    let ball = Shape::circle([3.0, 0.0], 2.0).unwrap();
    for (shape, point, far) in [
        (&block, [1.0, 0.5], 0.0),
        (&block, [2.0, 0.0], 0.0),
        // 3 beside and 4 above the corner at (2, 1).
        (&block, [5.0, 5.0], 5.0),
        (&rod, [5.0, 4.0], 3.0),
        (&rod, [13.0, 0.0], 2.0),
        (&ball, [0.0, 0.0], 1.0),
        (&ball, [3.5, 0.0], 0.0),
    ] {
        assert_eq!(distance(shape, point.into()), far, "{point:?}");
    }
}

#[test]
fn a_line_meets_the_first_side_in_its_way() {
    let block = Shape::rectangle([0.0, 0.0], [4.0, 2.0], 0.0).unwrap();
    let meet = |from: [f64; 2], path: [f64; 2]| along(&block, from.into(), path.into());
    // From -12 by 20: the side at -2 is half the way.
    assert!((meet([-12.0, 0.0], [20.0, 0.0]).unwrap() - 0.5).abs() < 1e-6);
    // Above it, along its upper side, and up to its side: touching is not meeting.
    assert_eq!(meet([-12.0, 2.0], [20.0, 0.0]), None);
    assert_eq!(meet([-12.0, 1.0], [20.0, 0.0]), None);
    assert_eq!(meet([-12.0, 0.0], [10.0, 0.0]), None);
    assert_eq!(meet([2.0, 0.0], [10.0, 0.0]), None);
    assert_eq!(meet([0.0, 0.0], [9.0, 0.0]), Some(0.0));
}

#[test]
fn a_line_that_falls_meets_a_prism_at_its_top_or_its_side() {
    let block = Shape::rectangle([0.0, 0.0], [4.0, 2.0], 0.0).unwrap();
    let span = Some(HeightSpan::new(0.0, 6.0));
    let meet = |from: [f64; 2], path: [f64; 2], line: [f64; 2]| {
        along_prism(&block, span, from.into(), path.into(), Some(line))
    };
    for (from, path, line, met) in [
        // At the side after half the way; 12 high by then, 6 high after three quarters, beyond it.
        ([-12.0, 0.0], [20.0, 0.0], [24.0, -24.0], None),
        // At the side 5 high: (24 - 38 / 2).
        ([-12.0, 0.0], [20.0, 0.0], [24.0, -38.0], Some(0.5)),
        // At the side 8 high, 6 high at 18 / 32, on top.
        ([-12.0, 0.0], [20.0, 0.0], [24.0, -32.0], Some(0.5625)),
        // Along its top, and straight down.
        ([-12.0, 0.0], [20.0, 0.0], [6.0, 0.0], None),
        ([0.0, 0.0], [0.0, 0.0], [10.0, -8.0], Some(0.5)),
        ([0.0, 0.0], [0.0, 0.0], [10.0, -4.0], None),
    ] {
        let found = meet(from, path, line);
        let near = |met: f64| found.is_some_and(|found| (found - met).abs() < 1e-6);
        assert!(met.map_or(found.is_none(), near), "{line:?}: {found:?}");
    }
}

#[test]
fn gaps_worked_on_paper() {
    let block = Shape::rectangle([0.0, 0.0], [4.0, 2.0], 0.0).unwrap();
    let ball = Shape::circle([0.0, 0.0], 1.0).unwrap();
    let rod = Shape::capsule([[-3.0, 0.0], [3.0, 0.0]], 1.0).unwrap();
    for (standing, moving, offset, path, distance, moment) in [
        // 10 to the right: less 2 and 2.
        (&block, &block, [10.0, 0.0], [0.0, 0.0], 6.0, 0.0),
        // Corner to corner, 3 beside and 4 above: 7 - 4, 6 - 2.
        (&block, &block, [7.0, 6.0], [0.0, 0.0], 5.0, 0.0),
        // A ball over the corner at (2, 1): 3 and 4 away, less 1.
        (&block, &ball, [5.0, 5.0], [0.0, 0.0], 4.0, 0.0),
        // Down until it is level with the side.
        (&block, &ball, [6.0, 9.0], [0.0, -8.0], 3.0, 1.0),
        // Straight through, gone beyond at the end.
        (&block, &ball, [-9.0, 0.0], [18.0, 0.0], 0.0, 6.0 / 18.0),
        // Two rods side by side.
        (&rod, &rod, [2.0, 5.0], [0.0, 0.0], 3.0, 0.0),
    ] {
        let found = gap(standing, moving, offset.into(), path.into());
        assert!((found.distance - distance).abs() < 1e-6, "{found:?}");
        assert!((found.moment - moment).abs() < 1e-6, "{found:?}");
    }
}

fn upright(size: [f64; 2]) -> Shape {
    Shape::rectangle([0.0, 0.0], size, 0.0).unwrap()
}

#[test]
fn touching_edges_do_not_overlap() {
    let block = upright([10.0, 10.0]);
    for (x, inside) in [(10.0, false), (10.0 - 0.5e-6, false), (10.0 - 2e-6, true)] {
        assert_eq!(overlap(&block, &block, Vec2::new(x, 0.0)), inside, "{x}");
    }
    let ball = Shape::circle([0.0, 0.0], 5.0).unwrap();
    assert!(!overlap(&ball, &ball, Vec2::new(10.0, 0.0)));
    assert!(overlap(&ball, &ball, Vec2::new(9.999, 0.0)));
    assert!(!overlap(&block, &ball, Vec2::new(10.0, 0.0)));
}

#[test]
fn moments_of_first_touch_worked_on_paper() {
    let thin = upright([2.0, 2.0]);
    let ball = Shape::circle([0.0, 0.0], 3.0).unwrap();
    let rod = Shape::capsule([[-4.0, 0.0], [4.0, 0.0]], 1.0).unwrap();
    let diamond = Shape::rectangle([0.0, 0.0], [2.0, 2.0], 45.0).unwrap();
    let root2 = 2f64.sqrt();
    for (standing, moving, from, path, first) in [
        // Gap 98 of 200.
        (&thin, &thin, [-100.0, 0.0], [200.0, 0.0], Some(0.49)),
        // Passes 3 above.
        (&thin, &thin, [-100.0, 3.0], [200.0, 0.0], None),
        // Centre reaches -6 on the way from -106 to -6 + 94.
        (&ball, &ball, [-106.0, 0.0], [200.0, 0.0], Some(0.5)),
        // At height 3 (half of 6) discs of 3 + 3 meet at sqrt(36 - 9).
        (
            &ball,
            &ball,
            [-100.0, 3.0],
            [100.0, 0.0],
            Some(1.0 - 27f64.sqrt() / 100.0),
        ),
        // Down on the rod's flat: gap 10 - 1 - 1 = 8 of 16.
        (&rod, &thin, [0.0, 10.0], [0.0, -16.0], Some(0.5)),
        // Along the rod's own line, where the middle of a small ball meets no edge.
        (&rod, &ball, [6.0, 0.0], [0.0, 0.0], Some(0.0)),
        // From the end: 20 - 5 - 1 = 14 of 28.
        (&rod, &thin, [20.0, 0.0], [-28.0, 0.0], Some(0.5)),
        // Corner on: the diamond reaches root 2 from its middle.
        (
            &diamond,
            &diamond,
            [10.0 + 2.0 * root2, 0.0],
            [-20.0, 0.0],
            Some(0.5),
        ),
    ] {
        let found = sweep(standing, moving, from.into(), path.into()).first_moment();
        match (found, first) {
            (Some(found), Some(first)) => {
                assert!((found - first).abs() < 1e-6, "{found} {first}")
            }
            _ => assert_eq!(found.is_some(), first.is_some(), "{from:?}"),
        }
    }
}
