//! Standard output and standard error. What is written there is seen by people: nothing that a file, a
//! path or an argument says changes how a terminal behaves.

use std::borrow::Cow;
use std::fmt::Display;
use std::io::{self, BufWriter, StdoutLock, Write};
use std::path::Path;

use anstream::AutoStream;
use anstream::adapter::StripBytes;
use tin_crown::printable::{escaped, escaped_json};

/// Standard output. Its reader may stop early: the rest is dropped, and the result of the command
/// is told by its exit code all the same.
pub struct Out(BufWriter<Reader>);

struct Reader {
    stream: AutoStream<StdoutLock<'static>>,
    gone: bool,
}

/// Standard output, with colour where it is wanted.
pub fn out() -> Out {
    let stream = anstream::AutoStream::auto(io::stdout().lock());
    Out(BufWriter::new(Reader {
        stream,
        gone: false,
    }))
}

impl Out {
    /// Whether nobody reads it any more.
    pub fn is_closed(&self) -> bool {
        self.0.get_ref().gone
    }
}

impl Reader {
    /// Minds all that can go wrong but that nobody reads any more.
    fn mind<T>(&mut self, result: io::Result<T>, otherwise: T) -> io::Result<T> {
        match result {
            Err(error) if error.kind() == io::ErrorKind::BrokenPipe => {
                self.gone = true;
                Ok(otherwise)
            }
            result => result,
        }
    }
}

impl Write for Reader {
    fn write(&mut self, bytes: &[u8]) -> io::Result<usize> {
        if self.gone {
            return Ok(bytes.len());
        }
        let written = self.stream.write(bytes);
        self.mind(written, bytes.len())
    }

    fn flush(&mut self) -> io::Result<()> {
        if self.gone {
            return Ok(());
        }
        let flushed = self.stream.flush();
        self.mind(flushed, ())
    }
}

impl Write for Out {
    fn write(&mut self, bytes: &[u8]) -> io::Result<usize> {
        self.0.write(bytes)
    }

    fn flush(&mut self) -> io::Result<()> {
        self.0.flush()
    }
}

/// A writer that leaves colour out, for files.
pub struct Colourless<W> {
    out: W,
    state: StripBytes,
}

impl<W: Write> Colourless<W> {
    pub fn new(out: W) -> Colourless<W> {
        Colourless {
            out,
            state: StripBytes::new(),
        }
    }
}

impl<W: Write> Write for Colourless<W> {
    fn write(&mut self, bytes: &[u8]) -> io::Result<usize> {
        for plain in self.state.strip_next(bytes) {
            self.out.write_all(plain)?;
        }
        Ok(bytes.len())
    }

    fn flush(&mut self) -> io::Result<()> {
        self.out.flush()
    }
}

/// Says something on standard error; where that takes no more, there is nobody to tell.
pub fn say(words: impl Display) {
    let _ = writeln!(anstream::stderr(), "{words}");
}

/// Lines of text, with what cannot be shown as escapes.
pub fn plain(text: &str) -> Cow<'_, str> {
    let lines: Vec<Cow<'_, str>> = text.split('\n').map(escaped).collect();
    if lines.iter().all(|line| matches!(line, Cow::Borrowed(_))) {
        return Cow::Borrowed(text);
    }
    Cow::Owned(lines.join("\n"))
}

/// A path, on one line.
pub fn shown(path: &Path) -> String {
    escaped(&path.display().to_string()).into_owned()
}

/// JSON in which what cannot be shown is escaped too.
pub fn json(value: &serde_json::Value) -> String {
    escaped_json(&format!("{value:#}")).into_owned()
}

/// The same on one line.
pub fn json_line(value: &serde_json::Value) -> String {
    escaped_json(&value.to_string()).into_owned()
}
