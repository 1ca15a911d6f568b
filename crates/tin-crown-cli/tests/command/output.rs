//! Snapshots of what people read.

use insta::assert_snapshot;

use crate::tool::{demo, folder, tool, tool_reading};

#[test]
fn the_demo() {
    let folder = folder();
    let run = tool(folder.path(), &["demo"]);
    assert_eq!((run.code, run.err.as_str()), (0, ""));
    assert_snapshot!("demo", run.out);
    let left = std::fs::read_dir(folder.path()).expect("a folder").count();
    assert_eq!(left, 0, "the demo writes nothing");
}

#[test]
fn a_narrowed_table() {
    let run = tool(
        &demo(),
        &[
            "replay",
            "first-shelf.toml",
            "--drill",
            "careless",
            "--who",
            "#windup",
            "--to",
            "2s",
        ],
    );
    assert_eq!((run.code, run.err.as_str()), (0, ""));
    assert_snapshot!("narrowed", run.out);
}

#[test]
fn json_lines_and_csv() {
    let args = [
        "replay",
        "first-shelf.toml",
        "--drill",
        "careless",
        "--whom",
        "porter",
        "--format",
    ];
    for format in ["jsonl", "csv"] {
        let run = tool(&demo(), &[&args[..], &[format]].concat());
        assert_eq!((run.code, run.err.as_str()), (0, ""));
        assert_snapshot!(format, run.out);
    }
}

const FAULTY: &str = r##"edition = 1
title = "Faults of all sorts"
[arena]
bounds = { min = [0, 0], max = [200, 100] }
[kind.hero]
tags = ["hero"]
meter.health = { max = 3 }
hurtbox.torso = { size = [8, 0] }
invincible = { after_hit = 0.5 }
[kind.foe]
hitbocks.claw = { radius = 5 }
[[place]]
kind = "hero"
at = [50, 20]
[[place]]
kind = "foe"
id = "foe"
at = [120, 20]
[[place]]
kind = "foe"
id = "foe"
at = [140, 20]
[[rule]]
name = "claw"
hitbox = "foe"
hurtbox = "#Hero.torso"
damage = 1
"##;

#[test]
fn findings() {
    let folder = folder();
    let run = tool_reading(folder.path(), &["check", "-"], FAULTY);
    assert_eq!((run.code, run.err.as_str()), (2, ""));
    assert_snapshot!("findings", run.out);
    let run = tool_reading(folder.path(), &["check", "--format", "json", "-"], FAULTY);
    assert_eq!(run.code, 2);
    assert_snapshot!("findings_json", run.out);
}

#[test]
fn a_warning_passes_unless_strict() {
    let folder = folder();
    let blink = std::fs::read_to_string(demo().join("starter.toml"))
        .expect("the starter")
        .replace("invincible = { after_hit = \"0.5s\" }", "");
    let run = tool_reading(folder.path(), &["check", "-"], &blink);
    assert_eq!(run.code, 0);
    assert_snapshot!("warning", run.out);
    assert_eq!(
        tool_reading(folder.path(), &["check", "--strict", "-"], &blink).code,
        1
    );
    let replayed = tool_reading(folder.path(), &["replay", "-"], &blink);
    assert_eq!(replayed.code, 0);
    assert!(
        replayed.err.contains("drains-in-a-blink"),
        "warnings go to standard error"
    );
}

#[test]
fn help_has_examples() {
    let folder = folder();
    for command in [
        "demo",
        "new",
        "check",
        "replay",
        "why",
        "compare",
        "coverage",
        "draw",
        "report",
        "watch",
        "completions",
    ] {
        let run = tool(folder.path(), &[command, "--help"]);
        assert_eq!(run.code, 0);
        assert!(run.out.contains("Example"), "{command}: {}", run.out);
    }
    assert_snapshot!("help", tool(folder.path(), &["--help"]).out);
}

#[test]
fn what_somebody_launched_is_chosen_with_them_or_alone() {
    let lines = |who: &str| {
        let run = tool(
            &demo(),
            &[
                "replay",
                "second-shelf.toml",
                "--drill",
                "marksman",
                "--who",
                who,
                "--format",
                "csv",
            ],
        );
        assert_eq!((run.code, run.err.as_str()), (0, ""));
        let mut reader = csv_cells(&run.out);
        reader.remove(0);
        reader
    };
    let hits = |lines: &[Vec<String>]| -> Vec<String> {
        let hits = lines.iter().filter(|cells| cells[5] == "hit");
        hits.map(|cells| format!("{} for {} on {}", cells[6], cells[7], cells[8]))
            .collect()
    };
    let expected = [
        "porter.pop-gun.3 for porter on wasp",
        "porter.pop-gun.4 for porter on alarm",
    ];
    assert_eq!(hits(&lines("#hero")), expected);
    assert_eq!(hits(&lines("porter.pop-gun.3")), expected[..1]);
    assert_eq!(hits(&lines("cork")), expected);
    assert!(lines("porter.pop-gun.9").is_empty());
}

/// The rows of a CSV without quotes in it.
fn csv_cells(text: &str) -> Vec<Vec<String>> {
    let rows = text.lines();
    rows.map(|row| row.split(',').map(str::to_owned).collect())
        .collect()
}
