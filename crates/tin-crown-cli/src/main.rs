//! The `tin-crown` command: check, replay and draw combat encounters of 2D games.

mod args;
mod changes;
mod command;
mod drills;
mod failure;
mod findings;
mod output;
mod progress;
mod report;
mod sarif;
mod source;
mod table;
mod trial;

use std::process::ExitCode;

use clap::Parser;

use args::{Args, Colour, Command};
use failure::{Done, Failure};

fn main() -> ExitCode {
    let args = Args::parse();
    match args.colour {
        Colour::Auto => {}
        Colour::Always => anstream::ColorChoice::Always.write_global(),
        Colour::Never => anstream::ColorChoice::Never.write_global(),
    }
    let done = match args.command {
        Command::Demo(args) => command::demo::run(&args),
        Command::New(args) => command::new::run(&args),
        Command::Check(args) => command::check::run(&args),
        Command::Replay(args) => command::replay::run(&args),
        Command::Why(args) => command::why::run(&args),
        Command::Compare(args) => command::compare::run(&args),
        Command::Coverage(args) => command::coverage::run(&args),
        Command::Draw(args) => command::draw::run(&args),
        Command::Report(args) => command::report::run(&args),
        Command::Watch(args) => command::watch::run(&args),
        Command::Completions(args) => command::completions::run(&args),
    };
    match done {
        Ok(Done::Well) => ExitCode::SUCCESS,
        Ok(Done::Failed) => ExitCode::from(1),
        Err(Failure::Closed) => ExitCode::SUCCESS,
        Err(failure) => {
            failure.print();
            ExitCode::from(2)
        }
    }
}
