//! Every example runs, and asserts what it shows.

use std::path::Path;
use std::process::Command;

#[test]
fn every_example_runs() {
    let sources = Path::new(env!("CARGO_MANIFEST_DIR")).join("examples");
    // Beside the folder of this test: `cargo test` builds them all.
    let here = std::env::current_exe().expect("a test has a file");
    let built = here.ancestors().nth(2).expect("a folder").join("examples");
    let mut run = 0;
    for entry in std::fs::read_dir(sources).expect("there are examples") {
        let name = entry.expect("a file").path();
        let Some(name) = name.file_name().and_then(|name| name.to_str()) else {
            continue;
        };
        let Some(name) = name.strip_suffix(".rs") else {
            continue;
        };
        let example = built
            .join(name)
            .with_extension(std::env::consts::EXE_EXTENSION);
        assert!(
            example.exists(),
            "{name} is not built: cargo build --examples"
        );
        let output = Command::new(example).output().expect("it starts");
        let said = String::from_utf8_lossy(&output.stderr);
        assert!(output.status.success(), "{name}: {said}");
        run += 1;
    }
    assert!(run >= 12, "{run} examples");
}
