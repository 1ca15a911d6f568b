//! Tallies: the sums agree with the replays made for the purpose.

use proptest::prelude::*;
use tin_crown::study::{Replayed, tally};

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
        Just("repeat = \"once-per-touch\"".to_owned()),
        (1..30_u32, 1..30_u32, 0..30_u32).prop_map(|(on, off, phase)| {
            format!("pulse = {{ on = \"{on}t\", off = \"{off}t\", phase = \"{phase}t\" }}")
        }),
        phases.prop_map(|(startup, active, recovery, cooldown)| {
            format!(
                "startup = \"{startup}t\", active = \"{active}t\", recovery = \"{recovery}t\", cooldown = \"{cooldown}t\""
            )
        }),
        (1..40_u32, 1..4_u32).prop_map(|(cooldown, count)| format!("shot {cooldown} {count}")),
    ];
    (spans, meters, guard, source, any::<bool>()).prop_map(|(spans, meters, guard, source, chain)| {
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
        let (hitbox, means, rule) = match source.as_str() {
            "touch" => ("fist = { radius = 6 }".to_owned(), String::new(), String::new()),
            own if own.starts_with("repeat") => ("fist = { radius = 6 }".to_owned(), String::new(), own.to_owned()),
            own if own.starts_with("pulse") => (format!("fist = {{ radius = 6, {own} }}"), String::new(), String::new()),
            own if own.starts_with("startup") => (
                "fist = { radius = 6 }".to_owned(),
                format!("attack.jab = {{ button = \"jab\", {own}, live = [\"fist\"] }}"),
                String::new(),
            ),
            own => {
                let numbers: Vec<&str> = own.split(' ').skip(1).collect();
                (
                    String::new(),
                    format!(
                        "launcher.gun = {{ launches = \"ball\", button = \"shoot\", speed = 300, cooldown = \"{}t\", count = {}, fan = 10 }}",
                        numbers[0], numbers[1]
                    ),
                    String::new(),
                )
            }
        };
        let (hitbox, giver) = match hitbox.is_empty() {
            true => (String::new(), "ball.tip"),
            false => (format!("hitbox.{hitbox}"), "giver.fist"),
        };
        let ball = match giver {
            "ball.tip" => "[kind.ball]\nhitbox.tip = { radius = 2 }\nlifetime = \"1s\"",
            _ => "",
        };
        format!(
            r#"
edition = 1
title = "A duel of numbers"
arena = {{ bounds = {{ min = [0, 0], max = [400, 400] }} }}
[kind.giver]
side = "ours"
{hitbox}
{means}
{ball}
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
{rule}
"#
        )
    })
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(400))]
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
