//! Why an actor is as it is, where no hit tells it.

use std::sync::Arc;

use tin_crown::study::{Account, account};
use tin_crown::{Plan, Tick};

/// A watch that looks through a wall at one porter, past its reach at another, and has another in view; a
/// walker between a wall, a raft and a pit; a gun.
const SCENE: &str = r##"
edition = 1
title = "Nothing happens"
tick_rate = 60

[arena]
bounds = { min = [-400, -200], max = [400, 300] }
gravity = 900
solids = [
  { min = [-400, -20], max = [100, 0] },
  { min = [-110, 0], max = [-100, 40] },
]

[kind.porter]
side = "crown"
tags = ["hero"]
body = { size = [10, 20] }
walk = { speed = 60, jump = 300 }
outside = "dies"
meter.health = { max = 3 }
meter.corks = { max = 2, start = 1 }
launcher.pop = { launches = "cork", button = "shoot", speed = 200, cooldown = "10t", ammo = { meter = "corks", cost = 1 } }
death = [{ after = "0s" }]

[kind.cork]
lifetime = "30t"

[kind.watch]
sensor.eyes = { area = { size = [400, 40] }, notices = "#hero", stopped_by = ["solids"] }
starts = "calm"
state.calm.go = [
  { to = "wary", when = { sees = "eyes", within = 30 } },
  { to = "bored", when = { after = "10s" } },
]
state.wary = {}
state.bored = {}

[kind.raft]
solid = { size = [20, 20] }

[[place]]
kind = "porter"
id = "hidden"
at = [-180, 10]

[[place]]
kind = "porter"
id = "far"
at = [-320, 10]

[[place]]
kind = "porter"
id = "near"
at = [0, 10]

[[place]]
kind = "watch"
at = [-60, 10]

[[place]]
kind = "raft"
at = [40, 10]

[drill.d]
length = "4s"
input = [
  { when = "10t", who = "near", press = "shoot" },
  { when = "15t", who = "near", press = "shoot" },
  { when = "30t", who = "near", press = "shoot" },
  { when = "60t", who = "near", hold = "right", for = "60t" },
  { when = "150t", who = "near", press = "jump" },
  { when = "155t", who = "near", press = "jump" },
  { when = "0s", who = "far", hold = "left", for = "4s" },
]
"##;

fn plan() -> Arc<Plan> {
    let checked = tin_crown::check(SCENE.as_bytes());
    checked
        .plan
        .unwrap_or_else(|| panic!("{}", checked.findings))
}

fn told(who: &str, when: Option<u32>) -> Vec<String> {
    told_of(&plan(), who, when)
}

/// What is told of an actor in drill `d`, line by line.
pub fn told_of(plan: &Arc<Plan>, who: &str, when: Option<u32>) -> Vec<String> {
    let drill = plan.drill("d").expect("it is there");
    let chosen = plan.choose(who).expect("it is there");
    let mut accounts = account(plan, drill, &chosen, when.map(Tick)).expect("within the limits");
    let Account { tells, .. } = accounts.pop().expect("it is there");
    let mut lines = Vec::new();
    for tell in tells {
        lines.push(format!("{}: {}", tell.topic.as_str(), tell.says));
        let missing = tell.checks.iter().filter(|check| !check.passed);
        lines.extend(missing.map(|check| format!("  {}: {}", check.check, check.says)));
    }
    lines
}

#[test]
fn a_sensor_says_what_it_does_not_notice_and_why() {
    // The watch at (-60, 10) reaches 200 to each side. From it to `hidden` at (-180, 10) the wall's right
    // side at -100 is met first. `far` at (-320, 10) has its right edge at -315, and the reach ends at -260.
    assert_eq!(
        told("watch", Some(1)),
        [
            "state: calm since it appeared",
            "state: calm → wary: not taken",
            "  sees: `eyes` notices near, 60 off, within 30 required",
            "state: calm → bored: not taken",
            "  after: 0.017 s in the state, 10.000 s required",
            // It set out to the left on tick 1, by 60 / 60 = 1.
            "sensor: `eyes` does not notice far: out of reach by 55 (55 to the left)",
            "sensor: `eyes` does not notice hidden: a solid is in the way at -100, 10",
            "sensor: `eyes` notices near, 60 off",
        ]
    );
    // Over the whole drill: nearest to `wary` when `near` stands still, 60 off, as it never comes closer;
    // after 240 ticks 4 of the 10 seconds are over.
    let all = told("watch", None);
    for line in [
        "state: calm → bored: never taken; nearest at 4.000 s (tick 240)",
        "  after: 4.000 s in the state, 10.000 s required",
        "  sees: `eyes` notices near, 60 off, within 30 required",
        "sensor: `eyes` never notices hidden; nearest at 0.017 s (tick 1): a solid is in the way at -100, 10",
    ] {
        assert!(all.iter().any(|told| told == line), "{line}\n{all:#?}");
    }
}

#[test]
fn who_is_stopped_falls_and_launches_nothing_is_told_why() {
    let near = told("near", None);
    // It sets out on tick 60 by 1 unit a tick. The raft's left side is at 30, its own right edge at 5:
    // 25 ticks bring it there, on tick 84; from 85 to 119, the last of the hold, it is stopped.
    // The first press launches on tick 10, so the cooldown of 10 ticks is over on tick 20.
    assert_eq!(
        near,
        [
            "motion: stopped on its way to the right by raft at x 30, first at 1.417 s (tick 85), on 35 ticks",
            "press: pop launches nothing, its cooldown is not over before 0.333 s, at 0.250 s (tick 15)",
            "press: pop launches nothing, corks holds 0, a launch costs 1, at 0.500 s (tick 30)",
            "press: `jump` sets off nothing at 2.583 s (tick 155): a jump: it stands on nothing",
        ]
    );
    // Its left edge is at -325 - n after n ticks, and the arena's solid ends at -400: it leaves it when its
    // right edge does, after 85 ticks: at -315 - 85 = -400 on tick 85 nothing is beneath it.
    let far = told("far", None);
    assert_eq!(far.len(), 1, "{far:?}");
    assert_eq!(
        far[0],
        "end: dies at 1.433 s (tick 86): left the arena; it left a solid at -404, 10 at 1.417 s (tick 85): \
         it went over the edge"
    );
    assert_eq!(told("far", Some(100)), far);
    assert_eq!(
        told("near.pop.1", Some(5)),
        ["end: not there yet: it appears at 0.167 s (tick 10)"]
    );
}

/// What is weighed here must be what decides: the simulator asserts it on every tick of these drills.
#[test]
fn every_actor_of_the_demo_can_be_accounted_for() {
    for file in [
        tin_crown::demo::FIRST_SHELF,
        tin_crown::demo::SECOND_SHELF,
        tin_crown::demo::THIRD_SHELF,
    ] {
        let plan = tin_crown::check(file.as_bytes()).plan.expect("no errors");
        let anyone = plan.choose("*").expect("anyone");
        let drills: Vec<&str> = plan.drills().iter().map(|drill| drill.name()).collect();
        for name in drills {
            let drill = plan.drill(name).expect("it is there");
            let all = account(&plan, drill, &anyone, None).expect("within the limits");
            let replay = plan.replay(name).expect("within the limits");
            let ends = all.iter().flat_map(|account| &account.tells);
            let ends = ends.filter(|tell| tell.topic == tin_crown::study::Topic::End);
            let events = replay.ledger().events().iter().filter(|event| {
                matches!(
                    event.what,
                    tin_crown::What::Death { .. } | tin_crown::What::Vanish { .. }
                )
            });
            assert_eq!(ends.count(), events.count(), "{name}");
        }
    }
}
