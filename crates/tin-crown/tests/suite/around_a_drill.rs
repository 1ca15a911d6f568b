//! Studies of one drill: slack, passage, search, each on an encounter whose answer is known on paper.

use std::sync::Arc;

use tin_crown::study::{
    Aim, Attempt, PassageSetup, SearchSetup, SlackSetup, passage, search, slack,
};
use tin_crown::{Encounter, Expectation, Plan, Ticks, check};

fn read(text: &str) -> (Encounter, Arc<Plan>) {
    let checked = check(text.as_bytes());
    let plan = checked
        .plan
        .unwrap_or_else(|| panic!("{}", checked.findings));
    (checked.encounter.expect("it can be read"), plan)
}

/// A lid that can be hit on ticks 0 to 9, 20 to 29, 40 to 49, and a jab that is out 2 to 4 ticks after its press.
const LID: &str = r#"
edition = 1
title = "A lid that opens and shuts"
arena = { bounds = { min = [0, 0], max = [100, 100] } }
[kind.hero]
side = "ours"
player = true
hitbox.fist = { radius = 5 }
attack.jab = { button = "jab", startup = "2t", active = "3t", recovery = "5t", live = ["fist"] }
[kind.lid]
side = "theirs"
meter.health = { max = 9 }
hurtbox.top = { radius = 5, pulse = { on = "10t", off = "10t" } }
[[place]]
kind = "hero"
at = [50, 50]
[[place]]
kind = "lid"
at = [50, 50]
[[rule]]
name = "fist dents"
hitbox = "hero.fist"
hurtbox = "lid.top"
damage = 1
cue = "dent"
[drill.jab]
length = "60t"
input = [{ when = "25t", who = "hero", press = "jab" }]
expect = [{ hit = { whom = "lid" } }]
"#;

#[test]
fn slack_is_exact_to_the_tick_and_tells_of_holes() {
    let (encounter, plan) = read(LID);
    let setup = SlackSetup {
        reach: Ticks(60),
        wander: vec![1, 4],
        runs: 300,
        ..SlackSetup::new(&plan, "jab")
    };
    let found = slack(&encounter, &plan, &setup, &mut |_, _| true).expect("a slack");
    assert_eq!(found.missed, [0; 0]);
    let when = &found.inputs[0].when;
    // Pressed on p the fist is out on p+2 to p+4. It meets 20 to 29 for p of 16 to 27: 9 earlier, 2 later; 40 to 49 for
    // 36 to 47; and 0 to 9 up to 7. A press on 0 arrives on 1, which will do. A drill of 60 ticks has a press on 58
    // (p+2 = 60 is shut again), so nothing is met from 48 on but what the lid's next turn, 60 to 69, gives: p of 56 to 58.
    assert_eq!(when.around(), Some([-9, 2]));
    assert_eq!(when.met, [[-25, -18], [-9, 2], [11, 22], [31, 33]]);
    assert_eq!(when.tried, [-25, 35]);
    assert_eq!(when.open(), [false, false]);
    // However long the button is held, it is pressed once.
    let held = found.inputs[0].held.as_ref().expect("a press has a length");
    assert_eq!((held.around(), held.open()), (Some([0, 60]), [true, true]));
    // Within 1 tick it is always met; within 4 for 7 of 9 places of the press.
    assert_eq!(found.wander[0].met, 300);
    let [low, high] = found.wander[1].interval;
    // The Wilson score interval, from its roots: (share - p)^2 = z^2 p (1 - p) / runs.
    let share = f64::from(found.wander[1].met) / 300.0;
    for p in [low, high] {
        let apart = (share - p).powi(2) - 1.959_964_f64.powi(2) * p * (1.0 - p) / 300.0;
        assert!(apart.abs() < 1e-9, "{p}");
    }
    assert!(low < 7.0 / 9.0 && high > 7.0 / 9.0, "{:?}", found.wander[1]);
}

#[test]
fn a_passage_beneath_a_steam_is_that_worked_out_on_paper() {
    let (encounter, plan) = read(
        r#"
edition = 1
title = "Past the steam"
arena = { bounds = { min = [0, 0], max = [200, 100] } }
[kind.hero]
side = "ours"
player = true
walk = { speed = 60 }
meter.health = { max = 1 }
hurtbox.all = { size = [2, 10] }
[kind.kettle]
side = "theirs"
hitbox.steam = { size = [10, 20], pulse = { on = "20t", off = "40t" } }
[[place]]
kind = "hero"
at = [10, 50]
[[place]]
kind = "kettle"
at = [65, 50]
[[rule]]
name = "steam scalds"
hitbox = "kettle.steam"
hurtbox = "hero.all"
damage = 1
[drill.dash]
length = "90t"
input = [{ when = "1t", who = "hero", hold = "right", for = "85t" }]
"#,
    );
    let found = passage(
        &encounter,
        &plan,
        &PassageSetup::new(&plan, "dash"),
        &mut |_, _| true,
    )
    .expect("a passage");
    assert_eq!(
        (found.cycle.period, found.cycle.settles),
        (Some(Ticks(60)), Ticks(0))
    );
    assert_eq!(found.starts.len(), 60);
    // A cap of just the cycle is enough to find it.
    let narrow = PassageSetup {
        cap: Ticks(60),
        ..PassageSetup::new(&plan, "dash")
    };
    let narrow = passage(&encounter, &plan, &narrow, &mut |_, _| true).expect("a passage");
    assert_eq!(narrow, found);
    // Started s ticks later the hero is at 10 + t - s. Its hurtbox, 1 to either side, is in the steam, 60 to 70, while
    // its middle is between 59 and 71: on the ticks s+50, which begins at 59, to s+61, which begins at 70. Those must
    // miss 0 to 19 of each 60: s+50 is 20 to 48 past a multiple of 60, so s is 30 to 58.
    assert_eq!(found.stretches(), [[30, 58]]);
    assert_eq!(found.narrowest(), Some(Ticks(29)));
    assert_eq!(
        found.starts[29],
        Attempt::Hurt {
            after: Ticks(50),
            who: "kettle".to_owned()
        }
    );
}

#[test]
fn a_planted_way_past_a_guard_is_found_and_shrunk() {
    const GUARD: &str = r#"
edition = 1
title = "A guard that looks one way"
arena = { bounds = { min = [0, 0], max = [200, 100] } }
[kind.hero]
side = "ours"
player = true
walk = { speed = 120 }
hitbox.fist = { size = [12, 6], at = [10, 0] }
attack.jab = { button = "jab", startup = "3t", active = "4t", recovery = "6t", live = ["fist"] }
[kind.knight]
side = "theirs"
meter.health = { max = 3 }
hurtbox.all = { size = [10, 20] }
guard = { arc = [-90, 90], through = 0 }
starts = "wary"
state.wary = { guard = true }
[[place]]
kind = "hero"
at = [40, 50]
[[place]]
kind = "knight"
at = [100, 50]
facing = "left"
[[rule]]
name = "fist strikes"
hitbox = "hero.fist"
hurtbox = "knight.all"
damage = 1
[drill.duel]
length = "4s"
input = [
  { when = "0.2s", who = "hero", hold = "right", for = "0.3s" },
  { when = "0.7s", who = "hero", press = "jab" },
  { when = "1.1s", who = "hero", press = "jab" },
]
expect = [{ never = { hit = { whom = "knight", verdict = "landed" } } }]
"#;
    let (encounter, plan) = read(GUARD);
    let setup = SearchSetup::new("duel", Aim::Break(1));
    let found = search(&encounter, &plan, &setup, &mut |_, _| true).expect("a search");
    let drill = found.found.expect("the way round").drill;
    // Past the knight, round, and a jab: the walk to the right, something to the left, and the jab.
    let buttons: Vec<&str> = drill
        .input
        .iter()
        .map(|input| input.button.as_str())
        .collect();
    assert_eq!(
        buttons,
        ["right", "left", "jab"],
        "{}",
        drill.to_toml("found")
    );
    // Written out it replays, and does what was looked for.
    let text = format!("{GUARD}\n{}", drill.to_toml("found"));
    let (_, plan) = read(&text);
    let replay = plan.replay("found").expect("it can be played");
    assert_eq!(replay.missed(), [0; 0], "the contrary is expected, and met");
    assert!(
        drill
            .to_toml("found")
            .contains("expect = [{ hit = { whom = \"knight\", verdict = \"landed\" } }]")
    );

    // The same on one thread, and none where the guard covers all.
    let pool = rayon::ThreadPoolBuilder::new()
        .num_threads(1)
        .build()
        .expect("a thread");
    let alone = pool.install(|| search(&encounter, &plan, &setup, &mut |_, _| true));
    assert_eq!(
        alone.expect("a search").found.expect("the way round").drill,
        drill
    );
    let (encounter, plan) = read(&GUARD.replace("[-90, 90]", "[-180, 180]"));
    let setup = SearchSetup {
        budget: 640,
        ..setup
    };
    let none = search(&encounter, &plan, &setup, &mut |_, _| true).expect("a search");
    assert_eq!((none.runs, none.found), (640, None));
}

/// A walker, a wheel of steam and a turret, whose ways are worked out in the tests.
const PAST: &str = r#"
edition = 1
title = "Past a turret"
arena = { bounds = { min = [0, 0], max = [400, 100] } }
[kind.hero]
side = "ours"
player = true
walk = { speed = 60 }
meter.health = { max = 9 }
hurtbox.all = { size = [2, 10] }
[kind.turret]
side = "theirs"
launcher.gun = { launches = "ball", clock = { first = "10t", every = "45t" }, speed = 60 }
[kind.ball]
hitbox.all = { size = [2, 2] }
lifetime = "30t"
[[place]]
kind = "hero"
at = [10, 50]
[[place]]
kind = "turret"
at = [WHERE, 50]
[[rule]]
name = "ball stings"
hitbox = "ball.all"
hurtbox = "hero.all"
damage = 1
[drill.dash]
length = "60t"
input = [{ when = "1t", who = "hero", hold = "right", for = "50t" }]
"#;

#[test]
fn what_is_launched_has_a_cycle_and_waiting_can_hurt() {
    let find = |place: &str, cap: u32| {
        let (encounter, plan) = read(&PAST.replace("WHERE", place));
        let setup = PassageSetup {
            cap: Ticks(cap),
            ..PassageSetup::new(&plan, "dash")
        };
        passage(&encounter, &plan, &setup, &mut |_, _| true).expect("a passage")
    };
    // Far off, the turret launches every 45 ticks from tick 10 on; what was before the first does not come again.
    let far = find("300", 600);
    assert_eq!(far.cycle.each, [("turret".to_owned(), Ticks(45))]);
    assert_eq!((far.cycle.period, far.whole), (Some(Ticks(45)), true));
    assert_eq!(
        far.narrowest(),
        Some(Ticks(far.starts.len() as u32)),
        "nothing hurts: all starts are one stretch"
    );
    // Right behind the hero: the first ball, of tick 10, has to come 3 units to the one who waits, a unit a tick.
    let near = find("6", 600);
    let waits = near.starts.last().expect("there are starts");
    assert!(
        matches!(waits, Attempt::Waiting { tick, who } if tick.0 <= 13 && who == "turret"),
        "{waits:?}"
    );
    // A cap below the cycle is told, with who is too slow, and so many starts are tried.
    let capped = find("300", 40);
    assert_eq!(
        (capped.cycle.period, capped.cycle.without.as_slice()),
        (None, &["turret".to_owned()][..])
    );
    assert_eq!((capped.starts.len(), capped.whole), (40, false));
}

#[test]
fn a_goal_that_hangs_on_chance_is_found_with_another_seed() {
    let text = LID
        .replace(
            "at = [50, 50]\n[[rule]]",
            "at = { choice = [[50, 50], [80, 80], [20, 80], [80, 20], [20, 20]] }\n[[rule]]",
        )
        .replace("pulse = { on = \"10t\", off = \"10t\" }", "");
    let (encounter, plan) = read(&text.replace("radius = 5, }", "radius = 5 }"));
    // A seed with which the lid is out of reach, whatever is pressed.
    let never = (0..40).find(|seed| {
        let mut other = encounter.clone();
        other
            .set(&"drill.jab.seed".parse().expect("a path"), f64::from(*seed))
            .expect("a seed");
        let replay = other
            .resolve()
            .expect("no errors")
            .replay("jab")
            .expect("it is there");
        !replay.missed().is_empty()
    });
    let mut encounter = encounter;
    let never = f64::from(never.expect("one of five places is out of reach"));
    encounter
        .set(&"drill.jab.seed".parse().expect("a path"), never)
        .expect("a seed");
    let plan = {
        drop(plan);
        encounter.resolve().expect("no errors")
    };
    let goal = Expectation::read("hit = { whom = 'lid' }")
        .value
        .expect("a goal");
    let setup = SearchSetup {
        budget: 640,
        ..SearchSetup::new("jab", Aim::Reach(vec![goal]))
    };
    let same = search(&encounter, &plan, &setup, &mut |_, _| true).expect("a search");
    assert_eq!(same.found, None);
    let reseeds = SearchSetup {
        reseeds: true,
        ..setup
    };
    let other = search(&encounter, &plan, &reseeds, &mut |_, _| true).expect("a search");
    let drill = other.found.expect("another seed").drill;
    assert!(
        f64::from(drill.seed) != never && drill.input.len() == 1,
        "{drill:?}"
    );
}

#[test]
fn every_study_goes_through_every_drill_of_demo_and_recipes() {
    let recipes = include_str!("../../docs/recipes.md")
        .split("```toml\n")
        .skip(1);
    let recipes = recipes
        .filter_map(|rest| rest.split("```").next())
        .filter(|text| text.contains("edition = 1"));
    let demo = [
        tin_crown::demo::FIRST_SHELF,
        tin_crown::demo::SECOND_SHELF,
        tin_crown::demo::THIRD_SHELF,
        tin_crown::demo::ATTIC,
    ];
    let mut drills = 0;
    for text in demo.into_iter().chain(recipes) {
        let (encounter, plan) = read(text);
        for drill in plan.all_drills() {
            let name = plan.drills()[drill.index()].name();
            let title = plan.title();
            let setup = SlackSetup {
                reach: Ticks(1),
                wander: vec![2],
                runs: 3,
                ..SlackSetup::new(&plan, name)
            };
            if let Ok(slack) = slack(&encounter, &plan, &setup, &mut |_, _| true) {
                assert_eq!(slack.missed, [0; 0], "{title}: {name}");
                // As it is written it meets what is expected of it.
                assert!(
                    slack
                        .inputs
                        .iter()
                        .all(|input| input.when.around().is_some()),
                    "{title}: {name}"
                );
            }
            let setup = PassageSetup {
                cap: Ticks(4),
                ..PassageSetup::new(&plan, name)
            };
            if let Ok(passage) = passage(&encounter, &plan, &setup, &mut |_, _| true) {
                let failed = passage
                    .starts
                    .iter()
                    .find(|start| matches!(start, Attempt::Failed(_)));
                assert_eq!(failed, None, "{title}: {name}");
            }
            let setup = SearchSetup {
                budget: 8,
                ..SearchSetup::new(name, Aim::Break(1))
            };
            if let Ok(search) = search(&encounter, &plan, &setup, &mut |_, _| true) {
                assert!(search.runs <= 8, "{title}: {name}");
            }
            drills += 1;
        }
    }
    assert!(drills > 40, "{drills}");
}

#[test]
fn what_a_drill_lacks_is_said() {
    let (encounter, plan) = read(LID);
    let told = |text: &str| {
        let goal = Expectation::read(text);
        assert!(goal.value.is_none());
        goal.findings.to_string()
    };
    assert!(told("outcom = 'won'").contains("did you mean `outcome`?"));
    let no = |aim: Aim| {
        search(
            &encounter,
            &plan,
            &SearchSetup::new("jab", aim),
            &mut |_, _| true,
        )
        .unwrap_err()
        .to_string()
    };
    assert!(
        no(Aim::Break(2)).contains("there is no number 2"),
        "{}",
        no(Aim::Break(2))
    );
    assert!(no(Aim::Break(0)).contains("there is no number 0"));
    let buttons = SearchSetup {
        buttons: vec!["jump".to_owned()],
        ..SearchSetup::new("jab", Aim::Break(1))
    };
    let error = search(&encounter, &plan, &buttons, &mut |_, _| true)
        .unwrap_err()
        .to_string();
    assert!(error.contains("`jump`") && error.contains("jab"), "{error}");
    let stopped = slack(
        &encounter,
        &plan,
        &SlackSetup::new(&plan, "jab"),
        &mut |_, _| false,
    );
    assert_eq!(
        stopped.unwrap_err().to_string(),
        "stopped before it was done"
    );
    let bare = LID.replace("expect = [{ hit = { whom = \"lid\" } }]", "");
    let (encounter, plan) = read(&bare);
    let nothing = slack(
        &encounter,
        &plan,
        &SlackSetup::new(&plan, "jab"),
        &mut |_, _| true,
    )
    .unwrap_err();
    assert_eq!(nothing.to_string(), "nothing is expected of drill `jab`");
}
