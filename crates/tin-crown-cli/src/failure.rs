//! How a command ends.

use std::io;

use anstyle::{AnsiColor, Style};

/// A command that did what it was asked.
pub enum Done {
    /// And all is well.
    Well,
    /// But a check failed.
    Failed,
}

/// A command that could not do what it was asked.
pub enum Failure {
    /// Something in one sentence, and perhaps what to do about it.
    Said { what: String, help: Option<String> },
    /// Findings, printed already, keep it from going on.
    Found,
    /// Whoever read the output wants no more of it.
    Closed,
}

impl Failure {
    pub fn new(what: impl Into<String>) -> Failure {
        Failure::Said {
            what: what.into(),
            help: None,
        }
    }

    pub fn help(self, more: impl Into<String>) -> Failure {
        match self {
            Failure::Said { what, .. } => Failure::Said {
                what,
                help: Some(more.into()),
            },
            other => other,
        }
    }

    /// Says on standard error what is wrong.
    pub fn print(&self) {
        let Failure::Said { what, help } = self else {
            return;
        };
        let red = Style::new().bold().fg_color(Some(AnsiColor::Red.into()));
        anstream::eprintln!("{red}error{red:#}: {what}");
        if let Some(help) = help {
            anstream::eprintln!("  help: {help}");
        }
    }
}

/// What went wrong with standard output.
impl From<io::Error> for Failure {
    fn from(error: io::Error) -> Failure {
        if error.kind() == io::ErrorKind::BrokenPipe {
            Failure::Closed
        } else {
            Failure::new(format!("cannot write to standard output: {error}"))
        }
    }
}

impl From<tin_crown::LedgerError> for Failure {
    fn from(error: tin_crown::LedgerError) -> Failure {
        match error {
            tin_crown::LedgerError::Write(error) => error.into(),
        }
    }
}
