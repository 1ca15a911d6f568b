//! The desk at which the game is played: it has the session, keeps time, does what it is asked, and tells every page.

use std::sync::Arc;
use std::sync::atomic::{AtomicU32, Ordering};
use std::sync::mpsc::{Receiver, RecvTimeoutError};
use std::time::{Duration, Instant};

use serde_json::{Value, json};
use tin_crown::encounter::Setting;
use tin_crown::finding::PathError;
use tin_crown::play::{Draft, Kept, PlayError, explain_line};
use tin_crown::{Path, Plan, Tick};
use tin_crown_picture::{Report, Take};
use tokio::sync::{mpsc, oneshot};

use super::file::{Bench, Read};
use super::orders::{Given, Order};
use super::pages::Pages;
use super::told;
use crate::failure::Failure;

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
    bench: Bench,
    pages: Pages,
    mode: Mode,
    speed: f64,
    /// When the next tick is due.
    due: Instant,
    looked: Instant,
    /// What was drafted last.
    draft: Option<(Kept, Vec<Draft>)>,
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

    fn interval(&self) -> Duration {
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
                if !over && session.run().outcome().is_some() {
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

    fn act(&mut self, viewer: Viewer, order: Order) -> Result<(), Failure> {
        let session = &mut self.bench.session;
        let now = session.tick();
        match order {
            Order::Press { button, down } => session.press(&button, down).map_err(plain)?,
            Order::Release => session.release(),
            Order::Play => self.start(Mode::Playing),
            Order::Pause => self.mode = Mode::Paused,
            Order::Watch => self.start(Mode::Watching),
            Order::Rewind => self.start(Mode::Rewinding),
            Order::Step { by } => {
                self.mode = Mode::Paused;
                if by > 0 && now == session.end() {
                    session.play().map_err(plain)?;
                } else {
                    let to = i64::from(now.0) + i64::from(by);
                    let to = u32::try_from(to.max(0)).unwrap_or(u32::MAX);
                    session.seek(Tick(to)).map_err(plain)?;
                }
            }
            Order::Seek { tick } => {
                self.mode = Mode::Paused;
                session.seek(Tick(tick)).map_err(plain)?;
            }
            Order::Speed { speed } => {
                if speed.is_finite() {
                    self.speed = speed.clamp(0.05, 4.0);
                }
                self.due = Instant::now() + self.interval();
            }
            Order::Switch { branch } => {
                self.mode = Mode::Paused;
                session.switch(branch).map_err(plain)?;
            }
            Order::Undo => {
                self.mode = Mode::Paused;
                if !session.undo().map_err(plain)? {
                    self.pages.say(viewer, "note", "there is nothing to undo");
                }
            }
            Order::Drive { who } => session.drive(&who).map_err(plain)?,
            Order::Ghost { drill } => {
                let drill = drill.filter(|drill| !drill.is_empty());
                session.haunt(drill.as_deref()).map_err(plain)?;
            }
            Order::Set { path, value } => {
                let path: Path = path.parse().map_err(|error: PathError| plain(error))?;
                let value = match value {
                    Given::Number(number) => Setting::from(number),
                    Given::Flag(flag) => flag.into(),
                    Given::Text(text) => text.as_str().into(),
                };
                let said = format!("{path} = {value}");
                let changed = session.set(&path, value).map_err(made_no_sense)?;
                self.pages.all(&told::changed(&said, &changed));
            }
            Order::Unset { path } => {
                let path: Path = path.parse().map_err(|error: PathError| plain(error))?;
                let said = format!("{path} as in the file");
                let changed = session.unset(&path).map_err(made_no_sense)?;
                self.pages.all(&told::changed(&said, &changed));
            }
            Order::Write {} => {
                // Whatever somebody else wrote meanwhile is seen first.
                let read = self.bench.look_now();
                if matches!(read, Read::Same) {
                    let said = self.bench.write_numbers()?;
                    self.pages.all(&told::note(&said));
                } else {
                    self.told_of_file(read);
                    return Err(Failure::new(
                        "the file was changed meanwhile, and nothing is written: look at what is shown, and write again",
                    ));
                }
            }
            Order::Draft { whole } => {
                let last = match whole {
                    true => session.end(),
                    false => now,
                };
                session.seek(last).map_err(plain)?;
                let kept = session.keep(last).map_err(plain)?;
                let drafts = session.drafts(&kept).map_err(plain)?;
                let name = session.encounter().free_drill("played");
                let told = told::draft(&name, &kept, &drafts);
                self.draft = Some((kept, drafts));
                self.pages.one(viewer, &told);
            }
            Order::Keep {
                name,
                expect,
                golden,
            } => {
                let Some((kept, drafts)) = &self.draft else {
                    return Err(Failure::new("nothing is drafted: begin with Keep as drill"));
                };
                let expected = expect.iter().filter_map(|nth| drafts.get(*nth));
                let mut kept = kept.clone();
                kept.drill.expect = expected.map(|draft| draft.expectation.clone()).collect();
                let read = self.bench.look_now();
                if !matches!(read, Read::Same) {
                    self.told_of_file(read);
                    return Err(Failure::new(
                        "the file was changed meanwhile, and nothing is written: look at what is shown, and keep again",
                    ));
                }
                let said = self.bench.keep(&name, &kept, golden)?;
                self.draft = None;
                self.pages
                    .all(&json!({ "is": "kept", "name": name, "says": said }));
            }
            Order::Why { .. } | Order::Quit => {}
        }
        Ok(())
    }

    fn start(&mut self, mode: Mode) {
        if self.mode != mode {
            self.due = Instant::now();
        }
        self.mode = mode;
    }

    fn why(&mut self, viewer: Viewer, line: u32) {
        let session = &self.bench.session;
        let told = session.replay().map_err(plain).and_then(|replay| {
            explain_line(&replay, tin_crown::ledger::LineId(line)).map_err(plain)
        });
        match told {
            Ok(came) => self.pages.one(viewer, &told::why(line, came.as_ref())),
            Err(failure) => self.pages.say(viewer, "error", &told::failure(&failure)),
        }
    }

    fn report(&self) -> Result<String, String> {
        let replay = self.bench.session.replay();
        let replay = replay.map_err(|error| error.to_string())?;
        let take = Take::shoot(replay.plan(), replay.drill());
        let take = take.map_err(|error| error.to_string())?;
        let mut report = Report::new(replay.plan());
        report.drill(take, Vec::new());
        Ok(report.html())
    }

    fn ledger(&self) -> Result<String, String> {
        let replay = self.bench.session.replay();
        let replay = replay.map_err(|error| error.to_string())?;
        let mut bytes = Vec::new();
        replay
            .write_jsonl(&mut bytes, replay.ledger().events())
            .map_err(|error| error.to_string())?;
        String::from_utf8(bytes).map_err(|error| error.to_string())
    }

    fn told_of_file(&mut self, read: Read) {
        match read {
            Read::Same => {}
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

fn plain(error: impl std::fmt::Display) -> Failure {
    Failure::new(error.to_string())
}

fn made_no_sense(error: PlayError) -> Failure {
    let help = match &error {
        PlayError::Findings(findings) => findings.iter().find_map(|own| own.help.clone()),
        _ => None,
    };
    Failure::of(&error, help)
}
