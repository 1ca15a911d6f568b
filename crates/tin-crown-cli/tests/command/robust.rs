//! What nobody should do, and what then comes back: words, the right exit code, nothing written over, and
//! no control code on anybody's terminal.

use std::fs;
use std::io::{Read, Write};
use std::path::Path;
use std::process::{Command, Stdio};
use std::time::{Duration, Instant};

use crate::tool::{Run, demo, folder, tool, tool_reading};

/// What no output may have but as an escape.
fn is_raw(c: char) -> bool {
    (c.is_control() && c != '\n') || matches!(c, '\u{202a}'..='\u{202e}' | '\u{2066}'..='\u{2069}')
}

fn starter() -> String {
    fs::read_to_string(demo().join("starter.toml")).expect("the starter")
}

/// The tool as a plain process.
fn process(folder: &Path, args: &[&str]) -> Command {
    let mut command = Command::new(assert_cmd::cargo::cargo_bin("tin-crown"));
    command.args(args).current_dir(folder);
    command
}

#[test]
fn whatever_is_wrong_there_are_words_and_no_control_codes() {
    let good = starter();
    let named = |name: &str| {
        good.replace("burr", name)
            .replace(&format!("{name}."), "burr.")
    };
    let bad: Vec<(&str, Vec<u8>)> = vec![
        ("empty", Vec::new()),
        (
            "empty hitbox",
            good.replace("hitbox = \"burr.", "hitbox = \"").into_bytes(),
        ),
        (
            "hash",
            good.replace("hurtbox = \"hero.", "hurtbox = \"#.")
                .into_bytes(),
        ),
        ("escape", named("\\u001b]0;pwn\\u0007").into_bytes()),
        ("raw C1", named("\u{9b}31m").into_bytes()),
        ("direction", named("\\u202egpj").into_bytes()),
        ("newline", named("a\\nb").into_bytes()),
        ("noncharacter", named("\\uffff").into_bytes()),
        (
            "title",
            good.replace("title = \"", "title = \"\\u001b[31m\\u0007\u{202e}")
                .into_bytes(),
        ),
        (
            "key",
            good.replace("side = ", "\"\\u001b[31m\" = ").into_bytes(),
        ),
        (
            "reference",
            good.replace("kind = \"hero\"", "kind = \"h\\u001b[31mro\"")
                .into_bytes(),
        ),
        ("Latin-1", b"edition = 1\ntitle = \"T\xfcr\"\n".to_vec()),
        (
            "UTF-16",
            good.encode_utf16().flat_map(u16::to_le_bytes).collect(),
        ),
        ("array", b"[\n  { \"edition\": 1 }\n]\n".to_vec()),
        ("comment", b"// an encounter\n{ \"edition\": 1 }\n".to_vec()),
        (
            "NUL",
            good.replace("title = \"", "title = \"\\u0000").into_bytes(),
        ),
        (
            "page",
            "<p class=\"x\">a page</p>\n".repeat(300).into_bytes(),
        ),
        (
            "long",
            good.replace("\"hero\"", &format!("\"{}\"", "h".repeat(100_000)))
                .into_bytes(),
        ),
        (
            "no drill",
            good.split("[drill.")
                .next()
                .unwrap_or_default()
                .as_bytes()
                .to_vec(),
        ),
    ];
    let folder = folder();
    let at = folder.path();
    fs::write(at.join("good.toml"), &good).expect("a file");
    for (name, bytes) in &bad {
        fs::write(at.join("bad.toml"), bytes).expect("a file");
        for args in [
            &["check", "bad.toml"][..],
            &["check", "--format", "json", "bad.toml"],
            &["check", "--format", "sarif", "bad.toml"],
            &["replay", "bad.toml"],
            &["replay", "bad.toml", "--format", "junit"],
            &["replay", "good.toml", "--expect", "bad.toml"],
            &["why", "bad.toml", "--who", "burr", "--whom", "hero"],
            &["compare", "good.toml", "bad.toml"],
            &["coverage", "bad.toml"],
            &["draw", "bad.toml", "--at", "1t", "-o", "-"],
            &["draw", "bad.toml", "--strip", "-o", "-"],
            &["draw", "bad.toml", "--kind", "hero", "-o", "-"],
            &["trace", "bad.toml"],
            &["trace", "bad.toml", "--kind", "hero"],
            &["report", "bad.toml", "-o", "-"],
        ] {
            let Run { code, out, err } = tool(at, args);
            assert!((0..=2).contains(&code), "{name} {args:?}: {code}");
            assert!(
                err.len() < 60_000,
                "{name} {args:?}: a name is echoed whole"
            );
            let all = out + &err;
            assert!(code == 0 || !all.trim().is_empty(), "{name} {args:?}");
            assert_eq!(all.chars().find(|c| is_raw(*c)), None, "{name} {args:?}");
        }
    }
    // What is an error to check is one to all.
    for name in [
        "empty hitbox",
        "hash",
        "escape",
        "direction",
        "Latin-1",
        "array",
        "page",
        "long",
    ] {
        let (_, bytes) = bad
            .iter()
            .find(|(own, _)| own == &name)
            .expect("it is there");
        fs::write(at.join("bad.toml"), bytes).expect("a file");
        let [check, replay] = ["check", "replay"].map(|command| tool(at, &[command, "bad.toml"]));
        assert_eq!((check.code, replay.code), (2, 2), "{name}");
    }
    // A mistake on each line: no encounter at all. A few of them: the first five, and how many more.
    fs::write(at.join("bad.toml"), &bad[16].1).expect("a file");
    let page = tool(at, &["check", "bad.toml"]).out;
    assert_eq!(page.matches("error[syntax]").count(), 1);
    assert!(page.contains("301 places are no TOML"), "{page}");
    fs::write(at.join("bad.toml"), "no toml\n".repeat(9)).expect("a file");
    let few = tool(at, &["check", "bad.toml"]).out;
    assert_eq!(few.matches("error[syntax]").count(), 5);
    assert!(few.contains("and 4 more errors"), "{few}");
}

#[test]
fn paths_and_arguments_are_shown_and_not_obeyed() {
    let folder = folder();
    let at = folder.path();
    let odd = "\u{1b}]0;pwn\u{7}\u{9b}31m.toml";
    fs::write(at.join(odd), starter()).expect("a file");
    for args in [
        &["check", odd][..],
        &["check", "--format", "json", odd],
        &["replay", odd],
        &["replay", odd, "--accept"],
        &["replay", "nowhere\u{1b}[31m"],
        &["replay", odd, "--drill", "\u{1b}[31m"],
        &["replay", odd, "--who", "\u{202e}"],
        &["replay", odd, "-o", "no\u{7}/x"],
        &["report", odd, "-o", "-"],
        &["\u{1b}[31m"],
        &["check", "--\u{1b}[31m"],
        &["draw", odd, "-o", "x.\u{1b}[31m"],
        &["trace", odd],
        &["trace", odd, "--kind", "\u{1b}[31m"],
        &["new", "\u{1b}[31m.toml"],
    ] {
        let run = tool(at, args);
        let raw = (run.out + &run.err).chars().find(|c| is_raw(*c));
        assert_eq!(raw, None, "{args:?}");
    }
    // Nor what is read from ledgers and golden records.
    let header = "{\"edition\":1,\"title\":\"t\",\"drill\":\"d\",\"seed\":0,\"rate\":60}\n";
    for name in ["\\u001b[31m", "\u{9b}31m", "\\u202e", "\u{202e}"] {
        let line = format!("{{\"tick\":1,\"event\":\"appear\",\"who\":\"{name}\"}}\n");
        fs::write(at.join("one.jsonl"), format!("{header}{line}")).expect("a file");
        fs::write(at.join("other.jsonl"), header).expect("a file");
        for format in ["text", "json"] {
            let run = tool(
                at,
                &["compare", "one.jsonl", "other.jsonl", "--format", format],
            );
            assert_eq!(run.code, 2, "{name}: {}", run.out);
            assert!(run.err.contains("line 2"), "{}", run.err);
            assert_eq!(
                (run.out + &run.err).chars().find(|c| is_raw(*c)),
                None,
                "{name}"
            );
        }
    }
}

#[test]
fn nothing_that_is_read_is_written_over() {
    let folder = folder();
    let at = folder.path();
    let text = starter();
    fs::write(at.join("in.toml"), &text).expect("a file");
    fs::write(at.join("in.expect.toml"), "edition = 1\n").expect("a file");
    assert_eq!(tool(at, &["replay", "in.toml", "--accept"]).code, 0);
    #[cfg(unix)]
    std::os::unix::fs::symlink("in.toml", at.join("link.svg")).expect("a link");
    let golden = fs::read(at.join("in.golden.jsonl")).expect("a golden record");
    for args in [
        &["replay", "in.toml", "-o", "in.toml"][..],
        &["replay", "in.toml", "-o", "./in.toml"],
        &["replay", "in.toml", "-o", "in.expect.toml"],
        &["replay", "in.toml", "-o", "in.golden.jsonl"],
        &["report", "in.toml", "-o", "in.toml"],
        &["watch", "in.toml", "--report", "in.toml"],
        &["watch", "in.toml", "--report", "in.expect.toml"],
        #[cfg(unix)]
        &["draw", "in.toml", "-o", "link.svg"],
        #[cfg(unix)]
        &["trace", "in.toml", "--kind", "hero", "-o", "link.svg"],
    ] {
        let run = tool(at, args);
        assert_eq!(run.code, 2, "{args:?}: {}", run.out);
        assert!(run.err.contains("overwritten"), "{args:?}: {}", run.err);
    }
    assert_eq!(
        fs::read_to_string(at.join("in.toml")).expect("it is there"),
        text
    );
    assert_eq!(
        fs::read(at.join("in.golden.jsonl")).expect("it is there"),
        golden
    );

    // The demo's files are written over only as they were, or when told so.
    let write = ["demo", "--write", "attic"];
    assert_eq!(tool(at, &write).code, 0);
    assert_eq!(tool(at, &write).code, 0);
    let edited = at.join("attic/first-shelf.toml");
    fs::write(&edited, "# mine\n").expect("a file");
    let run = tool(at, &write);
    assert_eq!(run.code, 2);
    assert!(
        run.err.contains("first-shelf.toml") && run.err.contains("--force"),
        "{}",
        run.err
    );
    assert_eq!(
        fs::read_to_string(&edited).expect("it is there"),
        "# mine\n"
    );
    assert_eq!(tool(at, &[&write[..], &["--force"]].concat()).code, 0);
    assert!(
        fs::read_to_string(&edited)
            .expect("it is there")
            .contains("edition = 1")
    );
}

#[cfg(unix)]
#[test]
fn a_file_that_is_replaced_keeps_its_mode() {
    use std::os::unix::fs::PermissionsExt;
    let folder = folder();
    let at = folder.path();
    fs::write(at.join("in.toml"), starter()).expect("a file");
    for mode in [0o600, 0o664] {
        fs::write(at.join("out.txt"), "old").expect("a file");
        fs::set_permissions(at.join("out.txt"), fs::Permissions::from_mode(mode)).expect("a mode");
        assert_eq!(tool(at, &["replay", "in.toml", "-o", "out.txt"]).code, 0);
        let there = fs::metadata(at.join("out.txt")).expect("it is there");
        assert_eq!(there.permissions().mode() & 0o777, mode);
    }
}

#[cfg(unix)]
#[test]
fn closed_and_full_streams_hide_no_failure() {
    let folder = folder();
    let at = folder.path();
    fs::write(at.join("good.toml"), starter()).expect("a file");
    fs::write(at.join("bad.toml"), "edition = 1\n").expect("a file");
    fs::copy(demo().join("first-shelf.toml"), at.join("shelf.toml")).expect("a file");
    fs::write(
        at.join("good.expect.toml"),
        "edition = 1\n[[expect]]\noutcome = \"won\"\n",
    )
    .expect("a file");
    // Whoever reads goes away at once, and after a line.
    for (args, lines, code) in [
        (&["check", "bad.toml"][..], 0, 2),
        (&["replay", "good.toml"], 1, 1),
        (&["replay", "good.toml", "--format", "jsonl"], 1, 1),
        (&["check", "good.toml"], 0, 0),
        (&["coverage", "shelf.toml", "--at-least", "100"], 0, 1),
    ] {
        let mut child = process(at, args)
            .stdout(Stdio::piped())
            .stderr(Stdio::null())
            .spawn()
            .expect("it runs");
        let mut out = child.stdout.take().expect("a pipe");
        if lines > 0 {
            out.read_exact(&mut [0]).expect("a byte");
        }
        drop(out);
        assert_eq!(
            child.wait().expect("it ends").code(),
            Some(code),
            "{args:?}"
        );
    }
    if let Ok(full) = fs::OpenOptions::new().write(true).open("/dev/full") {
        let run = process(at, &["replay", "nope.toml"]).stderr(full).status();
        assert_eq!(run.expect("it runs").code(), Some(2));
        for args in [
            &["check", "good.toml"][..],
            &["--help"],
            &["--version"],
            &["schema"],
            &["completions", "bash"],
        ] {
            let full = fs::OpenOptions::new()
                .write(true)
                .open("/dev/full")
                .expect("a device");
            let run = process(at, args).stdout(full).output().expect("it runs");
            assert_eq!(run.status.code(), Some(2), "{args:?}");
            let said = String::from_utf8_lossy(&run.stderr);
            let told = "cannot write to standard output: there is no space left\n";
            assert!(said.ends_with(told), "{args:?}: {said}");
        }
    }
}

/// Half of a file is never left, nor is a file that nobody asked for.
#[cfg(unix)]
#[test]
fn ctrl_c_while_a_file_is_written_leaves_nothing() {
    let folder = folder();
    let at = folder.path();
    // A line on every tick: writing them takes far longer than to send the signal.
    let long = "edition = 1\ntitle = \"long\"\narena.bounds = { min = [0, 0], max = [9, 9] }\n\
                [kind.lamp]\nstarts = \"on\"\nstate.on.go = [{ to = \"off\", when = { after = \"1t\" } }]\n\
                state.off.go = [{ to = \"on\", when = { after = \"1t\" } }]\n\
                [[place]]\nkind = \"lamp\"\nat = [5, 5]\n[drill.long]\nlength = \"200000t\"\n";
    fs::write(at.join("in.toml"), long).expect("a file");
    let mut child = process(
        at,
        &["replay", "in.toml", "--format", "jsonl", "-o", "out.jsonl"],
    )
    .spawn()
    .expect("it runs");
    let names = || {
        let all = fs::read_dir(at).expect("a folder").flatten();
        let names = all.map(|own| own.file_name().to_string_lossy().into_owned());
        names.filter(|name| name != "in.toml").collect::<Vec<_>>()
    };
    while names().is_empty() {
        assert!(child.try_wait().expect("it runs").is_none(), "it is over");
        std::thread::sleep(Duration::from_millis(1));
    }
    let id = child.id().to_string();
    let kill = Command::new("kill").args(["-INT", &id]).status();
    assert!(kill.expect("kill runs").success());
    assert_eq!(child.wait().expect("it ends").code(), Some(130));
    assert_eq!(names(), Vec::<String>::new());
}

/// Nobody may ever write to a pipe: in the place of a drawing or a recording it is refused.
#[cfg(unix)]
#[test]
fn a_pipe_in_the_place_of_a_drawing_or_a_recording_is_refused() {
    let folder = folder();
    let at = folder.path();
    fs::create_dir(at.join("runs")).expect("a folder");
    for name in ["beetle.png", "run.csv", "runs/run.csv"] {
        let made = Command::new("mkfifo").arg(at.join(name)).status();
        assert!(made.expect("mkfifo runs").success());
    }
    let sprite = "[kind.hero]\nsprite = { file = \"beetle.png\" }";
    let track = "[drill.walk-into-it]\ntrack = [{ file = \"run.csv\" }]";
    fs::write(
        at.join("drawn.toml"),
        starter().replacen("[kind.hero]", sprite, 1),
    )
    .expect("a file");
    let moved = starter().replacen("[drill.walk-into-it]", track, 1);
    fs::write(at.join("moved.toml"), moved).expect("a file");
    for args in [
        &["trace", "beetle.png"][..],
        &["trace", "drawn.toml", "--kind", "hero"],
        &["replay", "moved.toml"],
        &["replay", "moved.toml", "--track-dir", "runs"],
        &["compare", "drawn.toml", "--log", "run.csv"],
    ] {
        let run = tool(at, args);
        assert_eq!(run.code, 2, "{args:?}: {}", run.err);
        let told = run.err.contains("it is not a regular file");
        assert!(told || args[1] == "drawn.toml", "{args:?}: {}", run.err);
    }
}

/// What cannot be is told in words of ours, with as many digits as help.
#[test]
fn numbers_places_and_drawings_that_cannot_be_are_told_plainly() {
    let folder = folder();
    let at = folder.path();
    let png = fs::read(demo().join("beetle.png")).expect("a drawing");
    fs::write(at.join("good.png"), &png).expect("a file");
    fs::write(at.join("cut.png"), &png[..png.len() / 2]).expect("a file");
    let mut damaged = png.clone();
    damaged[png.len() / 2] ^= 0xff;
    fs::write(at.join("damaged.png"), damaged).expect("a file");
    fs::write(at.join("in.toml"), starter()).expect("a file");
    let wide = starter().replacen("gravity = 900", "gravity = 1e300", 1);
    fs::write(at.join("wide.toml"), wide).expect("a file");
    let state = starter().replacen(
        "[kind.hero]",
        "[kind.hero]\nstate.idle = { gravity = 1 }",
        1,
    );
    fs::write(at.join("state.toml"), state).expect("a file");
    let never = format!(
        "{}\n[[expect]]\nnever = {{ place = {{ who = \"hero\" }} }}\n",
        starter()
    );
    fs::write(at.join("never.toml"), never).expect("a file");
    for (args, told) in [
        (
            &["trace", "cut.png"][..],
            "cannot trace cut.png: this PNG is cut short\n",
        ),
        (
            &["trace", "damaged.png"],
            "cannot trace damaged.png: this PNG is damaged\n",
        ),
        (&["trace", "in.csv"], "there is no such file"),
        (
            &["trace", "good.png", "--at", "1e308,0"],
            "--at 1e308 is out of range",
        ),
        (
            &["trace", "good.png", "--part", "0,0,0,0"],
            "expected left, top, width and height",
        ),
        (
            &["compare", "-", "-"],
            "standard input cannot be read twice",
        ),
        (
            &["replay", "in.toml", "--from", "2s", "--to", "1s"],
            "--from 2s is after --to 1s",
        ),
        (
            &[
                "draw",
                "in.toml",
                "--timeline",
                "-o",
                "-",
                "--from",
                "2s",
                "--to",
                "1s",
            ],
            "--from 2s is after --to 1s",
        ),
        (&["check", "wide.toml"], "1e300 is not between"),
        (&["check", "state.toml"], "`gravity` is a key of the kind"),
        (&["check", "never.toml"], "holds = \"always\""),
        (
            &["replay", "in.toml", "-o", "no/x.txt"],
            "there is no folder no",
        ),
    ] {
        let run = tool(at, args);
        assert_eq!(run.code, 2, "{args:?}: {}{}", run.out, run.err);
        let said = run.out + &run.err;
        assert!(said.contains(told), "{args:?}: {said}");
        assert!(
            !said.contains("os error") && !said.contains("00000000000000000"),
            "{args:?}: {said}"
        );
        assert!(said.matches("error[").count() <= 1, "{args:?}: {said}");
    }
}

#[test]
fn standard_input_is_read_once_and_options_without_effect_are_refused() {
    let folder = folder();
    let at = folder.path();
    let run = tool_reading(at, &["check", "-", "-"], &starter());
    assert_eq!((run.code, run.out.as_str()), (2, ""));
    fs::write(at.join("in.toml"), starter()).expect("a file");
    let draw = |more: &[&str]| tool(at, &[&["draw", "in.toml"], more, &["-o", "-"]].concat());
    for more in [
        &["--from", "1s"][..],
        &["--at", "1s", "--to", "2s"],
        &["--kind", "burr", "--from", "1s"],
        &["--kind", "burr", "--drill", "stroll"],
        &["--kind", "burr", "--zoom", "hero"],
        &["--matrix", "--who", "hero"],
        &["--strip", "--by-kind"],
        &["--timeline", "--every", "1s"],
        &["--matrix", "--zoom", "hero"],
    ] {
        let run = draw(more);
        assert_eq!((run.code, run.out.as_str()), (2, ""), "{more:?}");
        assert!(
            run.err.contains("has no effect here"),
            "{more:?}: {}",
            run.err
        );
    }
    // Between two times, of whatever shows time.
    for (more, words) in [
        (
            &["--strip", "--every", "0.5s", "--from", "1s", "--to", "2s"][..],
            ["1.000 s, tick 60", "2.000 s, tick 120"],
        ),
        (
            &["--matrix", "--from", "1s", "--to", "2s"],
            ["1.000 s to 2.000 s", "ticks 60 to 120"],
        ),
        (
            &["--strip", "--every", "1s", "--zoom", "hero"],
            ["0.000 s, tick 0", "hero"],
        ),
    ] {
        let run = draw(more);
        assert_eq!(run.code, 0, "{more:?}: {}", run.err);
        assert!(
            words.iter().all(|words| run.out.contains(words)),
            "{more:?}"
        );
        let before = run.out.contains("0.500 s, tick 30");
        assert!(!before || !more.contains(&"--from"), "{more:?}");
    }
    let run = draw(&["--strip", "--zoom", "nobody"]);
    assert_eq!(run.code, 2);
    assert!(run.err.contains("`nobody` does not exist"), "{}", run.err);
}

#[test]
fn what_stands_beside_an_encounter_is_checked_with_it() {
    let folder = folder();
    let at = folder.path();
    fs::write(at.join("in.toml"), starter()).expect("a file");
    fs::write(
        at.join("in.expect.toml"),
        "edition = 1\n[[expect]]\noutcom = \"won\"\n",
    )
    .expect("a file");
    let run = tool(at, &["check", "in.toml"]);
    assert_eq!(run.code, 2);
    assert!(
        run.out.contains("in.expect.toml:3") && run.out.contains("did you mean `outcome`?"),
        "{}",
        run.out
    );
}

#[test]
fn runs_that_never_end_name_launcher_drill_and_file() {
    let folder = folder();
    let at = folder.path();
    let text = "edition = 1\ntitle = \"t\"\n[arena]\nbounds = { min = [0, 0], max = [9, 9] }\n[kind.a]\n\
                launcher.spawn = { launches = \"a\", clock = { every = \"9t\", first = \"1t\" }, shot = false }\n\
                lifetime = \"5t\"\n[[place]]\nkind = \"a\"\nat = [5, 5]\n[drill.d]\nlength = \"9s\"\n";
    fs::write(at.join("grows.toml"), text).expect("a file");
    for args in [
        &["replay", "grows.toml"][..],
        &["coverage", "grows.toml"],
        &["why", "grows.toml", "--who", "a", "--whom", "a"],
        &["compare", "grows.toml", "grows.toml"],
        &["report", "grows.toml", "-o", "-"],
        &["draw", "grows.toml", "--timeline", "-o", "-"],
        &["draw", "grows.toml", "--at", "60t", "-o", "-"],
    ] {
        let run = tool(at, args);
        assert_eq!(run.code, 2, "{args:?}");
        for words in ["grows.toml", "launcher `spawn`", "drill `d`"] {
            assert!(run.err.contains(words), "{args:?}: {}", run.err);
        }
    }
}

#[test]
fn ledgers_have_a_size_that_is_told() {
    let folder = folder();
    let at = folder.path();
    fs::write(at.join("in.toml"), starter()).expect("a file");
    // Beyond 8 MiB they are compared to the end.
    let line = "{\"tick\":1,\"event\":\"appear\",\"who\":\"somebody\"}\n";
    let header = "{\"edition\":1,\"title\":\"t\",\"drill\":\"d\",\"seed\":0,\"rate\":60}\n";
    let long = format!("{header}{}", line.repeat((9 << 20) / line.len()));
    fs::write(at.join("one.jsonl"), &long).expect("a file");
    fs::write(
        at.join("other.jsonl"),
        format!("{long}{}", line.replace("body", "one")),
    )
    .expect("a file");
    assert_eq!(tool(at, &["compare", "one.jsonl", "one.jsonl"]).code, 0);
    let run = tool(at, &["compare", "one.jsonl", "other.jsonl"]);
    assert_eq!(run.code, 1);
    assert!(run.out.contains("1 new, 0 gone"), "{}", &run.out[..200]);
    // Beyond the limit they are not begun.
    let file = fs::File::create(at.join("large.jsonl")).expect("a file");
    (&file).write_all(header.as_bytes()).expect("it takes it");
    file.set_len(tin_crown::limits::RECORD_BYTES + 1)
        .expect("room for holes");
    let run = tool(at, &["compare", "large.jsonl", "one.jsonl"]);
    assert_eq!(run.code, 2);
    assert!(run.err.contains("too large"), "{}", run.err);
    fs::rename(at.join("large.jsonl"), at.join("in.golden.jsonl")).expect("a name");
    let run = tool(at, &["replay", "in.toml"]);
    assert_eq!(run.code, 2);
    assert!(
        run.err.contains("in.golden.jsonl is too large"),
        "{}",
        run.err
    );
    #[cfg(unix)]
    if Path::new("/dev/zero").exists() {
        fs::remove_file(at.join("in.golden.jsonl")).expect("it is there");
        std::os::unix::fs::symlink("/dev/zero", at.join("in.golden.jsonl")).expect("a link");
        assert_eq!(tool(at, &["replay", "in.toml"]).code, 2);
    }
}

#[cfg(unix)]
#[test]
fn a_watch_outlives_a_file_that_never_ends() {
    let folder = folder();
    let at = folder.path();
    let file = at.join("in.toml");
    fs::write(&file, starter()).expect("a file");
    let mut child = process(at, &["watch", "in.toml"])
        .stdout(Stdio::piped())
        .stderr(Stdio::null())
        .spawn()
        .expect("it runs");
    let mut out = child.stdout.take().expect("a pipe");
    let (tell, told) = std::sync::mpsc::channel();
    std::thread::spawn(move || {
        let mut bytes = [0; 4096];
        while let Ok(count) = out.read(&mut bytes) {
            if count == 0
                || tell
                    .send(String::from_utf8_lossy(&bytes[..count]).into_owned())
                    .is_err()
            {
                break;
            }
        }
    });
    let wait = |words: &str| {
        let until = Instant::now() + Duration::from_secs(20);
        let mut all = String::new();
        while Instant::now() < until && !all.contains(words) {
            all += &told
                .recv_timeout(Duration::from_millis(100))
                .unwrap_or_default();
        }
        assert!(all.contains(words), "{words}: {all}");
    };
    wait("met");
    fs::remove_file(&file).expect("it is there");
    std::os::unix::fs::symlink("/dev/zero", &file).expect("a link");
    std::thread::sleep(Duration::from_millis(600));
    fs::remove_file(&file).expect("it is there");
    let made = Command::new("mkfifo").arg(&file).status();
    assert!(made.expect("it runs").success());
    std::thread::sleep(Duration::from_millis(600));
    fs::remove_file(&file).expect("it is there");
    fs::write(&file, starter().replace("speed = ", "speed = 1")).expect("a file");
    wait("saved");
    child.kill().expect("it runs");
    child.wait().expect("it ends");
}

#[cfg(unix)]
#[test]
fn bash_completes_commands_options_and_paths_of_the_encounter() {
    let folder = folder();
    let script = tool(folder.path(), &["completions", "bash"]).out;
    fs::write(folder.path().join("tin-crown.bash"), script).expect("a file");
    fs::write(folder.path().join("duel.toml"), tin_crown::demo::STARTER).expect("a file");
    let tool = assert_cmd::cargo::cargo_bin("tin-crown");
    let complete = |words: &[&str]| {
        let (last, nth) = (words[words.len() - 1], words.len() - 1);
        let line = format!(
            "source tin-crown.bash; COMP_WORDS=({}); COMP_CWORD={nth}; COMP_TYPE=9; \
             _clap_complete_tin_crown tin-crown '{last}' '{}'; echo \"${{COMPREPLY[@]}}\"",
            words.join(" "),
            words[nth - 1]
        );
        let path = tool.parent().expect("a folder").display().to_string();
        let run = Command::new("bash")
            .args(["-c", &line])
            .current_dir(folder.path())
            .env(
                "PATH",
                format!("{path}:{}", std::env::var("PATH").unwrap_or_default()),
            )
            .output();
        String::from_utf8(run.expect("bash runs").stdout).expect("text")
    };
    for (words, answer) in [
        (&["tin-crown", "rep"][..], "replay report\n"),
        (&["tin-crown", "replay", "--fo"], "--format\n"),
        (&["tin-crown", "draw", "--by"], "--by-kind\n"),
        (&["tin-crown", "replay", "x", "--format", "ju"], "junit\n"),
        (
            &[
                "tin-crown",
                "study",
                "sweep",
                "duel.toml",
                "--vary",
                "kind.burr.mo",
            ],
            "kind.burr.motion.patrol.between[1]= kind.burr.motion.patrol.between[2]= kind.burr.motion.patrol.speed=\n",
        ),
        (
            &["tin-crown", "study", "sweep", "none.toml", "--vary", "kind"],
            "\n",
        ),
    ] {
        assert_eq!(complete(words), answer, "{words:?}");
    }
}
