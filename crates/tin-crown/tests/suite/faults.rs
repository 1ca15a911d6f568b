//! What goes wrong for people who tune combat, row by row: an encounter that has the fault, and what
//! names it: `check`, the ledger, or `why`.

use tin_crown::study::{Question, Why, why};
use tin_crown::{Code, Line, check};

use crate::stage::{lines, text_replay};

/// A hero of 12 by 20 at (50, 20), and whatever else is written.
fn with_hero(hero: &str, more: &str) -> String {
    format!(
        r##"edition = 1
title = "fault"
[arena]
bounds = {{ min = [0, 0], max = [400, 100] }}
[kind.hero]
tags = ["brave"]
meter.health = {{ max = 3 }}
hurtbox.torso = {{ size = [12, 20] }}
{hero}
[[place]]
kind = "hero"
at = [50, 20]
{more}
[drill.d]
length = "3s"
"##
    )
}

/// Something at the hero's place whose box hits by a rule.
fn on_top(kind: &str, rule: &str) -> String {
    format!(
        r##"[kind.thing]
hitbox.spike = {{ size = [10, 10] }}
{kind}
[[place]]
kind = "thing"
at = [50, 20]
[[rule]]
name = "spike pricks"
hitbox = "thing.spike"
hurtbox = "#brave"
{rule}"##
    )
}

const WINDOW: &str = "invincible = { after_hit = \"0.5s\" }\n";

fn codes(text: &str) -> Vec<Code> {
    let findings = check(text.as_bytes()).findings;
    findings.iter().map(|finding| finding.code).collect()
}

fn hits(text: &str) -> Vec<Line<'static>> {
    lines(text, "hit")
}

fn ticks(lines: &[Line<'_>]) -> Vec<u32> {
    lines.iter().map(|line| line.tick).collect()
}

fn asked(text: &str, who: &str, whom: &str) -> Why {
    let plan = check(text.as_bytes()).plan.expect("no errors");
    let (who, whom) = (plan.choose(who).unwrap(), plan.choose(whom).unwrap());
    let question = Question {
        who: &who,
        whom: &whom,
        rule: None,
        when: None,
    };
    why(&plan, plan.drill("d").unwrap(), &question).expect("within the limits")
}

/// The first check that failed, in words.
fn failed(answer: &Why) -> &str {
    let checks = answer.came.iter().flat_map(|came| &came.checks);
    let mut failed = checks.filter(|check| !check.passed);
    failed.next().map_or("", |check| &check.says)
}

#[test]
fn health_drains_to_nothing_in_a_blink() {
    let text = with_hero("", &on_top("", "damage = 1"));
    assert_eq!(codes(&text), [Code::DrainsInABlink]);
    // Each hit is there, and the gap between hits.
    assert_eq!(ticks(&hits(&text)), [0, 1, 2]);
    let spaced = with_hero(WINDOW, &on_top("", "damage = 1"));
    assert_eq!(codes(&spaced), []);
}

#[test]
fn health_is_0_and_the_hero_still_walks_about() {
    let text = with_hero("", &on_top("", "damage = 5"));
    let deaths = lines(&text, "death");
    assert_eq!(
        (ticks(&deaths), deaths[0].of.as_deref()),
        (vec![0], Some("health"))
    );
    // A meter of another name kills nobody.
    let text = with_hero(
        "meter.life = { max = 3 }",
        &on_top(
            "",
            "damage = { amount = 1, meters = [\"life\"] }\nevery = \"0.5s\"",
        ),
    )
    .replace("meter.health = { max = 3 }\n", "");
    assert_eq!(codes(&text), [Code::EndlessMeter]);
}

#[test]
fn health_goes_below_nothing() {
    let text = with_hero("", &on_top("", "damage = 5"));
    let meters = lines(&text, "meter");
    assert_eq!((meters[0].before, meters[0].after), (Some(3.0), Some(0.0)));
    assert_eq!(hits(&text)[0].overkill, Some(2.0));
}

#[test]
fn one_touch_counts_several_times() {
    let head = "hurtbox.head = { radius = 6, at = [0, 12] }\nhurtbox.feet = { size = [12, 4] }\n";
    let more = "hitbox.edge = { size = [30, 30] }\n";
    let text = with_hero(
        &format!("{WINDOW}{head}"),
        &on_top(more, "damage = 1").replace("thing.spike", "thing"),
    );
    // Two hitboxes on three hurtboxes: one hit, then one every 30 ticks, and the death.
    let landed: Vec<_> = hits(&text)
        .into_iter()
        .filter(|hit| hit.amount.is_some())
        .collect();
    assert_eq!(ticks(&landed), [0, 30, 60]);
}

#[test]
fn the_death_plays_over_and_over() {
    let death = "death = [{ after = \"1s\", cue = \"curtain\" }]\n";
    let text = with_hero(death, &on_top("", "damage = 3"));
    // The touch goes on all the while.
    assert_eq!(ticks(&lines(&text, "death")), [0]);
    assert_eq!(ticks(&lines(&text, "cue")), [60]);
    assert_eq!(hits(&text)[1].verdict.as_deref(), Some("down"));
    let answer = asked(&text, "thing", "hero");
    assert!(failed(&answer).contains("hero is dying"), "{answer:?}");
}

#[test]
fn two_heroes_after_a_respawn() {
    let respawn = "respawn = { delay = \"0.5s\", lives = 3 }\n";
    let text = with_hero(respawn, &on_top("lifetime = \"1t\"", "kill = true"));
    let lives: Vec<_> = ["gone", "respawn"]
        .map(|event| ticks(&lines(&text, event)))
        .into();
    assert_eq!(lives, [vec![0], vec![30]]);
    let hero = |line: &Line<'_>| line.who.as_deref() == Some("hero");
    let appears: Vec<_> = lines(&text, "appear").into_iter().filter(hero).collect();
    assert_eq!(ticks(&appears), [0, 30]);
}

#[test]
fn bullet_vanishes_and_foe_lives() {
    // Two shots that meet halfway: each is judged on the same state, so both are hit.
    let text = with_hero("", &twin_guns());
    let hits = hits(&text);
    let verdicts: Vec<_> = hits.iter().map(|hit| hit.verdict.as_deref()).collect();
    assert_eq!(verdicts, [Some("landed"); 2], "{hits:?}");
    assert_eq!(hits[0].tick, hits[1].tick);
}

fn twin_guns() -> String {
    r##"[kind.gun]
side = "left"
launcher.pop = { launches = "pea", clock = { first = "1t", every = "9s" }, aim = "facing", speed = 300 }
[kind.pea]
meter.health = { max = 1 }
hitbox.tip = { radius = 3 }
hurtbox.all = { radius = 3 }
lifetime = "1s"
[[place]]
kind = "gun"
id = "one"
at = [100, 80]
[[place]]
kind = "gun"
id = "other"
side = "right"
at = [300, 80]
facing = "left"
[[rule]]
name = "peas meet"
hitbox = "pea.tip"
hurtbox = "pea.all"
damage = 1"##
        .to_owned()
}

#[test]
fn a_fast_shot_passes_through() {
    let gun = r##"[kind.gun]
launcher.pop = { launches = "pea", clock = { first = "1t", every = "9s" }, aim = "facing", speed = 2400 }
[kind.pea]
hitbox.tip = { radius = 3 }
lifetime = "0.2s"
[[place]]
kind = "gun"
at = [10, 20]
[[rule]]
name = "pea stings"
hitbox = "pea.tip"
hurtbox = "hero.torso"
damage = 1"##;
    let swept = with_hero("", gun);
    assert_eq!(hits(&swept).len(), 1);
    let sampled = swept.replace("[kind.hero]", "contact = \"sampled\"\n[kind.hero]");
    assert_eq!(codes(&sampled), [Code::SkipsABox]);
    // 40 a tick from 10 on: at 50 it is on the hero, unless it sets out elsewhere.
    let sampled = sampled.replace("at = [10, 20]", "at = [28, 20]");
    assert_eq!(hits(&sampled).len(), 0);
    let apart = asked(&sampled, "gun", "hero")
        .apart
        .expect("they never met");
    assert!(apart.swept.is_some());
    assert!(
        apart
            .says
            .iter()
            .any(|says| says.contains("`contact = \"swept\"` would have caught it"))
    );
}

/// A hero who runs, and a toad whose back can be trodden on.
fn toad(input: &str, gate: &str, weak: &str) -> String {
    format!(
        r##"edition = 1
title = "toad"
[arena]
bounds = {{ min = [0, 0], max = [400, 180] }}
gravity = 900
solids = [{{ min = [0, 0], max = [400, 16] }}, {{ min = [80, 60], max = [140, 64], one_way = true }}]
[kind.hero]
body = {{ size = [14, 28] }}
walk = {{ speed = 90, jump = 320 }}
meter.health = {{ max = 3 }}
hurtbox.torso = {{ size = [12, 20], at = [0, 2] }}
hitbox.boots = {{ size = [10, 4], at = [0, -14] }}
invincible = {{ after_hit = "0.5s" }}
[kind.toad]
meter.health = {{ max = 1 }}
hitbox.warts = {{ size = [20, 12] }}
{weak}
[[place]]
kind = "hero"
at = [60, 30]
[[place]]
kind = "toad"
at = [110, 72]
[[rule]]
name = "boots crush"
hitbox = "hero.boots"
hurtbox = "toad.back"
{gate}
damage = 1
[[rule]]
name = "warts sting"
hitbox = "toad.warts"
hurtbox = "hero.torso"
damage = 1
[drill.d]
length = "2s"
input = [{input}]
"##
    )
}

#[test]
fn running_into_a_foe_head_on_kills_it() {
    let wide = "hurtbox.back = { size = [36, 16] }";
    let right = r#"{ when = "1t", who = "hero", hold = "right" }"#;
    let text = toad(right, "", wide).replace("at = [110, 72]", "at = [160, 24]");
    assert_eq!(codes(&text), [Code::WeakSpotSticksOut]);
    assert_eq!(hits(&text)[0].rule.as_deref(), Some("boots crush"));
    let gated = toad(right, "gate = { from = \"above\" }", wide)
        .replace("at = [110, 72]", "at = [160, 24]");
    assert_eq!(codes(&gated), []);
    let answer = asked(&gated, "hero", "toad");
    assert!(
        failed(&answer).contains("too low to come from above"),
        "{answer:?}"
    );
}

#[test]
fn jumping_up_through_a_floor_kills_the_foe_above() {
    let jump = r#"{ when = "1t", who = "hero", press = "jump" }"#;
    let back = "hurtbox.back = { size = [16, 8], at = [0, 2] }";
    // From beneath, up through the floor that the toad sits on; the warts are out of the way.
    let start = |gate: &str| {
        let text = toad(jump, gate, back).replace("at = [60, 30]", "at = [110, 30]");
        text.replace(
            "hitbox.warts = { size = [20, 12] }",
            "hitbox.warts = { size = [2, 2], at = [0, 60] }",
        )
    };
    assert_eq!(
        hits(&start("gate = { who = { grounded = false } }"))[0]
            .verdict
            .as_deref(),
        Some("landed")
    );
    let text = start("gate = { from = \"above\" }");
    let answer = asked(&text, "hero", "toad");
    assert!(
        failed(&answer).contains("too low to come from above"),
        "{answer:?}"
    );
    let change = answer.came[0].change.as_deref().unwrap();
    // It comes from below: no margin alone makes a stomp of that.
    let honest = "passes this check, but then its gate `coming-down` says no";
    assert!(
        change.starts_with("`margin = ") && change.ends_with(honest),
        "{change}"
    );
}

#[test]
fn the_block_did_nothing() {
    let guard = format!("walk = {{ speed = 60 }}\nguard = {{ button = \"guard\" }}\n{WINDOW}");
    let thing = |at: &str| on_top("", "damage = 1").replace("at = [50, 20]", at);
    let text = |at: &str| {
        let text = with_hero(&guard, &thing(at));
        text + "input = [{ when = \"1t\", who = \"hero\", hold = \"guard\" }]\n"
    };
    // The thing is in front, then behind; the hero raises the guard on tick 1 and is hit on tick 0.
    let behind = asked(&text("at = [42, 20]"), "thing", "hero");
    let said: Vec<&str> = behind
        .came
        .iter()
        .flat_map(|came| &came.checks)
        .map(|check| check.says.as_str())
        .collect();
    assert!(
        said.contains(&"the guard of hero was up, but covers -90° to 90° from where it faces, and thing was at 180°"),
        "{said:?}"
    );
    let change = behind.came.iter().find_map(|came| {
        came.change
            .as_deref()
            .filter(|change| change.contains("faced"))
    });
    assert_eq!(
        change,
        Some("had hero faced the other way, its guard would have held")
    );
    let before = asked(&text("at = [58, 20]"), "thing", "hero");
    assert!(before.came.iter().any(|came| came.verdict == "guarded"));
    // Or no rule heeds it at all.
    let pierced =
        text("at = [58, 20]").replace("damage = 1\n", "damage = 1\npierces = [\"guard\"]\n");
    assert_eq!(codes(&pierced), [Code::GuardUnheeded]);
}

#[test]
fn the_death_is_never_seen_or_never_ends() {
    let death = "death = [{ after = \"0s\", cue = \"clatter\" }, { after = \"0.8s\", cue = \"curtain\" }]\n";
    let text = with_hero(death, &on_top("lifetime = \"1t\"", "damage = 3"));
    // The last step is its end, whatever else is written.
    assert_eq!(
        (ticks(&lines(&text, "cue")), ticks(&lines(&text, "gone"))),
        (vec![0, 48], vec![48])
    );
    let loops = text.replace("cue = \"curtain\"", "cue = \"curtain\", loops = true");
    assert_eq!(codes(&loops), [Code::UnknownKey]);
}

#[test]
fn shots_without_end() {
    let gunner = r##"[kind.gunner]
walk = { speed = 60 }
launcher.pop = { launches = "pea", button = "shoot", on = "hold", aim = "facing", speed = 200 }
[kind.pea]
hitbox.tip = { radius = 3 }
[[place]]
kind = "gunner"
at = [10, 80]
[[rule]]
name = "pea stings"
hitbox = "pea.tip"
hurtbox = "hero.torso"
damage = 1"##;
    let text = with_hero("", gunner);
    assert_eq!(codes(&text), [Code::ShotsWithoutEnd]);
    let standing = text.replace("speed = 200 }", "speed = 0, cooldown = \"1s\" }");
    assert_eq!(codes(&standing), [Code::NeverLeaves]);
}

#[test]
fn the_trap_hits_the_hero_from_the_side() {
    let pillar =
        "hitbox.underside = { size = [10, 2], at = [0, -20] }\nhitbox.pillar = { size = [10, 40] }";
    let text = with_hero(
        WINDOW,
        &on_top(pillar, "damage = 1").replace("thing.spike", "thing.pillar"),
    );
    let answer = asked(&text, "thing", "hero");
    assert!(
        answer.came[0]
            .says
            .starts_with("thing.pillar hits hero.torso"),
        "{answer:?}"
    );
    assert_eq!(hits(&text)[0].hitbox.as_deref(), Some("pillar"));
}

#[test]
fn after_a_respawn_the_moving_platforms_are_elsewhere() {
    let platform = r##"[kind.platform]
solid = { size = [20, 4] }
motion = { patrol = { between = [100, 200], speed = 60 } }
[[place]]
kind = "platform"
at = [100, 60]
[kind.thing]
hitbox.spike = { size = [10, 10], pulse = { on = "1t", off = "59t", phase = "59t" } }
[[place]]
kind = "thing"
at = [50, 20]
[[rule]]
name = "spike pricks"
hitbox = "thing.spike"
hurtbox = "#brave"
kill = true"##;
    let put_back = |resets: &str| {
        let respawn = format!("respawn = {{ delay = \"0.1s\", lives = 2, resets = {resets} }}\n");
        let text = with_hero(&respawn, platform);
        let replay = text_replay(&text);
        let events = replay.ledger().events().iter();
        let lines = events.map(|event| replay.line(event));
        let own = lines.filter(|line| line.tick > 0 && line.who.as_deref() == Some("platform"));
        own.map(|line| (line.event.to_string(), line.x))
            .collect::<Vec<_>>()
    };
    assert_eq!(put_back("\"self\""), []);
    // At its place of tick 0.
    let whole = vec![("appear".to_owned(), Some(100.0))];
    assert_eq!(put_back("\"encounter\""), whole);
    assert_eq!(put_back("[\"platform\"]"), whole);
}

#[test]
fn dies_again_on_respawn() {
    let respawn = "respawn = { delay = \"0.5s\", lives = 3 }\n";
    let text = with_hero(respawn, &on_top("", "kill = true"));
    assert_eq!(codes(&text), [Code::RespawnInHazard]);
    let graced = with_hero(
        &format!("{respawn}invincible = {{ after_respawn = \"1s\" }}\n"),
        &on_top("lifetime = \"1s\"", "kill = true"),
    );
    let answer = asked(&graced, "thing", "hero");
    let failed = failed(&answer);
    assert!(
        failed.starts_with("hero is invincible until 1.500 s because of line"),
        "{failed}"
    );
    assert!(failed.contains("hero comes back"), "{failed}");
}

#[test]
fn the_rule_never_matches() {
    let text = with_hero("", &on_top("", "damage = 3"));
    let slip = text.replace("hurtbox = \"#brave\"", "hurtbox = \"#Brave\"");
    let findings = check(slip.as_bytes()).findings;
    assert!(
        findings.to_string().contains("did you mean `#brave`?"),
        "{findings}"
    );
    let two = text.replace("[kind.thing]\n", "[kind.thing]\ntags = [\"Brave\"]\n");
    assert_eq!(codes(&two), [Code::TwoSpellings]);
    // A kind where the tag was meant: nobody is of that kind but the hero.
    let other = text.replace("[kind.thing]\n", "[kind.moth]\nhurtbox.wings = { radius = 4 }\n[[place]]\nkind = \"moth\"\nat = [50, 20]\n[kind.thing]\n");
    let apart = asked(&other, "thing", "moth")
        .apart
        .expect("they never met");
    assert_eq!(
        apart.says[0],
        "no rule pairs a box of thing with one of moth"
    );
    assert_eq!(
        apart.says[1],
        "by `spike pricks` thing hits #brave, not moth"
    );
}

#[test]
fn a_death_works_on_level_1_only() {
    // "reset" always means this encounter: everyone stands where this file places them.
    let respawn = "respawn = { delay = \"0.1s\", lives = 2, resets = \"encounter\" }\n";
    let text = with_hero(respawn, &on_top("", "kill = true"));
    let appears = lines(&text, "appear");
    let place = |line: &Line<'static>| (line.who.clone(), line.x, line.y);
    let (first, again): (Vec<_>, Vec<_>) = appears.iter().partition(|line| line.tick == 0);
    let mut again: Vec<_> = again.into_iter().map(place).collect();
    again.sort_by(|a, b| a.0.cmp(&b.0));
    assert_eq!(first.into_iter().map(place).collect::<Vec<_>>(), again);
    assert_eq!(ticks(&lines(&text, "reset")), [6]);
}
