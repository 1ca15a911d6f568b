//! `tin-crown new`.

use std::io::Write;

use tin_crown::demo::STARTER;

use crate::args::New;
use crate::failure::{Done, Failure};
use crate::{output, source, terminal};

pub fn run(args: &New) -> Result<Done, Failure> {
    if source::is_dash(&args.file) {
        let mut out = terminal::out();
        out.write_all(STARTER.as_bytes())?;
        out.flush()?;
        return Ok(Done::Well);
    }
    let shown = terminal::shown(&args.file);
    if args.file.exists() && !args.force {
        return Err(Failure::new(format!("{shown} already exists"))
            .help("choose another name, or use --force to overwrite it"));
    }
    output::write(&args.file, STARTER.as_bytes())?;
    let mut out = terminal::out();
    writeln!(out, "wrote {shown}\nnow try: tin-crown replay {shown}")?;
    out.flush()?;
    Ok(Done::Well)
}
