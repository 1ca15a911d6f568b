//! Ticks a second through a real pipe: a line to the process, its answer, and only then the next.
//!
//! Run it with `cargo bench -p tin-crown-cli --bench pipe`.

use std::io::{BufRead, BufReader, Write};
use std::process::{Command, Stdio};
use std::time::Instant;

const ROUNDS: usize = 5;
const TICKS: u32 = 20_000;

/// Plays so many ticks, each after the answer to the last; how many a second.
fn play(file: &str, line: &str) -> f64 {
    let mut child = Command::new(env!("CARGO_BIN_EXE_tin-crown"))
        .args(["step", file])
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .spawn()
        .expect("the tool runs");
    let mut input = child.stdin.take().expect("it is piped");
    let mut output = BufReader::new(child.stdout.take().expect("it is piped"));
    let mut answer = String::new();
    output.read_line(&mut answer).expect("it says hello");
    let begun = Instant::now();
    for _ in 0..TICKS {
        input.write_all(line.as_bytes()).expect("it listens");
        answer.clear();
        output.read_line(&mut answer).expect("it answers");
        assert!(answer.starts_with("{\"tick\""), "{answer}");
    }
    let seconds = begun.elapsed().as_secs_f64();
    drop(input);
    assert!(child.wait().expect("it ends").success());
    f64::from(TICKS) / seconds
}

fn main() {
    let folder = tempfile::tempdir().expect("a folder");
    println!("Ticks a second through a pipe, median of {ROUNDS} rounds of {TICKS} ticks:");
    for (name, text) in [
        ("first-shelf.toml", tin_crown::demo::FIRST_SHELF),
        ("attic.toml", tin_crown::demo::ATTIC),
    ] {
        let file = folder.path().join(name);
        std::fs::write(&file, text).expect("it can be written");
        let file = file.to_str().expect("a path");
        for (what, line) in [
            ("an empty line", "{}\n"),
            ("a button", "{\"buttons\":{\"porter\":{\"right\":true}}}\n"),
            (
                "a pose, poses told",
                "{\"poses\":{\"porter\":{\"at\":[100,30],\"facing\":\"left\"}},\"tell\":[\"poses\"]}\n",
            ),
        ] {
            let mut rounds: Vec<f64> = (0..ROUNDS).map(|_| play(file, line)).collect();
            rounds.sort_by(f64::total_cmp);
            println!("  {name:<18} {what:<20} {:>8.0}", rounds[ROUNDS / 2]);
        }
    }
}
