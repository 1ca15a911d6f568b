//! Sprites: which cell is shown, what is found about them, and that nothing that is replayed depends on them.

use std::collections::BTreeMap;

use proptest::prelude::*;
use tin_crown::demo::{FILES, SPRITES};
use tin_crown::sprite::{Sheet, SheetError, frames};
use tin_crown::{Checked, Code, Sim, check, check_with};

/// The drawings of the demo, as files.
fn drawings() -> BTreeMap<String, Vec<u8>> {
    let all = SPRITES.iter();
    all.map(|(name, bytes)| ((*name).to_owned(), bytes.to_vec()))
        .collect()
}

fn shelf(name: &str) -> &'static str {
    let found = FILES.iter().find(|(own, _)| *own == name);
    found.expect("the demo has it").1
}

fn found(checked: &Checked) -> Vec<(Code, String)> {
    let all = checked.findings.iter();
    all.map(|own| (own.code, own.message.clone())).collect()
}

#[test]
fn ledgers_are_the_same_without_sprites() {
    for (name, text) in FILES {
        let checked = check_with(text.as_bytes(), &drawings());
        let plan = checked.plan.expect("the demo has no errors");
        let mut bare = checked.encounter.expect("it is read");
        for kind in bare.kinds.values_mut() {
            kind.sprite = None;
        }
        for checkpoint in &mut bare.checkpoints {
            checkpoint.sprite = None;
        }
        for exit in &mut bare.exits {
            exit.sprite = None;
        }
        assert!(!bare.to_toml().contains("sprite"), "{name}");
        let bare = bare.plan().expect("no errors");
        assert_eq!(bare.sprites().count(), 0);
        assert!(plan.sprites().count() > 0, "{name}");
        for drill in plan.all_drills() {
            assert_eq!(plan.digest(drill), bare.digest(drill), "{name}");
            let drill = plan.drills()[drill.index()].name();
            let [with, without] = [&plan, &bare].map(|plan| {
                let replay = plan.replay(drill).expect("it is replayed");
                let mut bytes = Vec::new();
                let written = replay.write_jsonl(&mut bytes, replay.ledger().events());
                written.expect("memory takes it");
                bytes
            });
            assert!(with == without, "{name}, {drill}");
        }
    }
}

const FENCER: &str = r#"
edition = 1
title = "A fencer"
arena = { bounds = { min = [0, 0], max = [400, 100] } }
[kind.fencer]
player = true
meter.health = { max = 1 }
hurtbox.chest = { size = [8, 8] }
hitbox.blade = { size = [8, 2], at = [8, 0] }
attack.lunge = { button = "lunge", startup = "4t", active = "3t", recovery = "5t", live = ["blade"] }
starts = "calm"
state.calm.go = [{ to = "keen", when = { after = "20t" } }]
[kind.fencer.state.keen]
[[kind.fencer.death]]
after = "0t"
[[kind.fencer.death]]
after = "4t"
[[kind.fencer.death]]
after = "10t"
[kind.fencer.sprite]
file = "fencer.png"
cell = [8, 8]
cells = [0, 1, 2]
every = "5t"
clips = [
  { step = 2, cells = [12, 13, 14] },
  { dying = true, cells = [10, 11], every = "2t" },
  { attack = "lunge", phase = "active", cells = [6] },
  { attack = "lunge", cells = [4, 5, 7] },
  { state = "keen", cells = [8, 9], every = "3t" },
]
[kind.pit]
hitbox.maw = { size = [20, 20] }
[[place]]
kind = "fencer"
at = [100, 50]
[[place]]
kind = "pit"
at = [300, 50]
[[rule]]
name = "pit swallows"
hitbox = "pit.maw"
hurtbox = "fencer.chest"
kill = true
[drill.lunge]
length = "40t"
input = [{ when = "10t", who = "fencer", press = "lunge" }]
pose = [{ when = "30t", who = "fencer", at = [300, 50] }]
"#;

/// Worked by hand. Cells 0, 1 and 2 by its own clock, five ticks each, from tick 0 on. The attack begins on 10: startup
/// on 10 to 13, active on 14 to 16, recovery on 17 to 21. The clip of all of it has three cells for 12 ticks, four
/// each, counted from 10: 4 on 10 to 13, then 5 on 14 to 17 (but the active phase has 6), 7 on 18 to 21. `keen` begins
/// on 20, but an attack comes first: from 22 on cells 8 and 9, three ticks each, counted from 20: 9 on 23 to 25. Posed
/// into the pit on 30, it dies: its death is at 0 on 30, so cell 10 on 30 and 31, 11 from 32 on; the second step comes
/// on 34 and lasts 6 ticks: three cells, two each. Gone on 40.
#[test]
fn the_cell_that_is_shown_is_known_by_hand() {
    let checked = check(FENCER.as_bytes());
    let plan = checked
        .plan
        .unwrap_or_else(|| panic!("{}", checked.findings));
    let mut sim = Sim::new(&plan, plan.drill("lunge").expect("it is there"));
    let fencer = plan.actor("fencer").expect("it is placed");
    let mut shown = Vec::new();
    loop {
        let view = sim.actor(fencer);
        if view.alive || view.dying {
            let sprite = sim.spec(fencer).sprite().expect("it has one");
            shown.push(sprite.cell_at(&sim.moment(fencer)));
        }
        if !sim.step().expect("it is played") {
            break;
        }
    }
    let by_hand = [
        [0, 0, 0, 0, 0, 1, 1, 1, 1, 1],
        [4, 4, 4, 4, 6, 6, 6, 5, 7, 7],
        [7, 7, 8, 9, 9, 9, 8, 8, 8, 9],
        [10, 10, 11, 11, 12, 12, 13, 13, 14, 14],
    ];
    assert_eq!(shown, by_hand.as_flattened());
    // The same from the rules alone: how many ticks each cell is shown.
    let spec = &plan.specs()[0];
    let frames = frames(&plan, spec, spec.sprite().expect("it has one"));
    let ticks: Vec<(u32, u32)> = frames.iter().map(|own| (own.cell, own.ticks)).collect();
    let (dying, lunge) = ([(10, 2), (11, 2)], [(4, 4), (5, 1), (7, 4)]);
    for (cell, expected) in dying
        .into_iter()
        .chain(lunge)
        .chain([(6, 3), (12, 2), (9, 3)])
    {
        assert!(ticks.contains(&(cell, expected)), "cell {cell}: {ticks:?}");
    }
    let blade = frames
        .iter()
        .filter(|own| own.boxes.iter().any(|own| own.hits));
    assert_eq!(blade.map(|own| own.cell).collect::<Vec<_>>(), [6]);
}

#[test]
fn the_demo_has_no_findings_and_a_fault_in_each_kind_is_found() {
    for (name, text) in FILES {
        assert_eq!(
            found(&check_with(text.as_bytes(), &drawings())),
            [],
            "{name}"
        );
    }
    let (beyond, unseen) = (Code::HurtboxBeyondSprite, Code::HitboxUnseen);
    for (file, from, to, code) in [
        // The porter: its boxes, its umbrella, its gun, its death.
        (
            "first-shelf.toml",
            "hurtbox.torso = { size = [12, 20], at = [0, 2] }",
            "hurtbox.torso = { size = [12, 20], at = [9, 2] }",
            beyond,
        ),
        (
            "first-shelf.toml",
            "phase = \"startup\", cells = [7]",
            "phase = \"startup\", cells = [8]",
            Code::BladeNotLive,
        ),
        (
            "first-shelf.toml",
            "phase = \"recovery\", cells = [9, 10]",
            "phase = \"recovery\", cells = [8, 10]",
            Code::BladeNotLive,
        ),
        (
            "first-shelf.toml",
            "phase = \"active\", cells = [8]",
            "phase = \"active\", cells = [7]",
            unseen,
        ),
        (
            "second-shelf.toml",
            "muzzle = [6, 4]",
            "muzzle = [22, 4]",
            Code::MuzzleInTheAir,
        ),
        (
            "attic.toml",
            "cells = [7, 8, 9] }",
            "cells = [7, 8, 9], every = \"4t\" }",
            Code::SpriteEndsEarly,
        ),
        (
            "attic.toml",
            "cells = [7, 8, 9] }",
            "cells = [7, 8, 9], every = \"30t\" }",
            Code::SpriteNeverSeen,
        ),
        // Beetles, wasp, cork, kettle, weight.
        (
            "first-shelf.toml",
            "hurtbox.lid = { size = [18, 4], at = [0, 6] }",
            "hurtbox.lid = { size = [18, 4], at = [0, 14] }",
            beyond,
        ),
        (
            "first-shelf.toml",
            "{ points = [[-8, 8], [8, 8], [0, 22]] }",
            "{ points = [[-8, 28], [8, 28], [0, 42]] }",
            unseen,
        ),
        (
            "first-shelf.toml",
            "ends = [[10, 0], [17, 5]]",
            "ends = [[20, 0], [27, 5]]",
            unseen,
        ),
        (
            "attic.toml",
            "cells = [2, 3], every = \"4t\", repeats = true",
            "cells = [2, 3], every = \"30t\", repeats = true",
            Code::SpriteNeverSeen,
        ),
        (
            "attic.toml",
            "hurtbox.wings = { size = [16, 14] }",
            "hurtbox.wings = { size = [28, 14] }",
            beyond,
        ),
        (
            "second-shelf.toml",
            "hitbox.sting = { radius = 4, at = [4, -4] }",
            "hitbox.sting = { radius = 4, at = [14, -4] }",
            unseen,
        ),
        (
            "attic.toml",
            "hitbox.tip = { radius = 3 }",
            "hitbox.tip = { radius = 3, at = [12, 0] }",
            unseen,
        ),
        (
            "attic.toml",
            "cells = [1, 2, 1, 2, 0,",
            "cells = [0, 0, 1, 2, 1,",
            unseen,
        ),
        (
            "attic.toml",
            "{ size = [16, 4], at = [0, -11] }",
            "{ size = [16, 4], at = [0, -21] }",
            unseen,
        ),
        (
            "attic.toml",
            "amount = 1 }] }\nsprite = { file = \"cork.png\" }",
            "amount = 1 }] }\nsprite = { file = \"cork.png\", cells = [3] }",
            Code::BadSprite,
        ),
        // Jack, clock, burst, board, cuckoo and its clock.
        (
            "second-shelf.toml",
            "phase = \"startup\", cells = [1]",
            "phase = \"startup\", cells = [2]",
            Code::BladeNotLive,
        ),
        (
            "second-shelf.toml",
            "hitbox.head = { radius = 9, at = [24, 6] }",
            "hitbox.head = { radius = 9, at = [34, 16] }",
            unseen,
        ),
        (
            "second-shelf.toml",
            "hurtbox.case = { radius = 8 }",
            "hurtbox.case = { radius = 16 }",
            beyond,
        ),
        (
            "second-shelf.toml",
            "cells = [0, 1, 2, 3], every = \"2t\"",
            "cells = [0, 1, 2, 3], every = \"4t\"",
            Code::SpriteNeverSeen,
        ),
        (
            "second-shelf.toml",
            "\"floorboard.png\", cell = [36, 8]",
            "\"floorboard.png\", cell = [30, 8]",
            Code::BadSprite,
        ),
        (
            "second-shelf.toml",
            "{ radius = 5 }\nlifetime = \"4s\"",
            "{ radius = 5, at = [0, 14] }\nlifetime = \"4s\"",
            unseen,
        ),
        (
            "second-shelf.toml",
            "muzzle = [-4, 6]",
            "muzzle = [-24, 6]",
            Code::MuzzleInTheAir,
        ),
        (
            "second-shelf.toml",
            "\"puff.png\"",
            "\"poff.png\"",
            Code::BadSprite,
        ),
        (
            "second-shelf.toml",
            "\"cork-tin.png\"",
            "\"cork-tin.png\", cells = [1]",
            Code::BadSprite,
        ),
        // Those from above; lamps and music box.
        (
            "third-shelf.toml",
            "hurtbox.frame = { size = [22, 14]",
            "hurtbox.frame = { size = [22, 40]",
            beyond,
        ),
        (
            "third-shelf.toml",
            "hurtbox.skin = { radius = 10",
            "hurtbox.skin = { radius = 20",
            beyond,
        ),
        (
            "third-shelf.toml",
            "hitbox.blade = { size = [46, 5]",
            "hitbox.blade = { size = [5, 90]",
            unseen,
        ),
        (
            "third-shelf.toml",
            "hitbox.tip = { size = [8, 2]",
            "hitbox.tip = { at = [0, 12], size = [8, 2]",
            unseen,
        ),
        (
            "third-shelf.toml",
            "muzzle = [14, 0, 10]",
            "muzzle = [24, 0, 10]",
            Code::MuzzleInTheAir,
        ),
        (
            "third-shelf.toml",
            "\"weight-above.png\"",
            "\"weight-above.png\", cell = [7, 7]",
            Code::BadSprite,
        ),
        (
            "attic.toml",
            "\"key.png\"",
            "\"key.png\", clips = [{ cells = [0], stunned = true }, { cells = [0], stunned = true }]",
            Code::SpriteNeverSeen,
        ),
        (
            "attic.toml",
            "\"lamp.png\", cell = [16, 44]",
            "\"lamp.png\", cell = [16, 43]",
            Code::BadSprite,
        ),
        (
            "attic.toml",
            "\"music-box.png\"",
            "\"attic.toml\"",
            Code::BadSprite,
        ),
        (
            "first-shelf.toml",
            "\"drawer.png\"",
            "\"drawer.png\", cells = [0, 1], every = \"2t\"",
            Code::BadSprite,
        ),
    ] {
        let whole = shelf(file);
        assert!(whole.contains(from), "{file} has {from}");
        let mut files = drawings();
        files.insert("attic.toml".to_owned(), b"no picture".to_vec());
        let checked = check_with(whole.replacen(from, to, 1).as_bytes(), &files);
        let all = found(&checked);
        assert!(all.iter().any(|(own, _)| *own == code), "{to}: {all:?}");
        // With its line, and no reason not to play.
        assert!(checked.findings.iter().all(|own| own.line_column.is_some()));
        assert!(checked.plan.is_some());
    }
}

#[test]
fn what_is_written_wrong_is_an_error() {
    for (from, to, message) in [
        (
            "state = \"keen\"",
            "state = \"keem\"",
            "unknown state of this kind `keem`",
        ),
        (
            "attack = \"lunge\", phase",
            "attack = \"lung\", phase",
            "unknown attack of this kind `lung`",
        ),
        ("file = \"fencer.png\"", "", "a sprite needs a `file`"),
        (
            "cells = [8, 9], every = \"3t\"",
            "cells = [8, 9]",
            "`every` is required with several cells",
        ),
        (
            "cell = [8, 8]",
            "cell = [8.5, 8]",
            "a cell has whole pixels",
        ),
        (
            "cells = [6]",
            "cells = []",
            "a clip needs at least one cell",
        ),
        (
            "step = 2, cells",
            "step = 2, attack = \"lunge\", cells",
            "who dies is in no attack",
        ),
        (
            "kind = \"pit\"\n",
            "kind = \"pit\"\nsprite = { file = \"a.png\" }\n",
            "unknown key `sprite`",
        ),
    ] {
        assert!(FENCER.contains(from), "{from}");
        let checked = check(FENCER.replacen(from, to, 1).as_bytes());
        let all = found(&checked);
        assert!(all.iter().any(|(_, own)| own == message), "{to}: {all:?}");
        assert!(checked.plan.is_none());
    }
}

#[test]
fn sprites_can_be_in_a_file_beside() {
    let text = FENCER
        .split("[kind.fencer.sprite]")
        .next()
        .expect("a beginning");
    let rest = FENCER.split("[kind.pit]").nth(1).expect("an end");
    let text = format!("sprite_file = \"looks.toml\"\n{text}[kind.pit]{rest}");
    let with = |looks: &str| {
        let mut files = drawings();
        files.insert("looks.toml".to_owned(), looks.as_bytes().to_vec());
        check_with(text.as_bytes(), &files)
    };
    let looks = "edition = 1\n[sprite.fencer]\nfile = \"drawer.png\"\nclips = [{ state = \"keen\", cells = [0] }]\n";
    let checked = with(&format!(
        "{looks}[sprite.somebody-else]\nfile = \"x.png\"\n"
    ));
    let plan = checked.plan.as_ref().expect("no errors");
    assert_eq!(
        plan.sprites().next().map(|own| own.file()),
        Some("drawer.png")
    );
    assert_eq!(checked.sheets.iter().count(), 1);
    // It has its sprite now, and names no file any more.
    let whole = checked.encounter.expect("it is read");
    assert_eq!(whole.sprite_file, None);
    assert!(whole.to_toml().contains("drawer.png"));
    // What is wrong is told with that file and its line.
    for (from, to, code, line) in [
        ("drawer", "nobody", Code::BadSprite, 3),
        ("keen", "keem", Code::UnknownName, 4),
        ("[sprite.fencer]", "[sprite.fenser]", Code::NoEffect, 2),
        ("file =", "fiel =", Code::UnknownKey, 3),
    ] {
        let checked = with(&looks.replacen(from, to, 1));
        let finding = checked.findings.iter().find(|own| own.code == code);
        let finding = finding.unwrap_or_else(|| panic!("{to}: {}", checked.findings));
        let row = finding.row.as_ref().expect("it has a file");
        assert_eq!((row.file.as_str(), row.line), ("looks.toml", line), "{to}");
    }
    let twice = format!("{text}[kind.fencer.sprite]\nfile = \"drawer.png\"\n");
    let mut files = drawings();
    files.insert("looks.toml".to_owned(), looks.as_bytes().to_vec());
    let all = found(&check_with(twice.as_bytes(), &files));
    assert!(
        all.iter().any(|(code, _)| *code == Code::Duplicate),
        "{all:?}"
    );
}

/// A header that promises so many pixels.
fn promises(width: u32, height: u32) -> Vec<u8> {
    let (_, own) = SPRITES[0];
    let mut bytes = own.to_vec();
    bytes[16..20].copy_from_slice(&width.to_be_bytes());
    bytes[20..24].copy_from_slice(&height.to_be_bytes());
    bytes
}

#[test]
fn what_is_too_large_is_refused_before_it_is_unpacked() {
    let mut long = SPRITES[0].1.to_vec();
    long.resize(8 * 1024 * 1024 + 1, 0);
    assert_eq!(Sheet::read(long), Err(SheetError::Heavy));
    // The checksum of a header is wrong when it is changed: it is broken, and nothing is kept for it.
    for (width, height) in [(u32::MAX, u32::MAX), (4097, 1), (1 << 31, 1 << 31), (0, 0)] {
        assert!(
            Sheet::read(promises(width, height)).is_err(),
            "{width} × {height}"
        );
    }
    assert!(Sheet::read(Vec::new()).is_err());
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 100, failure_persistence: None, ..ProptestConfig::default() })]

    /// A drawing with some bytes changed, or cut short, is read or is a finding with its line; never more.
    #[test]
    fn malformed_drawings_are_findings(
        nth in 0..SPRITES.len(),
        changes in proptest::collection::vec((any::<proptest::sample::Index>(), any::<u8>()), 0..6),
        end in proptest::option::of(any::<proptest::sample::Index>()),
    ) {
        let mut bytes = SPRITES[nth].1.to_vec();
        for (at, byte) in changes {
            let at = at.index(bytes.len());
            bytes[at] = byte;
        }
        if let Some(end) = end {
            bytes.truncate(end.index(bytes.len()));
        }
        let read = Sheet::read(bytes.clone());
        let text = FENCER.replace("fencer.png", "any.png");
        let files = BTreeMap::from([("any.png".to_owned(), bytes)]);
        let checked = check_with(text.as_bytes(), &files);
        prop_assert!(checked.plan.is_some());
        let bad = checked.findings.iter().filter(|own| own.code == Code::BadSprite);
        let bad: Vec<_> = bad.collect();
        if read.is_err() {
            prop_assert_eq!(bad.len(), 1);
            prop_assert!(bad[0].line_column.is_some());
        }
    }
}
