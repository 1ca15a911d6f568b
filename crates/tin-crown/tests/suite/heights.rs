//! Arenas with heights, worked out by hand, and against the plane.

use proptest::prelude::*;
use tin_crown::Sim;
use tin_crown::sim::ActorView;

use crate::stage::{all_lines as lines, plan_of as plan, played};

/// A view from above at so many ticks a second, with height, from its kinds on.
pub fn file(rate: u32, ground: &str, rest: &str) -> String {
    format!(
        "edition = 1\ntitle = \"heights\"\ntick_rate = {rate}\n\
         [arena]\nbounds = {{ min = [-400, -400], max = [400, 400] }}\n\
         [arena.height]\ngravity = 900\nground = {ground}\n{rest}"
    )
}

/// The ticks and moments of hits that landed.
fn landed(text: &str) -> Vec<(u32, f64)> {
    let lines = lines(text).into_iter();
    let hits = lines.filter(|line| line.verdict.as_deref() == Some("landed"));
    hits.map(|line| (line.tick, line.moment.unwrap_or_default()))
        .collect()
}

/// Plays a drill up to a tick, and looks at an actor there.
pub fn seen<T>(text: &str, who: &str, tick: u32, look: impl Fn(ActorView<'_>) -> T) -> T {
    let plan = plan(text);
    let mut sim = Sim::new(&plan, plan.drill("d").expect("it is there"));
    while sim.tick().0 < tick && sim.step().expect("within the limits") {}
    look(sim.actor(plan.actor(who).expect("it is there")))
}

const HERO: &str = "
    [kind.hero]
    body = { radius = 6, height = [0, 20] }
    walk = { speed = 90, jump = 240 }
    meter.health = { max = 9 }
    hurtbox.all = { radius = 6, height = [0, 20] }
    [[place]]
    kind = \"hero\"
    at = [40, 0]
";

#[test]
fn a_jump_clears_a_wire_that_one_a_tick_later_does_not() {
    // Gravity takes 900 / 60 = 15 a second in each tick, so k ticks after the press it is
    // (240 k - 15 (1 + … + k)) / 60 = 4k - k (k + 1) / 8 high: 3.75, 7.25, … It is above the wire's 6 after
    // 1 + (6 - 3.75) / 3.5 = 1.643 ticks. It goes 1.5 a tick, and its hurtbox of 6 meets the wire's edge at
    // 99 from 93 on: after 53 / 1.5 = 35.33 ticks. Pressed on tick 34 the jump begins after 33 ticks and is
    // high enough after 34.643; pressed on 35, after 35.643, too late: it is hit within tick 36, when it
    // comes to 93, after 0.33 of it.
    for (press, hits) in [(34, vec![]), (35, vec![36])] {
        let text = file(
            60,
            "0",
            &format!(
                "{HERO}
                [kind.wire]
                hitbox.hot = {{ size = [2, 100], height = [0, 6] }}
                [[place]]
                kind = \"wire\"
                at = [100, 0]
                [[rule]]
                name = \"wire burns\"
                hitbox = \"wire.hot\"
                hurtbox = \"hero.all\"
                damage = 1
                repeat = \"once-per-touch\"
                [drill.d]
                length = \"50t\"
                input = [
                  {{ when = \"0s\", who = \"hero\", hold = \"right\" }},
                  {{ when = \"{press}t\", who = \"hero\", press = \"jump\" }},
                ]"
            ),
        );
        let ticks: Vec<u32> = landed(&text).into_iter().map(|(tick, _)| tick).collect();
        assert_eq!(ticks, hits, "pressed on {press}");
    }
}

#[test]
fn a_fall_onto_a_thin_lid_is_caught_at_any_rate() {
    // From 100 the soles are to come down by 98 onto a lid whose top is at 2. At 60 ticks a second k ticks
    // take it down by 15 k (k + 1) / 120: 94.5 after 27, 101.5 after 28, so half through tick 28. At 20 ticks
    // a second by 45 k (k + 1) / 40: 81 after 8, 101.25 after 9, so 17 / 20.25 = 0.8395 through tick 9.
    for (rate, tick, part) in [(60, 28, 0.5), (20, 9, 17.0 / 20.25)] {
        let text = file(
            rate,
            "\"none\"",
            "[kind.faller]
            motion = \"fall\"
            hitbox.soles = { radius = 3, height = [0, 2] }
            [kind.beetle]
            meter.health = { max = 9 }
            hurtbox.lid = { radius = 3, height = [0, 2] }
            [[place]]
            kind = \"faller\"
            at = [0, 0, 100]
            [[place]]
            kind = \"beetle\"
            at = [0, 0]
            [[rule]]
            name = \"soles crush lid\"
            hitbox = \"faller.soles\"
            hurtbox = \"beetle.lid\"
            gate = { from = \"above\" }
            damage = 1
            repeat = \"once-per-touch\"
            [drill.d]
            length = \"2s\"",
        );
        let hits = landed(&text);
        assert_eq!(hits.len(), 1, "{hits:?}");
        assert_eq!(hits[0].0, tick);
        assert!((hits[0].1 - part).abs() < 1.0 / 4096.0 + 1e-6, "{hits:?}");
    }
}

#[test]
fn a_shot_passes_over_one_wall_and_is_stopped_by_the_next() {
    // Its muzzle is 10 high, the walls 8 and 12. It goes 10 a tick; with its radius of 1 it meets the second
    // at 99: launched on tick 5, after 9.9 ticks, so on tick 15. Aimed 4 units lower, the first stops it, at
    // 49, on tick 10.
    for (muzzle, tick, x) in [(10, 15, 99.0), (6, 10, 49.0)] {
        let text = file(
            60,
            "0",
            &format!(
                "[kind.gun]
                launcher.pop = {{ launches = \"cork\", button = \"shoot\", muzzle = [0, 0, {muzzle}], speed = 600, shot = true }}
                [kind.cork]
                body = {{ radius = 1, height = [-1, 1] }}
                hitbox.tip = {{ radius = 1, height = [-1, 1] }}
                lifetime = \"2s\"
                [[place]]
                kind = \"gun\"
                at = [0, 0]
                [drill.d]
                length = \"1s\"
                input = [{{ when = \"5t\", who = \"gun\", press = \"shoot\" }}]"
            ),
        )
        .replace(
            "[arena.height]",
            "solids = [{ min = [50, -50], max = [54, 50], height = [0, 8] }, { min = [100, -50], max = [104, 50], height = [0, 12] }]\n[arena.height]",
        );
        let end = lines(&text).into_iter().find(|line| line.event == "vanish");
        let end = end.expect("a solid ends it");
        assert_eq!((end.tick, end.of.as_deref()), (tick, Some("solid")));
        assert!((end.x.unwrap_or_default() - x).abs() < 1e-5, "{end:?}");
        assert_eq!(end.height, Some(f64::from(muzzle)));
    }
}

#[test]
fn a_lift_carries_who_stands_on_it_and_a_pillar_squeezes() {
    // The lift's top rises from 4 to 34 within 30 ticks: 1 a tick. Who stands on it is carried; who stands
    // beside it stays on the ground. The pillar comes down from 40 to 10 at 1 a tick, onto a head at 20: it
    // meets it after 20 ticks, and squeezes on tick 21.
    let text = file(
        60,
        "0",
        "[kind.rider]
        body = { radius = 5, height = [0, 20] }
        motion = \"fall\"
        [kind.lift]
        solid = { size = [40, 40], height = [0, 4] }
        motion = { path = { keys = [{ when = \"0s\", at = [0, 0] }, { when = \"30t\", at = [0, 0, 30] }] } }
        [kind.pillar]
        solid = { size = [40, 40], height = [0, 9] }
        motion = { path = { keys = [{ when = \"0s\", at = [0, 0] }, { when = \"30t\", at = [0, 0, -30] }] } }
        [kind.head]
        meter.health = { max = 1 }
        body = { radius = 5, height = [0, 20] }
        motion = \"fall\"
        [[place]]
        kind = \"lift\"
        at = [0, 0]
        [[place]]
        kind = \"rider\"
        id = \"carried\"
        at = [0, 0, 4]
        [[place]]
        kind = \"rider\"
        id = \"beside\"
        at = [80, 0, 0]
        [[place]]
        kind = \"pillar\"
        at = [200, 0, 40]
        [[place]]
        kind = \"head\"
        at = [200, 0]
        [drill.d]
        length = \"1s\"",
    );
    for (tick, height) in [(0, 4.0), (10, 14.0), (30, 34.0), (50, 34.0)] {
        let (found, grounded) = seen(&text, "carried", tick, |view| (view.height, view.grounded));
        assert!(
            (found - height).abs() < 1e-9 && grounded,
            "{found} on tick {tick}"
        );
        assert_eq!(seen(&text, "beside", tick, |view| view.height), 0.0);
    }
    let death = lines(&text).into_iter().find(|line| line.event == "death");
    let death = death.expect("it is squeezed");
    assert_eq!((death.tick, death.of.as_deref()), (21, Some("squeezed")));
}

#[test]
fn who_walks_off_a_ledge_falls_and_a_pit_ends_it() {
    // The shelf reaches to x = 50 and is 30 high; it leaves it when its left edge, 6 behind, passes that. It
    // sets out from 40 at 1.5 a tick: after 11 ticks it is at 56.5, and nothing is beneath it. On the next it
    // begins to fall: 15 k (k + 1) / 120, and lies wholly below -40, its head being 20 above its soles, when
    // it has come down by more than 90: 27 ticks make 94.5, 26 make 87.75.
    let text = file(60, "\"none\"", &format!("{HERO}outside = \"dies\"\n"))
        .replace("outside", "[drill.d]\nlength = \"2s\"\ninput = [{ when = \"0s\", who = \"hero\", hold = \"right\" }]\n#")
        .replace("[kind.hero]", "[kind.hero]\noutside = \"dies\"")
        .replace("at = [40, 0]", "at = [40, 0, 30]")
        .replace(
            "max = [400, 400] }",
            "max = [400, 400], height = [-40, 200] }\nsolids = [{ min = [-50, -50], max = [50, 50], height = [20, 30] }]",
        );
    assert!(seen(&text, "hero", 10, |view| view.grounded));
    assert!(!seen(&text, "hero", 11, |view| view.grounded));
    assert_eq!(seen(&text, "hero", 11, |view| view.height), 30.0);
    assert_eq!(seen(&text, "hero", 12, |view| view.height), 29.75);
    let death = lines(&text).into_iter().find(|line| line.event == "death");
    let death = death.expect("it leaves the arena below");
    assert_eq!((death.tick, death.of.as_deref()), (38, Some("outside")));
}

#[test]
fn a_patrol_turns_at_a_ledge_and_a_blast_hurts_by_its_distance_in_three_axes() {
    // The shelf ends at 50, the walker's front is 5 ahead, and it goes 1 a tick from 40: with its front on 49
    // after 4 ticks the next would be on 50, where nothing lies, so on tick 5 it turns, and is at 43.
    // The blast at (0, 100), 60 high, is 30 beside the post at (30, 100) and 40 above its top of 20: the distance
    // is 50, in the band of 5. Seen from above it would be 30, in the band of 10.
    let text = file(
        60,
        "\"none\"",
        "[kind.walker]
        body = { radius = 5, height = [0, 10] }
        gravity = 1
        motion = { patrol = { speed = 60, turns_at_ledges = true } }
        [kind.pacer]
        body = { radius = 5, height = [0, 10] }
        gravity = 1
        motion = { patrol = { axis = \"y\", speed = 60, turns_at_ledges = true } }
        [kind.blast]
        hitbox.heat = { radius = 100, height = [-90, 90] }
        [kind.post]
        meter.health = { max = 90 }
        hurtbox.wood = { radius = 0.001, height = [0, 20] }
        [[place]]
        kind = \"walker\"
        at = [40, 0, 0]
        [[place]]
        kind = \"pacer\"
        at = [0, 40, 0]
        [[place]]
        kind = \"blast\"
        at = [0, 100, 60]
        [[place]]
        kind = \"post\"
        at = [30, 100]
        [[rule]]
        name = \"heat chars\"
        hitbox = \"blast.heat\"
        hurtbox = \"post.wood\"
        damage = { bands = [[45, 10], [55, 5]] }
        every = \"1s\"
        [drill.d]
        length = \"30t\"",
    )
    .replace(
        "[arena.height]",
        "solids = [{ min = [-50, -50], max = [50, 50], height = [-20, 0] }]\n[arena.height]",
    );
    let x = |tick| seen(&text, "walker", tick, |view| view.at.x);
    assert_eq!((x(4), x(5), x(6)), (44.0, 43.0, 42.0));
    let y = |tick| seen(&text, "pacer", tick, |view| view.at.y);
    assert_eq!((y(4), y(5), y(6)), (44.0, 43.0, 42.0));
    let hit = lines(&text).into_iter().find(|line| line.event == "hit");
    assert_eq!(hit.and_then(|hit| hit.amount), Some(5.0));
}

#[test]
fn distances_count_height() {
    // The crow is at (0, 0), 60 high; the low post at (80, 0) on the ground is sqrt(80^2 + 60^2) = 100 from it,
    // and the high one at (-30, 0), 160 high, sqrt(30^2 + 100^2) = 104.4: the low one is nearer, whatever it
    // looks like from above. So the crow turns there, to 0 degrees, and spits there.
    // The kite makes for it from (0, 100), 48 high, to 80 units: it stops 64 away in the plane.
    // The plum lies 10 above the hero who takes it, and waits for none within 9: it is back 5 ticks after.
    let text = file(
        60,
        "0",
        "[kind.post]
        tags = [\"mark\"]
        hurtbox.wood = { radius = 4, height = [0, 20] }
        [kind.crow]
        turns = \"rotates\"
        faces = { toward = \"#mark\" }
        hurtbox.all = { radius = 4, height = [-4, 4] }
        sensor.eye = { area = { radius = 200 }, notices = \"low\" }
        launcher.spit = { launches = \"pip\", clock = { every = \"10t\" }, aim = { at = \"#mark\" }, speed = 60 }
        [kind.pip]
        lifetime = \"9t\"
        hitbox.all = { radius = 1, height = [-1, 1] }
        [kind.kite]
        motion = { chase = { whom = \"low\", speed = 60, stop_at = 80 } }
        hurtbox.all = { radius = 4, height = [-4, 4] }
        [kind.hero]
        body = { radius = 6, height = [0, 20] }
        [kind.plum]
        pickup = { area = { radius = 4, height = [0, 5] }, by = \"hero\", when_full = \"taken\", \
          back_after = \"5t\", unless_near = { who = \"hero\", within = 9 } }
        [[place]]
        id = \"low\"
        kind = \"post\"
        at = [80, 0]
        [[place]]
        id = \"high\"
        kind = \"post\"
        at = [-30, 0, 160]
        [[place]]
        kind = \"crow\"
        at = [0, 0, 60]
        facing = 90
        [[place]]
        kind = \"kite\"
        at = [180, 0, 48]
        [[place]]
        kind = \"hero\"
        at = [-200, 0]
        [[place]]
        kind = \"plum\"
        at = [-200, 0, 10]
        [drill.d]
        length = \"60t\"",
    );
    let sense = lines(&text).into_iter().find(|line| line.event == "sense");
    assert_eq!(sense.and_then(|line| line.distance), Some(100.0));
    let ahead = seen(&text, "crow", 5, |view| view.facing.ahead());
    assert_eq!((ahead.x, ahead.y), (1.0, 0.0));
    let pip = played(&text, "crow.spit.1", |_, view| view.at.x);
    assert!(pip.last().is_some_and(|x| *x > 0.0), "{pip:?}");
    // From 100 away to 64: 36 ticks, and no further.
    let x = |tick| seen(&text, "kite", tick, |view| view.at.x);
    assert_eq!((x(35), x(36), x(50)), (145.0, 144.0, 144.0));
    let taken = lines(&text)
        .into_iter()
        .filter(|line| line.event == "pickup");
    let ticks: Vec<u32> = taken.map(|line| line.tick).take(3).collect();
    assert_eq!(ticks, [0, 5, 10]);
}

#[test]
fn why_says_by_how_much_two_passed_each_other_in_height() {
    // A beam 24 to 40 high over a head of 20: 4 above it, all the way.
    let text = file(
        60,
        "0",
        &format!(
            "{HERO}
            [kind.beam]
            hitbox.edge = {{ size = [6, 100], height = [24, 40] }}
            [[place]]
            kind = \"beam\"
            at = [100, 0]
            [[rule]]
            name = \"beam bruises\"
            hitbox = \"beam.edge\"
            hurtbox = \"hero.all\"
            damage = 1
            [drill.d]
            length = \"1s\"
            input = [{{ when = \"0s\", who = \"hero\", hold = \"right\" }}]"
        ),
    );
    let plan = plan(&text);
    let [who, whom] = ["beam", "hero"].map(|name| plan.choose(name).expect("it is there"));
    let question = tin_crown::study::Question {
        who: &who,
        whom: &whom,
        rule: None,
        when: None,
    };
    let drill = plan.drill("d").expect("it is there");
    let answer = tin_crown::study::why(&plan, drill, &question).expect("within the limits");
    let apart = answer.apart.expect("they never touched");
    assert_eq!(apart.nearest.map(|near| near.above), Some(-4.0));
    assert!(
        apart.says[0].contains("beam.edge passed 4 above hero.all"),
        "{:?}",
        apart.says
    );
}

#[test]
fn heights_need_an_arena_that_has_them() {
    for (arena, kind, place, words) in [
        (
            "",
            "hurtbox.all = { radius = 1, height = [0, 9] }",
            "[0, 0]",
            "the arena has no height",
        ),
        (
            "",
            "hurtbox.all = { radius = 1 }",
            "[0, 0, 5]",
            "the arena has no height",
        ),
        (
            "gravity = 9\n[arena.height]\n",
            "hurtbox.all = { radius = 1 }",
            "[0, 0]",
            "cannot be used together",
        ),
        (
            "",
            "starts = \"a\"\nstate.a.teleport = [0, 0, 5]",
            "[0, 0]",
            "the arena has no height",
        ),
        (
            "",
            "respawn = { at = { places = [[0, 0, 5]] } }",
            "[0, 0]",
            "the arena has no height",
        ),
        (
            "[arena.height]\n",
            "hurtbox.all = { radius = 1, height = [9, 0] }",
            "[0, 0]",
            "the heights are inverted",
        ),
        (
            "[arena.height]\n",
            "hurtbox.all = { radius = 1 }",
            "{ choice = [[0, 0, 1], [0, 0, 2]] }",
            "at several heights",
        ),
        (
            "[arena.height]\nground = \"nowhere\"\n",
            "hurtbox.all = { radius = 1 }",
            "[0, 0]",
            "unknown value",
        ),
        (
            "[arena.height]\n",
            "hurtbox.all = { radius = 1 }",
            "[0, 0, 1, 2]",
            "a point, such as [12, 20]",
        ),
    ] {
        let text = format!(
            "edition = 1\ntitle = \"x\"\n[arena]\nbounds = {{ min = [-9, -9], max = [99, 99] }}\n{arena}\
             [kind.one]\n{kind}\n[[place]]\nkind = \"one\"\nat = {place}\n[drill.d]\nlength = \"1s\""
        );
        let found = tin_crown::check(text.as_bytes()).findings.to_string();
        assert!(found.contains(words), "{words}: {found}");
    }
}

#[test]
fn findings_of_places_ask_with_height_and_those_of_speed_in_every_direction() {
    // The bounds go down to -30. The top of the moth, 4 above its place, is at -29 from -33 and at -32 from -36.
    for (height, outside) in [(-33, false), (-36, true)] {
        let text = format!(
            "edition = 1\ntitle = \"x\"\n[arena]\n\
             bounds = {{ min = [-9, -9], max = [99, 99], height = [-30, 90] }}\n[arena.height]\nground = \"none\"\n\
             [kind.moth]\nhurtbox.all = {{ radius = 4, height = [-4, 4] }}\n\
             [[place]]\nkind = \"moth\"\nat = [0, 0, {height}]\n[drill.d]\nlength = \"1s\""
        );
        let found = tin_crown::check(text.as_bytes()).findings.to_string();
        assert_eq!(
            found.contains("outside-arena"),
            outside,
            "{height}: {found}"
        );
    }
    // A walker's hitbox and the moth touch over 6 crosswise, too: seen from above it goes there, at 20 a tick;
    // where it falls it goes sideways only.
    for (gravity, skips) in [(0, true), (900, false)] {
        let text = format!(
            "edition = 1\ntitle = \"x\"\n[arena]\nbounds = {{ min = [-9, -9], max = [99, 99] }}\n\
             contact = \"sampled\"\ngravity = {gravity}\n\
             [kind.imp]\nwalk = {{ speed = 1200 }}\nhitbox.tip = {{ size = [30, 2] }}\n\
             [kind.moth]\nmeter.health = {{ max = 9 }}\nhurtbox.all = {{ size = [30, 4] }}\n\
             [[place]]\nkind = \"imp\"\nat = [0, 0]\n[[place]]\nkind = \"moth\"\nat = [80, 0]\n\
             [[rule]]\nname = \"tip pricks\"\nhitbox = \"imp.tip\"\nhurtbox = \"moth.all\"\ndamage = 1\n\
             [drill.d]\nlength = \"1s\""
        );
        let found = tin_crown::check(text.as_bytes()).findings.to_string();
        assert_eq!(found.contains("skips-a-box"), skips, "{gravity}: {found}");
    }
    // The dart goes 20 a tick. It and the moth touch over 30 + 30 lengthwise, but over 2 + 4 crosswise: who
    // faces left or right never shoots it crosswise.
    for (turns, skips) in [("mirrors", false), ("rotates", true)] {
        let text = format!(
            "edition = 1\ntitle = \"x\"\n[arena]\nbounds = {{ min = [-9, -9], max = [99, 99] }}\n\
             contact = \"sampled\"\n\
             [kind.gun]\nturns = \"{turns}\"\n\
             launcher.bow = {{ launches = \"dart\", clock = {{ every = \"1s\" }}, aim = \"facing\", speed = 1200 }}\n\
             [kind.dart]\nlifetime = \"1s\"\nhitbox.tip = {{ size = [30, 2] }}\n\
             [kind.moth]\nmeter.health = {{ max = 9 }}\nhurtbox.all = {{ size = [30, 4] }}\n\
             [[place]]\nkind = \"gun\"\nat = [0, 0]\n[[place]]\nkind = \"moth\"\nat = [80, 0]\n\
             [[rule]]\nname = \"dart pricks\"\nhitbox = \"dart.tip\"\nhurtbox = \"moth.all\"\ndamage = 1\n\
             [drill.d]\nlength = \"1s\""
        );
        let found = tin_crown::check(text.as_bytes()).findings.to_string();
        assert_eq!(found.contains("skips-a-box"), skips, "{turns}: {found}");
    }
}

/// Walkers among beetles and a platform: as a side view, or the same seen from above with y as height.
fn side_view(seeds: &[(i32, i32, u8)], presses: &[(u32, u32)], high: bool) -> String {
    let arena = match high {
        true => {
            "[arena]\nbounds = { min = [-300, -50], max = [300, 50] }\n\
                 solids = [{ min = [-300, -50], max = [300, 50], height = [-20, 0] }, { min = [-40, -50], max = [60, 50], height = [40, 46] }]\n\
                 [arena.height]\ngravity = 900\nground = \"none\"\n"
        }
        false => {
            "[arena]\nbounds = { min = [-300, -200], max = [300, 300] }\ngravity = 900\n\
                  solids = [{ min = [-300, -20], max = [300, 0] }, { min = [-40, 40], max = [60, 46] }]\n"
        }
    };
    let part = |width: u32, low: i32, top: i32| match high {
        true => format!("{{ size = [{width}, 10], height = [{low}, {top}] }}"),
        false => {
            let (size, middle) = (top - low, f64::from(top + low) / 2.0);
            format!("{{ size = [{width}, {size}], at = [0, {middle}] }}")
        }
    };
    let mut text = format!(
        "edition = 1\ntitle = \"side\"\ntick_rate = 60\n{arena}
        [kind.hero]
        tags = [\"hero\"]
        body = {}
        walk = {{ speed = 90, jump = 330 }}
        meter.health = {{ max = 90 }}
        hurtbox.torso = {}
        hitbox.boots = {}
        [kind.beetle]
        body = {}
        motion = {{ patrol = {{ speed = 40, between = [-200, 200] }} }}
        gravity = 1
        meter.health = {{ max = 90 }}
        hitbox.horns = {}
        hurtbox.lid = {}
        [[rule]]
        name = \"boots crush lid\"
        hitbox = \"hero.boots\"
        hurtbox = \"beetle.lid\"
        gate = {{ from = \"above\", falling_at_least = 20 }}
        damage = 1
        every = \"10t\"
        rebound = {{ up = 200 }}
        [[rule]]
        name = \"horns gore\"
        hitbox = \"beetle.horns\"
        hurtbox = \"hero.torso\"
        damage = 1
        every = \"20t\"
        knockback = {{ away = 120, up = 150 }}
        ",
        part(12, -14, 14),
        part(12, -8, 12),
        part(10, -14, -9),
        part(20, -8, 8),
        part(24, -8, 2),
        part(16, 2, 8),
    );
    for (nth, &(x, y, kind)) in seeds.iter().enumerate() {
        let kind = if nth == 0 || kind % 3 == 0 {
            "hero"
        } else {
            "beetle"
        };
        let at = match high {
            true => format!("[{x}, 0, {y}]"),
            false => format!("[{x}, {y}]"),
        };
        text += &format!("[[place]]\nkind = \"{kind}\"\nid = \"a{nth}\"\nat = {at}\n");
    }
    text += "[drill.d]\nlength = \"3s\"\ninput = [\n";
    for (nth, (when, length)) in presses.iter().enumerate() {
        let button = ["right", "jump", "left", "jump"][nth % 4];
        text += &format!(
            "{{ when = \"{when}t\", who = \"a0\", hold = \"{button}\", for = \"{length}t\" }},\n"
        );
    }
    text + "]\n"
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 24, ..ProptestConfig::default() })]

    /// A disc over a span of heights that goes straight through space within a tick, against a post, found by
    /// fine steps.
    #[test]
    fn sweeps_in_three_axes_are_found_by_fine_steps(
        from in (-40..40i32, -40..40i32, -40..40i32), to in (-40..40i32, -40..40i32, -40..40i32),
        radii in (1..8u32, 1..8u32), low in -20..10i32, high in 1..20i32,
    ) {
        let text = file(
            60,
            "\"none\"",
            &format!(
                "[kind.post]
                meter.health = {{ max = 9 }}
                hurtbox.wood = {{ radius = {}, height = [{low}, {}] }}
                [kind.disc]
                hitbox.edge = {{ radius = {}, height = [-2, 3] }}
                motion = {{ path = {{ keys = [{{ when = \"0t\", at = [{}, {}, {}] }}, {{ when = \"1t\", at = [{}, {}, {}] }}] }} }}
                [[place]]
                kind = \"post\"
                at = [0, 0]
                [[place]]
                kind = \"disc\"
                at = [0, 0]
                [[rule]]
                name = \"edge cuts\"
                hitbox = \"disc.edge\"
                hurtbox = \"post.wood\"
                damage = 1
                [drill.d]
                length = \"1t\"",
                radii.0, low + high, radii.1, from.0, from.1, from.2, to.0, to.1, to.2,
            ),
        );
        let found = landed(&text);
        prop_assume!(found.first().is_none_or(|hit| hit.0 == 1));
        let reach = f64::from(radii.0 + radii.1);
        let mut deepest = f64::NEG_INFINITY;
        for step in 0..=2000 {
            let share = f64::from(step) / 2000.0;
            let at = |from: i32, to: i32| f64::from(from) + f64::from(to - from) * share;
            let flat = reach - at(from.0, to.0).hypot(at(from.1, to.1));
            let height = at(from.2, to.2);
            let tall = (f64::from(low + high) - (height - 2.0)).min(height + 3.0 - f64::from(low));
            deepest = deepest.max(flat.min(tall));
        }
        if deepest > 0.001 {
            prop_assert_eq!(found.len(), 1, "{} deep, and no hit", deepest);
        }
        if deepest < -0.2 {
            prop_assert_eq!(found.len(), 0, "{} apart, and a hit", -deepest);
        }
    }

    /// A side view of rectangles, written with y as height, gives the same hits on the same ticks.
    #[test]
    fn a_side_view_from_above_gives_the_same_hits(
        seeds in prop::collection::vec((-150..150i32, 15..110i32, 0..9u8), 2..7),
        presses in prop::collection::vec((1..150u32, 2..60u32), 0..8),
    ) {
        let text = side_view(&seeds, &presses, true);
        // Nobody begins inside the platform.
        prop_assume!(tin_crown::check(text.as_bytes()).plan.is_some());
        let hits = |high: bool| -> Vec<_> {
            let lines = lines(&side_view(&seeds, &presses, high)).into_iter();
            let hits = lines.filter(|line| line.event == "hit");
            hits.map(|line| (line.tick, line.who, line.whom, line.rule, line.verdict)).collect()
        };
        prop_assert_eq!(hits(false), hits(true));
    }
}
