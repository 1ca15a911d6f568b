//! Recorded drills and hit logs, as the command tells of them.

use std::fs;
use std::path::Path;

use serde_json::Value;

use crate::tool::{folder, tool, tool_reading};

/// A folder with the second world of the demo.
fn tub() -> tempfile::TempDir {
    let folder = folder();
    for (name, text) in tin_crown::demo::TUB_FILES {
        fs::write(folder.path().join(name), text).expect("the file can be written");
    }
    folder
}

fn edit(folder: &Path, file: &str, from: &str, to: &str) {
    let path = folder.join(file);
    let text = fs::read_to_string(&path).expect("it is there");
    assert!(text.contains(from), "{from}");
    fs::write(path, text.replacen(from, to, 1)).expect("it can be written");
}

#[test]
fn a_log_is_held_against_the_rules() {
    let folder = tub();
    let run = tool(folder.path(), &["compare", "tub.toml", "--log"]);
    assert_eq!((run.code, run.err.as_str()), (1, ""));
    insta::assert_snapshot!("against_text", run.out);
    let run = tool(
        folder.path(),
        &[
            "compare",
            "tub.toml",
            "--log",
            "tub-hits.csv",
            "--format",
            "junit",
        ],
    );
    assert_eq!(run.code, 1);
    insta::assert_snapshot!("against_junit", run.out);
    let run = tool(
        folder.path(),
        &["compare", "tub.toml", "--log", "--format", "jsonl"],
    );
    let lines: Vec<Value> = run
        .out
        .lines()
        .map(|line| serde_json::from_str(line).expect("a line of JSON"))
        .collect();
    assert_eq!(lines.len(), 2);
    assert_eq!(lines[0]["difference"], "only-game");
    assert_eq!(lines[0]["game"]["line"], 5);
    assert_eq!(lines[0]["why"]["came"][0]["verdict"], "invincible");
    // From a pipe as well; and where there is none, that is told.
    let piped = ["compare", "tub.toml", "--log", "-", "--short"];
    let piped = tool_reading(folder.path(), &piped, tin_crown::demo::TUB_HITS);
    assert_eq!(piped.code, 1, "{}", piped.err);
    assert!(piped.out.contains("(standard input:5)"), "{}", piped.out);
    let gone = tool(folder.path(), &["compare", "tub.toml", "--log", "gone.csv"]);
    assert_eq!(gone.code, 2);
    assert!(
        gone.err
            .contains("cannot read gone.csv: there is no such file"),
        "{}",
        gone.err
    );
    // Only of one of them, and none of another.
    let one = ["compare", "tub.toml", "--log", "--whom", "carp", "--short"];
    assert!(tool(folder.path(), &one).out.contains("1 only in the game"));
    let none = tool(
        folder.path(),
        &["compare", "tub.toml", "--log", "--whom", "plug"],
    );
    assert_eq!(none.code, 0, "{}", none.out);
}

#[test]
fn a_log_without_the_fault_has_nothing_to_tell() {
    let folder = tub();
    // Without the two squirts that landed within a window, and what they took.
    edit(
        folder.path(),
        "tub-hits.csv",
        "282;Bot A;P1;squirt;1;2\n",
        "",
    );
    edit(
        folder.path(),
        "tub-hits.csv",
        "340;Bot A;Bot B;squirt;1;3\n",
        "",
    );
    let run = tool(folder.path(), &["compare", "tub.toml", "--log"]);
    assert_eq!(run.code, 0, "{}", run.out);
    assert!(
        run.out.contains("11 hits alike, 0 only in the game"),
        "{}",
        run.out
    );
    let page = tool(
        folder.path(),
        &["report", "tub.toml", "--log", "-o", "tub.html"],
    );
    assert_eq!(page.code, 0, "{}", page.err);
    let page = fs::read_to_string(folder.path().join("tub.html")).expect("a page");
    assert!(page.contains("every hit as by the rules"));
}

#[test]
fn what_is_wrong_is_underlined_in_its_row() {
    let folder = tub();
    edit(
        folder.path(),
        "tub-run.csv",
        "0;Bot A;Boat;;560.000",
        "0;Bot A;Boat;;56o.000",
    );
    let run = tool(folder.path(), &["check", "tub.toml"]);
    assert_eq!(run.code, 2);
    insta::assert_snapshot!("recording_check", run.out);
    let run = tool(folder.path(), &["replay", "tub.toml"]);
    assert_eq!((run.code, run.out.as_str()), (2, ""));
    let run = tool(folder.path(), &["check", "tub.toml", "--format", "sarif"]);
    let log: Value = serde_json::from_str(&run.out).expect("JSON");
    let place = &log["runs"][0]["results"][0]["locations"][0]["physicalLocation"];
    assert_eq!(place["artifactLocation"]["uri"], "tub-run.csv");
    assert_eq!(place["region"]["startLine"], 3);
    // A file that is not there is told where it is named.
    fs::remove_file(folder.path().join("tub-run.csv")).expect("it was there");
    let run = tool(folder.path(), &["check", "tub.toml"]);
    assert!(run.out.contains("cannot read `tub-run.csv`"), "{}", run.out);
    assert!(run.out.contains("file = \"tub-run.csv\""), "{}", run.out);
}

#[test]
fn a_folder_of_recordings_is_one_call() {
    let folder = tub();
    let at = folder.path();
    fs::create_dir_all(at.join("takes/tuesday")).expect("a folder");
    fs::copy(at.join("tub-run.csv"), at.join("takes/monday.csv")).expect("a copy");
    fs::copy(at.join("tub-run.csv"), at.join("takes/tuesday/tub-run.csv")).expect("a copy");
    fs::write(at.join("takes/notes.md"), "nothing of that sort").expect("a file");
    let run = tool(
        at,
        &[
            "replay",
            "tub.toml",
            "--track-dir",
            "takes",
            "--format",
            "tap",
        ],
    );
    assert_eq!(run.code, 0, "{}", run.err);
    insta::assert_snapshot!("takes", run.out);
    let run = tool(at, &["replay", "tub.toml", "tub.toml", "--format", "junit"]);
    assert_eq!(run.code, 0, "{}", run.err);
    assert_eq!(run.out.matches("<testsuite ").count(), 2);
    let run = tool(at, &["replay", "tub.toml", "--track-dir", "nowhere"]);
    assert_eq!(run.code, 2);
    // What is wrong with one of them is told of that one.
    edit(
        at,
        "takes/monday.csv",
        "0;P1;Boat;;90.000",
        "0;P1;Boat;;ninety",
    );
    let run = tool(at, &["replay", "tub.toml", "--track-dir", "takes"]);
    assert_eq!(run.code, 2);
    assert!(run.err.contains("takes/monday.csv:2:12"), "{}", run.err);
}
