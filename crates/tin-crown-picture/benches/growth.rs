//! How pages, pictures and studies grow with what they show, each at three sizes in one run. Twice the size
//! takes about twice the time, or something is wrong.

use std::hint::black_box;
use std::sync::Arc;
use std::time::Instant;

use tin_crown::encounter::{PickupSpec, Walk};
use tin_crown::study::{self, Setup};
use tin_crown::{
    BoxSpec, Drill, Duration, Encounter, Kind, MeterSpec, Motion, Placement, Plan, Rule,
};
use tin_crown_picture::{Film, Look, Report, Strip, Take, Timeline};

const ROUNDS: usize = 3;

fn main() {
    println!("Median of {ROUNDS} rounds, in ms, at three sizes; growth is the last by the first:");
    println!(
        "{:<44} {:>8} {:>8} {:>8} {:>8}",
        "", "×1", "×2", "×4", "growth"
    );
    let film = |plan: &Arc<Plan>| {
        Film::shoot(plan, plan.drill("d").expect("drill d")).expect("within the limits")
    };
    let page = |plan: &Arc<Plan>| {
        let mut report = Report::new(plan);
        let drill = plan.drill("d").expect("drill d");
        let take = Take::shoot(plan, drill).expect("within the limits");
        report.drill(take, Vec::new());
        black_box(report.html());
    };
    row(
        "report, 2,500 to 10,000 actors",
        [2_500, 5_000, 10_000].map(crowd),
        page,
    );
    row(
        "report, 250 to 1,000 rules",
        [250, 500, 1_000].map(rules),
        page,
    );
    row(
        "timeline, 2,500 to 10,000 actors",
        [2_500, 5_000, 10_000].map(crowd),
        |plan| {
            black_box(Timeline::new(&film(plan)).svg(&Look::paper()));
        },
    );
    row(
        "strip, 10 to 40 hits a tick",
        [10, 20, 40].map(hits),
        |plan| {
            let strip = Strip::of(&film(plan)).take().expect("within the limits");
            black_box(strip.svg(&Look::paper()));
        },
    );
    let cover = |plan: &Arc<Plan>| {
        let replay = plan.replay("d").expect("within the limits");
        black_box(study::coverage(plan, [&replay]));
    };
    row(
        "coverage, 250 to 1,000 kinds and rules",
        [250, 500, 1_000].map(kinds),
        cover,
    );
    row(
        "coverage, 10 to 40 hits a tick",
        [10, 20, 40].map(hits),
        cover,
    );
    let play = |plan: &Arc<Plan>| {
        black_box(plan.replay("d").expect("within the limits"));
    };
    row(
        "replay, 250 to 1,000 kinds and rules",
        [250, 500, 1_000].map(kinds),
        play,
    );
    row("replay, 10 to 40 hits a tick", [10, 20, 40].map(hits), play);
    row(
        "replay, 500 to 2,000 pickups and bodies",
        [500, 1_000, 2_000].map(pickups),
        play,
    );
    files_and_questions();
}

/// What reads files, and asks about runs.
fn files_and_questions() {
    row(
        "check, 12,500 to 50,000 presses of a button",
        [12_500, 25_000, 50_000].map(presses),
        |text: &String| {
            black_box(tin_crown::check(text.as_bytes()));
        },
    );
    row(
        "order of keys, of 2,500 to 10,000 tables",
        [2_500, 5_000, 10_000],
        |tables| {
            for _ in 0..*tables {
                black_box(tin_crown::schema::key_order(&[
                    "kind", "a", "meter", "health",
                ]));
            }
        },
    );
    row(
        "why, of 2,500 to 10,000 of a kind",
        [2_500, 5_000, 10_000].map(crowd),
        |plan| {
            let who = plan.choose("walker").expect("a kind");
            let drill = plan.drill("d").expect("drill d");
            black_box(study::account(plan, drill, &who, None).expect("within the limits"));
        },
    );
    row(
        "sweep of 4 cells, 2,500 to 10,000 actors",
        [2_500, 5_000, 10_000].map(crowded),
        |encounter| {
            let damage = "rule.brush.damage=1..4/1".parse().expect("an axis");
            let setup = Setup {
                axes: vec![damage],
                ..Setup::default()
            };
            let before = plan(encounter);
            let sweep = study::Sweep::new(encounter, &before, setup).expect("a sweep");
            black_box(sweep.rows(0..sweep.cells()));
        },
    );
}

fn row<T>(what: &str, sizes: [T; 3], run: impl Fn(&T)) {
    let times = sizes.map(|size| {
        let mut times: Vec<f64> = (0..ROUNDS)
            .map(|_| {
                let start = Instant::now();
                run(&size);
                start.elapsed().as_secs_f64() * 1e3
            })
            .collect();
        times.sort_by(f64::total_cmp);
        times[ROUNDS / 2]
    });
    let [first, second, third] = times;
    let growth = third / first;
    println!("{what:<44} {first:>8.1} {second:>8.1} {third:>8.1} {growth:>8.1}");
}

fn time(text: &str) -> Duration {
    text.parse().expect("a time")
}

fn stage(length: &str) -> Encounter {
    Encounter::new("growth")
        .bounds([0.0, 0.0], [100_000.0, 1000.0])
        .drill("d", Drill::new(time(length)))
}

fn plan(encounter: &Encounter) -> Arc<Plan> {
    encounter.plan().expect("no errors")
}

/// So many who patrol and touch their neighbours.
fn crowd(actors: u32) -> Arc<Plan> {
    plan(&crowded(actors))
}

fn crowded(actors: u32) -> Encounter {
    let walker = Kind::new()
        .meter("health", MeterSpec::new(100.0))
        .hurtbox("all", BoxSpec::rectangle(10.0, 10.0))
        .hitbox("edge", BoxSpec::rectangle(12.0, 12.0))
        .motion(Motion::patrol(-1e6, 1e6, 30.0))
        .invincible_after_hit(time("1s"));
    let rows = (0..actors / 500).map(|row| {
        let y = 20.0 + 20.0 * f64::from(row);
        Placement::new("walker", [50.0, y])
            .id(format!("row{row}"))
            .copies(500, [90.0, 0.0])
    });
    let stage = stage("60t").kind("walker", walker);
    let rule = Rule::new("brush", "walker.edge", "walker.all").damage(1.0);
    rows.fold(stage, Encounter::place).rule(rule)
}

/// So many who lie about, and so many bodies that none of them is near.
fn pickups(count: u32) -> Arc<Plan> {
    let coin = Kind::new().pickup(PickupSpec::new(
        BoxSpec::circle(4.0),
        "taker",
        "health",
        1.0,
    ));
    let taker = Kind::new()
        .body(BoxSpec::rectangle(10.0, 10.0))
        .meter("health", MeterSpec::new(9.0));
    let stage = stage("60t").kind("coin", coin).kind("taker", taker);
    let row = |kind: &str, y: f64| Placement::new(kind, [50.0, y]).copies(count, [20.0, 0.0]);
    plan(&stage.place(row("coin", 50.0)).place(row("taker", 500.0)))
}

/// A file with so many presses of one button.
fn presses(count: u32) -> String {
    let walker = Kind::new().walk(Walk::new(10.0));
    let drill = (0..count).fold(Drill::new(time("400000t")), |drill, nth| {
        drill.press(time(&format!("{}t", 3 * nth)), "walker", "left")
    });
    let stage = stage("60t").kind("walker", walker).drill("d", drill);
    stage
        .place(Placement::new("walker", [50.0, 50.0]))
        .to_toml()
}

/// Twenty pairs that touch, by so many rules.
fn rules(count: u32) -> Arc<Plan> {
    let rules = (0..count).map(|nth| Rule::new(format!("r{nth}"), "b.h", "a.t").damage(0.001));
    plan(&rules.fold(pairs(20, "30t"), Encounter::rule))
}

/// So many pairs that hit on every tick.
fn hits(count: u32) -> Arc<Plan> {
    plan(&pairs(count, "600t").rule(Rule::new("r", "b.h", "a.t").damage(0.001)))
}

fn pairs(count: u32, length: &str) -> Encounter {
    let taker = Kind::new()
        .meter("health", MeterSpec::new(9_000_000.0))
        .hurtbox("t", BoxSpec::rectangle(10.0, 10.0));
    let giver = Kind::new().hitbox("h", BoxSpec::rectangle(10.0, 10.0));
    stage(length)
        .kind("a", taker)
        .kind("b", giver)
        .place(Placement::new("a", [50.0, 50.0]).copies(count, [20.0, 0.0]))
        .place(Placement::new("b", [50.0, 50.0]).copies(count, [20.0, 0.0]))
}

/// So many kinds, each with a rule by which it hits all others.
fn kinds(count: u32) -> Arc<Plan> {
    let kind = || {
        Kind::new()
            .meter("health", MeterSpec::new(9.0))
            .hurtbox("t", BoxSpec::circle(5.0))
            .hitbox("h", BoxSpec::circle(5.0))
            .invincible_after_hit(time("1s"))
    };
    let stage = (0..count).fold(stage("120t"), |stage, nth| {
        let name = format!("k{nth}");
        let hitbox = format!("{name}.h");
        stage
            .kind(&name, kind())
            .place(Placement::new(&name, [4.0 * f64::from(nth), 50.0]))
            .rule(Rule::new(format!("r{nth}"), hitbox, "*").damage(1.0))
    });
    plan(&stage)
}
