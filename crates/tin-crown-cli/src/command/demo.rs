//! `tin-crown demo`.

use std::collections::BTreeMap;
use std::io::Write;
use std::path::Path;
use std::sync::Arc;

use tin_crown::demo::{FILES, SPRITES, TUB_FILES};

use crate::args::{Demo, LedgerFormat, World};
use crate::command::replay::{self, Choice, Printing};
use crate::failure::{Done, Failure};
use crate::output;
use crate::source;
use crate::takes::Take;
use crate::terminal::{self, shown};
use crate::trial::Beside;

/// The schema that the demo's files name in their first line.
const SCHEMA: &str = "encounter.schema.json";

pub fn run(args: &Demo) -> Result<Done, Failure> {
    let mut out = terminal::out();
    let (world, drawings) = match args.world {
        World::Attic => (&FILES[..], &SPRITES[..]),
        World::Tub => (&TUB_FILES[..], &[][..]),
    };
    if let Some(folder) = &args.write {
        std::fs::create_dir_all(folder).map_err(|error| {
            let what = format!("cannot make the folder {}", shown(folder));
            Failure::new(format!("{what}: {}", source::plainly(&error)))
        })?;
        let schema = tin_crown::schema::encounter();
        let texts = world.iter().copied().chain([(SCHEMA, schema.as_str())]);
        let texts = texts.map(|(name, text)| (name, text.as_bytes()));
        let files = texts.chain(drawings.iter().copied());
        let edited = files.clone().map(|(name, own)| (folder.join(name), own));
        let edited = edited.filter(|(path, own)| differs(path, own));
        let edited: Vec<String> = edited.map(|(path, _)| shown(&path)).collect();
        if !edited.is_empty() && !args.force {
            let what = format!(
                "{} differs from the demo and would be overwritten",
                edited.join(", ")
            );
            return Err(Failure::new(what).help("choose another folder, or use --force"));
        }
        for (name, bytes) in files {
            let path = folder.join(name);
            output::write(&path, bytes)?;
            if !name.ends_with(".png") {
                writeln!(out, "wrote {}", shown(&path))?;
            }
        }
        if !drawings.is_empty() {
            writeln!(out, "wrote {} drawings for them", drawings.len())?;
        }
        let first = shown(&folder.join(world[0].0));
        match args.world {
            World::Attic => writeln!(out, "now try: tin-crown replay {first}")?,
            World::Tub => writeln!(out, "now try: tin-crown compare {first} --log")?,
        }
        out.flush()?;
        return Ok(Done::Well);
    }
    let mut failed = false;
    let encounters = world.iter().filter(|(name, _)| name.ends_with(".toml"));
    for (nth, (name, text)) in encounters.enumerate() {
        if nth > 0 {
            writeln!(out)?;
        }
        let files = Arc::new(beside(world, drawings));
        let source = source::checked(*name, text.as_bytes(), files);
        let plan = source.plan()?;
        let drills: Vec<_> = plan.all_drills().collect();
        let recorded = source.record(&plan, &drills)?;
        let takes: Vec<Take> = drills
            .iter()
            .map(|drill| Take::new(&recorded, *drill))
            .collect();
        let beside = Beside::read(&source, &plan, None)?;
        let printing = Printing {
            columns: &[],
            file: name,
            measure: &beside.measure(&source),
            format: LedgerFormat::Table,
            choice: &Choice::default(),
        };
        let trials = printing.print(&mut out, &plan, &takes, true)?;
        replay::finish(&mut out, LedgerFormat::Table, plan.title(), &trials)?;
        failed |= trials.iter().any(|trial| trial.failed() > 0);
    }
    if args.world == World::Tub {
        writeln!(
            out,
            "\nThat was the round by the rules. To hold them against the game's own hit log:\n  \
             tin-crown demo --world tub --write tub\n  tin-crown compare tub/tub.toml --log"
        )?;
    } else {
        writeln!(
            out,
            "\nThat was the demo. To change its numbers: tin-crown demo --write attic"
        )?;
    }
    out.flush()?;
    Ok(if failed { Done::Failed } else { Done::Well })
}

/// What stands beside the encounters of a world.
fn beside(world: &[(&str, &str)], drawings: &[(&str, &[u8])]) -> BTreeMap<String, Vec<u8>> {
    let texts = world.iter().map(|(name, text)| (*name, text.as_bytes()));
    let files = texts.chain(drawings.iter().copied());
    let files = files.map(|(name, bytes)| (name.to_owned(), bytes.to_vec()));
    files.collect()
}

/// Whether a file is there, and is not just so.
fn differs(path: &Path, text: &[u8]) -> bool {
    match path.metadata() {
        Err(_) => false,
        Ok(there) if there.len() != text.len() as u64 => true,
        Ok(_) => std::fs::read(path).is_ok_and(|own| own != text),
    }
}
