//! Shots in the air, at constant density: the cost per actor and tick for 100, 1,000 and 10,000 of them.
//!
//! Guns stand in a square, each with five shots at a time in a fan, ten times a second; a shot flies
//! for a second, so every gun has fifty in the air, and a tenth of all appear and are gone on every
//! sixth tick. Among them stand posts that can be hit.

use std::hint::black_box;
use std::sync::Arc;
use std::time::Instant;

use tin_crown::{
    BoxSpec, Drill, Duration, Encounter, Kind, LauncherSpec, MeterSpec, Placement, Plan, Rule, Sim,
};

const RATE: u32 = 60;
const LIFE: u32 = 60;
const ROUNDS: usize = 5;

fn main() {
    println!("Cost per actor and tick, median of {ROUNDS} rounds, in ns:");
    println!(
        "{:>7} {:>6} {:>8} {:>9} {:>8}",
        "in air", "ticks", "actors", "each", "lines"
    );
    for (shots, ticks) in [(100, 2400), (1_000, 600), (10_000, 180)] {
        let plan = plan(shots, ticks);
        let mut lines = 0;
        let mut actors = 0;
        let mut times: Vec<f64> = (0..ROUNDS)
            .map(|_| {
                let mut sim = warmed(&plan);
                let start = Instant::now();
                let mut played = 0u64;
                while sim.step().expect("within the limits") {
                    played += sim.cast().count() as u64;
                }
                let time = start.elapsed().as_secs_f64();
                actors = played / u64::from(ticks);
                lines = black_box(sim.ledger().len());
                time * 1e9 / played as f64
            })
            .collect();
        times.sort_by(f64::total_cmp);
        println!(
            "{shots:>7} {ticks:>6} {actors:>8} {:>9.1} {lines:>8}",
            times[ROUNDS / 2]
        );
    }
}

/// Played until as many are in the air as ever will be.
fn warmed(plan: &Arc<Plan>) -> Sim {
    let mut sim = Sim::new(plan, plan.drill("d").expect("drill d"));
    while sim.tick().0 < LIFE {
        sim.step().expect("within the limits");
    }
    sim
}

fn plan(shots: usize, ticks: u32) -> Arc<Plan> {
    let guns = shots / 50;
    let across = (guns as f64).sqrt().ceil() as usize;
    let step = 300.0;
    let gun = LauncherSpec {
        count: Some(5),
        fan: Some(288.0),
        ..LauncherSpec::new("pellet", 100.0)
    };
    let every = Duration::ticked(6);
    let side = step * across as f64;
    let mut encounter = Encounter::new("shots")
        .tick_rate(RATE)
        .bounds([-side, -side], [2.0 * side, 2.0 * side])
        .kind("gun", Kind::new().launcher("fan", gun.clock(every, every)))
        .kind(
            "pellet",
            Kind::new()
                .hitbox("tip", BoxSpec::circle(2.0))
                .body(BoxSpec::circle(1.0))
                .lifetime(Duration::ticked(LIFE)),
        )
        .kind(
            "post",
            Kind::new()
                .hurtbox("all", BoxSpec::rectangle(10.0, 10.0))
                .meter("health", MeterSpec::new(1e6))
                .invincible_after_hit(Duration::ticked(30)),
        )
        .rule(Rule::new("strike", "pellet.tip", "post.all").damage(1.0))
        .drill("d", Drill::new(Duration::ticked(LIFE + ticks)));
    for nth in 0..guns {
        let at = [step * (nth % across) as f64, step * (nth / across) as f64];
        encounter = encounter.place(Placement::new("gun", at).id(format!("gun{nth:04}")));
        for (post, off) in [[60.0, 30.0], [-60.0, 40.0]].into_iter().enumerate() {
            let id = format!("post{nth:04}_{post}");
            let at = [at[0] + off[0], at[1] + off[1]];
            encounter = encounter.place(Placement::new("post", at).id(id));
        }
    }
    encounter.plan().expect("no errors")
}
