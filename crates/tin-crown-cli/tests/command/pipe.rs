//! The pipe: one line in, one line out, whatever the lines are.

use std::io::{BufRead, BufReader, Write};
use std::process::{Child, ChildStdin, ChildStdout, Command, Stdio};

use serde_json::{Value, json};

use crate::tool::{demo, tool, tool_reading};

struct Pipe {
    child: Child,
    input: ChildStdin,
    output: BufReader<ChildStdout>,
}

impl Pipe {
    fn open(file: &str) -> Pipe {
        let mut child = Command::new(assert_cmd::cargo::cargo_bin("tin-crown"))
            .args(["step", file])
            .current_dir(demo())
            .stdin(Stdio::piped())
            .stdout(Stdio::piped())
            .spawn()
            .expect("the tool runs");
        let input = child.stdin.take().expect("it is piped");
        let output = BufReader::new(child.stdout.take().expect("it is piped"));
        Pipe {
            child,
            input,
            output,
        }
    }

    fn hear(&mut self) -> Value {
        let mut line = String::new();
        self.output.read_line(&mut line).expect("it answers");
        serde_json::from_str(&line).unwrap_or_else(|error| panic!("{error}: {line}"))
    }

    /// The answer to a line, before another is sent.
    fn ask(&mut self, line: &str) -> Value {
        writeln!(self.input, "{line}").expect("it listens");
        self.hear()
    }

    /// The same as it is written.
    fn ask_raw(&mut self, line: &str) -> String {
        writeln!(self.input, "{line}").expect("it listens");
        let mut line = String::new();
        self.output.read_line(&mut line).expect("it answers");
        line
    }
}

#[test]
fn each_line_is_answered_before_the_next() {
    let mut pipe = Pipe::open("first-shelf.toml");
    let hello = pipe.hear();
    assert_eq!((&hello["pipe"], &hello["rate"]), (&json!(1), &json!(60)));
    assert_eq!(hello["events"].as_array().map(Vec::len), Some(6));
    let told = pipe.ask(
        r#"{"buttons":{"porter":{"right":true}},"tell":["poses","meters","boxes","windows"]}"#,
    );
    assert_eq!(told["tick"], 1);
    assert_eq!(told["events"][0]["event"], "input");
    assert_eq!(told["poses"]["porter"]["velocity"], json!([90, 0]));
    assert_eq!(
        told["meters"]["porter"],
        json!({ "health": 4, "stamina": 3 })
    );
    // The torso is 12 by 20 around (61.5, 32).
    let torso = &told["boxes"]["porter"]["hurt"]["torso"];
    assert_eq!(torso["points"][0], json!([55.5, 22]));
    assert_eq!(told["windows"]["porter"], json!([]));
    // An effect, and back to before it.
    assert_eq!(
        pipe.ask(r#"{"save":"here"}"#),
        json!({ "saved": "here", "tick": 1 })
    );
    let before = pipe.ask(r#"{"digest":true}"#);
    let hurt = pipe.ask(r#"{"effects":[{"whom":"porter","damage":1}],"tell":["meters"]}"#);
    assert_eq!(hurt["meters"]["porter"]["health"], 3);
    assert!(hurt.get("poses").is_none());
    assert_ne!(pipe.ask(r#"{"digest":true}"#)["digest"], before["digest"]);
    assert_eq!(pipe.ask(r#"{"restore":"here"}"#)["tick"], 1);
    assert_eq!(pipe.ask(r#"{"digest":true}"#), before);
    let posed = pipe.ask(
        r#"{"poses":{"porter":{"at":[100,30],"facing":"left","grounded":true}},"tell":["poses"]}"#,
    );
    assert_eq!(posed["poses"]["porter"]["at"], json!([100, 30]));
    drop(pipe.input);
    assert!(pipe.child.wait().expect("it ends").success());
}

/// A line over the limit is refused whole: what its beginning asks for is not done. What is echoed is shown.
#[test]
fn a_line_that_is_too_long_is_refused_and_names_are_escaped() {
    let mut pipe = Pipe::open("first-shelf.toml");
    pipe.hear();
    let long = format!("{{\"digest\":true}}{}", " ".repeat(3 << 20));
    let answer = pipe.ask(&long);
    let told = answer["error"].to_string();
    assert!(told.contains("1 MiB"), "{answer}");
    assert!(answer["digest"].is_null());
    // The next is read from its beginning.
    assert!(pipe.ask("{\"digest\":true}")["digest"].is_string());
    let raw = pipe.ask_raw("{\"pr\u{202e}ess\":1}");
    assert!(
        raw.contains("\\u202e") && !raw.contains('\u{202e}'),
        "{raw}"
    );
}

#[test]
fn a_line_that_is_wrong_is_told_and_changes_nothing() {
    let long = format!("{{\"save\":\"{}\"}}", "x".repeat(2 << 20));
    let mut pipe = Pipe::open("third-shelf.toml");
    pipe.hear();
    pipe.ask(r#"{"buttons":{"cart":{"right":true}}}"#);
    let digest = pipe.ask(r#"{"digest":true}"#);
    for (line, error, help) in [
        ("{", "", ""),
        (
            "[]",
            "expected a JSON object, found an array",
            "an empty one, {}, is a tick",
        ),
        (
            r#"{"butons":{}}"#,
            "unknown key `butons`",
            "did you mean `buttons`?",
        ),
        (
            r#"{"buttons":{"car":{"right":true}}}"#,
            "unknown actor `car`",
            "did you mean `cart`?",
        ),
        (
            r#"{"buttons":{"cart":{"rigt":true}}}"#,
            "`cart` has no button `rigt`",
            "did you mean `right`?",
        ),
        // The pose that is well has no effect either.
        (
            r#"{"poses":{"cart":{"at":[1,2,0]},"kart":{"at":[1,2,0]}}}"#,
            "unknown actor `kart`",
            "did you mean `cart`?",
        ),
        (r#"{"poses":{"cart":{}}}"#, "`at` is required", "add `at`"),
        (
            r#"{"effects":[{"whom":"cart"}]}"#,
            "this effect does nothing",
            "",
        ),
        (
            r#"{"effects":[{"whom":"nobody","kill":true}]}"#,
            "nobody of the id `nobody` is there",
            "",
        ),
        (
            r#"{"restore":"x"}"#,
            "nothing is saved as `x`",
            "nothing was saved",
        ),
        (
            r#"{"save":"x","digest":true}"#,
            "`save`, `restore` and `digest` stand alone in a line",
            "",
        ),
        (&long, "", ""),
    ] {
        let told = pipe.ask(line);
        let said = told["error"].as_str().unwrap_or_else(|| panic!("{told}"));
        assert!(said.contains(error), "{told}");
        assert!(
            told["help"].as_str().unwrap_or_default().contains(help),
            "{told}"
        );
        assert!(told["line"].is_u64(), "{told}");
    }
    assert_eq!(pipe.ask(r#"{"digest":true}"#), digest);
    // Whoever does not listen any more is not waited for.
    drop(pipe.output);
    let _ = writeln!(pipe.input, "{{}}");
    let _ = writeln!(pipe.input, "{{}}");
    drop(pipe.input);
    assert!(pipe.child.wait().expect("it ends").success());
}

#[test]
fn the_session_ends_with_the_input() {
    let run = tool_reading(&demo(), &["step", "first-shelf.toml"], "{}\n\n{}");
    assert_eq!((run.code, run.out.lines().count()), (0, 3), "{}", run.out);
    let run = tool(&demo(), &["step", "-"]);
    assert_eq!(run.code, 2);
    let run = tool(&demo(), &["step", "none.toml"]);
    assert_eq!((run.code, run.out.as_str()), (2, ""));
}

/// The client that ships with the project hears what the replay says.
#[test]
fn a_client_in_python_hears_the_lines_of_the_replay() {
    let client = concat!(env!("CARGO_MANIFEST_DIR"), "/tests/pipe_client.py");
    let mut played = 0;
    for (file, text) in tin_crown::demo::FILES {
        let plan = tin_crown::check(text.as_bytes()).plan.expect("no errors");
        for drill in plan.drills() {
            let python = Command::new("python3")
                .arg(client)
                .arg(assert_cmd::cargo::cargo_bin("tin-crown"))
                .args([file, drill.name()])
                .current_dir(demo())
                .output();
            let Ok(output) = python else {
                let required = std::env::var_os("TIN_CROWN_PYTHON").is_some();
                assert!(!required, "there is no python3");
                eprintln!("skipped: there is no python3");
                return;
            };
            let said = String::from_utf8_lossy(&output.stderr);
            assert!(output.status.success(), "{file}, {}: {said}", drill.name());
            played += 1;
        }
    }
    assert!(played > 10, "{played}");
}
