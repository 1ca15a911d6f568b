//! `tin-crown demo`.

use std::io::Write;

use crate::args::{Demo, LedgerFormat};
use crate::command::replay::{Choice, Printing};
use crate::failure::{Done, Failure};
use crate::trial::Measure;
use crate::{output, source};

/// The demo's files, by name.
const FILES: [(&str, &str); 3] = [
    (
        "first-shelf.toml",
        include_str!("../../demo/first-shelf.toml"),
    ),
    (
        "second-shelf.toml",
        include_str!("../../demo/second-shelf.toml"),
    ),
    ("attic.toml", include_str!("../../demo/attic.toml")),
];

pub fn run(args: &Demo) -> Result<Done, Failure> {
    let mut out = std::io::BufWriter::new(anstream::stdout().lock());
    if let Some(folder) = &args.write {
        std::fs::create_dir_all(folder).map_err(|error| {
            let what = format!("cannot make the folder {}", folder.display());
            Failure::new(format!("{what}: {}", source::plainly(&error)))
        })?;
        for (name, text) in FILES {
            let path = folder.join(name);
            output::write(&path, text.as_bytes())?;
            writeln!(out, "wrote {}", path.display())?;
        }
        writeln!(
            out,
            "now try: tin-crown replay {}",
            folder.join(FILES[0].0).display()
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
        let printing = Printing {
            measure: &Measure::read(&source, &plan, None)?,
            format: LedgerFormat::Table,
            choice: &Choice::default(),
        };
        let trials = printing.print(&mut out, &plan, &drills, true)?;
        failed |= trials.iter().any(|trial| trial.failed() > 0);
    }
    writeln!(
        out,
        "\nThat was the demo. To change its numbers: tin-crown demo --write attic"
    )?;
    out.flush()?;
    Ok(if failed { Done::Failed } else { Done::Well })
}
