//! Motions, places and sights with height, worked out by hand.

use crate::accounts::told_of;
use crate::heights::{file, seen};
use crate::stage::{all_lines as lines, plan_of};

/// The height of an actor at the end of a tick.
fn height(text: &str, who: &str, tick: u32) -> f64 {
    seen(text, who, tick, |view| view.height)
}

#[test]
fn motions_go_up_and_down() {
    // A period of 8 ticks is a quarter after 2 and three quarters after 6. The pendulum of length 10 that
    // swings by 90 degrees is then 10 to the side and 10 up, and back down after 4. The wisp is 4 above and
    // 8 behind the hero, who jumps on tick 3: 3.75 high after one tick, 7.25 after two. Each moth of the row
    // is 10 further and 5 higher than the last.
    let text = file(
        60,
        "0",
        "[kind.bob]
        motion = { hover = { size = [0, 0, 12], period = \"8t\" } }
        [kind.bell]
        turns = \"rotates\"
        motion = { swing = { length = 10, arc = 90, period = \"8t\" } }
        [kind.hero]
        body = { radius = 6, height = [0, 20] }
        walk = { speed = 60, jump = 240 }
        [kind.wisp]
        motion = { follow = { whom = \"hero\", offset = [-8, 0, 4] } }
        [kind.late]
        motion = { follow = { whom = \"hero\", offset = [0, 0, 34], speed = 60 } }
        [kind.moth]
        hurtbox.all = { radius = 2, height = [0, 4] }
        [[place]]
        kind = \"bob\"
        at = [0, 100, 30]
        [[place]]
        kind = \"bell\"
        at = [100, 100, 50]
        facing = 90
        [[place]]
        kind = \"hero\"
        at = [0, 0]
        [[place]]
        kind = \"wisp\"
        at = [0, 0]
        [[place]]
        kind = \"late\"
        at = [0, 40, 4]
        [[place]]
        id = \"row\"
        kind = \"moth\"
        at = [-100, 0, 3]
        copies = { count = 3, step = [10, 0, 5] }
        [drill.d]
        length = \"20t\"
        input = [{ when = \"3t\", who = \"hero\", press = \"jump\" }]",
    );
    let near = |found: f64, paper: f64| assert!((found - paper).abs() < 1e-9, "{found} {paper}");
    for (who, tick, high) in [
        ("bob", 2, 42.0),
        ("bob", 6, 18.0),
        ("bell", 2, 60.0),
        ("bell", 4, 50.0),
        ("hero", 3, 3.75),
        ("wisp", 2, 4.0),
        ("wisp", 3, 7.75),
        ("wisp", 4, 11.25),
        ("row_1", 0, 3.0),
        ("row_3", 0, 13.0),
        // 40 away and 30 below: 50 units, of which it goes one a tick, three fifths of it upward.
        ("late", 2, 4.0 + 2.0 * 0.6),
    ] {
        near(height(&text, who, tick), high);
    }
    // It swings where it faces.
    near(seen(&text, "bell", 2, |view| view.at.y), 110.0);
    near(seen(&text, "bell", 2, |view| view.at.x), 100.0);
    near(seen(&text, "wisp", 4, |view| view.at.x), -8.0);
    near(seen(&text, "row_3", 0, |view| view.at.x), -80.0);
}

#[test]
fn who_was_pushed_up_comes_back_to_its_height() {
    // Pushed up on tick 0 by 60 a second for 6 ticks: 1 on each of the ticks 1 to 5. Then the patrol returns
    // by its half a unit a tick, and the hover at the 30 a second that it is told, over 10 ticks; who stands
    // still stays where it came to; and who falls is pulled down.
    let text = file(
        60,
        "0",
        "[kind.bee]
        motion = { patrol = { between = [-300, 300], speed = 30 } }
        hurtbox.all = { radius = 4, height = [0, 4] }
        [kind.fly]
        motion = { hover = { size = [0, 0, 0], period = \"8t\", speed = 30 } }
        hurtbox.all = { radius = 4, height = [0, 4] }
        [kind.leaf]
        hurtbox.all = { radius = 4, height = [0, 4] }
        [kind.fan]
        hitbox.air = { radius = 4, height = [0, 40], pulse = { on = \"1t\", off = \"9s\" } }
        [[place]]
        kind = \"bee\"
        at = [0, 0, 20]
        [[place]]
        kind = \"fly\"
        at = [0, 100, 20]
        [[place]]
        kind = \"leaf\"
        at = [0, -100, 20]
        [[place]]
        id = \"fan\"
        kind = \"fan\"
        at = [0, -100, 0]
        copies = { count = 3, step = [0, 100] }
        [[rule]]
        name = \"air lifts\"
        hitbox = \"fan.air\"
        hurtbox = \"*\"
        knockback = { up = 60, for = \"6t\" }
        repeat = \"once-per-touch\"
        [drill.d]
        length = \"30t\"",
    );
    for (who, five, six, fifteen, end) in [
        ("bee", 25.0, 24.5, 20.0, 20.0),
        ("fly", 25.0, 24.5, 20.0, 20.0),
        ("leaf", 25.0, 25.0, 25.0, 25.0),
    ] {
        let heights = [5, 6, 15, 25].map(|tick| height(&text, who, tick));
        for (found, paper) in heights.into_iter().zip([five, six, fifteen, end]) {
            assert!((found - paper).abs() < 1e-9, "{who}: {heights:?}");
        }
    }
}

/// A watch whose sensor looks from 30 high down to 10 below the ground, 60 units on, past what stands there.
fn watch(sensor: &str, rest: &str) -> String {
    let text = file(
        60,
        "0",
        &format!(
            "[kind.watch]
            hurtbox.all = {{ radius = 2, height = [28, 32] }}
            sensor.eye = {{ {sensor}, notices = \"post\", stopped_by = [\"solids\", \"drum\"] }}
            [kind.post]
            hurtbox.all = {{ radius = 6, height = [0, 20] }}
            [kind.drum]
            hurtbox.all = {{ size = [2, 10], height = [0, 14] }}
            {rest}
            [[place]]
            kind = \"watch\"
            at = [0, 0]
            [[place]]
            kind = \"drum\"
            id = \"aside\"
            at = [0, -300]
            [drill.d]
            length = \"2t\""
        ),
    );
    // Of the walls, the wide arena keeps only those of the test.
    text.replace("[arena.height]", "solids = WALLS\n[arena.height]")
}

#[test]
fn a_ray_with_heights_passes_over_a_low_wall() {
    // The ray falls by 2 on 3. The post's near edge is at 34, where the ray is 30 - 68 / 3 = 7.33 high: it
    // meets it after 34 / 60 of its sqrt(60^2 + 40^2) = 72.11 units, 40.86 off. Over a wall from 20 to 22 it
    // is at least 15.33 high. A wall of 16 stops it at 21, where it is 16 high.
    let ray = "ray = { from = [0, 0, 30], to = [60, 0, -10] }";
    let sheet = "ray = { to = [60, 0] }";
    let area = "area = { radius = 60 }";
    let post = "[[place]]\nkind = \"post\"\nat = [40, 0]";
    let drum = "[[place]]\nkind = \"drum\"\nid = \"near\"\nat = [21, 0]\n[[place]]\nkind = \"post\"\nat = [40, 0]";
    let high = "[[place]]\nkind = \"post\"\nat = [40, 0, 25]";
    let wall = |top: u32| format!("[{{ min = [20, -5], max = [22, 5], height = [0, {top}] }}]");
    for (sensor, walls, rest, says) in [
        (ray, "[]".into(), post, "`eye` notices post, 40.86 off"),
        (ray, wall(14), post, "`eye` notices post, 40.86 off"),
        (ray, wall(16), post, "a solid is in the way at 21, 0"),
        // Actors stop it as solids do: the drum is 14 high.
        (ray, wall(14), drum, "`eye` notices post, 40.86 off"),
        // It is below the post: 25 - 7.33.
        (
            ray,
            "[]".into(),
            high,
            "out of reach by 17.67 (17.67 higher)",
        ),
        // A ray without heights is stopped by anything.
        (sheet, wall(2), post, "a solid is in the way at 20, 0"),
        // From the middle of one to that of the other: 30 to 10 over 40 units, 19.5 high at the wall.
        (area, wall(18), post, "`eye` notices post, 40 off"),
        (area, wall(20), post, "a solid is in the way at 20, 0"),
        (area, "[]".into(), drum, "`eye` notices post, 40 off"),
    ] {
        let text = watch(sensor, rest).replace("WALLS", &walls);
        let told = told_of(&plan_of(&text), "watch", None);
        assert!(
            told.iter().any(|own| own.contains(says)),
            "{says}: {told:?}"
        );
    }
    let senses = lines(&watch(ray, post).replace("WALLS", "[]"));
    let distance = senses
        .iter()
        .find_map(|line| line.distance)
        .expect("it is seen");
    assert!(
        (distance - 34.0 / 60.0 * 5200f64.sqrt()).abs() < 1e-5,
        "{distance}"
    );
}

/// The findings on kinds and rules in an arena with height, without those named.
fn found(ground: &str, rest: &str, but: &str) -> String {
    let text = file(60, ground, &format!("{rest}[drill.d]\nlength = \"1s\""));
    let findings = tin_crown::check(text.as_bytes()).findings;
    let lines = findings
        .iter()
        .filter(|finding| finding.code.as_str() != but);
    lines
        .map(|finding| format!("{}: {}\n", finding.code, finding.message))
        .collect()
}

#[test]
fn a_weak_spot_sticks_out_to_a_side_or_does_not_in_height() {
    // The cart's boots reach 6 to each side, 0 to 4 high; its torso 4, 4 to 20 high. The drum's top is 8 out to
    // every side at the height of the boots, its rim 12 ahead and behind, but only 5 to the sides: from there
    // the boots meet the top at 8 + 6, the torso the rim at 5 + 4. A top at 10 to 12 is over the boots.
    let text = |top: &str| {
        format!(
            "[kind.cart]
            side = \"ours\"
            meter.health = {{ max = 3 }}
            invincible = {{ after_hit = \"1s\" }}
            hitbox.boots = {{ size = [12, 12], height = [0, 4] }}
            hurtbox.torso = {{ size = [8, 8], height = [4, 20] }}
            [kind.drum]
            turns = \"rotates\"
            side = \"theirs\"
            meter.health = {{ max = 1 }}
            hurtbox.top = {{ size = [16, 16], height = {top} }}
            hitbox.rim = {{ size = [24, 10], height = [4, 8] }}
            [[place]]
            kind = \"cart\"
            at = [0, 0]
            [[place]]
            kind = \"drum\"
            at = [80, 0]
            [[rule]]
            name = \"boots crush top\"
            hitbox = \"cart.boots\"
            hurtbox = \"drum.top\"
            damage = 1
            [[rule]]
            name = \"rim grazes torso\"
            hitbox = \"drum.rim\"
            hurtbox = \"cart.torso\"
            damage = 1\n"
        )
    };
    assert_eq!(
        found("0", &text("[2, 8]"), "heights-apart"),
        "weak-spot-sticks-out: `top` of `drum` sticks out: who runs into it from the side meets it 5 units before \
         `rim`, and `boots crush top` takes effect\n"
    );
    assert_eq!(found("0", &text("[10, 12]"), "heights-apart"), "");
}

#[test]
fn a_hole_between_shelves_is_found_and_one_too_narrow_is_not() {
    // The arena is 800 by 800. Four shelves leave a hole of 20 by the width of the arena, or one of 10 by 10.
    let check = |shelves: &str, outside: &str| {
        let text = format!(
            "[kind.hero]
            player = true
            outside = \"{outside}\"
            body = {{ radius = 6, height = [0, 20] }}
            walk = {{ speed = 90 }}
            meter.health = {{ max = 1 }}
            [[place]]
            kind = \"hero\"
            at = [-200, -200]
            [drill.d]
            length = \"1s\""
        );
        let text = file(60, "\"none\"", &text);
        let text = text.replace(
            "[arena.height]",
            &format!("solids = {shelves}\n[arena.height]"),
        );
        tin_crown::check(text.as_bytes()).findings.to_string()
    };
    let shelf = |[x0, y0, x1, y1]: [i32; 4], top: i32| {
        format!("{{ min = [{x0}, {y0}], max = [{x1}, {y1}], height = [-20, {top}] }}")
    };
    let all = |shelves: &[String]| format!("[{}]", shelves.join(", "));
    let halves = [
        shelf([-400, -400, 90, 400], 0),
        shelf([110, -400, 400, 400], 0),
    ];
    let around = [
        shelf([-400, -400, 90, 400], 0),
        shelf([100, -400, 400, 400], 0),
        shelf([90, -400, 100, 95], 0),
        shelf([90, 105, 100, 400], 0),
    ];
    // The same with a slab over the rest that is too high to fall onto.
    let high = [
        halves[0].clone(),
        halves[1].clone(),
        shelf([90, -400, 110, 400], 30),
    ];
    for (shelves, outside, hole) in [
        (all(&halves), "stays", Some("around 96, -394")),
        (all(&halves), "dies", None),
        (all(&around), "stays", None),
        (all(&high), "stays", Some("around 96, -394")),
    ] {
        let found = check(&shelves, outside);
        let says = found.contains("falls-for-ever");
        assert_eq!(says, hole.is_some(), "{found}");
        assert!(hole.is_none_or(|hole| found.contains(hole)), "{found}");
    }
}

#[test]
fn a_muzzle_beyond_passes_over_who_is_as_high() {
    // The pea appears 35 units beyond the gun, 8 or 40 high; the post is 8 wide and 20 high, as is the wall.
    for (high, told) in [(8, 2), (40, 0)] {
        let text = format!(
            "[kind.gun]\nbody = {{ radius = 5, height = [0, 10] }}\n\
             launcher.pop = {{ launches = \"pea\", clock = {{ every = \"1s\" }}, muzzle = [41, 0, {high}], \
             aim = \"facing\", speed = 200 }}\n\
             [kind.pea]\nlifetime = \"1s\"\nhitbox.tip = {{ radius = 1, height = [-1, 1] }}\n\
             [kind.post]\nmeter.health = {{ max = 1 }}\nhurtbox.all = {{ radius = 4, height = [0, 20] }}\n\
             [[place]]\nkind = \"gun\"\nat = [0, 0]\n[[place]]\nkind = \"post\"\nat = [80, 0]\n\
             [[rule]]\nname = \"pea stings\"\nhitbox = \"pea.tip\"\nhurtbox = \"post.all\"\ndamage = 1\n\
             [drill.d]\nlength = \"1s\""
        );
        let text = file(60, "0", &text);
        let wall = "solids = [{ min = [-300, -300], max = [-290, 300], height = [0, 20] }]\n[arena.height]";
        let text = text.replace("[arena.height]", wall);
        let found = tin_crown::check(text.as_bytes()).findings.to_string();
        assert_eq!(found.matches("muzzle-beyond").count(), told, "{found}");
    }
}

#[test]
fn leaders_and_respawns_count_height() {
    // The wisp at (0, 0), 50 high, has one leader 30 away and 40 below it, 50 units off, and another 45 away at
    // its height. The hero at (0, 200), who dies on tick 0 and could be back on tick 30, waits while a bat is
    // within 20: one 12 away and 16 above him is just 20 off, one 17 above him 20.8.
    for (bat, back) in [(16, None), (17, Some(30))] {
        let text = file(
            60,
            "0",
            &format!(
                "[kind.lead]
                hurtbox.all = {{ radius = 2, height = [0, 4] }}
                [kind.wisp]
                hurtbox.all = {{ radius = 2, height = [0, 4] }}
                motion = {{ follow = {{ whom = \"lead\" }} }}
                [kind.bat]
                hurtbox.all = {{ radius = 2, height = [0, 4] }}
                [kind.hero]
                player = true
                body = {{ radius = 6, height = [0, 20] }}
                meter.health = {{ max = 1 }}
                hurtbox.all = {{ radius = 6, height = [0, 20] }}
                respawn = {{ at = \"start\", delay = \"30t\", unless_near = {{ who = \"bat\", within = 20 }} }}
                death = [{{ after = \"0s\" }}]
                [kind.spike]
                hitbox.tip = {{ radius = 1, height = [0, 2], pulse = {{ on = \"1t\", off = \"9s\" }} }}
                [[place]]
                id = \"below\"
                kind = \"lead\"
                at = [30, 0, 10]
                [[place]]
                id = \"beside\"
                kind = \"lead\"
                at = [-45, 0, 50]
                [[place]]
                kind = \"wisp\"
                at = [0, 0, 50]
                [[place]]
                kind = \"bat\"
                at = [12, 200, {bat}]
                [[place]]
                kind = \"hero\"
                at = [0, 200]
                [[place]]
                kind = \"spike\"
                at = [0, 200]
                [[rule]]
                name = \"tip kills\"
                hitbox = \"spike.tip\"
                hurtbox = \"hero.all\"
                kill = true
                [drill.d]
                length = \"60t\""
            ),
        );
        assert_eq!(seen(&text, "wisp", 1, |view| view.at.x), -45.0);
        let respawn = lines(&text)
            .into_iter()
            .find(|line| line.event == "respawn");
        assert_eq!(respawn.map(|line| line.tick), back, "{bat}");
    }
}
