//! Random ambushes: guns, shots, blasts, pickups, sensors and minds, with chance.

use proptest::prelude::*;
use tin_crown::encounter::{
    Aim, Axis, Chance, Chase, Checkpoint, Condition, Contact, DeathStep, DropSpec, Ease, Fall,
    FlightSpec, Follow, Hover, Leave, Leaving, MetersAt, Other, Patrol, PickupSpec, RegenSpec,
    Region, Resets, RespawnSpec, Return, ReturnTo, Route, RouteKey, Swing, Then, Transition,
    Trigger, Volley, Walk,
};
use tin_crown::{
    BoxSpec, Damage, Drill, Duration, Encounter, Facing, Kind, LauncherSpec, MeterSpec, Motion,
    Placement, Rule, SensorSpec, StateSpec,
};

use crate::fights::chosen;

fn ticked(count: u32) -> Duration {
    Duration::ticked(count)
}

fn chance(from: f64, to: f64) -> impl Strategy<Value = Chance<f64>> {
    prop_oneof![
        (from..to).prop_map(Chance::Fixed),
        (from..to, from..to).prop_map(|(a, b)| Chance::Range([a, b])),
        prop::collection::vec(from..to, 1..4).prop_map(Chance::Choice),
    ]
}

fn launcher() -> impl Strategy<Value = LauncherSpec> {
    let aim = prop_oneof![
        2 => Just(Aim::Facing),
        1 => (-60.0..60.0f64).prop_map(Aim::Angle),
        1 => Just(Aim::At("#foe".into())),
        2 => Just(Aim::Lead("#foe".into())),
    ];
    let counts = (
        1u32..4,
        prop::option::of(1u32..4),
        prop::option::of(1u32..4),
        0u32..20,
    );
    let flags = (any::<bool>(), any::<bool>(), any::<bool>(), any::<bool>());
    (aim, chance(40.0, 900.0), (0.0..15.0f64), counts, flags).prop_map(
        |(aim, speed, spread, (count, volley, in_flight, cooldown), flags)| {
            let (hold, pays, shot, stray) = flags;
            let mut launcher = LauncherSpec::new("cork", speed)
                .button("shoot")
                .muzzle(5.0, 3.0)
                .aim(aim)
                .cooldown(ticked(cooldown));
            launcher.on = hold.then_some(Trigger::Hold);
            launcher.count = Some(count);
            launcher.fan = (count > 1).then_some(40.0);
            launcher.spread = stray.then_some(spread);
            launcher.volley = volley.map(|shots| Volley {
                shots: Some(shots),
                every: Some(ticked(3)),
            });
            launcher.in_flight = in_flight.map(|most| most + count);
            launcher.shot = Some(shot);
            if pays {
                launcher = launcher.ammo("corks", 1.0);
            }
            launcher
        },
    )
}

fn cork() -> impl Strategy<Value = Kind> {
    let flight = (
        prop::option::of(1u32..4),
        0u32..3,
        0.2..1.0f64,
        prop::option::of(1u32..9),
    );
    let flags = (any::<bool>(), any::<bool>(), any::<bool>(), any::<bool>());
    (flight, flags, 5u32..60, 0.0..3.0f64).prop_map(
        |((targets, bounces, keeps, every), (body, falls, mortal, leaves), lifetime, drag)| {
            let mut cork = Kind::new()
                .hitbox("tip", BoxSpec::circle(3.0))
                .lifetime(ticked(lifetime))
                .flight(FlightSpec {
                    targets,
                    every: every.map(ticked),
                    bounces: Some(bounces),
                    keeps: Some(keeps),
                    ends_on: None,
                });
            cork.drag = Some(drag);
            if body {
                cork = cork.body(BoxSpec::circle(2.0));
            }
            if falls {
                cork = cork.gravity(1.0);
            }
            if mortal {
                cork = cork
                    .hurtbox("all", BoxSpec::circle(3.0))
                    .meter("health", MeterSpec::new(1.0));
            }
            if leaves {
                cork = cork.leaves(Leave::new("burst"));
            }
            cork
        },
    )
}

fn calm() -> impl Strategy<Value = Motion> {
    let keys = |(x, y, ease, then): (f64, f64, Ease, Then)| {
        let key = |at: [f64; 2], when, ease| RouteKey {
            at: at.into(),
            when: ticked(when),
            rest: None,
            ease: Some(ease),
        };
        Motion::Path(Route {
            keys: Some(vec![
                key([0.0, 0.0], 0, Ease::Linear),
                key([x, y], 17, ease),
                key([0.0, 0.0], 40, ease),
            ]),
            then: Some(then),
            speed: Some(50.0),
        })
    };
    prop_oneof![
        Just(Motion::Still),
        (
            -20.0..20.0f64,
            -20.0..20.0f64,
            chosen(&[Ease::Linear, Ease::In, Ease::Both]),
            chosen(&[Then::Stays, Then::Loops, Then::Returns])
        )
            .prop_map(keys),
        (-9.0..9.0f64, -9.0..9.0f64, 10u32..60, 0u32..9).prop_map(|(x, y, period, phase)| {
            Motion::Hover(Hover {
                size: Some([x, y].into()),
                period: Some(ticked(period)),
                phase: Some(ticked(phase)),
                speed: None,
            })
        }),
        (5.0..30.0f64, 5.0..80.0f64, 20u32..90).prop_map(|(length, arc, period)| {
            Motion::Swing(Swing {
                length: Some(length),
                arc: Some(arc),
                period: Some(ticked(period)),
                phase: None,
            })
        }),
        (chance(20.0, 90.0), any::<bool>()).prop_map(|(speed, across)| {
            Motion::Patrol(Patrol {
                between: None,
                speed: Some(speed),
                axis: Some(Axis::X),
                turns_at_ledges: across.then_some(true),
            })
        }),
    ]
}

fn cross() -> impl Strategy<Value = StateSpec> {
    let chase = (
        chance(20.0, 150.0),
        prop::option::of(60.0..400.0f64),
        0.0..20.0f64,
    );
    let motion = prop_oneof![
        3 => chase.prop_map(|(speed, turn, stop_at)| Motion::Chase(Chase {
            whom: Some("noticed".into()),
            speed: Some(speed),
            turn,
            stop_at: Some(stop_at),
        })),
        1 => (20.0..90.0f64).prop_map(|speed| Motion::Return(Return { speed: Some(speed) })),
        1 => Just(Motion::Fall(Fall { most: Some(200.0) })),
        1 => (-9.0..9.0f64, 0.0..20.0f64).prop_map(|(x, y)| Motion::Follow(Follow {
            whom: Some("#hero".into()),
            offset: Some([x, y].into()),
            speed: Some(80.0),
        })),
    ];
    (
        motion,
        prop::option::of((-60.0..60.0f64, 10.0..60.0f64)),
        any::<bool>(),
    )
        .prop_map(|(motion, teleport, spits)| {
            let mut state = StateSpec::new().motion(motion).live("sting");
            state.teleport =
                teleport.map(|(x, y)| Chance::Range([[x, y], [x + 10.0, y + 10.0]]).into());
            if spits {
                state = state.launcher("spit");
            }
            state
        })
}

fn wasp() -> impl Strategy<Value = Kind> {
    let sensor = (any::<bool>(), any::<bool>(), 20.0..120.0f64);
    let timing = (0u32..6, 0u32..40, 0u32..40);
    let flags = (any::<bool>(), any::<bool>());
    (calm().boxed(), cross().boxed(), sensor, timing, flags).prop_map(
        |(calm, mut cross, (ray, stopped, reach), (lasting, after, cooldown), (body, hurt))| {
            let mut eyes = if ray {
                SensorSpec::ray([0.0, 0.0], [reach, 0.0], "#hero")
            } else {
                SensorSpec::region(BoxSpec::circle(reach), "#hero")
            };
            if stopped {
                eyes = eyes.stopped_by("solids").stopped_by("tin");
            }
            let near = Condition {
                lasting: Some(ticked(lasting)),
                ..Condition::sees("eyes")
            };
            let calm = StateSpec::new().motion(calm).go(Transition {
                cooldown: Some(ticked(cooldown)),
                ..Transition::new("cross", "near")
            });
            let other = Condition {
                other: Some(Other {
                    who: "#foe".into(),
                    state: Some("cross".into()),
                    sees: None,
                }),
                ..Condition::default()
            };
            let calm = if hurt {
                calm.go(Transition {
                    once: true,
                    ..Transition::new("cross", other)
                })
            } else {
                calm
            };
            let loses = Condition {
                loses: Some("eyes".into()),
                after: Some(ticked(after)),
                ..Condition::default()
            };
            cross = cross.go(Transition::new("calm", loses));
            let spit = LauncherSpec {
                shot: Some(true),
                ..LauncherSpec::new("spit", 120.0).aim(Aim::At("noticed".into()))
            };
            let spit = if cross.launchers.is_some() {
                spit
            } else {
                spit.clock(ticked(11), ticked(37))
            };
            let mut wasp = Kind::new()
                .side("attic")
                .tag("foe")
                .meter("health", MeterSpec::new(3.0))
                .hurtbox("all", BoxSpec::circle(5.0))
                .hitbox("sting", BoxSpec::circle(4.0).at(4.0, -2.0))
                .sensor("eyes", eyes)
                .launcher("spit", spit)
                .condition("near", near)
                .state("calm", calm)
                .state("cross", cross)
                .starts("calm");
            if body {
                wasp = wasp.body(BoxSpec::rectangle(9.0, 9.0));
            }
            wasp
        },
    )
}

/// A hero with a gun, foes with minds, bombs, a tin of corks, and a wall or two.
pub fn ambush() -> impl Strategy<Value = Encounter> {
    let place = || (-90.0..90.0f64, 12.0..70.0f64, any::<bool>());
    let inputs = prop::collection::vec(
        (
            1u32..100,
            1u32..40,
            chosen(&["left", "right", "jump", "shoot", "shoot"]),
        ),
        2..12,
    );
    let flags = (
        prop::bool::weighted(0.8),
        any::<bool>(),
        any::<bool>(),
        any::<bool>(),
    );
    (
        (launcher().boxed(), cork().boxed(), wasp().boxed()),
        [place(), place(), place(), place(), place()],
        inputs,
        flags,
        (5u32..60, 0u32..5, -60.0..60.0f64),
        afterlife().boxed(),
    )
        .prop_map(
            |((gun, cork, wasp), at, inputs, flags, (fuse, seed, wall), afterlife)| {
                let (swept, pulse, friendly, returns) = flags;
                let facing = |left| if left { Facing::Left } else { Facing::Right };
                let hero = Kind::new()
                    .side("crown")
                    .tag("hero")
                    .body(BoxSpec::rectangle(8.0, 16.0))
                    .walk(Walk::new(80.0).jump(260.0))
                    .hurtbox("all", BoxSpec::rectangle(7.0, 14.0))
                    .meter("health", MeterSpec::new(9.0))
                    .meter(
                        "corks",
                        MeterSpec {
                            regen: Some(RegenSpec {
                                delay: Some(ticked(20)),
                                every: Some(ticked(15)),
                                amount: Some(0.5),
                                ..RegenSpec::default()
                            }),
                            ..MeterSpec::new(4.0)
                        },
                    )
                    .launcher("pop", gun)
                    .invincible_after_hit(ticked(9));
                let hero = Kind {
                    player: Some(true),
                    ..afterlife.over_hero(hero)
                };
                let mut blast = BoxSpec::circle(22.0);
                blast.grows = Some([0.2, 1.0]);
                if pulse {
                    blast = blast.pulse(ticked(2), ticked(1));
                }
                let burst = Kind::new().hitbox("blast", blast).lifetime(ticked(6));
                let bomb = Kind::new()
                    .tag("foe")
                    .meter("health", MeterSpec::new(1.0))
                    .hurtbox("all", BoxSpec::circle(4.0))
                    .lifetime(ticked(fuse))
                    .leaves(Leave::new("burst"))
                    .respawn(RespawnSpec {
                        delay: Some(ticked(25)),
                        ..RespawnSpec::default()
                    });
                let tin = PickupSpec {
                    back_after: returns.then(|| ticked(30)),
                    ..PickupSpec::new(BoxSpec::circle(6.0), "#hero", "corks", 2.0)
                };
                let mut drill = Drill::new("2s".parse().unwrap());
                drill.seed = seed;
                for (when, length, button) in inputs {
                    drill = drill.hold(ticked(when), "h", button, ticked(length));
                }
                let mut bands = Rule::new("burst tears", "burst.blast", "*.all");
                bands.gate.line_of_sight = Some(true);
                bands.friendly = friendly;
                bands.does.damage = Some(Damage {
                    bands: Some(vec![[6.0, 2.0], [30.0, 0.5]]),
                    ..Damage::default()
                });
                let mut encounter = Encounter::new("ambush")
                    .bounds([-300.0, -200.0], [300.0, 300.0])
                    .solid([-300.0, -200.0], [300.0, 0.0])
                    .solid([wall, 0.0], [wall + 6.0, 30.0])
                    .kind("hero", hero)
                    .kind("cork", cork)
                    .kind("wasp", wasp)
                    .kind("spit", {
                        let spit = Kind::new().hitbox("drop", BoxSpec::circle(2.0));
                        spit.lifetime(ticked(40))
                    })
                    .kind("burst", burst)
                    .kind("bomb", bomb)
                    .kind(
                        "tin",
                        Kind::new().pickup(tin).hitbox("rim", BoxSpec::circle(5.0)),
                    )
                    .rule(Rule::new("cork pops", "#hero.tip", "*.all").damage(1.0))
                    .rule(Rule::new("spit burns", "spit.drop", "#hero").damage(0.5))
                    .rule(
                        Rule::new("sting", "#foe.sting", "#hero.all")
                            .damage(1.0)
                            .knockback(90.0, 60.0),
                    )
                    .rule(bands)
                    .checkpoint(Checkpoint {
                        again: friendly,
                        refills: vec!["corks".into()],
                        by: Some("#hero".into()),
                        ..Checkpoint::new(
                            "lamp",
                            Region::new([20.0, 0.0], [40.0, 60.0]),
                            [wall - 30.0, 12.0],
                        )
                    })
                    .drill("d", drill);
                encounter.arena.gravity = 700.0;
                encounter.arena.contact = if swept {
                    Contact::Swept
                } else {
                    Contact::Sampled
                };
                for ((kind, id), (x, y, left)) in [
                    ("hero", "h"),
                    ("wasp", "w"),
                    ("bomb", "b"),
                    ("tin", "t"),
                    ("wasp", "v"),
                ]
                .into_iter()
                .zip(at)
                {
                    // Clear of the wall.
                    let x = if (x - wall - 3.0).abs() < 20.0 {
                        x + 40.0
                    } else {
                        x
                    };
                    let at: Chance<[f64; 2]> = match kind {
                        "bomb" => Chance::Range([[x, y], [x + 9.0, y + 9.0]]),
                        "tin" => [x, 6.0].into(),
                        _ => [x, y].into(),
                    };
                    encounter =
                        encounter.place(Placement::new(kind, at).id(id).facing(facing(left)));
                }
                encounter
            },
        )
}

/// How a hero dies and comes back.
#[derive(Clone, Debug)]
struct Afterlife {
    respawn: RespawnSpec,
    death: Vec<DeathStep>,
    grace: u32,
}

impl Afterlife {
    fn over_hero(self, hero: Kind) -> Kind {
        let mut hero = hero.respawn(self.respawn);
        hero.meters.insert("health".into(), MeterSpec::new(2.0));
        hero.death = Some(self.death);
        hero.invincible.after_respawn = Some(ticked(self.grace));
        hero
    }
}

fn afterlife() -> impl Strategy<Value = Afterlife> {
    let resets = prop_oneof![
        Just(Resets::Itself),
        Just(Resets::Encounter),
        Just(Resets::Those(vec!["#foe".into(), "tin".into()])),
    ];
    let steps = (any::<bool>(), any::<bool>(), 0u32..9, 0u32..20);
    (
        resets,
        any::<bool>(),
        1u32..4,
        0u32..20,
        chosen(&[MetersAt::Start, MetersAt::Full, MetersAt::Kept]),
        steps,
        0u32..30,
    )
        .prop_map(|(resets, lamp, lives, delay, meters, steps, grace)| {
            let (throws, leaves, first, last) = steps;
            let mut step = DeathStep::new(ticked(first));
            if throws {
                step = step.throw(120.0).live("all");
            }
            if leaves {
                step.leaves.push(Leaving {
                    kind: "burst".into(),
                    shot: true,
                });
                step.drops.push(DropSpec {
                    kind: Some("cork".into()),
                    weight: Some(2),
                });
                step.drops.push(DropSpec::default());
            }
            Afterlife {
                respawn: RespawnSpec {
                    at: Some(if lamp {
                        ReturnTo::Checkpoint
                    } else {
                        ReturnTo::Start
                    }),
                    delay: Some(ticked(delay)),
                    lives: Some(lives),
                    resets: Some(resets),
                    meters: Some(meters),
                    ..RespawnSpec::default()
                },
                death: vec![step, DeathStep::new(ticked(first + last))],
                grace,
            }
        })
}
