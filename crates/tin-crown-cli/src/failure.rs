//! How a command ends.

use std::io;

use anstyle::{AnsiColor, Style};

use crate::source::plainly;
use crate::terminal::{plain, say};

/// A command that did what it was asked.
pub enum Done {
    /// And all is well.
    Well,
    /// But a check failed.
    Failed,
    /// Until ctrl-C was pressed.
    Interrupted,
}

/// A command that could not do what it was asked.
pub enum Failure {
    /// Something in one sentence, and perhaps what to do about it.
    Said { what: String, help: Option<String> },
    /// Findings, printed already, keep it from going on.
    Found,
}

impl Failure {
    pub fn new(what: impl Into<String>) -> Failure {
        Failure::Said {
            what: what.into(),
            help: None,
        }
    }

    /// What keeps a drill of a file from being replayed.
    pub fn replaying(file: &str, error: &dyn std::error::Error) -> Failure {
        Failure::new(format!("{file}: {error}"))
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

    /// What an error of the library says, with its advice, if it has any.
    pub fn of(error: &dyn std::error::Error, help: Option<impl Into<String>>) -> Failure {
        let failure = Failure::new(error.to_string());
        match help {
            Some(help) => failure.help(help),
            None => failure,
        }
    }

    /// Says on standard error what is wrong.
    pub fn print(&self) {
        let Failure::Said { what, help } = self else {
            return;
        };
        let red = Style::new().bold().fg_color(Some(AnsiColor::Red.into()));
        say(format_args!("{red}error{red:#}: {}", plain(what)));
        if let Some(help) = help {
            say(format_args!("  help: {}", plain(help)));
        }
    }
}

/// What went wrong with standard output.
impl From<io::Error> for Failure {
    fn from(error: io::Error) -> Failure {
        Failure::new(format!(
            "cannot write to standard output: {}",
            plainly(&error)
        ))
    }
}

impl From<tin_crown::ledger::LedgerError> for Failure {
    fn from(error: tin_crown::ledger::LedgerError) -> Failure {
        match error {
            tin_crown::ledger::LedgerError::Write(error) => error.into(),
            other => Failure::new(other.to_string()),
        }
    }
}
