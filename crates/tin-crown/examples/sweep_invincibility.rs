//! How long does the hero have to be invincible after a hit, to come through a nest of burrs? Every length is tried.
//!
//! Run it with `cargo run --example sweep_invincibility`.

use tin_crown::encounter::Measure;
use tin_crown::study::{Datum, Holds, Setup, Sweep};
use tin_crown::{
    BoxSpec, Drill, Encounter, Expectation, Kind, MeterSpec, Motion, Pattern, Placement, Rule,
};

/// Builds, sweeps and reads the encounter.
fn main() -> Result<(), Box<dyn std::error::Error>> {
    let hero = Kind::new()
        .meter("health", MeterSpec::new(3.0))
        .hurtbox("torso", BoxSpec::rectangle(10.0, 20.0))
        .motion(Motion::patrol(20.0, 180.0, 60.0))
        .invincible_after_hit("0.5s".parse()?);
    let nest = Kind::new().hitbox("burrs", BoxSpec::rectangle(60.0, 20.0));
    let mut death = Pattern::new(tin_crown::encounter::Happening::Death);
    death.who = Some("hero".to_owned());
    let encounter = Encounter::new("Through the nest")
        .bounds([0.0, 0.0], [200.0, 100.0])
        .kind("hero", hero)
        .kind("nest", nest)
        .place(Placement::new("hero", [20.0, 50.0]))
        .place(Placement::new("nest", [100.0, 50.0]))
        .rule(Rule::new("burrs prick", "nest.burrs", "hero.torso").damage(1.0))
        .drill(
            "across",
            Drill::new("2.6s".parse()?).expect(Expectation::never(death)),
        );

    let setup = Setup {
        axes: vec!["kind.hero.invincible.after_hit=5t..60t/5t".parse()?],
        measures: vec![(
            "pricks".to_owned(),
            Measure::read("count = { hit = { whom = 'hero' } }")
                .value
                .ok_or("a measure")?,
        )],
        ..Setup::default()
    };
    let sweep = Sweep::new(&encounter, &encounter.plan()?, setup)?;
    let mut enough = None;
    for row in sweep.rows(0..sweep.cells()) {
        let datum = |holds| row.first(sweep.columns(), holds).map(Datum::to_string);
        let [length, pricks] =
            [Holds::Value, Holds::Measure].map(|holds| datum(holds).unwrap_or_default());
        let survives = datum(Holds::Missed).is_none();
        println!(
            "invincible for {length:>3}: {pricks} pricks, {}",
            if survives { "comes through" } else { "dies" }
        );
        if survives {
            enough.get_or_insert(length);
        }
    }
    // The hero walks a unit a tick, and its box, 10 wide, is in the nest, 60 wide, for 70 ticks: pricked on the first of
    // them and every k ticks after that, it is pricked ceil(70 / k) times, and has 3 health: twice from k = 35 on.
    assert_eq!(enough.as_deref(), Some("35t"));
    Ok(())
}
