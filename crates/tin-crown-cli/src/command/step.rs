//! `tin-crown step`.

use std::io;

use tin_crown::pipe::Pipe;

use crate::args::Step as Arguments;
use crate::failure::{Done, Failure};
use crate::source;

pub fn run(args: &Arguments) -> Result<Done, Failure> {
    if source::is_dash(&args.file) {
        return Err(Failure::new("standard input is for the lines of the pipe")
            .help("give the encounter as a file"));
    }
    let source = source::read(&args.file)?;
    let plan = source.plan()?;
    let mut pipe = Pipe::open(&plan, args.seed);
    match pipe.converse(io::stdin().lock(), io::stdout().lock()) {
        // Whoever hangs up has heard enough.
        Err(error) if error.kind() == io::ErrorKind::BrokenPipe => Ok(Done::Well),
        Err(error) => Err(Failure::new(format!("the pipe broke: {error}"))),
        Ok(()) => Ok(Done::Well),
    }
}
