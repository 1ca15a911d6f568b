//! How fast recordings are read: rows of CSV and JSON Lines a second, on one core, and what of that is reading alone.
//!
//! Run it with `cargo bench -p tin-crown --bench recordings`.

use std::fmt::Write;
use std::sync::Arc;
use std::time::Instant;

use tin_crown::encounter::{Track, TrackColumns};
use tin_crown::track::{Files, Folder};
use tin_crown::{BoxSpec, Drill, Duration, Encounter, Kind, MeterSpec, Placement, Plan, Rule};

const ROUNDS: usize = 5;
const ACTORS: u32 = 20;
const TICKS: u32 = 40_000;

/// Twenty who go about, each on every tick.
fn rows(json: bool) -> Vec<u8> {
    let mut text = String::new();
    if !json {
        text.push_str("frame,name,x,y,facing,grounded\n");
    }
    for tick in 0..=TICKS {
        for actor in 1..=ACTORS {
            let x = 20.0 * f64::from(actor) + 0.125 * f64::from(tick % 400);
            let y = 30.0 + 0.25 * f64::from((tick + actor) % 50);
            let facing = if tick % 400 < 200 { "right" } else { "left" };
            let _ = match json {
                true => writeln!(
                    text,
                    r#"{{"frame":{tick},"name":"walker_{actor}","x":{x},"y":{y},"facing":"{facing}","grounded":true}}"#
                ),
                false => writeln!(text, "{tick},walker_{actor},{x},{y},{facing},1"),
            };
        }
    }
    text.into_bytes()
}

fn plan(file: &str) -> Arc<Plan> {
    let column = |name: &str| Some(name.to_owned());
    let columns = TrackColumns {
        time: column("frame"),
        who: column("name"),
        facing: column("facing"),
        grounded: column("grounded"),
        ..TrackColumns::default()
    };
    let track = Track {
        columns,
        ..Track::new(file)
    };
    let walker = Kind::new()
        .meter("health", MeterSpec::new(1000.0))
        .hitbox("fists", BoxSpec::rectangle(6.0, 6.0))
        .hurtbox("torso", BoxSpec::rectangle(6.0, 10.0));
    let mut encounter = Encounter::new("Walkers")
        .bounds([0.0, 0.0], [1000.0, 200.0])
        .kind("walker", walker)
        .rule(Rule::new("push by", "walker.fists", "walker.torso").damage(0.001))
        .drill("walk", Drill::new(Duration::ticked(TICKS)).track(track));
    for actor in 1..=ACTORS {
        let at = [20.0 * f64::from(actor), 30.0];
        encounter = encounter.place(Placement::new("walker", at).id(format!("walker_{actor}")));
    }
    encounter.plan().expect("it is well")
}

fn median(mut all: Vec<f64>) -> f64 {
    all.sort_by(f64::total_cmp);
    all[all.len() / 2]
}

fn main() {
    let folder = tempfile::tempdir().expect("a folder");
    println!(
        "{} rows of {ACTORS} actors; median of {ROUNDS} rounds, one core:",
        ACTORS * (TICKS + 1)
    );
    println!(
        "{:>12} {:>8} {:>12} {:>10} {:>14}",
        "", "MB", "rows/s", "MB/s", "replayed in s"
    );
    for (name, json) in [("CSV", false), ("JSON Lines", true)] {
        let file = if json { "walk.jsonl" } else { "walk.csv" };
        let bytes = rows(json);
        let megabytes = bytes.len() as f64 / 1e6;
        std::fs::write(folder.path().join(file), bytes).expect("it can be written");
        let files: Arc<dyn Files> = Arc::new(Folder(folder.path().to_owned()));
        let plan = plan(file);
        let drill = plan.drill("walk").expect("it is there");
        let (mut reading, mut replaying) = (Vec::new(), Vec::new());
        let mut count = 0;
        for _ in 0..ROUNDS {
            let begun = Instant::now();
            let recorded = plan.record([drill], Arc::clone(&files));
            reading.push(begun.elapsed().as_secs_f64());
            count = recorded.rows;
            let plan = recorded
                .plan
                .unwrap_or_else(|| panic!("{}", recorded.findings));
            let begun = Instant::now();
            let replay = plan.replay("walk").expect("within the limits");
            replaying.push(begun.elapsed().as_secs_f64());
            assert!(!replay.ledger().is_empty());
        }
        assert_eq!(count, u64::from(ACTORS * (TICKS + 1)));
        let seconds = median(reading);
        println!(
            "{name:>12} {megabytes:>8.1} {:>12.0} {:>10.1} {:>14.2}",
            count as f64 / seconds,
            megabytes / seconds,
            median(replaying)
        );
    }
}
