//! What a hit does: stuns, rests, types of damage, drain and healing, worked out on paper.

use tin_crown::encounter::{Action, Also, Drain, Effect, Party};
use tin_crown::{
    AttackSpec, BoxSpec, Damage, Encounter, Kind, MeterSpec, Placement, Rule, Verdict,
};

use crate::duels::*;
use crate::stage::*;

#[test]
fn a_stun_eats_the_inputs_of_its_ticks() {
    // The dummy is hit on 13 and stunned for 10: inputs of 14 to 22 are eaten, and it walks from 23.
    let drill = press(&[10]).hold(time("1t"), "dummy", "right", time("60t"));
    let mut encounter = guarded(shield(), drill);
    encounter.rules[0] = strike().stun(time("10t"));
    let seen = watch(&encounter, "dummy", |_, view| view.velocity.x);
    // It walks away at 60 until it is hit at all: the tip reaches 26, the back starts at 15.
    assert!(
        seen[1..=60].iter().all(|speed| *speed == 60.0),
        "walking away it is never reached"
    );
    encounter.placements[1].at = [5.0, 0.0].into();
    let seen = watch(&encounter, "dummy", |_, view| view.velocity.x);
    assert_eq!(seen[13], 60.0);
    assert!(seen[14..=22].iter().all(|speed| *speed == 0.0));
    assert_eq!(seen[23], 60.0);
}

#[test]
fn hitstop_rests_both_and_shifts_all_they_wait_for() {
    // A hit on 13 with a hitstop of 6: both rest on 14 to 19. The thrust, free on 29, is free on 35.
    let resting = |encounter: &mut Encounter| encounter.rules[0] = strike().hitstop(time("6t"));
    let mut encounter = duel(thrust(), press(&[10, 34]));
    resting(&mut encounter);
    assert_eq!(begins(&encounter), [10]);
    let mut encounter = duel(thrust(), press(&[10, 35]));
    resting(&mut encounter);
    assert_eq!(begins(&encounter), [10, 35]);
    // Who walks stands still for those ticks, and walks on.
    let drill = press(&[10]).hold(time("1t"), "knight", "right", time("100t"));
    let mut encounter = duel(thrust(), drill);
    resting(&mut encounter);
    encounter.placements[1].at = [30.0, 0.0].into();
    let seen = watch(&encounter, "knight", |_, view| view.at.x);
    assert!(close(seen[13], 13.0) && close(seen[19], 13.0) && close(seen[20], 14.0));
    // A press meanwhile waits: a buffer of 6 opened by a press on 16 counts from 20, and is over on
    // 26; with a recovery of 2 (free on 19 + 6 = 25) it is in time, for a press on 12 it is not.
    let short = AttackSpec {
        recovery: Some(time("2t")),
        buffer: Some(time("6t")),
        ..thrust()
    };
    for (second, starts) in [(16, vec![10, 25]), (12, vec![10])] {
        let mut encounter = duel(short.clone(), press(&[10, second]));
        encounter.rules[0] = strike().hitstop(time("6t"));
        assert_eq!(begins(&encounter), starts, "pressed on {second}");
    }
}

#[test]
fn invincibility_is_longer_by_the_hitstop() {
    // 30 ticks from 0, and rests of 5 on 1 to 5: over on 35.
    let mut encounter = stage(60, "1.2s")
        .kind("porter", porter("0.5s"))
        .kind("beetle", crate::stage::beetle())
        .place(Placement::new("porter", [0.0, 0.0]))
        .place(Placement::new("beetle", [0.0, 0.0]))
        .rule(
            Rule::new("gore", "beetle.horns", "porter.torso")
                .damage(1.0)
                .hitstop(time("5t")),
        );
    assert_eq!(landed(&replay(&encounter)), [0, 35, 70]);
    encounter.rules[0].hitstop = None;
    assert_eq!(landed(&replay(&encounter)), [0, 30, 60]);
}

#[test]
fn types_of_damage_count_so_many_times() {
    for (times, end) in [(2.0, "7"), (0.5, "8.5"), (0.0, "9")] {
        let mut encounter = duel(thrust(), press(&[10]));
        encounter.rules[0].does.damage = Some(Damage {
            amount: Some(1.0),
            meters: vec!["health".into()],
            sort: Some("blunt".into()),
            ..Damage::default()
        });
        encounter
            .kinds
            .get_mut("dummy")
            .expect("there")
            .takes
            .insert("blunt".into(), times);
        let replay = replay(&encounter);
        assert_eq!(
            replay.summary().ends[0].meters[0].end.to_string(),
            end,
            "{times}"
        );
        assert_eq!(
            landed(&replay),
            [13],
            "an immune target is hit all the same"
        );
    }
}

#[test]
fn drain_heal_kill_and_what_else_a_hit_does() {
    let mut encounter = duel(thrust(), press(&[10]));
    let knight = encounter.kinds.get_mut("knight").expect("there");
    knight
        .meters
        .insert("health".into(), MeterSpec::new(5.0).start(1.0));
    encounter.rules[0].does.damage = Some(Damage {
        amount: Some(4.0),
        meters: vec!["health".into()],
        ..Damage::default()
    });
    encounter.rules[0].drain = Some(Drain {
        share: 0.5,
        meter: "health".into(),
    });
    let heal = |amount| Effect {
        heal: Some(Damage::new(amount)),
        ..Effect::default()
    };
    encounter.rules[0].also = vec![Also {
        to: Party::Who,
        does: heal(9.0),
    }];
    let summary = replay(&encounter).summary();
    assert_eq!(summary.ends[0].meters[0].end.to_string(), "5");
    // 1 + half of 4, then healed to the brim.
    assert_eq!(summary.ends[1].meters[0].end.to_string(), "5");
    encounter.rules[0].also = vec![Also {
        to: Party::Whom,
        does: Effect {
            kill: true,
            ..Effect::default()
        },
    }];
    let replay = replay(&encounter);
    assert_eq!(told(&replay, "death"), [(13, "dummy".into())]);
    let death = replay
        .ledger()
        .events()
        .iter()
        .find(|event| event.what.name() == "death")
        .unwrap();
    assert_eq!(replay.line(death).of.as_deref(), Some("kill"));
}

#[test]
fn what_only_gives_is_kept_off_by_nothing() {
    // A fountain that heals its own side, invincible or not, once in 20 ticks.
    let encounter = stage(60, "1s")
        .kind(
            "porter",
            porter("5s").meter("health", MeterSpec::new(4.0).start(1.0)),
        )
        .kind(
            "fountain",
            Kind::new()
                .side("crown")
                .hitbox("water", BoxSpec::circle(9.0)),
        )
        .kind("beetle", crate::stage::beetle())
        .place(Placement::new("porter", [0.0, 0.0]))
        .place(Placement::new("fountain", [0.0, 0.0]))
        .place(Placement::new("beetle", [0.0, 0.0]))
        .rule(Rule {
            friendly: true,
            every: Some(time("20t")),
            does: Effect {
                heal: Some(Damage {
                    amount: Some(0.5),
                    meters: vec!["health".into()],
                    ..Damage::default()
                }),
                ..Effect::default()
            },
            ..Rule::new("heal", "fountain.water", "porter.torso")
        })
        .rule(Rule::new("gore", "beetle.horns", "porter.torso").damage(0.25));
    let replay = replay(&encounter);
    let healed = with_verdict(&replay, Verdict::Landed)
        .into_iter()
        .filter(|(_, rule)| rule == "heal");
    assert_eq!(
        healed.map(|(tick, _)| tick).collect::<Vec<_>>(),
        [0, 20, 40, 60]
    );
    assert_eq!(replay.summary().ends[2].meters[0].end.to_string(), "2.75");
}

#[test]
fn a_press_on_the_tick_of_the_stun_is_not_kept() {
    // Hit on 13 with a long buffer open since 12: a stun ends it.
    let buffered = AttackSpec {
        buffer: Some(time("30t")),
        ..AttackSpec::new("attack", [time("1t"), time("1t"), time("20t")], "tip")
    };
    let mut encounter = duel(
        thrust(),
        press(&[10])
            .input(time("5t"), "dummy", "attack", Action::Press)
            .input(time("12t"), "dummy", "attack", Action::Press),
    );
    let kind = dummy()
        .attack("thrust", buffered)
        .hitbox("tip", BoxSpec::circle(1.0));
    encounter = encounter.kind("dummy", kind);
    encounter.rules[0] = strike().stun(time("5t"));
    let begun: Vec<_> = told(&replay(&encounter), "attack")
        .into_iter()
        .filter(|(_, who)| who == "dummy")
        .collect();
    // Begun on 5, cut short on 13, and never again.
    assert_eq!(begun, [(5, "dummy".into()), (13, "dummy".into())]);
}

#[test]
fn a_gate_asks_for_an_angle_of_who_seen_from_whom() {
    // The knight is seen from the dummy at 20 to its right: at 180 degrees; from one below: at 90,
    // whichever way y grows.
    for (range, at, passes) in [
        ([135.0, 225.0], [20.0, 0.0], true),
        ([-45.0, 45.0], [20.0, 0.0], false),
        ([45.0, 135.0], [0.0, -12.0], true),
        ([-135.0, -45.0], [0.0, -12.0], false),
        ([-135.0, -45.0], [0.0, 12.0], true),
    ] {
        for up in [
            tin_crown::encounter::Up::Plus,
            tin_crown::encounter::Up::Minus,
        ] {
            let mut encounter = duel(thrust(), press(&[10]));
            encounter.arena.up = up;
            encounter.placements[1].at = [at[0], at[1] * up.sign()].into();
            let knight = encounter.kinds.get_mut("knight").expect("there");
            knight.hitboxes.insert("tip".into(), BoxSpec::circle(30.0));
            encounter.rules[0].gate.from = Some(tin_crown::encounter::Approach::Angle(range));
            let lands = !landed(&replay(&encounter)).is_empty();
            assert_eq!(lands, passes, "{range:?} {at:?} {up:?}");
        }
    }
}

#[test]
fn a_frozen_meter_waits_and_can_still_be_hit() {
    // A thorn pricks on 100 and freezes the shield; another may on 110.
    let scene = |first: &str, second: &str, swamp: u32| {
        format!(
            r##"edition = 1
title = "frost"
[arena]
bounds = {{ min = [-50, -50], max = [50, 50] }}
[kind.hero]
hurtbox.all = {{ radius = 5 }}
meter.health = {{ max = 9 }}
meter.shield = {{ max = 99, start = 5, regen = {{ delay = "30t", every = "10t", amount = 1, paused_by = ["swamp"] }} }}
meter.corks = {{ max = 3, start = 0, reload = {{ button = "reload", takes = "20t", broken_by = ["shot"] }} }}
[kind.first]
hitbox.tip = {{ radius = 5, pulse = {{ on = "1t", off = "999t", phase = "900t" }} }}
[kind.second]
hitbox.tip = {{ radius = 5, pulse = {{ on = "1t", off = "999t", phase = "890t" }} }}
[kind.swamp]
hitbox.mud = {{ radius = 5, pulse = {{ on = "20t", off = "980t", phase = "899t" }} }}
[[place]]
kind = "hero"
at = [0, 0]
[[place]]
kind = "first"
at = [0, 0]
[[place]]
kind = "second"
at = [0, 0]
[[place]]
kind = "swamp"
at = [{swamp}, 0]
[[rule]]
name = "one"
hitbox = "first.tip"
hurtbox = "hero.all"
damage = {{ amount = 1, meters = ["shield"] }}
{first}
[[rule]]
name = "two"
hitbox = "second.tip"
hurtbox = "hero.all"
cue = "prick"
{second}
[drill.d]
length = "170t"
input = [{{ when = "95t", who = "hero", press = "reload" }}]
"##
        )
    };
    let paid = |text: &str, meter: &str| -> Vec<u32> {
        let gains = lines(text, "meter").into_iter();
        gains
            .filter(|line| line.meter.as_deref() == Some(meter) && line.after > line.before)
            .map(|line| line.tick)
            .filter(|tick| *tick > 100)
            .collect()
    };
    let frost = |length: u32| {
        format!("freeze = {{ meters = [\"shield\", \"corks\"], for = \"{length}t\" }}")
    };
    let far = 40;
    for (first, second, swamp, shield, corks) in [
        // Lost on 100: paid from 130 on. The reload of 95 is done on 115.
        (
            String::new(),
            String::new(),
            far,
            vec![130, 140, 150, 160, 170],
            115,
        ),
        // Frozen on 100 … 119: all of it 20 ticks later.
        (frost(20), String::new(), far, vec![150, 160, 170], 135),
        // Again on 110 for 20, to 129: 30 ticks in all. For 5, to 114: nothing more.
        (frost(20), frost(20), far, vec![160, 170], 145),
        (frost(20), frost(5), far, vec![150, 160, 170], 135),
        // A swamp on 101 … 120 pauses one tick more, of the shield alone.
        (frost(20), String::new(), 0, vec![151, 161], 135),
        // Both rest on 101 … 103, so the window is over on 123: it waits 23 ticks, no more.
        (
            frost(20) + "\nhitstop = \"3t\"",
            String::new(),
            far,
            vec![153, 163],
            138,
        ),
    ] {
        let text = scene(&first, &second, swamp);
        let about = format!("{first} {second} {swamp}");
        assert_eq!(paid(&text, "shield"), shield, "{about}");
        assert_eq!(paid(&text, "corks"), [corks], "{about}");
    }
    let text = scene(
        &frost(20),
        "damage = { amount = 1, meters = [\"shield\"] }",
        far,
    );
    let told: Vec<_> = lines(&text, "state")
        .into_iter()
        .filter(|line| line.state.as_deref() == Some("frozen"))
        .map(|line| {
            (
                line.tick,
                line.meter.unwrap_or_default().into_owned(),
                line.until,
            )
        })
        .collect();
    let frozen = |meter: &str| (100, meter.to_owned(), Some(120));
    assert_eq!(told, [frozen("shield"), frozen("corks")]);
    // The loss on 110 begins the delay anew, and 10 of its ticks are frozen.
    assert_eq!(paid(&text, "shield"), [150, 160, 170]);
    let replay = text_replay(&text);
    let rows = replay.rows(replay.ledger().events());
    let row = rows.iter().find(|row| row.what == "has shield frozen");
    assert_eq!(row.map(|row| row.outcome.as_str()), Some("until 2.000 s"));
}

#[test]
fn gates_and_conditions_ask_for_a_share_of_a_meters_max() {
    // Pricked on 0, 10 and 20: 4, 3, 2, 1. Half of 4 is 2, held from 10 on: the gate sees it on 11, and so
    // does the condition. The second rule heals nothing, it only marks the tick.
    let text = r#"edition = 1
title = "half"
[arena]
bounds = { min = [0, 0], max = [100, 100] }
[kind.hero]
meter.health = { max = 4 }
hurtbox.all = { size = [8, 8] }
starts = "whole"
state.whole.go = [{ to = "half", when = { meter.health = { at_most = "50%" } } }]
state.half = {}
[kind.spike]
hitbox.tip = { radius = 2 }
hitbox.eye = { radius = 2 }
[[place]]
kind = "hero"
at = [50, 50]
[[place]]
kind = "spike"
at = [50, 50]
[[rule]]
name = "tip pricks"
hitbox = "spike.tip"
hurtbox = "hero.all"
damage = 1
every = "10t"
gate = { whom = { meter.health = { at_least = "50%" } } }
[[rule]]
name = "eye marks"
hitbox = "spike.eye"
hurtbox = "hero.all"
stun = "2t"
repeat = "once-per-touch"
gate = { whom = { meter.health = { at_most = "62.5%" } } }
[drill.d]
length = "40t"
"#;
    let replay = text_replay(text);
    let landed = with_verdict(&replay, Verdict::Landed);
    let landed: Vec<(u32, &str)> = landed
        .iter()
        .map(|(tick, rule)| (*tick, rule.as_str()))
        .collect();
    // On 20 it holds 2, which is half, and is pricked to 1: from 21 on the gate says no.
    let [tip, eye] = ["tip pricks", "eye marks"];
    assert_eq!(landed, [(0, tip), (10, tip), (11, eye), (20, tip)]);
    let entered = told(&replay, "state");
    assert!(entered.contains(&(11, "hero".to_owned())), "{entered:?}");
    let no = with_verdict(&replay, Verdict::Gate);
    assert!(no.contains(&(21, tip.to_owned())), "{no:?}");
}
