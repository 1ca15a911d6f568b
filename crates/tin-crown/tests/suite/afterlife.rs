//! Death sequences, lives, checkpoints, respawns and outcomes, worked out on paper. At 60 ticks a second.

use crate::stage::{lines, played, text_replay};

/// The ticks of the lines of an event, of somebody.
fn ticks(text: &str, event: &str, who: &str) -> Vec<u32> {
    let all = lines(text, event).into_iter();
    all.filter(|line| line.who.as_deref() == Some(who))
        .map(|line| line.tick)
        .collect()
}

/// A hero who dies of a thorn whose only pulse is on tick 100; and whatever a test adds.
fn mortal(hero: &str, rest: &str) -> String {
    format!(
        r##"edition = 1
title = "an afterlife"
[arena]
bounds = {{ min = [-500, -500], max = [500, 500] }}
[kind.hero]
side = "ours"
player = true
tags = ["hero"]
body = {{ size = [10, 10] }}
hurtbox.all = {{ size = [10, 10] }}
meter.health = {{ max = 3 }}
{hero}
[kind.thorn]
side = "theirs"
hitbox.tip = {{ radius = 4, pulse = {{ on = "1t", off = "9999t", phase = "9900t" }} }}
[[place]]
kind = "hero"
at = [0, 0]
[[place]]
kind = "thorn"
at = [0, 0]
[[rule]]
name = "prick"
hitbox = "thorn.tip"
hurtbox = "hero.all"
damage = 3
{rest}
[drill.d]
length = "400t"
"##
    )
}

const SEQUENCE: &str = r#"
invincible = { after_respawn = "90t" }
respawn = { delay = "60t", lives = 2, countdown = ["two", "one"], cue = "again" }
death = [{ after = "0t", throw = { up = 60 }, cue = "ouch" }, { after = "48t", cue = "curtain" }]
"#;

#[test]
fn death_sequence_delay_and_respawn_on_exact_ticks() {
    let text = mortal(SEQUENCE, "");
    // DESIGN: death on 100, last step after 48, delay 60: gone on 148, back and touchable on 208.
    assert_eq!(ticks(&text, "death", "hero"), [100]);
    assert_eq!(ticks(&text, "gone", "hero"), [148]);
    assert_eq!(ticks(&text, "respawn", "hero"), [208]);
    assert_eq!(ticks(&text, "appear", "hero"), [0, 208]);
    let cues: Vec<_> = lines(&text, "cue")
        .into_iter()
        .map(|line| (line.tick, line.cue.unwrap_or_default().to_string()))
        .collect();
    let cue = |tick, name: &str| (tick, name.to_owned());
    // Two cues over 60 ticks: as it is gone (told on the tick after), and half way.
    assert_eq!(
        cues,
        [
            cue(100, "ouch"),
            cue(148, "curtain"),
            cue(149, "two"),
            cue(178, "one"),
            cue(208, "again")
        ]
    );
    let life = &lines(&text, "life")[0];
    assert_eq!(
        (life.tick, life.before, life.after),
        (100, Some(2.0), Some(1.0))
    );
    // Thrown up at 60 a second without gravity: a unit a tick from 101 on; dying, not alive.
    let seen = played(&text, "hero", |tick, view| (tick, view.at.y));
    assert_eq!(seen.last().map(|(tick, _)| *tick), Some(400));
    assert!(
        !seen.iter().any(|(tick, _)| (100..208).contains(tick)),
        "nobody there in between"
    );
    // The chain: respawn because gone because death because of the hit.
    let replay = text_replay(&text);
    let mut event = replay
        .ledger()
        .events()
        .iter()
        .rfind(|event| event.what.name() == "appear")
        .expect("back");
    let mut chain = Vec::new();
    while let Some(cause) = event.cause {
        event = replay.ledger().get(cause).expect("a line");
        chain.push(event.what.name());
    }
    assert_eq!(chain, ["respawn", "gone", "death", "hit"]);
}

#[test]
fn grace_after_a_respawn_ends_on_its_tick() {
    // A second thorn that is always out: while touching it hits the hero on the tick grace is over.
    let always = "[kind.spike]\nside = \"theirs\"\nhitbox.tip = { radius = 4 }\n[[place]]\nkind = \"spike\"\nat = [100, 0]\n\
                  [[rule]]\nname = \"spike\"\nhitbox = \"spike.tip\"\nhurtbox = \"hero.all\"\ndamage = 1\n";
    let hero = SEQUENCE.replace(
        "delay = \"60t\"",
        "delay = \"60t\", at = { places = [100, 0] }",
    );
    let text = mortal(&hero, always);
    let spikes: Vec<_> = lines(&text, "hit")
        .into_iter()
        .filter(|line| line.rule.as_deref() == Some("spike"))
        .map(|line| (line.tick, line.verdict.unwrap_or_default().to_string()))
        .take(2)
        .collect();
    // Back on 208 within the spike, 90 ticks of grace: hittable from 298.
    assert_eq!(spikes, [(208, "invincible".into()), (298, "landed".into())]);
    // Without grace: touchable on the very tick it is back.
    let bare = text.replace("invincible = { after_respawn = \"90t\" }\n", "");
    let first = lines(&bare, "hit")
        .into_iter()
        .find(|line| line.rule.as_deref() == Some("spike"));
    assert_eq!(
        first.map(|line| (line.tick, line.moment)),
        Some((208, Some(1.0)))
    );
}

#[test]
fn nothing_hurts_or_is_hurt_between_death_and_respawn_unless_a_step_says_so() {
    let spike = "[kind.spike]\nside = \"theirs\"\nhitbox.tip = { radius = 4, pulse = { on = \"200t\", off = \"999t\", phase = \"1079t\" } }\n\
                 meter.health = { max = 9 }\nhurtbox.foot = { radius = 4 }\n[[place]]\nkind = \"spike\"\nat = [0, 0]\n\
                 [[rule]]\nname = \"spike\"\nhitbox = \"spike.tip\"\nhurtbox = \"hero.all\"\ndamage = 1\nevery = \"10t\"\n\
                 [[rule]]\nname = \"ghost\"\nhitbox = \"hero.chill\"\nhurtbox = \"spike.foot\"\ndamage = 1\nevery = \"20t\"\n";
    // The spike is out from tick 120 on; the hero is dying from 100 to 148.
    let hero = "hitbox.chill = { radius = 6 }\ndeath = [{ after = \"48t\" }]";
    let text = mortal(hero, spike);
    let rule = |text: &str, name: &str| -> Vec<(u32, String)> {
        lines(text, "hit")
            .into_iter()
            .filter(|line| line.rule.as_deref() == Some(name) && line.tick > 100)
            .map(|line| (line.tick, line.verdict.unwrap_or_default().to_string()))
            .collect()
    };
    assert_eq!(rule(&text, "spike"), [(120, "down".to_owned())]);
    assert_eq!(rule(&text, "ghost"), []);
    // A step that keeps a hitbox lets it hurt, from the tick after it ran in phase 6, on 100.
    let ghost = text.replace(
        "death = [{ after = \"48t\" }]",
        "death = [{ after = \"0t\", live = [\"chill\"] }, { after = \"48t\" }]",
    );
    let hits = rule(&ghost, "ghost");
    // Every 20 from tick 0 on: 100 was the last of the living, and 140 the last of the dead.
    let landed: Vec<u32> = hits
        .iter()
        .filter(|(_, verdict)| verdict == "landed")
        .map(|(tick, _)| *tick)
        .collect();
    assert_eq!(landed, [120, 140]);
    // One that keeps the hurtbox lets it be hurt, to no more than overkill: a death begins once.
    let kept = text.replace(
        "death = [{ after = \"48t\" }]",
        "death = [{ after = \"20t\", live = [\"all\"] }, { after = \"48t\" }]",
    );
    assert_eq!(rule(&kept, "spike")[0], (120, "landed".to_owned()));
    assert_eq!(ticks(&kept, "death", "hero"), [100]);
}

#[test]
fn two_lethal_hits_on_one_tick_cost_one_life() {
    let twice = "[[rule]]\nname = \"prick again\"\nhitbox = \"thorn.tip\"\nhurtbox = \"hero.all\"\ndamage = 3\n";
    let text = mortal("respawn = { lives = 3 }", twice);
    assert_eq!(
        lines(&text, "hit")
            .iter()
            .filter(|line| line.verdict.as_deref() == Some("landed"))
            .count(),
        2
    );
    assert_eq!(ticks(&text, "death", "hero"), [100]);
    assert_eq!(lines(&text, "life").len(), 1);
    // Without steps it is gone at once; without a delay it is back on the next tick, not before.
    assert_eq!(ticks(&text, "gone", "hero"), [100]);
    assert_eq!(ticks(&text, "appear", "hero"), [0, 101]);
}

#[test]
fn out_of_lives_is_lost_on_the_tick_the_sequence_ends() {
    let hero = SEQUENCE.replace("lives = 2", "lives = 1");
    let text = mortal(&hero, "");
    let end = &lines(&text, "outcome")[0];
    assert_eq!((end.tick, end.outcome.as_deref()), (148, Some("lost")));
    assert_eq!(text_replay(&text).summary().last.0, 148);
    assert!(lines(&text, "respawn").is_empty());
    // The rest is played when the drill says so; the outcome stands once.
    let on = text.replace(
        "length = \"400t\"",
        "length = \"400t\"\nafterwards = \"goes-on\"",
    );
    let ends: Vec<_> = lines(&on, "outcome")
        .into_iter()
        .map(|line| line.tick)
        .collect();
    assert_eq!(ends, [148]);
    let seen = played(&on, "thorn", |tick, _| tick);
    assert_eq!(seen.last(), Some(&400));
}

#[test]
fn dying_in_the_pit_while_the_sequence_runs_changes_nothing() {
    // The throw takes it out of the arena, above 500, long before the last step.
    let hero = SEQUENCE
        .replace("up = 60", "up = 6000")
        .replace("respawn = {", "outside = \"dies\"\nrespawn = {");
    let text = mortal(&hero, "");
    assert_eq!(ticks(&text, "death", "hero"), [100]);
    assert_eq!(ticks(&text, "gone", "hero"), [148]);
    assert_eq!(ticks(&text, "appear", "hero"), [0, 208]);
    assert_eq!(lines(&text, "life").len(), 1);
    // Falling out is a death of its own, credited to the last hit within 3 s.
    let thrown = mortal("outside = \"dies\"", "").replace(
        "damage = 3",
        "damage = 1\nknockback = { up = 6000, for = \"60t\" }",
    );
    let death = &lines(&thrown, "death")[0];
    assert_eq!(
        (death.of.as_deref(), death.by.as_deref()),
        (Some("outside"), Some("thorn"))
    );
}

/// A walker of 10 by 10 from 0 to the right at 1 unit a tick from tick 1 on, over a lamp at 50 to 60 and
/// into a thorn at 100 that kills.
fn run(respawn: &str, rest: &str) -> String {
    format!(
        r##"edition = 1
title = "a run"
[arena]
bounds = {{ min = [-500, -500], max = [500, 500] }}
[kind.hero]
player = true
tags = ["hero"]
body = {{ size = [10, 10] }}
walk = {{ speed = 60 }}
hurtbox.all = {{ size = [10, 10] }}
meter.health = {{ max = 3 }}
meter.oil = {{ max = 5, start = 2 }}
respawn = {{ {respawn} }}
[kind.thorn]
hitbox.tip = {{ size = [2, 20] }}
[[place]]
kind = "hero"
at = [0, 0]
[[place]]
kind = "thorn"
at = [100, 0]
[[rule]]
name = "prick"
hitbox = "thorn.tip"
hurtbox = "hero.all"
damage = 3
{rest}
[drill.d]
length = "300t"
input = [{{ when = "1t", who = "hero", hold = "right" }}]
"##
    )
}

const LAMP: &str = r##"
[[checkpoint]]
name = "lamp"
area = { min = [50, -20], max = [60, 20] }
at = [40, 0]
facing = "left"
refills = ["oil"]
cue = "glow"
"##;

#[test]
fn a_checkpoint_is_returned_to() {
    let text = run("at = \"checkpoint\", delay = \"9t\"", LAMP);
    // The front is at 5 and inside the lamp's area from 50 on tick 46. It fills the oil.
    let reached = &lines(&text, "checkpoint")[0];
    assert_eq!(
        (reached.tick, reached.checkpoint.as_deref()),
        (46, Some("lamp"))
    );
    assert_eq!(lines(&text, "checkpoint").len(), 1, "once");
    let oil = &lines(&text, "meter")[0];
    assert_eq!(
        (oil.before, oil.after, oil.cause),
        (Some(2.0), Some(5.0), reached.id)
    );
    // The thorn begins at 99: the front is inside it on 95. Back 9 later at 40; its button is still
    // down, so it goes on from 41 on the tick after.
    assert_eq!(ticks(&text, "death", "hero")[0], 95);
    let back = &lines(&text, "respawn")[0];
    assert_eq!((back.tick, back.checkpoint.as_deref()), (104, Some("lamp")));
    let seen = played(&text, "hero", |tick, view| {
        (tick, view.at.x, view.facing.sign())
    });
    let again = seen
        .iter()
        .position(|(tick, ..)| *tick == 104)
        .expect("back");
    assert_eq!(seen[again], (104, 40.0, -1.0));
    assert_eq!(seen[again + 1], (105, 41.0, 1.0));
    // Dead again after 55 more: its meters were as at the start.
    assert_eq!(ticks(&text, "death", "hero")[1], 159);
    // Without a checkpoint reached it begins where it was placed.
    let bare = run("at = \"checkpoint\", delay = \"9t\"", "");
    let seen = played(&bare, "hero", |tick, view| (tick, view.at.x));
    assert!(seen.contains(&(104, 0.0)));
}

#[test]
fn who_dies_on_the_tick_of_a_checkpoint_does_not_reach_it() {
    let lamp = LAMP.replace(
        "min = [50, -20], max = [60, 20]",
        "min = [99, -20], max = [120, 20]",
    );
    // The front is inside both on 95.
    let text = run("at = \"checkpoint\"", &lamp);
    assert_eq!(ticks(&text, "death", "hero")[0], 95);
    assert!(lines(&text, "checkpoint").is_empty());
}

#[test]
fn checkpoints_in_order_and_again() {
    let two = |more: &str| {
        format!(
            "{}{}",
            LAMP.replace("cue = \"glow\"", &format!("order = 2\n{more}")),
            LAMP.replace("\"lamp\"", "\"later\"")
                .replace("[50, -20], max = [60, 20]", "[70, -20], max = [75, 20]")
                .replace("cue = \"glow\"", "order = 1")
        )
    };
    // The second comes before the first in the order: it does not count.
    let names = |text: &str| -> Vec<(u32, String)> {
        lines(text, "checkpoint")
            .into_iter()
            .map(|line| (line.tick, line.checkpoint.unwrap_or_default().to_string()))
            .collect()
    };
    let lamp = |tick| (tick, "lamp".to_owned());
    assert_eq!(
        names(&run("lives = 2, at = \"checkpoint\"", &two(""))),
        [lamp(46)]
    );
    // Touched anew after the respawn on 96, at 40: its front is inside on tick 102.
    assert_eq!(
        names(&run("lives = 2, at = \"checkpoint\"", &two("again = true"))),
        [lamp(46), lamp(102)]
    );
}

#[test]
fn a_reset_of_the_encounter_puts_everything_back() {
    let rest = r##"
[kind.lift]
solid = { size = [10, 4] }
motion.path = { keys = [{ when = "0t", at = [0, 0] }, { when = "40t", at = [0, 40] }], then = "returns" }
[kind.moth]
motion.patrol = { between = [150, 400], speed = { range = [50, 200] } }
launcher.spit = { launches = "spit", clock = { first = "5t", every = "30t" }, speed = { range = [20, 90] }, spread = 40 }
[kind.spit]
lifetime = "50t"
[kind.tin]
pickup = { area = { size = [4, 4] }, gives = [{ meter = "oil", amount = 1 }] }
[[place]]
kind = "lift"
at = [200, -60]
[[place]]
kind = "moth"
at = { range = [[200, 60], [300, 90]] }
[[place]]
kind = "tin"
at = [30, 0]
"##;
    let text = run("delay = \"9t\", resets = \"encounter\"", rest);
    // Dead on 95, everything is reset on 104: from then on the ledger is the first again, 104 later.
    assert_eq!(ticks(&text, "reset", "hero")[0], 104);
    let replay = text_replay(&text);
    let told = |from: u32| -> Vec<String> {
        let events = replay.ledger().events().iter();
        events
            .filter(|event| (from..from + 95).contains(&event.tick.0))
            .filter(|event| {
                !["meter", "respawn", "reset", "vanish"].contains(&event.what.name())
                    || event.tick.0 != from
            })
            .filter(|event| event.what.name() != "input")
            .map(|event| {
                let line = replay.line(event);
                format!(
                    "{} {:?} {:?} {:?} {:?} {:?} {:?} {:?}",
                    event.tick.0 - from,
                    line.event,
                    line.who,
                    line.whom,
                    line.verdict,
                    line.x,
                    line.y,
                    line.after
                )
            })
            .collect()
    };
    let (first, second) = (told(0), told(104));
    assert!(first.len() > 12, "{first:?}");
    assert_eq!(first, second);
    // The launched ones of the first life were taken away.
    let reset: Vec<_> = lines(&text, "vanish")
        .into_iter()
        .filter(|line| line.of.as_deref() == Some("reset"))
        .map(|line| line.tick)
        .collect();
    assert!(
        !reset.is_empty() && reset.iter().all(|tick| tick % 104 == 0),
        "{reset:?}"
    );
    // Only itself: the tin stays taken, the lift goes on.
    let itself = run("delay = \"9t\"", rest);
    assert_eq!(ticks(&itself, "pickup", "hero").len(), 1);
    assert_eq!(ticks(&text, "pickup", "hero").len(), 3);
    // It and those it names.
    let those = run("delay = \"9t\", resets = [\"tin\"]", rest);
    assert_eq!(ticks(&those, "pickup", "hero").len(), 3);
    assert_eq!(ticks(&those, "appear", "lift"), [0]);
}

#[test]
fn exits_and_clear_conditions_win() {
    let exit =
        "[[exit]]\nname = \"door\"\narea = { min = [80, -20], max = [90, 20] }\ncue = \"music\"\n";
    let text = run("", exit);
    let end = &lines(&text, "outcome")[0];
    // The front reaches 80 on 76.
    assert_eq!((end.tick, end.outcome.as_deref()), (76, Some("won")));
    assert_eq!(lines(&text, "exit")[0].exit.as_deref(), Some("door"));
    let survive = run("", "[[clear]]\nsurvive = \"1s\"\n");
    assert_eq!(lines(&survive, "outcome")[0].tick, 60);
    // All imps gone: the last one's lifetime is over on 70.
    let imps = "[kind.imp]\ntags = [\"imp\"]\nlifetime = \"50t\"\n[[place]]\nkind = \"imp\"\nid = \"a\"\nat = [0, 90]\n[[place]]\nkind = \"imp\"\nid = \"b\"\nat = [0, 90]\nlifetime = \"70t\"\n[[clear]]\ngone = \"#imp\"\n";
    let end = &lines(&run("", imps), "outcome")[0];
    assert_eq!((end.tick, end.outcome.as_deref()), (70, Some("won")));
}

#[test]
fn foes_come_back_after_their_own_delay_and_only_while_nobody_is_near() {
    let imp = |more: &str| {
        run(
            "lives = 1",
            &format!(
                "[kind.imp]\nmeter.health = {{ max = 1 }}\nhurtbox.all = {{ radius = 3 }}\nrespawn = {{ delay = \"20t\" {more} }}\n\
                 [kind.spark]\nhitbox.tip = {{ radius = 3, pulse = {{ on = \"1t\", off = \"999t\", phase = \"990t\" }} }}\n\
                 [[place]]\nkind = \"imp\"\nat = [60, 60]\n[[place]]\nkind = \"spark\"\nat = [60, 60]\n\
                 [[rule]]\nname = \"spark\"\nhitbox = \"spark.tip\"\nhurtbox = \"imp.all\"\ndamage = 1\n"
            ),
        )
    };
    // Dead on 10, back on 30.
    assert_eq!(ticks(&imp(""), "appear", "imp"), [0, 30]);
    // The hero is at 30 then, and 67 off; at 70 the imp would have it within 60.8. Beyond 67 only from the
    // beginning: it waits until the hero, dead on 95, is gone.
    let shy = imp(", unless_near = { who = \"#hero\", within = 70 }");
    assert_eq!(ticks(&shy, "appear", "imp"), [0]);
    let bold = imp(", unless_near = { who = \"#hero\", within = 66 }");
    assert_eq!(ticks(&bold, "appear", "imp"), [0, 30]);
}

#[test]
fn drops_are_drawn_and_a_death_can_leave_something_harmful() {
    let hero = "death = [{ after = \"0t\", leaves = [{ kind = \"burst\" }], drops = [{ kind = \"coin\", weight = 3 }, { weight = 1 }] }]";
    let rest = "[kind.burst]\nhitbox.heat = { radius = 9 }\nlifetime = \"5t\"\n[kind.coin]\nlifetime = \"9t\"\n";
    let left = |seed: u32| -> Vec<(u32, String)> {
        let text = mortal(hero, rest).replace(
            "length = \"400t\"",
            &format!("length = \"400t\"\nafterwards = \"goes-on\"\nseed = {seed}"),
        );
        lines(&text, "appear")
            .into_iter()
            .filter(|line| line.tick > 0)
            .map(|line| (line.tick, line.who.unwrap_or_default().to_string()))
            .collect()
    };
    let burst = (101, "hero.burst.1".to_owned());
    let coin = (101, "hero.coin.2".to_owned());
    let all: Vec<_> = (0..20).map(left).collect();
    assert!(all.iter().all(|left| left[0] == burst));
    // Three in four, about.
    let coins = all.iter().filter(|left| left.contains(&coin)).count();
    assert!((8..20).contains(&coins), "{coins}");
}

#[test]
fn shields_overflow_or_not_and_what_comes_back_waits_as_it_says() {
    let hero = "meter.shield = { max = 2, regen = { delay = \"30t\", every = \"10t\", up_to = 1.5, amount = 0.5 } }";
    let damage = |text: &str| -> Vec<(String, f64)> {
        lines(text, "meter")
            .into_iter()
            .filter(|line| line.tick == 100)
            .map(|line| {
                (
                    line.meter.unwrap_or_default().to_string(),
                    line.after.unwrap_or_default(),
                )
            })
            .collect()
    };
    let m = |meter: &str, after: f64| (meter.to_owned(), after);
    let both = mortal(hero, "").replace(
        "damage = 3",
        "damage = { amount = 3, meters = [\"shield\", \"health\"] }",
    );
    assert_eq!(damage(&both), [m("shield", 0.0), m("health", 2.0)]);
    let caught = both.replace("\"health\"] }", "\"health\"], overflow = false }");
    assert_eq!(damage(&caught), [m("shield", 0.0)]);
    // An empty shield lets all through, overflow or not.
    let empty = caught
        .replace("shield = { max = 2", "shield = { max = 2, start = 0")
        .replace("delay = \"30t\", every", "delay = \"300t\", every")
        .replace("every = \"10t\"", "every = \"9999t\"");
    assert_eq!(damage(&empty), [m("health", 0.0)]);
    // Lost on 100: paid 0.5 on 130, 140 and 150, up to 1.5 and no more.
    let paid: Vec<u32> = lines(&both, "meter")
        .into_iter()
        .filter(|line| line.after > line.before)
        .map(|line| line.tick)
        .collect();
    assert_eq!(paid, [130, 140, 150]);
    // Touched by a swamp on 101 … 120, it waits 20 ticks longer.
    let swamp = "[kind.swamp]\ntags = [\"swamp\"]\nhitbox.mud = { radius = 5, pulse = { on = \"20t\", off = \"999t\", phase = \"918t\" } }\n[[place]]\nkind = \"swamp\"\nat = [0, 0]\n[[rule]]\nname = \"mud\"\nhitbox = \"swamp.mud\"\nhurtbox = \"hero.all\"\ncue = \"squelch\"\n";
    let slow = mortal(
        &hero.replace("amount = 0.5", "amount = 0.5, paused_by = [\"#swamp\"]"),
        swamp,
    )
    .replace(
        "damage = 3",
        "damage = { amount = 1, meters = [\"shield\", \"health\"] }",
    );
    let paid: Vec<u32> = lines(&slow, "meter")
        .into_iter()
        .filter(|line| line.after > line.before)
        .map(|line| line.tick)
        .collect();
    assert_eq!(paid, [150]);
}

#[test]
fn an_extra_life_and_a_kill_by_a_shot_whose_shooter_is_dead() {
    let key = "[kind.key]\npickup = { area = { size = [4, 4] }, lives = 1 }\n[[place]]\nkind = \"key\"\nat = [20, 0]\n";
    let text = run("lives = 1", key);
    let lives: Vec<_> = lines(&text, "life")
        .into_iter()
        .map(|line| (line.before, line.after))
        .collect();
    assert_eq!(lives[0], (Some(1.0), Some(2.0)));
    assert_eq!(lives[1], (Some(2.0), Some(1.0)));
    let gun = "lifetime = \"20t\"\nlauncher.g = { launches = \"bolt\", clock = { first = \"10t\", every = \"999t\" }, speed = 60 }\n[kind.bolt]\nhitbox.tip = { radius = 1 }\nlifetime = \"9s\"";
    let foe = "[kind.foe]\nmeter.health = { max = 1 }\nhurtbox.all = { radius = 4 }\n[[place]]\nkind = \"foe\"\nat = [60, 0]\n[[rule]]\nname = \"bolt\"\nhitbox = \"bolt.tip\"\nhurtbox = \"foe.all\"\ndamage = 1\n";
    let text = mortal(gun, foe).replace("player = true\n", "");
    let death = &lines(&text, "death")[0];
    assert_eq!(
        (death.who.as_deref(), death.by.as_deref()),
        (Some("foe"), Some("hero"))
    );
    assert!(death.tick > 20);
}

#[test]
fn a_step_can_change_the_state_of_the_dying() {
    let hero = "hitbox.chill = { radius = 6 }\nstarts = \"calm\"\nstate.calm = {}\n\
                state.ghost = { motion = { hover = { size = [0, 5], period = \"40t\" } }, live = [\"chill\"], go = [{ to = \"calm\", when = { after = \"1t\" } }] }\n\
                death = [{ after = \"10t\", state = \"ghost\" }, { after = \"60t\" }]";
    let foe = "[kind.foe]\nmeter.health = { max = 9 }\nhurtbox.all = { radius = 4 }\n[[place]]\nkind = \"foe\"\nat = [0, 0]\n\
               [[rule]]\nname = \"chill\"\nhitbox = \"hero.chill\"\nhurtbox = \"foe.all\"\ndamage = 1\nevery = \"999t\"\n";
    let text = mortal(hero, foe);
    let state = &lines(&text, "state")[0];
    let all = lines(&text, "state").len();
    assert_eq!(
        (state.tick, state.state.as_deref(), all),
        (110, Some("ghost"), 1)
    );
    // Phase 1 comes before touch.
    let mut hits = lines(&text, "hit").into_iter();
    let chill = hits.find(|line| line.rule.as_deref() == Some("chill"));
    assert_eq!(chill.map(|line| line.tick), Some(110));
    assert_eq!(ticks(&text, "gone", "hero"), [160]);
}
