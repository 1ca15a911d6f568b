//! An encounter built in code, without a file: a beetle walks into a porter, and the ledger says
//! when it hurts.
//!
//! Run it with `cargo run --example contact_damage`.

use tin_crown::{
    BoxSpec, Drill, Encounter, Facing, Kind, MeterSpec, Motion, Placement, Rule, Verdict, What,
};

/// Builds, replays and reads the encounter.
fn main() -> Result<(), Box<dyn std::error::Error>> {
    let porter = Kind::new()
        .side("crown")
        .meter("health", MeterSpec::new(4.0))
        .hurtbox("torso", BoxSpec::rectangle(12.0, 20.0).at(0.0, 2.0))
        .invincible_after_hit("0.5s".parse()?);
    let beetle = Kind::new()
        .side("attic")
        .hitbox("horns", BoxSpec::rectangle(26.0, 10.0).at(0.0, -3.0))
        .motion(Motion::patrol(60.0, 290.0, 40.0));

    let encounter = Encounter::new("A beetle walks into a porter")
        .tick_rate(60)
        .bounds([0.0, 0.0], [640.0, 240.0])
        .kind("porter", porter)
        .kind("beetle", beetle)
        .place(Placement::new("porter", [100.0, 30.0]))
        .place(Placement::new("beetle", [290.0, 24.0]).facing(Facing::Left))
        .rule(Rule::new("horns gore porter", "beetle.horns", "porter.torso").damage(1.0))
        .drill("stand", Drill::new("6s".parse()?));

    let plan = encounter.plan()?;
    let replay = plan.replay("stand")?;

    let mut ticks = Vec::new();
    for event in replay.ledger().events() {
        if let What::Hit(hit) = &event.what
            && hit.verdict == Verdict::Landed
        {
            ticks.push(event.tick.0);
        }
    }
    for row in replay.rows(replay.ledger().events()) {
        println!(
            "{:>6.3} s  {} {} {}  {}",
            row.seconds, row.who, row.what, row.whom, row.outcome
        );
    }

    // The horns have 290 - 13 - 106 = 171 units to go at 40 a second: 256.5 ticks. Then half a
    // second of invincibility parts the hits by exactly 30 ticks, until the beetle has walked through.
    assert_eq!(ticks, [257, 287]);
    println!("hits on ticks {ticks:?}");
    Ok(())
}
