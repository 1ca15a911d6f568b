//! `tin-crown completions`, and what a shell completes.

use std::ffi::OsStr;
use std::io::Write;
use std::path::Path;

use clap_complete::CompletionCandidate;
use clap_complete::env::Shells;

use crate::args::Completions;
use crate::failure::{Done, Failure};
use crate::{source, terminal};

/// The variable in which a shell's script asks for completions.
pub const ASKED: &str = "TIN_CROWN_COMPLETE";

pub fn run(args: &Completions) -> Result<Done, Failure> {
    const NAME: &str = "tin-crown";
    let (shell, mut script) = (args.shell.to_string(), Vec::new());
    let shells = Shells::builtins();
    let completer = shells
        .completer(&shell)
        .ok_or_else(|| Failure::new(format!("there are no completions for {shell}")))?;
    completer.write_registration(ASKED, NAME, NAME, NAME, &mut script)?;
    let mut out = terminal::out();
    out.write_all(&script)?;
    out.flush()?;
    Ok(Done::Well)
}

/// The paths that go on as what is typed, of the encounter that the command names; and after a comma or `=` nothing,
/// as values are nobody's to guess.
pub fn paths(typed: &OsStr) -> Vec<CompletionCandidate> {
    let typed = typed.to_string_lossy();
    if typed.contains('=') {
        return Vec::new();
    }
    // The command line stands after `--`: its first word that is a file is the encounter.
    let words = std::env::args_os().skip_while(|word| word != "--").skip(2);
    let file = words
        .map(std::path::PathBuf::from)
        .find(|word| word.is_file());
    let Some(encounter) = file.as_deref().and_then(encounter) else {
        return Vec::new();
    };
    let all = tin_crown::study::paths(&encounter).into_iter();
    let fit = all.filter(|path| path.starts_with(&*typed));
    fit.map(|path| CompletionCandidate::new(format!("{path}=")))
        .collect()
}

fn encounter(path: &Path) -> Option<tin_crown::Encounter> {
    source::read(path).ok()?.checked.encounter
}
