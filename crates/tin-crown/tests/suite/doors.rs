//! Exits that need something, worked out on paper.

use tin_crown::{Code, Outcome, check};

use crate::edges::{arena, ticks};
use crate::stage::text_replay;

/// A hero, 10 wide, walks right from 20 at a unit a tick, over a key at 60, to a door at 100: its front, at
/// 25 + n, is past it on 76. A foe is gone on 90, a lever is down from 120 on, and a hammer hits on 60.
fn door(needs: &str, key: f64) -> String {
    arena(&format!(
        r##"
[kind.hero]
player = true
tags = ["hero"]
body = {{ size = [10, 10] }}
hurtbox.all = {{ size = [10, 10] }}
walk = {{ speed = 60 }}
meter.health = {{ max = 4, regen = {{ delay = "80t", every = "80t" }} }}
[kind.key]
pickup = {{ area = {{ size = [4, 4] }}, by = "#hero", cue = "clink", back_after = "5t" }}
[kind.foe]
lifetime = "90t"
[kind.lever]
starts = "up"
state.up = {{ go = [{{ to = "down", when = {{ after = "120t" }} }}] }}
state.down = {{}}
[kind.hammer]
hitbox.face = {{ radius = 300 }}
attack.fall = {{ clock = {{ first = "60t", every = "900t" }}, active = "1t", live = ["face"] }}
[[place]]
kind = "hero"
at = [20, 30]
[[place]]
kind = "key"
at = [{key}, 30]
[[place]]
kind = "foe"
at = [200, 30]
[[place]]
kind = "lever"
at = [300, 30]
[[place]]
kind = "hammer"
at = [200, 60]
[[rule]]
name = "hammer falls"
hitbox = "hammer.face"
hurtbox = "hero.all"
damage = 3
[[exit]]
name = "door"
area = {{ min = [100, 0], max = [400, 60] }}
{needs}
[drill.d]
length = "200t"
input = [{{ when = "1t", who = "hero", hold = "right" }}]
"##
    ))
}

#[test]
fn an_exit_opens_when_all_that_it_needs_holds() {
    for (needs, key, won) in [
        ("", 60.0, Some(76)),
        // Taken on the way; it is back long before, and was taken all the same.
        ("needs = { taken = \"key\" }", 60.0, Some(76)),
        // Behind it.
        ("needs = { taken = \"key\" }", 0.0, None),
        // Already within the area when the foe is gone, and when the lever goes down.
        ("needs = { gone = \"foe\" }", 60.0, Some(90)),
        (
            "needs = { other = { who = \"lever\", state = \"down\" } }",
            60.0,
            Some(120),
        ),
        // 1 of 4 is left from 60 on, and 1 is paid on 140: half.
        (
            "needs = { meter.health = { at_least = \"50%\" } }",
            60.0,
            Some(140),
        ),
        ("needs = { meter.health = { at_most = 1 } }", 60.0, Some(76)),
        (
            "needs = { taken = \"key\", gone = \"foe\" }",
            60.0,
            Some(90),
        ),
    ] {
        let text = door(needs, key);
        let summary = text_replay(&text).summary();
        let outcome = match won {
            Some(_) => Outcome::Won,
            None => Outcome::Ended,
        };
        assert_eq!(summary.outcome, Some(outcome), "{needs}");
        assert_eq!(
            ticks(&text, "exit", "hero"),
            won.into_iter().collect::<Vec<_>>(),
            "{needs}"
        );
    }
}

#[test]
fn a_slip_in_what_an_exit_needs_is_one_finding() {
    for (needs, code, words) in [
        ("needs = {}", Code::MissingKey, "is required"),
        (
            "needs = { taken = \"kee\" }",
            Code::UnknownName,
            "did you mean `key`?",
        ),
        (
            "needs = { gone = \"fo\" }",
            Code::UnknownName,
            "did you mean `foe`?",
        ),
        (
            "needs = { other = { who = \"lever\", state = \"dwn\" } }",
            Code::UnknownName,
            "did you mean `down`?",
        ),
        (
            "needs = { meter.helth = { at_most = 1 } }",
            Code::UnknownName,
            "did you mean `health`?",
        ),
        ("needs = { taken = \"foe\" }", Code::NoEffect, "no pickup"),
    ] {
        let findings = check(door(needs, 60.0).as_bytes()).findings;
        let found: Vec<_> = findings
            .iter()
            .filter(|one| one.severity != tin_crown::Severity::Note)
            .collect();
        assert!(
            matches!(found[..], [one] if one.code == code && one.to_string().contains(words)),
            "{needs}: {findings}"
        );
    }
}
