//! The pages that are open: the first plays, the others watch.

use serde_json::{Value, json};
use tin_crown::play::Session;
use tin_crown_picture::play::Stream;
use tokio::sync::mpsc;

use super::desk::Viewer;
use super::file::Bench;

/// Ticks are left out for a page for which more messages wait.
const BEHIND: usize = 16;
/// So many lines of a ledger are told to a page that is opened.
const LINES: usize = 20_000;

#[derive(Default)]
pub struct Pages {
    all: Vec<Page>,
    /// The findings of the file, while it has errors.
    pub found: Option<Value>,
}

struct Page {
    viewer: Viewer,
    tell: mpsc::Sender<String>,
    stream: Stream,
    /// How many lines of the ledger it has.
    lines: usize,
    /// The tick that it was told last, and the state.
    last: Option<(u32, u32)>,
    state: Value,
    /// Whether it does not take anything any more.
    lost: bool,
}

impl Page {
    fn send(&mut self, text: String) {
        // Who does not read what it asked for is not there any more.
        self.lost |= self.tell.try_send(text).is_err();
    }

    fn begin(&mut self, bench: &Bench) {
        self.stream = Stream::new(bench.session.run().plan(), &bench.sheets);
        let lines = bench.session.run().ledger().len();
        self.lines = lines.saturating_sub(LINES);
        self.last = None;
        self.state = Value::Null;
        let told = json!({
            "is": "begin",
            "stage": self.stream.begin(),
            "players": bench.players(),
            "drills": bench.drills(),
            "numbers": bench.numbers(),
            "kinds": bench.kinds(),
            "left_out": self.lines,
        });
        self.send(told.to_string());
    }
}

impl Pages {
    /// A page is opened.
    pub fn come(&mut self, viewer: Viewer, tell: mpsc::Sender<String>, bench: &Bench) {
        let mut page = Page {
            viewer,
            tell,
            stream: Stream::new(bench.session.run().plan(), &bench.sheets),
            lines: 0,
            last: None,
            state: Value::Null,
            lost: false,
        };
        page.begin(bench);
        if let Some(found) = &self.found {
            page.send(found.to_string());
        }
        self.all.push(page);
        self.roles();
    }

    /// A page is closed; says whether it was the one that plays.
    pub fn go(&mut self, viewer: Viewer) -> bool {
        let played = self.plays(viewer);
        self.all.retain(|page| page.viewer != viewer);
        if played {
            self.roles();
        }
        played
    }

    /// Whether a page is the one that plays.
    pub fn plays(&self, viewer: Viewer) -> bool {
        self.all.first().is_some_and(|page| page.viewer == viewer)
    }

    fn roles(&mut self) {
        for (nth, page) in self.all.iter_mut().enumerate() {
            page.send(json!({ "is": "role", "watches": nth > 0 }).to_string());
        }
    }

    /// Tells all pages something.
    pub fn all(&mut self, told: &Value) {
        let text = told.to_string();
        for page in &mut self.all {
            page.send(text.clone());
        }
    }

    /// Tells one page something.
    pub fn one(&mut self, viewer: Viewer, told: &Value) {
        let page = self.all.iter_mut().find(|page| page.viewer == viewer);
        if let Some(page) = page {
            page.send(told.to_string());
        }
    }

    pub fn say(&mut self, viewer: Viewer, tone: &str, says: &str) {
        self.one(viewer, &json!({ "is": "said", "tone": tone, "says": says }));
    }

    /// Tells all of them about an encounter that is another by now.
    pub fn begin(&mut self, bench: &Bench) {
        for page in &mut self.all {
            page.begin(bench);
        }
    }

    /// Tells each page the tick, and what else is new to it. Of its lines only so many stayed as they were.
    pub fn tell(&mut self, session: &Session, stayed: usize, state: &Value) {
        let run = session.run();
        let at = (run.tick().0, session.end().0);
        for page in &mut self.all {
            page.lines = page.lines.min(stayed);
            if page.state != *state {
                page.state = state.clone();
                page.send(state.to_string());
            }
            let total = run.ledger().len();
            let new = page.last != Some(at) || page.lines != total;
            let behind = page.tell.max_capacity() - page.tell.capacity() > BEHIND;
            if !new || behind {
                continue;
            }
            let ghosts = session.ghost().into_iter();
            let ghosts = ghosts.flat_map(|ghost| ghost.at(run.tick()));
            let after = page.lines;
            let told = page.stream.tell(run, after, ghosts);
            let told = json!({ "is": "tick", "end": at.1, "after": after, "told": told });
            page.lines = total;
            page.last = Some(at);
            page.send(told.to_string());
        }
        if self.all.iter().any(|page| page.lost) {
            let plays = self.all.first().is_some_and(|page| page.lost);
            self.all.retain(|page| !page.lost);
            if plays {
                self.roles();
            }
        }
    }
}
