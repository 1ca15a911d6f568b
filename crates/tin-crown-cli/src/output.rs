//! Writing files whole or not at all.

use std::io::Write;
use std::path::Path;

use tempfile::NamedTempFile;

use crate::failure::Failure;
use crate::source::plainly;

/// Writes a file: first beside its place, then into it in one move.
pub fn write(path: &Path, contents: &[u8]) -> Result<(), Failure> {
    let folder = match path.parent() {
        Some(folder) if !folder.as_os_str().is_empty() => folder,
        _ => Path::new("."),
    };
    let fail = |error: &std::io::Error| {
        let what = format!("cannot write {}: {}", path.display(), plainly(error));
        let help = if folder.is_dir() {
            "choose a place that can be written to".to_owned()
        } else {
            format!("there is no folder {}", folder.display())
        };
        Failure::new(what).help(help)
    };
    if path.is_dir() {
        return Err(Failure::new(format!(
            "cannot write {}: it is a folder",
            path.display()
        )));
    }
    // What is no file, a pipe or a device, cannot be put in place; it is written to.
    if path.metadata().is_ok_and(|there| !there.is_file()) {
        return std::fs::write(path, contents).map_err(|error| fail(&error));
    }
    // A link goes on to lead to the file.
    let path = &path.canonicalize().unwrap_or_else(|_| path.to_owned());
    let folder = path.parent().unwrap_or(folder);
    let mut file = NamedTempFile::new_in(folder).map_err(|error| fail(&error))?;
    file.write_all(contents).map_err(|error| fail(&error))?;
    readable(&file).map_err(|error| fail(&error))?;
    file.persist(path).map_err(|error| fail(&error.error))?;
    Ok(())
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
