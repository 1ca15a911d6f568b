//! An encounter without an end: live ticks, snapshots taken and restored early and late, and ten ticks rolled back and
//! played again.

use std::hint::black_box;
use std::sync::Arc;
use std::time::Instant;

use tin_crown::{Live, Plan, Sim, Snapshot, check, demo};

/// A gun shoots ten times a second at a post that heals; two walk to and fro.
const ENDLESS: &str = r#"
edition = 1
title = "endless"
[arena]
bounds = { min = [0, 0], max = [400, 99] }
[kind.gun]
launcher.pop = { launches = "pea", clock = { every = "6t" }, speed = 300 }
[kind.pea]
lifetime = "1s"
hitbox.tip = { radius = 1 }
[kind.post]
meter.health = { max = 9, regen = { every = "1t", amount = 9 } }
hurtbox.all = { radius = 4 }
[kind.walker]
hitbox.horns = { size = [8, 8] }
motion = { patrol = { between = [90, 200], speed = 40 } }
[[place]]
kind = "gun"
at = [9, 50]
[[place]]
kind = "post"
at = [120, 50]
[[place]]
kind = "walker"
id = "w"
at = [100, 50]
copies = { count = 2, step = [40, 0] }
[[rule]]
name = "pea stings"
hitbox = "pea.tip"
hurtbox = "post.all"
damage = 1
[[rule]]
name = "horns gore"
hitbox = "walker.horns"
hurtbox = "post.all"
damage = 1
every = "1s"
"#;

const ROUNDS: usize = 9;

/// The median time of some rounds, each of so many times, in ns.
fn time(times: u32, mut run: impl FnMut()) -> f64 {
    let mut rounds: Vec<f64> = (0..ROUNDS)
        .map(|_| {
            let start = Instant::now();
            (0..times).for_each(|_| run());
            start.elapsed().as_secs_f64() * 1e9 / f64::from(times)
        })
        .collect();
    rounds.sort_by(f64::total_cmp);
    rounds[ROUNDS / 2]
}

fn go(run: &mut Live, ticks: u32) {
    for _ in 0..ticks {
        run.step().expect("an open run goes on");
        run.drain();
    }
}

fn tell(what: &str, plan: &Arc<Plan>, at: u32) {
    let mut run = Sim::open(plan, 0).unrecorded();
    go(&mut run, at);
    let mut saved = run.snapshot();
    let save = time(20_000, || run.save(black_box(&mut saved)));
    let restore = time(20_000, || {
        run.restore(black_box(&saved)).expect("of this plan")
    });
    let bytes = saved.to_bytes();
    let packed = time(2_000, || drop(black_box(saved.to_bytes())));
    let read = time(2_000, || {
        black_box(Snapshot::from_bytes(plan, &bytes).expect("of this plan"));
    });
    let digest = time(2_000, || {
        black_box(run.digest());
    });
    let live = time(200, || {
        run.restore(&saved).expect("of this plan");
        go(&mut run, 100);
    }) / 100.0;
    // Ten ticks that go on, and ten that are taken back and played again: what a wrong guess costs.
    let mut ten = time(2_000, || go(&mut run, 10));
    let mut again = time(2_000, || {
        run.save(&mut saved);
        go(&mut run, 10);
        run.restore(&saved).expect("of this plan");
        go(&mut run, 10);
    }) - ten;
    // Once more the other way round, for the machine drifts.
    let both = time(2_000, || {
        run.save(&mut saved);
        go(&mut run, 10);
        run.restore(&saved).expect("of this plan");
        go(&mut run, 10);
    });
    ten = ten.min(time(2_000, || go(&mut run, 10)));
    again = again.min(both - ten);
    let there = run.cast().count();
    println!(
        "{what:<22} {at:>8} {there:>6} {live:>9.0} {save:>7.0} {restore:>9.0} {:>8} {packed:>9.0} {read:>9.0} {digest:>9.0} {:>9.2}",
        bytes.len(),
        again / ten,
    );
}

fn main() {
    println!("Median of {ROUNDS} rounds, in ns; size of a snapshot as bytes:");
    println!(
        "{:<22} {:>8} {:>6} {:>9} {:>7} {:>9} {:>8} {:>9} {:>9} {:>9} {:>9}",
        "",
        "at tick",
        "there",
        "live tick",
        "save",
        "restore",
        "bytes",
        "to bytes",
        "from",
        "digest",
        "redo/do"
    );
    let attic = check(demo::ATTIC.as_bytes()).plan.expect("no errors");
    let endless = check(ENDLESS.as_bytes()).plan.expect("no errors");
    tell("the attic", &attic, 100);
    tell("a gun without an end", &endless, 1_000);
    tell("a gun without an end", &endless, 200_000);
}
