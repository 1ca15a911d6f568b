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

/// Why a file cannot be read, without the number that the system gives it.
pub fn plainly(error: &io::Error) -> String {
    match error.kind() {
        io::ErrorKind::NotFound => "there is no such file".to_owned(),
        io::ErrorKind::PermissionDenied => "permission denied".to_owned(),
        io::ErrorKind::IsADirectory => "it is a folder".to_owned(),
        _ => error.to_string(),
    }
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

/// Regular files alone: a pipe might never be written to, and cannot be read a second time.
impl Files for Folder {
    fn open(&self, name: &str) -> io::Result<Box<dyn Read + Send>> {
        let path = self.0.join(name);
        let there = path.metadata()?;
        if there.is_dir() {
            return Err(io::ErrorKind::IsADirectory.into());
        }
        if !there.is_file() {
            return Err(io::Error::other("it is not a regular file"));
        }
        Ok(Box::new(File::open(path)?))
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
