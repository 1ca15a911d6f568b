//! A floorboard that sets off a cuckoo: from the hit back to the step that brought it about.
//!
//! Run it with `cargo run --example ambush`.

use tin_crown::encounter::{Aim, Condition, Other, Transition, Walk};
use tin_crown::{
    BoxSpec, Drill, Encounter, Facing, Kind, LauncherSpec, MeterSpec, Placement, Rule, SensorSpec,
    StateSpec, What,
};

/// Builds, replays and reads the encounter.
fn main() -> Result<(), Box<dyn std::error::Error>> {
    let porter = Kind::new()
        .side("crown")
        .tag("hero")
        .body(BoxSpec::rectangle(14.0, 28.0))
        .walk(Walk::new(60.0))
        .meter("health", MeterSpec::new(3.0))
        .hurtbox("torso", BoxSpec::rectangle(12.0, 20.0).at(0.0, 2.0));
    let tread = SensorSpec::region(BoxSpec::rectangle(30.0, 8.0).at(0.0, 4.0), "#hero");
    let trodden_on = Condition {
        other: Some(Other {
            who: "floorboard".into(),
            sees: Some("tread".into()),
            state: None,
        }),
        ..Condition::default()
    };
    // It opens once, and flies at whoever trod on the board, to where they will be.
    let clock = Kind::new()
        .side("attic")
        .launcher(
            "cuckoo",
            LauncherSpec::new("cuckoo", 240.0).aim(Aim::Lead("noticed".into())),
        )
        .state(
            "shut",
            StateSpec::new().go(Transition {
                once: true,
                ..Transition::new("open", trodden_on)
            }),
        )
        .state("open", StateSpec::new().launcher("cuckoo"))
        .starts("shut");
    let cuckoo = Kind::new()
        .hitbox("beak", BoxSpec::circle(5.0))
        .lifetime("3s".parse()?);

    let encounter = Encounter::new("A floorboard and a cuckoo")
        .bounds([0.0, 0.0], [400.0, 200.0])
        .kind("porter", porter)
        .kind("floorboard", Kind::new().sensor("tread", tread))
        .kind("cuckoo-clock", clock)
        .kind("cuckoo", cuckoo)
        .place(Placement::new("porter", [40.0, 14.0]))
        .place(Placement::new("floorboard", [120.0, 0.0]))
        .place(
            Placement::new("cuckoo-clock", [300.0, 120.0])
                .id("clock")
                .facing(Facing::Left),
        )
        .rule(Rule::new("cuckoo pecks", "cuckoo.beak", "#hero.torso").damage(1.0))
        .drill(
            "stroll",
            Drill::new("4s".parse()?).hold("0s".parse()?, "porter", "right", "4s".parse()?),
        );

    let replay = encounter.plan()?.replay("stroll")?;
    let ledger = replay.ledger();
    let hit = ledger
        .events()
        .iter()
        .find(|event| matches!(event.what, What::Hit(_)))
        .ok_or("nobody was hit")?;
    let mut chain = vec![hit];
    while let Some(cause) = chain[0].cause.and_then(|line| ledger.get(line)) {
        chain.insert(0, cause);
    }
    for row in replay.rows(chain.iter().copied()) {
        println!(
            "{:>6.3} s  {} {} {}  {}",
            row.seconds, row.who, row.what, row.whom, row.outcome
        );
    }
    let names: Vec<&str> = chain.iter().map(|event| event.what.name()).collect();
    assert_eq!(names, ["sense", "state", "shot", "hit"]);
    // The front of the porter is at 47 + n on tick n, the board begins at 105: inside it on tick 59,
    // which is noticed on 60.
    assert_eq!(chain[0].tick.0, 60);
    Ok(())
}
