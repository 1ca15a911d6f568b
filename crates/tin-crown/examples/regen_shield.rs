//! A shield before health, which comes back three seconds after the last blow.
//!
//! Run it with `cargo run --example regen_shield`.

use tin_crown::encounter::Pulse;
use tin_crown::{Amount, BoxSpec, Drill, Encounter, Kind, MeterSpec, Placement, Rule, What};

/// Builds, replays and reads the encounter.
fn main() -> Result<(), Box<dyn std::error::Error>> {
    let knight = Kind::new()
        .meter("health", MeterSpec::new(3.0))
        .meter(
            "shield",
            MeterSpec::new(2.0).regen("3s".parse()?, "1s".parse()?, 1.0),
        )
        .hurtbox("all", BoxSpec::rectangle(10.0, 20.0));
    // Out for a tick every 100 ticks, the first time on 10.
    let head = BoxSpec {
        pulse: Some(Pulse {
            on: Some("1t".parse()?),
            off: Some("99t".parse()?),
            phase: Some("90t".parse()?),
        }),
        ..BoxSpec::circle(8.0)
    };
    // Gone after three blows.
    let hammer = Kind::new().hitbox("head", head).lifetime("4s".parse()?);

    let encounter = Encounter::new("A shield before health")
        .bounds([0.0, 0.0], [100.0, 100.0])
        .kind("knight", knight)
        .kind("hammer", hammer)
        .place(Placement::new("knight", [50.0, 20.0]))
        .place(Placement::new("hammer", [50.0, 20.0]))
        .rule(
            Rule::new("hammer falls", "hammer.head", "knight.all")
                .damage_to(1.5, ["shield", "health"]),
        )
        .drill("blows", Drill::new("10s".parse()?));

    let plan = encounter.plan()?;
    let replay = plan.replay("blows")?;
    let mut changes = Vec::new();
    for event in replay.ledger().events() {
        if let What::Meter { meter, after, .. } = event.what {
            let name = plan.names().meters()[meter].as_str();
            println!("tick {:>3}: {name} is {after}", event.tick);
            changes.push((event.tick.0, name, after));
        }
    }
    // Blows on 10, 110 and 210: 1.5 from the shield; then its last half and one from health; then health
    // alone. The shield lost last on 110, so 180 ticks later, on 290, it begins to come back.
    let half = Amount::thousandths(500);
    assert_eq!(
        changes,
        [
            (10, "shield", half),
            (110, "shield", Amount::ZERO),
            (110, "health", Amount::whole(2)),
            (210, "health", half),
            (290, "shield", Amount::whole(1)),
            (350, "shield", Amount::whole(2)),
        ]
    );
    Ok(())
}
