//! `tin-crown completions`.

use std::io::Write;

use clap::CommandFactory;
use clap_complete::Shell;

use crate::args::{Args, Completions};
use crate::failure::{Done, Failure};
use crate::terminal;

const NAME: &str = "tin-crown";

pub fn run(args: &Completions) -> Result<Done, Failure> {
    let mut script = Vec::new();
    let mut command = Args::command();
    clap_complete::generate(args.shell, &mut command, NAME, &mut script);
    if args.shell == Shell::Bash {
        script = labelled(script);
    }
    let mut out = terminal::out();
    out.write_all(&script)?;
    out.flush()?;
    Ok(Done::Well)
}

/// The script for bash, whose labels take a hyphen in the command's name for the join to a subcommand:
/// it sets `tin__crown__subcmd__replay` and asks for `tin__subcmd__crown__subcmd__replay`.
fn labelled(script: Vec<u8>) -> Vec<u8> {
    let (asked, set) = (NAME.replace('-', "__subcmd__"), NAME.replace('-', "__"));
    match String::from_utf8(script) {
        Ok(text) => text.replace(&asked, &set).into_bytes(),
        Err(error) => error.into_bytes(),
    }
}
