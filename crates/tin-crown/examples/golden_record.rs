//! Golden records of encounter files: what their drills come to, kept to be compared with.
//!
//! Run it with `cargo run --example golden_record -- first-shelf.toml`; without a file it shows that a
//! changed number is noticed.

use std::io;
use std::sync::Arc;

use tin_crown::{Plan, Record, Ticks, check, study};

/// Prints the golden records of the files that are named, or compares two versions of one.
fn main() -> Result<(), Box<dyn std::error::Error>> {
    let files: Vec<String> = std::env::args().skip(1).collect();
    for file in &files {
        let plan = plan(&std::fs::read(file)?)?;
        for drill in plan.drills() {
            let replay = plan.replay(drill.name())?;
            Record::of(&replay).golden().write(io::stdout().lock())?;
        }
    }
    if files.is_empty() {
        noticed()?;
    }
    Ok(())
}

fn plan(file: &[u8]) -> Result<Arc<Plan>, String> {
    let checked = check(file);
    checked.plan.ok_or_else(|| checked.findings.to_string())
}

/// A thorn on a walker's way; then it stands four units further on.
fn noticed() -> Result<(), Box<dyn std::error::Error>> {
    let text = r#"
        edition = 1
        title = "A thorn by the way"
        [arena]
        bounds = { min = [0, 0], max = [100, 50] }
        [kind.walker]
        meter.health = { max = 3 }
        hurtbox.feet = { size = [8, 8] }
        motion = { patrol = { between = [20, 80], speed = 60 } }
        invincible = { after_hit = "0.5s" }
        [kind.thorn]
        hitbox.tip = { radius = 2 }
        [[place]]
        kind = "walker"
        at = [20, 10]
        [[place]]
        kind = "thorn"
        at = [50, 10]
        [[rule]]
        name = "thorn pricks"
        hitbox = "thorn.tip"
        hurtbox = "walker.feet"
        damage = 1
        [drill.stroll]
        length = "1s"
    "#;
    let (old, new) = (
        plan(text.as_bytes())?,
        plan(text.replace("[50, 10]", "[54, 10]").as_bytes())?,
    );
    let (old, new) = (old.replay("stroll")?, new.replay("stroll")?);
    let (golden, now) = (Record::of(&old).golden(), Record::of(&new));
    let comparison = study::compare(&golden, &now, Ticks(0));
    for change in &comparison.changes {
        if let Some(line) = change.line() {
            println!(
                "{} {}: {} ticks later",
                change.sort(),
                line.event,
                change.moved
            );
        }
    }
    // A unit a tick: the hit, and what it took, come four ticks later.
    assert!(!comparison.is_empty());
    assert!(comparison.changes.iter().all(|change| change.moved == 4));
    Ok(())
}
