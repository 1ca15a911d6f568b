//! `tin-crown play` as a process.

use std::io::{BufRead, BufReader};
use std::path::Path;
use std::process::{Child, Command, Stdio};
use std::time::{Duration, Instant};

/// The command, playing.
pub struct Server {
    pub process: Child,
    pub address: String,
}

impl Server {
    pub fn start(folder: &Path, args: &[&str]) -> Server {
        let mut process = Command::new(env!("CARGO_BIN_EXE_tin-crown"))
            .arg("play")
            .args(args)
            .arg("--no-browser")
            .current_dir(folder)
            .stdout(Stdio::piped())
            .stderr(Stdio::null())
            .spawn()
            .expect("it starts");
        let mut address = String::new();
        let out = process.stdout.take().expect("it is piped");
        BufReader::new(out)
            .read_line(&mut address)
            .expect("an address");
        let address = address.trim().to_owned();
        assert!(address.starts_with("http://127.0.0.1:"), "{address}");
        Server { process, address }
    }

    /// `127.0.0.1:7007`, and the token.
    pub fn parts(&self) -> (String, String) {
        let rest = self.address.strip_prefix("http://").expect("an address");
        let (host, token) = rest.split_once('/').expect("a token");
        (host.to_owned(), token.trim_end_matches('/').to_owned())
    }

    /// Waits until it has ended, and says how.
    pub fn ended(&mut self) -> Option<i32> {
        let begun = Instant::now();
        while begun.elapsed() < crate::browser::PATIENCE {
            if let Some(status) = self.process.try_wait().expect("it can be asked") {
                return status.code();
            }
            std::thread::sleep(Duration::from_millis(20));
        }
        panic!("it does not end");
    }
}

impl Drop for Server {
    fn drop(&mut self) {
        let _ = self.process.kill();
        let _ = self.process.wait();
    }
}
