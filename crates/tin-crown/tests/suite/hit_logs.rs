//! The game's own hit log against the rules.

use std::collections::BTreeMap;
use std::sync::Arc;

use tin_crown::study::{self, Against};
use tin_crown::track::{GameLog, ReadLog};
use tin_crown::{Plan, Ticks, check};

/// A beetle that stands over a porter, and hurts it on 0, 30, 60… A moth that is hit by nobody.
const STAGE: &str = r##"
edition = 1
title = "Gored thrice"
[arena]
bounds = { min = [0, 0], max = [400, 200] }
[kind.porter]
side = "crown"
meter.health = { max = 9 }
hurtbox.torso = { size = [10, 20] }
invincible = { after_hit = "30t" }
[kind.beetle]
side = "attic"
hitbox.horns = { size = [20, 20] }
[kind.moth]
side = "crown"
meter.health = { max = 2 }
hurtbox.wings = { size = [10, 10] }
[[place]]
kind = "porter"
at = [100, 50]
[[place]]
kind = "beetle"
at = [100, 50]
[[place]]
kind = "moth"
at = [300, 50]
[[rule]]
name = "gore"
hitbox = "beetle.horns"
hurtbox = "*"
damage = 2
[[rule]]
name = "nudge"
hitbox = "beetle.horns"
hurtbox = "moth.wings"
damage = 1
[drill.stand]
length = "80t"
[drill.stand.log]
file = "hits.csv"
columns = { rule = "kind", amount = "dmg", health = "left" }
ids = { P1 = "porter", B = "beetle", M = "moth" }
rules = { horns = "gore", other = "" }
"##;

fn plan() -> Arc<Plan> {
    let checked = check(STAGE.as_bytes());
    checked
        .plan
        .unwrap_or_else(|| panic!("{}", checked.findings))
}

fn read(plan: &Plan, rows: &str) -> ReadLog {
    let files = BTreeMap::from([("hits.csv".to_owned(), rows.as_bytes().to_vec())]);
    plan.read_log(plan.drill("stand").unwrap(), None, &files)
}

fn log(plan: &Plan, rows: &str) -> GameLog {
    let read = read(plan, &format!("time,who,whom,kind,dmg,left\n{rows}"));
    read.log.unwrap_or_else(|| panic!("{}", read.findings))
}

fn against(rows: &str, within: u32) -> Against {
    let plan = plan();
    let replay = plan.replay("stand").unwrap();
    study::against(&replay, &log(&plan, rows), Ticks(within))
}

/// What differs, in short.
fn told(against: &Against) -> Vec<String> {
    let all = against.differences.iter().map(|one| {
        let unlike = serde_json::to_value(one.unlike).unwrap();
        let fields: Vec<String> = one
            .fields
            .iter()
            .map(|field| {
                let side = |side: &Option<String>| side.clone().unwrap_or_default();
                format!(" {} {}/{}", field.key, side(&field.old), side(&field.new))
            })
            .collect();
        let moved = one.moved.map_or(String::new(), |by| format!(" {by:+}"));
        let follows = one
            .follows
            .map_or(String::new(), |first| format!(" after {first}"));
        let (tick, whom) = (one.tick, &one.whom);
        format!(
            "{tick} {} {whom}{moved}{}{follows}",
            unlike.as_str().unwrap(),
            fields.concat()
        )
    });
    all.collect()
}

#[test]
fn each_hit_is_held_against_its_own() {
    // By the rules the porter is gored on 0, 30 and 60, for 2 each: 7, 5 and 3 are left.
    for (rows, within, both, expected) in [
        (
            "0,B,P1,horns,2,7\n30,B,P1,horns,2,5\n60,B,P1,horns,2,3\n",
            0,
            3,
            &[][..],
        ),
        // What a log does not say is not held against it.
        ("0,,P1,,,\n30,B,P1,other,,\n60,B,P1,,2,\n", 0, 3, &[]),
        (
            "30,B,P1,horns,2,5\n60,B,P1,horns,2,3\n",
            0,
            2,
            &["0 only-rules porter"],
        ),
        // A hit on the moth that the rules do not have.
        (
            "0,B,P1,horns,2,7\n30,B,P1,horns,2,5\n44,B,M,horns,2,0\n60,B,P1,horns,2,3\n",
            0,
            3,
            &["44 only-game moth"],
        ),
        // Two ticks early; and with two ticks of grace, not.
        (
            "0,B,P1,,,\n28,B,P1,,,\n60,B,P1,,,\n",
            0,
            2,
            &["28 moved porter +2"],
        ),
        ("0,B,P1,,,\n28,B,P1,,,\n60,B,P1,,,\n", 2, 3, &[]),
        // The first difference of the porter is the finding, the others follow from it.
        (
            "0,B,P1,horns,3,6\n30,B,P1,horns,2,4\n60,B,P1,horns,2,2\n",
            0,
            0,
            &[
                "0 changed porter amount 3/2 health 6/7",
                "30 changed porter health 4/5 after 0",
                "60 changed porter health 2/3 after 0",
            ],
        ),
    ] {
        let against = against(rows, within);
        assert_eq!(
            (against.both, told(&against).as_slice()),
            (
                both,
                &expected
                    .iter()
                    .map(|own| (*own).to_owned())
                    .collect::<Vec<_>>()[..]
            ),
            "{rows}"
        );
    }
}

#[test]
fn with_the_logs_health_the_rest_is_alike() {
    let plan = plan();
    let drill = plan.drill("stand").unwrap();
    let log = log(
        &plan,
        "0,B,P1,horns,3,6\n30,B,P1,horns,2,4\n60,B,P1,horns,2,2\n",
    );
    let put_right = study::resync(&plan, drill, &log, Ticks(0)).unwrap();
    let replay = put_right.replay("stand").unwrap();
    let against = study::against(&replay, &log, Ticks(0));
    assert_eq!(told(&against), ["0 changed porter amount 3/2 health 6/7"]);
    let applied = replay.ledger().events().iter();
    let applied = applied.filter(|event| event.what.name() == "apply");
    assert_eq!(applied.map(|event| event.tick.0).collect::<Vec<_>>(), [1]);
}

#[test]
fn what_is_wrong_with_a_log_is_found_with_its_line() {
    let plan = plan();
    let head = "time,who,whom,kind,dmg,left\n";
    for (rows, expected) in [
        (
            format!("{head}0,B,P2,horns,2,7\n"),
            "unknown-name hits.csv:2:5",
        ),
        (
            format!("{head}0,B,P1,hrns,2,7\n"),
            "unknown-name hits.csv:2:8",
        ),
        (
            format!("{head}0,B,P1,horns,two,7\n"),
            "bad-row hits.csv:2:14",
        ),
        (format!("{head},B,P1,horns,2,7\n"), "bad-row hits.csv:2:1"),
        (format!("{head}0,B,,horns,2,7\n"), "bad-row hits.csv:2:5"),
        (
            "time,who\n".to_owned(),
            "unknown-name drill.stand.log.columns.whom",
        ),
    ] {
        let read = read(&plan, &rows);
        let told = read.findings.iter().map(|finding| match &finding.row {
            Some(row) => {
                let (line, column) = finding.line_column.unwrap();
                format!("{} {}:{line}:{column}", finding.code, row.file)
            }
            None => format!("{} {}", finding.code, finding.path),
        });
        let told: Vec<String> = told.collect();
        assert!(
            told.iter().any(|told| told == expected),
            "{expected}: {told:?}"
        );
        assert!(read.log.is_none());
    }
}

#[path = "../../examples/tub_game.rs"]
#[expect(dead_code, reason = "its files are compared, not written")]
mod tub_game;

#[test]
fn the_planted_fault_of_the_tub_is_found_and_nothing_else() {
    let (run, hits) = tub_game::play();
    // The demo's files are what the game writes.
    assert!(run == tin_crown::demo::TUB_RUN && hits == tin_crown::demo::TUB_HITS);
    let plan = check(tin_crown::demo::TUB.as_bytes())
        .plan
        .expect("no errors");
    let drill = plan.drill("round").unwrap();
    let files = BTreeMap::from([
        ("tub-run.csv".to_owned(), run.into_bytes()),
        ("tub-hits.csv".to_owned(), hits.into_bytes()),
    ]);
    let log = plan.read_log(drill, None, &files).log.expect("no errors");
    let recorded = plan.record([drill], Arc::new(files));
    let replay = recorded.plan.expect("no errors").replay("round").unwrap();
    // Squirts land within the window that soap has opened: 247 + 45 and 329 + 45.
    assert_eq!(
        told(&study::against(&replay, &log, Ticks(0))),
        ["282 only-game minnow", "340 only-game carp"]
    );
}
