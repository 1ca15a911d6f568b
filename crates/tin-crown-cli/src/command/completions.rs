//! `tin-crown completions`.

use std::io::Write;

use clap::CommandFactory;

use crate::args::{Args, Completions};
use crate::failure::{Done, Failure};

pub fn run(args: &Completions) -> Result<Done, Failure> {
    let mut script = Vec::new();
    let mut command = Args::command();
    clap_complete::generate(args.shell, &mut command, "tin-crown", &mut script);
    std::io::stdout().write_all(&script)?;
    Ok(Done::Well)
}
