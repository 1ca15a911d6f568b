//! Writing files whole or not at all.

use std::fs::File;
use std::io::{self, BufWriter, Write};
use std::path::Path;

use tempfile::NamedTempFile;

use crate::failure::Failure;
use crate::interrupt::Pending;
use crate::source::plainly;
use crate::terminal::shown;

/// Refuses to write onto a file that is read, through whatever link.
pub fn spares(output: &Path, inputs: &[&Path]) -> Result<(), Failure> {
    let real = |path: &Path| path.canonicalize().ok();
    let Some(target) = real(output) else {
        return Ok(());
    };
    for input in inputs {
        if real(input).as_ref() == Some(&target) {
            let what = format!("{} is an input file and would be overwritten", shown(input));
            return Err(Failure::new(what).help("write to another file"));
        }
    }
    Ok(())
}

/// Writes a file: first beside its place, then into it in one move.
pub fn write(path: &Path, contents: &[u8]) -> Result<(), Failure> {
    whole(path, |file| Ok(file.write_all(contents)?))
}

/// The same, bit by bit: when `fill` fails, nothing is written.
pub fn whole<T>(
    path: &Path,
    fill: impl FnOnce(&mut dyn Write) -> Result<T, Failure>,
) -> Result<T, Failure> {
    let folder = match path.parent() {
        Some(folder) if !folder.as_os_str().is_empty() => folder,
        _ => Path::new("."),
    };
    let fail = |error: &io::Error| {
        let what = format!("cannot write {}: {}", shown(path), plainly(error));
        let help = if folder.is_dir() {
            "choose a writable place".to_owned()
        } else {
            format!("there is no folder {}", shown(folder))
        };
        Failure::new(what).help(help)
    };
    if path.is_dir() {
        return Err(Failure::new(format!(
            "cannot write {}: it is a folder",
            shown(path)
        )));
    }
    // What it replaces keeps its mode.
    let there = path.metadata().ok();
    // What is no file, a pipe or a device, cannot be put in place; it is written to.
    if there.as_ref().is_some_and(|there| !there.is_file()) {
        let file = File::options().write(true).open(path);
        let mut file = BufWriter::new(file.map_err(|error| fail(&error))?);
        let done = filled(&mut file, fill, &fail)?;
        return Ok(done);
    }
    // A link goes on to lead to the file.
    let target = &path.canonicalize().unwrap_or_else(|_| path.to_owned());
    let folder = target.parent().unwrap_or(folder);
    let mut file = NamedTempFile::new_in(folder).map_err(|error| fail(&error))?;
    let _pending = Pending::new(file.path());
    let done = filled(&mut BufWriter::new(&mut file), fill, &fail)?;
    match there {
        Some(there) => file.as_file().set_permissions(there.permissions()),
        None => readable(&file),
    }
    .map_err(|error| fail(&error))?;
    file.persist(target).map_err(|error| fail(&error.error))?;
    Ok(done)
}

/// Fills a file. What goes wrong with writing is told of the file.
fn filled<T>(
    file: &mut dyn Write,
    fill: impl FnOnce(&mut dyn Write) -> Result<T, Failure>,
    fail: &dyn Fn(&io::Error) -> Failure,
) -> Result<T, Failure> {
    let mut watched = Watched { file, error: None };
    let done = fill(&mut watched);
    let flushed = watched.flush();
    match watched.error {
        Some(error) => Err(fail(&error)),
        None => {
            flushed.map_err(|error| fail(&error))?;
            done
        }
    }
}

/// Remembers what went wrong first.
struct Watched<'f> {
    file: &'f mut dyn Write,
    error: Option<io::Error>,
}

impl Watched<'_> {
    fn watch<T>(&mut self, result: io::Result<T>) -> io::Result<T> {
        result.map_err(|error| {
            let kind = error.kind();
            self.error.get_or_insert(error);
            kind.into()
        })
    }
}

impl Write for Watched<'_> {
    fn write(&mut self, bytes: &[u8]) -> io::Result<usize> {
        let written = self.file.write(bytes);
        self.watch(written)
    }

    fn flush(&mut self) -> io::Result<()> {
        let flushed = self.file.flush();
        self.watch(flushed)
    }
}

/// Temporary files are their owner's alone; what is written for good is as any new file.
#[cfg(unix)]
fn readable(file: &NamedTempFile) -> std::io::Result<()> {
    use std::os::unix::fs::PermissionsExt;
    file.as_file()
        .set_permissions(std::fs::Permissions::from_mode(0o644))
}

#[cfg(not(unix))]
fn readable(_file: &NamedTempFile) -> std::io::Result<()> {
    Ok(())
}
