//! Replaying the demo, and reading it: parse, check and resolve.

use divan::Bencher;

const DEMO: &[u8] = tin_crown::demo::FIRST_SHELF.as_bytes();

fn main() {
    divan::main();
}

#[divan::bench]
fn parse_and_plan(bencher: Bencher) {
    bencher.bench(|| tin_crown::check(divan::black_box(DEMO)));
}

/// What a study does ten thousand times: one number set, the plan made again.
#[divan::bench]
fn set_and_resolve(bencher: Bencher) {
    let encounter = tin_crown::check(DEMO)
        .encounter
        .expect("the demo can be read");
    let path = "kind.beetle.motion.patrol.speed".parse().expect("a path");
    bencher.bench(|| {
        let mut encounter = encounter.clone();
        encounter.set(&path, 41.0).map(|()| encounter.resolve())
    });
}

#[divan::bench(args = ["careful", "careless"])]
fn replay(bencher: Bencher, drill: &str) {
    let plan = tin_crown::check(DEMO).plan.expect("the demo has no errors");
    bencher.bench(|| plan.replay(drill));
}

#[divan::bench]
fn write_jsonl(bencher: Bencher) {
    let plan = tin_crown::check(DEMO).plan.expect("the demo has no errors");
    let replay = plan.replay("careful").expect("the drill is there");
    bencher.bench(|| {
        let mut out = Vec::new();
        replay
            .write_jsonl(&mut out, replay.ledger().events())
            .map(|()| out)
    });
}
