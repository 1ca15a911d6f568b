//! Random fights: walkers and patrols with attacks, guards, gates, precedence and hitstop.

use proptest::prelude::*;
use tin_crown::encounter::{
    Against, Approach, ArenaHeight, Contact, Faces, Floor, GuardSpec, Level, Looking, Movement,
    ParrySpec, PartyGate, Phase, Pierce, Repeat, Turns, Walk,
};
use tin_crown::geometry::Angle;
use tin_crown::{
    AttackSpec, BoxSpec, Drill, Duration, Encounter, Facing, Gate, Kind, MeterSpec, Motion,
    Placement, Rule,
};

/// One of a few.
pub fn chosen<T: Clone + std::fmt::Debug + 'static>(
    all: &[T],
) -> impl Strategy<Value = T> + use<T> {
    prop::sample::select(all.to_vec())
}

fn fighter(side: &'static str) -> impl Strategy<Value = Kind> {
    let motion = prop_oneof![
        (20.0..200.0f64).prop_map(|speed| Kind::new().motion(Motion::patrol(-40.0, 40.0, speed))),
        (40.0..120.0f64).prop_map(|speed| Kind::new()
            .body(BoxSpec::rectangle(8.0, 16.0))
            .walk(Walk::new(speed).jump(260.0))),
    ];
    let attack = (
        0u32..4,
        1u32..6,
        0u32..9,
        prop::option::of(1u32..4),
        prop::option::of(1u32..3),
        prop::option::of(8u32..30),
        any::<bool>(),
    );
    let window = (
        chosen(&[0u32, 3, 20]),
        chosen(&[Against::Everyone, Against::Source, Against::Rule]),
    );
    let guard = prop::option::weighted(0.8, (0u32..4, prop::option::of(1u32..5), 0u32..3));
    (motion, attack, window, guard, 6.0..14.0f64).prop_map(
        move |(kind, attack, (window, against), guard, size)| {
            let (startup, active, recovery, every, targets, clock, locked) = attack;
            let ticked = Duration::ticked;
            let mut thrust = AttackSpec {
                every: every.map(ticked),
                targets,
                movement: locked.then_some(Movement::Locked),
                ..AttackSpec::new("attack", [startup, active, recovery].map(ticked), "tip")
            };
            if let Some(clock) = clock {
                thrust = thrust.clock(ticked(3), ticked(clock));
            }
            let mut kind = kind
                .side(side)
                .tag("all")
                .meter("health", MeterSpec::new(6.0))
                .meter("stamina", MeterSpec::new(2.0))
                .hitbox("tip", BoxSpec::rectangle(size * 2.0, 6.0).at(size, 0.0))
                .hitbox("feet", BoxSpec::rectangle(size, 3.0).at(0.0, -9.0))
                .hurtbox("trunk", BoxSpec::rectangle(size, 14.0))
                .hurtbox("head", BoxSpec::circle(4.0).at(0.0, 9.0))
                .attack("thrust", thrust)
                .invincible_after_hit(ticked(window));
            kind.invincible.against = Some(against);
            if let Some((startup, parry, break_stun)) = guard {
                kind = kind.guard(GuardSpec {
                    startup: Some(ticked(startup)),
                    meter: (break_stun > 0).then(|| "stamina".into()),
                    break_stun: (break_stun > 0).then(|| ticked(break_stun * 10)),
                    parry: parry.map(|window| ParrySpec {
                        window: Some(ticked(window)),
                        stun: Some(ticked(12)),
                        ..ParrySpec::default()
                    }),
                    ..GuardSpec::new("guard")
                });
            }
            kind
        },
    )
}

fn gate() -> impl Strategy<Value = Gate> {
    let party = prop_oneof![
        6 => Just(PartyGate::default()),
        1 => chosen(&[Looking::Toward, Looking::Away, Looking::Left]).prop_map(|facing| PartyGate { facing: Some(facing), ..PartyGate::default() }),
        1 => any::<bool>().prop_map(|yes| PartyGate { grounded: Some(yes), ..PartyGate::default() }),
        1 => any::<bool>().prop_map(|yes| PartyGate { stunned: Some(yes), ..PartyGate::default() }),
        1 => any::<bool>().prop_map(|yes| PartyGate { guarding: Some(yes), ..PartyGate::default() }),
        1 => chosen(&[Phase::Active, Phase::Recovery]).prop_map(|phase| PartyGate { phase: Some(phase), ..PartyGate::default() }),
        1 => (0u32..3).prop_map(|most| PartyGate {
            meters: [("stamina".to_owned(), Level { at_most: Some(f64::from(most).into()), ..Level::default() })].into(),
            ..PartyGate::default()
        }),
    ];
    let from = prop::option::of(chosen(&[
        Approach::Above,
        Approach::Above,
        Approach::Below,
        Approach::Front,
        Approach::Behind,
        Approach::Left,
    ]));
    (from, prop::option::of(0.0..60.0f64), party.clone(), party).prop_map(
        |(from, falling, who, whom)| Gate {
            falling_at_least: falling.filter(|_| from == Some(Approach::Above)),
            margin: (from == Some(Approach::Above)).then_some(2.0),
            from,
            who,
            whom,
            ..Gate::default()
        },
    )
}

fn rule() -> impl Strategy<Value = Rule> {
    let who = chosen(&["#all.tip", "#all.feet", "a.tip", "*", "*"]);
    let whom = chosen(&["#all.trunk", "*.head", "*.trunk", "*", "*"]);
    let repeat = prop::option::of(chosen(&[
        Repeat::WhileTouching,
        Repeat::OncePerTouch,
        Repeat::PerAttack,
    ]));
    let effects = (
        prop::option::of(2u32..15),
        prop::option::of(1u32..5),
        any::<bool>(),
        any::<bool>(),
    );
    let flags = (
        prop::bool::weighted(0.2),
        prop::bool::weighted(0.1),
        prop::bool::weighted(0.1),
    );
    (
        who,
        whom,
        gate(),
        repeat,
        chosen(&[0u32, 0, 9]),
        effects,
        flags,
    )
        .prop_map(
            |(
                who,
                whom,
                gate,
                repeat,
                every,
                (stun, hitstop, push, rebound),
                (friendly, guard, invincible),
            )| {
                let mut rule = Rule::new("", who, whom)
                    .gate(gate)
                    .every(Duration::ticked(every))
                    .damage(0.5);
                rule.repeat = repeat;
                rule.friendly = friendly;
                rule.pierces.extend(guard.then_some(Pierce::Guard));
                rule.pierces
                    .extend(invincible.then_some(Pierce::Invincible));
                rule.does.stun = stun.map(Duration::ticked);
                rule.hitstop = hitstop.map(Duration::ticked);
                if push {
                    rule = rule.knockback(60.0, 90.0);
                }
                if rebound { rule.rebound(200.0) } else { rule }
            },
        )
}

/// Two sides, three fighters, some rules and a drill.
pub fn fight() -> impl Strategy<Value = Encounter> {
    let place = || (-25.0..25.0f64, 9.0..40.0f64, any::<bool>());
    let beats = prop::collection::vec((0usize..5, 1usize..8), 4..14);
    let inputs = prop::collection::vec(
        (
            1u32..100,
            1u32..60,
            chosen(&[
                "left", "right", "jump", "attack", "attack", "guard", "guard",
            ]),
            chosen(&["a", "b"]),
        ),
        2..14,
    );
    (
        fighter("red"),
        fighter("blue"),
        [place(), place(), place()],
        prop::collection::vec(rule(), 3..8),
        beats,
        inputs,
        prop::bool::weighted(0.8),
    )
        .prop_map(|(a, b, at, mut rules, beats, inputs, swept)| {
            for (nth, rule) in rules.iter_mut().enumerate() {
                rule.name = format!("rule {nth}");
            }
            for (winner, loser) in beats {
                // Only ever the later by the earlier: no circles.
                if winner < loser && loser < rules.len() {
                    rules[winner].beats.push(format!("rule {loser}"));
                }
            }
            let mut drill = Drill::new("2s".parse().unwrap());
            for (when, length, button, who) in inputs {
                let kind = if who == "a" { &a } else { &b };
                let known = match button {
                    "attack" => kind.attacks["thrust"].button.is_some(),
                    "guard" => kind.guard.is_some(),
                    _ => kind.walk.is_some(),
                };
                if known {
                    drill = drill.hold(
                        Duration::ticked(when),
                        who,
                        button,
                        Duration::ticked(length),
                    );
                }
            }
            let facing = |left| if left { Facing::Left } else { Facing::Right };
            let mut encounter = Encounter::new("fight")
                .bounds([-9000.0, -9000.0], [9000.0, 9000.0])
                .solid([-9000.0, -90.0], [9000.0, 0.0]);
            encounter.arena.gravity = 700.0;
            encounter.arena.contact = if swept {
                Contact::Swept
            } else {
                Contact::Sampled
            };
            encounter.rules = rules;
            for (nth, (kind, id)) in [("a", "a"), ("b", "b"), ("b2", "c")]
                .into_iter()
                .enumerate()
            {
                let (x, y, left) = at[nth];
                encounter =
                    encounter.place(Placement::new(kind, [x, y]).id(id).facing(facing(left)));
            }
            encounter
                .kind("a", a)
                .kind("b", b)
                .kind("b2", Kind::new().like("b"))
                .drill("d", drill)
        })
}

/// What turns a kind of a fight: by itself, or on buttons.
#[derive(Clone, Debug)]
pub struct Turning {
    faces: Faces,
    drives: Option<f64>,
    start: f64,
}

fn turning() -> impl Strategy<Value = Turning> {
    let faces = prop_oneof![
        (-6000.0..6000.0f64).prop_map(|spin| Faces {
            spin: Some(spin),
            ..Faces::default()
        }),
        (30.0..3000.0f64, any::<bool>()).prop_map(|(turn, limited)| Faces {
            toward: Some("#all".into()),
            turn: limited.then_some(turn),
            ..Faces::default()
        }),
        Just(Faces::default()),
    ];
    let drives = prop::option::of(60.0..2000.0f64);
    (faces, drives, -180.0..180.0f64).prop_map(|(faces, drives, start)| Turning {
        faces,
        drives,
        start,
    })
}

/// A fight of kinds that rotate.
fn turned(mut fight: Encounter, all: &[Turning]) -> Encounter {
    for (kind, turning) in fight.kinds.values_mut().zip(all) {
        kind.turns = Some(Turns::Rotates);
        if kind.like.is_some() {
            continue;
        }
        kind.faces = Some(turning.faces.clone());
        if let (Some(walk), Some(turn), None) = (&mut kind.walk, turning.drives, turning.faces.spin)
        {
            kind.faces = None;
            walk.turn = Some(turn);
        }
    }
    for (place, turning) in fight.placements.iter_mut().zip(all) {
        place.facing = Facing::Angle(Angle::from_degrees(turning.start));
    }
    fight
}

/// A fight with its y as height, and some room crosswise; some boxes reach through all heights.
fn raised(mut fight: Encounter, aside: &[f64], endless: u8) -> Encounter {
    fight.arena.height = Some(ArenaHeight {
        gravity: fight.arena.gravity,
        ground: Floor::At(0.0),
    });
    fight.arena.gravity = 0.0;
    fight.arena.solids.clear();
    for kind in fight.kinds.values_mut() {
        let boxes = kind.hitboxes.iter_mut().chain(kind.hurtboxes.iter_mut());
        for (nth, (name, own)) in boxes.enumerate() {
            let span = match name.as_str() {
                "tip" => [-3.0, 3.0],
                "feet" => [-10.5, -7.5],
                "trunk" => [-7.0, 7.0],
                _ => [5.0, 13.0],
            };
            own.height = (endless >> nth & 1 == 0).then_some(span);
            if let (Some(size), true) = (&mut own.size, name != "tip") {
                size[1] = size[0];
            }
            own.at = own.at.map(|[x, _]| [x, 0.0]);
        }
        if let Some(body) = &mut kind.body {
            *body = BoxSpec::circle(4.0);
            body.height = Some([-8.0, 8.0]);
        }
    }
    for (place, y) in fight.placements.iter_mut().zip(aside) {
        place.at = place.at.map(|point| [point.at[0], *y, point.at[1]].into());
    }
    fight
}

/// Fights in the plane of kinds that rotate, and, of kinds that do or do not, with height.
pub fn fight_in_every_direction() -> impl Strategy<Value = Encounter> {
    let turns = prop::option::weighted(0.7, [turning(), turning(), turning()]);
    let aside = [-8.0..8.0f64, -8.0..8.0f64, -8.0..8.0f64];
    // Each box reaches through all heights in one of eight.
    let endless = (any::<u8>(), any::<u8>(), any::<u8>()).prop_map(|(a, b, c)| a & b & c);
    (fight(), turns, aside, endless, any::<bool>()).prop_map(
        |(fight, turns, aside, endless, high)| {
            let fight = match &turns {
                Some(turns) => turned(fight, turns),
                None => fight,
            };
            if high || turns.is_none() {
                raised(fight, &aside, endless)
            } else {
                fight
            }
        },
    )
}
