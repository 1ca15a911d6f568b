//! What must always be true, on random encounters.

use std::collections::BTreeMap;

use proptest::prelude::*;
use tin_crown::encounter::{
    Approach, Contact, Copies, Looking, Outside, Point, Push, Repeat, Solid, Up, Walk,
};
use tin_crown::{
    Amount, BoxSpec, Drill, Duration, Encounter, Facing, Kind, MeterSpec, Motion, Placement, Rule,
    Sim, Verdict, What,
};

use crate::ambushes::ambush;
use crate::fights::{chosen, fight};
use crate::stage::{jsonl, plan};

fn boxes() -> impl Strategy<Value = BoxSpec> {
    let form = prop_oneof![
        (4.0..30.0f64, 4.0..30.0f64).prop_map(|(w, h)| BoxSpec::rectangle(w, h)),
        (4.0..30.0f64, 4.0..30.0f64, -80.0..80.0f64)
            .prop_map(|(w, h, turn)| BoxSpec::rectangle(w, h).turned(turn)),
        (2.0..15.0f64).prop_map(BoxSpec::circle),
        (1.0..9.0f64, 2.0..9.0f64).prop_map(|(r, x)| BoxSpec::capsule([[-x, 0.0], [x, 3.0]], r)),
        (3.0..12.0f64).prop_map(|r| BoxSpec::polygon([[-r, 0.0], [r, -r], [2.0 * r, r]])),
    ];
    (form, -9.0..9.0f64, -9.0..9.0f64, prop::bool::weighted(0.2)).prop_map(|(form, x, y, fixed)| {
        let form = form.at(x, y);
        if fixed { form.fixed() } else { form }
    })
}

fn kind() -> impl Strategy<Value = Kind> {
    let motion = prop_oneof![
        Just(Kind::new()),
        (10.0..300.0f64).prop_map(|speed| Kind::new().motion(Motion::patrol(-60.0, 70.0, speed))),
        (30.0..200.0f64, prop::option::of(200.0..2000.0f64)).prop_map(|(speed, accel)| {
            let walk = Walk {
                accel,
                ..Walk::new(speed).jump(300.0)
            };
            Kind::new().walk(walk).body(BoxSpec::rectangle(10.0, 16.0))
        }),
    ];
    let window = (
        chosen(&["0s", "2t", "0.5s"]),
        prop::option::of(chosen(&[
            tin_crown::encounter::Against::Everyone,
            tin_crown::encounter::Against::Source,
            tin_crown::encounter::Against::Rule,
        ])),
    );
    let parts = (
        boxes(),
        boxes(),
        boxes(),
        window,
        1u32..9,
        chosen(&["red", "blue"]),
    );
    (
        motion,
        parts,
        chosen(&[Outside::Stays, Outside::Dies, Outside::Vanishes]),
    )
        .prop_map(
            |(kind, (hit, hurt, more, (window, against), health, side), outside)| {
                let mut kind = kind
                    .side(side)
                    .tag("all")
                    .outside(outside)
                    .meter("health", MeterSpec::new(f64::from(health) / 2.0))
                    .meter("shield", MeterSpec::new(2.0).start(0.5))
                    .hitbox("claw", hit)
                    .hurtbox("trunk", hurt)
                    .hurtbox("head", more)
                    .invincible_after_hit(window.parse().unwrap());
                kind.invincible.against = against;
                kind
            },
        )
}

fn rule() -> impl Strategy<Value = Rule> {
    let who = chosen(&["#all.claw", "a", "b.claw", "*", "c_1.claw"]);
    let whom = chosen(&["#all.trunk", "*.head", "c", "b", "*"]);
    let repeat = prop::option::of(chosen(&[
        Repeat::WhileTouching,
        Repeat::OncePerTouch,
        Repeat::PerAttack,
    ]));
    let push = prop::option::of((-200.0..200.0f64, -100.0..200.0f64, any::<bool>()));
    (
        who,
        whom,
        repeat,
        push,
        prop::bool::weighted(0.3),
        chosen(&["0s", "7t"]),
        any::<bool>(),
    )
        .prop_map(|(who, whom, repeat, push, friendly, every, shield)| {
            let mut rule = Rule::new("", who, whom).every(every.parse().unwrap());
            rule = if shield {
                rule.damage_to(0.75, ["shield", "health"])
            } else {
                rule.damage(0.5)
            };
            rule.repeat = repeat;
            rule.friendly = friendly;
            rule.does.knockback = push.map(|(sideways, up, along)| Push {
                away: (!along).then_some(sideways),
                along: along.then_some(sideways),
                up: Some(up),
                ..Push::default()
            });
            rule
        })
}

/// Plain contact, or whole fights.
fn encounter() -> impl Strategy<Value = Encounter> {
    prop_oneof![contact().boxed(), fight().boxed(), ambush().boxed()]
}

fn contact() -> impl Strategy<Value = Encounter> {
    let kinds = (kind(), kind(), kind());
    let place = || (-80.0..80.0f64, 8.0..60.0f64, any::<bool>());
    let places = (place(), place(), place(), 1u32..4, -20.0..20.0f64);
    let rules = prop::collection::vec(rule(), 1..4);
    let holds = prop::collection::vec(
        (
            0u32..90,
            1u32..60,
            chosen(&["left", "right", "up", "down", "jump"]),
            chosen(&["a", "b"]),
        ),
        0..6,
    );
    let arena = (
        any::<bool>(),
        prop::bool::weighted(0.7),
        prop_oneof![Just(0.0), Just(700.0)],
    );
    (kinds, places, rules, holds, arena).prop_map(|((a, b, c), at, rules, holds, arena)| {
        let (floor, swept, gravity) = arena;
        let facing = |left| if left { Facing::Left } else { Facing::Right };
        let mut encounter = Encounter::new("random").bounds([-200.0, -50.0], [200.0, 150.0]);
        encounter.arena.gravity = gravity;
        encounter.arena.contact = if swept {
            Contact::Swept
        } else {
            Contact::Sampled
        };
        if floor {
            encounter.arena.solids = vec![
                Solid::new([-200.0, -50.0], [200.0, 0.0]),
                Solid {
                    one_way: true,
                    ..Solid::new([20.0, 24.0], [60.0, 28.0])
                },
            ];
        }
        let mut drill = Drill::new("1.5s".parse().unwrap());
        for (when, length, button, who) in holds {
            let walks = |kind: &Kind| kind.walk.is_some();
            if walks(if who == "a" { &a } else { &b }) {
                let (when, length) = (Duration::ticked(when), Duration::ticked(length));
                drill = drill.hold(when, who, button, length);
            }
        }
        let mut rules = rules;
        for (nth, rule) in rules.iter_mut().enumerate() {
            rule.name = format!("rule {nth}");
        }
        encounter.rules = rules;
        let copies = Copies {
            count: at.3,
            step: [at.4, 0.0].into(),
        };
        encounter
            .place(Placement {
                copies: Some(copies),
                ..Placement::new("c", [at.2.0, at.2.1]).facing(facing(at.2.2))
            })
            .place(Placement::new("a", [at.0.0, at.0.1]).facing(facing(at.0.2)))
            .place(Placement::new("b", [at.1.0, at.1.1]).facing(facing(at.1.2)))
            .kind("a", a)
            .kind("b", b)
            .kind("c", c)
            .drill("d", drill)
    })
}

/// x becomes -x, left becomes right.
fn mirrored(encounter: &Encounter) -> Encounter {
    let flip = |[x, y]: [f64; 2]| [-x, y];
    let moved = |point: Point| Point {
        at: flip(point.at),
        ..point
    };
    let mut image = encounter.clone();
    let arena = &mut image.arena;
    (arena.bounds.min, arena.bounds.max) = (
        [-encounter.arena.bounds.max[0], arena.bounds.min[1]],
        [-encounter.arena.bounds.min[0], arena.bounds.max[1]],
    );
    for solid in &mut arena.solids {
        (solid.min[0], solid.max[0]) = (-solid.max[0], -solid.min[0]);
    }
    for kind in image.kinds.values_mut() {
        let fixed = kind
            .hitboxes
            .values_mut()
            .chain(kind.hurtboxes.values_mut());
        // Boxes that turn with their owner are mirrored by its facing.
        for spec in fixed.filter(|spec| spec.fixed == Some(true)) {
            spec.at = spec.at.map(flip);
            spec.turn = spec.turn.map(|turn| -turn);
            spec.ends = spec.ends.map(|ends| ends.map(flip));
            spec.points = spec
                .points
                .take()
                .map(|points| points.into_iter().map(flip).collect());
        }
        if let Some(Motion::Patrol(patrol)) = &mut kind.motion {
            patrol.between = patrol.between.map(|[a, b]| [-a, -b]);
        }
        // All else of a mind is mirrored by its facing.
        for state in kind.states.values_mut() {
            let teleport = state.teleport.take();
            state.teleport = teleport.map(|to| to.map(|point| moved(*point)));
        }
    }
    for rule in &mut image.rules {
        rule.gate.from = match rule.gate.from {
            Some(Approach::Left) => Some(Approach::Right),
            Some(Approach::Right) => Some(Approach::Left),
            from => from,
        };
        for party in [&mut rule.gate.who, &mut rule.gate.whom] {
            party.facing = match party.facing {
                Some(Looking::Left) => Some(Looking::Right),
                Some(Looking::Right) => Some(Looking::Left),
                facing => facing,
            };
        }
    }
    for place in &mut image.placements {
        place.at = place.at.map(|point| moved(*point));
        place.facing = place.facing.turned();
        if let Some(copies) = &mut place.copies {
            copies.step = moved(copies.step);
        }
    }
    for point in &mut image.checkpoints {
        (point.area.min[0], point.area.max[0]) = (-point.area.max[0], -point.area.min[0]);
        point.at = moved(point.at);
        point.facing = point.facing.map(Facing::turned);
    }
    for drill in image.drills.values_mut() {
        for input in &mut drill.input {
            input.button = match input.button.as_str() {
                "left" => "right".into(),
                "right" => "left".into(),
                _ => continue,
            };
        }
    }
    image
}

/// y becomes -y, and grows the other way.
fn upside_down(encounter: &Encounter) -> Encounter {
    let flip = |[x, y]: [f64; 2]| [x, -y];
    let moved = |point: Point| Point {
        at: flip(point.at),
        ..point
    };
    let mut image = encounter.clone();
    let arena = &mut image.arena;
    arena.up = match arena.up {
        Up::Plus => Up::Minus,
        Up::Minus => Up::Plus,
    };
    (arena.bounds.min[1], arena.bounds.max[1]) = (-arena.bounds.max[1], -arena.bounds.min[1]);
    for solid in &mut arena.solids {
        (solid.min[1], solid.max[1]) = (-solid.max[1], -solid.min[1]);
    }
    for kind in image.kinds.values_mut() {
        let boxes = kind
            .hitboxes
            .values_mut()
            .chain(kind.hurtboxes.values_mut());
        let sensors = kind.sensors.values_mut();
        let areas = sensors.flat_map(|sensor| &mut sensor.area);
        for spec in boxes.chain(&mut kind.body).chain(areas) {
            spec.at = spec.at.map(flip);
            spec.ends = spec.ends.map(|ends| ends.map(flip));
            spec.points = spec
                .points
                .take()
                .map(|points| points.into_iter().map(flip).collect());
        }
    }
    for point in &mut image.checkpoints {
        (point.area.min[1], point.area.max[1]) = (-point.area.max[1], -point.area.min[1]);
        point.at = moved(point.at);
    }
    for kind in image.kinds.values_mut() {
        for launcher in kind.launchers.values_mut() {
            launcher.muzzle = launcher.muzzle.map(moved);
        }
        let motions = kind.states.values_mut().flat_map(|state| {
            state.teleport = state
                .teleport
                .take()
                .map(|to| to.map(|point| moved(*point)));
            &mut state.motion
        });
        for motion in motions {
            match motion {
                Motion::Path(route) => {
                    for key in route.keys.iter_mut().flatten() {
                        key.at = moved(key.at);
                    }
                }
                Motion::Hover(hover) => hover.size = hover.size.map(moved),
                Motion::Follow(follow) => follow.offset = follow.offset.map(moved),
                _ => {}
            }
        }
    }
    for place in &mut image.placements {
        place.at = place.at.map(|point| moved(*point));
        if let Some(copies) = &mut place.copies {
            copies.step = moved(copies.step);
        }
    }
    image
}

/// The lines without what has y in it, and y by itself.
fn without_y(text: &str) -> Vec<(String, f64)> {
    let split = |line: &str| {
        let mut value: serde_json::Value = serde_json::from_str(line).unwrap();
        let y = value["y"].as_f64().unwrap_or(0.0);
        let line = value.as_object_mut().unwrap();
        let vertical = line
            .get("gate")
            .is_some_and(|gate| gate == "above" || gate == "below");
        for key in ["y"]
            .iter()
            .chain(if vertical { &["have", "need"][..] } else { &[] })
        {
            line.remove(*key);
        }
        (value.to_string(), y)
    };
    text.lines().skip(1).map(split).collect()
}

/// The ledger without its header, x turned to -x and left to right.
fn mirrored_lines(text: &str) -> Vec<String> {
    let mirror = |line: &str| {
        let mut value: serde_json::Value = serde_json::from_str(line).unwrap();
        if let Some(x) = value.get("x").and_then(serde_json::Value::as_f64) {
            value["x"] = (if x == 0.0 { 0.0 } else { -x }).into();
        }
        for key in ["button", "gate"] {
            match value.get(key).and_then(|word| word.as_str()) {
                Some("left") => value[key] = "right".into(),
                Some("right") => value[key] = "left".into(),
                _ => {}
            }
        }
        value
    };
    let lines = text.lines().skip(1).map(mirror);
    lines.map(|value| value.to_string()).collect()
}

/// Numbers as JSON values, so that 1 and 1.0 are written alike.
fn plain_lines(text: &str) -> Vec<String> {
    let plain = |line: &str| {
        let mut value: serde_json::Value = serde_json::from_str(line).unwrap();
        if let Some(x) = value.get("x").and_then(serde_json::Value::as_f64) {
            value["x"] = x.into();
        }
        value.to_string()
    };
    text.lines().skip(1).map(plain).collect()
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(80))]

    #[test]
    fn the_same_encounter_gives_the_same_bytes_even_from_a_snapshot(encounter in encounter(), at in 0u32..90) {
        let plan = plan(&encounter);
        let drill = plan.drill("d").unwrap();
        let whole = jsonl(&plan.replay("d").unwrap());
        let mut sim = Sim::new(&plan, drill);
        while sim.tick().0 < at && sim.step().unwrap() {}
        let mut snapshot = sim.clone();
        while sim.step().unwrap() {}
        while snapshot.step().unwrap() {}
        prop_assert_eq!(&jsonl(&sim.into_replay().unwrap()), &whole);
        prop_assert_eq!(&jsonl(&snapshot.into_replay().unwrap()), &whole);
    }

    #[test]
    fn the_order_of_placements_and_goals_says_nothing(encounter in encounter(), turn in 1usize..3) {
        let mut other = encounter.clone();
        other.placements.rotate_left(turn);
        for drill in other.drills.values_mut() {
            drill.input.reverse();
        }
        other.arena.solids.reverse();
        other.checkpoints.reverse();
        let (one, other) = (plan(&encounter).replay("d").unwrap(), plan(&other).replay("d").unwrap());
        prop_assert_eq!(jsonl(&one), jsonl(&other));
    }

    #[test]
    fn a_mirrored_encounter_has_a_mirrored_ledger(encounter in encounter()) {
        let there = jsonl(&plan(&encounter).replay("d").unwrap());
        let image = jsonl(&plan(&mirrored(&encounter)).replay("d").unwrap());
        prop_assert_eq!(mirrored_lines(&there), plain_lines(&image));
    }

    #[test]
    fn which_way_y_grows_says_nothing_else(encounter in encounter()) {
        let there = without_y(&jsonl(&plan(&encounter).replay("d").unwrap()));
        let image = without_y(&jsonl(&plan(&upside_down(&encounter)).replay("d").unwrap()));
        prop_assert_eq!(there.len(), image.len());
        for ((line, y), (other, z)) in there.iter().zip(&image) {
            prop_assert_eq!(line, other);
            prop_assert!((y + z).abs() < 1e-6, "{} against {}: {}", y, z, line);
        }
    }

    #[test]
    fn meters_add_up_stay_in_bounds_and_deaths_come_once(encounter in encounter()) {
        let plan = plan(&encounter);
        let replay = plan.replay("d").unwrap();
        let mut held: BTreeMap<_, Amount> = BTreeMap::new();
        for actor in plan.cast() {
            for meter in plan.spec(actor).meters() {
                held.insert((actor, meter.name()), meter.start());
            }
        }
        let mut dead = Vec::new();
        let mut there: BTreeMap<String, tin_crown::plan::ActorIx> = BTreeMap::new();
        let mut lives: BTreeMap<_, u32> = BTreeMap::new();
        for event in replay.ledger().events() {
            let owner = event.whom.or(event.who);
            match &event.what {
                What::Appear => {
                    // Launched ones come with their meters; who is back begins anew.
                    let who = event.who.unwrap();
                    for meter in replay.spec(who).meters() {
                        held.entry((who, meter.name())).or_insert(meter.start());
                    }
                    // No id is there twice.
                    let id = replay.id(who).to_owned();
                    prop_assert!(there.insert(id, who).is_none_or(|before| before == who));
                    dead.retain(|gone| *gone != event.who);
                }
                What::Meter { meter, before, after, .. } => {
                    let own = held.get_mut(&(owner.unwrap(), *meter)).unwrap();
                    prop_assert_eq!(*own, *before);
                    let max = replay.spec(owner.unwrap()).meters().iter().find(|m| m.name() == *meter).unwrap().max();
                    prop_assert!(*after >= Amount::ZERO && *after <= max && after != before);
                    *own = *after;
                }
                What::Hit(hit) if hit.verdict == Verdict::Landed => {
                    // Who is dying hurts nobody, and is hurt by nobody unless a step says so.
                    prop_assert!(!dead.contains(&event.who), "{event:?}");
                    let kept = event.whom.map(|whom| replay.spec(whom).death().iter().any(|step| step.live().is_some()));
                    prop_assert!(!dead.contains(&event.whom) || kept == Some(true), "{event:?}");
                }
                What::Gone | What::Vanish { .. } => {
                    there.remove(replay.id(event.who.unwrap()));
                }
                What::Life { before, after } => {
                    let lives = lives.entry(event.who).or_insert(*before);
                    prop_assert_eq!(*lives, *before);
                    *lives = *after;
                    prop_assert!(*after < *before, "no extra lives here");
                }
                What::Respawn { .. } => {
                    prop_assert!(lives.get(&event.who).is_none_or(|lives| *lives > 0));
                }
                What::Death { .. } => {
                    prop_assert!(!dead.contains(&event.who), "a death begins once");
                    dead.push(event.who);
                }
                _ => {}
            }
        }
        let mut sim = Sim::new(&plan, plan.drill("d").unwrap());
        while sim.step().unwrap() {}
        for actor in plan.cast() {
            for (meter, end) in plan.spec(actor).meters().iter().zip(sim.actor(actor).meters) {
                prop_assert_eq!(held[&(actor, meter.name())], *end, "start and changes make the end");
            }
        }
    }

    #[test]
    fn a_rule_lands_once_a_pair_and_tick(encounter in encounter()) {
        let replay = plan(&encounter).replay("d").unwrap();
        let mut seen = std::collections::BTreeSet::new();
        for event in replay.ledger().events() {
            if let What::Hit(_) = event.what {
                prop_assert!(seen.insert((event.tick, event.rule, event.who, event.whom)));
            }
        }
    }
}

/// How often each event, verdict and end comes about in some encounters of a sort.
fn counted(strategy: impl Strategy<Value = Encounter>) -> BTreeMap<String, u32> {
    use proptest::strategy::ValueTree;
    let mut runner = proptest::test_runner::TestRunner::deterministic();
    let mut counts: BTreeMap<String, u32> = BTreeMap::new();
    for _ in 0..150 {
        let encounter = strategy.new_tree(&mut runner).unwrap().current();
        let replay = plan(&encounter).replay("d").unwrap();
        for event in replay.ledger().events() {
            let line = replay.line(event);
            let words = [Some(&line.event), line.verdict.as_ref(), line.of.as_ref()];
            for word in words.into_iter().flatten() {
                *counts.entry(word.to_string()).or_default() += 1;
            }
            if line.root.is_some() && line.event == "hit" {
                *counts
                    .entry("hit by something launched".into())
                    .or_default() += 1;
            }
        }
    }
    counts
}

/// Guards the generators: what happens in none of their encounters is not tested by them.
#[test]
fn random_encounters_have_all_sorts_of_events() {
    let contact_has = &[
        "landed",
        "repeat",
        "invincible",
        "meter",
        "death",
        "gone",
        "vanish",
        "input",
    ][..];
    let ambush_has = &[
        "shot",
        "dry-fire",
        "sense",
        "state",
        "pickup",
        "hit by something launched",
        "used-up",
        "gate",
        "respawn",
        "reset",
        "life",
        "checkpoint",
        "down",
        "solid",
        "edge",
        "lifetime",
        "taken",
        "ammo",
        "cooldown",
        "in-flight",
        "landed",
        "death",
    ][..];
    for (counts, names) in [
        (counted(contact()), contact_has),
        (counted(ambush()), ambush_has),
    ] {
        for name in names {
            let enough = counts.get(*name).is_some_and(|count| *count > 2);
            assert!(enough, "{name}: {counts:?}");
        }
    }
}
