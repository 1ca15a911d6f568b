//! A headless browser, driven over its own debugging socket: keys go the way they go for people.

use std::io::{BufRead, BufReader, ErrorKind, Read, Write};
use std::net::TcpStream;
use std::path::{Path, PathBuf};
use std::process::{Child, Command, Stdio};
use std::time::{Duration, Instant};

use serde_json::{Value, json};
use tungstenite::{Message, WebSocket};

/// How long a page may take: the machine may be busy.
pub const PATIENCE: Duration = Duration::from_secs(60);

/// A headless browser of the system, if there is one. `TIN_CROWN_BROWSER=required` does not do without.
pub fn browser() -> Option<PathBuf> {
    let names = ["chromium", "chromium-browser", "google-chrome", "chrome"];
    let folders: Vec<PathBuf> =
        std::env::split_paths(&std::env::var_os("PATH").unwrap_or_default()).collect();
    let found = names
        .iter()
        .flat_map(|name| folders.iter().map(move |folder| folder.join(name)))
        .find(|path| path.is_file());
    if found.is_none() {
        let required = std::env::var("TIN_CROWN_BROWSER").is_ok_and(|text| text == "required");
        assert!(
            !required,
            "TIN_CROWN_BROWSER=required, and there is no Chromium"
        );
        eprintln!("SKIPPED: there is no Chromium to open a page in");
    }
    found
}

/// A page that is open.
pub struct Page {
    browser: Child,
    socket: WebSocket<TcpStream>,
    next: u64,
    /// What went wrong on the page, in its console too.
    pub faults: Vec<String>,
    _profile: tempfile::TempDir,
}

impl Page {
    /// Opens an address. `before` runs before any script of the page.
    pub fn open(browser: &Path, address: &str, before: &str) -> Page {
        let profile = tempfile::tempdir().expect("a folder");
        let mut browser = Command::new(browser)
            .args([
                "--headless",
                "--no-sandbox",
                "--disable-gpu",
                "--disable-dev-shm-usage",
                "--window-size=1280,800",
                "--hide-scrollbars",
                "--remote-debugging-port=0",
            ])
            .arg(format!("--user-data-dir={}", profile.path().display()))
            .arg("about:blank")
            .stderr(Stdio::piped())
            .stdout(Stdio::null())
            .spawn()
            .expect("the browser runs");
        let stderr = BufReader::new(browser.stderr.take().expect("it is piped"));
        let mut lines = stderr.lines().map_while(Result::ok);
        let host = lines
            .find_map(|line| {
                let rest = line.strip_prefix("DevTools listening on ws://")?;
                rest.split('/').next().map(str::to_owned)
            })
            .expect("it says where it listens");
        // What else it says is read, so that it never waits for that.
        std::thread::spawn(move || lines.for_each(drop));
        let pages: Value = serde_json::from_str(&get(&host, "/json/list")).expect("it is JSON");
        let page = pages.as_array().expect("a list").iter();
        let page = page
            .clone()
            .find(|page| page["type"] == "page")
            .expect("a page");
        let socket = page["webSocketDebuggerUrl"].as_str().expect("an address");
        let stream = TcpStream::connect(&host).expect("it listens");
        let patience = Some(PATIENCE);
        stream.set_read_timeout(patience).expect("it can");
        let (socket, _) = tungstenite::client(socket, stream).expect("it takes a socket");
        let mut page = Page {
            browser,
            socket,
            next: 0,
            faults: Vec::new(),
            _profile: profile,
        };
        for domain in ["Page", "Runtime", "Log"] {
            page.call(&format!("{domain}.enable"), json!({}));
        }
        let before = json!({ "source": before });
        page.call("Page.addScriptToEvaluateOnNewDocument", before);
        let size = json!({ "width": 1280, "height": 800, "deviceScaleFactor": 1, "mobile": false });
        page.call("Emulation.setDeviceMetricsOverride", size);
        page.call("Page.navigate", json!({ "url": address }));
        page.until("document.readyState === 'complete'");
        page
    }

    pub fn call(&mut self, method: &str, parameters: Value) -> Value {
        self.next += 1;
        let id = self.next;
        let message = json!({ "id": id, "method": method, "params": parameters }).to_string();
        self.socket
            .send(Message::text(message))
            .expect("it takes a message");
        loop {
            let message = match self.socket.read() {
                Err(tungstenite::Error::Io(error)) if error.kind() == ErrorKind::Interrupted => {
                    continue;
                }
                message => message.expect("it answers"),
            };
            let Message::Text(text) = message else {
                continue;
            };
            let told: Value = serde_json::from_str(&text).expect("it is JSON");
            if told["id"] == id {
                assert_eq!(told["error"], Value::Null, "{method}");
                return told["result"].clone();
            }
            self.listen(&told);
        }
    }

    fn listen(&mut self, told: &Value) {
        let of = &told["params"];
        match told["method"].as_str() {
            Some("Runtime.exceptionThrown") => self.faults.push(of["exceptionDetails"].to_string()),
            Some("Runtime.consoleAPICalled") if of["type"] == "error" => {
                self.faults.push(of["args"].to_string());
            }
            Some("Log.entryAdded") if of["entry"]["level"] == "error" => {
                self.faults.push(of["entry"].to_string());
            }
            _ => {}
        }
    }

    /// What an expression comes to; a promise is waited for.
    pub fn eval(&mut self, script: &str) -> Value {
        let result = self.call(
            "Runtime.evaluate",
            json!({ "expression": script, "awaitPromise": true, "returnByValue": true }),
        );
        assert_eq!(result["exceptionDetails"], Value::Null, "{script}");
        result["result"]["value"].clone()
    }

    /// Waits until an expression is true, or as good as.
    pub fn until(&mut self, script: &str) -> Value {
        let begun = Instant::now();
        loop {
            let value = self.eval(script);
            let truthy =
                !matches!(value, Value::Null | Value::Bool(false)) && value != "" && value != 0;
            if truthy {
                return value;
            }
            if begun.elapsed() > PATIENCE {
                let seen = self.eval("document.body.innerText");
                panic!("never: {script}\n{seen}\n{:?}", self.faults);
            }
            std::thread::sleep(Duration::from_millis(20));
        }
    }

    /// A key goes down or up.
    pub fn key(&mut self, code: &str, key: &str, down: bool) {
        let text = if key.len() == 1 && down { key } else { "" };
        let sort = if down { "keyDown" } else { "keyUp" };
        self.call(
            "Input.dispatchKeyEvent",
            json!({ "type": sort, "code": code, "key": key, "text": text }),
        );
    }

    /// Clicks in the middle of what a selector finds, once it has come to rest there: what is told
    /// meanwhile moves it.
    pub fn click(&mut self, selector: &str) {
        let begun = Instant::now();
        loop {
            let place = self.eval(&format!(
                "(async()=>{{const on=document.querySelector({selector:?});on.scrollIntoView({{block:'nearest'}});\
                 window.clicked=false;on.addEventListener('click',()=>window.clicked=true,{{once:true}});\
                 const seen=()=>{{const box=on.getBoundingClientRect();return [box.x+box.width/2,box.y+box.height/2]}};\
                 for(let nth=0,all=0,last='';nth<3&&all<100;all++){{await new Promise((done)=>requestAnimationFrame(done));\
                 const now=String(seen());nth=now===last?nth+1:0;last=now}}return seen()}})()"
            ));
            self.click_at(place[0].as_f64().expect("x"), place[1].as_f64().expect("y"));
            if self.eval("window.clicked") == true {
                return;
            }
            let waited = begun.elapsed();
            assert!(waited < PATIENCE, "{selector} takes no click");
        }
    }

    pub fn click_at(&mut self, x: f64, y: f64) {
        for sort in ["mousePressed", "mouseReleased"] {
            self.call(
                "Input.dispatchMouseEvent",
                json!({ "type": sort, "x": x, "y": y, "button": "left", "clickCount": 1 }),
            );
        }
    }
}

impl Drop for Page {
    fn drop(&mut self) {
        let _ = self.browser.kill();
        let _ = self.browser.wait();
    }
}

/// The body of a page of the browser itself, which leaves the connection open.
fn get(host: &str, path: &str) -> String {
    let mut stream = TcpStream::connect(host).expect("it listens");
    let request = format!("GET {path} HTTP/1.1\r\nHost: {host}\r\n\r\n");
    stream
        .write_all(request.as_bytes())
        .expect("it takes a request");
    let mut reader = BufReader::new(stream);
    let mut length = 0;
    loop {
        let mut line = String::new();
        reader.read_line(&mut line).expect("it answers");
        if line.trim().is_empty() {
            break;
        }
        let (name, value) = line.split_once(':').unwrap_or_default();
        if name.eq_ignore_ascii_case("content-length") {
            length = value.trim().parse().expect("a number");
        }
    }
    let mut body = vec![0; length];
    reader.read_exact(&mut body).expect("it is whole");
    String::from_utf8(body).expect("it is text")
}
