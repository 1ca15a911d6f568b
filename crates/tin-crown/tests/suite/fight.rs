//! Attacks, guards, stuns, rests and pushes, worked out on paper.

use tin_crown::{
    Action, Also, AttackSpec, BoxSpec, Cancels, Damage, Drain, Drill, Effect, Encounter, Facing,
    GuardSpec, Kind, Live, MeterSpec, Motion, Movement, ParrySpec, Party, Phase, Pierce, Placement,
    Push, Repeat, Rule, Trigger, Verdict, Walk,
};

use crate::stage::*;

/// Startup 3, active 4, recovery 12.
fn thrust() -> AttackSpec {
    AttackSpec::new("attack", [time("3t"), time("4t"), time("12t")], "tip")
}

/// A knight whose tip is 20 by 4, 16 ahead.
fn knight(attack: AttackSpec) -> Kind {
    Kind::new()
        .side("crown")
        .walk(Walk::new(60.0))
        .meter("health", MeterSpec::new(5.0))
        .hitbox("tip", BoxSpec::rectangle(20.0, 4.0).at(16.0, 0.0))
        .hurtbox("chest", BoxSpec::rectangle(10.0, 20.0))
        .attack("thrust", attack)
}

fn dummy() -> Kind {
    Kind::new()
        .side("attic")
        .meter("health", MeterSpec::new(9.0))
        .hurtbox("straw", BoxSpec::rectangle(10.0, 20.0))
}

fn strike() -> Rule {
    Rule::new("strike", "knight.tip", "dummy.straw").damage(1.0)
}

/// A knight at 0 that faces right, and a dummy at 20.
fn duel(attack: AttackSpec, drill: Drill) -> Encounter {
    Encounter::new("duel")
        .bounds([-400.0, -100.0], [400.0, 100.0])
        .kind("knight", knight(attack))
        .kind("dummy", dummy())
        .place(Placement::new("knight", [0.0, 0.0]))
        .place(Placement::new("dummy", [20.0, 0.0]))
        .rule(strike())
        .drill("d", drill)
}

fn press(ticks: &[u32]) -> Drill {
    let drill = Drill::new(time("2s"));
    ticks.iter().fold(drill, |drill, tick| {
        drill.press(tin_crown::Duration::ticked(*tick), "knight", "attack")
    })
}

fn begins(encounter: &Encounter) -> Vec<u32> {
    let replay = replay(encounter);
    let events = replay.ledger().events().iter();
    events
        .filter(|event| matches!(event.what, tin_crown::What::Attack { over: None, .. }))
        .map(|event| event.tick.0)
        .collect()
}

#[test]
fn the_phases_of_an_attack() {
    let seen = watch(&duel(thrust(), press(&[10])), "knight", |_, view| {
        (view.attack.map(|(_, phase)| phase), view.live.hit & 1 == 1)
    });
    for (tick, (phase, live)) in seen.iter().enumerate() {
        let expected = match tick {
            10..=12 => Some(Phase::Startup),
            13..=16 => Some(Phase::Active),
            17..=28 => Some(Phase::Recovery),
            _ => None,
        };
        assert_eq!(
            (*phase, *live),
            (expected, (13..=16).contains(&tick)),
            "on {tick}"
        );
    }
    // Free again on 29, and not on 28; a press on 28 is lost without a buffer.
    assert_eq!(begins(&duel(thrust(), press(&[10, 28]))), [10]);
    assert_eq!(begins(&duel(thrust(), press(&[10, 29]))), [10, 29]);
}

#[test]
fn phases_of_no_length_are_passed_at_once() {
    let attack = AttackSpec::new("attack", [time("0t"), time("2t"), time("0t")], "tip");
    let encounter = duel(attack, press(&[5, 7]));
    assert_eq!(begins(&encounter), [5, 7]);
    assert_eq!(landed(&replay(&encounter)), [5, 7], "one hit a swing");
}

#[test]
fn one_hit_a_swing_and_target_unless_it_hits_several_times() {
    // Live from 13 to 16, and the dummy is there: once, on 13.
    assert_eq!(landed(&replay(&duel(thrust(), press(&[10])))), [13]);
    let twice = AttackSpec {
        every: Some(time("2t")),
        ..thrust()
    };
    assert_eq!(landed(&replay(&duel(twice, press(&[10])))), [13, 15]);
    // Two rules that the swing meets on one tick: the first in the file, and the attack is used up.
    let two = duel(thrust(), press(&[10])).rule(Rule::new("slap", "knight", "dummy").damage(0.5));
    let replay = replay(&two);
    assert_eq!(
        with_verdict(&replay, Verdict::Landed),
        [(13, "strike".into())]
    );
    assert_eq!(
        with_verdict(&replay, Verdict::UsedUp),
        [(13, "slap".into())]
    );
}

#[test]
fn a_held_button_is_one_press() {
    let hold = Drill::new(time("2s")).hold(time("10t"), "knight", "attack", time("100t"));
    assert_eq!(begins(&duel(thrust(), hold.clone())), [10]);
    let on_hold = AttackSpec {
        on: Some(Trigger::Hold),
        cooldown: Some(time("1t")),
        ..thrust()
    };
    // 19 ticks each and one of cooldown: every 20, while the button is down on 10 to 109.
    assert_eq!(begins(&duel(on_hold, hold)), [10, 30, 50, 70, 90]);
}

#[test]
fn a_press_is_remembered_as_long_as_the_buffer_says() {
    // Free on 29. A buffer of 4 opened on 26 covers 26 to 29; on 25 it covers 25 to 28.
    let buffered = AttackSpec {
        buffer: Some(time("4t")),
        ..thrust()
    };
    assert_eq!(begins(&duel(buffered.clone(), press(&[10, 26]))), [10, 29]);
    assert_eq!(begins(&duel(buffered, press(&[10, 25]))), [10]);
}

#[test]
fn a_cooldown_counts_from_the_end() {
    let slow = AttackSpec {
        cooldown: Some(time("10t")),
        ..thrust()
    };
    assert_eq!(begins(&duel(slow.clone(), press(&[10, 38]))), [10]);
    assert_eq!(begins(&duel(slow, press(&[10, 39]))), [10, 39]);
}

#[test]
fn what_cancels_into_what() {
    let first = AttackSpec {
        cancels: Cancels {
            recovery: vec!["upper".into()],
            ..Cancels::default()
        },
        ..thrust()
    };
    let upper = AttackSpec {
        followup: Some(true),
        ..AttackSpec::new("attack", [time("1t"), time("2t"), time("3t")], "fist")
    };
    let with = |drill| {
        let mut encounter = duel(first.clone(), drill);
        let kind = encounter.kinds.remove("knight").expect("there");
        let kind = kind
            .attack("upper", upper.clone())
            .hitbox("fist", BoxSpec::circle(4.0));
        encounter.kind("knight", kind)
    };
    let names = |drill| {
        let replay = replay(&with(drill));
        let events = replay.ledger().events().iter();
        events
            .filter(|event| event.what.name() == "attack")
            .map(|event| {
                let line = replay.line(event);
                format!(
                    "{} {} {}",
                    event.tick,
                    line.attack.unwrap(),
                    line.over.unwrap_or("begins".into())
                )
            })
            .collect::<Vec<_>>()
    };
    // Recovery is from 17 on: on 15 the press is lost, on 18 it cuts the thrust short.
    assert_eq!(
        names(press(&[10, 15])),
        ["10 thrust begins", "29 thrust done"]
    );
    assert_eq!(
        names(press(&[10, 18])),
        [
            "10 thrust begins",
            "18 thrust cut-short",
            "18 upper begins",
            "24 upper done"
        ]
    );
}

#[test]
fn a_swing_that_becomes_live_inside_a_target_hits_on_its_first_tick() {
    let mut encounter = duel(thrust(), press(&[10]));
    encounter.placements[1].at = [16.0, 0.0].into();
    assert_eq!(landed(&replay(&encounter)), [13]);
}

#[test]
fn turning_round_in_a_swing_takes_the_box_along() {
    // A dummy behind, at -20. The knight turns on 15, when the tip is live: it hits on 15. One that
    // is locked does not turn.
    let drill = press(&[10]).press(time("15t"), "knight", "left");
    let mut encounter = duel(thrust(), drill);
    encounter.placements[1].at = [-20.0, 0.0].into();
    assert_eq!(landed(&replay(&encounter)), [15]);
    let kind = encounter.kinds.get_mut("knight").expect("there");
    kind.attacks.get_mut("thrust").expect("there").movement = Some(Movement::Locked);
    assert!(landed(&replay(&encounter)).is_empty());
    let seen = watch(&encounter, "knight", |_, view| (view.at.x, view.facing));
    assert_eq!(seen[20], (0.0, Facing::Right));
}

#[test]
fn so_many_targets_and_no_more() {
    // Three dummies at 12, 18 and 24 within the tip's reach, which all three touch on 13 at once: the
    // order is that of ids.
    let one = AttackSpec {
        targets: Some(2),
        ..thrust()
    };
    let mut encounter = duel(one, press(&[10]));
    encounter.placements[1] = Placement::new("dummy", [12.0, 0.0]).copies(3, [6.0, 0.0]);
    let replay = replay(&encounter);
    assert_eq!(landed(&replay), [13, 13]);
    let spared = replay
        .ledger()
        .events()
        .iter()
        .find(|event| replay.line(event).verdict.as_deref() == Some("used-up"));
    assert_eq!(
        replay.line(spared.expect("the third")).whom.as_deref(),
        Some("dummy_3")
    );
}

#[test]
fn a_clock_strikes_by_itself() {
    let by_clock = thrust().clock(time("5t"), time("40t"));
    let mut encounter = duel(by_clock, Drill::new(time("2s")));
    encounter.kinds.get_mut("knight").expect("there").walk = None;
    assert_eq!(begins(&encounter), [5, 45, 85]);
    assert_eq!(landed(&replay(&encounter)), [8, 48, 88]);
}

/// A guard knight at 20 that faces left, toward who strikes it from 0.
fn guarded(guard: GuardSpec, drill: Drill) -> Encounter {
    let mut encounter = duel(thrust(), drill).kind(
        "dummy",
        dummy()
            .meter("poise", MeterSpec::new(2.0))
            .walk(Walk::new(60.0))
            .guard(guard),
    );
    encounter.placements[1].facing = Facing::Left;
    encounter
}

fn shield() -> GuardSpec {
    GuardSpec {
        through: Some(0.25),
        meter: Some("poise".into()),
        break_stun: Some(time("30t")),
        ..GuardSpec::new("guard")
    }
}

/// The knight strikes on 10 (a hit on 13), and the guard is up from some tick for so long.
fn guard_on(from: u32, length: u32) -> Drill {
    let ticked = tin_crown::Duration::ticked;
    press(&[10]).hold(ticked(from), "dummy", "guard", ticked(length))
}

fn verdicts(encounter: &Encounter) -> Vec<(u32, String, Option<String>)> {
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

fn one(tick: u32, verdict: &str, guard: Option<&str>) -> Vec<(u32, String, Option<String>)> {
    vec![(tick, verdict.to_owned(), guard.map(str::to_owned))]
}

#[test]
fn a_guard_raised_on_the_tick_of_the_hit_holds_and_one_after_does_not() {
    for (from, verdict, said) in [
        (12, "guarded", Some("held")),
        (13, "guarded", Some("held")),
        (14, "landed", None),
    ] {
        let encounter = guarded(shield(), guard_on(from, 30));
        assert_eq!(
            verdicts(&encounter)[..1],
            one(13, verdict, said)[..],
            "from {from}"
        );
    }
    // Lowered the tick before: held on 5 to 12.
    assert_eq!(
        verdicts(&guarded(shield(), guard_on(5, 8)))[..1],
        one(13, "landed", None)[..]
    );
}

#[test]
fn a_guard_lets_its_share_through_and_costs_poise() {
    let mut encounter = guarded(shield(), guard_on(5, 60));
    encounter.rules[0].does.damage = Some(Damage {
        amount: 2.5,
        meters: vec!["health".into()],
        ..Damage::default()
    });
    let replay = replay(&encounter);
    let told: Vec<String> = replay
        .ledger()
        .events()
        .iter()
        .filter(|event| matches!(event.what.name(), "hit" | "meter"))
        .map(|event| replay.told(event))
        .take(3)
        .collect();
    // A quarter of 2.5 is 0.625; the guard took 1.875, and 1 of poise.
    assert_eq!(
        told,
        ["guard took 1.875", "health 9 → 8.375", "poise 2 → 1"]
    );
}

#[test]
fn why_a_guard_did_not_count() {
    // Back turned.
    let mut encounter = guarded(shield(), guard_on(5, 60));
    encounter.placements[1].facing = Facing::Right;
    assert_eq!(verdicts(&encounter), one(13, "landed", Some("wrong-side")));
    // Not up yet: up from 15 when raised on 5 with a startup of 10.
    let late = GuardSpec {
        startup: Some(time("10t")),
        ..shield()
    };
    assert_eq!(
        verdicts(&guarded(late.clone(), guard_on(5, 60))),
        one(13, "landed", Some("too-late"))
    );
    assert_eq!(
        verdicts(&guarded(late, guard_on(3, 60))),
        one(13, "guarded", Some("held"))
    );
    // A rule that takes no notice.
    let mut encounter = guarded(shield(), guard_on(5, 60));
    encounter.rules[0].pierces = vec![Pierce::Guard];
    assert_eq!(verdicts(&encounter), one(13, "landed", Some("pierced")));
    // Out of poise.
    let mut encounter = guarded(shield(), guard_on(5, 60));
    encounter
        .kinds
        .get_mut("dummy")
        .expect("there")
        .meters
        .insert("poise".into(), MeterSpec::new(2.0).start(0.0));
    assert_eq!(verdicts(&encounter), one(13, "landed", Some("spent")));
}

#[test]
fn an_empty_meter_breaks_the_guard() {
    // Two of poise, one a hit: swings on 10, 29 and 48 hit on 13, 32 and 51. The second breaks it
    // and stuns for 30: to 61; the third lands.
    let drill = press(&[10, 29, 48]).hold(time("5t"), "dummy", "guard", time("100t"));
    let encounter = guarded(shield(), drill);
    let told: Vec<(u32, String)> = verdicts(&encounter)
        .into_iter()
        .map(|(tick, verdict, _)| (tick, verdict))
        .collect();
    assert_eq!(
        told,
        [
            (13, "guarded".into()),
            (32, "guarded".into()),
            (51, "landed".into())
        ]
    );
    let replay = replay(&encounter);
    let states: Vec<String> = replay
        .ledger()
        .events()
        .iter()
        .filter_map(|event| Some(format!("{} {}", event.tick, replay.line(event).state?)))
        .collect();
    assert_eq!(
        states,
        [
            "5 guard-up",
            "32 stunned",
            "32 guard-broken",
            "62 guard-up",
            "105 guard-down"
        ]
    );
}

#[test]
fn a_parry_is_a_guard_just_in_time() {
    let parry = GuardSpec {
        parry: Some(ParrySpec {
            window: Some(time("3t")),
            stun: Some(time("20t")),
            push: Some(Push {
                away: Some(90.0),
                ..Push::default()
            }),
            ..ParrySpec::default()
        }),
        ..shield()
    };
    // Raised on 11 the window is 11 to 13; on 10 it is over on 13.
    assert_eq!(
        verdicts(&guarded(parry.clone(), guard_on(11, 60))),
        one(13, "guarded", Some("parried"))
    );
    assert_eq!(
        verdicts(&guarded(parry.clone(), guard_on(10, 60))),
        one(13, "guarded", Some("held"))
    );
    let encounter = guarded(parry, guard_on(11, 60));
    let seen = watch(&encounter, "knight", |_, view| {
        (view.attack.is_some(), view.stunned, view.velocity.x)
    });
    // Its thrust is over, it is stunned on 13 to 32, and is thrown back.
    assert!(seen[12].0 && !seen[13].0);
    assert!(
        seen[13].1 && seen[31].1 && !seen[32].1,
        "no input on 14 to 32"
    );
    assert_eq!(seen[14].2, -90.0);
    let health = replay(&encounter).summary().ends[0].meters[0].end;
    assert_eq!(health.to_string(), "9", "nothing comes through");
}

#[test]
fn a_guarded_hit_shields_only_against_itself() {
    // Two rules touch at once; the first is guarded on 13. The second is not kept off by it.
    let mut encounter = guarded(shield(), guard_on(5, 60)).rule(
        Rule::new("poke", "knight.tip", "dummy.straw")
            .damage(1.0)
            .repeat(Repeat::WhileTouching),
    );
    encounter
        .kinds
        .get_mut("dummy")
        .expect("there")
        .invincible
        .after_hit = Some(time("1s"));
    encounter.rules[0].repeat = Some(Repeat::WhileTouching);
    let kind = encounter.kinds.get_mut("knight").expect("there");
    kind.attacks.clear();
    encounter
        .drills
        .get_mut("d")
        .expect("there")
        .input
        .retain(|input| input.button != "attack");
    let first: Vec<_> = verdicts(&encounter)
        .into_iter()
        .filter(|(tick, ..)| *tick == 5)
        .collect();
    // Landed on 0 both? The guard is up from 5 only: on 0 the first lands and shields from all.
    assert_eq!(verdicts(&encounter)[0].1, "landed");
    assert!(first.is_empty());
    encounter.placements[1].at = [60.0, 0.0].into();
    encounter.kinds.get_mut("dummy").expect("there").walk = None;
    encounter.kinds.get_mut("dummy").expect("there").motion =
        Some(Motion::patrol(0.0, 60.0, 120.0));
    // It comes with its guard up: 60 - 5 - 26 = 29 to go at 2 a tick: tick 15.
    let told: Vec<_> = verdicts(&encounter).into_iter().take(2).collect();
    assert_eq!(
        told,
        [
            one(15, "guarded", Some("held")),
            one(15, "guarded", Some("held"))
        ]
        .concat()
    );
}

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
        .kind("squire", squire("0.5s"))
        .kind("beetle", crate::stage::beetle())
        .place(Placement::new("squire", [0.0, 0.0]))
        .place(Placement::new("beetle", [0.0, 0.0]))
        .rule(
            Rule::new("gore", "beetle.horns", "squire.torso")
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
            amount: 1.0,
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
        amount: 4.0,
        meters: vec!["health".into()],
        ..Damage::default()
    });
    encounter.rules[0].drain = Some(Drain {
        share: 0.5,
        meter: "health".into(),
    });
    let heal = |amount| Effect {
        heal: Some(Damage {
            amount,
            meters: vec!["health".into()],
            ..Damage::default()
        }),
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
            "squire",
            squire("5s").meter("health", MeterSpec::new(4.0).start(1.0)),
        )
        .kind(
            "fountain",
            Kind::new()
                .side("crown")
                .hitbox("water", BoxSpec::circle(9.0)),
        )
        .kind("beetle", crate::stage::beetle())
        .place(Placement::new("squire", [0.0, 0.0]))
        .place(Placement::new("fountain", [0.0, 0.0]))
        .place(Placement::new("beetle", [0.0, 0.0]))
        .rule(Rule {
            friendly: true,
            every: Some(time("20t")),
            does: Effect {
                heal: Some(Damage {
                    amount: 0.5,
                    meters: vec!["health".into()],
                    ..Damage::default()
                }),
                ..Effect::default()
            },
            ..Rule::new("heal", "fountain.water", "squire.torso")
        })
        .rule(Rule::new("gore", "beetle.horns", "squire.torso").damage(0.25));
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
fn boxes_live_in_startup_and_hurtboxes_of_attacks() {
    // A lunge whose own chest is only exposed while it winds up.
    let lunge = AttackSpec {
        live: Live {
            startup: vec!["belly".into()],
            active: vec!["tip".into()],
            recovery: vec![],
        },
        ..thrust()
    };
    let mut encounter = duel(lunge, press(&[10]));
    let kind = encounter.kinds.remove("knight").expect("there");
    encounter = encounter.kind("knight", kind.hurtbox("belly", BoxSpec::circle(4.0)));
    let seen = watch(&encounter, "knight", |_, view| view.live.hurt & 1 == 1);
    let live: Vec<usize> = seen
        .iter()
        .enumerate()
        .filter(|(_, live)| **live)
        .map(|(tick, _)| tick)
        .collect();
    assert_eq!(live, [10, 11, 12]);
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

/// The knight with a guard, a jump and something to jump from.
fn nimble(cancels: &[&str], drill: Drill) -> Encounter {
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

#[test]
fn guard_and_jump_cut_an_attack_short_only_where_it_says_so() {
    // In recovery from 17 to 28: pressed on 20.
    for (button, cancels, over) in [
        ("guard", &["guard", "jump"][..], 20),
        ("guard", &["jump"][..], 29),
        ("jump", &["guard", "jump"][..], 20),
        ("jump", &["guard"][..], 29),
    ] {
        let drill = press(&[10]).hold(time("20t"), "knight", button, time("30t"));
        let encounter = nimble(cancels, drill);
        let seen = watch(&encounter, "knight", |_, view| {
            (view.attack.is_some(), view.guarding, view.grounded)
        });
        let ended = (11..seen.len()).find(|tick| !seen[*tick].0);
        assert_eq!(ended, Some(over), "{button} with {cancels:?}");
        // A guard whose button is still down comes up when the attack is over; a jump that was locked
        // away does not come after all.
        assert_eq!(seen[29].1, button == "guard");
        assert_eq!(
            seen[25].2,
            button != "jump" || over != 20,
            "{button} with {cancels:?}"
        );
    }
    // A guard held since before does not cut it short: only a press does.
    let drill = press(&[10]).hold(time("5t"), "knight", "guard", time("60t"));
    let seen = watch(&nimble(&["guard"], drill), "knight", |_, view| {
        view.attack.is_some()
    });
    assert!(seen[10] && seen[28] && !seen[29]);
}

#[test]
fn who_is_locked_in_a_guard_or_an_attack_stays() {
    let drill = Drill::new(time("1s"))
        .hold(time("1t"), "knight", "right", time("60t"))
        .hold(time("20t"), "knight", "guard", time("20t"));
    let seen = watch(&nimble(&[], drill), "knight", |_, view| view.velocity.x);
    assert_eq!(
        (seen[19], seen[20], seen[39], seen[40]),
        (60.0, 0.0, 0.0, 60.0)
    );
    // A patrol with a locked attack by the clock: on 5 to 23.
    let attack = AttackSpec {
        movement: Some(Movement::Locked),
        ..thrust().clock(time("5t"), time("60t"))
    };
    let mut encounter = duel(attack, Drill::new(time("0.9s")));
    let knight = encounter.kinds.get_mut("knight").expect("there");
    knight.walk = None;
    knight.motion = Some(Motion::patrol(-90.0, 90.0, 60.0));
    let seen = watch(&encounter, "knight", |_, view| view.velocity.x);
    assert_eq!(
        (seen[4], seen[5], seen[23], seen[24]),
        (60.0, 0.0, 0.0, 60.0)
    );
}

#[test]
fn the_arc_of_a_guard_is_what_it_covers() {
    // The knight strikes from the left, or from straight above; the dummy faces left. Edges count.
    for (arc, from_left, from_above) in [
        ([-90.0, 90.0], true, true),
        ([-80.0, 80.0], true, false),
        ([45.0, 135.0], false, true),
        ([0.0, 10.0], true, false),
        ([-180.0, -10.0], false, false),
    ] {
        for (at, holds) in [([20.0, 0.0], from_left), ([0.0, -8.0], from_above)] {
            let guard = GuardSpec {
                arc: Some(arc),
                ..shield()
            };
            let mut encounter = guarded(guard, guard_on(5, 60));
            encounter.placements[1].at = at.into();
            let knight = encounter.kinds.get_mut("knight").expect("there");
            knight.hitboxes.insert("tip".into(), BoxSpec::circle(30.0));
            let held = verdicts(&encounter)[0].1 == "guarded";
            assert_eq!(held, holds, "{arc:?} against {at:?}");
        }
    }
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
        for up in [tin_crown::Up::Plus, tin_crown::Up::Minus] {
            let mut encounter = duel(thrust(), press(&[10]));
            encounter.arena.up = up;
            encounter.placements[1].at = [at[0], at[1] * up.sign()].into();
            let knight = encounter.kinds.get_mut("knight").expect("there");
            knight.hitboxes.insert("tip".into(), BoxSpec::circle(30.0));
            encounter.rules[0].gate.from = Some(tin_crown::Approach::Angle(range));
            let lands = !landed(&replay(&encounter)).is_empty();
            assert_eq!(lands, passes, "{range:?} {at:?} {up:?}");
        }
    }
}
