//! The `tin-crown` command: check, replay and draw combat encounters of 2D games.

mod args;
mod command;
mod drills;
mod edit;
mod failure;
mod findings;
mod interrupt;
mod layout;
mod misses;
mod output;
mod parquet;
mod picture;
mod progress;
mod report;
mod sarif;
mod sheets;
mod source;
mod table;
mod takes;
mod terminal;
mod trial;

use std::io::Write;
use std::process::ExitCode;

use clap::{CommandFactory, Parser};
use clap_complete::CompleteEnv;

use args::{Args, Colour, Command};
use command::completions;
use failure::{Done, Failure};

fn main() -> ExitCode {
    // A shell that asks for completions is answered, and that is all.
    CompleteEnv::with_factory(Args::command)
        .var(completions::ASKED)
        .complete();
    let args = match Args::try_parse() {
        Ok(args) => args,
        Err(error) => return usage(&error),
    };
    match args.colour {
        Colour::Auto => {}
        Colour::Always => anstream::ColorChoice::Always.write_global(),
        Colour::Never => anstream::ColorChoice::Never.write_global(),
    }
    let done = match args.command {
        Command::Demo(args) => command::demo::run(&args),
        Command::New(args) => command::new::run(&args),
        Command::Check(args) => command::check::run(&args),
        Command::Tidy(args) => command::tidy::run(&args),
        Command::Replay(args) => command::replay::run(&args),
        Command::Why(args) => command::why::run(&args),
        Command::Compare(args) => command::compare::run(&args),
        Command::Coverage(args) => command::coverage::run(&args),
        Command::Study(args) => command::study::run(&args),
        Command::Draw(args) => command::draw::run(&args),
        Command::Trace(args) => command::trace::run(&args),
        Command::Report(args) => command::report::run(&args),
        Command::Play(args) => command::play::run(&args),
        Command::Step(args) => command::step::run(&args),
        Command::Watch(args) => command::watch::run(&args),
        Command::Schema(args) => command::schema::run(&args),
        Command::Completions(args) => command::completions::run(&args),
    };
    match done {
        Ok(Done::Well) => ExitCode::SUCCESS,
        Ok(Done::Failed) => ExitCode::from(1),
        Ok(Done::Interrupted) => ExitCode::from(130),
        Err(failure) => {
            failure.print();
            ExitCode::from(2)
        }
    }
}

/// Prints help, or what is wrong with the arguments.
fn usage(error: &clap::Error) -> ExitCode {
    let text = error.to_string();
    // What an argument says is repeated as it can be shown.
    match terminal::plain(&text) {
        std::borrow::Cow::Borrowed(_) if error.use_stderr() => drop(error.print()),
        std::borrow::Cow::Borrowed(_) => {
            let mut out = terminal::out();
            let printed = write!(out, "{}", error.render().ansi()).and_then(|()| out.flush());
            if let Err(error) = printed {
                Failure::from(error).print();
                return ExitCode::from(2);
            }
        }
        std::borrow::Cow::Owned(text) => terminal::say(text.trim_end()),
    }
    ExitCode::from(if error.use_stderr() { 2 } else { 0 })
}
