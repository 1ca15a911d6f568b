//! Drills that begin as others, worked out on paper.

use tin_crown::{Code, check};

use crate::edges::arena;
use crate::stage::{landed, plan_of};

/// A hero walks from 20, a unit a tick; a spike at 60 kills on touch: with a box 10 wide each, on the tick
/// after its front is at 55, 40 ticks after it set out. Gone at once, it is back 30 ticks later.
fn trials(drills: &str) -> String {
    arena(&format!(
        r##"
[kind.hero]
player = true
body = {{ size = [10, 10] }}
hurtbox.all = {{ size = [10, 10] }}
walk = {{ speed = 60 }}
meter.health = {{ max = 1 }}
respawn = {{ delay = "30t", lives = 9 }}
[kind.spike]
hitbox.tip = {{ size = [10, 10] }}
[[place]]
kind = "hero"
at = [20, 30]
[[place]]
kind = "spike"
at = [60, 30]
[[rule]]
name = "spike kills"
hitbox = "spike.tip"
hurtbox = "hero.all"
damage = 1
[drill.walks]
length = "100t"
input = [{{ when = "10t", who = "hero", hold = "right", for = "60t" }}, {{ when = "90t", who = "hero", press = "left" }}]
{drills}
"##
    ))
}

/// When a drill presses and releases: tick, button, and whether it is down.
fn inputs(text: &str, drill: &str) -> Vec<(u32, String, bool)> {
    let plan = plan_of(text);
    let replay = plan.replay(drill).expect("it is there");
    let events = replay.ledger().events().iter();
    let lines = events.map(|event| replay.line(event));
    lines
        .filter(|line| line.event == "input")
        .map(|line| {
            (
                line.tick,
                line.button.unwrap().into_owned(),
                line.down.unwrap(),
            )
        })
        .collect()
}

fn expected(ticks: &[(u32, &str, bool)]) -> Vec<(u32, String, bool)> {
    ticks
        .iter()
        .map(|(tick, button, down)| (*tick, (*button).to_owned(), *down))
        .collect()
}

#[test]
fn a_drill_takes_over_anothers_inputs_up_to_a_moment_and_shifted() {
    let text = trials(
        r#"
[drill.part]
length = "100t"
begins = { drill = "walks", until = "30t" }
input = [{ when = "25t", who = "hero", hold = "right", for = "10t" }]
[drill.late]
length = "150t"
begins = [{ drill = "part", shift = "5t" }]
"#,
    );
    // Held from 10, cut at 30, and by its own from 25 to 35: one hold.
    let part = [(10, "right", true), (35, "right", false)];
    assert_eq!(inputs(&text, "part"), expected(&part));
    let late = [(15, "right", true), (40, "right", false)];
    assert_eq!(inputs(&text, "late"), expected(&late));
    // As it is by itself.
    let walks = [
        (10, "right", true),
        (70, "right", false),
        (90, "left", true),
        (91, "left", false),
    ];
    assert_eq!(inputs(&text, "walks")[0], expected(&walks)[0]);
}

#[test]
fn a_drill_goes_on_as_another_after_an_event() {
    // Walks from 10: 30 units to go, of which one is gone on 10; at the edge on 39, killed on 40, back on
    // 70. Half a second later, on 100, `walks` begins anew: from 110 on, killed on 140; back on 170. The
    // event counts once.
    let text = trials(
        r#"
[drill.again]
length = "300t"
begins = [
  { drill = "walks", until = "60t" },
  { drill = "walks", after = { respawn = { who = "hero" } }, shift = "0.5s" },
]
"#,
    );
    let plan = plan_of(&text);
    let replay = plan.replay("again").expect("it is there");
    assert_eq!(landed(&replay), [40, 140]);
    // The hold of 10 is cut at 60; that of 110 is held for 60; the press of 90 comes on 190. Who is dead or
    // away presses nothing that is told.
    let told: Vec<_> = inputs(&text, "again")
        .into_iter()
        .filter(|(.., down)| *down)
        .collect();
    let down = [
        (10, "right", true),
        (110, "right", true),
        (190, "left", true),
    ];
    assert_eq!(told, expected(&down));
}

#[test]
fn a_slip_in_what_a_drill_begins_as_is_one_finding() {
    for (begins, code, words) in [
        (
            "{ drill = \"wlks\" }",
            Code::UnknownName,
            "did you mean `walks`?",
        ),
        ("{ drill = \"d\" }", Code::Contradiction, "begins as itself"),
        ("{ until = \"1s\" }", Code::MissingKey, "is required"),
        (
            "{ drill = \"walks\", untill = \"1s\" }",
            Code::UnknownKey,
            "did you mean `until`?",
        ),
        (
            "{ drill = \"walks\", after = { respawn = { who = \"hro\" } } }",
            Code::UnknownName,
            "did you mean `hero`?",
        ),
        (
            "{ drill = \"walks\", after = { landing = {} } }",
            Code::NoEffect,
            "no line of the ledger",
        ),
        ("\"walks\"", Code::WrongType, "expected an array"),
    ] {
        let text = trials(&format!("[drill.d]\nlength = \"9s\"\nbegins = {begins}\n"));
        let findings = check(text.as_bytes()).findings;
        let found: Vec<_> = findings.iter().collect();
        assert!(
            matches!(found[..], [one] if one.code == code && one.to_string().contains(words)),
            "{begins}: {findings}"
        );
    }
}
