//! Two lives, a lamp and a thorn: a death that plays out, a respawn at the lamp, and the end.
//!
//! Run it with `cargo run --example checkpoint_run`.

use tin_crown::encounter::{Checkpoint, DeathStep, Region, RespawnSpec, ReturnTo, Walk};
use tin_crown::{BoxSpec, Drill, Encounter, Kind, MeterSpec, Outcome, Placement, Rule};

/// Builds, replays and reads the encounter.
fn main() -> Result<(), Box<dyn std::error::Error>> {
    let porter = Kind::new()
        .player()
        .body(BoxSpec::rectangle(14.0, 28.0))
        .walk(Walk::new(60.0))
        .meter("health", MeterSpec::new(1.0))
        .hurtbox("torso", BoxSpec::rectangle(12.0, 20.0))
        .death(DeathStep::new("0s".parse()?).throw(120.0))
        .death(DeathStep::new("0.5s".parse()?).cue("curtain"))
        .respawn(RespawnSpec {
            at: Some(ReturnTo::Checkpoint),
            delay: Some("1s".parse()?),
            lives: Some(2),
            ..RespawnSpec::default()
        });
    let thorn = Kind::new().hitbox("tip", BoxSpec::rectangle(4.0, 40.0));
    let lamp = Region::new([100.0, 0.0], [110.0, 40.0]);

    let encounter = Encounter::new("A lamp and a thorn")
        .bounds([0.0, -50.0], [400.0, 200.0])
        .kind("porter", porter)
        .kind("thorn", thorn)
        .place(Placement::new("porter", [40.0, 14.0]))
        .place(Placement::new("thorn", [200.0, 14.0]))
        .rule(Rule::new("thorn pricks", "thorn.tip", "porter.torso").damage(1.0))
        .checkpoint(Checkpoint::new("lamp", lamp, [90.0, 14.0]))
        .drill(
            "run",
            Drill::new("10s".parse()?).hold("0s".parse()?, "porter", "right", "10s".parse()?),
        );

    let replay = encounter.plan()?.replay("run")?;
    let mut told = Vec::new();
    for event in replay.ledger().events() {
        let name = event.what.name();
        if ["checkpoint", "death", "gone", "respawn", "life", "outcome"].contains(&name) {
            told.push((event.tick.0, name));
        }
    }
    for row in replay.rows(replay.ledger().events()) {
        println!(
            "{:>6.3} s  {} {} {}  {}",
            row.seconds, row.who, row.what, row.whom, row.outcome
        );
    }

    // At a unit a tick: the front is at 47 + n on tick n, inside the lamp from 100 on tick 54, and the
    // torso's front, at 46 + n, inside the thorn from 198 on tick 153. Gone 30 later, back 60 after that
    // at 90, where the torso's front is at 96: 102 and a bit to go.
    assert_eq!(
        told,
        [
            (54, "checkpoint"),
            (153, "death"),
            (153, "life"),
            (183, "gone"),
            (243, "respawn"),
            (346, "death"),
            (346, "life"),
            (376, "gone"),
            (376, "outcome"),
        ]
    );
    assert_eq!(replay.summary().outcome, Some(Outcome::Lost));
    Ok(())
}
