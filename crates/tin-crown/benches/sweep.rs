//! Cells of a sweep a second, beside plain replays of the same drill; and how much faster two cores are than one.
//!
//! Run with `cargo bench --package tin-crown --features parallel --bench sweep`.

use std::hint::black_box;
use std::time::{Duration, Instant};

use tin_crown::demo::FIRST_SHELF;
use tin_crown::study::{Setup, Sweep};

/// Rounds, of which the median counts; and cells in each.
const ROUNDS: usize = 15;
const CELLS: u64 = 400;

fn main() {
    let checked = tin_crown::check(FIRST_SHELF.as_bytes());
    let (encounter, plan) = (
        checked.encounter.expect("a demo"),
        checked.plan.expect("a demo"),
    );
    let axis = "kind.beetle.motion.patrol.speed=40..44/0.01"
        .parse()
        .expect("an axis");
    let setup = Setup {
        axes: vec![axis],
        drills: vec!["careful".to_owned()],
        ..Setup::default()
    };
    let sweep = Sweep::new(&encounter, &plan, setup).expect("a sweep");
    let pool = |threads: usize| {
        let pool = rayon::ThreadPoolBuilder::new().num_threads(threads).build();
        pool.expect("a pool of threads")
    };
    let (one, two) = (pool(1), pool(2));
    let rows = || {
        for row in sweep.rows(0..CELLS) {
            black_box(row.to_json(sweep.columns()));
        }
    };
    // Side by side, round by round, so that all meet the same machine.
    let mut times = [const { Vec::new() }; 3];
    for _ in 0..ROUNDS {
        times[0].push(timed(|| {
            for _ in 0..CELLS {
                black_box(plan.replay("careful")).expect("a replay");
            }
        }));
        times[1].push(timed(|| one.install(rows)));
        times[2].push(timed(|| two.install(rows)));
    }
    let [plain, one, two] = times
        .map(median)
        .map(|time| CELLS as f64 / time.as_secs_f64());
    println!("plain replays of careful    {plain:8.0} a second");
    println!(
        "cells on one core           {one:8.0} a second, {:.2} of plain replays",
        one / plain
    );
    println!(
        "cells on two cores          {two:8.0} a second, {:.2} of one core",
        two / one
    );
}

fn timed(work: impl FnOnce()) -> Duration {
    let begun = Instant::now();
    work();
    begun.elapsed()
}

fn median(mut times: Vec<Duration>) -> Duration {
    times.sort_unstable();
    times[times.len() / 2]
}
