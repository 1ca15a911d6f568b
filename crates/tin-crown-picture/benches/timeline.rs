//! The timeline of a drill of a hundred thousand events: played, and drawn.

use std::hint::black_box;
use std::sync::Arc;
use std::time::Instant;

use tin_crown::{
    BoxSpec, Drill, Duration, Encounter, Kind, MeterSpec, Motion, Placement, Plan, Rule,
};
use tin_crown_picture::{Film, Look, Report, Take, Timeline};

const ROUNDS: usize = 5;

fn main() {
    let plan = plan();
    let drill = plan.drill("d").expect("drill d");
    let film = Film::shoot(&plan, drill).expect("within the limits");
    let events = film.replay().ledger().len();
    println!(
        "A drill of {events} events, {} ticks, 60 actors; median of {ROUNDS} rounds, in ms:",
        film.last()
    );
    measure("played into a film", || {
        black_box(Film::shoot(&plan, drill).expect("within the limits"));
    });
    let mut size = 0;
    measure("its timeline as SVG", || {
        size = black_box(Timeline::new(&film).svg(&Look::paper())).len();
    });
    println!("{:<22} {:>8} KiB", "size of the SVG", size / 1024);
    let mut size = 0;
    measure("played into a report page", || {
        let mut report = Report::new(&plan);
        let take = Take::shoot(&plan, drill).expect("within the limits");
        report.drill(take, Vec::new());
        size = black_box(report.html()).len();
    });
    println!("{:<22} {:>8} KiB", "size of the page", size / 1024);
}

fn measure(what: &str, mut run: impl FnMut()) {
    let mut times: Vec<f64> = (0..ROUNDS)
        .map(|_| {
            let start = Instant::now();
            run();
            start.elapsed().as_secs_f64() * 1e3
        })
        .collect();
    times.sort_by(f64::total_cmp);
    println!("{what:<22} {:>8.1}", times[ROUNDS / 2]);
}

/// Forty who run to and fro over twenty thorns for ten minutes.
fn plan() -> Arc<Plan> {
    let time = |text: &str| text.parse::<Duration>().expect("a time");
    let runner = Kind::new()
        .side("a")
        .meter("health", MeterSpec::new(99_999.0))
        .hurtbox("all", BoxSpec::circle(8.0))
        .motion(Motion::patrol(20.0, 900.0, 120.0))
        .invincible_after_hit(time("0.1s"));
    let thorn = Kind::new().side("b").hitbox("tip", BoxSpec::circle(6.0));
    Encounter::new("Runners and thorns")
        .bounds([0.0, 0.0], [1000.0, 100.0])
        .kind("runner", runner)
        .kind("thorn", thorn)
        .place(Placement::new("runner", [30.0, 50.0]).copies(40, [20.0, 0.0]))
        .place(Placement::new("thorn", [50.0, 50.0]).copies(20, [42.0, 0.0]))
        .rule(Rule::new("prick", "thorn", "runner").damage(1.0))
        .drill("d", Drill::new(time("240s")))
        .plan()
        .expect("no errors")
}
