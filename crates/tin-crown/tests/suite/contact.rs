//! Contact damage, tick by tick, worked out on paper.

use tin_crown::encounter::{Against, Contact, Region, Repeat};
use tin_crown::{
    Arena, BoxSpec, Encounter, Facing, Kind, MeterSpec, Motion, Placement, Rule, Verdict, What,
};

use crate::stage::*;

fn gore() -> Rule {
    Rule::new("gore", "beetle.horns", "porter.torso").damage(1.0)
}

/// A porter at 100 and a beetle that comes from 290 at 40 units a second.
fn meeting(rate: u32) -> Encounter {
    coming(stage(rate, "20s"), 40.0)
        .kind("porter", porter("0.5s"))
        .place(Placement::new("porter", [100.0, 30.0]))
        .rule(gore())
}

/// A porter and a beetle in the same place from the beginning.
fn embrace(rate: u32, kind: Kind, rule: Rule) -> Encounter {
    stage(rate, "2s")
        .kind("porter", kind)
        .kind("beetle", beetle())
        .place(Placement::new("porter", [0.0, 0.0]))
        .place(Placement::new("beetle", [0.0, 0.0]))
        .rule(rule)
}

#[test]
fn the_tick_of_first_touch() {
    // The horns reach 13 ahead of 290, the torso 6 ahead of 100: 290 - 13 - 106 = 171 to go.
    for (rate, tick) in [
        (60, 257),  // 171 / (40 / 60) = 256.5
        (50, 214),  // 171 / (40 / 50) = 213.75
        (120, 514), // 171 / (40 / 120) = 513: edges touch at the end of 513, and overlap on 514
    ] {
        let mut encounter = meeting(rate);
        assert_eq!(landed(&replay(&encounter))[0], tick, "swept at {rate}");
        encounter.arena.contact = Contact::Sampled;
        assert_eq!(landed(&replay(&encounter))[0], tick, "sampled at {rate}");
    }
    // Halfway through the tick, less the millionth of a unit that overlap takes: 2048 / 4096.
    let replay = replay(&meeting(60));
    let first = replay
        .ledger()
        .events()
        .iter()
        .find_map(|event| match &event.what {
            What::Hit(hit) => Some(hit.moment),
            _ => None,
        });
    assert_eq!(first, Some(2048));
}

#[test]
fn sustained_touch_lands_once_a_window() {
    for (rate, ticks) in [
        (60, [0, 30, 60, 90]),
        (50, [0, 25, 50, 75]),
        (120, [0, 60, 120, 180]),
    ] {
        let replay = replay(&embrace(rate, porter("0.5s"), gore()));
        assert_eq!(landed(&replay), ticks, "at {rate}");
    }
}

#[test]
fn without_a_window_health_is_gone_in_a_blink_and_below_nothing_never() {
    let hasty = Kind::new()
        .meter("health", MeterSpec::new(2.5))
        .hurtbox("torso", BoxSpec::circle(8.0));
    let replay = replay(&embrace(60, hasty, gore()));
    assert_eq!(landed(&replay), [0, 1, 2]);
    let summary = replay.summary();
    assert_eq!(summary.dealt[0].overkill.to_string(), "0.5");
    assert_eq!(summary.ends[1].meters[0].end.to_string(), "0");
    assert_eq!(told(&replay, "death"), [(2, "porter".into())]);
    assert_eq!(told(&replay, "gone"), [(2, "porter".into())]);
}

#[test]
fn several_boxes_of_one_actor_give_one_hit() {
    let two = porter("0.5s").hurtbox("plume", BoxSpec::circle(9.0));
    let replay = replay(&embrace(
        60,
        two,
        Rule::new("gore", "beetle", "porter").damage(1.0),
    ));
    assert_eq!(landed(&replay), [0, 30, 60, 90]);
}

#[test]
fn nothing_is_too_fast_when_swept_and_much_is_when_sampled() {
    // 6,000 units a second are 100 a tick; the pane is 2 wide, from 49 to 51, and the dart 4.
    let shot = |contact| {
        stage(60, "0.1s")
            .arena(Arena {
                bounds: Region::new([-500.0, -500.0], [5000.0, 500.0]),
                contact,
                ..Arena::default()
            })
            .kind(
                "pane",
                Kind::new()
                    .hurtbox("glass", BoxSpec::rectangle(2.0, 40.0))
                    .meter("health", MeterSpec::new(1.0)),
            )
            .kind(
                "dart",
                Kind::new()
                    .hitbox("tip", BoxSpec::rectangle(4.0, 2.0))
                    .motion(Motion::patrol(0.0, 4000.0, 6000.0)),
            )
            .place(Placement::new("pane", [50.0, 0.0]))
            .place(Placement::new("dart", [0.0, 0.0]))
            .rule(Rule::new("smash", "dart", "pane").damage(1.0))
    };
    assert_eq!(landed(&replay(&shot(Contact::Swept))), [1]);
    assert!(landed(&replay(&shot(Contact::Sampled))).is_empty());
}

#[test]
fn two_that_hit_each_other_in_one_tick_both_land() {
    let duellist = |side| {
        Kind::new()
            .side(side)
            .meter("health", MeterSpec::new(1.0))
            .hitbox("blade", BoxSpec::rectangle(30.0, 2.0))
            .hurtbox("chest", BoxSpec::circle(5.0))
    };
    let encounter = stage(60, "1s")
        .kind("red", duellist("red"))
        .kind("blue", duellist("blue"))
        .place(Placement::new("red", [0.0, 0.0]))
        .place(Placement::new("blue", [10.0, 0.0]).facing(Facing::Left))
        .rule(Rule::new("strike", "*.blade", "*.chest").damage(1.0));
    let replay = replay(&encounter);
    assert_eq!(landed(&replay), [0, 0]);
    assert_eq!(
        told(&replay, "death"),
        [(0, "blue".into()), (0, "red".into())]
    );
}

#[test]
fn sides_are_allies_unless_the_rule_is_friendly() {
    let of = |side: &str, rule: Rule| {
        let replay = replay(&embrace(60, porter("0.5s").side(side), rule));
        (
            landed(&replay).len(),
            with_verdict(&replay, Verdict::Ally).len(),
        )
    };
    assert_eq!(
        of("attic", gore()),
        (0, 0),
        "an ally's touch is not even told"
    );
    assert_eq!(of("attic", gore().friendly()), (4, 0));
    assert_eq!(of("crown", gore()), (4, 0));
}

/// A beetle that shuttles over a porter who is touched on ticks 14 to 38 and again from 83 on.
fn shuttle(rule: Rule) -> Encounter {
    stage(60, "2s")
        .kind(
            "porter",
            Kind::new()
                .meter("health", MeterSpec::new(9.0))
                .hurtbox("torso", BoxSpec::rectangle(12.0, 20.0)),
        )
        .kind("beetle", beetle().motion(Motion::patrol(-40.0, 60.0, 90.0)))
        .place(Placement::new("porter", [0.0, 0.0]))
        .place(Placement::new("beetle", [-40.0, 0.0]))
        .rule(rule)
}

#[test]
fn repeat_policies_space_the_hits() {
    // 1.5 a tick. Touch while the distance is under 13 + 6 = 19: from -40, 21 are 14 ticks, then
    // overlap on 15; until 19, which 59 / 1.5 = 39.33 reaches on tick 40. At 60 on tick 67 (100 /
    // 1.5 = 66.67, cut short), back under 19 after 41 / 1.5 = 27.33: on tick 95.
    let touched: Vec<u32> = (15..=40).chain(95..=120).collect();
    let cases: [(&str, Rule, Vec<u32>); 5] = [
        ("while touching", gore(), touched[..9].to_vec()),
        (
            "once per touch",
            gore().repeat(Repeat::OncePerTouch),
            vec![15, 95],
        ),
        ("per attack", gore().repeat(Repeat::PerAttack), vec![15]),
        (
            "every 10",
            gore().every(time("10t")),
            vec![15, 25, 35, 95, 105, 115],
        ),
        (
            "every 90, across touches",
            gore().every(time("90t")),
            vec![15, 105],
        ),
    ];
    for (name, rule, ticks) in cases {
        assert_eq!(landed(&replay(&shuttle(rule))), ticks, "{name}");
    }
}

#[test]
fn a_policy_that_says_not_yet_is_told_once_with_its_reason() {
    let replay = replay(&shuttle(gore().repeat(Repeat::OncePerTouch)));
    let hits: Vec<_> = replay
        .ledger()
        .events()
        .iter()
        .filter(|event| event.what.name() == "hit")
        .collect();
    let told: Vec<(u32, Verdict)> = hits
        .iter()
        .map(|event| match &event.what {
            What::Hit(hit) => (event.tick.0, hit.verdict),
            _ => unreachable!(),
        })
        .collect();
    let (landed, repeat) = (Verdict::Landed, Verdict::Repeat);
    assert_eq!(
        told,
        [(15, landed), (16, repeat), (95, landed), (96, repeat)]
    );
    assert_eq!(hits[1].because, Some(hits[0].id));
    assert_eq!(hits[3].because, Some(hits[2].id));
}

#[test]
fn invincibility_holds_against_whom_it_says() {
    // Two beetles, two rules each, on a porter invincible for 30 ticks from the first hit.
    for (against, first_tick) in [
        (Against::Everyone, vec!["gore"]),
        (Against::Source, vec!["gore", "gore"]),
        (Against::Rule, vec!["gore", "stamp"]),
    ] {
        let mut kind = porter("0.5s");
        kind.invincible.against = Some(against);
        let encounter = embrace(60, kind, gore())
            .place(Placement::new("beetle", [1.0, 0.0]).id("other"))
            .rule(Rule::new("stamp", "beetle.horns", "porter.torso").damage(0.25));
        let mut encounter = encounter;
        encounter.placements[1].id = Some("one".into());
        let replay = replay(&encounter);
        let rules: Vec<String> = with_verdict(&replay, Verdict::Landed)
            .into_iter()
            .take_while(|(tick, _)| *tick == 0)
            .map(|(_, rule)| rule)
            .collect();
        assert_eq!(rules, first_tick, "{against:?}");
        assert_eq!(landed(&replay)[first_tick.len()], 30, "{against:?}");
    }
}

#[test]
fn damage_goes_through_meters_in_order() {
    let kind = porter("0.5s").meter("shield", MeterSpec::new(1.5));
    let rule =
        Rule::new("gore", "beetle.horns", "porter.torso").damage_to(1.0, ["shield", "health"]);
    let replay = replay(&embrace(60, kind, rule));
    let changes: Vec<String> = replay
        .ledger()
        .events()
        .iter()
        .filter(|event| event.what.name() == "meter")
        .map(|event| format!("{} {}", event.tick, replay.told(event)))
        .collect();
    assert_eq!(
        changes,
        [
            "0 shield 1.5 → 0.5",
            "30 shield 0.5 → 0",
            "30 health 4 → 3.5",
            "60 health 3.5 → 2.5",
            "90 health 2.5 → 1.5",
            "120 health 1.5 → 0.5",
        ]
    );
}

#[test]
fn knockback_drives_for_its_time_and_no_longer() {
    // Hit on tick 0 and thrown at 140 away (to the right: the beetle stands to the left) for 12
    // ticks: the motions of ticks 1 to 11 are not its own. 11 * 140 / 60 = 25.667.
    let encounter = embrace(60, porter("5s"), gore().knockback(140.0, 0.0));
    let mut encounter = encounter;
    encounter.placements[1].at = [-5.0, 0.0].into();
    let seen = watch(&encounter, "porter", |_, view| (view.at.x, view.velocity.x));
    assert!(close(seen[11].0, 11.0 * 140.0 / 60.0), "{}", seen[11].0);
    assert_eq!(seen[12].0, seen[11].0, "from tick 12 on it stays again");
    assert_eq!(seen[12].1, 0.0);
}

#[test]
fn at_equal_x_away_is_the_way_who_hits_faces() {
    for (facing, way) in [(Facing::Right, 1.0), (Facing::Left, -1.0)] {
        let mut encounter = embrace(60, porter("5s"), gore().knockback(60.0, 0.0));
        encounter.placements[1].facing = facing;
        let seen = watch(&encounter, "porter", |_, view| view.velocity.x);
        assert_eq!(seen[0], 60.0 * way);
    }
}

#[test]
fn the_last_player_gone_ends_the_drill() {
    let players = stage(60, "2s")
        .kind("porter", porter("0s").player())
        .kind("beetle", beetle())
        .place(Placement::new("porter", [0.0, 0.0]).copies(2, [0.0, 100.0]))
        .place(Placement::new("beetle", [0.0, 0.0]))
        .rule(gore());
    assert_eq!(
        replay(&players).summary().outcome,
        Some(tin_crown::Outcome::Ended),
        "one of two is left"
    );
    let mut alone = players;
    alone.placements[0].copies = None;
    let replay = replay(&alone);
    let last = replay.ledger().events().last().expect("an outcome");
    assert_eq!(
        (last.tick.0, last.what.clone()),
        (3, What::Outcome(tin_crown::Outcome::Lost))
    );
}
