//! What the desk does when it is asked.

use std::time::Instant;

use tin_crown::encounter::Setting;
use tin_crown::finding::PathError;
use tin_crown::ledger::LineId;
use tin_crown::play::{PlayError, explain_line};
use tin_crown::{Path, Tick};
use tin_crown_picture::{Report, Take};

use super::desk::{Desk, Mode, Viewer};
use super::file::Read;
use super::orders::{Given, Order};
use super::told;
use crate::failure::Failure;

/// The slowest and the fastest that time runs.
const SPEEDS: [f64; 2] = [0.05, 4.0];

impl Desk {
    pub(super) fn act(&mut self, viewer: Viewer, order: Order) -> Result<(), Failure> {
        let session = &mut self.bench.session;
        match order {
            Order::Press { button, down } => session.press(&button, down).map_err(plain)?,
            Order::Release => session.release(),
            Order::Drive { who } => session.drive(&who).map_err(plain)?,
            Order::Ghost { drill } => {
                let drill = drill.filter(|drill| !drill.is_empty());
                session.haunt(drill.as_deref()).map_err(plain)?;
            }
            Order::Play => self.start(Mode::Playing),
            Order::Pause => self.mode = Mode::Paused,
            Order::Watch => self.start(Mode::Watching),
            Order::Rewind => self.start(Mode::Rewinding),
            Order::Speed { speed } => self.pace(speed),
            Order::Step { by } => self.step(by)?,
            Order::Seek { tick } => {
                self.mode = Mode::Paused;
                session.seek(Tick(tick)).map_err(plain)?;
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
            Order::Set { path, value } => self.set(&path, value)?,
            Order::Unset { path } => {
                let path: Path = path.parse().map_err(|error: PathError| plain(error))?;
                let changed = session.unset(&path).map_err(made_no_sense)?;
                let what = format!("{path} as in the file");
                self.pages.all(&told::changed(&what, &changed));
            }
            Order::Write {} => {
                self.unchanged("write")?;
                let said = self.bench.write_numbers()?;
                self.pages.all(&told::note(&said));
            }
            Order::Draft { whole } => self.make_draft(viewer, whole)?,
            Order::Keep {
                name,
                expect,
                golden,
            } => self.keep(&name, &expect, golden)?,
            // Answered before.
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

    fn pace(&mut self, speed: f64) {
        if speed.is_finite() {
            self.speed = speed.clamp(SPEEDS[0], SPEEDS[1]);
        }
        self.due = Instant::now() + self.interval();
    }

    fn step(&mut self, by: i32) -> Result<(), Failure> {
        self.mode = Mode::Paused;
        let session = &mut self.bench.session;
        let now = session.tick();
        if by > 0 && now == session.end() {
            return session.play().map_err(plain);
        }
        let to = i64::from(now.0) + i64::from(by);
        let to = u32::try_from(to.max(0)).unwrap_or(u32::MAX);
        session.seek(Tick(to)).map_err(plain)
    }

    fn set(&mut self, path: &str, value: Given) -> Result<(), Failure> {
        let path: Path = path.parse().map_err(|error: PathError| plain(error))?;
        let value = match value {
            Given::Number(number) => Setting::from(number),
            Given::Flag(flag) => flag.into(),
            Given::Text(text) => text.as_str().into(),
        };
        let what = format!("{path} = {value}");
        let changed = self.bench.session.set(&path, value);
        let changed = changed.map_err(made_no_sense)?;
        self.pages.all(&told::changed(&what, &changed));
        Ok(())
    }

    /// Whatever somebody else wrote meanwhile is seen before anything is written.
    fn unchanged(&mut self, again: &str) -> Result<(), Failure> {
        let read = self.bench.look_now();
        if matches!(read, Read::Same) {
            return Ok(());
        }
        self.told_of_file(read);
        Err(Failure::new(format!(
            "the file was changed meanwhile, and nothing is written: look at what is shown, and {again} again"
        )))
    }

    fn make_draft(&mut self, viewer: Viewer, whole: bool) -> Result<(), Failure> {
        self.mode = Mode::Paused;
        let session = &mut self.bench.session;
        if whole {
            session.seek(session.end()).map_err(plain)?;
        }
        let kept = session.keep(session.tick()).map_err(plain)?;
        let drafts = session.drafts(&kept).map_err(plain)?;
        let name = session.encounter().free_drill("played");
        self.pages.one(viewer, &told::draft(&name, &kept, &drafts));
        self.draft = Some((kept, drafts));
        Ok(())
    }

    fn keep(&mut self, name: &str, expect: &[usize], golden: bool) -> Result<(), Failure> {
        self.unchanged("keep")?;
        let Some((kept, drafts)) = &self.draft else {
            return Err(Failure::new("nothing is drafted").help("choose what is kept first"));
        };
        let expected = expect.iter().filter_map(|nth| drafts.get(*nth));
        let mut kept = kept.clone();
        kept.drill.expect = expected.map(|draft| draft.expectation.clone()).collect();
        let said = self.bench.keep(name, &kept, golden)?;
        self.draft = None;
        self.pages.all(&told::kept(name, &said));
        Ok(())
    }

    pub(super) fn why(&mut self, viewer: Viewer, line: u32) {
        let session = &self.bench.session;
        let told = session
            .replay()
            .map_err(plain)
            .and_then(|replay| explain_line(&replay, LineId(line)).map_err(plain));
        match told {
            Ok(came) => self.pages.one(viewer, &told::why(line, came.as_ref())),
            Err(failure) => self.pages.say(viewer, "error", &told::failure(&failure)),
        }
    }

    pub(super) fn report(&self) -> Result<String, String> {
        let replay = self.bench.session.replay();
        let replay = replay.map_err(|error| error.to_string())?;
        let take = Take::shoot(replay.plan(), replay.drill());
        let take = take.map_err(|error| error.to_string())?;
        let mut report = Report::new(replay.plan()).over(&self.bench.sheets);
        report.drill(take, Vec::new());
        Ok(report.html())
    }

    pub(super) fn ledger(&self) -> Result<String, String> {
        let replay = self.bench.session.replay();
        let replay = replay.map_err(|error| error.to_string())?;
        let mut bytes = Vec::new();
        replay
            .write_jsonl(&mut bytes, replay.ledger().events())
            .map_err(|error| error.to_string())?;
        String::from_utf8(bytes).map_err(|error| error.to_string())
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
