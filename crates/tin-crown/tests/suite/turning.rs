//! Actors that rotate, worked out by hand, and turned a quarter.

use proptest::prelude::*;
use tin_crown::Line;
use tin_crown::plan::FaceAim;

use crate::stage::{all_lines as lines, plan_of as plan};

/// An encounter at 60 ticks a second without gravity, from its kinds on.
fn file(rest: &str) -> String {
    format!(
        "edition = 1\ntitle = \"turning\"\ntick_rate = 60\n\
         arena.bounds = {{ min = [-2000, -2000], max = [2000, 2000] }}\n{rest}"
    )
}

/// When which hit came of what: tick, moment, verdict.
fn hits(text: &str) -> Vec<(u32, f64, String)> {
    let lines = lines(text).into_iter();
    let hits = lines.filter(|line| line.event == "hit");
    hits.map(|line| {
        let verdict = line.verdict.unwrap_or_default().into_owned();
        (line.tick, line.moment.unwrap_or_default(), verdict)
    })
    .collect()
}

#[test]
fn an_expectation_asks_which_way_one_faces() {
    // 90 degrees a second are 1.5 a tick: 30 after 20 ticks from 0, rounded to 341 of 4096 steps, 29.97.
    let text = |up: &str, expect: &str| {
        let text = file(&format!(
            "[kind.top]
            turns = \"rotates\"
            faces = {{ spin = 90 }}
            [[place]]
            kind = \"top\"
            at = [0, 0]
            [drill.d]
            length = \"20t\"
            expect = [{{ place = {{ who = \"top\", {expect} }} }}]"
        ));
        text.replace(
            "arena.bounds",
            &format!("arena.up = \"{up}\"\narena.bounds"),
        )
    };
    for (expect, miss) in [
        ("facing = 30", None),
        ("facing = [0, 30]", None),
        (
            "facing = [-60, 29.9]",
            Some("top is at 0, 0 facing 29.97°, at 0.333 s, tick 20"),
        ),
        (
            "facing = [31, 360]",
            Some("top is at 0, 0 facing 29.97°, at 0.333 s, tick 20"),
        ),
        (
            "facing = [-330, -300], holds = \"always\"",
            Some("top is at 0, 0 facing 0°, at 0.000 s, tick 0"),
        ),
        ("facing = [-20, 30], holds = \"always\"", None),
        (
            "facing = 45, holds = \"ever\"",
            Some("it never is; at its nearest top is at 0, 0 facing 29.97°, at 0.333 s, tick 20"),
        ),
    ] {
        for up in ["+y", "-y"] {
            let plan = plan(&text(up, expect));
            let replay = plan.replay("d").expect("drill d");
            let mut tried = replay
                .test_all(plan.expectations().of(replay.drill()))
                .into_iter();
            let found = tried.next().expect("one is written").miss;
            let because = found.map(|miss| miss.because);
            assert_eq!(because.as_deref(), miss, "{expect} {up}");
        }
    }
    for (expect, says) in [
        (
            "facing = [30, -30]",
            "30 is beyond -30 (from the first on to the second: [-330, -30])",
        ),
        (
            "facing = [0, 400]",
            "expected angles from -360 to 360 degrees",
        ),
        ("facing = [0, 1, 2]", "expected an angle, or two"),
        ("facing = \"rigt\"", "right"),
    ] {
        let found = tin_crown::check(text("+y", expect).as_bytes())
            .findings
            .to_string();
        assert!(found.contains(says), "{expect}: {found}");
    }
}

const DISC: &str = "[kind.disc]\nmeter.health = { max = 9 }\nhurtbox.all = { radius = 2 }\n";

#[test]
fn a_shot_at_30_degrees_meets_a_disc() {
    // 30 degrees are 341.33 of 4096 steps, so 341. The muzzle is 10 ahead; 600 a second are 10 a tick.
    // The disc stands 100 that way: radii of 1 and 2 meet after 100 - 10 - 3 = 87, which are 8.7 ticks.
    // The press is on tick 10, the shot appears on it and sets out on 11: it hits on 19, after 0.7 of it,
    // rounded down to 4096ths: floor(0.7 * 4096 = 2867.2) = 2867.
    let turn = std::f64::consts::TAU * 341.0 / 4096.0;
    let (x, y) = (100.0 * turn.cos(), 100.0 * turn.sin());
    let scene = |facing: f64| {
        file(&format!(
            "{DISC}
            [kind.cork]
            hitbox.tip = {{ radius = 1 }}
            [kind.gun]
            turns = \"rotates\"
            launcher.pop = {{ launches = \"cork\", button = \"shoot\", muzzle = [10, 0], speed = 600 }}
            [[place]]
            kind = \"gun\"
            at = [0, 0]
            facing = {facing}
            [[place]]
            kind = \"disc\"
            at = [{x}, {y}]
            [[rule]]
            name = \"cork pops\"
            hitbox = \"cork.tip\"
            hurtbox = \"disc.all\"
            damage = 1
            [drill.d]
            length = \"1s\"
            input = [{{ when = \"10t\", who = \"gun\", press = \"shoot\" }}]"
        ))
    };
    assert_eq!(
        hits(&scene(30.0)),
        [(19, 2867.0 / 4096.0, "landed".to_owned())]
    );
    // Two degrees off, it passes 100 * sin 2° = 3.49 from the middle, and the radii are 3.
    assert_eq!(hits(&scene(32.0)), []);
    // The ledger has the angle that geometry knows: 341 * 360 / 4096.
    let shot = lines(&scene(30.0))
        .into_iter()
        .find(|line| line.event == "shot");
    assert_eq!(shot.and_then(|shot| shot.facing), Some(29.970_703_125));
}

#[test]
fn a_cart_that_turns_meets_a_post_on_the_tick_worked_out() {
    // 90 degrees a second are 1.5 a tick, from tick 1 on. Its arm is 2 thick, the post, at 90 degrees and
    // 20 off, has a radius of 2: they meet when 20 sin d < 3, d < 8.63 degrees, from 81.37 degrees on.
    // After 54 ticks it is at 81.0, after 55 at 82.5.
    let scene = |button: &str| {
        file(&format!(
            "{DISC}
            [kind.cart]
            turns = \"rotates\"
            walk = {{ speed = 60, turn = 90 }}
            hitbox.arm = {{ size = [20, 2], at = [20, 0] }}
            [[place]]
            kind = \"cart\"
            at = [0, 0]
            [[place]]
            kind = \"disc\"
            at = [0, 20]
            [[rule]]
            name = \"arm strikes\"
            hitbox = \"cart.arm\"
            hurtbox = \"disc.all\"
            damage = 1
            repeat = \"once-per-touch\"
            [drill.d]
            length = \"2s\"
            input = [{{ when = \"0s\", who = \"cart\", hold = \"{button}\", for = \"2s\" }}]"
        ))
    };
    assert_eq!(hits(&scene("left"))[0].0, 55);
    // The other way round it has 270 - 8.63 degrees to go: more than two seconds.
    assert_eq!(hits(&scene("right")), []);
    // It drives the way it faces: from tick 1 on 1 unit a tick.
    let plan = plan(&scene("up"));
    let mut sim = tin_crown::Sim::new(&plan, plan.drill("d").expect("it is there"));
    while sim.tick().0 < 30 && sim.step().expect("within the limits") {}
    let cart = sim.actor(plan.actor("cart").expect("it is there"));
    assert!(
        (cart.at.x - 30.0).abs() < 1e-9 && cart.at.y == 0.0,
        "{cart:?}"
    );
}

#[test]
fn the_edge_of_a_guard_is_exact_to_a_step() {
    // The guard covers 45 degrees to each side of where its owner faces; the spike is at 45 degrees.
    for (steps, verdict) in [
        (0, "guarded"),
        (1, "guarded"),
        (-1, "landed"),
        (1024, "guarded"),
        (1025, "landed"),
    ] {
        let facing = f64::from(steps) * 360.0 / 4096.0;
        let text = file(&format!(
            "[kind.drum]
            turns = \"rotates\"
            faces = {{ keeps = true }}
            meter.health = {{ max = 9 }}
            hurtbox.all = {{ radius = 9 }}
            guard = {{ arc = [-45, 45], button = \"guard\" }}
            [kind.spike]
            hitbox.tip = {{ radius = 9 }}
            [[place]]
            kind = \"drum\"
            at = [0, 0]
            facing = {facing}
            [[place]]
            kind = \"spike\"
            at = [10, 10]
            [[rule]]
            name = \"tip pricks\"
            hitbox = \"spike.tip\"
            hurtbox = \"drum.all\"
            damage = 1
            every = \"1s\"
            [drill.d]
            length = \"90t\"
            input = [{{ when = \"0s\", who = \"drum\", hold = \"guard\" }}]"
        ));
        // On tick 0 the guard is not up yet; the next second begins on tick 60.
        let all = hits(&text).into_iter();
        let then: Vec<String> = all.filter(|hit| hit.0 == 60).map(|hit| hit.2).collect();
        assert_eq!(then, [verdict], "{steps} steps");
    }
}

#[test]
fn a_blade_that_turns_40_degrees_a_tick_meets_a_thin_post_between_two_ticks() {
    // The post is at 20 degrees, and the blade goes from 0 to 40 within tick 1: in eight parts of 5 degrees,
    // of which the fourth ends at 20. It begins after 3/8 of the tick. On tick 9 the blade has come round to
    // 360 degrees, on 10 it is at 40 again.
    let angle = 20f64.to_radians();
    let (x, y) = (20.0 * angle.cos(), 20.0 * angle.sin());
    let scene = |contact: &str, faces: &str| {
        file(&format!(
            "arena.contact = \"{contact}\"
            [kind.post]
            meter.health = {{ max = 9 }}
            hurtbox.wood = {{ radius = 0.5 }}
            [kind.key]
            turns = \"rotates\"
            faces = {faces}
            hitbox.blade = {{ size = [20, 1], at = [20, 0] }}
            [[place]]
            kind = \"key\"
            at = [0, 0]
            [[place]]
            kind = \"post\"
            at = [{x}, {y}]
            [[rule]]
            name = \"blade cuts\"
            hitbox = \"key.blade\"
            hurtbox = \"post.wood\"
            damage = 1
            [drill.d]
            length = \"10t\"
            input = [{{ when = \"1t\", who = \"key\", face = 40 }}]"
        ))
    };
    let landed = "landed".to_owned();
    let spin = "{ spin = 2400 }";
    let told = scene("swept", spin);
    // A turn that is told comes at once, and from there it spins on: never over the post again in 10 ticks
    // but on the ninth, from 360 to 400.
    assert_eq!(hits(&told), [(10, 0.375, landed.clone())]);
    let alone = told.replace("input = [{ when = \"1t\", who = \"key\", face = 40 }]", "");
    assert_eq!(
        hits(&alone),
        [(1, 0.375, landed.clone()), (10, 0.375, landed)]
    );
    let sampled =
        scene("sampled", spin).replace("input = [{ when = \"1t\", who = \"key\", face = 40 }]", "");
    assert_eq!(hits(&sampled), []);
}

#[test]
fn who_faces_what_by_which_of_its_ways() {
    // Each kind, where it faces after 30 ticks: 90 degrees a second are 45 by then.
    for (kind, facing) in [
        ("faces = { to = 45 }", 45.0),
        ("faces = { to = 90, turn = 90 }", 45.0),
        ("faces = { to = -90, turn = 90 }", 315.0),
        ("faces = { toward = \"mark\" }", 90.0),
        ("faces = { spin = -90 }", 315.0),
        (
            "faces = { keeps = true }\nmotion = { chase = { whom = \"mark\", speed = 6 } }",
            0.0,
        ),
        ("motion = { chase = { whom = \"mark\", speed = 6 } }", 90.0),
        ("motion = { patrol = { axis = \"y\", speed = 6 } }", 90.0),
        (
            "motion = { hover = { size = [6, 0], period = \"2s\" } }",
            0.0,
        ),
        (
            "motion = { hover = { size = [6, 0], period = \"1s\" } }",
            180.0,
        ),
        (
            "motion = { path = { keys = [{ when = \"0s\", at = [0, 0] }, { when = \"2s\", at = [0, -50] }] } }",
            270.0,
        ),
        ("motion = \"still\"", 0.0),
    ] {
        let text = file(&format!(
            "[kind.mark]
            hurtbox.all = {{ radius = 1 }}
            [kind.one]
            turns = \"rotates\"
            {kind}
            [[place]]
            kind = \"mark\"
            at = [0, 500]
            [[place]]
            kind = \"one\"
            at = [0, 0]
            [drill.d]
            length = \"1s\""
        ));
        let plan = plan(&text);
        let mut sim = tin_crown::Sim::new(&plan, plan.drill("d").expect("it is there"));
        while sim.tick().0 < 30 && sim.step().expect("within the limits") {}
        let one = sim.actor(plan.actor("one").expect("it is there"));
        let tin_crown::Facing::Angle(angle) = one.facing else {
            panic!("{kind}: {:?}", one.facing);
        };
        // Spun little by little, a part of 2^32 may be missing.
        let off = (angle.degrees() - facing).abs();
        assert!(off < 1e-5, "{kind}: {} for {facing}", angle.degrees());
    }
}

#[test]
fn what_cannot_turn_is_an_error_with_what_to_do() {
    for (kind, more, words) in [
        ("", "facing = 45", "`one` mirrors: it cannot face an angle"),
        (
            "faces = { spin = 9 }",
            "",
            "`faces` has no effect on a kind that mirrors",
        ),
        (
            "walk = { speed = 9, turn = 9 }",
            "",
            "`turn` has no effect on a kind that mirrors",
        ),
        (
            "turns = \"rotates\"\nwalk = { speed = 9, turn = 9 }\nfaces = { spin = 9 }",
            "",
            "`walk.turn` and `faces` cannot be used together",
        ),
        (
            "turns = \"rotates\"\nfaces = { spin = 9, to = 4 }",
            "",
            "cannot be used together",
        ),
        (
            "turns = \"rotates\"",
            "facing = 400",
            "expected -360 to 360 degrees, found 400",
        ),
        (
            "turns = \"rotates\"",
            "facing = \"lft\"",
            "did you mean `left`?",
        ),
        ("turns = \"rotatse\"", "", "did you mean `rotates`?"),
    ] {
        let text = file(&format!(
            "[kind.one]\nhurtbox.all = {{ radius = 1 }}\n{kind}\n[[place]]\nkind = \"one\"\nat = [0, 0]\n{more}\n\
             [drill.d]\nlength = \"1s\""
        ));
        let found = tin_crown::check(text.as_bytes()).findings.to_string();
        let all: Vec<String> = tin_crown::check(text.as_bytes())
            .findings
            .iter()
            .map(|finding| format!("{} {:?}", finding.message, finding.help))
            .collect();
        assert!(
            found.contains(words) || all.iter().any(|one| one.contains(words)),
            "{words}: {all:?}"
        );
    }
}

/// A few kinds that rotate, each with its own way of turning, at places and facings drawn, turned by some
/// quarters of a turn; or mirrored, with what is the mirror image of being on one's left.
fn crowd(seeds: &[(i32, i32, u16)], quarters: u32, mirrored: bool) -> String {
    let turned = |(x, y): (i32, i32)| match quarters {
        _ if mirrored => (-x, y),
        0 => (x, y),
        1 => (-y, x),
        2 => (-x, -y),
        _ => (y, -x),
    };
    let degrees = |degrees: f64| {
        let all = match mirrored {
            true => 540.0 - degrees,
            false => degrees + 90.0 * f64::from(quarters),
        };
        if all >= 360.0 { all - 360.0 } else { all }
    };
    let side = |number: f64| if mirrored { -number } else { number };
    let (left, right) = if mirrored {
        ("right", "left")
    } else {
        ("left", "right")
    };
    let arc = if mirrored { "[-70, 50]" } else { "[-50, 70]" };
    let mut text = file(&format!(
        "[kind.base]
        turns = \"rotates\"
        meter.health = {{ max = 50 }}
        hurtbox.hull = {{ size = [14, 9], at = [2, {hull}] }}
        hitbox.ram = {{ size = [9, 5], at = [12, {ram}] }}
        [kind.chaser]
        like = \"base\"
        tags = [\"foe\"]
        motion = {{ chase = {{ whom = \"#hunted\", speed = 45, turn = 70 }} }}
        guard = {{ arc = {arc}, button = \"guard\" }}
        [kind.spinner]
        like = \"base\"
        tags = [\"foe\"]
        faces = {{ spin = {spin} }}
        [kind.turret]
        like = \"base\"
        tags = [\"foe\"]
        faces = {{ toward = \"#hunted\", turn = 50 }}
        launcher.pop = {{ launches = \"dart\", clock = {{ every = \"20t\" }}, muzzle = [9, {ram}], speed = 150, aim = {{ angle = {aim} }} }}
        [kind.dart]
        turns = \"rotates\"
        lifetime = \"1s\"
        hitbox.point = {{ size = [6, 2], at = [1, {hull}] }}
        [kind.cart]
        like = \"base\"
        tags = [\"hunted\"]
        walk = {{ speed = 50, turn = 130, accel = 90 }}
        sensor.eyes = {{ area = {{ size = [70, 30], at = [30, {hull}] }}, notices = \"#foe\" }}
        [[rule]]
        name = \"ram shoves\"
        hitbox = \"*.ram\"
        hurtbox = \"*.hull\"
        friendly = true
        damage = 1
        every = \"10t\"
        gate = {{ from = \"front\" }}
        knockback = {{ away = 40 }}
        [[rule]]
        name = \"ram throws\"
        hitbox = \"*.ram\"
        hurtbox = \"*.hull\"
        friendly = true
        damage = 2
        every = \"15t\"
        gate = {{ from = \"behind\" }}
        knockback = {{ forward = 60 }}
        [[rule]]
        name = \"dart pricks\"
        hitbox = \"dart.point\"
        hurtbox = \"#hunted.hull\"
        damage = 1
        ",
        hull = side(1.0),
        ram = side(-2.0),
        spin = side(700.0),
        aim = side(15.0),
    ));
    for (nth, &(x, y, facing)) in seeds.iter().enumerate() {
        let kind = ["cart", "chaser", "spinner", "turret"][nth % 4];
        let (x, y) = turned((x, y));
        let facing = degrees(f64::from(facing % 4096) * 360.0 / 4096.0);
        text += &format!(
            "[[place]]\nkind = \"{kind}\"\nid = \"a{nth}\"\nat = [{x}, {y}]\nfacing = {facing}\n"
        );
    }
    text + &format!(
        "[drill.d]
        length = \"2s\"
        input = [
          {{ when = \"3t\", who = \"a0\", hold = \"{left}\", for = \"30t\" }},
          {{ when = \"10t\", who = \"a0\", hold = \"up\", for = \"60t\" }},
          {{ when = \"50t\", who = \"a0\", hold = \"{right}\", for = \"20t\" }},
          {{ when = \"5t\", who = \"a1\", hold = \"guard\", for = \"70t\" }},
        ]"
    )
}

/// A line turned by some quarters of a turn, or mirrored; without -0.
fn image(line: &Line<'static>, quarters: u32, mirrored: bool) -> Line<'static> {
    let mut line = line.clone();
    let within = |degrees: f64| {
        if degrees >= 360.0 {
            degrees - 360.0
        } else {
            degrees
        }
    };
    for _ in 0..quarters {
        (line.x, line.y) = (line.y.map(|y| -y), line.x);
        line.facing = line.facing.map(|facing| within(facing + 90.0));
    }
    if mirrored {
        line.x = line.x.map(|x| -x);
        line.facing = line.facing.map(|facing| within(within(540.0 - facing)));
        line.button = line.button.map(|button| match &*button {
            "left" => "right".into(),
            "right" => "left".into(),
            _ => button,
        });
    }
    line.x = line.x.map(|x| x + 0.0);
    line.y = line.y.map(|y| y + 0.0);
    line
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 24, ..ProptestConfig::default() })]

    /// Where every kind rotates, a quarter turn of the whole encounter gives the turned ledger.
    #[test]
    fn a_quarter_turn_gives_the_turned_ledger(
        seeds in prop::collection::vec((-60..60i32, -60..60i32, 0..4096u16), 4..9),
        quarters in 1..4u32,
    ) {
        let here = lines(&crowd(&seeds, 0, false));
        let there = lines(&crowd(&seeds, quarters, false));
        prop_assert_eq!(here.len(), there.len());
        for (here, there) in here.iter().zip(&there) {
            prop_assert_eq!(&image(here, quarters, false), &image(there, 0, false));
        }
    }

    /// An arena with height whose boxes say none gives the plane's lines, where nothing speaks of up.
    #[test]
    fn heights_that_nothing_says_change_nothing(
        seeds in prop::collection::vec((-60..60i32, -60..60i32, 0..4096u16), 4..9),
    ) {
        let flat = crowd(&seeds, 0, false);
        let high = flat.replacen("[kind.base]", "[arena.height]\ngravity = 900\n[kind.base]", 1);
        let (flat, high) = (lines(&flat), lines(&high));
        let level = high.into_iter().map(|line| Line { height: None, ..line });
        prop_assert_eq!(flat, level.collect::<Vec<_>>());
    }

    /// The mirror image, in which each is on its other hand what it was, gives the mirrored ledger.
    #[test]
    fn a_mirror_image_gives_the_mirrored_ledger(
        seeds in prop::collection::vec((-60..60i32, -60..60i32, 0..4096u16), 4..9),
    ) {
        let (here, there) = (lines(&crowd(&seeds, 0, false)), lines(&crowd(&seeds, 0, true)));
        prop_assert_eq!(here.len(), there.len());
        for (here, there) in here.iter().zip(&there) {
            prop_assert_eq!(&image(here, 0, true), &image(there, 0, false));
        }
    }
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 100, ..ProptestConfig::default() })]

    /// A blade that spins against a disc that comes by, found by fine steps: in parts of at most 5 degrees,
    /// in each the blade turned as at its end, and the disc on its share of the way.
    #[test]
    fn turning_parts_are_found_by_fine_steps(
        spin in -70..=70i32, facing in 0..360u32, size in (4..30u32, 1..6u32), reach in 0..20u32,
        (x, y) in (-40..40i32, -40..40i32), speed in -30..=30i32,
    ) {
        let text = file(&format!(
            "{DISC}
            [kind.mover]
            like = \"disc\"
            motion = {{ patrol = {{ speed = {pace} }} }}
            [kind.key]
            turns = \"rotates\"
            faces = {{ spin = {spins} }}
            hitbox.blade = {{ size = [{long}, {thick}], at = [{reach}, 0] }}
            [[place]]
            kind = \"key\"
            at = [0, 0]
            facing = {facing}
            [[place]]
            kind = \"mover\"
            at = [{x}, {y}]
            facing = \"{way}\"
            [[rule]]
            name = \"blade cuts\"
            hitbox = \"key.blade\"
            hurtbox = \"mover.all\"
            damage = 1
            [drill.d]
            length = \"1t\"",
            pace = speed.abs() * 60,
            spins = spin * 60,
            long = size.0,
            thick = size.1,
            way = if speed < 0 { "left" } else { "right" },
        ));
        let found = hits(&text);
        // What touched before is another matter.
        prop_assume!(found.first().is_none_or(|hit| hit.0 == 1));
        let half = [f64::from(size.0) / 2.0, f64::from(size.1) / 2.0];
        // How deep the disc lies in the blade, which is turned by so many degrees.
        let depth = |degrees: f64, [x, y]: [f64; 2]| {
            let steps = (degrees / 360.0 * 4096.0).round();
            let (sin, cos) = (steps / 4096.0 * std::f64::consts::TAU).sin_cos();
            let seen = [x * cos + y * sin - f64::from(reach), y * cos - x * sin];
            let beyond = [0, 1].map(|axis| (seen[axis].abs() - half[axis]).max(0.0));
            2.0 - beyond[0].hypot(beyond[1])
        };
        let parts = (spin.abs() + 4) / 5;
        let parts = parts.max(1);
        let (mut deepest, fine) = (f64::NEG_INFINITY, 200);
        for part in 1..=parts {
            let degrees = f64::from(facing) + f64::from(spin) * f64::from(part) / f64::from(parts);
            for step in 0..=fine {
                let share = (f64::from(part - 1) + f64::from(step) / f64::from(fine)) / f64::from(parts);
                let at = [f64::from(x) + f64::from(speed) * share, f64::from(y)];
                deepest = deepest.max(depth(degrees, at));
            }
        }
        // Between two of these steps it goes on by less than a tenth of a unit.
        if deepest > 0.01 {
            prop_assert_eq!(found.len(), 1, "{} deep, and no hit", deepest);
        }
        if deepest < -0.2 {
            prop_assert_eq!(found.len(), 0, "{} apart, and a hit", -deepest);
        }
    }
}

#[test]
fn a_speed_becomes_a_part_of_a_turn_as_it_is_written() {
    let per_tick = |degrees: &str, rate: u32| {
        let text = format!(
            "edition = 1\ntitle = \"top\"\ntick_rate = {rate}\narena.bounds = {{ min = [0, 0], max = [9, 9] }}\n\
             [kind.top]\nturns = \"rotates\"\nfaces = {{ spin = {degrees} }}\n[[place]]\nkind = \"top\"\nat = [5, 5]\n"
        );
        let plan = crate::stage::plan_of(&text);
        let top = plan.actor("top").expect("a top");
        match plan.spec(top).faces().aim() {
            FaceAim::Spin(parts) => parts,
            aim => panic!("{aim:?}"),
        }
    };
    for (degrees, rate, parts) in [
        // 90 degrees a second at 60 ticks: 1.5 degrees, 2^32 / 240 = 17,895,697.07.
        ("90", 60, 17_895_697),
        // 0.1 degrees at 10 ticks a second: 2^32 / 36,000 = 119,304.65.
        ("0.1", 10, 119_305),
        // 0.000001 degrees are 11.93 parts, a tenth of that 1.19; of 0.00000004 it is 0.05.
        ("0.000001", 10, 1),
        ("0.00000004", 10, 0),
        ("1800", 10, 1 << 31),
    ] {
        assert_eq!(per_tick(degrees, rate), parts, "{degrees} at {rate}");
    }
}
