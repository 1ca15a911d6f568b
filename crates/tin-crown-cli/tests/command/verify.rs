//! Expectations, golden records, compare, why, coverage and SARIF, as users meet them.

use std::fs;
use std::path::Path;

use insta::assert_snapshot;
use quick_xml::events::Event;
use serde_json::Value;

use crate::json_schema::Schema;
use crate::tool::{Run, demo, folder_with_drawings, tool, tool_reading};

/// A folder with the first shelf of the demo, its numbers changed.
fn shelf(changes: &[(&str, &str)]) -> tempfile::TempDir {
    let folder = folder_with_drawings();
    write(folder.path(), "shelf.toml", changes);
    folder
}

fn write(folder: &Path, name: &str, changes: &[(&str, &str)]) {
    let mut text = fs::read_to_string(demo().join("first-shelf.toml")).expect("the demo is there");
    for (from, to) in changes {
        assert!(text.contains(from), "{from}");
        text = text.replacen(from, to, 1);
    }
    fs::write(folder.join(name), text).expect("the folder takes it");
}

/// A quicker beetle.
const QUICKER: (&str, &str) = (
    "between = [150, 320], speed = 40",
    "between = [150, 320], speed = 41",
);

fn json(run: &Run) -> Value {
    serde_json::from_str(&run.out).expect("it prints JSON")
}

/// The encounters of a page, each in a file.
fn recipes(folder: &Path) -> Vec<String> {
    let page = Path::new(env!("CARGO_MANIFEST_DIR")).join("docs/recipes.md");
    let page = fs::read_to_string(page).expect("the page is there");
    let blocks = page.split("```toml\n").skip(1);
    let blocks = blocks.filter_map(|rest| rest.split("```").next());
    let encounters = blocks.filter(|block| block.contains("edition = 1"));
    let mut names = Vec::new();
    for (nth, block) in encounters.enumerate() {
        let name = format!("recipe-{nth}.toml");
        fs::write(folder.join(&name), block).expect("the folder takes it");
        names.push(name);
    }
    names
}

#[test]
fn the_demo_and_every_recipe_come_to_what_they_expect() {
    let folder = folder_with_drawings();
    let files = recipes(folder.path());
    assert!(files.len() >= 10);
    let demo_files = [
        "first-shelf.toml",
        "second-shelf.toml",
        "third-shelf.toml",
        "attic.toml",
        "starter.toml",
    ];
    let here = files
        .iter()
        .map(|file| (folder.path().to_owned(), file.as_str()));
    for (folder, file) in here.chain(demo_files.map(|file| (demo(), file))) {
        let run = tool(&folder, &["replay", file, "--format", "tap"]);
        assert_eq!((run.code, run.err.as_str()), (0, ""), "{file}: {}", run.out);
        let (tests, checks) = (
            run.out.lines().count() - 2,
            tool(&folder, &["check", "--strict", file]),
        );
        assert!(
            run.out
                .lines()
                .filter(|line| line.starts_with("ok "))
                .count()
                == tests
                && tests > 0
        );
        assert_eq!(checks.code, 0, "{file}: {}", checks.out);
        assert!(
            checks.out.ends_with("no findings\n"),
            "{file}: {}",
            checks.out
        );
    }
}

#[test]
fn what_is_not_met_is_told_and_fails() {
    let folder = shelf(&[(
        "rule = \"horns gore porter\" }, times = 4",
        "rule = \"horns gore porter\" }, times = 3",
    )]);
    fs::write(
        folder.path().join("shelf.expect.toml"),
        "edition = 1\n[drill.careless]\nexpect = [\n  { hit = { who = \"stag\", whom = \"porter\" } },\n  \
         { hit = { who = \"beetle_1\" }, when = \"1.2s\", within = \"1t\" },\n  { outcome = \"lost\" },\n]\n",
    )
    .expect("the folder takes it");
    let args = [
        "replay",
        "shelf.toml",
        "--drill",
        "careless",
        "--who",
        "stag",
    ];
    let run = tool(folder.path(), &args);
    assert_eq!((run.code, run.err.as_str()), (1, ""));
    assert_snapshot!("not_met", run.out);
    // Told on standard error when the table is not on standard output.
    let run = tool(
        folder.path(),
        &["replay", "shelf.toml", "--format", "jsonl"],
    );
    assert_eq!(run.code, 1);
    assert!(run.out.lines().all(|line| line.starts_with('{')));
    assert!(
        run.err
            .contains("not met in careless: a hit by stag on porter"),
        "{}",
        run.err
    );
    assert!(
        run.err.ends_with("expectations met, 3 not met\n"),
        "{}",
        run.err
    );
    // Another file instead of the one beside it.
    fs::write(
        folder.path().join("other.toml"),
        "edition = 1\n[[expect]]\noutcome = \"won\"\n",
    )
    .expect("it does");
    let run = tool(
        folder.path(),
        &[
            "replay",
            "shelf.toml",
            "--expect",
            "other.toml",
            "--format",
            "tap",
        ],
    );
    assert_eq!(
        (
            run.code,
            run.out
                .lines()
                .filter(|line| line.starts_with("not ok"))
                .count()
        ),
        (1, 4)
    );
    fs::write(
        folder.path().join("other.toml"),
        "edition = 1\n[[expect]]\noutcom = \"won\"\n",
    )
    .expect("it does");
    let run = tool(
        folder.path(),
        &["replay", "shelf.toml", "--expect", "other.toml"],
    );
    assert_eq!((run.code, run.out.as_str()), (2, ""));
    assert!(run.err.contains("did you mean `outcome`?"), "{}", run.err);
    assert_eq!(
        tool(
            folder.path(),
            &["replay", "shelf.toml", "--expect", "none.toml"]
        )
        .code,
        2
    );
}

#[test]
fn junit_and_tap_are_well_formed() {
    // A name that would break either.
    let title = (
        "title = \"The Clockmaker's Attic: first shelf\"",
        "title = '<Attic> & \"shelf\" # 1'",
    );
    let folder = shelf(&[("times = 4, apart", "times = 5, apart"), title]);
    let run = tool(
        folder.path(),
        &["replay", "shelf.toml", "--format", "junit"],
    );
    assert_eq!(run.code, 1);
    let mut reader = quick_xml::Reader::from_str(&run.out);
    let (mut open, mut cases, mut failures) = (0, 0, 0);
    loop {
        match reader.read_event().expect("well-formed XML") {
            Event::Start(start) => {
                open += 1;
                cases += usize::from(start.name().as_ref() == "testcase");
                failures += usize::from(start.name().as_ref() == "failure");
            }
            Event::Empty(start) => cases += usize::from(start.name().as_ref() == "testcase"),
            Event::End(_) => open -= 1,
            Event::Eof => break,
            _ => {}
        }
    }
    assert_eq!((open, cases, failures), (0, 13, 1));
    assert!(
        run.out.contains("tests=\"13\" failures=\"1\""),
        "{}",
        run.out
    );
    let tap = tool(
        folder.path(),
        &["replay", "shelf.toml", "--format", "tap", "-o", "out.tap"],
    );
    assert_eq!((tap.code, tap.out.as_str()), (1, ""));
    let text = fs::read_to_string(folder.path().join("out.tap")).expect("it is written");
    assert!(text.starts_with("TAP version 13\n1..13\n"), "{text}");
    assert_eq!(
        text.lines()
            .filter(|line| line.starts_with("not ok "))
            .count(),
        1
    );
}

#[test]
fn a_golden_record_is_kept_compared_and_kept_anew() {
    let folder = shelf(&[]);
    let accept = |drill: &[&str]| {
        tool(
            folder.path(),
            &[&["replay", "shelf.toml", "--accept"], drill].concat(),
        )
    };
    let first = accept(&[]);
    assert_eq!(first.code, 0);
    assert!(
        first.out.contains("careful: ") && first.out.contains(" lines, new"),
        "{}",
        first.out
    );
    let golden = || fs::read(folder.path().join("shelf.golden.jsonl")).expect("it is there");
    // What is accepted again is the same, byte for byte, and as the one that the demo comes with.
    let kept = golden();
    assert!(accept(&[]).out.contains(" lines, unchanged"));
    assert_eq!(golden(), kept);
    assert_eq!(
        fs::read(demo().join("first-shelf.golden.jsonl")).expect("it is there"),
        kept
    );
    assert_eq!(tool(folder.path(), &["replay", "shelf.toml"]).code, 0);

    write(folder.path(), "shelf.toml", &[QUICKER]);
    let run = tool(
        folder.path(),
        &[
            "replay",
            "shelf.toml",
            "--drill",
            "careless",
            "--who",
            "drawer",
        ],
    );
    assert_eq!(run.code, 1);
    assert_snapshot!("golden_moved", run.out);
    // Of one drill only: the others stay as they were.
    let one = accept(&["--drill", "careless"]);
    assert!(
        one.out.contains("careless: ") && !one.out.contains("careful"),
        "{}",
        one.out
    );
    let tap = tool(folder.path(), &["replay", "shelf.toml", "--format", "tap"]);
    assert_eq!(
        tap.out
            .lines()
            .filter(|line| line.starts_with("not ok"))
            .count(),
        2
    );
    // A drill that is no more.
    let text = fs::read_to_string(folder.path().join("shelf.toml")).expect("it is there");
    fs::write(
        folder.path().join("shelf.toml"),
        text.replace("[drill.umbrella]", "[drill.parasol]"),
    )
    .expect("it is");
    let run = tool(folder.path(), &["replay", "shelf.toml", "--format", "tap"]);
    assert!(
        run.out.contains("not ok")
            && run
                .out
                .contains("drill `umbrella` of the golden record exists")
    );
    assert!(accept(&[]).out.contains("umbrella: removed"));
    assert_eq!(
        tool(folder.path(), &["replay", "shelf.toml", "--format", "tap"]).code,
        0
    );
    // One that cannot be read is not passed over.
    fs::write(folder.path().join("shelf.golden.jsonl"), "{}\n").expect("the folder takes it");
    let run = tool(folder.path(), &["replay", "shelf.toml"]);
    assert_eq!(run.code, 2);
    assert!(
        run.err.contains("is no golden record: line 1"),
        "{}",
        run.err
    );
    assert_eq!(
        tool_reading(folder.path(), &["replay", "-", "--accept"], &text).code,
        2
    );
}

#[test]
fn compare_tells_what_a_number_changes() {
    let folder = shelf(&[]);
    write(folder.path(), "quicker.toml", &[QUICKER]);
    let compare = |args: &[&str]| tool(folder.path(), &[&["compare"], args].concat());
    let same = compare(&["shelf.toml", "shelf.toml"]);
    assert_eq!(same.code, 0);
    assert!(
        same.out
            .lines()
            .all(|line| line.is_empty() || line.ends_with("events unchanged")),
        "{}",
        same.out
    );
    let run = compare(&["shelf.toml", "quicker.toml"]);
    assert_eq!((run.code, run.err.as_str()), (1, ""));
    assert_snapshot!("compared", run.out);
    // Ledgers and golden records stand for the encounters that they are of.
    tool(
        folder.path(),
        &[
            "replay",
            "shelf.toml",
            "--format",
            "jsonl",
            "-o",
            "old.jsonl",
        ],
    );
    tool(folder.path(), &["replay", "quicker.toml", "--accept"]);
    assert_eq!(compare(&["old.jsonl", "quicker.toml"]).out, run.out);
    assert_eq!(compare(&["old.jsonl", "shelf.toml"]).code, 0);
    assert_eq!(compare(&["quicker.golden.jsonl", "quicker.toml"]).code, 0);
    assert_eq!(compare(&["old.jsonl", "quicker.golden.jsonl"]).code, 1);
    // A whole second is more than anything moved.
    let drill = ["old.jsonl", "quicker.toml", "--drill", "careful"];
    assert_eq!(
        (
            compare(&drill).code,
            compare(&[&drill[..], &["--within", "1s"]].concat()).code
        ),
        (1, 0)
    );
    let against = compare(&[
        "shelf.toml",
        "shelf.toml",
        "--drill",
        "careful",
        "--against",
        "careless",
    ]);
    assert!(against.code == 1 && against.out.starts_with("drill careful against careless: "));
    let machine = json(&compare(&[
        "shelf.toml",
        "quicker.toml",
        "--format",
        "json",
    ]));
    assert_eq!(machine["differs"], true);
    let changes = machine["drills"][0]["comparison"]["changes"]
        .as_array()
        .expect("a list");
    assert!(changes.iter().all(|change| change["moved"].is_i64()));
    let unknown = compare(&["shelf.toml", "quicker.toml", "--drill", "carefull"]);
    assert!(
        unknown.code == 2 && unknown.err.contains("it has: careful, careless, umbrella"),
        "{}",
        unknown.err
    );
}

#[test]
fn why_answers_in_sentences_and_as_json() {
    let why = |args: &[&str]| tool(&demo(), &[&["why", "first-shelf.toml"], args].concat());
    let umbrella = [
        "--drill", "umbrella", "--who", "#windup", "--whom", "porter",
    ];
    let run = why(&umbrella);
    assert_eq!((run.code, run.err.as_str()), (0, ""));
    assert_snapshot!("why_hits", run.out);
    let apart = why(&[
        "--drill", "careless", "--who", "porter", "--whom", "#windup",
    ]);
    assert_snapshot!("why_apart", apart.out);
    let machine = json(&why(&[
        &umbrella[..],
        &["--format", "json", "--when", "3.367s"],
    ]
    .concat()));
    let came = &machine["came"][0];
    assert_eq!(
        (came["tick"].as_u64(), came["verdict"].as_str()),
        (Some(202), Some("invincible"))
    );
    let checks = came["checks"].as_array().expect("a list");
    assert_eq!(checks.last().expect("some")["passed"], false);
    // Without whom: what is no hit.
    let alone = |args: &[&str]| tool(&demo(), &[&["why", "second-shelf.toml"], args].concat());
    let wasp = ["--drill", "clumsy", "--who", "wasp"];
    assert_snapshot!("why_alone", alone(&wasp).out);
    let machine = json(&alone(
        &[&wasp[..], &["--format", "json", "--when", "3s"]].concat(),
    ));
    let tells = machine[0]["tells"].as_array().expect("a list");
    let topics: Vec<&str> = tells
        .iter()
        .flat_map(|tell| tell["topic"].as_str())
        .collect();
    assert_eq!(topics, ["state", "state", "sensor"], "{machine}");
    for (args, words) in [
        (
            ["--drill", "umbrela", "--who", "*", "--whom", "*"],
            "did you mean `umbrella`?",
        ),
        (
            ["--drill", "umbrella", "--who", "portr", "--whom", "*"],
            "did you mean `porter`?",
        ),
    ] {
        let run = why(&args);
        assert!(run.code == 2 && run.err.contains(words), "{}", run.err);
    }
    for (more, words) in [
        (
            ["--rule", "horns gor porter"],
            "did you mean `horns gore porter`?",
        ),
        (["--when", "6s"], "ask about a time up to 5.500s"),
    ] {
        let run = why(&[&umbrella[..], &more[..]].concat());
        assert!(run.code == 2 && run.err.contains(words), "{}", run.err);
    }
}

#[test]
fn coverage_fails_below_what_is_asked() {
    let coverage =
        |args: &[&str]| tool(&demo(), &[&["coverage", "first-shelf.toml"], args].concat());
    let run = coverage(&[]);
    assert_eq!((run.code, run.err.as_str()), (0, ""));
    assert_snapshot!("coverage", run.out);
    let low = coverage(&["--at-least", "99"]);
    assert!(low.code == 1 && low.err.contains("99 %"), "{}", low.err);
    let machine = json(&coverage(&[
        "--format",
        "json",
        "--drill",
        "careful",
        "--at-least",
        "10",
    ]));
    assert!(machine["exercised"].as_u64() < machine["of"].as_u64());
    assert_eq!(coverage(&["--at-least", "101"]).code, 2);
}

#[test]
fn sarif_is_valid_against_its_schema() {
    let schema = include_str!("../sarif-2.1.0.schema.json");
    // A bracket without a partner in one of its patterns, written so that strict readers take it.
    let schema = schema.replace("[a-zA-Z]{2}]?$", r"[a-zA-Z]{2}\\]?$");
    let schema = Schema::read(&schema);
    let folder = shelf(&[
        // An error, a note that is allowed, and a name that no URI takes as it is.
        ("hitbox = \"#hero.boots\"", "hitbox = \"#hero.bots\""),
        (
            "invincible = { after_hit = \"0.5s\" }",
            "invincible = { after_hit = \"20ms\" }",
        ),
        (
            "[arena]",
            "[[allow]]\nfinding = \"rounded\"\nreason = \"one tick is meant\"\n[arena]",
        ),
    ]);
    write(folder.path(), "a [b] ü#.toml", &[]);
    fs::write(folder.path().join("broken.toml"), "edition = \n").expect("the folder takes it");
    let files = ["shelf.toml", "a [b] ü#.toml", "broken.toml"];
    let run = tool(
        folder.path(),
        &[&["check", "--format", "sarif"], &files[..]].concat(),
    );
    assert_eq!(run.code, 2);
    let log = json(&run);
    assert_eq!(schema.validate(&log), Ok(()));
    let results = log["runs"][0]["results"].as_array().expect("a list");
    let found: Vec<(&str, bool)> = results
        .iter()
        .map(|result| {
            (
                result["ruleId"].as_str().expect("a code"),
                result["suppressions"].is_array(),
            )
        })
        .collect();
    assert_eq!(
        found,
        [
            ("unknown-name", false),
            ("rounded", true),
            ("syntax", false)
        ]
    );
    let place = &results[0]["locations"][0]["physicalLocation"];
    let line = fs::read_to_string(folder.path().join("shelf.toml")).expect("it is there");
    let line = line
        .lines()
        .position(|line| line.contains("#hero.bots"))
        .expect("it is written")
        + 1;
    assert_eq!(place["region"]["startLine"].as_u64(), Some(line as u64));
    assert_eq!(place["artifactLocation"]["uri"], "shelf.toml");
}

#[test]
fn watch_tells_what_a_save_changed_until_it_is_ended() {
    use std::io::{BufRead, BufReader};
    let folder = shelf(&[]);
    let mut child = std::process::Command::new(assert_cmd::cargo::cargo_bin!("tin-crown"))
        .args(["watch", "shelf.toml", "--report", "page.html"])
        .current_dir(folder.path())
        .stdout(std::process::Stdio::piped())
        .stderr(std::process::Stdio::piped())
        .spawn()
        .expect("the tool runs");
    let mut lines = BufReader::new(child.stdout.take().expect("it is piped")).lines();
    let mut errors = BufReader::new(child.stderr.take().expect("it is piped")).lines();
    let mut until = |end: &str| -> Vec<String> {
        let mut found = Vec::new();
        for line in &mut lines {
            let line = line.expect("it prints text");
            let last = line.starts_with(end);
            found.push(line);
            if last {
                break;
            }
        }
        found
    };
    let first = until("wrote page.html");
    assert!(
        first[0].starts_with("shelf.toml: save it to see what changes"),
        "{first:?}"
    );
    let page = fs::read(folder.path().join("page.html")).expect("it is written");
    write(folder.path(), "shelf.toml", &[QUICKER]);
    let second = until("wrote page.html");
    assert!(second.contains(&"drill careless:".to_owned()), "{second:?}");
    assert!(
        second
            .iter()
            .any(|line| line.contains("2 ticks earlier than 2.750 s")),
        "{second:?}"
    );
    assert_ne!(
        fs::read(folder.path().join("page.html")).expect("it is there"),
        page
    );
    // A save with an error is told, and ends nothing.
    write(
        folder.path(),
        "shelf.toml",
        &[("kind = \"drawer\"", "kind = \"drwer\"")],
    );
    let error = errors
        .by_ref()
        .map(|line| line.expect("text"))
        .find(|line| line.contains("help"));
    assert!(error.is_some_and(|line| line.contains("did you mean `drawer`?")));
    write(folder.path(), "shelf.toml", &[]);
    let last = until("wrote page.html");
    assert!(
        last.iter()
            .any(|line| line.contains("2 ticks later than 2.717 s")),
        "{last:?}"
    );
    child.kill().expect("it can be ended");
    child.wait().expect("it ends");
    let missing = tool(folder.path(), &["watch", "none.toml"]);
    assert_eq!(missing.code, 2);
}
