//! A knight who strikes a dummy, or somebody behind a guard: what tests of attacks, guards and hits are made of.

use tin_crown::encounter::{Cancels, GuardSpec, Movement, Walk};
use tin_crown::{AttackSpec, BoxSpec, Drill, Encounter, Facing, Kind, MeterSpec, Placement, Rule};

use crate::stage::*;

/// Startup 3, active 4, recovery 12.
pub fn thrust() -> AttackSpec {
    AttackSpec::new("attack", [time("3t"), time("4t"), time("12t")], "tip")
}

/// A knight whose tip is 20 by 4, 16 ahead.
pub fn knight(attack: AttackSpec) -> Kind {
    Kind::new()
        .side("crown")
        .walk(Walk::new(60.0))
        .meter("health", MeterSpec::new(5.0))
        .hitbox("tip", BoxSpec::rectangle(20.0, 4.0).at(16.0, 0.0))
        .hurtbox("chest", BoxSpec::rectangle(10.0, 20.0))
        .attack("thrust", attack)
}

pub fn dummy() -> Kind {
    Kind::new()
        .side("attic")
        .meter("health", MeterSpec::new(9.0))
        .hurtbox("straw", BoxSpec::rectangle(10.0, 20.0))
}

pub fn strike() -> Rule {
    Rule::new("strike", "knight.tip", "dummy.straw").damage(1.0)
}

/// A knight at 0 that faces right, and a dummy at 20.
pub fn duel(attack: AttackSpec, drill: Drill) -> Encounter {
    Encounter::new("duel")
        .bounds([-400.0, -100.0], [400.0, 100.0])
        .kind("knight", knight(attack))
        .kind("dummy", dummy())
        .place(Placement::new("knight", [0.0, 0.0]))
        .place(Placement::new("dummy", [20.0, 0.0]))
        .rule(strike())
        .drill("d", drill)
}

pub fn press(ticks: &[u32]) -> Drill {
    let drill = Drill::new(time("2s"));
    ticks.iter().fold(drill, |drill, tick| {
        drill.press(tin_crown::Duration::ticked(*tick), "knight", "attack")
    })
}

pub fn begins(encounter: &Encounter) -> Vec<u32> {
    let replay = replay(encounter);
    let events = replay.ledger().events().iter();
    events
        .filter(|event| matches!(event.what, tin_crown::What::Attack { over: None, .. }))
        .map(|event| event.tick.0)
        .collect()
}

/// A guard knight at 20 that faces left, toward who strikes it from 0.
pub fn guarded(guard: GuardSpec, drill: Drill) -> Encounter {
    let mut encounter = duel(thrust(), drill).kind(
        "dummy",
        dummy()
            .meter("stamina", MeterSpec::new(2.0))
            .walk(Walk::new(60.0))
            .guard(guard),
    );
    encounter.placements[1].facing = Facing::Left;
    encounter
}

pub fn shield() -> GuardSpec {
    GuardSpec {
        through: Some(0.25),
        meter: Some("stamina".into()),
        break_stun: Some(time("30t")),
        ..GuardSpec::new("guard")
    }
}

/// The knight strikes on 10 (a hit on 13), and the guard is up from some tick for so long.
pub fn guard_on(from: u32, length: u32) -> Drill {
    let ticked = tin_crown::Duration::ticked;
    press(&[10]).hold(ticked(from), "dummy", "guard", ticked(length))
}

pub fn verdicts(encounter: &Encounter) -> Vec<(u32, String, Option<String>)> {
    let replay = replay(encounter);
    let events = replay.ledger().events().iter();
    // That a swing does not hit again is told too, and not of interest here.
    events
        .filter(|event| event.what.name() == "hit")
        .filter(|event| replay.line(event).verdict.as_deref() != Some("repeat"))
        .map(|event| {
            let line = replay.line(event);
            (
                event.tick.0,
                line.verdict.unwrap().into_owned(),
                line.guard.map(|said| said.into_owned()),
            )
        })
        .collect()
}

pub fn one(tick: u32, verdict: &str, guard: Option<&str>) -> Vec<(u32, String, Option<String>)> {
    vec![(tick, verdict.to_owned(), guard.map(str::to_owned))]
}

/// The knight with a guard, a jump and something to jump from.
pub fn nimble(cancels: &[&str], drill: Drill) -> Encounter {
    let attack = AttackSpec {
        movement: Some(Movement::Locked),
        cancels: Cancels {
            recovery: cancels.iter().map(|name| (*name).to_owned()).collect(),
            ..Cancels::default()
        },
        ..thrust()
    };
    let mut encounter = duel(attack, drill).solid([-400.0, -100.0], [400.0, -10.0]);
    encounter.arena.gravity = 900.0;
    let kind = encounter.kinds.remove("knight").expect("there");
    let kind = kind
        .body(BoxSpec::rectangle(10.0, 20.0))
        .walk(Walk::new(60.0).jump(300.0))
        .guard(GuardSpec {
            movement: Some(Movement::Locked),
            ..GuardSpec::new("guard")
        });
    encounter.kind("knight", kind)
}
