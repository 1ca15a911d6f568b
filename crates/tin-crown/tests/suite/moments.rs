//! Where everyone is, and what is over, at the moment of touch: worked out by hand.

use tin_crown::Facing;

use crate::stage::{assert_met, lines, plan_of, text_replay};

/// An encounter at 60 ticks a second without gravity, from its kinds on.
fn file(rest: &str) -> String {
    format!(
        "edition = 1\ntitle = \"moments\"\n\
         arena.bounds = {{ min = [-2000, -2000], max = [2000, 2000] }}\n{rest}"
    )
}

/// A gun at the origin that shoots at so many units a second, and a post 4 in radius at 96 with 1 s of grace.
fn shot_at_post(speed: u32, rest: &str) -> String {
    file(&format!(
        "[kind.gun]
        launcher.gun = {{ launches = \"ball\", button = \"fire\", speed = {speed} }}
        [kind.ball]
        hitbox.tip = {{ radius = 1 }}
        lifetime = \"1s\"
        [kind.post]
        meter.health = {{ max = 9 }}
        hurtbox.wood = {{ radius = 4 }}
        motion = \"coast\"
        invincible = {{ after_hit = \"1s\" }}
        [[place]]
        kind = \"gun\"
        at = [0, 0]
        [[place]]
        kind = \"post\"
        at = [96, 0]
        [[rule]]
        name = \"ball knocks post\"
        hitbox = \"ball.tip\"
        hurtbox = \"post.wood\"
        damage = 1
        {rest}
        [drill.d]
        length = \"15t\"
        input = [{{ when = \"1t\", who = \"gun\", press = \"fire\" }}]
        expect = [{{ place = {{ who = \"post\", inside = {{ min = [97, -1], max = [200, 1] }} }}, when = \"15t\" }}]"
    ))
}

#[test]
fn a_push_is_away_from_where_it_touched() {
    // On 1 the ball is at 0. At 2400 a second, 40 a tick, it comes from 80 to 120 on 4, and touches the post, 91 to
    // 101, at 0.275 of it: from the left, though it ends on the right. `away` and `along` throw the post to the right.
    for (speed, push) in [
        (2400, "away = 60"),
        (2400, "along = 60"),
        (240, "away = 60"),
    ] {
        // At 240, 4 a tick, it touches on 1 + 23.
        let length = if speed == 240 { "30t" } else { "15t" };
        let text = shot_at_post(speed, &format!("knockback = {{ {push}, for = \"10t\" }}"));
        assert_met(&text.replace("15t", length));
    }
}

#[test]
fn at_equal_x_who_comes_from_behind_its_own_back() {
    // Who faces right is to the left of whom: in front of who faces left, behind who faces right.
    for (who, whom, passes) in [
        ("right", "left", ["front", "left"]),
        ("right", "right", ["behind", "left"]),
        ("left", "left", ["behind", "right"]),
        ("left", "right", ["front", "right"]),
    ] {
        let rules = ["front", "behind", "left", "right"].map(|from| {
            format!(
                "[[rule]]\nname = \"{from}\"\nhitbox = \"a.h\"\nhurtbox = \"b.u\"\ncue = \"hit\"\n\
                 gate = {{ from = \"{from}\" }}\nrepeat = \"once-per-touch\"\n"
            )
        });
        let text = file(&format!(
            "[kind.a]\nhitbox.h = {{ radius = 3 }}\n[kind.b]\nhurtbox.u = {{ radius = 3 }}\n\
             [[place]]\nkind = \"a\"\nat = [50, 50]\nfacing = \"{who}\"\n\
             [[place]]\nkind = \"b\"\nat = [50, 50]\nfacing = \"{whom}\"\n{}[drill.d]\nlength = \"1t\"\n",
            rules.concat()
        ));
        let landed = lines(&text, "hit").into_iter();
        let landed = landed.filter(|line| line.verdict.as_deref() == Some("landed"));
        let landed: Vec<String> = landed.filter_map(|line| Some(line.rule?.into())).collect();
        assert_eq!(landed, passes, "{who} {whom}");
    }
}

/// A vane that is turned about the origin on tick 11 to where the pose says, and a post.
fn vane(blade: &str, to: f64, post: [f64; 2]) -> String {
    file(&format!(
        "[kind.vane]
        turns = \"rotates\"
        hitbox.blade = {{ {blade} }}
        [kind.post]
        meter.health = {{ max = 99 }}
        hurtbox.all = {{ radius = 0.5 }}
        [[place]]
        kind = \"vane\"
        at = [0, 0]
        facing = 0
        [[place]]
        kind = \"post\"
        at = [{}, {}]
        [[rule]]
        name = \"blade clips\"
        hitbox = \"vane.blade\"
        hurtbox = \"post.all\"
        damage = 1
        [drill.d]
        length = \"12t\"
        pose = [
          {{ when = \"10t\", who = \"vane\", at = [0, 0], facing = 0 }},
          {{ when = \"11t\", who = \"vane\", at = [0, 0], facing = {to} }},
        ]",
        post[0], post[1]
    ))
}

#[test]
fn a_turn_of_some_times_five_degrees_has_so_many_parts() {
    // A blade 1 thick reaches from 5 to 35. Of n parts, the kth begins at (k - 1) / n: a post 30 off at 5 k degrees is
    // met by the kth, and only by it when it is thin enough (30 sin 5 = 2.6 > 1).
    for turn in (10_u32..180).step_by(5) {
        let parts = turn / 5;
        let part = parts.div_ceil(2);
        let angle = f64::from(5 * part).to_radians();
        let blade = "size = [30, 1], at = [20, 0]";
        let post = [30.0 * angle.cos(), 30.0 * angle.sin()];
        let hits = lines(&vane(blade, f64::from(turn), post), "hit");
        let moments: Vec<f64> = hits.iter().filter_map(|hit| hit.moment).collect();
        let begins = (f64::from(part - 1) / f64::from(parts) * 4096.0).floor() / 4096.0;
        assert_eq!(moments, [begins], "{turn}");
    }
}

#[test]
fn parts_are_those_of_boxes_that_turn_not_of_their_owners() {
    // The pole spins by 4 degrees a tick, from 0 to 4 on 11: no parts. At 35 off and 2 degrees the vane is 35 sin 2 = 1.22
    // from where the pole lies at either end, and neither is thicker than 1. The vane turns by 80 on 11: 16 parts, in the
    // eighth of which the pole lies at 2 degrees, if the vane's box turns; one that does not has none.
    for (blade, hits) in [
        ("radius = 0.4", 0),
        ("size = [0.8, 0.8], fixed = true", 0),
        ("size = [0.8, 0.8]", 1),
    ] {
        let at = [
            35.0 * 2_f64.to_radians().cos(),
            35.0 * 2_f64.to_radians().sin(),
        ];
        let at = format!("at = [{}, {}]", at[0], at[1]);
        let text = vane(blade, 80.0, [0.0, 0.0])
            .replace("who = \"vane\", at = [0, 0]", &format!("who = \"vane\", {at}"))
            .replace("kind = \"vane\"\n        at = [0, 0]", &format!("kind = \"vane\"\n{at}"))
            .replace(
                "hurtbox.all = { radius = 0.5 }",
                "turns = \"rotates\"\nfaces = { spin = 240 }\nhurtbox.all = { size = [40, 1], at = [20, 0] }",
            )
            .replace("[[rule]]", "facing = -40\n[[rule]]");
        assert_eq!(lines(&text, "hit").len(), hits, "{blade}");
    }
}

#[test]
fn a_pair_that_parts_and_touches_again_has_the_moment_of_that() {
    let blade = "size = [30, 1], at = [20, 0]";
    let hits = |text: &str| {
        let hits = lines(text, "hit").into_iter();
        hits.map(|hit| (hit.tick, hit.moment.unwrap_or_default()))
            .filter(|(tick, _)| *tick > 9)
            .collect::<Vec<_>>()
    };
    // On 10 the vane comes to where it is without a way, and its blade touches the post at 30. Turned by 5, all of one
    // part, it is 30 sin 5 = 2.6 off.
    assert_eq!(hits(&vane(blade, 5.0, [30.0, 0.0])), [(10, 1.0)]);
    // Turned by 40, in 8 parts, while the post goes from 30 at 0 degrees to 10 at 40. With s the share of the way it is at
    // (30 - 22.34 s, 6.428 s); in part k the blade lies at 5 k degrees. In the first it is 26.4 sin 5 - ... = 1.6 off at
    // the least, in the last 19.284 - 19.284 s, which is less than 1 from 0.948 on: it touches again then. From there on
    // it goes on touching.
    let text = vane(blade, 40.0, [30.0, 0.0]).replace(
        "pose = [",
        "pose = [\n{ when = \"10t\", who = \"post\", at = [30, 0] },\n\
         { when = \"11t\", who = \"post\", at = [7.660444, 6.427876] },",
    );
    let hits = hits(&text);
    let [(10, 1.0), (11, again), (12, 0.0)] = hits[..] else {
        panic!("{hits:?}");
    };
    assert!((again - 0.948).abs() < 0.001, "{again}");
}

#[test]
fn what_turns_more_than_half_a_turn_a_tick_is_refused() {
    for (turns, refused) in [
        ("faces = { spin = 1800 }", false),
        ("faces = { spin = -1800 }", false),
        ("faces = { spin = 1801 }", true),
        ("faces = { spin = -3600 }", true),
        ("walk = { speed = 0, turn = 1800 }", false),
        ("walk = { speed = 0, turn = 3600 }", true),
        // Toward an aim it never turns more than half.
        ("faces = { to = 90, turn = 9000 }", false),
    ] {
        let text = file(&format!(
            "[kind.fan]\nturns = \"rotates\"\n{turns}\n[[place]]\nkind = \"fan\"\nat = [0, 0]\n"
        ));
        let text = text.replace("arena.bounds", "tick_rate = 10\narena.bounds");
        let checked = tin_crown::check(text.as_bytes());
        assert_eq!(
            checked.plan.is_none(),
            refused,
            "{turns}: {}",
            checked.findings
        );
    }
    // Half a turn a tick goes the way that it says: over +y, or over -y.
    for (spin, at, hits) in [
        (1800, 11.0, true),
        (1800, -11.0, false),
        (-1800, -11.0, true),
    ] {
        let text = vane("size = [20, 1], at = [20, 0]", 0.0, [0.0, at]);
        let (kinds, _) = text.split_once("[drill.d]").expect("it has a drill");
        let kinds = kinds.replace(
            "rotates\"",
            &format!("rotates\"\nfaces = {{ spin = {spin} }}"),
        );
        let text = kinds.replace("arena.bounds", "tick_rate = 10\narena.bounds")
            + "[drill.d]\nlength = \"1t\"\n";
        assert_eq!(lines(&text, "hit").len(), usize::from(hits), "{spin} {at}");
    }
}

#[test]
fn a_shot_goes_where_its_maker_faces_at_the_end_of_the_tick() {
    let text = file(
        "[kind.hero]
        walk = { speed = 60 }
        launcher.gun = { launches = \"ball\", button = \"shoot\", speed = 300 }
        hitbox.blade = { size = [10, 4], at = [20, 0] }
        attack.cut = { button = \"cut\", active = \"2t\", live = [\"blade\"] }
        [kind.ball]
        hitbox.tip = { radius = 1 }
        lifetime = \"1s\"
        [kind.post]
        meter.health = { max = 9 }
        hurtbox.wood = { radius = 5 }
        [[place]]
        kind = \"hero\"
        at = [100, 50]
        [[place]]
        kind = \"post\"
        at = [80, 50]
        [[rule]]
        name = \"ball\"
        hitbox = \"ball.tip\"
        hurtbox = \"post.wood\"
        damage = 1
        [[rule]]
        name = \"cut\"
        hitbox = \"hero.blade\"
        hurtbox = \"post.wood\"
        damage = 1
        [drill.d]
        length = \"30t\"
        input = [
          { when = \"10t\", who = \"hero\", press = \"left\" },
          { when = \"10t\", who = \"hero\", press = \"shoot\" },
          { when = \"10t\", who = \"hero\", press = \"cut\" },
        ]
        # The ball is at 99 on 10, goes 5 a tick, and is 14 - 1 - 5 from the post: two ticks on.
        expect = [
          { hit = { whom = \"post\", rule = \"cut\" }, when = \"10t\", within = \"0t\" },
          { hit = { whom = \"post\", rule = \"ball\" }, when = \"13t\", within = \"0t\" },
        ]",
    );
    assert_met(&text);
}

#[test]
fn what_rotates_and_flies_faces_its_flight_at_once() {
    // Straight up from who faces right or left; what hovers turns by its maker's facing.
    for (kind, facing, degrees) in [
        ("", "right", 90.0),
        ("", "left", 90.0),
        ("faces = { keeps = true }", "left", 90.0),
        (
            "motion = { hover = { size = [0, 9], period = \"1s\" } }",
            "left",
            180.0,
        ),
    ] {
        let text = file(&format!(
            "[kind.archer]
            launcher.bow = {{ launches = \"arrow\", button = \"loose\", aim = {{ angle = 90 }}, speed = 300 }}
            [kind.arrow]
            turns = \"rotates\"
            {kind}
            hitbox.shaft = {{ size = [40, 2] }}
            lifetime = \"1s\"
            [[place]]
            kind = \"archer\"
            at = [100, 50]
            facing = \"{facing}\"
            [drill.d]
            length = \"3t\"
            input = [{{ when = \"1t\", who = \"archer\", press = \"loose\" }}]"
        ));
        let seen = crate::stage::played(&text, "archer.bow.1", |tick, view| {
            let Facing::Angle(angle) = view.facing else {
                panic!("it rotates")
            };
            (tick, angle.known_degrees())
        });
        assert_eq!(seen[0], (1, degrees), "{kind} {facing}");
    }
}

/// A mace that hits a hero on tick 0, once, with what `rest` says.
fn mace(rest: &str, more: &str) -> String {
    file(&format!(
        "[kind.hero]
        meter.health = {{ max = 100 }}
        hurtbox.torso = {{ size = [10, 10] }}
        invincible = {{ after_hit = \"30t\" }}
        [kind.mace]
        hitbox.head = {{ size = [10, 10] }}
        [kind.steam]
        hitbox.jet = {{ size = [10, 10], pulse = {{ on = \"1t\", off = \"14t\" }} }}
        [[place]]
        kind = \"hero\"
        at = [50, 50]
        [[place]]
        kind = \"mace\"
        at = [50, 50]
        [[place]]
        kind = \"steam\"
        at = [50, 50]
        [[rule]]
        name = \"mace\"
        hitbox = \"mace.head\"
        hurtbox = \"hero.torso\"
        damage = 1
        {rest}
        [drill.d]
        length = \"80t\"
        {more}"
    ))
}

#[test]
fn what_a_line_says_of_its_end_counts_the_rest_of_its_hit() {
    // A window of 30 and a stun of 10 from 0, and rest on 1 to 5: they are over on 35 and 15, and the mace, which rests
    // itself till then, hits again on 35.
    let text = mace("stun = \"10t\"\nhitstop = \"5t\"", "");
    let until = |event: &str, what: &str| {
        let lines = lines(&text, event).into_iter();
        let own = lines.filter(|line| {
            let is = [&line.verdict, &line.state];
            is.iter().any(|own| own.as_deref() == Some(what))
        });
        own.map(|line| (line.tick, line.until)).collect::<Vec<_>>()
    };
    assert_eq!(
        until("hit", "landed"),
        [(0, Some(35)), (35, Some(70)), (70, Some(105))]
    );
    assert_eq!(until("hit", "invincible")[0], (6, Some(35)));
    assert_eq!(
        until("state", "stunned")[..2],
        [(0, Some(15)), (35, Some(50))]
    );
    // `windows` of the run says the same as the line.
    let plan = plan_of(&text);
    let mut sim = tin_crown::Sim::new(&plan, plan.drill("d").expect("drill d"));
    let hero = plan.actor("hero").expect("it is there");
    for _ in 0..34 {
        let until: Vec<u32> = sim.windows(hero).map(|window| window.until.0).collect();
        assert_eq!(until, [35], "tick {}", sim.tick());
        sim.step().expect("within the limits");
    }
    // `stunned` of a view says whether it can act on the next tick.
    let stunned = crate::stage::played(&text, "hero", |tick, view| (tick, view.stunned));
    let first = stunned.iter().find(|(_, stunned)| !stunned);
    assert_eq!(first, Some(&(14, false)));
}

#[test]
fn while_stunned_counts_hitstop() {
    // Stunned from 0 for 10, at rest on 1 to 10: over on 20. The steam is on 0 (not stunned before) and 15, 30 …; its hits
    // are gated by the very stun that `while` asks for.
    let text = mace(
        "stun = \"10t\"\nhitstop = \"10t\"\nrepeat = \"once-per-touch\"",
        "",
    )
    .replace("invincible = { after_hit = \"30t\" }\n", "");
    let rule = "[[rule]]\nname = \"steam\"\nhitbox = \"steam.jet\"\nhurtbox = \"hero.torso\"\ndamage = 1\n\
                gate = { whom = { stunned = true } }\n[drill.d]";
    let expect = "expect = [{ hit = { rule = \"steam\" }, while = { who = \"hero\", stunned = true }, times = 1 }]";
    let text = text.replace("[drill.d]", rule) + expect;
    assert_met(&text);
    let landed = text_replay(&text);
    assert_eq!(crate::stage::landed(&landed), [0, 15]);
}

#[test]
fn a_fall_is_no_faster_than_most_where_gravity_acts() {
    // Thrown down at 500 a second. With gravity, also while it is pushed, 100 at most: 100 / 60 a tick; without, 500 / 60.
    for (gravity, height, way) in [
        (900, false, 100.0),
        (0, false, 500.0),
        (900, true, 100.0),
        (0, true, 500.0),
    ] {
        let arena = match height {
            true => {
                format!("arena.height = {{ gravity = {gravity}, ground = \"none\" }}\narena.bounds")
            }
            false => format!("arena.gravity = {gravity}\narena.bounds"),
        };
        let at = if height { "[0, 0, 500]" } else { "[0, 500]" };
        let text = file(&format!(
            "[kind.stone]
            motion = {{ fall = {{ most = 100 }} }}
            [[place]]
            kind = \"stone\"
            at = {at}
            [drill.d]
            length = \"3t\"
            apply = [{{ when = \"1t\", whom = \"stone\", knockback = {{ up = -500, for = \"10t\" }} }}]"
        ));
        let text = text.replace("arena.bounds", &arena);
        let fell = crate::stage::played(&text, "stone", |tick, view| {
            (tick, if height { view.height } else { view.at.y })
        });
        let by = fell[2].1 - fell[3].1;
        assert!((by - way / 60.0).abs() < 1e-9, "{gravity} {height}: {by}");
    }
}
