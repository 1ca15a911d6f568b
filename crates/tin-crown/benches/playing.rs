//! Playing by hand: ten minutes of the first shelf under a new number, and an hour of ticks as fast as they go.
//!
//! Run it with `cargo bench -p tin-crown --bench playing`.

use std::alloc::System;
use std::time::Instant;

use stats_alloc::{INSTRUMENTED_SYSTEM, StatsAlloc};
use tin_crown::play::{Session, Setup};
use tin_crown::{Path, Tick, check, demo};

#[global_allocator]
static HEAP: &StatsAlloc<System> = &INSTRUMENTED_SYSTEM;

/// How many bytes are held.
fn held() -> usize {
    let stats = HEAP.stats();
    stats.bytes_allocated - stats.bytes_deallocated
}

const ROUNDS: usize = 9;
/// Ten minutes, and an hour, at 60 ticks a second.
const TEN_MINUTES: u32 = 10 * 60 * 60;
const HOUR: u32 = 60 * 60 * 60;

fn session(text: &str) -> Session {
    let checked = check(text.as_bytes());
    let (encounter, plan) = (
        checked.encounter.expect("it is read"),
        checked.plan.expect("no errors"),
    );
    Session::new(&encounter, &plan, Setup::default()).expect("it can be played")
}

/// Plays on: to and fro, with a jump now and then.
fn play(session: &mut Session, ticks: u32) {
    for _ in 0..ticks {
        let tick = session.tick().0;
        let presses = [
            (tick % 120 == 10, "right", true),
            (tick % 120 == 40, "right", false),
            (tick % 120 == 70, "left", true),
            (tick % 120 == 100, "left", false),
            (tick.is_multiple_of(90), "jump", true),
            (tick % 90 == 5, "jump", false),
        ];
        for (_, button, down) in presses.into_iter().filter(|(due, ..)| *due) {
            session.press(button, down).expect("a button");
        }
        session.play().expect("within the limits");
    }
}

fn main() {
    let mut played = session(demo::FIRST_SHELF);
    play(&mut played, TEN_MINUTES);
    let path: Path = "kind.beetle.motion.patrol.speed".parse().expect("a path");
    let lines = played.run().ledger().len();
    let mut rounds: Vec<f64> = (0..ROUNDS)
        .map(|nth| {
            let begun = Instant::now();
            played.set(&path, 41.0 + nth as f64).expect("a speed");
            begun.elapsed().as_secs_f64() * 1e3
        })
        .collect();
    rounds.sort_by(f64::total_cmp);
    println!(
        "Ten minutes of the first shelf ({TEN_MINUTES} ticks, {lines} lines) under a new number:"
    );
    println!(
        "  median {:.1} ms, at most {:.1} ms",
        rounds[ROUNDS / 2],
        rounds[ROUNDS - 1]
    );
    let mut back: Vec<f64> = (0..200)
        .map(|nth| {
            let begun = Instant::now();
            played.seek(Tick(TEN_MINUTES - 1 - nth)).expect("the past");
            begun.elapsed().as_secs_f64() * 1e3
        })
        .collect();
    back.sort_by(f64::total_cmp);
    println!(
        "A tick back: median {:.3} ms, at most {:.3} ms",
        back[100], back[199]
    );
    let begun = Instant::now();
    played.seek(Tick(TEN_MINUTES / 2)).expect("the past");
    println!(
        "Back by five minutes: {:.1} ms",
        begun.elapsed().as_secs_f64() * 1e3
    );

    println!("An hour of ticks as fast as they go, with what is kept of it:");
    for (name, text) in [("first shelf", demo::FIRST_SHELF), ("attic", demo::ATTIC)] {
        let before = held();
        let mut played = session(text);
        for quarter in 1..=4 {
            let begun = Instant::now();
            play(&mut played, HOUR / 4);
            let heap = (held() - before) as f64 / f64::from(1 << 20);
            println!(
                "  {name:<12} {:>2} minutes: {heap:>6.1} MiB, {:>6} lines, {:.1} s for the last fifteen",
                15 * quarter,
                played.run().ledger().len(),
                begun.elapsed().as_secs_f64()
            );
        }
    }
}
