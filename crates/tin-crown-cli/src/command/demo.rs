//! `tin-crown demo`.

use std::io::Write;
use std::path::Path;

use tin_crown::demo::FILES;

use crate::args::{Demo, LedgerFormat};
use crate::command::replay::{self, Choice, Printing};
use crate::failure::{Done, Failure};
use crate::takes::Take;
use crate::terminal::{self, shown};
use crate::trial::Beside;
use crate::{output, source};

/// The schema that the demo's files name in their first line.
const SCHEMA: &str = "encounter.schema.json";

pub fn run(args: &Demo) -> Result<Done, Failure> {
    let mut out = terminal::out();
    if let Some(folder) = &args.write {
        std::fs::create_dir_all(folder).map_err(|error| {
            let what = format!("cannot make the folder {}", shown(folder));
            Failure::new(format!("{what}: {}", source::plainly(&error)))
        })?;
        let schema = tin_crown::schema::encounter();
        let files = FILES.into_iter().chain([(SCHEMA, schema.as_str())]);
        let edited = files.clone().map(|(name, text)| (folder.join(name), text));
        let edited = edited.filter(|(path, text)| differs(path, text.as_bytes()));
        let edited: Vec<String> = edited.map(|(path, _)| shown(&path)).collect();
        if !edited.is_empty() && !args.force {
            let what = format!(
                "{} differs from the demo and would be overwritten",
                edited.join(", ")
            );
            return Err(Failure::new(what).help("choose another folder, or use --force"));
        }
        for (name, text) in files {
            let path = folder.join(name);
            output::write(&path, text.as_bytes())?;
            writeln!(out, "wrote {}", shown(&path))?;
        }
        writeln!(
            out,
            "now try: tin-crown replay {}",
            shown(&folder.join(FILES[0].0))
        )?;
        out.flush()?;
        return Ok(Done::Well);
    }
    let mut failed = false;
    for (nth, (name, text)) in FILES.into_iter().enumerate() {
        if nth > 0 {
            writeln!(out)?;
        }
        let source = source::checked(name, text.as_bytes());
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
    writeln!(
        out,
        "\nThat was the demo. To change its numbers: tin-crown demo --write attic"
    )?;
    out.flush()?;
    Ok(if failed { Done::Failed } else { Done::Well })
}

/// Whether a file is there, and is not just so.
fn differs(path: &Path, text: &[u8]) -> bool {
    match path.metadata() {
        Err(_) => false,
        Ok(there) if there.len() != text.len() as u64 => true,
        Ok(_) => std::fs::read(path).is_ok_and(|own| own != text),
    }
}
