//! So many shots, then none until you find more: a pop-gun with two corks, and a tin of them on the way.
//!
//! Run it with `cargo run --example pop_gun`.

use tin_crown::encounter::{Leave, PickupSpec, Walk};
use tin_crown::{BoxSpec, Drill, Encounter, Kind, LauncherSpec, MeterSpec, Placement, Rule, What};

/// Builds, replays and reads the encounter.
fn main() -> Result<(), Box<dyn std::error::Error>> {
    let pop_gun = LauncherSpec::new("cork", 260.0)
        .button("shoot")
        .muzzle(6.0, 4.0)
        .ammo("corks", 1.0);
    let porter = Kind::new()
        .side("crown")
        .tag("hero")
        .body(BoxSpec::rectangle(14.0, 28.0))
        .walk(Walk::new(90.0))
        .meter("corks", MeterSpec::new(6.0).start(2.0))
        .launcher("pop-gun", pop_gun);
    let cork = Kind::new()
        .hitbox("tip", BoxSpec::circle(3.0))
        .lifetime("1s".parse()?)
        .leaves(Leave::new("puff"));
    let tin = PickupSpec::new(BoxSpec::rectangle(12.0, 12.0), "#hero", "corks", 4.0);
    let drum = Kind::new()
        .side("attic")
        .meter("health", MeterSpec::new(9.0))
        .hurtbox("skin", BoxSpec::rectangle(10.0, 60.0));

    let mut drill =
        Drill::new("3s".parse()?).hold("0.5s".parse()?, "porter", "right", "1s".parse()?);
    // The second is held for 40 ticks, and is one shot all the same.
    for when in ["0.1s", "1.9s"] {
        drill = drill.press(when.parse()?, "porter", "shoot");
    }
    drill = drill.hold("0.3s".parse()?, "porter", "shoot", "40t".parse()?);
    drill = drill.press("1.1s".parse()?, "porter", "shoot");

    let encounter = Encounter::new("Two corks and a tin")
        .bounds([0.0, 0.0], [400.0, 200.0])
        .kind("porter", porter)
        .kind("cork", cork)
        .kind("puff", Kind::new().lifetime("0.2s".parse()?))
        .kind("cork-tin", Kind::new().pickup(tin))
        .kind("drum", drum)
        .place(Placement::new("porter", [40.0, 30.0]))
        .place(Placement::new("cork-tin", [120.0, 24.0]).id("tin"))
        .place(Placement::new("drum", [300.0, 30.0]))
        .rule(Rule::new("cork pops", "cork.tip", "drum.skin").damage(1.0))
        .drill("two corks", drill);

    let replay = encounter.plan()?.replay("two corks")?;
    for row in replay.rows(replay.ledger().events()) {
        println!(
            "{:>6.3} s  {} {} {}  {}",
            row.seconds, row.who, row.what, row.whom, row.outcome
        );
    }

    let mut shots = Vec::new();
    let mut dry = Vec::new();
    for event in replay.ledger().events() {
        match event.what {
            What::Shot { .. } => shots.push(event.tick.0),
            What::DryFire { .. } => dry.push(event.tick.0),
            _ => {}
        }
    }
    // One on 6, one on 18; none left on 66. From tick 30 on the porter's front is at 47 + 1.5 (n - 29) on
    // tick n, and the tin begins at 114: inside it on 74. On 114 there are corks again.
    assert_eq!(shots, [6, 18, 114]);
    assert_eq!(dry, [66]);
    println!("shots on ticks {shots:?}, none came out on {dry:?}");
    Ok(())
}
