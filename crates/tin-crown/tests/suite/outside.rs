//! Effects from outside, and actors that something else moves.

use std::sync::Arc;

use tin_crown::encounter::Effect;
use tin_crown::plan::Pose;
use tin_crown::{Facing, Line, Plan, Sim};

use crate::stage::plan_of;

/// A porter with 4 health, and a beetle with horns that are always live and a ram of 2, 4 and 4 ticks.
fn attic(drill: &str) -> Arc<Plan> {
    plan_of(&format!(
        "edition = 1\ntitle = \"outside\"\narena = {{ bounds = {{ min = [-900, -900], max = [900, 900] }} }}\n\
         [kind.porter]\nside = \"crown\"\nplayer = true\nmeter.health = {{ max = 4 }}\n\
         hurtbox.torso = {{ size = [12, 20] }}\ninvincible = {{ after_hit = \"10t\" }}\n\
         guard = {{ button = \"guard\" }}\nrespawn = {{ delay = \"6t\", lives = 2 }}\n\
         [[kind.porter.death]]\nafter = \"4t\"\n\
         [kind.beetle]\nside = \"attic\"\nmeter.health = {{ max = 2 }}\nhitbox.horns = {{ size = [26, 10] }}\n\
         hitbox.tusk = {{ size = [40, 4] }}\nhurtbox.lid = {{ size = [18, 4], at = [0, 6] }}\n\
         motion = {{ patrol = {{ between = [300, 500], speed = 60 }} }}\n\
         attack.ram = {{ button = \"ram\", startup = \"2t\", active = \"4t\", recovery = \"4t\", cooldown = \"30t\", live = [\"tusk\"] }}\n\
         starts = \"awake\"\n[kind.beetle.state.awake]\n[kind.beetle.state.asleep]\ngo = [{{ to = \"awake\", when = {{ after = \"5t\" }} }}]\n\
         [[place]]\nkind = \"porter\"\nat = [100, 0]\n[[place]]\nkind = \"beetle\"\nat = [400, 0]\n\
         [[rule]]\nname = \"horns\"\nhitbox = \"beetle.horns\"\nhurtbox = \"porter.torso\"\ndamage = 1\n\
         [[rule]]\nname = \"tusk\"\nhitbox = \"beetle.tusk\"\nhurtbox = \"porter.torso\"\ndamage = 2\npierces = [\"invincible\"]\n\
         [drill.d]\nlength = \"2s\"\n{drill}"
    ))
}

/// The lines of drill `d`, but for appearances, shortly: tick, event, who, whom and what else there is.
fn told(plan: &Arc<Plan>) -> Vec<String> {
    let replay = plan.replay("d").expect("within the limits");
    let events = replay.ledger().events().iter();
    let lines = events.map(|event| replay.line(event));
    let lines = lines.filter(|line| line.event != "appear" && line.event != "outcome");
    lines.map(|line| short(&line)).collect()
}

fn short(line: &Line<'_>) -> String {
    let texts = [
        &line.who,
        &line.whom,
        &line.rule,
        &line.verdict,
        &line.attack,
        &line.over,
        &line.despite,
        &line.state,
        &line.of,
        &line.by,
    ];
    let texts = texts.into_iter().flatten().map(AsRef::as_ref);
    let number = |number: f64| number.to_string();
    let change = line
        .before
        .zip(line.after)
        .map(|(from, to)| format!("{from}>{to}"));
    let numbers = [
        change,
        line.amount.map(number),
        line.overkill.map(|over| format!("+{over}")),
    ];
    let words: Vec<&str> = [&*line.event].into_iter().chain(texts).collect();
    let all = words
        .iter()
        .map(|word| (*word).to_owned())
        .chain(numbers.into_iter().flatten());
    format!("{} {}", line.tick, all.collect::<Vec<_>>().join(" "))
}

#[test]
fn an_effect_from_outside_asks_nothing_and_is_told_with_all_that_comes_of_it() {
    for (drill, expected) in [
        // A guard that is up and an open window are not asked. No window opens: the second lands, too.
        (
            "input = [{ when = \"1t\", who = \"porter\", hold = \"guard\" }]\n\
             apply = [{ when = \"5t\", whom = \"porter\", damage = 1 }, { when = \"6t\", whom = \"porter\", damage = 1 }]",
            vec![
                "1 input porter",
                "1 state porter guard-up",
                "5 apply porter 1",
                "5 meter porter 4>3 -1",
                "6 apply porter 1",
                "6 meter porter 3>2 -1",
            ],
        ),
        // Of several on one tick, in the order of the file; beyond nothing is overkill; credit to who. Death on 5,
        // gone on 9, back on 15: on 12 nobody is there.
        (
            "apply = [{ when = \"12t\", whom = \"porter\", heal = 1 }, \
             { when = \"5t\", whom = \"porter\", who = \"beetle\", damage = 3 }, \
             { when = \"5t\", whom = \"porter\", damage = 3 }]",
            vec![
                "5 apply beetle porter 3",
                "5 meter beetle porter 4>1 -3",
                "5 apply porter 3 +2",
                "5 meter porter 1>0 -1",
                "5 death porter health",
                "5 life porter 2>1 -1",
                "9 gone porter",
                "12 ignored porter effect",
                "15 respawn porter",
                "15 meter porter 0>4 4",
            ],
        ),
        // A kill is no damage, and to who's credit; the dying are given nothing.
        (
            "apply = [{ when = \"5t\", whom = \"porter\", who = \"beetle\", kill = true }, \
             { when = \"6t\", whom = \"porter\", heal = 2 }]",
            vec![
                "5 apply beetle porter kill",
                "5 meter beetle porter kill 4>0 -4",
                "5 death porter kill beetle",
                "5 life porter 2>1 -1",
                "6 apply porter",
                "9 gone porter",
                "15 respawn porter",
                "15 meter porter 0>4 4",
            ],
        ),
        // Stunned on 5 for 10 ticks: the press on 8 starts nothing, that on 15 does.
        (
            "input = [{ when = \"8t\", who = \"beetle\", press = \"ram\" }, { when = \"15t\", who = \"beetle\", press = \"ram\" }]\n\
             apply = [{ when = \"5t\", whom = \"beetle\", stun = \"10t\" }]",
            vec![
                "5 apply beetle",
                "5 state beetle stunned",
                "8 input beetle",
                "9 input beetle",
                "15 input beetle",
                "15 attack beetle ram",
                "16 input beetle",
                "25 attack beetle ram done",
            ],
        ),
    ] {
        assert_eq!(told(&attic(drill)), expected, "{drill}");
    }
}

#[test]
fn an_effect_pushes_away_from_who_before_the_hits_of_its_tick() {
    // The beetle stands 300 to the right: away from it is left, 120 units a second from the next tick on.
    let plan = attic(
        "apply = [{ when = \"5t\", who = \"beetle\", whom = \"porter\", knockback = { away = 120, for = \"6t\" } }]",
    );
    let mut sim = Sim::new(&plan, plan.drill("d").unwrap());
    let porter = plan.actor("porter").unwrap();
    let mut places = Vec::new();
    while sim.tick().0 < 12 {
        sim.step().unwrap();
        places.push(sim.actor(porter).at.x);
    }
    // 2 units a tick on 6 to 10: the window of 6 ticks opened on 5 is over on 11.
    assert_eq!(
        places[4..],
        [100.0, 98.0, 96.0, 94.0, 92.0, 90.0, 90.0, 90.0]
    );
    // The hit of the same tick finds the health that the effect left: 1, and 1 of overkill with the tusk.
    let plan = attic(
        "apply = [{ when = \"5t\", whom = \"porter\", damage = 3 }]\n\
         pose = [{ when = \"2t\", who = \"beetle\", at = [70, 0], attack = \"ram\" }, { when = \"5t\", who = \"beetle\", at = [76, 0], attack = \"ram\" }]",
    );
    let lines = told(&plan);
    let ours = lines
        .iter()
        .filter(|line| line.starts_with("5 ") && !line.contains("horns"));
    let ours: Vec<&str> = ours.map(String::as_str).collect();
    assert_eq!(
        ours[..4],
        [
            "5 apply porter 3",
            "5 meter porter 4>1 -3",
            "5 hit beetle porter tusk landed 2 +1",
            "5 meter beetle porter tusk 1>0 -1",
        ]
    );
}

#[test]
fn who_is_posed_goes_straight_where_it_is_told_or_jumps_there_and_nothing_else_moves_it() {
    for (drill, expected) in [
        // From 200 to -100 in one tick: the horns, 13 to each side, meet the torso, 6 to each side, when the beetle
        // is at 119: after 81 of 300 units, 0.27 of the tick. The first pose is a jump, and touches nothing there.
        (
            "pose = [{ when = \"3t\", who = \"beetle\", at = [200, 0] }, { when = \"4t\", who = \"beetle\", at = [-100, 0] }]",
            vec![(4, "landed".to_owned(), 0.27)],
        ),
        // The same as a jump passes over it.
        (
            "pose = [{ when = \"3t\", who = \"beetle\", at = [200, 0] }, { when = \"4t\", who = \"beetle\", at = [-100, 0], jump = true }]",
            vec![],
        ),
        // A first pose is a jump: touched where it stands, at the end of the tick. From then on they touch from the
        // beginning of each. It stays there without another,
        // in spite of a push and a stun, and gores again when the window of 10 ticks is over.
        (
            "pose = [{ when = \"3t\", who = \"beetle\", at = [105, 0] }]\n\
             apply = [{ when = \"4t\", whom = \"beetle\", knockback = { forward = 900 }, stun = \"30t\" }]",
            vec![
                (3, "landed".to_owned(), 1.0),
                (4, "invincible".to_owned(), 0.0),
                (13, "landed".to_owned(), 0.0),
                (14, "invincible".to_owned(), 0.0),
                (23, "landed".to_owned(), 0.0),
                (24, "invincible".to_owned(), 0.0),
            ],
        ),
    ] {
        let plan = attic(drill);
        let replay = plan.replay("d").unwrap();
        let lines = replay
            .ledger()
            .events()
            .iter()
            .map(|event| replay.line(event));
        let hits = lines.filter(|line| line.event == "hit" && line.tick < 30);
        // Moments are rounded down to 4096ths.
        let rounded = |moment: f64| (moment * 100.0).round() / 100.0;
        let hits = hits.map(|line| {
            let verdict = line.verdict.clone().unwrap_or_default().into_owned();
            (line.tick, verdict, line.moment.map_or(0.0, rounded))
        });
        let hits: Vec<_> = hits.collect();
        assert_eq!(hits, expected, "{drill}");
    }
}

#[test]
fn a_told_attack_begins_when_it_is_told_first_and_is_cut_short_when_it_is_not() {
    let pose = |when: u32, more: &str| {
        format!("{{ when = \"{when}t\", who = \"beetle\", at = [400, 0]{more} }}")
    };
    let ram = ", attack = \"ram\"";
    let counted = |count: u32| format!("{ram}, count = {count}");
    for (poses, expected) in [
        // Startup 2, active 4, recovery 4: over on 15. It is told on and on, and does not begin again.
        (
            (5..30).map(|when| pose(when, ram)).collect::<Vec<_>>(),
            vec!["5 attack beetle ram", "15 attack beetle ram done"],
        ),
        // Told no longer on 8; told again on 10, whatever its cooldown of 30 says.
        (
            vec![pose(5, ram), pose(8, ", attack = \"none\""), pose(10, ram)],
            vec![
                "5 attack beetle ram",
                "8 attack beetle ram cut-short",
                "10 attack beetle ram cooldown",
                "20 attack beetle ram done",
            ],
        ),
        // Another count is another attack; the same one is not.
        (
            vec![
                pose(5, &counted(1)),
                pose(7, &counted(1)),
                pose(9, &counted(2)),
            ],
            vec![
                "5 attack beetle ram",
                "9 attack beetle ram cut-short",
                "9 attack beetle ram attack",
                "19 attack beetle ram done",
            ],
        ),
        // Without a word about attacks its own buttons start them.
        (
            vec![pose(5, "")],
            vec![
                "7 input beetle",
                "7 attack beetle ram",
                "8 input beetle",
                "17 attack beetle ram done",
            ],
        ),
    ] {
        let press = match expected[0].contains("input") {
            true => "input = [{ when = \"7t\", who = \"beetle\", press = \"ram\" }]\n",
            false => "",
        };
        let drill = format!("{press}pose = [{}]", poses.join(", "));
        assert_eq!(told(&attic(&drill)), expected, "{drill}");
    }
}

#[test]
fn what_is_told_of_the_dying_is_ignored_and_their_return_is_their_own() {
    // The porter dies on 5, is gone on 9 and back on 15, where it was placed; its next pose is a jump.
    let poses = (3..40u32).map(|when| {
        let x = 100 + when;
        format!("{{ when = \"{when}t\", who = \"porter\", at = [{x}, 0] }}")
    });
    let plan = attic(&format!(
        "apply = [{{ when = \"5t\", whom = \"porter\", kill = true }}]\npose = [{}]",
        poses.collect::<Vec<_>>().join(", ")
    ));
    let lines = told(&plan);
    let ignored: Vec<&String> = lines
        .iter()
        .filter(|line| line.contains("ignored"))
        .collect();
    assert_eq!(ignored, ["6 ignored porter pose"]);
    let mut sim = Sim::new(&plan, plan.drill("d").unwrap());
    let porter = plan.actor("porter").unwrap();
    let mut at = vec![0.0];
    while sim.tick().0 < 20 {
        sim.step().unwrap();
        let view = sim.actor(porter);
        at.push(view.at.x);
        if sim.tick().0 == 16 {
            assert_eq!(view.start, view.at, "a jump has no way");
        }
        if sim.tick().0 == 17 {
            assert_eq!((view.start.x, view.velocity.x), (116.0, 60.0));
        }
    }
    assert_eq!(
        [at[2], at[3], at[5], at[6], at[8]],
        [100.0, 103.0, 105.0, 105.0, 105.0]
    );
    assert_eq!(at[15..], [100.0, 116.0, 117.0, 118.0, 119.0, 120.0]);
}

#[test]
fn a_told_state_is_entered_and_an_untold_one_follows_its_own_transitions() {
    // Awake at first. Told to be asleep on 4 and on; on 10 told nothing of it: since 4 more than 5 ticks are over.
    let pose = |when: u32, more: &str| {
        format!("{{ when = \"{when}t\", who = \"beetle\", at = [400, 0]{more} }}")
    };
    let asleep = ", state = \"asleep\"";
    let poses = [pose(4, asleep), pose(7, asleep), pose(12, "")];
    let plan = attic(&format!("pose = [{}]", poses.join(", ")));
    assert_eq!(
        told(&plan),
        ["4 state beetle asleep", "12 state beetle awake"]
    );
}

#[test]
fn the_windows_that_are_open_can_be_seen() {
    // The horns land on 3 and open ten ticks; a return opens none here.
    let plan = attic("pose = [{ when = \"3t\", who = \"beetle\", at = [105, 0] }]");
    let mut sim = Sim::new(&plan, plan.drill("d").unwrap());
    let porter = plan.actor("porter").unwrap();
    let mut seen = Vec::new();
    while sim.tick().0 < 14 {
        sim.step().unwrap();
        let windows: Vec<_> = sim.windows(porter).collect();
        for window in &windows {
            let line = sim.ledger().get(window.because.unwrap()).unwrap();
            assert_eq!(
                (line.what.name(), window.against, window.rule),
                ("hit", None, None)
            );
        }
        seen.push(windows.first().map_or(0, |window| window.until.0));
    }
    assert_eq!(seen, [0, 0, 13, 13, 13, 13, 13, 13, 13, 13, 13, 13, 23, 23]);
}

#[test]
fn a_posed_solid_carries_riders_unless_it_jumps() {
    let plan = plan_of(
        "edition = 1\ntitle = \"lift\"\narena = { bounds = { min = [-99, -99], max = [99, 99] }, gravity = 600 }\n\
         [kind.lift]\nsolid = { size = [40, 4] }\n\
         [kind.box]\nwalk = { speed = 1 }\nbody = { size = [4, 4] }\n\
         [[place]]\nkind = \"lift\"\nat = [0, 0]\n[[place]]\nkind = \"box\"\nat = [0, 4]\n[drill.d]\nlength = \"9t\"",
    );
    let (lift, load) = (plan.actor("lift").unwrap(), plan.actor("box").unwrap());
    let mut run = Sim::open(&plan, 0);
    let mut places = Vec::new();
    for (x, y) in [(0.0, 0.0), (3.0, 0.0), (3.0, 5.0), (3.0, 1.0)] {
        run.pose(lift, Pose::at([x, y])).unwrap();
        run.step().unwrap();
        let at = run.actor(load).at;
        places.push((at.x, at.y));
    }
    assert_eq!(places, [(0.0, 4.0), (3.0, 4.0), (3.0, 9.0), (3.0, 5.0)]);
    run.pose(lift, Pose::at([30.0, 1.0]).jump()).unwrap();
    run.step().unwrap();
    assert_eq!(run.actor(load).at.x, 3.0);
    assert!(!run.actor(load).grounded || run.actor(load).at.y <= 5.0);
}

#[test]
fn what_an_actor_cannot_be_told_is_refused_with_words() {
    let plan = attic("");
    let (porter, beetle) = (plan.actor("porter").unwrap(), plan.actor("beetle").unwrap());
    let mut run = Sim::open(&plan, 0);
    let asleep = plan.state(beetle, "asleep").unwrap();
    for (pose, said) in [
        (
            Pose::at([f64::NAN, 0.0]),
            "its x is not between -1000000 and 1000000 units",
        ),
        (
            Pose::at([0.0, 0.0]).height(3.0),
            "the arena has no height: leave `height` out",
        ),
        (
            Pose::at([0.0, 0.0]).state(asleep),
            "the kind of `porter` has no such state",
        ),
    ] {
        assert_eq!(run.pose(porter, pose).unwrap_err().to_string(), said);
    }
    // Of who mirrors, an angle is the side that it points to.
    run.pose(beetle, Pose::at([0.0, 0.0]).facing(Facing::Left))
        .unwrap();
    let error = run.apply(&Effect::default(), None, porter).unwrap_err();
    assert_eq!(error.to_string(), "this effect does nothing");
    let error = run
        .apply(&Effect::damage_of(-1.0), None, porter)
        .unwrap_err();
    assert_eq!(error.to_string(), "-1 is not an amount");
    run.step().unwrap();
    assert_eq!(run.actor(beetle).facing, Facing::Left);
    assert_eq!(
        plan.attack(beetle, "rm").unwrap_err().to_string(),
        "unknown attack `rm`; did you mean `ram`?"
    );
}
