//! Every motion by its formula, worked out on paper. At 60 ticks a second.

use tin_crown::sim::ActorView;

use crate::stage::{close, lines, played};

fn mover(kind: &str, rest: &str) -> String {
    format!(
        r##"edition = 1
title = "motions"
[arena]
bounds = {{ min = [-1000, -1000], max = [1000, 1000] }}
gravity = 3600
[kind.it]
hitbox.all = {{ radius = 2 }}
{kind}
[[place]]
kind = "it"
at = [100, 50]
[drill.d]
length = "200t"
{rest}"##
    )
}

/// Where `it` is on some ticks.
fn on(text: &str, ticks: &[usize]) -> Vec<(f64, f64)> {
    let path = played(text, "it", |_, view: ActorView<'_>| (view.at.x, view.at.y));
    ticks.iter().map(|tick| path[*tick]).collect()
}

fn assert_on(text: &str, expected: &[(usize, f64, f64)]) {
    let ticks: Vec<usize> = expected.iter().map(|(tick, ..)| *tick).collect();
    for ((tick, x, y), (is_x, is_y)) in expected.iter().zip(on(text, &ticks)) {
        assert!(
            close(*x, is_x) && close(*y, is_y),
            "tick {tick}: {is_x}, {is_y}, not {x}, {y}\n{text}"
        );
    }
}

#[test]
fn paths_from_key_to_key() {
    let path = |more: &str| {
        mover(
            &format!(
                "motion.path = {{ keys = [{{ when = \"0t\", at = [0, 0], rest = \"10t\" }}, {{ when = \"30t\", \
                 at = [40, 0] }}, {{ when = \"50t\", at = [40, -20], ease = \"both\" }}], {more} }}"
            ),
            "",
        )
    };
    // Rests until 10, then 2 a tick; eased: s² (3 - 2 s) of 20 is 3.125 at a quarter, 10 at a half.
    let once = [
        (0, 100.0, 50.0),
        (10, 100.0, 50.0),
        (11, 102.0, 50.0),
        (30, 140.0, 50.0),
        (35, 140.0, 46.875),
        (40, 140.0, 40.0),
        (50, 140.0, 30.0),
        (199, 140.0, 30.0),
    ];
    assert_on(&path(""), &once);
    // There and back: on 50 + n where it was on 50 - n, and then on again.
    let back = path("then = \"returns\"");
    assert_on(
        &back,
        &[
            (60, 140.0, 40.0),
            (89, 102.0, 50.0),
            (100, 100.0, 50.0),
            (111, 102.0, 50.0),
        ],
    );
    // Begun anew where it ended.
    let round = path("then = \"loops\"")
        .replace("at = [40, -20]", "at = [0, 0]")
        .replace(", ease = \"both\"", "");
    assert_on(
        &round,
        &[
            (40, 120.0, 50.0),
            (50, 100.0, 50.0),
            (60, 100.0, 50.0),
            (61, 102.0, 50.0),
        ],
    );
    // Placed to face left, it is the mirror image.
    let left = path("").replace("at = [100, 50]", "at = [100, 50]\nfacing = \"left\"");
    assert_on(&left, &[(11, 98.0, 50.0), (50, 60.0, 30.0)]);
    // Others: s² is 1/4, 1 - (1 - s)² is 3/4 at the half.
    for (ease, share) in [("in", 0.25), ("out", 0.75), ("linear", 0.5)] {
        let eased = path("").replace("\"both\"", &format!("\"{ease}\""));
        assert_on(&eased, &[(40, 140.0, 50.0 - 20.0 * share)]);
    }
}

#[test]
fn a_path_carries_its_boxes_and_waits_while_it_is_pushed_aside() {
    // Struck on tick 5 by a thorn that throws it up at 60 for 10 ticks: its clock rests on 6 … 14, it
    // is 9 up by then, and comes back at its own speed, 2 a tick, before it goes on.
    let text = mover(
        "hurtbox.all = { radius = 2 }\nmotion.path = { keys = [{ when = \"0t\", at = [0, 0] }, { when = \"50t\", at = [100, 0] }] }",
        r#"
[kind.thorn]
hitbox.tip = { radius = 1 }
[[place]]
kind = "thorn"
at = [112.5, 50]
[[rule]]
name = "prick"
hitbox = "thorn.tip"
hurtbox = "it.all"
knockback = { away = 0, up = 60, for = "10t" }
repeat = "once-per-touch"
every = "100t"
"#,
    );
    // Edges at 102 and 111.5, at 2 a tick: they meet 4.75 ticks on, on tick 5.
    assert_eq!(lines(&text, "hit")[0].tick, 5);
    assert_on(
        &text,
        &[
            (5, 110.0, 50.0),
            (6, 110.0, 51.0),
            (14, 110.0, 59.0),
            (15, 110.0, 57.0),
            (18, 110.0, 51.0),
            (19, 110.0, 50.0),
            (20, 112.0, 50.0),
        ],
    );
}

#[test]
fn hover_and_swing_by_the_sine() {
    let hover = mover("motion.hover = { size = [3, 6], period = \"40t\" }", "");
    let half = std::f64::consts::FRAC_1_SQRT_2;
    assert_on(
        &hover,
        &[
            (0, 100.0, 50.0),
            (5, 100.0 + 3.0 * half, 50.0 + 6.0 * half),
            (10, 103.0, 56.0),
            (20, 100.0, 50.0),
            (30, 97.0, 44.0),
        ],
    );
    // A phase puts it there from the beginning.
    assert_on(
        &hover.replace("period", "phase = \"10t\", period"),
        &[(0, 103.0, 56.0), (10, 100.0, 50.0)],
    );
    // A pendulum of 20, 90 degrees to either side: at a quarter level with where it hangs, at 70.
    let swing = mover(
        "motion.swing = { length = 20, arc = 90, period = \"40t\" }",
        "",
    );
    assert_on(
        &swing,
        &[
            (0, 100.0, 50.0),
            (10, 120.0, 70.0),
            (20, 100.0, 50.0),
            (30, 80.0, 70.0),
        ],
    );
}

#[test]
fn fall_and_coast() {
    // 1 more a tick on each tick; at most 120 a second, 2 a tick.
    assert_on(
        &mover("motion = \"fall\"", ""),
        &[(1, 100.0, 49.0), (2, 100.0, 47.0), (4, 100.0, 40.0)],
    );
    let most = mover("motion.fall = { most = 120 }", "");
    assert_on(
        &most,
        &[(2, 100.0, 47.0), (3, 100.0, 45.0), (4, 100.0, 43.0)],
    );
    // Drag of 6 a second: a tenth of the velocity each tick, before it moves.
    let text = mover(
        "launcher.l = { launches = \"ball\", clock = { first = \"1t\", every = \"9s\" }, speed = 600 }\n[kind.ball]\ndrag = 6\nlifetime = \"9t\"",
        "",
    );
    let path = played(&text, "it.l.1", |_, view| view.at.x);
    for (at, is) in [100.0, 109.0, 117.1, 124.39].iter().zip(&path) {
        assert!(close(*at, *is), "{path:?}");
    }
    // Thrown straight up under gravity: v.up loses 60 a tick, a unit less on each.
    let thrown = text
        .replace("drag = 6", "gravity = 1")
        .replace("speed = 600", "speed = 600, aim = { angle = 90 }");
    let path = played(&thrown, "it.l.1", |_, view| view.at.y);
    for (at, is) in [50.0, 59.0, 67.0, 74.0].iter().zip(&path) {
        assert!(close(*at, *is), "{path:?}");
    }
}

#[test]
fn a_patrol_turns_at_walls_and_ledges() {
    // On a shelf of 60 to 140, a body of 10 on legs: 1 a tick to the right.
    let text = mover(
        "body = { size = [10, 10] }\ngravity = 1\nmotion.patrol = { speed = 60, turns_at_ledges = true }",
        "",
    )
    .replace("at = [100, 50]", "at = [100, 25]")
    .replace("gravity = 3600\n", "gravity = 3600\nsolids = [{ min = [60, 10], max = [140, 20] }]\n");
    // Its toe is at 105; on tick 35 at 140, and on tick 36 the ground would end: it turns, and walks
    // back until its other toe is at 60, 70 ticks later.
    assert_on(
        &text,
        &[
            (35, 135.0, 25.0),
            (36, 134.0, 25.0),
            (105, 65.0, 25.0),
            (106, 66.0, 25.0),
        ],
    );
    // Without minding ledges it walks off.
    let off = text.replace(", turns_at_ledges = true", "");
    assert!(on(&off, &[60])[0].1 < 20.0);
    // A wall at 130 turns it on the tick after it was stopped.
    let wall = text.replace(
        "solids = [",
        "solids = [{ min = [130, 20], max = [140, 60] }, ",
    );
    assert_on(
        &wall,
        &[(25, 125.0, 25.0), (26, 125.0, 25.0), (27, 124.0, 25.0)],
    );
}

/// Somebody to run after, who stands at (200, 50) or walks.
const PREY: &str = r##"
[kind.hero]
tags = ["hero"]
gravity = 0
hurtbox.all = { radius = 2 }
walk = { speed = 60 }
[[place]]
kind = "hero"
at = [200, 50]
"##;

#[test]
fn a_chase_stops_short_and_turns_no_faster_than_it_can() {
    let chase = |more: &str| {
        mover(
            &format!("motion.chase = {{ whom = \"#hero\", speed = 120, {more} }}"),
            PREY,
        )
    };
    // 2 a tick; it stops where its distance is at most 30.
    assert_on(
        &chase("stop_at = 30"),
        &[(1, 102.0, 50.0), (35, 170.0, 50.0), (60, 170.0, 50.0)],
    );
    // With 180 degrees a second, 3 a tick: sent off to the left it needs 60 ticks to turn round, by way
    // of up. The half turn is a polygon of 60 steps of 2, 3 degrees apart.
    let turned = "launcher.l = { launches = \"wasp\", clock = { first = \"1t\", every = \"9s\" }, speed = 120, shot = false }\n\
                  [kind.wasp]\nlifetime = \"9s\"\nmotion.chase = { whom = \"#hero\", speed = 120, turn = 180 }";
    let text = mover(turned, PREY).replace("at = [100, 50]", "at = [100, 50]\nfacing = \"left\"");
    let path = played(&text, "it.l.1", |_, view| {
        (view.velocity.x, view.velocity.y)
    });
    for (tick, &(x, y)) in path.iter().enumerate().take(21).skip(1) {
        let angle = (180.0 - 3.0 * tick as f64).to_radians();
        assert!(
            (x - 120.0 * angle.cos()).abs() < 1e-9,
            "tick {tick}: {x}, {y}"
        );
        assert!(
            (y - 120.0 * angle.sin()).abs() < 1e-9,
            "tick {tick}: {x}, {y}"
        );
    }
    // Nobody to run after: it stands.
    let alone = chase("").replace(
        "hurtbox.all = { radius = 2 }\nwalk",
        "lifetime = \"10t\"\nwalk",
    );
    assert_on(
        &alone,
        &[(9, 118.0, 50.0), (10, 118.0, 50.0), (60, 118.0, 50.0)],
    );
}

#[test]
fn a_follower_is_where_its_leader_is() {
    let text = mover(
        "motion.follow = { whom = \"hero\", offset = [10, 20] }",
        PREY,
    );
    let walks = text.replace(
        "length = \"200t\"",
        "length = \"200t\"\ninput = [{ when = \"1t\", who = \"hero\", hold = \"right\", for = \"10t\" }, { when = \"11t\", who = \"hero\", hold = \"left\" }]",
    );
    // At once, mirrored as the leader turns on 11.
    assert_on(
        &walks,
        &[(1, 211.0, 70.0), (10, 220.0, 70.0), (11, 199.0, 70.0)],
    );
    // At 2 a tick it comes after: 110 across and 20 up are 111.8 away.
    let slow = text.replace("offset", "speed = 120, offset");
    let path = on(&slow, &[1, 56, 57]);
    let unit = 2.0 / (110.0_f64.powi(2) + 20.0_f64.powi(2)).sqrt();
    assert!(close(path[0].0, 100.0 + 110.0 * unit) && close(path[0].1, 50.0 + 20.0 * unit));
    assert_eq!(path[1], (210.0, 70.0));
    // What is launched follows its maker.
    let orbit = mover(
        "motion.patrol = { between = [0, 900], speed = 60 }\nlauncher.l = { launches = \"ward\", clock = { first = \"1t\", every = \"9s\" } }\n\
         [kind.ward]\nlifetime = \"50t\"\nmotion.follow = { offset = [0, 15] }",
        "",
    );
    let path = played(&orbit, "it.l.1", |tick, view| (tick, view.at.x, view.at.y));
    assert_eq!(path[0], (1, 101.0, 50.0));
    assert_eq!(path[9], (10, 110.0, 65.0));
}

#[test]
fn places_and_speeds_by_chance_stay_in_their_range_and_differ_by_seed() {
    let text = |seed: u32| {
        mover(
            "motion.patrol = { between = [-900, 900], speed = { choice = [60, 120] } }",
            "",
        )
        .replace("at = [100, 50]", "at = { range = [[90, 40], [110, 60]] }")
        .replace(
            "length = \"200t\"",
            &format!("length = \"200t\"\nseed = {seed}"),
        )
    };
    let mut starts = Vec::new();
    for seed in 0..8 {
        let [(x, y), (x1, _)] = on(&text(seed), &[0, 1])[..] else {
            panic!()
        };
        assert!((90.0..=110.0).contains(&x) && (40.0..=60.0).contains(&y));
        assert!(close(x1 - x, 1.0) || close(x1 - x, 2.0), "{}", x1 - x);
        starts.push(x);
    }
    starts.dedup();
    assert_eq!(starts.len(), 8, "every seed another place");
}

#[test]
fn chance_is_drawn_as_the_page_about_ticks_says() {
    let stream = |seed: u32, id: &str, purpose: &str| {
        let bytes = [&seed.to_le_bytes(), id.as_bytes(), &[0], purpose.as_bytes()].concat();
        let mut state = bytes.iter().fold(0xcbf2_9ce4_8422_2325_u64, |hash, byte| {
            (hash ^ u64::from(*byte)).wrapping_mul(0x0000_0100_0000_01b3)
        });
        move || {
            state = state.wrapping_add(0x9e37_79b9_7f4a_7c15);
            let mut next = state;
            next = (next ^ (next >> 30)).wrapping_mul(0xbf58_476d_1ce4_e5b9);
            next = (next ^ (next >> 27)).wrapping_mul(0x94d0_49bb_1331_11eb);
            ((next ^ (next >> 31)) >> 11) as f64 / (1u64 << 53) as f64
        }
    };
    for seed in [0, 7, u32::MAX] {
        let text = mover(
            "motion.patrol = { between = [-900, 900], speed = { choice = [60, 120, 180] } }",
            "",
        )
        .replace("at = [100, 50]", "at = { range = [[90, 40], [110, 60]] }")
        .replace(
            "length = \"200t\"",
            &format!("length = \"200t\"\nseed = {seed}"),
        );
        let mut place = stream(seed, "it", "place");
        let (x, y) = (90.0 + 20.0 * place(), 40.0 + 20.0 * place());
        let pace = (stream(seed, "it", "pace")() * 3.0).floor() + 1.0;
        assert_on(&text, &[(0, x, y), (1, x + pace, y)]);
    }
}
