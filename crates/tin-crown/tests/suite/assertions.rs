//! What a game's own tests call, and what they read when something is not as it should be.

use std::panic::catch_unwind;
use std::path::Path;

use tin_crown::testing::{assert_golden, assert_met};
use tin_crown::{Record, check};

const DUEL: &str = r##"edition = 1
title = "duel"
[arena]
bounds = { min = [0, 0], max = [100, 50] }
[kind.hero]
meter.health = { max = 3 }
hurtbox.all = { radius = 5 }
invincible = { after_hit = "1s" }
[kind.burr]
hitbox.spikes = { radius = 5 }
[[place]]
kind = "hero"
at = [20, 20]
[[place]]
kind = "burr"
at = [25, 20]
[[rule]]
name = "prick"
hitbox = "burr.spikes"
hurtbox = "hero.all"
damage = 1
[drill.stand]
length = "0.5s"
expect = [{ hit = { who = "burr", whom = "hero" }, when = "0t" }]
"##;

/// Drills of the file beside are held as its own are, and told in that file; so are its recordings.
#[test]
fn drills_of_a_file_beside_are_held_too() {
    let folder = tempfile::tempdir().expect("a folder");
    let file = folder.path().join("duel.toml");
    let write = |name: &str, text: &str| {
        std::fs::write(folder.path().join(name), text).expect("the file can be written");
    };
    let met: fn(&Path) = |path| assert_met(path);
    let named = DUEL.replacen("[arena]", "drill_file = \"more.toml\"\n[arena]", 1);
    let named = named.replace("[arena]\nbounds", "arena.bounds");
    write("duel.toml", &named);
    let more = "edition = 1\n[drill.walk]\nlength = \"0.5s\"\ntrack = [{ file = \"walk.csv\" }]\n\
                expect = [{ place = { who = \"hero\", inside = { min = [80, 0], max = [100, 50] } } }]\n";
    let track = "time,who,x,y\n0,hero,20,20\n30,hero,90,20\n";
    for (drills, rows, told) in [
        (None, Some(track), Some("more.toml")),
        (
            Some("edition = 1\n[drill.walk]\nlenth = \"1s\"\n"),
            None,
            Some("unknown key `lenth`"),
        ),
        (Some(more), None, Some("walk.csv")),
        (
            Some(more),
            Some("time,who,x,y\n0,hero,20,20\n30,hero,30,20\n"),
            Some("more.toml:5"),
        ),
        (Some(more), Some(track), None),
    ] {
        for (name, text) in [("more.toml", drills), ("walk.csv", rows)] {
            match text {
                Some(text) => write(name, text),
                None => drop(std::fs::remove_file(folder.path().join(name))),
            }
        }
        let said = said(met, &file);
        match told {
            None => assert_eq!(said, None),
            Some(told) => assert!(
                said.as_ref().is_some_and(|said| said.contains(told)),
                "{told}: {said:?}"
            ),
        }
    }
}

/// What a failed assertion says; `None` when it holds.
fn said(assert: fn(&Path), path: &Path) -> Option<String> {
    let path = path.to_owned();
    let failed = catch_unwind(move || assert(&path)).err()?;
    Some(*failed.downcast::<String>().expect("it panics with a text"))
}

#[test]
fn a_teams_test_holds_or_says_what_went_wrong() {
    let folder = tempfile::tempdir().expect("a folder");
    let file = folder.path().join("duel.toml");
    let write = |name: &str, text: &str| {
        std::fs::write(folder.path().join(name), text).expect("the file can be written");
    };
    let met: fn(&Path) = |path| assert_met(path);
    let golden: fn(&Path) = |path| assert_golden(path);
    let says = |assert, words: &[&str]| {
        let said = said(assert, &file).expect("it does not hold");
        for word in words {
            assert!(said.contains(word), "`{word}` not in:\n{said}");
        }
    };

    says(met, &["cannot read", "duel.toml"]);
    write("duel.toml", DUEL);
    assert_eq!(said(met, &file), None);
    says(golden, &["drill `stand` has no golden record", "--accept"]);

    let replay = check(DUEL.as_bytes())
        .plan
        .expect("no errors")
        .replay("stand");
    let mut record = Vec::new();
    let replay = replay.expect("it can be replayed");
    Record::of(&replay)
        .golden()
        .write(&mut record)
        .expect("a vector takes all");
    write(
        "duel.golden.jsonl",
        &String::from_utf8(record).expect("it is text"),
    );
    assert_eq!(said(golden, &file), None);

    write("duel.toml", &DUEL.replace("damage = 1", "damage = 2"));
    says(
        golden,
        &[
            "1 of 2 expectations not met",
            "duel.golden.jsonl:1",
            "amount 1 → 2",
        ],
    );
    write("duel.toml", &DUEL.replace("when = \"0t\"", "when = \"3t\""));
    says(
        met,
        &[
            "not met in stand",
            "duel.toml:24",
            "0.000 s  burr  hits  hero  prick",
        ],
    );
    write("duel.toml", &DUEL.replace("damage", "damge"));
    says(
        met,
        &["has errors", "at 21:1 (rule[1].damge): unknown key `damge`"],
    );
    write("duel.toml", DUEL);
    write(
        "duel.expect.toml",
        "edition = 1\nexpect = [{ outcome = \"won\" }]\n",
    );
    says(
        met,
        &[
            "1 of 3 expectations not met",
            "duel.expect.toml:2",
            "the drill is won",
        ],
    );
    write(
        "duel.expect.toml",
        "edition = 1\nexpect = [{ outcome = \"one\" }]\n",
    );
    says(met, &["duel.expect.toml has errors", "2:23"]);
    write("duel.expect.toml", "edition = 1\n");
    write("duel.toml", &DUEL.replace("drill.stand", "drill.wait"));
    says(met, &["drill `stand` of the golden record exists"]);
}
