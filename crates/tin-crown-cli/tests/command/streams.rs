//! Files, standard streams and exit codes.

use crate::tool::{Run, demo, folder, tool, tool_reading};

#[test]
fn what_new_writes_passes_check_and_is_not_written_over() {
    let folder = folder();
    let at = folder.path();
    assert_eq!(tool(at, &["new", "duel.toml"]).code, 0);
    let check = tool(at, &["check", "--strict", "duel.toml"]);
    assert_eq!(
        (check.code, check.out.as_str()),
        (0, "duel.toml: 2 actors, 1 rule, 1 drill; no findings\n")
    );
    let again = tool(at, &["new", "duel.toml"]);
    assert_eq!(again.code, 2);
    assert!(again.err.contains("duel.toml already exists") && again.err.contains("--force"));
    assert_eq!(tool(at, &["new", "duel.toml", "--force"]).code, 0);
    let piped = tool_reading(at, &["check", "-"], &tool(at, &["new", "-"]).out);
    assert_eq!(piped.code, 0);
}

#[test]
fn the_demo_can_be_written_and_replayed() {
    let folder = folder();
    assert_eq!(tool(folder.path(), &["demo", "--write", "a/b"]).code, 0);
    let run = tool(
        folder.path(),
        &[
            "replay",
            "a/b/first-shelf.toml",
            "--format",
            "jsonl",
            "-o",
            "out.jsonl",
        ],
    );
    assert_eq!((run.code, run.out.as_str(), run.err.as_str()), (0, "", ""));
    let written = std::fs::read_to_string(folder.path().join("out.jsonl")).expect("a ledger");
    let printed = tool(
        &demo(),
        &["replay", "first-shelf.toml", "--format", "jsonl"],
    )
    .out;
    assert_eq!(written, printed);
    for line in written.lines() {
        let value: serde_json::Value = serde_json::from_str(line).expect("each line is JSON");
        assert!(value.is_object());
    }
}

#[test]
fn a_csv_has_as_many_cells_in_every_row() {
    let run = tool(
        &demo(),
        &[
            "replay",
            "first-shelf.toml",
            "--drill",
            "careless",
            "--format",
            "csv",
        ],
    );
    let mut rows = csv::ReaderBuilder::new().from_reader(run.out.as_bytes());
    let rows: Vec<_> = rows
        .records()
        .collect::<Result<_, _>>()
        .expect("rows of one length");
    assert!(rows.len() > 10);
}

#[test]
fn pictures_are_what_their_names_say() {
    let folder = folder();
    let file = demo().join("first-shelf.toml");
    let file = file.to_str().expect("a plain path");
    let draw = |out: &str| {
        tool(
            folder.path(),
            &[
                "draw", file, "--drill", "careless", "--at", "1.1s", "-o", out,
            ],
        )
    };
    assert_eq!(draw("a.svg").code, 0);
    assert_eq!(draw("a.png").code, 0);
    let png = std::fs::read(folder.path().join("a.png")).expect("a picture");
    assert!(png.starts_with(b"\x89PNG\r\n\x1a\n"));
    let width = u32::from_be_bytes([png[16], png[17], png[18], png[19]]);
    assert_eq!(width, 1280);
    let svg = std::fs::read_to_string(folder.path().join("a.svg")).expect("a picture");
    assert_eq!(draw("-").out, svg);
    assert!(svg.contains("drill careless, tick 66, 1.100 s"));
}

#[test]
fn bad_usage_and_bad_places_end_with_2_and_say_what_to_do() {
    let folder = folder();
    let at = folder.path();
    let file = demo().join("first-shelf.toml");
    let file = file.to_str().expect("a plain path");
    std::fs::write(
        at.join("bare.toml"),
        "edition = 1\ntitle = \"x\"\n[arena]\nbounds = { min = [0, 0], max = [9, 9] }\n",
    )
    .expect("a file");
    let cases: &[(&[&str], &str)] = &[
        (
            &["replay", "nowhere.toml"],
            "cannot read nowhere.toml: there is no such file",
        ),
        (&["replay", "."], "it is a folder"),
        (&["replay", "bare.toml"], "has no drill"),
        (
            &["replay", file, "--drill", "carefull"],
            "did you mean `careful`?",
        ),
        (
            &["replay", file, "--who", "portr"],
            "did you mean `porter`?",
        ),
        (
            &["replay", file, "--who", "porter.torso"],
            "boxes cannot be selected here",
        ),
        (&["replay", file, "--from", "5"], "a duration needs a unit"),
        (
            &["replay", file, "--format", "csv"],
            "a CSV holds one drill",
        ),
        (
            &["replay", file, "-o", "no/such/folder/out.txt"],
            "there is no folder no/such/folder",
        ),
        (&["replay", file, "-o", "."], "it is a folder"),
        (
            &["replay", file, "--format", "yaml"],
            "invalid value 'yaml'",
        ),
        (
            &["draw", file, "--at", "1s", "-o", "x.svg"],
            "has several drills",
        ),
        (
            &[
                "draw", file, "--drill", "careless", "--at", "99s", "-o", "x.svg",
            ],
            "is over after tick",
        ),
        (
            &["draw", file, "--drill", "careless", "-o", "x.jpg"],
            "neither .svg nor .png",
        ),
        (
            &["check", "bare.toml", "nowhere.toml"],
            "cannot read nowhere.toml",
        ),
        (&["chek"], "unrecognized subcommand"),
    ];
    for (args, words) in cases {
        let run = tool(at, args);
        assert_eq!(run.code, 2, "{args:?}: {}{}", run.out, run.err);
        assert!(run.err.contains(words), "{args:?}: {}", run.err);
    }
    assert!(
        !at.join("x.svg").exists(),
        "nothing is written by a run that fails"
    );
}

#[test]
fn large_and_odd_files_are_one_finding() {
    let folder = folder();
    let at = folder.path();
    std::fs::write(at.join("huge.toml"), vec![b'#'; 100 << 20]).expect("room for it");
    std::fs::write(at.join("binary.toml"), [0xffu8, 0, 1, 2, 0x80]).expect("a file");
    std::fs::write(at.join("empty.toml"), "").expect("a file");
    for (name, words) in [
        ("huge.toml", "larger than 8 MiB"),
        ("binary.toml", "is not UTF-8 text"),
        ("empty.toml", "`edition` is required"),
    ] {
        let Run { code, out, .. } = tool(at, &["check", name]);
        assert_eq!(code, 2);
        assert!(
            out.contains(words) && out.contains("1 error"),
            "{name}: {out}"
        );
    }
}

#[test]
fn colour_only_when_asked_for() {
    let file = demo().join("first-shelf.toml");
    let file = file.to_str().expect("a plain path");
    let folder = folder();
    let plain = tool(folder.path(), &["replay", file]).out;
    let coloured = tool(folder.path(), &["replay", file, "--color", "always"]).out;
    assert!(!plain.contains('\u{1b}') && coloured.contains('\u{1b}'));
    tool(
        folder.path(),
        &["replay", file, "--color", "always", "-o", "out.txt"],
    );
    let written = std::fs::read_to_string(folder.path().join("out.txt")).expect("a table");
    assert_eq!(written, plain);
}

#[test]
fn completions_for_every_shell() {
    let folder = folder();
    for shell in ["bash", "zsh", "fish", "powershell", "elvish"] {
        let run = tool(folder.path(), &["completions", shell]);
        assert_eq!(run.code, 0);
        assert!(
            run.out.contains("tin-crown") && run.out.contains("TIN_CROWN_COMPLETE"),
            "{shell}: {}",
            run.out
        );
    }
}

#[cfg(unix)]
#[test]
fn links_and_pipes_are_written_through() {
    let folder = folder();
    let at = |name: &str| folder.path().join(name);
    std::fs::create_dir(at("there")).expect("a folder");
    std::fs::write(at("there/real.toml"), "old").expect("a file");
    std::os::unix::fs::symlink("there/real.toml", at("link.toml")).expect("a link");
    assert_eq!(
        tool(folder.path(), &["new", "link.toml", "--force"]).code,
        0
    );
    assert!(
        at("link.toml")
            .symlink_metadata()
            .expect("it is there")
            .is_symlink()
    );
    let real = std::fs::read_to_string(at("there/real.toml")).expect("it is there");
    assert!(real.contains("edition = 1"));
    let made = std::process::Command::new("mkfifo")
        .arg(at("pipe"))
        .status();
    assert!(made.expect("it runs").success());
    let pipe = at("pipe");
    let reader = std::thread::spawn(move || std::fs::read_to_string(pipe).expect("it is text"));
    assert_eq!(tool(folder.path(), &["new", "pipe", "--force"]).code, 0);
    assert_eq!(reader.join().expect("it ends"), real);
}

#[test]
fn every_picture_is_drawn_and_bad_requests_say_what_to_do() {
    let folder = folder();
    let draw = |more: &[&str]| {
        let file = demo().join("first-shelf.toml").display().to_string();
        let args: Vec<&str> = ["draw", &file].iter().chain(more).copied().collect();
        tool(folder.path(), &args)
    };
    let umbrella = ["--drill", "umbrella"];
    for (more, words) in [
        (&["--timeline"][..], "guard"),
        (
            &[
                "--timeline",
                "--who",
                "porter",
                "--from",
                "1s",
                "--to",
                "2s",
            ],
            "1.000 s to 2.000 s",
        ),
        (&["--matrix"], "3 health"),
        (&["--matrix", "--by-kind"], "tin-porter"),
        (&["--strip"], "tick 67"),
        (&["--strip", "--every", "1s"], "2.000 s, tick 120"),
        (&["--at", "1s", "--zoom", "porter"], "porter"),
        (&["--at", "1s", "--zoom", "0,0,200,100"], "beetle_1"),
    ] {
        let svg = draw(&[&umbrella, more, &["-o", "-"]].concat());
        assert_eq!((svg.code, svg.err.as_str()), (0, ""), "{more:?}");
        assert!(
            svg.out.starts_with("<svg") && svg.out.contains(words),
            "{more:?}"
        );
        let png = draw(&[&umbrella, more, &["-o", "out.png", "--theme", "graphite"]].concat());
        assert_eq!(png.code, 0, "{more:?}: {}", png.err);
        let bytes = std::fs::read(folder.path().join("out.png")).expect("it is written");
        assert!(bytes.starts_with(b"\x89PNG"));
    }
    let sheet = draw(&["--kind", "stag-beetle", "-o", "-"]);
    assert!(sheet.out.contains("antlers"), "a kind needs no drill");
    for (more, words) in [
        (&["--kind", "stag"][..], "known: beetle, drawer"),
        (
            &["--drill", "umbrella", "--timeline", "--who", "portr"],
            "did you mean `porter`?",
        ),
        (
            &["--drill", "umbrella", "--timeline", "--from", "9s"],
            "the drill ends on tick 330",
        ),
        (
            &["--drill", "umbrella", "--zoom", "nobody"],
            "does not exist on tick 0",
        ),
        (&["--drill", "umbrella", "--zoom", "1,2,3"], "x1,y1,x2,y2"),
        (
            &["--drill", "umbrella", "--zoom", "1,2,1,2"],
            "some width and height",
        ),
        (
            &["--drill", "umbrella", "--timeline", "--matrix"],
            "cannot be used with",
        ),
        (&["--drill", "umbrella", "--by-kind"], "--matrix"),
    ] {
        let run = draw(&[more, &["-o", "no.svg"]].concat());
        assert_eq!((run.code, run.out.as_str()), (2, ""), "{more:?}");
        assert!(run.err.contains(words), "{more:?}: {}", run.err);
    }
    assert!(!folder.path().join("no.svg").exists());
}
