//! The desk at which the game is played: it has the session, keeps time, does what it is asked, and tells every page.

use std::sync::Arc;
use std::sync::atomic::{AtomicU32, Ordering};
use std::sync::mpsc::{Receiver, RecvTimeoutError};
use std::time::{Duration, Instant};

use serde_json::{Value, json};
use tin_crown::play::{Draft, Kept};
use tin_crown::{Plan, Tick};
use tokio::sync::{mpsc, oneshot};

use super::file::{Bench, Read};
use super::orders::Order;
use super::pages::Pages;
use super::told;

/// How long between two looks at the file.
const LOOK: Duration = Duration::from_millis(200);
/// Who is later than this does not catch up.
const LATE: Duration = Duration::from_millis(120);
/// Without anything to do the desk wakes up so often.
const IDLE: Duration = Duration::from_millis(50);

/// The number of a page that is open.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Viewer(u32);

impl Viewer {
    /// A new one.
    pub fn number() -> Viewer {
        static NEXT: AtomicU32 = AtomicU32::new(0);
        Viewer(NEXT.fetch_add(1, Ordering::Relaxed))
    }
}

/// What the desk is asked.
pub enum Ask {
    /// A page is opened.
    Come(Viewer, mpsc::Sender<String>),
    /// It is closed.
    Go(Viewer),
    /// It wants something done.
    Do(Viewer, Order),
    /// It sent something that is no order.
    Unread(Viewer, String),
    /// The report page of what was played.
    Report(oneshot::Sender<Result<String, String>>),
    /// The ledger of what was played.
    Ledger(oneshot::Sender<Result<String, String>>),
    /// It is over.
    End,
}

/// How time goes.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Mode {
    Paused,
    /// By hand.
    Playing,
    /// Up to the end of what was played.
    Watching,
    Rewinding,
}

impl Mode {
    const fn as_str(self) -> &'static str {
        match self {
            Mode::Paused => "paused",
            Mode::Playing => "playing",
            Mode::Watching => "watching",
            Mode::Rewinding => "rewinding",
        }
    }
}

pub struct Desk {
    pub(super) bench: Bench,
    pub(super) pages: Pages,
    pub(super) mode: Mode,
    pub(super) speed: f64,
    /// When the next tick is due.
    pub(super) due: Instant,
    looked: Instant,
    /// What was drafted last.
    pub(super) draft: Option<(Kept, Vec<Draft>)>,
    /// The plan of which the pages know.
    plan: Arc<Plan>,
}

impl Desk {
    pub fn new(bench: Bench) -> Desk {
        let now = Instant::now();
        Desk {
            plan: Arc::clone(bench.session.run().plan()),
            bench,
            pages: Pages::default(),
            mode: Mode::Paused,
            speed: 1.0,
            due: now,
            looked: now,
            draft: None,
        }
    }

    /// Keeps time until it is over.
    pub fn run(mut self, asks: &Receiver<Ask>) {
        loop {
            match asks.recv_timeout(self.patience()) {
                Ok(Ask::End) | Err(RecvTimeoutError::Disconnected) => break,
                Ok(ask) => {
                    if self.answer(ask) {
                        break;
                    }
                }
                Err(RecvTimeoutError::Timeout) => {}
            }
            let now = Instant::now();
            if self.mode != Mode::Paused && now >= self.due {
                self.tick();
                self.due += self.interval();
                if self.due + LATE < now {
                    self.due = now + self.interval();
                }
            }
            if now.duration_since(self.looked) >= LOOK {
                self.looked = now;
                let read = self.bench.look();
                self.told_of_file(read);
            }
            self.tell();
        }
        self.pages.all(&json!({ "is": "bye" }));
    }

    fn patience(&self) -> Duration {
        match self.mode {
            Mode::Paused => IDLE,
            _ => self.due.saturating_duration_since(Instant::now()).min(IDLE),
        }
    }

    pub(super) fn interval(&self) -> Duration {
        let rate = f64::from(self.bench.session.plan().rate());
        Duration::from_secs_f64(1.0 / (rate * self.speed))
    }

    fn tick(&mut self) {
        let session = &mut self.bench.session;
        let now = session.tick();
        let gone = match self.mode {
            Mode::Paused => return,
            Mode::Playing => {
                let over = session.run().outcome().is_some();
                let gone = session.play();
                // Once, when it is won or lost; then it may go on.
                let rests = session.tick() == now;
                if rests || (!over && session.run().outcome().is_some()) {
                    self.mode = Mode::Paused;
                }
                gone
            }
            Mode::Watching => {
                let gone = session.seek(Tick(now.0 + 1));
                if session.tick() >= session.end() {
                    self.mode = Mode::Paused;
                }
                gone
            }
            Mode::Rewinding => session.seek(Tick(now.0.saturating_sub(1))),
        };
        if let Err(error) = gone {
            self.mode = Mode::Paused;
            self.say_all(&error.to_string());
        }
    }

    /// Does what is asked; says whether it is over.
    fn answer(&mut self, ask: Ask) -> bool {
        match ask {
            Ask::Come(viewer, tell) => {
                self.pages.come(viewer, tell, &self.bench);
            }
            Ask::Go(viewer) => {
                if self.pages.go(viewer) {
                    // Nobody holds anything any more.
                    self.bench.session.release();
                    self.mode = Mode::Paused;
                }
            }
            Ask::Unread(viewer, why) => self.pages.say(viewer, "error", &why),
            Ask::Report(answer) => drop(answer.send(self.report())),
            Ask::Ledger(answer) => drop(answer.send(self.ledger())),
            Ask::End => return true,
            Ask::Do(viewer, order) => {
                if let Order::Why { line } = order {
                    // Who watches may ask, too.
                    self.why(viewer, line);
                } else if !self.pages.plays(viewer) {
                    self.pages
                        .say(viewer, "error", "this page watches: another plays");
                } else if matches!(order, Order::Quit) {
                    return true;
                } else if let Err(failure) = self.act(viewer, order) {
                    self.pages.say(viewer, "error", &told::failure(&failure));
                }
            }
        }
        false
    }

    pub(super) fn told_of_file(&mut self, read: Read) {
        match read {
            Read::Same => {}
            Read::There(there) => {
                let file = self.bench.file();
                match there {
                    true => self.pages.all(&told::note(&format!("{file} is there again"))),
                    false => self.say_all(&format!(
                        "{file} cannot be read any more: what is played goes on, and is taken over when it is back"
                    )),
                }
            }
            Read::Findings(findings) => {
                let told = json!({ "is": "findings", "all": findings });
                self.pages.all(&told);
                self.pages.found = Some(told);
            }
            Read::Taken(taken) => {
                let told = json!({ "is": "findings", "all": [] });
                self.pages.all(&told);
                self.pages.found = None;
                self.pages
                    .all(&told::changed("the file was saved", &taken.changed));
                for (path, there, here) in taken.clashes {
                    let said = format!(
                        "{path} is {there} in the file now, and {here} here: write it, or give it back"
                    );
                    self.pages.all(&told::note(&said));
                }
                for change in taken.lost {
                    let said = format!(
                        "{} is not in the file any more: the change is given back",
                        change.path
                    );
                    self.pages.all(&told::note(&said));
                }
                // Whatever was drafted is of the file as it was.
                self.draft = None;
            }
        }
    }

    fn say_all(&mut self, what: &str) {
        self.pages
            .all(&json!({ "is": "said", "tone": "error", "says": what }));
    }

    /// Tells every page what is new to it.
    fn tell(&mut self) {
        let plan = self.bench.session.run().plan();
        if !Arc::ptr_eq(plan, &self.plan) {
            self.plan = Arc::clone(plan);
            self.pages.begin(&self.bench);
        }
        let stayed = self.bench.session.stayed();
        let state = self.state();
        self.pages.tell(&self.bench.session, stayed, &state);
    }

    /// All that changes seldom.
    fn state(&self) -> Value {
        let session = &self.bench.session;
        // The end of the branch that is played is told with each tick.
        let branches = session.branches().map(|branch| {
            json!({
                "id": branch.id,
                "end": (branch.id != session.branch().id).then_some(branch.end.0),
                "from": branch.from.map(|(branch, tick)| json!([branch, tick.0])),
            })
        });
        let branches: Vec<Value> = branches.collect();
        json!({
            "is": "state",
            "mode": self.mode.as_str(),
            "speed": self.speed,
            "driven": session.driven(),
            "branch": session.branch().id,
            "branches": branches,
            "ghost": session.ghost().map(|ghost| ghost.drill().to_owned()),
            "parting": session.parting().map(|own| json!([own.tick.0, &*own.who])),
            "outcome": session.run().outcome().map(|outcome| outcome.as_str()),
            "changes": self.bench.changes(),
        })
    }
}
