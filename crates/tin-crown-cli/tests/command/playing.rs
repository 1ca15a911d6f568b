//! `tin-crown play`: an encounter played in a browser, and who is kept out.

use std::fs;
use std::io::{BufRead, BufReader, Read, Write};
use std::net::TcpStream;
use std::path::Path;
use std::process::{Child, Command, Stdio};
use std::time::{Duration, Instant};

use serde_json::{Value, json};
use tungstenite::client::IntoClientRequest;
use tungstenite::{Message, WebSocket};

use crate::browser::{Page, browser};
use crate::tool::{folder, tool};

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
        let address = address.trim().to_owned();
        assert!(address.starts_with("http://127.0.0.1:"), "{address}");
        Server { process, address }
    }

    /// `127.0.0.1:7007`, and the token.
    fn parts(&self) -> (String, String) {
        let rest = self.address.strip_prefix("http://").expect("an address");
        let (host, token) = rest.split_once('/').expect("a token");
        (host.to_owned(), token.trim_end_matches('/').to_owned())
    }

    /// The status and the text of an answer.
    fn ask(&self, line: &str, headers: &str) -> (u16, String) {
        let (host, _) = self.parts();
        let mut stream = TcpStream::connect(&host).expect("it listens");
        stream
            .set_read_timeout(Some(Duration::from_secs(10)))
            .expect("it can");
        write!(
            stream,
            "{line} HTTP/1.1\r\n{headers}Connection: close\r\n\r\n"
        )
        .expect("it takes a request");
        let mut text = String::new();
        stream.read_to_string(&mut text).expect("it answers");
        let status = text.split(' ').nth(1).and_then(|own| own.parse().ok());
        (status.expect("a status"), text)
    }

    /// A socket of a page of its own.
    fn socket(&self, origin: &str) -> Result<WebSocket<TcpStream>, String> {
        let (host, token) = self.parts();
        let mut request = format!("ws://{host}/{token}/socket")
            .into_client_request()
            .expect("an address");
        let origin = origin.parse().expect("a header");
        request.headers_mut().insert("Origin", origin);
        let stream = TcpStream::connect(&host).expect("it listens");
        stream
            .set_read_timeout(Some(Duration::from_secs(20)))
            .expect("it can");
        let socket = tungstenite::client(request, stream);
        socket
            .map(|(socket, _)| socket)
            .map_err(|error| error.to_string())
    }

    fn own_socket(&self) -> WebSocket<TcpStream> {
        let (host, _) = self.parts();
        self.socket(&format!("http://{host}"))
            .expect("it is let in")
    }

    /// Waits until it has ended, and says how.
    fn ended(&mut self) -> Option<i32> {
        let begun = Instant::now();
        while begun.elapsed() < Duration::from_secs(10) {
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

/// The next message of a kind.
fn told(socket: &mut WebSocket<TcpStream>, is: &str) -> Value {
    loop {
        let message = socket
            .read()
            .unwrap_or_else(|error| panic!("{is}: {error}"));
        if let Message::Text(text) = message {
            let told: Value = serde_json::from_str(&text).expect("it is JSON");
            if told["is"] == is {
                return told;
            }
        }
    }
}

fn order(socket: &mut WebSocket<TcpStream>, order: Value) {
    socket
        .send(Message::text(order.to_string()))
        .expect("it takes an order");
}

/// Spikes 40 units to the right of the hero, who has two lives of one health each and walks 2 units a tick.
const DUEL: &str = r#"edition = 1
title = "A hero before spikes"

[arena]
bounds = { min = [0, 0], max = [320, 120] }

[kind.hero]             # the one who is played
side = "ours"
player = true
walk = { speed = 120 }  # units a second
meter.health = { max = 1 }
hurtbox.all = { size = [10, 20] }
respawn = { at = "start", delay = "0.3s", lives = 2, resets = "self" }

[[kind.hero.death]]
after = "0.2s"
cue = "curtain"

[kind.spikes]
side = "theirs"
hitbox.tips = { size = [10, 10] }

[[place]]
kind = "hero"
at = [40, 60]

[[place]]
kind = "spikes"
at = [200, 60]

[[rule]]
name = "spikes prick"
hitbox = "spikes.tips"
hurtbox = "hero.all"
damage = 1

[drill.walk]
length = "2s"
input = [{ when = "0.2s", who = "hero", hold = "right", for = "1s" }]
"#;

fn duel() -> tempfile::TempDir {
    let folder = folder();
    fs::write(folder.path().join("duel.toml"), DUEL).expect("a file");
    folder
}

const TICK: &str = "Number(document.documentElement.dataset.drawn)";

#[test]
fn an_encounter_is_played_rewound_changed_and_kept() {
    let Some(browser) = browser() else { return };
    let folder = duel();
    let server = Server::start(folder.path(), &["duel.toml"]);
    let mut page = Page::open(&browser, &server.address, "");
    page.until("document.querySelectorAll('#drive option').length");
    let hero = "document.getElementById('arena').seen().actors.find((own)=>own.id==='hero')";
    let at = page.until(&format!("{hero}.x")).as_f64().expect("a place");
    // The first key begins. The hero walks, is pricked, dies, and comes back.
    page.key("ArrowRight", "ArrowRight", true);
    page.until(&format!("{hero}.x > {at} + 60"));
    page.until(
        "document.getElementById('hit').textContent.includes('spikes hits hero: health 1 → 0')",
    );
    page.until("[...document.querySelectorAll('#rows .row')].some((own)=>own.textContent.includes('comes back'))");
    page.key("ArrowRight", "ArrowRight", false);
    page.until("[...document.querySelectorAll('#rows .row')].some((own)=>own.textContent.includes('releases right'))");
    // Time is held, and turned back by a key that is held down; let go, another branch is played.
    page.key("KeyP", "p", true);
    page.key("KeyP", "p", false);
    page.until("document.getElementById('play').textContent === 'Play'");
    let end = page
        .eval("Number(document.getElementById('seek').max)")
        .as_u64()
        .expect("a tick");
    page.key("KeyR", "r", true);
    page.until(&format!("{TICK} < 60"));
    page.key("KeyR", "r", false);
    page.until(&format!(
        "{TICK} > 70 && document.getElementById('branches').children.length === 2"
    ));
    page.key("KeyP", "p", true);
    page.key("KeyP", "p", false);
    page.until("document.getElementById('play').textContent === 'Play'");
    // The first branch is there, with its end; and undo returns to this one.
    page.click("#tab-branches");
    page.click("#branches button");
    page.until(&format!("{TICK} === {end}"));
    page.until("document.getElementById('hit').textContent.includes('health 1 → 0')");
    // A line of the ledger is a place in time, and tells its why.
    page.eval(
        "document.getElementById('event').value='hit';document.getElementById('event').onchange()",
    );
    page.click("#rows .row");
    page.until("document.getElementById('why').textContent.includes('✓ invincible')");
    let hit = page.eval(TICK).as_u64().expect("a tick");
    assert!(hit < end);
    page.eval(
        "document.getElementById('event').value='';document.getElementById('event').onchange()",
    );
    // A number is changed under the run: half as fast, the spikes are not reached by then.
    let spot = page.eval(
        "(()=>{const on=document.getElementById('arena'),{actors,region,left,scale}=on.seen();on.scrollIntoView();\
         const own=actors.find((own)=>own.id==='spikes'),box=on.getBoundingClientRect();\
         return [box.x+left+(own.x-region[0])*scale,box.y+(own.y-region[1])*scale]})()",
    );
    page.click_at(spot[0].as_f64().expect("x"), spot[1].as_f64().expect("y"));
    page.until("document.getElementById('about').textContent === 'tips of spikes, a spikes'");
    page.until("document.querySelector('#numbers label').textContent === 'kind.spikes.hitbox.tips.size[1]'");
    page.eval("const find=document.getElementById('find');find.value='walk speed';find.oninput()");
    page.eval("const own=document.querySelector('[data-path=\"kind.hero.walk.speed\"]');own.value='60';own.onchange()");
    page.until("document.getElementById('changed').textContent.includes('gone')");
    page.until("document.getElementById('write').textContent === 'Write 1 to the file'");
    // With such a change nothing can be kept; it is given back.
    page.click("#tab-keep");
    page.click("#draft-here");
    page.until("!document.getElementById('keep').hidden");
    page.eval("document.getElementById('keep').requestSubmit()");
    page.until(
        "document.getElementById('said').textContent.includes('numbers that are not in the file')",
    );
    page.key("Escape", "Escape", true);
    page.key("KeyZ", "z", true);
    page.key("KeyZ", "z", false);
    page.until("document.getElementById('write').disabled");
    assert_eq!(
        fs::read_to_string(folder.path().join("duel.toml")).expect("a file"),
        DUEL
    );
    // The whole branch is kept as a drill, with what is expected of it.
    page.click("#draft-whole");
    page.until(&format!(
        "{TICK} === {end} && document.getElementById('expect').textContent.includes('a death of hero')"
    ));
    let played = page.eval("fetch('ledger.jsonl').then((own)=>own.text())");
    page.eval("document.getElementById('name').value='felt';document.getElementById('golden').checked=true");
    page.eval("document.getElementById('keep').requestSubmit()");
    page.until("document.getElementById('said').textContent.includes('felt is kept')");
    let text = fs::read_to_string(folder.path().join("duel.toml")).expect("a file");
    let added = text.strip_prefix(DUEL).expect("all else is as it was");
    assert!(
        added.contains("[drill.felt]") && added.contains("hold = \"right\""),
        "{added}"
    );
    // Replayed it is what was played, byte for byte but for the header, which has the drill's name.
    let args = [
        "replay",
        "duel.toml",
        "--drill",
        "felt",
        "--format",
        "jsonl",
    ];
    let replayed = tool(folder.path(), &args);
    assert_eq!(replayed.code, 0, "{}", replayed.err);
    let lines = |text: &str| {
        text.split_once('\n')
            .map(|(_, lines)| lines.to_owned())
            .expect("lines")
    };
    assert_eq!(
        lines(&replayed.out),
        lines(played.as_str().expect("a text"))
    );
    assert!(lines(&replayed.out).lines().count() > 8);
    let verified = tool(folder.path(), &["replay", "duel.toml", "--drill", "felt"]);
    assert_eq!(verified.code, 0, "{}{}", verified.out, verified.err);
    assert!(folder.path().join("duel.golden.jsonl").exists());
    // The report page of that run.
    let report = page.eval("fetch('report.html').then((own)=>own.text())");
    assert!(
        report
            .as_str()
            .expect("a page")
            .starts_with("<!doctype html>")
    );
    // Every part is reached by keyboard, and nothing went wrong.
    let reached = page.eval("['#play','#rows','#cast','#seek','#tab-keep'].map((own)=>document.querySelector(own).tabIndex)");
    assert_eq!(reached, json!([0, 0, 0, 0, 0]));
    assert!(page.faults.is_empty(), "{:?}", page.faults);
}

#[test]
fn a_gamepad_drives_a_ghost_is_beside_and_what_is_held_is_released() {
    let Some(browser) = browser() else { return };
    let folder = folder();
    // Spikes that are not in the way: who is dead presses nothing.
    let text = DUEL.replace("at = [200, 60]", "at = [200, 10]");
    fs::write(folder.path().join("duel.toml"), text).expect("a file");
    let mut server = Server::start(folder.path(), &["duel.toml"]);
    let pad = "window.pad={index:0,axes:[0,0],buttons:[...Array(17)].map(()=>({pressed:false}))};\
               navigator.getGamepads=()=>[window.pad];";
    let mut page = Page::open(&browser, &server.address, pad);
    page.until("document.querySelectorAll('#ghost option').length > 1");
    page.eval("const own=document.getElementById('ghost');own.value='walk';own.onchange()");
    page.until("document.getElementById('parting').textContent.includes('as walk')");
    // The stick to the right: from the first tick, and the drill's hero walks from 0.2 s on.
    page.eval("window.pad.axes[0]=1");
    page.until(
        "document.getElementById('parting').textContent.includes('hero parts from walk at 0.0')",
    );
    page.until(
        "document.getElementById('arena').seen().actors.some((own)=>own.id==='hero'&&own.x>220)",
    );
    // A page that looks elsewhere holds nothing: the stick still does, till it is centred.
    page.eval("window.pad.axes[0]=0;dispatchEvent(new Event('blur'))");
    page.until("[...document.querySelectorAll('#rows .row')].some((own)=>own.textContent.includes('releases right'))");
    // A key is changed, and remembered by another page.
    page.click("#tab-keys");
    page.click("#keys li:nth-child(2) button");
    page.key("KeyL", "l", true);
    page.key("KeyL", "l", false);
    page.until("document.getElementById('keys').textContent.includes('L · pad')");
    page.call("Page.reload", json!({}));
    page.until("document.getElementById('keys')?.textContent.includes('L · pad')");
    assert!(page.faults.is_empty(), "{:?}", page.faults);
    // Ended from the page.
    page.eval("window.confirm=()=>true;document.getElementById('quit').click()");
    assert_eq!(server.ended(), Some(0));
}

#[test]
fn a_file_that_is_saved_is_taken_over_and_written_only_when_asked() {
    let folder = duel();
    let path = folder.path().join("duel.toml");
    let server = Server::start(folder.path(), &["duel.toml"]);
    let mut socket = server.own_socket();
    let begun = told(&mut socket, "begin");
    assert_eq!(begun["players"][0]["id"], "hero");
    order(
        &mut socket,
        json!({ "do": "press", "button": "right", "down": true }),
    );
    order(&mut socket, json!({ "do": "step", "by": 1 }));
    order(
        &mut socket,
        json!({ "do": "set", "path": "kind.hero.walk.speed", "value": 90 }),
    );
    let changed = told(&mut socket, "changed");
    assert_eq!(changed["what"], "kind.hero.walk.speed = 90");
    // A file with errors shows them, with the line; the run stays.
    fs::write(&path, DUEL.replace("damage = 1", "damage = \"one\"")).expect("a file");
    let found = told(&mut socket, "findings");
    assert_eq!(found["all"][0]["text"], "damage = \"one\"");
    // Mended, and the same number changed there too: both are told.
    fs::write(&path, DUEL.replace("speed = 120", "speed = 100")).expect("a file");
    assert_eq!(told(&mut socket, "findings")["all"], json!([]));
    let said = told(&mut socket, "said");
    assert_eq!(
        said["says"],
        "kind.hero.walk.speed is 100 in the file now, and 90 here: write it, or give it back"
    );
    // Written between two looks: nothing is overwritten unseen.
    let other = DUEL.replace("speed = 120", "speed = 110");
    fs::write(&path, &other).expect("a file");
    order(&mut socket, json!({ "do": "write" }));
    let said = told(&mut socket, "said");
    assert!(
        said["says"]
            .as_str()
            .expect("a text")
            .contains("is 110 in the file now"),
        "{said}"
    );
    let said = told(&mut socket, "said");
    assert!(
        said["says"]
            .as_str()
            .expect("a text")
            .contains("nothing is written"),
        "{said}"
    );
    assert_eq!(fs::read_to_string(&path).expect("a file"), other);
    order(&mut socket, json!({ "do": "write" }));
    let said = told(&mut socket, "said");
    assert_eq!(said["says"], "1 number written to duel.toml");
    let written = fs::read_to_string(&path).expect("a file");
    assert_eq!(
        written,
        DUEL.replace("speed = 120", "speed = 90"),
        "comments and spacing are kept"
    );
    // Only that file: no order has another's name, and one that has is none.
    order(&mut socket, json!({ "do": "write", "file": "/etc/hosts" }));
    let said = told(&mut socket, "said");
    assert!(
        said["says"].as_str().expect("a text").contains("unknown"),
        "{said}"
    );
    // A name is no path, and has to be one that a drill may have.
    for (name, kept) in [
        ("../evil", false),
        ("good-name", true),
        ("a\nb", false),
        ("", false),
        ("walk", false),
    ] {
        order(&mut socket, json!({ "do": "draft", "whole": true }));
        told(&mut socket, "draft");
        order(
            &mut socket,
            json!({ "do": "keep", "name": name, "expect": [], "golden": true }),
        );
        match kept {
            true => drop(told(&mut socket, "kept")),
            false => assert_eq!(told(&mut socket, "said")["tone"], "error", "{name}"),
        }
    }
    let mut files: Vec<String> = fs::read_dir(folder.path())
        .expect("a folder")
        .map(|own| {
            own.expect("a file")
                .file_name()
                .to_string_lossy()
                .into_owned()
        })
        .collect();
    files.sort();
    assert!(
        files.iter().all(|own| own.starts_with("duel.")),
        "{files:?}"
    );
}

#[test]
fn drills_are_kept_in_the_file_that_the_encounter_names_for_them() {
    let folder = duel();
    let main = format!("drill_file = \"walks.toml\"\n{DUEL}");
    let walks = "edition = 1 # walks\n\n[drill.look]\nlength = \"1s\"\n";
    fs::write(folder.path().join("duel.toml"), &main).expect("a file");
    fs::write(folder.path().join("walks.toml"), walks).expect("a file");
    let server = Server::start(folder.path(), &["duel.toml"]);
    let mut socket = server.own_socket();
    assert_eq!(
        told(&mut socket, "begin")["drills"],
        json!(["walk", "look"])
    );
    order(
        &mut socket,
        json!({ "do": "press", "button": "right", "down": true }),
    );
    order(&mut socket, json!({ "do": "step", "by": 1 }));
    order(&mut socket, json!({ "do": "draft", "whole": true }));
    told(&mut socket, "draft");
    order(
        &mut socket,
        json!({ "do": "keep", "name": "felt", "expect": [], "golden": false }),
    );
    let kept = told(&mut socket, "kept");
    assert!(
        kept["says"]
            .as_str()
            .expect("a text")
            .starts_with("felt is kept in walks.toml"),
        "{kept}"
    );
    assert_eq!(
        fs::read_to_string(folder.path().join("duel.toml")).expect("a file"),
        main
    );
    let text = fs::read_to_string(folder.path().join("walks.toml")).expect("a file");
    assert!(
        text.starts_with(walks) && text.contains("[drill.felt]"),
        "{text}"
    );
    let replayed = tool(folder.path(), &["replay", "duel.toml", "--drill", "felt"]);
    assert_eq!(replayed.code, 0, "{}", replayed.err);
    // What is wrong there is told with that file, and seen on the page too.
    fs::write(
        folder.path().join("walks.toml"),
        text.replace("\"hero\"", "\"hera\""),
    )
    .expect("a file");
    let found = told(&mut socket, "findings");
    assert!(
        found["all"][0]["file"]
            .as_str()
            .expect("a file")
            .ends_with("walks.toml"),
        "{found}"
    );
    let checked = tool(folder.path(), &["check", "duel.toml"]);
    assert_eq!(checked.code, 2);
    let said = checked.out + &checked.err;
    assert!(
        said.contains("walks.toml:") && said.contains("hera"),
        "{said}"
    );
}

#[test]
fn nobody_else_gets_in() {
    let folder = duel();
    let server = Server::start(folder.path(), &["duel.toml"]);
    let (host, token) = server.parts();
    let port = host.split(':').nth(1).expect("a port");
    let own = format!("Host: {host}\r\n");
    let other = "0".repeat(token.len());
    assert_eq!(token.len(), 32);
    for (line, headers, status) in [
        (format!("GET /{token}/"), own.clone(), 200),
        (
            format!("GET /{token}/"),
            format!("Host: localhost:{port}\r\n"),
            200,
        ),
        ("GET /".to_owned(), own.clone(), 403),
        (format!("GET /{other}/"), own.clone(), 403),
        (format!("GET /{}/", &token[1..]), own.clone(), 403),
        (
            format!("GET /{token}/"),
            "Host: evil.example\r\n".to_owned(),
            403,
        ),
        (
            format!("GET /{token}/"),
            format!("Host: evil.example:{port}\r\n"),
            403,
        ),
        (format!("GET /{token}/"), String::new(), 400),
        (
            format!("GET /{token}/"),
            format!("{own}Origin: http://evil.example\r\n"),
            403,
        ),
        (
            format!("GET /{token}/"),
            format!("{own}Origin: null\r\n"),
            403,
        ),
        (
            format!("GET /{token}/"),
            format!("{own}Origin: http://{host}\r\n"),
            200,
        ),
        (
            format!("GET /{token}/"),
            format!("{own}Sec-Fetch-Site: cross-site\r\n"),
            403,
        ),
        (format!("GET /{token}/../duel.toml"), own.clone(), 404),
        (format!("GET /{token}/%2e%2e/duel.toml"), own.clone(), 404),
        (format!("GET /{token}/duel.toml"), own.clone(), 404),
        (
            format!("POST /{token}/"),
            format!("{own}Content-Length: 0\r\n"),
            405,
        ),
        (
            format!("PUT /{token}/duel.toml"),
            format!("{own}Content-Length: 0\r\n"),
            405,
        ),
        (format!("GET /{token}/socket"), own.clone(), 404),
    ] {
        let (answered, text) = server.ask(&line, &headers);
        let shown = line.replace(&token, "TOKEN");
        // A request without a host is none.
        let refused = status == 400 && answered == 403;
        assert!(answered == status || refused, "{shown} {headers}: {text}");
        if answered != 200 {
            assert!(!text.contains("doctype"), "{shown}");
        }
    }
    let (_, page) = server.ask(&format!("GET /{token}/"), &own);
    let head = page
        .split("\r\n\r\n")
        .next()
        .expect("a head")
        .to_ascii_lowercase();
    for header in [
        "cache-control: no-store",
        "referrer-policy: no-referrer",
        "x-frame-options: deny",
    ] {
        assert!(head.contains(header), "{head}");
    }
    assert!(!head.contains("access-control"), "{head}");
    // A socket says of which page it is.
    for origin in [
        "http://evil.example",
        "null",
        &format!("https://{host}"),
        "http://127.0.0.1:1",
    ] {
        assert!(
            server.socket(origin).expect_err(origin).contains("403"),
            "{origin}"
        );
    }
    let mut socket = server.own_socket();
    told(&mut socket, "begin");
}

#[test]
fn too_much_is_bounded_and_the_run_goes_on() {
    let folder = duel();
    let mut server = Server::start(folder.path(), &["duel.toml"]);
    let mut player = server.own_socket();
    told(&mut player, "begin");
    assert_eq!(told(&mut player, "role")["watches"], false);
    order(&mut player, json!({ "do": "play" }));
    told(&mut player, "tick");
    // Another page is told that it watches, and cannot do anything.
    let mut watcher = server.own_socket();
    assert_eq!(told(&mut watcher, "role")["watches"], true);
    order(&mut watcher, json!({ "do": "pause" }));
    let said = told(&mut watcher, "said");
    assert!(
        said["says"].as_str().expect("a text").contains("watches"),
        "{said}"
    );
    // A message of 10 MB ends its page, and nothing else.
    let sent = watcher.send(Message::text("x".repeat(10 << 20)));
    let closed = (0..200).any(|_| watcher.read().is_err());
    assert!(sent.is_err() || closed, "it is refused");
    // Ten thousand messages at once: they wait, and the run goes on at its own pace.
    let mut flood = server.own_socket();
    assert_eq!(told(&mut flood, "role")["watches"], true);
    let mut writer = flood.get_ref().try_clone().expect("a stream");
    let flooding = std::thread::spawn(move || {
        let text = json!({ "do": "step", "by": -1 }).to_string();
        // A frame of text with an empty mask, which browsers would not send, and sockets take.
        let mut frame = vec![
            0x81,
            0x80 | u8::try_from(text.len()).expect("it is short"),
            0,
            0,
            0,
            0,
        ];
        frame.extend(text.bytes());
        for _ in 0..10_000 {
            if writer.write_all(&frame).is_err() {
                break;
            }
        }
    });
    let (first, begun) = (told(&mut player, "tick"), Instant::now());
    let mut last = first.clone();
    while begun.elapsed() < Duration::from_secs(2) {
        last = told(&mut player, "tick");
    }
    let ticks = last["told"]["tick"].as_u64().expect("a tick")
        - first["told"]["tick"].as_u64().expect("a tick");
    assert!((60..=150).contains(&ticks), "{ticks} ticks in two seconds");
    drop(flood);
    flooding.join().expect("it ends");
    // What is no order is said, and nothing happens.
    for text in [
        "{",
        "[]",
        "{\"do\":\"fly\"}",
        "{\"do\":\"seek\",\"tick\":-1}",
        "{\"do\":\"press\",\"button\":\"wings\",\"down\":true}",
    ] {
        player.send(Message::text(text)).expect("it takes it");
        assert_eq!(told(&mut player, "said")["tone"], "error", "{text}");
    }
    // When the one that plays is gone, the next does.
    let mut next = server.own_socket();
    assert_eq!(told(&mut next, "role")["watches"], true);
    drop(player);
    assert_eq!(told(&mut next, "role")["watches"], false);
    #[cfg(unix)]
    {
        let stop = Command::new("kill")
            .args(["-INT", &server.process.id().to_string()])
            .status();
        assert!(stop.expect("it can be stopped").success());
        told(&mut next, "bye");
        assert_eq!(server.ended(), Some(0));
    }
}
