//! Crushed from above, hurts from the side: a beetle and one full of pins met in different ways, and what
//! the ledger says of each.
//!
//! Run it with `cargo run --example stomp_or_gore`.

use tin_crown::encounter::{Approach, Region, Solid, Walk};
use tin_crown::{
    Arena, BoxSpec, Drill, Encounter, Gate, Kind, MeterSpec, Placement, Replay, Rule, Verdict, What,
};

/// Meets the beetle from above and from the side, and the pincushion from above.
fn main() -> Result<(), Box<dyn std::error::Error>> {
    let mut landed = Vec::new();
    for (title, hero_at, drill) in [
        ("dropped onto the beetle", [0.0, 60.0], "drop"),
        ("walked into it", [-60.0, 14.0], "walk"),
        ("dropped onto the pins", [150.0, 60.0], "drop"),
    ] {
        let replay = encounter(hero_at)?.plan()?.replay(drill)?;
        println!("{title}:");
        for row in replay.rows(replay.ledger().events()) {
            if !row.whom.is_empty() {
                println!(
                    "  tick {:>2}  {} {} {} ({})  {}",
                    row.tick, row.who, row.what, row.whom, row.rule, row.outcome
                );
            }
        }
        landed.push(first_landed(&replay));
    }
    // The soles fall 28 units at 900 a second squared: 15 ticks. The horns reach 13 + 6 from 60 away
    // at 1.5 a tick: tick 28. The pins stand 12 higher than the lid, and nobody asks from where
    // the hero comes: its torso falls 24 units onto them, in 14 ticks.
    assert_eq!(landed[0], Some((15, "boots crush lid".into())));
    assert_eq!(landed[1], Some((28, "horns gore hero".into())));
    assert_eq!(landed[2], Some((14, "pins prick hero".into())));
    Ok(())
}

/// The tick and rule of the first hit that landed.
fn first_landed(replay: &Replay) -> Option<(u32, String)> {
    replay
        .ledger()
        .events()
        .iter()
        .find_map(|event| match &event.what {
            What::Hit(hit) if hit.verdict == Verdict::Landed => {
                let rule = &replay.plan().rules()[event.rule?.index()];
                Some((event.tick.0, rule.name().to_owned()))
            }
            _ => None,
        })
}

fn encounter(hero_at: [f64; 2]) -> Result<Encounter, Box<dyn std::error::Error>> {
    let hero = Kind::new()
        .side("ours")
        .body(BoxSpec::rectangle(14.0, 28.0))
        .walk(Walk::new(90.0).jump(320.0))
        .meter("health", MeterSpec::new(3.0))
        .hitbox("boots", BoxSpec::rectangle(10.0, 4.0).at(0.0, -14.0))
        .hurtbox("torso", BoxSpec::rectangle(12.0, 20.0).at(0.0, 2.0))
        .invincible_after_hit("0.5s".parse()?);
    let beetle = Kind::new()
        .side("theirs")
        .tag("windup")
        .meter("health", MeterSpec::new(1.0))
        .hitbox("horns", BoxSpec::rectangle(26.0, 10.0).at(0.0, -3.0))
        .hurtbox("lid", BoxSpec::rectangle(18.0, 4.0).at(0.0, 6.0));
    let pincushion = Kind::new()
        .like("beetle")
        .tag("windup")
        .tag("pinned")
        .hitbox(
            "pins",
            BoxSpec::polygon([[-6.0, 8.0], [6.0, 8.0], [0.0, 20.0]]),
        );
    let mut from_above = Gate::coming_from(Approach::Above).falling_at_least(30.0);
    from_above.whom.without = vec!["pinned".into()];

    Ok(Encounter::new("Stomp or gore")
        .arena(Arena {
            bounds: Region::new([-200.0, -50.0], [200.0, 200.0]),
            gravity: 900.0,
            solids: vec![Solid::new([-200.0, -50.0], [200.0, 0.0])],
            ..Arena::default()
        })
        .kind("hero", hero)
        .kind("beetle", beetle)
        .kind("pincushion-beetle", pincushion)
        .place(Placement::new("hero", hero_at))
        .place(Placement::new("beetle", [0.0, 8.0]))
        .place(Placement::new("pincushion-beetle", [150.0, 8.0]))
        .rule(
            Rule::new("boots crush lid", "hero.boots", "#windup.lid")
                .gate(from_above)
                .damage(1.0)
                .rebound(260.0)
                .beats("horns gore hero"),
        )
        .rule(
            Rule::new("horns gore hero", "#windup.horns", "hero.torso")
                .damage(1.0)
                .knockback(140.0, 120.0),
        )
        .rule(
            Rule::new("pins prick hero", "#pinned.pins", "hero.torso")
                .damage(1.0)
                .knockback(60.0, 220.0),
        )
        .drill("drop", Drill::new("0.5s".parse()?))
        .drill(
            "walk",
            Drill::new("1s".parse()?).hold("1t".parse()?, "hero", "right", "1s".parse()?),
        ))
}
