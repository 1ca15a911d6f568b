//! `tin-crown study`: sweeps in every format, in shards, killed and resumed; slack, tally, passage, search.

use std::fs;
use std::path::Path;
use std::process::{Child, Command, Stdio};
use std::time::{Duration, Instant};

use assert_cmd::cargo::cargo_bin;
use insta::assert_snapshot;
use parquet::file::reader::{FileReader, SerializedFileReader};

use crate::tool::{demo, folder, folder_with_drawings, tool};

const SPEED: &str = "kind.beetle.motion.patrol.speed=20..120/10";

/// A folder of its own with the first shelf.
fn shelf() -> tempfile::TempDir {
    let folder = folder_with_drawings();
    fs::write(
        folder.path().join("shelf.toml"),
        tin_crown::demo::FIRST_SHELF,
    )
    .expect("a file");
    folder
}

/// A sweep of the shelf, with more arguments.
fn sweep(folder: &Path, more: &[&str]) -> crate::tool::Run {
    let mut args = vec!["study", "sweep", "shelf.toml", "--vary", SPEED];
    args.extend(more);
    tool(folder, &args)
}

#[test]
fn a_sweep_reads_the_same_in_every_format() {
    let folder = shelf();
    let at = |name: &str| folder.path().join(name);
    let hits = "gored: count = { hit = { whom = \"porter\" } }";
    let table = sweep(folder.path(), &["--drill", "careful", "--measure", hits]);
    assert_eq!((table.code, table.err.as_str()), (0, ""));
    assert_snapshot!("sweep", table.out);
    for (format, file) in [
        ("csv", "a.csv"),
        ("jsonl", "a.jsonl"),
        ("parquet", "a.parquet"),
    ] {
        let run = sweep(
            folder.path(),
            &["--measure", hits, "--format", format, "-o", file],
        );
        assert_eq!(
            (run.code, run.err.as_str(), run.out.as_str()),
            (0, "", ""),
            "{format}"
        );
        assert!(!at(&format!("{file}.part")).exists());
    }
    // On standard output there is the same.
    for (format, file) in [("csv", "a.csv"), ("jsonl", "a.jsonl")] {
        let run = sweep(folder.path(), &["--measure", hits, "--format", format]);
        assert_eq!(run.out, fs::read_to_string(at(file)).expect("a file"));
    }
    let csv = fs::read_to_string(at("a.csv")).expect("a file");
    let mut reader = csv::Reader::from_reader(csv.as_bytes());
    let heads = reader.headers().expect("a header").clone();
    let rows: Vec<csv::StringRecord> = reader.records().map(|row| row.expect("a row")).collect();
    // 11 values, three drills.
    assert_eq!(rows.len(), 33);
    let jsonl = fs::read_to_string(at("a.jsonl")).expect("a file");
    let lines: Vec<serde_json::Value> = jsonl
        .lines()
        .map(|line| serde_json::from_str(line).expect("JSON"))
        .collect();
    assert_eq!((lines.len(), lines[0]["cells"].as_u64()), (34, Some(11)));
    for (row, line) in rows.iter().zip(&lines[1..]) {
        for (head, field) in heads.iter().zip(row) {
            let told = match &line[head] {
                serde_json::Value::Null if head.contains('.') && !head.starts_with("kind") => {
                    "0".to_owned()
                }
                serde_json::Value::Null => String::new(),
                serde_json::Value::String(text) => text.clone(),
                number => number.to_string(),
            };
            assert_eq!(told, field, "{head} of {line}");
        }
    }
    let file = fs::File::open(at("a.parquet")).expect("a file");
    let reader = SerializedFileReader::new(file).expect("Parquet");
    assert_eq!(reader.metadata().file_metadata().num_rows(), 33);
    let read = reader.get_row_iter(None).expect("rows");
    for (row, record) in read.zip(&rows) {
        let row = row.expect("a row");
        for ((name, field), own) in row.get_column_iter().zip(record) {
            let told = field.to_string();
            let told = told.trim_matches('"');
            let same = match (told.parse::<f64>(), own.parse::<f64>()) {
                (Ok(one), Ok(other)) => one == other,
                _ => told == own || (told == "null" && own.is_empty()),
            };
            assert!(same, "{name}: {told} and {own}");
        }
    }
}

#[test]
fn shards_put_together_are_what_one_machine_writes() {
    let folder = shelf();
    let at = |name: &str| folder.path().join(name);
    let read = |name: &str| fs::read_to_string(at(name)).expect("a file");
    let jsonl = ["--format", "jsonl", "-o"];
    assert_eq!(
        sweep(folder.path(), &[&jsonl[..], &["whole.jsonl"]].concat()).code,
        0
    );
    assert_eq!(
        sweep(
            folder.path(),
            &["--format", "csv", "-o", "whole.csv", "--plot", "whole.svg"]
        )
        .code,
        0
    );
    for part in ["1", "2", "3", "4"] {
        let (file, shard) = (format!("p{part}.jsonl"), format!("{part}/4"));
        let run = sweep(
            folder.path(),
            &[&jsonl[..], &[&file, "--shard", &shard, "--threads", "1"]].concat(),
        );
        assert_eq!((run.code, run.err.as_str()), (0, ""));
    }
    let merge = |parts: &[&str], more: &[&str]| {
        tool(folder.path(), &[&["study", "merge"], parts, more].concat())
    };
    let all = ["p3.jsonl", "p1.jsonl", "p4.jsonl", "p2.jsonl"];
    assert_eq!(
        merge(&all, &[&jsonl[..], &["merged.jsonl"]].concat()).code,
        0
    );
    assert!(read("merged.jsonl") == read("whole.jsonl"));
    assert_eq!(
        merge(
            &all,
            &[
                "--format",
                "csv",
                "-o",
                "merged.csv",
                "--plot",
                "merged.svg"
            ]
        )
        .code,
        0
    );
    assert!(read("merged.csv") == read("whole.csv") && read("merged.svg") == read("whole.svg"));

    // What does not belong together is named.
    let part = read("p2.jsonl");
    fs::write(at("cut.jsonl"), &part[..part.len() - 40]).expect("a file");
    let lines: Vec<&str> = part.lines().collect();
    fs::write(
        at("short.jsonl"),
        lines[..lines.len() - 1].join("\n") + "\n",
    )
    .expect("a file");
    fs::write(
        at("swapped.jsonl"),
        [lines[0], lines[2], lines[1], &lines[3..].join("\n"), ""].join("\n"),
    )
    .expect("a file");
    fs::write(
        at("old.jsonl"),
        part.replace("\"version\":\"0.1.0\"", "\"version\":\"0.0.9\""),
    )
    .expect("a file");
    fs::write(
        at("new.jsonl"),
        part.replace("\"edition\":1", "\"edition\":2"),
    )
    .expect("a file");
    fs::write(
        at("other.toml"),
        tin_crown::demo::FIRST_SHELF.replace("max = 4", "max = 5"),
    )
    .expect("a file");
    let other = [
        "study",
        "sweep",
        "other.toml",
        "--vary",
        SPEED,
        "--format",
        "jsonl",
        "-o",
        "foreign.jsonl",
        "--shard",
        "2/4",
    ];
    assert_eq!(tool(folder.path(), &other).code, 0);
    let wide = [
        "study",
        "sweep",
        "shelf.toml",
        "--vary",
        "seed=1..11/1",
        "--format",
        "jsonl",
        "-o",
        "wide.jsonl",
        "--shard",
        "2/4",
    ];
    assert_eq!(tool(folder.path(), &wide).code, 0);
    let halves = [&jsonl[..], &["half.jsonl", "--shard", "2/2"]].concat();
    assert_eq!(sweep(folder.path(), &halves).code, 0);
    let mut told = String::new();
    for parts in [
        &["p1.jsonl", "p2.jsonl", "p4.jsonl"][..],
        &["p1.jsonl", "p2.jsonl", "p3.jsonl", "p4.jsonl", "p2.jsonl"],
        &["p1.jsonl", "cut.jsonl", "p3.jsonl", "p4.jsonl"],
        &["p1.jsonl", "short.jsonl", "p3.jsonl", "p4.jsonl"],
        &["p1.jsonl", "swapped.jsonl", "p3.jsonl", "p4.jsonl"],
        &["p1.jsonl", "old.jsonl", "p3.jsonl", "p4.jsonl"],
        &["p1.jsonl", "new.jsonl", "p3.jsonl", "p4.jsonl"],
        &["p1.jsonl", "foreign.jsonl", "p3.jsonl", "p4.jsonl"],
        &["p1.jsonl", "wide.jsonl", "p3.jsonl", "p4.jsonl"],
        &["p1.jsonl", "half.jsonl", "p3.jsonl", "p4.jsonl"],
        &["shelf.toml"],
        &["none.jsonl"],
    ] {
        let run = merge(parts, &["--format", "csv", "-o", "refused.csv"]);
        assert_eq!((run.code, run.out.as_str()), (2, ""), "{parts:?}");
        assert!(!at("refused.csv").exists());
        told += &format!("{}\n{}\n", parts.join(" "), run.err);
    }
    assert_snapshot!("merge_refused", told);
}

#[test]
fn a_task_of_a_job_array_plays_its_share() {
    let folder = shelf();
    let array = |variables: &[(&str, &str)], file: &str| {
        let mut command = Command::new(cargo_bin("tin-crown"));
        command.args([
            "study",
            "sweep",
            "shelf.toml",
            "--vary",
            SPEED,
            "--format",
            "jsonl",
            "-o",
            file,
        ]);
        command
            .current_dir(folder.path())
            .envs(variables.iter().copied());
        command.output().expect("the tool runs").status.code()
    };
    let read = |name: &str| fs::read_to_string(folder.path().join(name)).expect("a file");
    for (task, shard) in [
        (
            "SLURM_ARRAY_TASK_ID=7 SLURM_ARRAY_TASK_MIN=5 SLURM_ARRAY_TASK_MAX=8",
            "3/4",
        ),
        (
            "SLURM_ARRAY_TASK_ID=0 SLURM_ARRAY_TASK_MIN=0 SLURM_ARRAY_TASK_MAX=3",
            "1/4",
        ),
        ("JOB_COMPLETION_INDEX=3 JOB_COMPLETIONS=4", "4/4"),
        ("SGE_TASK_ID=2 SGE_TASK_FIRST=1 SGE_TASK_LAST=2", "2/2"),
        ("SGE_TASK_ID=undefined", "1/1"),
    ] {
        let variables: Vec<_> = task
            .split(' ')
            .filter_map(|own| own.split_once('='))
            .collect();
        let file = format!("{}.jsonl", shard.replace('/', "-"));
        let own = sweep(
            folder.path(),
            &["--format", "jsonl", "-o", &file, "--shard", shard],
        );
        assert_eq!(own.code, 0, "{shard}");
        assert_eq!(array(&variables, "array.jsonl"), Some(0), "{task}");
        // Without a job array it is no shard; one of one has all the same rows.
        let rows = |name: &str| read(name).split_once('\n').map(|(_, rows)| rows.to_owned());
        assert_eq!(rows("array.jsonl"), rows(&file), "{task}");
    }
    for task in [
        ("JOB_COMPLETION_INDEX", "0"),
        ("SLURM_ARRAY_TASK_ID", "five"),
    ] {
        assert_eq!(array(&[task], "alone.jsonl"), Some(2), "{task:?}");
    }
}

/// A long sweep that writes a file, begun.
fn begun(folder: &Path, resume: bool) -> Child {
    let mut command = Command::new(cargo_bin("tin-crown"));
    command.args([
        "study",
        "sweep",
        "shelf.toml",
        "--drill",
        "careless",
        "--threads",
        "1",
    ]);
    command.args([
        "--vary",
        "kind.beetle.motion.patrol.speed=20..120/0.2",
        "--format",
        "jsonl",
        "-o",
        "long.jsonl",
    ]);
    if resume {
        command.arg("--resume");
    }
    command
        .current_dir(folder)
        .stderr(Stdio::piped())
        .spawn()
        .expect("the tool runs")
}

#[test]
fn killed_at_a_hundred_moments_and_resumed_it_writes_the_same_bytes() {
    let folder = shelf();
    let (out, part) = (
        folder.path().join("long.jsonl"),
        folder.path().join("long.jsonl.part"),
    );
    let start = Instant::now();
    let mut first = begun(folder.path(), false);
    assert!(first.wait().expect("it ends").success());
    // As long as a few of its rows take, however fast this machine is.
    let most = start.elapsed().as_micros() as u64 / 10;
    let whole = fs::read(&out).expect("a file");
    fs::remove_file(&out).expect("it is there");
    let (mut killed, mut resumed, mut wait) = (0, 0, 17_u64);
    while killed < 100 {
        let fresh = !part.exists();
        let mut child = begun(folder.path(), !fresh);
        resumed += u32::from(!fresh);
        // Moments of all sorts, the same in every run of this test.
        wait = wait.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1);
        std::thread::sleep(Duration::from_micros((wait >> 33) % most.max(1)));
        match child.try_wait().expect("it is known") {
            Some(_) => {
                assert_eq!(fs::read(&out).expect("a file"), whole);
                fs::remove_file(&out).expect("it is there");
            }
            None => {
                child.kill().expect("it runs");
                child.wait().expect("it ends");
                killed += 1;
                assert!(!out.exists() || fs::read(&out).expect("a file") == whole);
                let _ = fs::remove_file(&out);
            }
        }
    }
    let ended = begun(folder.path(), part.exists()).wait().expect("it ends");
    assert!(ended.success() && resumed > 20, "{resumed}");
    assert_eq!(fs::read(&out).expect("a file"), whole);
    // Asked again, there is nothing left to do.
    let again = begun(folder.path(), true)
        .wait_with_output()
        .expect("it ends");
    assert_eq!(
        String::from_utf8_lossy(&again.stderr),
        "long.jsonl has all its rows already\n"
    );
}

#[cfg(unix)]
/// A second process with the same output would write into the first one's.
#[test]
fn two_that_write_one_file_are_one_too_many() {
    let folder = shelf();
    let part = folder.path().join("long.jsonl.part");
    let mut child = begun(folder.path(), false);
    while fs::read_to_string(&part).map_or(0, |text| text.lines().count()) < 3 {
        std::thread::sleep(Duration::from_millis(2));
    }
    for resume in [true, false] {
        let other = begun(folder.path(), resume);
        let other = other.wait_with_output().expect("it ends");
        assert_eq!(other.status.code(), Some(2));
        let said = String::from_utf8_lossy(&other.stderr);
        assert!(said.contains("long.jsonl"), "{said}");
    }
    child.kill().expect("it still runs");
    child.wait().expect("it ends");
}

#[test]
fn ctrl_c_keeps_what_is_finished_and_says_how_to_go_on() {
    let folder = shelf();
    let part = folder.path().join("long.jsonl.part");
    let child = begun(folder.path(), false);
    while fs::read_to_string(&part).map_or(0, |text| text.lines().count()) < 3 {
        std::thread::sleep(Duration::from_millis(2));
    }
    let id = child.id().to_string();
    assert!(
        Command::new("kill")
            .args(["-INT", &id])
            .status()
            .expect("kill runs")
            .success()
    );
    let ended = child.wait_with_output().expect("it ends");
    assert_eq!(ended.status.code(), Some(130));
    let said = String::from_utf8_lossy(&ended.stderr);
    assert!(
        said.contains("of 501 cells are kept; run the same command with --resume to go on"),
        "{said}"
    );
    // Without the word nothing that is finished is lost.
    let again = begun(folder.path(), false)
        .wait_with_output()
        .expect("it ends");
    assert_eq!(again.status.code(), Some(2));
    assert!(String::from_utf8_lossy(&again.stderr).contains("--resume"));
    // A journal of another study is not gone on with.
    fs::write(
        &part,
        fs::read_to_string(&part)
            .expect("a file")
            .replacen("\"cells\":501", "\"cells\":502", 1),
    )
    .expect("a file");
    let other = begun(folder.path(), true)
        .wait_with_output()
        .expect("it ends");
    assert!(String::from_utf8_lossy(&other.stderr).contains("is of another study"));
}

#[test]
fn what_is_wrong_with_a_study_is_said_at_once() {
    let folder = demo();
    let mut told = String::new();
    for args in [
        "sweep first-shelf.toml --vary kind.beetle.motion.patrol.sped=20..120/10",
        "sweep first-shelf.toml --vary kind.beetle.motion.patrol.speed=120..20/10",
        "sweep first-shelf.toml --vary kind.beetle.motion.patrol.speed=20..120/0",
        "sweep first-shelf.toml --vary kind.beetle.motion.patrol.speed=20..120",
        "sweep first-shelf.toml --vary seed=0..9999999999/1",
        "sweep first-shelf.toml --vary speed",
        "sweep first-shelf.toml --vary seed=1,2 --measure count={hit={whom='nobody'}}",
        "sweep first-shelf.toml --vary seed=1,2 --measure cuont={hit={}}",
        "sweep first-shelf.toml --vary seed=1,2 --drill carful",
        "sweep first-shelf.toml --vary seed=1,2 --samples 0",
        "sweep first-shelf.toml --vary seed=1,2 --format parquet",
        "sweep first-shelf.toml --vary seed=1,2 --plot x.svg --of taken.portr",
        "sweep first-shelf.toml --vary seed=1,2 --format csv -o x.csv --shard 1/2",
        "sweep first-shelf.toml --vary seed=1,2 --format jsonl -o x.jsonl --shard 3/2",
        "slack first-shelf.toml",
        "slack tub.toml --drill round",
        "passage first-shelf.toml --drill careles",
        "search first-shelf.toml --drill careful",
        "search first-shelf.toml --drill careful --break 9",
        "search first-shelf.toml --drill careful --goal outcom='won'",
        "search first-shelf.toml --drill careful --goal outcome='won' --buttons fly",
        "tally first-shelf.toml --who beetel",
    ] {
        let words: Vec<&str> = ["study"].into_iter().chain(args.split(' ')).collect();
        let run = tool(&folder, &words);
        assert_eq!((run.code, run.out.as_str()), (2, ""), "{args}: {}", run.err);
        told += &format!("$ tin-crown study {args}\n{}\n", run.err);
    }
    assert_snapshot!("study_errors", told);
    assert!(!folder.join("x.jsonl.part").exists() && !folder.join("x.csv.part").exists());
}

#[test]
fn studies_of_a_drill_read_well() {
    let folder = demo();
    let read = |args: &[&str]| {
        let run = tool(&folder, &[&["study"], args].concat());
        assert_eq!((run.code, run.err.as_str()), (0, ""), "{args:?}");
        run.out
    };
    assert_snapshot!(
        "slack",
        read(&[
            "slack",
            "first-shelf.toml",
            "--drill",
            "careful",
            "--reach",
            "20t",
            "--runs",
            "100"
        ])
    );
    assert_snapshot!(
        "passage",
        read(&["passage", "attic.toml", "--drill", "clean", "--cap", "140t"])
    );
    assert_snapshot!("tally", read(&["tally", "second-shelf.toml"]));
    let goal = [
        "search",
        "first-shelf.toml",
        "--drill",
        "careful",
        "--goal",
        "death = { who = 'porter' }",
    ];
    assert_snapshot!("search", read(&goal));
    let none = [
        "search",
        "first-shelf.toml",
        "--drill",
        "careful",
        "--goal",
        "death = { who = 'drawer' }",
        "--budget",
        "64",
    ];
    assert_snapshot!("search_nothing", read(&none));
    for name in ["slack", "passage", "tally", "search"] {
        let args: &[&str] = match name {
            "slack" => &[
                "slack",
                "first-shelf.toml",
                "--drill",
                "careful",
                "--reach",
                "2t",
                "--runs",
                "10",
            ],
            "passage" => &[
                "passage",
                "first-shelf.toml",
                "--drill",
                "careless",
                "--cap",
                "20t",
            ],
            "tally" => &["tally", "first-shelf.toml"],
            _ => &goal,
        };
        let json = read(&[args, &["--format", "json"]].concat());
        assert!(
            serde_json::from_str::<serde_json::Value>(&json).is_ok(),
            "{name}"
        );
    }
}

#[test]
fn what_a_search_finds_is_written_out_as_a_drill_that_replays() {
    let folder = shelf();
    let args = [
        "study",
        "search",
        "shelf.toml",
        "--drill",
        "careful",
        "--break",
        "5",
        "-o",
        "found.toml",
    ];
    let run = tool(folder.path(), &args);
    assert_eq!(run.code, 1, "{}", run.err);
    assert!(
        run.err
            .contains("tin-crown replay found.toml --drill careful-found"),
        "{}",
        run.err
    );
    let replayed = tool(
        folder.path(),
        &["replay", "found.toml", "--drill", "careful-found"],
    );
    assert_eq!(replayed.code, 0, "{}{}", replayed.out, replayed.err);
    let text = fs::read_to_string(folder.path().join("found.toml")).expect("a file");
    assert!(text.starts_with(tin_crown::demo::FIRST_SHELF.trim_end()));
}

#[test]
fn expectations_beside_the_file_count_and_drills_keep_their_order() {
    let folder = shelf();
    let at = |name: &str| folder.path().join(name);
    // Written in another order than that of their names.
    let text = tin_crown::demo::STARTER.to_owned() + "\n[drill.a-look]\nlength = \"1s\"\n";
    fs::write(at("duel.toml"), text).expect("a file");
    let drills = || {
        let run = tool(
            folder.path(),
            &[
                "study",
                "sweep",
                "duel.toml",
                "--vary",
                "seed=1,2",
                "--format",
                "csv",
            ],
        );
        assert_eq!(run.code, 0, "{}", run.err);
        let mut reader = csv::Reader::from_reader(run.out.as_bytes());
        let rows = reader.records().map(|row| row.expect("a row"));
        // The drill, and how much is expected of it.
        rows.map(|row| (row[1].to_owned(), row[4].to_owned()))
            .collect::<Vec<_>>()
    };
    let alone = drills();
    assert_eq!(alone[0].0, "walk-into-it");
    let beside = "edition = 1\n[[expect]]\nnever = { reset = {} }\n[drill.a-look]\nexpect = [{ outcome = \"ended\" }]\n";
    fs::write(at("duel.expect.toml"), beside).expect("a file");
    let more = |count: &str, by: u32| (count.parse::<u32>().expect("a number") + by).to_string();
    let expected = alone.iter().map(|(drill, count)| {
        let by = if drill == "a-look" { 2 } else { 1 };
        (drill.clone(), more(count, by))
    });
    assert_eq!(drills(), expected.collect::<Vec<_>>());
    // And one of them can be broken: by waiting for the hit, the look does not end by itself.
    let told = tool(
        folder.path(),
        &[
            "study",
            "search",
            "duel.toml",
            "--drill",
            "a-look",
            "--break",
            "9",
        ],
    )
    .err;
    assert!(told.contains("has 2 expectations to break"), "{told}");
}

#[test]
fn names_of_whatever_letters_are_swept_and_drawn() {
    let folder = folder();
    let text = tin_crown::demo::STARTER.replace("spikes prick hero", "v1.5 = [spikes]");
    fs::write(folder.path().join("odd.toml"), text).expect("a file");
    let axis = "rule.\"v1.5 = [spikes]\".damage=1..3/1";
    let args = [
        "study",
        "sweep",
        "odd.toml",
        "--vary",
        axis,
        "--format",
        "jsonl",
        "-o",
        "odd.jsonl",
        "--plot",
        "odd.svg",
    ];
    let run = tool(folder.path(), &args);
    assert_eq!((run.code, run.err.as_str()), (0, ""));
    let svg = fs::read_to_string(folder.path().join("odd.svg")).expect("a picture");
    for shown in [">1<", ">2<", ">3<", "now 1"] {
        assert!(svg.contains(shown), "{shown}");
    }
    let merged = tool(
        folder.path(),
        &["study", "merge", "odd.jsonl", "--format", "csv"],
    );
    assert_eq!((merged.code, merged.out.lines().count()), (0, 4));
    // What is found in a JSON file is written as one.
    let json = tin_crown::check(tin_crown::demo::STARTER.as_bytes())
        .encounter
        .expect("it can be read")
        .to_json();
    fs::write(folder.path().join("duel.json"), json).expect("a file");
    let goal = "never = { hit = { whom = 'hero' } }";
    let run = tool(
        folder.path(),
        &[
            "study",
            "search",
            "duel.json",
            "--goal",
            goal,
            "-o",
            "found.json",
        ],
    );
    assert_eq!(run.code, 0, "{}", run.err);
    let replayed = tool(
        folder.path(),
        &["replay", "found.json", "--drill", "walk-into-it-found"],
    );
    assert_eq!(replayed.code, 0, "{}", replayed.out);
}
