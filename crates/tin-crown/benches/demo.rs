//! Replaying the demo, and reading it: parse, check and resolve.

use divan::Bencher;

const DEMO: &[u8] = include_bytes!("../../tin-crown-cli/demo/first-shelf.toml");

fn main() {
    divan::main();
}

#[divan::bench]
fn parse_and_plan(bencher: Bencher) {
    bencher.bench(|| tin_crown::check(divan::black_box(DEMO)));
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
