//! `tin-crown step`.

use std::io::{self, BufRead, Read, Write};

use tin_crown::limits;
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
    match converse(&mut pipe) {
        // Whoever hangs up has heard enough.
        Err(error) if error.kind() == io::ErrorKind::BrokenPipe => Ok(Done::Well),
        Err(error) => Err(Failure::new(format!("the pipe broke: {error}"))),
        Ok(()) => Ok(Done::Well),
    }
}

/// A line in, a line out, up to the end of the input.
fn converse(pipe: &mut Pipe) -> io::Result<()> {
    let (mut input, mut out) = (io::stdin().lock(), io::stdout().lock());
    let mut say = |line: &str| {
        // In one piece, so that no line waits for its end.
        out.write_all(format!("{line}\n").as_bytes())?;
        out.flush()
    };
    say(&pipe.hello())?;
    let mut line = Vec::new();
    loop {
        line.clear();
        let most = limits::PIPE_BYTES + 1;
        if (&mut input).take(most).read_until(b'\n', &mut line)? == 0 {
            return Ok(());
        }
        if line.len() as u64 == most && line.last() != Some(&b'\n') {
            input.skip_until(b'\n')?;
        }
        match std::str::from_utf8(line.trim_ascii()) {
            // An empty line is none.
            Ok("") => {}
            Ok(text) => say(&pipe.answer(text))?,
            Err(_) => say(&pipe.answer("not UTF-8"))?,
        }
    }
}
