//! `tin-crown play`: an encounter played in a browser, and who is kept out.

use std::fs;
use std::io::{BufRead, BufReader};
use std::path::Path;
use std::process::{Child, Command, Stdio};

use serde_json::Value;

use crate::browser::{Page, browser};
use crate::tool::folder;

/// The command, playing.
struct Server {
    process: Child,
    address: String,
}

impl Server {
    fn start(folder: &Path, args: &[&str]) -> Server {
        let mut process = Command::new(assert_cmd::cargo::cargo_bin("tin-crown"))
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
        Server {
            process,
            address: address.trim().to_owned(),
        }
    }
}

impl Drop for Server {
    fn drop(&mut self) {
        let _ = self.process.kill();
        let _ = self.process.wait();
    }
}

#[test]
fn first_look() {
    let Some(browser) = browser() else { return };
    let folder = folder();
    fs::write(folder.path().join("attic.toml"), tin_crown::demo::ATTIC).expect("a file");
    let server = Server::start(folder.path(), &["attic.toml"]);
    let mut page = Page::open(&browser, &server.address, "");
    page.until("document.querySelectorAll('#drive option').length");
    page.key("ArrowRight", "ArrowRight", true);
    page.until("document.getElementById('now').textContent.includes('tick 9')");
    std::thread::sleep(std::time::Duration::from_millis(1500));
    page.key("KeyP", "p", true);
    page.key("KeyP", "p", false);
    std::thread::sleep(std::time::Duration::from_millis(300));
    let shot = page.shot();
    fs::write("/tmp/r/play.b64", shot).expect("a picture");
    println!("{:?}", page.faults);
    println!("{}", page.eval("document.body.innerText"));
    let _: Value = Value::Null;
}
