//! `tin-crown play` over its socket: the file that it plays, who is kept out, and what is bounded.

use std::fs;
use std::io::{Read, Write};
use std::net::TcpStream;
use std::process::Command;
use std::time::{Duration, Instant};

use serde_json::{Value, json};
use tungstenite::client::IntoClientRequest;
use tungstenite::{Message, WebSocket};

use crate::browser::PATIENCE;
use crate::playing::{DUEL, duel};
use crate::server::Server;
use crate::tool::{folder, tool};

impl Server {
    /// The status and the text of an answer.
    fn ask(&self, line: &str, headers: &str) -> (u16, String) {
        let (host, _) = self.parts();
        let mut stream = TcpStream::connect(&host).expect("it listens");
        stream.set_read_timeout(Some(PATIENCE)).expect("it can");
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
        stream.set_read_timeout(Some(PATIENCE)).expect("it can");
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

/// The first tick that is told after another.
fn tick_after(socket: &mut WebSocket<TcpStream>, tick: u64) -> u64 {
    loop {
        let now = told(socket, "tick")["told"]["tick"]
            .as_u64()
            .expect("a tick");
        if now > tick {
            return now;
        }
    }
}

fn order(socket: &mut WebSocket<TcpStream>, order: Value) {
    socket
        .send(Message::text(order.to_string()))
        .expect("it takes an order");
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
fn numbers_are_written_where_they_stand_and_nothing_else_changes() {
    let toml = r#"# head
edition = 1
title = "numbers"
arena = { bounds = { min = [0, 0], max = [100, 100] } }
[kind.thorn]
hitbox.tip = { radius = 2 }
[kind.hero] # the hero
player = true
hurtbox.all = { size = [8, 8] }
meter.health = { max = 9 }
walk = { speed = 90,  jump = 320 } # fast

[[rule]]
name = "a b"
hitbox = "thorn.tip"
hurtbox = "hero.all"
damage = 1   # one

[[rule]]
name = "c"
hitbox = "thorn.tip"
hurtbox = "hero.all"
stun = "1t"

[[place]]
kind = "hero"
at = [10,  20] # here

[[place]]
kind = "thorn"
at = [90, 90]
"#;
    let json = r#"{
  "edition": 1, "title": "numbers",
  "arena": { "bounds": { "min": [0, 0], "max": [100, 100] } },
  "kind": { "hero": { "player": true, "hurtbox": { "all": { "size": [8, 8] } }, "walk": { "speed": 90 } } },
  "place": [{ "kind": "hero", "at": [10, 20] }]
}
"#;
    let changes = json!([
        ["kind.hero.walk.speed", 95],
        ["place.hero.at[1]", 11],
        ["place.hero.at[2]", 21],
        ["rule.a b.damage", 2.5],
        ["rule[2].damage", 3],
        ["kind.hero.invincible.after_hit", "0.5s"],
    ]);
    let changes = changes.as_array().expect("a list");
    let in_toml = toml
        .replace("speed = 90", "speed = 95")
        .replace("damage = 1 ", "damage = 2.5 ")
        .replace("stun = \"1t\"\n", "stun = \"1t\"\ndamage = 3\n")
        .replace("[10,  20]", "[11,  21]")
        .replace("# fast\n", "# fast\ninvincible.after_hit = \"0.5s\"\n");
    let in_json = json.replace(": 90", ": 95").replace("[10, 20]", "[11, 21]");
    for (file, text, changes, expected) in [
        ("n.toml", toml, &changes[..], in_toml),
        ("n.json", json, &changes[..3], in_json),
    ] {
        let folder = folder();
        let path = folder.path().join(file);
        fs::write(&path, text).expect("a file");
        let server = Server::start(folder.path(), &[file]);
        let mut socket = server.own_socket();
        told(&mut socket, "begin");
        for change in changes {
            order(
                &mut socket,
                json!({ "do": "set", "path": change[0], "value": change[1] }),
            );
            told(&mut socket, "changed");
        }
        order(&mut socket, json!({ "do": "write" }));
        told(&mut socket, "said");
        assert_eq!(fs::read_to_string(&path).expect("a file"), expected);
        order(&mut socket, json!({ "do": "draft", "whole": true }));
        told(&mut socket, "draft");
        order(
            &mut socket,
            json!({ "do": "keep", "name": "hop", "expect": [], "golden": false }),
        );
        told(&mut socket, "kept");
        let more = fs::read_to_string(&path).expect("a file");
        let drill = ["[drill.hop]", "\"hop\": {"].map(|head| more.contains(head));
        assert_eq!(drill, [file == "n.toml", file == "n.json"], "{more}");
        let rest = ["# here", "\"at\": [11, 21]"].map(|rest| more.contains(rest));
        assert_eq!(rest, drill, "{more}");
    }
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
fn a_run_that_is_lost_rests_and_time_is_as_slow_as_asked() {
    let folder = duel();
    // The hero stands in the spikes; two lives are two deaths.
    let text = DUEL.replace("at = [200, 60]", "at = [40, 60]");
    fs::write(folder.path().join("duel.toml"), text).expect("a file");
    let server = Server::start(folder.path(), &["duel.toml"]);
    let mut socket = server.own_socket();
    told(&mut socket, "begin");
    order(&mut socket, json!({ "do": "speed", "speed": 4 }));
    order(&mut socket, json!({ "do": "play" }));
    let state = loop {
        let state = told(&mut socket, "state");
        if !state["outcome"].is_null() {
            break state;
        }
    };
    assert_eq!(
        (&state["outcome"], &state["mode"]),
        (&json!("lost"), &json!("paused"))
    );
    // It may go on. A twentieth of 60 ticks a second is 3; what is asked beyond that is that.
    order(&mut socket, json!({ "do": "speed", "speed": 0.001 }));
    order(&mut socket, json!({ "do": "play" }));
    let lost = tick_after(&mut socket, 0);
    let first = tick_after(&mut socket, lost);
    let begun = Instant::now();
    let last = tick_after(&mut socket, first + 3);
    let seconds = begun.elapsed().as_secs_f64();
    let rate = (last - first) as f64 / seconds;
    assert!((1.0..=3.3).contains(&rate), "{rate} ticks a second");
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
    assert!((20..=150).contains(&ticks), "{ticks} ticks in two seconds");
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

#[test]
fn what_was_drafted_under_another_number_is_not_kept_and_a_file_that_is_gone_is_told() {
    let folder = duel();
    let path = folder.path().join("duel.toml");
    let server = Server::start(folder.path(), &["duel.toml"]);
    let mut socket = server.own_socket();
    told(&mut socket, "begin");
    order(
        &mut socket,
        json!({ "do": "press", "button": "right", "down": true }),
    );
    // At two units a tick the tips are met on tick 76; at one and a half later, which is drafted and then given back.
    for _ in 0..110 {
        order(&mut socket, json!({ "do": "step", "by": 1 }));
    }
    let speed = |to: u32| json!({ "do": "set", "path": "kind.hero.walk.speed", "value": to });
    order(&mut socket, speed(90));
    told(&mut socket, "changed");
    order(&mut socket, json!({ "do": "draft", "whole": true }));
    let draft = told(&mut socket, "draft").to_string();
    assert!(
        draft.contains("a hit that lands by spikes on hero"),
        "{draft}"
    );
    order(&mut socket, speed(120));
    told(&mut socket, "changed");
    order(
        &mut socket,
        json!({ "do": "keep", "name": "stale", "expect": [0], "golden": false }),
    );
    let mut said = told(&mut socket, "said");
    while said["tone"] != "error" {
        said = told(&mut socket, "said");
    }
    let says = said["says"].as_str().expect("a text");
    assert!(
        says.starts_with("nothing is kept: the replay does not meet"),
        "{says}"
    );
    assert_eq!(fs::read_to_string(&path).expect("a file"), DUEL);
    fs::remove_file(&path).expect("it is there");
    let said = told(&mut socket, "said");
    assert!(
        said["says"]
            .as_str()
            .is_some_and(|says| says.contains("duel.toml")),
        "{said}"
    );
    fs::write(&path, DUEL).expect("a file");
    told(&mut socket, "said");
}
