//! `tin-crown tidy`.

use std::io::Write;

use tin_crown::{Format, limits};

use crate::args::Tidy;
use crate::failure::{Done, Failure};
use crate::terminal;
use crate::{layout, output, source};

pub fn run(args: &Tidy) -> Result<Done, Failure> {
    let mut out = terminal::out();
    let mut differ = false;
    for path in &args.files {
        let (name, bytes) = source::bytes(path, limits::FILE_BYTES)?;
        let text = std::str::from_utf8(&bytes)
            .map_err(|_| Failure::new(format!("{name} is not UTF-8 text")))?;
        if Format::guess(text) == Format::Json {
            let what = format!("{name} is JSON, and tidy lays out TOML");
            return Err(Failure::new(what).help("any formatter of JSON will do"));
        }
        let tidied = layout::tidy(text).map_err(|_| {
            Failure::new(format!("{name} cannot be parsed"))
                .help(format!("run `tin-crown check {name}`"))
        })?;
        // The layout of a file is not what it says.
        if tin_crown::check(tidied.as_bytes()).encounter
            != tin_crown::check(text.as_bytes()).encounter
        {
            let what = format!(
                "{name} was not changed: its layout could not be tidied without changing its meaning"
            );
            return Err(Failure::new(what));
        }
        if args.check {
            if tidied != text {
                differ = true;
                writeln!(out, "{name} is not tidy")?;
            }
        } else if source::is_dash(path) {
            out.write_all(tidied.as_bytes())?;
        } else if tidied != text {
            output::write(path, tidied.as_bytes())?;
            writeln!(out, "wrote {name}")?;
        }
    }
    out.flush()?;
    Ok(if differ { Done::Failed } else { Done::Well })
}
