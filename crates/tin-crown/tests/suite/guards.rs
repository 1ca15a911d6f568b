//! Guards, worked out on paper.

use tin_crown::encounter::{GuardSpec, Movement, ParrySpec, Pierce, Push, Repeat};
use tin_crown::{AttackSpec, BoxSpec, Damage, Drill, Facing, MeterSpec, Motion, Rule};

use crate::duels::*;
use crate::stage::*;

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
fn a_guard_lets_its_share_through_and_costs_stamina() {
    let mut encounter = guarded(shield(), guard_on(5, 60));
    encounter.rules[0].does.damage = Some(Damage {
        amount: Some(2.5),
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
    // A quarter of 2.5 is 0.625; the guard took 1.875, and 1 of stamina.
    assert_eq!(
        told,
        ["guard took 1.875", "health 9 → 8.375", "stamina 2 → 1"]
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
    // Out of stamina.
    let mut encounter = guarded(shield(), guard_on(5, 60));
    encounter
        .kinds
        .get_mut("dummy")
        .expect("there")
        .meters
        .insert("stamina".into(), MeterSpec::new(2.0).start(0.0));
    assert_eq!(verdicts(&encounter), one(13, "landed", Some("spent")));
}

#[test]
fn an_empty_meter_breaks_the_guard() {
    // Two of stamina, one a hit: swings on 10, 29 and 48 hit on 13, 32 and 51. The second breaks it
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
