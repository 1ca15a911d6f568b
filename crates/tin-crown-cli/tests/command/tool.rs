//! Running the tool.

use std::path::{Path, PathBuf};
use std::sync::LazyLock;

use assert_cmd::Command;

/// What a run came to.
pub struct Run {
    pub code: i32,
    pub out: String,
    pub err: String,
}

/// The tool in some folder, without a terminal.
pub fn tool(folder: &Path, args: &[&str]) -> Run {
    tool_reading(folder, args, "")
}

pub fn tool_reading(folder: &Path, args: &[&str], input: &str) -> Run {
    let output = Command::cargo_bin("tin-crown")
        .expect("the tool is built")
        .args(args)
        .current_dir(folder)
        .env_remove("NO_COLOR")
        .env_remove("CLICOLOR_FORCE")
        .write_stdin(input)
        .timeout(std::time::Duration::from_secs(300))
        .output()
        .expect("the tool runs");
    let text = |bytes: Vec<u8>| String::from_utf8(bytes).expect("it prints text");
    Run {
        code: output.status.code().expect("it ends by itself"),
        out: text(output.stdout),
        err: text(output.stderr),
    }
}

/// A folder with the demo's files, and the starter.
pub fn demo() -> PathBuf {
    static FOLDER: LazyLock<tempfile::TempDir> = LazyLock::new(|| {
        let folder = folder_with_drawings();
        let starter = ("starter.toml", tin_crown::demo::STARTER);
        let files = tin_crown::demo::FILES.into_iter();
        for (name, text) in files.chain(tin_crown::demo::GOLDEN).chain([starter]) {
            std::fs::write(folder.path().join(name), text).expect("the file can be written");
        }
        folder
    });
    FOLDER.path().to_owned()
}

pub fn folder() -> tempfile::TempDir {
    tempfile::tempdir().expect("a folder")
}

/// A folder with the drawings of the demo.
pub fn folder_with_drawings() -> tempfile::TempDir {
    let folder = folder();
    for (name, bytes) in tin_crown::demo::SPRITES {
        std::fs::write(folder.path().join(name), bytes).expect("the file can be written");
    }
    folder
}
