//! A tick allocates nothing but what the ledger grows by. A test of its own, because it counts what the
//! whole process allocates.

use std::alloc::System;
use std::sync::Mutex;

use stats_alloc::{INSTRUMENTED_SYSTEM, StatsAlloc};
use tin_crown::plan::Pose;
use tin_crown::play::{Session, Setup};
use tin_crown::{Live, Sim, Snapshot, Tick, check};

#[global_allocator]
static ALLOC: &StatsAlloc<System> = &INSTRUMENTED_SYSTEM;

/// How often memory was asked for.
fn asked() -> usize {
    let stats = ALLOC.stats();
    stats.allocations + stats.reallocations
}

/// How many bytes are held.
fn bytes() -> usize {
    let stats = ALLOC.stats();
    stats.bytes_allocated - stats.bytes_deallocated
}

/// What one test allocates is not counted to another.
static ONE: Mutex<()> = Mutex::new(());

/// Something of everything, over and over: contact, a guard, swings, shots that bounce and leave something,
/// sensors, states, a path, a pulse, deaths, respawns and pickups.
const MILL: &str = r##"
edition = 1
title = "A mill that never stops"
[arena]
bounds = { min = [0, -50], max = [800, 300] }
gravity = 900
solids = [
  { min = [0, -50], max = [800, 16] },
  { min = [60, 16], max = [90, 200] },
  { min = [320, 16], max = [350, 200] },
]
[kind.lift]
solid = { size = [40, 8] }
motion = { patrol = { between = [40, 120], speed = 40, axis = "y" } }
[kind.hero]
side = "crown"
tags = ["hero"]
body = { size = [14, 28] }
walk = { speed = 90, jump = 300 }
meter.health = { max = 4, regen = { delay = "1s", every = "1s", amount = 1 } }
meter.stamina = { max = 3, regen = { every = "0.5s", amount = 1 } }
meter.corks = { max = 4, regen = { every = "0.5s", amount = 1 } }
hurtbox.torso = { size = [12, 20] }
hitbox.blade = { size = [20, 8], at = [14, 0] }
invincible = { after_hit = "0.5s" }
attack.thrust = { button = "thrust", on = "hold", startup = "3t", active = "4t", recovery = "8t", live = ["blade"] }
guard = { button = "guard", meter = "stamina", cost = 1 }
launcher.gun = { launches = "cork", button = "shoot", on = "hold", speed = 200, cooldown = "0.2s", ammo = { meter = "corks", cost = 1 } }
respawn = { at = "checkpoint", delay = "1s" }
[kind.cork]
body = { radius = 2 }
hitbox.tip = { radius = 3 }
lifetime = "1s"
flight = { bounces = 2 }
leaves = [{ kind = "puff", on = ["hit", "lifetime"] }]
[kind.puff]
lifetime = "0.2s"
[kind.beetle]
side = "attic"
meter.health = { max = 3 }
hitbox.horns = { size = [26, 10] }
hurtbox.lid = { size = [18, 8] }
motion = { patrol = { between = [100, 300], speed = 60 } }
respawn = { delay = "2s" }
[kind.jack]
side = "attic"
hitbox.head = { radius = 9, at = [24, 6] }
sensor.view = { area = { radius = 90 }, notices = "#hero", stopped_by = ["solids"] }
starts = "shut"
attack.spring = { startup = "8t", active = "10t", recovery = "20t", live = ["head"] }
state.shut.go = [{ to = "open", when = { sees = "view" } }]
state.open = { attacks = ["spring"], go = [{ to = "shut", when = { after = "1s" } }] }
[kind.kettle]
side = "attic"
hitbox.steam = { size = [16, 60], at = [0, 34], pulse = { on = "0.8s", off = "1.4s" } }
launcher.spit = { launches = "cork", aim = { lead = "#hero" }, speed = 220, clock = { every = "0.7s" } }
[kind.tin]
pickup = { area = { size = [12, 12] }, by = "#hero", gives = [{ meter = "corks", amount = 1 }], back_after = "1s" }
[[place]]
kind = "hero"
at = [180, 30]
[[place]]
kind = "beetle"
id = "b"
at = [150, 24]
copies = { count = 6, step = [20, 0] }
[[place]]
kind = "jack"
at = [140, 26]
[[place]]
kind = "kettle"
at = [230, 16]
[[place]]
kind = "lift"
at = [190, 60]
[[place]]
kind = "tin"
at = [190, 30]
[[checkpoint]]
name = "lamp"
area = { min = [140, 16], max = [160, 60] }
at = [150, 30]
by = "#hero"
refills = ["corks"]
[[rule]]
name = "horns"
hitbox = "beetle.horns"
hurtbox = "hero.torso"
damage = 1
knockback = { away = 60, up = 60 }
[[rule]]
name = "blade"
hitbox = "hero.blade"
hurtbox = "beetle.lid"
damage = 1
[[rule]]
name = "cork"
hitbox = "cork.tip"
hurtbox = "*"
damage = 1
[[rule]]
name = "jack"
hitbox = "jack.head"
hurtbox = "#hero.torso"
damage = 1
[[rule]]
name = "steam"
hitbox = "kettle.steam"
hurtbox = "#hero.torso"
damage = 1
[drill.round]
length = "240s"
input = [
"##;

/// To and fro all the time, swinging, shooting, and now and then behind the guard or leaping.
fn mill() -> String {
    let mut file = MILL.to_owned();
    for second in (0..240).step_by(4) {
        for (after, button, length) in [
            (0, "right", 2),
            (2, "left", 2),
            (0, "shoot", 4),
            (0, "thrust", 2),
            (3, "guard", 1),
            (1, "jump", 1),
        ] {
            let when = second + after;
            file += &format!(
                "  {{ when = \"{when}s\", who = \"hero\", hold = \"{button}\", for = \"{length}s\" }},\n"
            );
        }
    }
    file + "]\n"
}

#[test]
fn ten_thousand_rollbacks_need_no_more_memory() {
    let _one_at_a_time = ONE.lock();
    let plan = check(mill().as_bytes()).plan.expect("no errors");
    let (hero, right) = (plan.actor("hero").unwrap(), plan.button("right").unwrap());
    let mut run = Sim::open(&plan, 0);
    let back = |run: &mut Live, saved: &mut Snapshot, nth: u32| {
        run.save(saved);
        for _ in 0..3 {
            run.step().unwrap();
        }
        run.restore(saved).unwrap();
        // Now and then: what was pressed is kept.
        if nth.is_multiple_of(500) {
            run.press(hero, right, nth.is_multiple_of(1000)).unwrap();
        }
        run.step().unwrap();
        run.drain();
    };
    let mut saved = run.snapshot();
    for nth in 0..600 {
        back(&mut run, &mut saved, nth);
    }
    let mut most = 0;
    for nth in 0..10_000 {
        back(&mut run, &mut saved, nth);
        let now = bytes();
        // At first lists grow to their largest; then no more.
        if nth < 3000 {
            most = most.max(now);
        } else {
            assert!(
                now <= most + 4096,
                "{now} bytes after {nth}, {most} at first"
            );
        }
    }
}

#[test]
fn poses_and_a_ledger_that_is_drained_cost_no_memory() {
    let _one_at_a_time = ONE.lock();
    let plan = check(mill().as_bytes()).plan.expect("no errors");
    let (hero, lift) = (plan.actor("hero").unwrap(), plan.actor("lift").unwrap());
    let mut run = Sim::open(&plan, 0).unrecorded();
    let tick = |run: &mut Live| {
        let nth = f64::from(run.tick().0 % 120);
        run.pose(hero, Pose::at([130.0 + nth, 30.0]).grounded(true))
            .unwrap();
        run.pose(lift, Pose::at([190.0, 60.0 + nth])).unwrap();
        run.step().unwrap();
    };
    for _ in 0..120 * 60 {
        tick(&mut run);
        run.drain();
    }
    let mut quiet = 0;
    for _ in 0..120 * 60 {
        let blocks = asked();
        tick(&mut run);
        let blocks = asked() - blocks;
        let lines = run.drain().len();
        // A list that was drained begins anew.
        assert!(
            blocks <= 4 * lines,
            "tick {} allocates {blocks} blocks for {lines} lines",
            run.tick()
        );
        quiet += u32::from(lines == 0);
    }
    assert!(quiet > 1000, "{quiet} ticks say nothing");
}

#[test]
fn a_tick_allocates_nothing_but_what_the_ledger_grows_by() {
    let _one_at_a_time = ONE.lock();
    let checked = check(mill().as_bytes());
    let plan = checked
        .plan
        .unwrap_or_else(|| panic!("{:#?}", checked.findings));
    let mut sim = Sim::new(&plan, plan.drill("round").unwrap());
    // Lists grow to their largest in the first two minutes, and stay.
    while sim.tick().0 < 120 * 60 {
        assert!(sim.step().unwrap());
    }
    let (mut quiet, mut said) = (0, 0);
    loop {
        let (blocks, lines) = (asked(), sim.ledger().len());
        if !sim.step().unwrap() {
            break;
        }
        // Looking on costs nothing.
        let there = sim.cast().map(|actor| sim.actor(actor));
        let held: usize = there.map(|view| view.meters.len()).sum();
        let open = sim.cast().map(|actor| sim.windows(actor).count());
        assert!(open.sum::<usize>() < 1000);
        assert!(held + sim.events().len() > 0);
        let blocks = asked() - blocks;
        let lines = sim.ledger().len() - lines;
        let tick = sim.tick();
        // Who appears has an id of its own and lists of its own: three blocks for a line or more.
        assert!(
            blocks <= 3 * lines,
            "tick {tick} allocates {blocks} blocks for {lines} lines of the ledger"
        );
        quiet += u32::from(lines == 0);
        said += lines;
    }
    // Two minutes of it: most ticks say nothing, and much is said.
    assert!(quiet > 4000 && said > 5000, "{quiet} ticks, {said} lines");
}

#[test]
fn what_is_played_by_hand_for_long_keeps_few_snapshots() {
    let _one_at_a_time = ONE.lock();
    let checked = check(tin_crown::demo::FIRST_SHELF.as_bytes());
    let (encounter, plan) = (checked.encounter.unwrap(), checked.plan.unwrap());
    let before = bytes();
    let mut session = Session::new(&encounter, &plan, Setup::default()).unwrap();
    for minutes in [5, 20] {
        while session.tick().0 < minutes * 60 * 60 {
            session.play().unwrap();
        }
        // A snapshot every 16 ticks would be 4,500 of them after twenty minutes, each of some 10 KB.
        let kept = bytes() - before;
        assert!(kept < 6 << 20, "{kept} bytes after {minutes} minutes");
    }
    // Wherever one goes back to, there is one not far before.
    session.seek(Tick(1000)).unwrap();
    assert_eq!(session.tick(), Tick(1000));
}
