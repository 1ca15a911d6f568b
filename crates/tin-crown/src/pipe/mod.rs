//! A run spoken to in JSON Lines: one line in, one line out, for programs in any language.

mod line;
mod orders;
mod told;

use std::borrow::Cow;
use std::io::{self, BufRead, Read, Write};
use std::sync::Arc;

use serde::Serialize;
use serde_json::json;

pub(crate) use line::PipeLine;
pub use line::Tell;
use orders::{Order, orders};
use told::{State, Tick};

use crate::finding::Findings;
use crate::ledger::Line;
use crate::limits;
use crate::map::Map;
use crate::plan::Plan;
use crate::printable::escaped_json;
use crate::sim::{Live, Sim, Snapshot};

/// The version of what is spoken.
pub const VERSION: u32 = 1;

/// A run that is spoken to in JSON Lines.
///
/// Each line is answered by one line. A line without `save`, `restore` or `digest` is a tick. What is wrong is
/// answered as `error`, and changes nothing.
///
/// ```
/// use tin_crown::pipe::Pipe;
///
/// let plan = tin_crown::check(tin_crown::demo::FIRST_SHELF.as_bytes()).plan.unwrap();
/// let mut pipe = Pipe::open(&plan, 0);
/// assert!(pipe.hello().starts_with(r#"{"pipe":1,"title":"The Clockmaker's Attic"#));
/// let answer = pipe.answer(r#"{"buttons":{"porter":{"right":true}},"tell":["meters"]}"#);
/// assert!(answer.starts_with(r#"{"tick":1,"events":[{"tick":1,"#));
/// assert!(pipe.answer(r#"{"butons":{}}"#).contains("did you mean `buttons`?"));
/// ```
#[derive(Clone, Debug)]
pub struct Pipe {
    run: Live,
    tell: Vec<Tell>,
    saved: Map<String, Snapshot>,
    /// How many lines were answered.
    lines: u64,
}

/// Why a line is not answered by what it asks for.
#[derive(Serialize)]
struct Refusal {
    error: String,
    /// Which of the lines, from 1 on.
    line: u64,
    #[serde(skip_serializing_if = "Option::is_none")]
    at: Option<String>,
    #[serde(skip_serializing_if = "Option::is_none")]
    help: Option<String>,
}

/// What is said before the first line.
#[derive(Serialize)]
struct Hello<'r> {
    pipe: u32,
    title: &'r str,
    rate: u32,
    actors: Vec<&'r str>,
    tick: u32,
    events: Vec<Line<'r>>,
}

impl Refusal {
    fn new(error: impl ToString) -> Refusal {
        Refusal {
            error: error.to_string(),
            line: 0,
            at: None,
            help: None,
        }
    }

    fn at(mut self, at: impl Into<String>) -> Refusal {
        self.at = Some(at.into());
        self
    }

    fn help(mut self, help: impl Into<String>) -> Refusal {
        self.help = Some(help.into());
        self
    }
}

impl From<Findings> for Refusal {
    fn from(findings: Findings) -> Refusal {
        let Some(first) = findings.iter().next() else {
            return Refusal::new("this line cannot be understood");
        };
        Refusal {
            error: first.message.clone(),
            line: 0,
            at: (!first.path.is_root()).then(|| first.path.to_string()),
            help: first.help.clone(),
        }
    }
}

impl Pipe {
    /// An open run on tick 0; chance is drawn from the seed.
    pub fn open(plan: &Arc<Plan>, seed: u32) -> Pipe {
        Pipe {
            run: Sim::open(plan, seed).unrecorded(),
            tell: Vec::new(),
            saved: Map::new(),
            lines: 0,
        }
    }

    /// What is said before the first line: the version, the encounter, and the events of tick 0.
    pub fn hello(&self) -> String {
        let plan = self.run.plan();
        let events = self.run.events().iter();
        text(&Hello {
            pipe: VERSION,
            title: plan.title(),
            rate: plan.rate(),
            actors: plan.actors().iter().map(|actor| actor.id()).collect(),
            tick: 0,
            events: events.map(|event| self.run.line(event)).collect(),
        })
    }

    /// The answer to a line, without a line break.
    pub fn answer(&mut self, line: &str) -> String {
        self.lines += 1;
        let answer = match line.len() as u64 > limits::PIPE_BYTES {
            true => Err(too_long()),
            false => self.obey(line),
        };
        answer.unwrap_or_else(|refusal| {
            text(&Refusal {
                line: self.lines,
                ..refusal
            })
        })
    }

    /// Answers lines until there are no more, each as it comes; empty ones are passed over. Of a line that is longer
    /// than may be no more is kept than that.
    ///
    /// # Errors
    ///
    /// When a line cannot be read or an answer cannot be written.
    pub fn converse(&mut self, mut input: impl BufRead, mut out: impl Write) -> io::Result<()> {
        // In one piece, so that no line waits for its end.
        let mut say = |line: String| {
            out.write_all((line + "\n").as_bytes())?;
            out.flush()
        };
        say(self.hello())?;
        let mut bytes = Vec::new();
        loop {
            bytes.clear();
            let most = limits::PIPE_BYTES + 1;
            if (&mut input).take(most).read_until(b'\n', &mut bytes)? == 0 {
                return Ok(());
            }
            let whole = (bytes.len() as u64) < most || bytes.ends_with(b"\n");
            if !whole {
                input.skip_until(b'\n')?;
            }
            let line = match std::str::from_utf8(bytes.trim_ascii()) {
                _ if !whole => Err(too_long()),
                // An empty line is none.
                Ok("") => continue,
                Ok(line) => Ok(line),
                Err(_) => Err(Refusal::new("this line is not UTF-8 text")),
            };
            match line {
                Ok(line) => say(self.answer(line))?,
                Err(refusal) => {
                    self.lines += 1;
                    let line = self.lines;
                    say(text(&Refusal { line, ..refusal }))?;
                }
            }
        }
    }

    fn obey(&mut self, written: &str) -> Result<String, Refusal> {
        let line = PipeLine::read(written)?;
        let asked = [line.save.is_some(), line.restore.is_some(), line.digest];
        match asked.iter().filter(|asked| **asked).count() {
            0 => {}
            1 if line.is_bare() => return self.look_after(line),
            _ => {
                let refusal = Refusal::new("`save`, `restore` and `digest` stand alone in a line");
                return Err(refusal.help("send a line for each"));
            }
        }
        let orders = orders(&self.run, &line)?;
        for order in orders {
            match order {
                Order::Press(who, button, down) => {
                    self.run.press(who, button, down).map_err(Refusal::new)?;
                }
                Order::Face(who, to) => self.run.face(who, to).map_err(Refusal::new)?,
                Order::Pose(who, pose) => self.run.pose(who, pose).map_err(Refusal::new)?,
                Order::Apply(does, who, whom) => {
                    self.run.apply(does, who, whom).map_err(Refusal::new)?;
                }
            }
        }
        if let Some(tell) = line.tell {
            self.tell = tell;
        }
        self.run.step().map_err(Refusal::new)?;
        let events = self.run.events().iter();
        let tick = Tick {
            tick: self.run.tick().0,
            events: events.map(|event| self.run.line(event)).collect(),
            state: State::of(&self.run, &self.tell),
        };
        let answer = text(&tick);
        self.run.drain();
        Ok(answer)
    }

    /// Saves, restores, or takes a digest.
    fn look_after(&mut self, line: PipeLine) -> Result<String, Refusal> {
        let tick = self.run.tick().0;
        if let Some(name) = line.save {
            if self.saved.len() >= limits::SAVED && !self.saved.contains_key(&name) {
                let most = limits::SAVED;
                let refusal = Refusal::new(format!("at most {most} states can be saved"));
                return Err(refusal.help("save under a name that was used"));
            }
            match self.saved.get_mut(&name) {
                Some(saved) => self.run.save(saved),
                None => drop(self.saved.insert(name.clone(), self.run.snapshot())),
            }
            return Ok(text(&json!({ "saved": name, "tick": tick })));
        }
        if let Some(name) = line.restore {
            let Some(saved) = self.saved.get(&name) else {
                let known: Vec<&str> = self.saved.keys().map(String::as_str).collect();
                let help = match known.is_empty() {
                    true => "nothing was saved".to_owned(),
                    false => format!("saved: {}", known.join(", ")),
                };
                return Err(Refusal::new(format!("nothing is saved as `{name}`")).help(help));
            };
            self.run.restore(saved).map_err(Refusal::new)?;
            let tick = self.run.tick().0;
            return Ok(text(&json!({ "restored": name, "tick": tick })));
        }
        let digest = self.run.digest().to_string();
        Ok(text(&json!({ "digest": digest, "tick": tick })))
    }
}

/// What there is to say of a line that is too long.
fn too_long() -> Refusal {
    let most = limits::PIPE_BYTES >> 20;
    let refusal = Refusal::new(format!(
        "a line has at most {most} MiB, and this one is longer"
    ));
    refusal.help("nothing of it is done; tell less in one line")
}

/// Something as a line of JSON.
fn text(told: &impl Serialize) -> String {
    let text = serde_json::to_string(told);
    let text = text.unwrap_or_else(|error| unreachable!("it is plain data: {error}"));
    match escaped_json(&text) {
        Cow::Owned(escaped) => escaped,
        Cow::Borrowed(_) => text,
    }
}
