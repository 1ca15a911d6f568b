//! Tallies: the sums agree with the replays made for the purpose.

use proptest::prelude::*;
use tin_crown::Ticks;
use tin_crown::study::{Replayed, Sum, tally};

/// Every encounter of the demo and the recipes.
fn encounters() -> Vec<(String, String)> {
    let demo = [
        ("first shelf", tin_crown::demo::FIRST_SHELF),
        ("second shelf", tin_crown::demo::SECOND_SHELF),
        ("third shelf", tin_crown::demo::THIRD_SHELF),
        ("attic", tin_crown::demo::ATTIC),
        ("tub", tin_crown::demo::TUB),
        ("starter", tin_crown::demo::STARTER),
    ];
    let demo = demo.map(|(name, text)| (name.to_owned(), text.to_owned()));
    let recipes = include_str!("../../docs/recipes.md")
        .split("```toml\n")
        .skip(1);
    let recipes = recipes
        .filter_map(|rest| rest.split("```").next())
        .enumerate();
    let recipes = recipes.filter(|(_, text)| text.contains("edition = 1"));
    let recipes = recipes.map(|(nth, text)| (format!("recipe {}", nth + 1), text.to_owned()));
    demo.into_iter().chain(recipes).collect()
}

#[test]
fn sums_agree_with_replays_for_every_pair_of_kinds() {
    let (mut agree, mut differ, mut not) = (0, Vec::new(), Vec::new());
    for (name, text) in encounters() {
        let checked = tin_crown::check(text.as_bytes());
        let (Some(encounter), Some(plan)) = (checked.encounter, checked.plan) else {
            panic!("{name}: {}", checked.findings);
        };
        for sum in tally(&encounter, &plan).sums {
            let guard = sum.guard.iter().map(|guard| &guard.replayed);
            for replayed in guard.chain([&sum.replayed]) {
                let of = format!(
                    "{name}: {} on {} by {:?}, {}",
                    sum.who, sum.whom, sum.means, sum.rule
                );
                match replayed {
                    Replayed::Agrees { hits } => agree += usize::from(*hits > 0),
                    Replayed::Differs { how } => differ.push(format!("{of}: {how}")),
                    Replayed::Not { why } => not.push(format!("{of}: {why}")),
                }
            }
        }
    }
    println!(
        "agree {agree}, differ {}, not {}\n{}\n{}",
        differ.len(),
        not.len(),
        differ.join("\n"),
        not.join("\n")
    );
    assert!(differ.is_empty(), "{}", differ.join("\n"));
}

/// Two kinds with numbers of all sorts, one of which hits the other.
fn duel() -> impl Strategy<Value = String> {
    let spans = (0..40_u32, 0..25_u32, 0..7_u32, 0..30_u32);
    let meters = (
        1..9_u32,
        prop::option::of((0..50_u32, 1..30_u32, 1..4_u32)),
        1..4_u32,
    );
    let guard = prop::option::of((
        1..5_u32,
        1..3_u32,
        prop::sample::select(vec![0.0, 0.25, 0.5]),
    ));
    let phases = (0..8_u32, 1..8_u32, 0..12_u32, 0..10_u32);
    let source = prop_oneof![
        Just("touch".to_owned()),
        (1..30_u32, 1..30_u32, 0..30_u32).prop_map(|(on, off, phase)| {
            format!("pulse = {{ on = \"{on}t\", off = \"{off}t\", phase = \"{phase}t\" }}")
        }),
        phases.prop_map(|(startup, active, recovery, cooldown)| {
            format!(
                "startup = \"{startup}t\", active = \"{active}t\", recovery = \"{recovery}t\", cooldown = \"{cooldown}t\""
            )
        }),
        (1..40_u32, 1..4_u32, prop::sample::select(vec!["press", "hold"]))
            .prop_map(|(cooldown, count, on)| format!("shot {cooldown} {count} {on}")),
    ];
    let repeat = prop::sample::select(vec!["", "while-touching", "once-per-touch", "per-attack"]);
    let all = (spans, meters, guard, source, repeat, any::<bool>());
    all.prop_map(|(spans, meters, guard, source, repeat, chain)| {
        let (mut after_hit, every, hitstop, stun) = spans;
        // A shot that meets a shorter window is still there when it is over: its flight is not reckoned with.
        if source.starts_with("shot") && after_hit < 12 {
            after_hit = 0;
        }
        let (health, regen, damage) = meters;
        let regen = regen.map_or(String::new(), |(delay, every, amount)| {
            format!(", regen = {{ delay = \"{delay}t\", every = \"{every}t\", amount = {amount} }}")
        });
        let guard = guard.map_or(String::new(), |(stamina, cost, through)| {
            format!(
                "meter.stamina = {{ max = {stamina} }}\n\
                 guard = {{ button = \"guard\", arc = [-120, 120], meter = \"stamina\", cost = {cost}, through = {through} }}"
            )
        });
        let words: Vec<&str> = source.split(' ').collect();
        let fist = |more: &str| format!("hitbox.fist = {{ radius = 6{more} }}");
        let (giver, with) = match words[0] {
            "touch" => ("giver.fist", fist("")),
            "pulse" => ("giver.fist", fist(&format!(", {source}"))),
            "startup" => {
                let jab = format!("attack.jab = {{ button = \"jab\", {source}, live = [\"fist\"] }}");
                ("giver.fist", format!("{}\n{jab}", fist("")))
            }
            _ => {
                let gun = format!(
                    "launcher.gun = {{ launches = \"ball\", button = \"shoot\", on = \"{}\", speed = 300, \
                     cooldown = \"{}t\", count = {}, fan = 10 }}",
                    words[3], words[1], words[2]
                );
                ("ball.tip", gun + "\n[kind.ball]\nhitbox.tip = { radius = 2 }\nlifetime = \"1s\"")
            }
        };
        // What flies by hits once: how often it would touch is a matter of its flight.
        let repeat = match (giver, repeat) {
            ("ball.tip", _) | (_, "") => String::new(),
            (_, repeat) => format!("repeat = \"{repeat}\""),
        };
        format!(
            r#"
edition = 1
title = "A duel of numbers"
arena = {{ bounds = {{ min = [0, 0], max = [400, 400] }} }}
[kind.giver]
side = "ours"
{with}
[kind.taker]
side = "theirs"
meter.health = {{ max = {health}{regen} }}
hurtbox.all = {{ size = [10, 20] }}
invincible = {{ after_hit = "{after_hit}t" }}
{guard}
[[place]]
kind = "giver"
at = [100, 100]
[[place]]
kind = "taker"
at = [300, 100]
[[rule]]
name = "numbers strike"
hitbox = "{giver}"
hurtbox = "taker.all"
damage = {damage}
every = "{every}t"
hitstop = "{hitstop}t"
stun = "{stun}t"
chain = {chain}
{repeat}
"#
        )
    })
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(120))]
    #[test]
    fn sums_agree_with_replays_whatever_the_numbers(text in duel()) {
        let checked = tin_crown::check(text.as_bytes());
        let (Some(encounter), Some(plan)) = (checked.encounter, checked.plan) else {
            return Err(TestCaseError::fail(format!("{}\n{text}", checked.findings)));
        };
        let sums = tally(&encounter, &plan).sums;
        prop_assert_eq!(sums.len(), 1);
        for sum in sums {
            let guard = sum.guard.iter().map(|guard| &guard.replayed);
            for replayed in guard.chain([&sum.replayed]) {
                let agrees = matches!(replayed, Replayed::Agrees { .. });
                prop_assert!(agrees, "{:?}\n{:?}\n{}", replayed, sum, text);
            }
        }
    }
}

#[test]
fn sums_are_those_done_by_hand() {
    let sum = |giver: &str, taker: &str, rule: &str| {
        let text = format!(
            "edition = 1\ntitle = \"By hand\"\narena = {{ bounds = {{ min = [0, 0], max = [400, 400] }} }}\n\
             [kind.taker]\nside = \"theirs\"\nhurtbox.all = {{ size = [10, 20] }}\n{taker}\n\
             [kind.giver]\nside = \"ours\"\n{giver}\n\
             [[place]]\nkind = \"giver\"\nat = [100, 100]\n[[place]]\nkind = \"taker\"\nat = [300, 100]\n\
             [[rule]]\nname = \"strike\"\nhurtbox = \"taker.all\"\ndamage = 1\n{rule}\n"
        );
        let checked = tin_crown::check(text.as_bytes());
        let plan = checked
            .plan
            .unwrap_or_else(|| panic!("{}", checked.findings));
        let mut sums = tally(&checked.encounter.expect("it was read"), &plan).sums;
        assert_eq!(sums.len(), 1);
        let sum = sums.remove(0);
        assert!(
            matches!(sum.replayed, Replayed::Agrees { .. }),
            "{:?}",
            sum.replayed
        );
        sum
    };
    let told = |sum: &Sum| (sum.hits, sum.first, sum.spacing, sum.time);
    let some = |hits: u32, first: u32, spacing: u32, time: u32| {
        (
            Some(hits),
            Some(Ticks(first)),
            Some(Ticks(spacing)),
            Some(Ticks(time)),
        )
    };
    let fist = "hitbox.fist = { radius = 6 }";
    let by_fist = "hitbox = \"giver.fist\"";
    // 5,000 hits, each 40 ticks after the one before: more than ten minutes are no eternity.
    let boss = sum(
        fist,
        "meter.health = { max = 5000 }\ninvincible = { after_hit = \"40t\" }",
        by_fist,
    );
    assert_eq!(
        (told(&boss), boss.outrun),
        (some(5000, 0, 40, 4999 * 40), false)
    );
    // Three come back in the 30 ticks between two hits that take one.
    let outrun = "meter.health = { max = 5, regen = { every = \"10t\", amount = 1 } }\ninvincible = { after_hit = \"30t\" }";
    let outrun = sum(fist, outrun, by_fist);
    assert_eq!(
        (outrun.hits, outrun.time, outrun.outrun),
        (None, None, true)
    );
    // A swing of 4 + 3 + 8 ticks and 5 more before the next: 20 from hit to hit, or as the window says when it is longer.
    let jab = format!(
        "{fist}\nattack.jab = {{ button = \"jab\", startup = \"4t\", active = \"3t\", recovery = \"8t\", cooldown = \"5t\", live = [\"fist\"] }}"
    );
    assert_eq!(
        told(&sum(&jab, "meter.health = { max = 3 }", by_fist)),
        some(3, 4, 20, 44)
    );
    let window = "meter.health = { max = 3 }\ninvincible = { after_hit = \"30t\" }";
    assert_eq!(told(&sum(&jab, window, by_fist)), some(3, 4, 30, 64));
    // A stun of 20 ticks takes the next 19, and hits come every 15: no gap from the first hit to the tick before the
    // last, on 30. One of 10 leaves gaps.
    let quick = "meter.health = { max = 3 }\ninvincible = { after_hit = \"15t\" }";
    assert_eq!(
        sum(fist, quick, "hitbox = \"giver.fist\"\nstun = \"20t\"").locked,
        Ticks(30)
    );
    assert_eq!(
        sum(fist, quick, "hitbox = \"giver.fist\"\nstun = \"10t\"").locked,
        Ticks(9)
    );
    // Out for a tick in ten, and once per touch: a new touch each time.
    let pulse = "hitbox.fist = { radius = 6, pulse = { on = \"1t\", off = \"9t\" } }";
    let once = "hitbox = \"giver.fist\"\nrepeat = \"once-per-touch\"";
    assert_eq!(
        told(&sum(pulse, "meter.health = { max = 3 }", once)),
        some(3, 0, 10, 20)
    );
    // Three balls at once, of which the window lets one through: three launches, 20 ticks apart.
    let gun = "meter.balls = { max = 6, start = 4 }\nlauncher.gun = { launches = \"ball\", button = \"shoot\", speed = 300, \
               cooldown = \"6t\", count = 3, fan = 10, ammo = { meter = \"balls\", cost = 1 } }\n[kind.ball]\n\
               hitbox.tip = { radius = 2 }\nlifetime = \"1s\"";
    let window = "meter.health = { max = 3 }\ninvincible = { after_hit = \"20t\" }";
    let shots = sum(gun, window, "hitbox = \"ball.tip\"");
    assert_eq!(told(&shots), some(3, 0, 20, 40));
    let ammo = shots.ammo.expect("it pays");
    assert_eq!(
        (ammo.launches, ammo.needed, ammo.start, ammo.max),
        (Some(3), Some(3.into()), 4.into(), 6.into())
    );
    // Three points of stamina, one a hit, and half of each hit comes through: the third breaks it.
    let guard = "meter.health = { max = 9 }\nmeter.stamina = { max = 3 }\ninvincible = { after_hit = \"30t\" }\n\
                 guard = { button = \"guard\", arc = [-90, 90], meter = \"stamina\", cost = 1, through = 0.5 }";
    let guard = sum(fist, guard, by_fist).guard.expect("a guard");
    assert_eq!(
        (guard.hits, guard.time, guard.kills),
        (Some(3), Some(Ticks(60)), false)
    );
    assert_eq!(guard.replayed, Replayed::Agrees { hits: 3 });
}
