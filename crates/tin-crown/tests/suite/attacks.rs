//! Attacks, worked out on paper.

use tin_crown::encounter::{Cancels, Live, Motion, Movement, Phase, Repeat, Trigger};
use tin_crown::{AttackSpec, BoxSpec, Drill, Facing, Placement, Rule, Verdict};

use crate::duels::*;
use crate::stage::*;

#[test]
fn the_phases_of_an_attack() {
    let seen = watch(&duel(thrust(), press(&[10])), "knight", |_, view| {
        (
            view.attack.map(|(_, phase)| phase),
            view.live.hit() & 1 == 1,
        )
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
fn a_box_that_is_always_live_does_not_give_a_swing_its_hit_again() {
    // Live from 13 to 42, from x = 6 to 26. The dummy comes a unit a tick: its straw is from 35 - n to
    // 45 - n, so the tip touches it from 13 to 39. The spike, from 20.5 to 21.5, meets it half way
    // through 14, when the tip is earlier and has had its hit; from 15 to 24 both touch from the
    // tick's beginning and the spike, first by name, speaks for the rule; from 25 on the tip again.
    let long = AttackSpec::new("attack", [time("3t"), time("30t"), time("12t")], "tip");
    let mut encounter =
        duel(long, press(&[10])).kind("dummy", dummy().motion(Motion::patrol(-400.0, 400.0, 60.0)));
    let knight = encounter.kinds.remove("knight").expect("there");
    let spike = BoxSpec::rectangle(1.0, 4.0).at(21.0, 0.0);
    encounter = encounter.kind("knight", knight.hitbox("spike", spike));
    encounter.placements[1] = Placement::new("dummy", [40.0, 0.0]).facing(Facing::Left);
    encounter.rules[0] = Rule::new("strike", "knight", "dummy")
        .damage(1.0)
        .repeat(Repeat::PerAttack);
    assert_eq!(landed(&replay(&encounter)), [13, 15]);
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
    let seen = watch(&encounter, "knight", |_, view| view.live.hurt() & 1 == 1);
    let live: Vec<usize> = seen
        .iter()
        .enumerate()
        .filter(|(_, live)| **live)
        .map(|(tick, _)| tick)
        .collect();
    assert_eq!(live, [10, 11, 12]);
}

#[test]
fn a_button_is_down_in_the_union_of_its_holds() {
    for (input, down) in [
        ("5 hold 5, 8 hold 4", &[(5, true), (12, false)][..]),
        ("5 press, 6 hold 3", &[(5, true), (9, false)]),
        (
            "5 press, 6 anew 3",
            &[(5, true), (6, false), (6, true), (9, false)],
        ),
        ("5 hold, 9 release", &[(5, true), (9, false)]),
        (
            "5 hold 15, 5 release, 30 release",
            &[(5, true), (20, false)],
        ),
        (
            "9 hold 3, 1 hold 2",
            &[(1, true), (3, false), (9, true), (12, false)],
        ),
    ] {
        let inputs = input.split(", ").map(|input| {
            let mut words = input.split(' ');
            let (when, what) = (words.next().unwrap(), words.next().unwrap());
            let key = if what == "anew" {
                "anew = true, hold"
            } else {
                what
            };
            let long = words
                .next()
                .map_or(String::new(), |ticks| format!(", for = \"{ticks}t\""));
            format!("{{ when = \"{when}t\", who = \"ann\", {key} = \"jab\"{long} }}")
        });
        let text = format!(
            "edition = 1\ntitle = \"holds\"\narena.bounds = {{ min = [0, 0], max = [9, 9] }}\n\
             [kind.ann]\nplayer = true\nhitbox.fist = {{ radius = 1 }}\n\
             attack.jab = {{ button = \"jab\", active = \"1t\", live = [\"fist\"] }}\n\
             [[place]]\nkind = \"ann\"\nat = [5, 5]\n[drill.d]\nlength = \"40t\"\ninput = [{}]\n",
            inputs.collect::<Vec<_>>().join(", ")
        );
        let lines = crate::stage::lines(&text, "input");
        let told: Vec<_> = lines
            .iter()
            .map(|line| (line.tick, line.down == Some(true)))
            .collect();
        assert_eq!(told, down, "{input}");
    }
}
