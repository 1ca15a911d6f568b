//! Runs saved, restored and played on.

use std::panic::{AssertUnwindSafe, catch_unwind};
use std::sync::Arc;

use proptest::prelude::*;
use proptest::strategy::ValueTree;
use sha2::{Digest as _, Sha256};
use tin_crown::sim::Digest;
use tin_crown::{Live, Plan, Sim, Snapshot};

use crate::ambushes::ambush;
use crate::fights::fight_in_every_direction;
use crate::hands::{Hands, act, meddling, presses};
use crate::stage::{plan, plan_of};

/// Plays on to a tick; what each tick told, and its digest.
fn play(run: &mut Live, hands: &Hands, to: u32) -> Vec<(String, Digest)> {
    let mut told = Vec::new();
    while run.tick().0 < to {
        act(run, hands);
        run.step().expect("within the limits");
        let lines = run.events().iter().map(|event| run.line(event));
        let texts = lines.map(|line| serde_json::to_string(&line).expect("plain data"));
        told.push((texts.collect(), run.digest()));
    }
    told
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(40))]

    #[test]
    fn what_is_restored_goes_on_alike(
        encounter in prop_oneof![fight_in_every_direction(), ambush()],
        presses in prop_oneof![presses(), meddling()],
        other in prop_oneof![presses(), meddling()],
        (at, away) in (1..90u32, 1..40u32),
    ) {
        let plan = plan(&encounter);
        let mut run = Sim::open(&plan, 3);
        let before = play(&mut run, &presses, at);
        let saved = run.snapshot();
        let bytes = saved.to_bytes();
        let after = play(&mut run, &presses, 120);
        // Back, astray, and back again, in the memory that is there.
        run.restore(&saved).expect("of this plan");
        play(&mut run, &other, (at + away).min(120));
        run.restore(&saved).expect("of this plan");
        prop_assert_eq!(run.ledger().len(), saved_lines(&plan, &presses, at));
        prop_assert_eq!(&play(&mut run, &presses, 120), &after, "in memory");
        // And from bytes, in a run that was never there.
        let read = Snapshot::from_bytes(&plan, &bytes).expect("of this plan");
        prop_assert_eq!(read.to_bytes(), bytes);
        let mut elsewhere = Sim::open(&plan, 9);
        elsewhere.restore(&read).expect("of this plan");
        prop_assert_eq!(&play(&mut elsewhere, &presses, 120), &after, "from bytes");
        // A drill of it all gives the same lines.
        let mut whole = before;
        whole.extend(after);
        let mut again = Sim::open(&plan, 3);
        prop_assert_eq!(play(&mut again, &presses, 120), whole);
    }

    #[test]
    fn bytes_that_are_no_snapshot_are_refused(
        noise in prop::collection::vec(any::<u8>(), 0..80),
        (cut, flip) in (0..2000usize, 0..2000usize),
    ) {
        let plan = shots();
        prop_assert!(Snapshot::from_bytes(&plan, &noise).is_err());
        let mut run = Sim::open(&plan, 0);
        run.step().expect("within the limits");
        let whole = run.snapshot().to_bytes();
        let short = &whole[..cut.min(whole.len() - 1)];
        prop_assert!(Snapshot::from_bytes(&plan, short).is_err());
        let mut flipped = whole.clone();
        let place = flip % whole.len();
        flipped[place] ^= 1;
        prop_assert!(Snapshot::from_bytes(&plan, &flipped).is_err());
        let longer = [whole, vec![0]].concat();
        prop_assert!(Snapshot::from_bytes(&plan, &longer).is_err());
    }
}

/// Where the other process finds what it is to play on from.
const FOLDER: &str = "TIN_CROWN_TEST_SNAPSHOT";

/// Not a test of its own: the other process of the test below.
#[test]
#[ignore = "run by `bytes_are_played_on_in_another_process`"]
fn in_another_process() {
    let folder = std::env::var_os(FOLDER).expect("the other process says where");
    let read =
        |name: &str| std::fs::read(std::path::Path::new(&folder).join(name)).expect("it is there");
    let plan = plan_of(&String::from_utf8(read("encounter.toml")).expect("it is text"));
    let saved = Snapshot::from_bytes(&plan, &read("snapshot")).expect("of this plan");
    let mut run = Sim::open(&plan, 99);
    run.restore(&saved).expect("of this plan");
    let told = play(&mut run, &Vec::new(), 120);
    let text: Vec<String> = told
        .iter()
        .map(|(lines, digest)| format!("{digest} {lines}"))
        .collect();
    std::fs::write(std::path::Path::new(&folder).join("told"), text.join("\n"))
        .expect("it can be written");
}

#[test]
fn bytes_are_played_on_in_another_process() {
    let mut runner = proptest::test_runner::TestRunner::deterministic();
    let encounters = prop_oneof![fight_in_every_direction(), ambush()];
    for nth in 0..6u32 {
        let mut new = |strategy: BoxedStrategy<Hands>| {
            strategy
                .new_tree(&mut runner)
                .expect("there is one")
                .current()
        };
        let hands = new(match nth % 2 {
            0 => meddling().boxed(),
            _ => presses().boxed(),
        });
        let encounter = encounters
            .new_tree(&mut runner)
            .expect("there is one")
            .current();
        let plan = plan(&encounter);
        let mut run = Sim::open(&plan, 3);
        play(&mut run, &hands, 20 + nth * 12);
        let bytes = run.snapshot().to_bytes();
        let told = play(&mut run, &Vec::new(), 120);
        let told: Vec<String> = told
            .iter()
            .map(|(lines, digest)| format!("{digest} {lines}"))
            .collect();
        let folder = tempfile::tempdir().expect("there is room");
        std::fs::write(folder.path().join("encounter.toml"), encounter.to_toml())
            .expect("there is room");
        std::fs::write(folder.path().join("snapshot"), bytes).expect("there is room");
        let other = std::process::Command::new(std::env::current_exe().expect("this is one"))
            .args([
                "--exact",
                "snapshots::in_another_process",
                "--ignored",
                "--quiet",
            ])
            .env(FOLDER, folder.path())
            .output()
            .expect("it runs");
        assert!(
            other.status.success(),
            "{}",
            String::from_utf8_lossy(&other.stdout)
        );
        let there = std::fs::read_to_string(folder.path().join("told")).expect("it wrote");
        assert_eq!(there, told.join("\n"));
    }
}

fn saved_lines(plan: &Arc<Plan>, hands: &Hands, at: u32) -> usize {
    let mut run = Sim::open(plan, 3);
    play(&mut run, hands, at);
    run.ledger().len()
}

/// A gun that shoots ten times a second at whom it cannot kill.
fn shots() -> Arc<Plan> {
    plan_of(SHOTS)
}

const SHOTS: &str = "edition = 1\ntitle = \"endless\"\narena.bounds = { min = [0, 0], max = [400, 99] }\n\
         [kind.gun]\nlauncher.pop = { launches = \"pea\", clock = { every = \"6t\" }, speed = 300 }\n\
         [kind.pea]\nlifetime = \"1s\"\nhitbox.tip = { radius = 1 }\n\
         [kind.post]\nmeter.health = { max = 9, regen = { every = \"1t\", amount = 9 } }\nhurtbox.all = { radius = 4 }\n\
         [[place]]\nkind = \"gun\"\nat = [9, 50]\n[[place]]\nkind = \"post\"\nat = [120, 50]\n\
         [[rule]]\nname = \"pea stings\"\nhitbox = \"pea.tip\"\nhurtbox = \"post.all\"\ndamage = 1\n\
         [drill.d]\nlength = \"1s\"";

#[test]
fn a_snapshot_does_not_grow_with_time() {
    let plan = shots();
    let mut run = Sim::open(&plan, 0);
    let mut sizes = Vec::new();
    for tick in 1..=30_000u32 {
        run.step().expect("within the limits");
        run.drain();
        if tick % 600 == 0 {
            sizes.push(run.snapshot().to_bytes().len());
        }
    }
    // Ticks, line numbers and ids have more digits later on: six bytes more for each that is there.
    let (first, last) = (sizes[1], sizes[sizes.len() - 1]);
    let there = run.cast().count();
    assert!(last <= first + 16 * there + 16, "{there} there: {sizes:?}");
    assert!(last <= 1024 + 1200 * there, "{there} there: {last} bytes");
}

/// What is held against the plan is never what a run can come to: also while things die, come back and are reset.
#[test]
fn every_tick_of_the_demo_is_read_back() {
    for text in [tin_crown::demo::ATTIC, tin_crown::demo::SECOND_SHELF] {
        let plan = plan_of(text);
        for drill in plan.all_drills() {
            let mut run = Sim::take_over(&plan, drill);
            while run.step().expect("within the limits") {
                // Where something happens, and now and then.
                if run.events().is_empty() && !run.tick().0.is_multiple_of(16) {
                    continue;
                }
                let read = Snapshot::from_bytes(&plan, &run.snapshot().to_bytes());
                assert!(
                    read.is_ok(),
                    "{} on {}",
                    plan.drills()[drill.index()].name(),
                    run.tick()
                );
            }
        }
    }
}

#[test]
fn a_snapshot_of_something_else_is_refused_with_words() {
    let plan = shots();
    let mut run = Sim::open(&plan, 0);
    let bytes = run.snapshot().to_bytes();
    let said = |bytes: &[u8]| Snapshot::from_bytes(&plan, bytes).unwrap_err().to_string();
    assert_eq!(said(b"something"), "these bytes are no snapshot");
    let text = String::from_utf8_lossy(&bytes[..40]).into_owned();
    let version = env!("CARGO_PKG_VERSION");
    let place = text.find(version).expect("the version stands in it");
    let mut old = bytes.clone();
    old[place] = b'9';
    let told = said(&old);
    assert!(
        told.starts_with("this snapshot was taken by version 9")
            && told.ends_with("does not read it"),
        "{told}"
    );
    let mut cut = bytes.clone();
    cut.pop();
    assert_eq!(said(&cut), "this snapshot is damaged");
    // The same with another number, and a drill of it.
    let other = plan_of(&SHOTS.replace("speed = 300", "speed = 301"));
    let refused = Snapshot::from_bytes(&other, &bytes).unwrap_err();
    let told = "this snapshot is of another encounter, or was taken before it was changed";
    assert_eq!(refused.to_string(), told);
    assert_eq!(
        run.restore(&Sim::open(&other, 0).snapshot()).unwrap_err(),
        refused
    );
    let drill = Sim::new(&plan, plan.drill("d").expect("it is there"));
    let told = "this snapshot is of another drill, or of an open run";
    assert_eq!(
        run.restore(&drill.snapshot()).unwrap_err().to_string(),
        told
    );
}

#[test]
fn an_open_run_launches_more_than_a_drill_may() {
    // 2,500 a tick, there for that tick alone: over 200 ticks more than a drill may launch in all.
    let plan = plan_of(
        "edition = 1\ntitle = \"hail\"\narena.bounds = { min = [0, 0], max = [99, 99] }\n\
         [kind.cloud]\nlauncher.hail = { launches = \"stone\", clock = { every = \"1t\" }, count = 100, speed = 9 }\n\
         [kind.stone]\nlifetime = \"1t\"\n\
         [[place]]\nkind = \"cloud\"\nid = \"c\"\nat = [9, 9]\ncopies = { count = 25, step = [1, 0] }\n\
         [drill.d]\nlength = \"210t\"",
    );
    let mut run = Sim::open(&plan, 0);
    for _ in 0..210 {
        run.step().expect("an open run goes on");
        run.drain();
    }
    assert!(run.cast().count() < 5100);
}

const YARD: &str = r##"
    edition = 1
    title = "Yard"
    [arena]
    bounds = { min = [0, 0], max = [400, 200] }
    gravity = 900
    solids = [{ min = [0, 0], max = [400, 16] }]
    [kind.ann]
    player = true
    body = { size = [10, 20] }
    walk = { speed = 90, jump = 300 }
    meter.health = { max = 3, regen = { delay = "0.2s", every = "0.1s", amount = 1 } }
    hurtbox.torso = { size = [10, 20] }
    hitbox.fist = { size = [8, 8], at = [8, 0] }
    attack.jab = { button = "jab", live = ["fist"], startup = "3t", active = "4t", recovery = "5t" }
    launcher.throw = { launches = "stone", button = "throw", speed = 80, ammo = { meter = "stones" } }
    meter.stones = { max = 6 }
    invincible = { after_hit = "0.3s" }
    guard = { button = "guard" }
    death = [{ after = "0t" }, { after = "10t" }]
    respawn = { at = "start", delay = "10t", lives = 3 }
    [kind.stone]
    hitbox.flint = { radius = 3 }
    lifetime = "1s"
    [kind.bat]
    meter.health = { max = 9 }
    hurtbox.wing = { radius = 8 }
    hitbox.fang = { radius = 8 }
    sensor.ear = { area = { radius = 80 }, notices = "ann" }
    starts = "hangs"
    state.hangs = { go = [{ to = "flies", when = { sees = "ear" } }] }
    state.flies = { motion = { patrol = { between = [40, 300], speed = 60 } } }
    [[place]]
    kind = "ann"
    at = [60, 26]
    [[place]]
    kind = "bat"
    at = [100, 26]
    [[rule]]
    name = "bite"
    hitbox = "bat.fang"
    hurtbox = "ann.torso"
    damage = 1
    [[rule]]
    name = "hurl"
    hitbox = "stone.flint"
    hurtbox = "bat.wing"
    damage = 1
"##;

/// Altered bytes whose sum was made right again are refused, or go on without a panic.
#[test]
fn altered_bytes_do_not_panic() {
    let plan = plan_of(YARD);
    let (ann, throw) = (plan.actor("ann").unwrap(), plan.button("throw").unwrap());
    let mut run = Sim::open(&plan, 0);
    run.press(ann, throw, true).unwrap();
    for _ in 0..40 {
        run.step().unwrap();
    }
    let good = run.snapshot().to_bytes();
    let head = good.iter().position(|byte| *byte == b'\n').unwrap() + 1;
    let mut panics = Vec::new();
    for place in head + 32..good.len() {
        for value in [0, 1, 0x7f, 0xff, good[place] ^ 0x40] {
            let mut bad = good.clone();
            bad[place] = value;
            let sum = Sha256::digest(&bad[head + 32..]);
            bad[head + 16..head + 32].copy_from_slice(&sum[..16]);
            let played = catch_unwind(AssertUnwindSafe(|| {
                let Ok(snapshot) = Snapshot::from_bytes(&plan, &bad) else {
                    return;
                };
                let mut other = Sim::open(&plan, 0);
                if other.restore(&snapshot).is_ok() {
                    for _ in 0..30 {
                        if other.step().is_err() {
                            break;
                        }
                    }
                }
            }));
            if played.is_err() {
                panics.push((place - head - 32, value));
            }
        }
    }
    assert!(panics.is_empty(), "{panics:?}");
}
