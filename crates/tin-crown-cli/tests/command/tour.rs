//! What a newcomer follows: the tour of the README, command by command, and the scene in `examples`.

use std::path::{Path, PathBuf};

use crate::tool::{folder, tool};

/// The commands of a page, those within sentences too, in their order.
#[cfg(unix)]
fn commands(page: &str) -> Vec<String> {
    let mut fenced = None;
    let mut found = Vec::new();
    for line in page.lines() {
        if let Some(language) = line.strip_prefix("```") {
            fenced = fenced.is_none().then_some(language);
        } else if fenced == Some("sh") {
            found.push(line.to_owned());
        } else if fenced.is_none() {
            let quoted = line.split('`').skip(1).step_by(2);
            let own = quoted.filter(|words| words.starts_with("tin-crown ") && words.contains('.'));
            found.extend(own.map(str::to_owned));
        }
    }
    found
}

/// Runs the commands of a page, one after the other, but for those that another page has, too; says in which folder they
/// end, and what each of them said.
#[cfg(unix)]
fn follow(home: &Path, page: &str, elsewhere: &str) -> (PathBuf, Vec<(String, String)>) {
    let elsewhere = commands(elsewhere);
    let tool = assert_cmd::cargo::cargo_bin("tin-crown");
    let here = tool.parent().expect("it is in a folder").to_owned();
    let path = std::env::var_os("PATH").unwrap_or_default();
    let path = std::env::join_paths([here].into_iter().chain(std::env::split_paths(&path)))
        .expect("a search path");
    let mut at = home.to_owned();
    let mut run = Vec::new();
    for command in commands(page) {
        // Cargo builds what runs here; the others end when somebody stops them.
        let endless = ["cargo ", "tin-crown watch ", "tin-crown play "];
        let study = command.starts_with("tin-crown study ") && elsewhere.contains(&command);
        if study || endless.iter().any(|own| command.starts_with(own)) {
            continue;
        }
        if let Some(folder) = command.strip_prefix("cd ") {
            at.push(folder);
            continue;
        }
        let output = std::process::Command::new("sh")
            .args(["-c", &command])
            .current_dir(&at)
            .env("PATH", &path)
            .output()
            .expect("there is a shell");
        // What is compared does differ.
        let expected = i32::from(command.starts_with("tin-crown compare "));
        let said = String::from_utf8_lossy(&output.stderr);
        assert_eq!(output.status.code(), Some(expected), "{command}: {said}");
        let told = String::from_utf8_lossy(&output.stdout).into_owned();
        run.push((command, told));
    }
    (at, run)
}

#[test]
#[cfg(unix)]
fn the_tour_of_the_readme_works_as_it_is_written() {
    let home = folder();
    let readme = include_str!("../../README.md");
    let (at, run) = follow(home.path(), readme, include_str!("../../docs/studies.md"));
    assert!(run.len() >= 15, "{} commands were run", run.len());
    for picture in ["shelf.png", "shots.png", "timeline.png", "report.html"] {
        assert!(at.join(picture).is_file(), "{picture}");
    }
}

#[test]
#[cfg(unix)]
fn the_page_about_recordings_works_as_it_is_written() {
    let page = include_str!("../../docs/recordings.md");
    let home = folder();
    let (at, run) = follow(home.path(), page, "");
    assert!(run.len() >= 10, "{} commands were run", run.len());
    for made in ["tub.png", "timeline.png", "tub.html"] {
        assert!(at.join(made).is_file(), "{made}");
    }
    // The page shows what is said, and how the file reads it.
    let told = tool(&at, &["compare", "tub.toml", "--log"]).out;
    let shown = page
        .split("```text\n")
        .find(|block| block.starts_with("drill round against"));
    let shown = shown
        .and_then(|block| block.split("```").next())
        .expect("it is shown");
    assert!(told.starts_with(shown), "{told}");
    for block in page.split("```text\n[").skip(1) {
        let block = block.split("```").next().expect("it ends");
        for line in block
            .lines()
            .filter(|line| line.contains(" = ") && !line.starts_with("ids"))
        {
            let known = tin_crown::demo::TUB.contains(line.trim_end_matches(" }"));
            assert!(known, "{line}");
        }
    }
}

#[test]
#[cfg(unix)]
fn the_page_about_studies_works_as_it_is_written() {
    let page = include_str!("../../docs/studies.md");
    let home = folder();
    let (at, run) = follow(home.path(), page, "");
    assert!(run.len() >= 9, "{} commands were run", run.len());
    for made in [
        "sweep.png",
        "heat.svg",
        "slack.png",
        "passage.png",
        "found.toml",
        "whole.csv",
    ] {
        assert!(at.join(made).is_file(), "{made}");
    }
    // What the page shows is what is said.
    let said = |command: &str| {
        let mut found = run.iter().filter(|(own, _)| own.starts_with(command));
        let (_, told) = found.next().expect("it is on the page");
        told
    };
    let told = ["sweep attic", "slack", "tally", "passage"]
        .map(|study| said(&format!("tin-crown study {study}")));
    let shown = page.split("```text\n").skip(1);
    let shown: Vec<&str> = shown
        .filter_map(|block| block.split("```").next())
        .collect();
    assert_eq!(shown.len(), told.len());
    for (shown, told) in shown.into_iter().zip(told) {
        assert!(told.contains(shown), "{shown}\n{told}");
    }
}

#[test]
fn the_kiln_is_as_its_drills_say() {
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("tests/kiln");
    let check = tool(&folder, &["check", "--strict", "kiln.toml"]);
    assert_eq!((check.code, check.err.as_str()), (0, ""), "{}", check.out);
    let tidy = tool(&folder, &["tidy", "--check", "kiln.toml"]);
    assert_eq!(tidy.code, 0, "{}", tidy.err);
    let replay = tool(&folder, &["replay", "kiln.toml"]);
    assert_eq!(replay.code, 0, "{}", replay.out);
    let last = replay.out.lines().last().expect("it says something");
    assert_eq!(last, "5 drills: 26 expectations met, 0 not met");
    // Nothing in it is there in vain.
    let coverage = tool(&folder, &["coverage", "--at-least", "100", "kiln.toml"]);
    assert_eq!(coverage.code, 0, "{}", coverage.out);
}
