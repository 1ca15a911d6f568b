//! Rows of several recordings, woven into what stands where: tick by tick, in memory that does not grow with
//! their length.

use std::collections::VecDeque;

use super::fault::{Fault, Faults};
use super::open::Files;
use super::reader::{self, Reader, short};
use super::roles::Roles;
use super::sample::{Place, Sample, Words};
use crate::finding::{Code, Finding, Path};
use crate::order;
use crate::plan::{ActorIx, Does, DrillIx, Plan, Report, Role, TrackPlan};
use crate::time::Tick;

/// Reports of a drill's recordings, as their rows are read.
pub(super) struct Weave {
    drill: DrillIx,
    paths: Vec<Path>,
    last: Tick,
    /// None of those that cannot be read.
    readers: Vec<Option<Reader>>,
    roles: Roles,
    words: Vec<Words>,
    /// Who is there.
    present: Vec<usize>,
    ahead: Ahead,
    /// What the rows of each reach over.
    pub extents: Vec<Extent>,
    pub faults: Faults,
}

/// What the rows of a recording reach over that place somebody.
#[derive(Clone, Debug, Default)]
pub(super) struct Extent {
    pub rows: u64,
    /// How many of them are outside the arena.
    pub outside: u64,
    /// Their first and last time, in ticks, and how many different ones there are.
    pub first: f64,
    pub last: f64,
    pub times: u64,
}

impl Extent {
    fn take(&mut self, time: f64, outside: bool) {
        if self.rows == 0 {
            self.first = time;
        }
        self.times += u64::from(self.rows == 0 || time > self.last);
        self.rows += 1;
        self.outside += u64::from(outside);
        self.last = time;
    }
}

/// What is told of the next ticks.
#[derive(Default)]
struct Ahead {
    next: Tick,
    /// The last tick that is told.
    last: Tick,
    lists: VecDeque<Vec<Report>>,
    /// Lists that are used again.
    spare: Vec<Vec<Report>>,
}

impl Ahead {
    fn push(&mut self, report: Report) {
        // What is over is told no more, and what comes after the drill is not.
        let nth = report.tick.0.checked_sub(self.next.0);
        let Some(nth) = nth.filter(|_| report.tick <= self.last) else {
            return;
        };
        while self.lists.len() <= nth as usize {
            self.lists.push_back(self.spare.pop().unwrap_or_default());
        }
        self.lists[nth as usize].push(report);
    }
}

impl Weave {
    /// The recordings of a drill at their first rows.
    pub fn open(plan: &Plan, drill: DrillIx, files: &dyn Files) -> Weave {
        let own = &plan.drills[drill.index()];
        let base = Path::root().key("drill").named(&own.name).key("track");
        let count = own.tracks.len();
        let mut weave = Weave {
            drill,
            paths: (0..count).map(|nth| base.index(nth)).collect(),
            last: own.last,
            readers: Vec::new(),
            roles: Roles::new(count, plan.actors.len()),
            words: (0..count).map(|_| Words::default()).collect(),
            extents: vec![Extent::default(); count],
            present: Vec::new(),
            ahead: Ahead {
                last: own.last,
                ..Ahead::default()
            },
            faults: Faults::default(),
        };
        for nth in 0..count {
            let reader = match Reader::open(weave.place(plan, nth), files) {
                Ok(reader) => Some(reader),
                Err(faults) => {
                    faults
                        .into_iter()
                        .for_each(|fault| weave.faults.push(nth, fault));
                    None
                }
            };
            weave.readers.push(reader);
        }
        weave
    }

    fn tracks<'p>(&self, plan: &'p Plan) -> &'p [TrackPlan] {
        &plan.drills[self.drill.index()].tracks
    }

    fn place<'p>(&'p self, plan: &'p Plan, nth: usize) -> reader::Place<'p> {
        reader::Place {
            plan,
            track: &self.tracks(plan)[nth],
            path: &self.paths[nth],
        }
    }

    /// The reports of the next tick, in the order of who; nothing when the drill is over.
    pub fn tick(&mut self, plan: &Plan) -> Option<Vec<Report>> {
        let now = self.ahead.next;
        if now > self.last {
            return None;
        }
        for nth in 0..self.readers.len() {
            if let Some(mut reader) = self.readers[nth].take() {
                self.read(plan, nth, &mut reader, now);
                self.readers[nth] = Some(reader);
            }
        }
        let spare = self.ahead.spare.pop().unwrap_or_default();
        let mut reports = self.ahead.lists.pop_front().unwrap_or(spare);
        self.leave(&mut reports);
        // Reports are large, and moved once so.
        let place = |report: &Report| {
            let last = u8::from(!matches!(report.does, Does::Press { .. }));
            (report.who, last)
        };
        if !reports.is_sorted_by_key(place) {
            order::sort_by_key(&mut reports, place);
        }
        self.ahead.next.0 += 1;
        Some(reports)
    }

    /// Takes back a list that is not used any more.
    pub fn give_back(&mut self, mut reports: Vec<Report>) {
        reports.clear();
        self.ahead.spare.push(reports);
    }

    /// Takes in all rows of a recording from which it can follow where anybody is on a tick.
    fn read(&mut self, plan: &Plan, nth: usize, reader: &mut Reader, now: Tick) {
        let track = &self.tracks(plan)[nth];
        let until = f64::from(now.0) + f64::from(track.gap.0);
        let was_over = reader.is_over();
        loop {
            let place = reader::Place {
                plan,
                track,
                path: &self.paths[nth],
            };
            let faults = &mut self.faults;
            let time = reader.look_ahead(place, |fault| faults.push(nth, fault));
            let Some(time) = time.filter(|time| *time < until) else {
                break;
            };
            let row = reader.row(place);
            let course = self.roles.whose(nth, &row, time, &mut self.faults);
            let sample = course.and_then(|course| {
                let Some(course) = course else {
                    return Ok(None);
                };
                let spec = self.roles.courses[course].spec;
                let sample = row.sample(spec, &mut self.words[nth], time)?;
                Ok(Some((course, sample)))
            });
            reader.take();
            match sample {
                Ok(Some((course, sample))) => self.take(plan, nth, course, &sample),
                Ok(None) => {}
                Err(fault) => self.faults.push(nth, fault),
            }
        }
        if reader.is_over() && !was_over {
            self.let_go(nth, reader.time());
        }
    }

    /// Takes in what a row tells of an actor.
    fn take(&mut self, plan: &Plan, nth: usize, course: usize, sample: &Sample) {
        let track = &self.tracks(plan)[nth];
        let own = &self.roles.courses[course];
        let other = |told: bool, other: Option<usize>| other.filter(|other| told && *other != nth);
        let twice = other(sample.place.is_some(), own.places);
        if let Some(other) = twice.or(other(sample.buttons.is_some(), own.presses)) {
            let message = format!(
                "`{}` tells of `{}`, and so does `{}`",
                track.rows.file,
                own.name,
                self.tracks(plan)[other].rows.file
            );
            let path = self.paths[nth].key("file");
            let finding = Finding::new(Code::ToldTwice, path, message);
            let help = "tell the places of an actor in one recording, and its buttons in one";
            let fault = Fault::row(sample.line, finding.help(help));
            self.faults.push(nth, fault);
            self.roles.silence(nth, course);
            return;
        }
        if let Some(place) = &sample.place
            && let Some(finding) = self.weigh(plan, nth, course, (sample.time, place))
        {
            self.faults.push(nth, Fault::row(sample.line, finding));
        }
        let ahead = &mut self.ahead;
        let mut out = |report| ahead.push(report);
        let own = &mut self.roles.courses[course];
        if let Some(down) = sample.buttons {
            own.presses = Some(nth);
            own.press(sample.time, down, &mut out);
        }
        if let Some(place) = sample.place {
            own.places = Some(nth);
            let up = plan.arena.up.sign();
            own.go(sample.time, place, (track.gap, self.last, up), &mut out);
            if !std::mem::replace(&mut own.here, true) {
                self.present.push(course);
            }
            let outside = !plan.arena.bounds.has(place.at);
            self.extents[nth].take(sample.time, outside);
        }
    }

    /// Whether the way from one row to the next is a slip of the recording.
    fn weigh(
        &self,
        plan: &Plan,
        nth: usize,
        course: usize,
        (time, place): (f64, &Place),
    ) -> Option<Finding> {
        let track = &self.tracks(plan)[nth];
        let path = || self.paths[nth].key("file");
        let own = &self.roles.courses[course];
        let (before, old) = own.last()?;
        if own.is_apart(time, track.gap) {
            let message = format!(
                "`{}` is not told from tick {} to {}: it is absent in between",
                own.name,
                short(before),
                short(time)
            );
            let finding = Finding::new(Code::TrackGap, path(), message);
            return Some(finding.help("a longer `gap` bridges it"));
        }
        if time == before {
            let message = format!("`{}` is told twice on tick {}", own.name, short(time));
            let finding = Finding::new(Code::SameTime, path(), message);
            return Some(finding.help("the later row counts; remove one of them"));
        }
        let bounds = plan.arena.bounds;
        let side = (bounds.max.x - bounds.min.x).max(bounds.max.y - bounds.min.y);
        let fastest = track.fastest.unwrap_or(10.0 * side);
        let way = (place.at - old.at).length();
        let speed = way / (time - before) * f64::from(plan.rate);
        if place.teleport || speed <= fastest {
            return None;
        }
        let message = format!(
            "`{}` goes {} units in {}: {} units per second",
            own.name,
            short(way),
            reader::ticks(time - before),
            short(speed)
        );
        let finding = Finding::new(Code::TooFast, path(), message);
        let help = format!(
            "tell jumps in a `teleport` column, or raise `fastest` above {}",
            short(fastest)
        );
        Some(finding.help(help))
    }

    /// Whoever is told no longer is not there any more, and holds no button.
    fn leave(&mut self, reports: &mut Vec<Report>) {
        let (now, end) = (self.ahead.next, self.last);
        let roles = &mut self.roles;
        self.present.retain(|&course| {
            let own = &mut roles.courses[course];
            let is_over = own.last().is_none_or(|(last, _)| last <= f64::from(now.0));
            if is_over {
                own.finish(end, &mut |report| reports.push(report));
            }
            let was_there = own.there;
            own.there = own.is_there(now);
            if was_there && !own.there {
                reports.push(Report {
                    tick: now,
                    who: own.role,
                    does: Does::Leave,
                });
                if own.presses == own.places {
                    own.hold(now.0, 0, &mut |report| reports.push(report));
                }
            }
            if own.there || !is_over {
                return true;
            }
            own.here = false;
            if let Role::Introduced(_) = own.role {
                roles.gone(course);
            }
            false
        });
    }

    /// A recording is over: the buttons that it alone tells are let go.
    fn let_go(&mut self, nth: usize, last: f64) {
        let tick = (last.max(0.0).floor() as u32).saturating_add(1);
        let ahead = &mut self.ahead;
        let own = self.roles.courses.iter_mut();
        for course in own.filter(|own| own.presses == Some(nth) && own.places != Some(nth)) {
            course.hold(tick, 0, &mut |report| ahead.push(report));
        }
    }

    /// The placed actors whose places are told, in order.
    pub fn told(&self) -> Vec<ActorIx> {
        self.roles.told()
    }

    /// The placed actors whose places a recording tells, in order.
    pub fn placed_by(&self, track: usize) -> Vec<ActorIx> {
        self.roles.placed_by(track)
    }

    /// The names of those who are introduced, in order.
    pub fn names(&self) -> Vec<String> {
        self.roles.names()
    }

    /// Whether any row is about a placed actor.
    pub fn tells(&self, actor: ActorIx) -> bool {
        self.roles.tells(actor)
    }

    /// The recordings that go on after the end of the drill.
    pub fn beyond(&self) -> Vec<usize> {
        let readers = self.readers.iter().enumerate();
        let on = readers.filter(|(_, reader)| reader.as_ref().is_some_and(Reader::goes_on));
        on.map(|(nth, _)| nth).collect()
    }

    /// Whether a recording could be read, and has no row.
    pub fn is_empty(&self, nth: usize) -> bool {
        self.readers[nth]
            .as_ref()
            .is_some_and(|reader| reader.rows == 0)
    }

    /// How many rows were read.
    pub fn rows(&self) -> u64 {
        self.readers
            .iter()
            .flatten()
            .map(|reader| reader.rows)
            .sum()
    }

    pub fn path(&self, track: usize) -> &Path {
        &self.paths[track]
    }
}
