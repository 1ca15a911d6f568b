//! Where recordings and hit logs are found.

use std::collections::BTreeMap;
use std::fs::File;
use std::io::{self, Cursor, Read};
use std::path::{Path, PathBuf};

/// Opens files by the names that an encounter gives them.
pub trait Files: Send + Sync {
    /// Opens a file from its first byte on. It is read as it goes, so it may be of any size.
    ///
    /// # Errors
    ///
    /// When there is none, or it cannot be read.
    fn open(&self, name: &str) -> io::Result<Box<dyn Read + Send>>;

    /// What a file is called in findings.
    fn told(&self, name: &str) -> String {
        name.to_owned()
    }
}

/// Why a file cannot be read or written, without the number that the system gives it.
pub fn plainly(error: &io::Error) -> String {
    use io::ErrorKind as Kind;
    let plain = match error.kind() {
        Kind::NotFound => "there is no such file",
        Kind::PermissionDenied => "permission denied",
        Kind::IsADirectory => "it is a folder",
        Kind::NotADirectory => "a part of its path is no folder",
        Kind::StorageFull => "there is no space left",
        Kind::QuotaExceeded => "there is no space left for this user",
        Kind::FileTooLarge => "it would be larger than is allowed",
        Kind::ReadOnlyFilesystem => "nothing can be written there",
        Kind::BrokenPipe => "nobody reads it any more",
        Kind::InvalidFilename => "no file can have that name",
        Kind::UnexpectedEof => "it ends too early",
        Kind::Interrupted => "it was interrupted",
        // Others say it themselves: as the system does, with its number, or in words of ours.
        _ => {
            let said = error.to_string();
            let end = said.find(" (os error").unwrap_or(said.len());
            return said[..end].to_owned();
        }
    };
    plain.to_owned()
}

/// Opens a regular file: a pipe might never be written to, and cannot be read a second time.
///
/// # Errors
///
/// When there is none, or it is something else.
pub fn regular(path: &Path) -> io::Result<File> {
    let there = path.metadata()?;
    if there.is_dir() {
        return Err(io::ErrorKind::IsADirectory.into());
    }
    if !there.is_file() {
        return Err(io::Error::other("it is not a regular file"));
    }
    File::open(path)
}

/// The files of a folder; of a name with a path of its own, from there.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Folder(pub PathBuf);

impl Folder {
    /// The folder in which a file is.
    pub fn of(file: &Path) -> Folder {
        Folder(file.parent().unwrap_or(Path::new("")).to_owned())
    }
}

/// Regular files alone.
impl Files for Folder {
    fn open(&self, name: &str) -> io::Result<Box<dyn Read + Send>> {
        Ok(Box::new(regular(&self.0.join(name))?))
    }

    fn told(&self, name: &str) -> String {
        self.0.join(name).display().to_string()
    }
}

/// Files in memory, by their names.
impl Files for BTreeMap<String, Vec<u8>> {
    fn open(&self, name: &str) -> io::Result<Box<dyn Read + Send>> {
        let bytes = self.get(name).ok_or(io::ErrorKind::NotFound)?;
        Ok(Box::new(Cursor::new(bytes.clone())))
    }
}
