//! Recordings are read whole once: what is wrong with them is found, and what they tell is kept.

use std::sync::Arc;

use super::fault::{Fault, Faults};
use super::open::Files;
use super::reader::{short, ticks};
use super::untold;
use super::weave::Weave;
use crate::Checked;
use crate::finding::{Code, Finding, Findings, Path, Severity};
use crate::limits;
use crate::map::Set;
use crate::plan::{
    ActorIx, DrillIx, DrillPlan, Plan, Print, Recording, Report, Reports, Reread, Source, TrackPlan,
};

/// A plan with the recordings of its drills.
#[derive(Clone, Debug)]
pub struct Recorded {
    /// The plan, unless a finding is an error.
    pub plan: Option<Arc<Plan>>,
    /// What was found in the recordings.
    pub findings: Findings,
    /// How many rows were read.
    pub rows: u64,
}

impl Plan {
    /// Reads the recordings of some drills, which cannot be replayed without them.
    ///
    /// # Panics
    ///
    /// When an index is of another plan.
    ///
    /// ```
    /// use std::collections::BTreeMap;
    ///
    /// let plan = tin_crown::check(br#"
    ///     edition = 1
    ///     title = "A post that the game moves"
    ///     arena = { bounds = { min = [0, 0], max = [100, 100] } }
    ///     [kind.post]
    ///     [[place]]
    ///     kind = "post"
    ///     at = [10, 10]
    ///     [drill.run]
    ///     length = "2t"
    ///     track = [{ file = "run.csv", who = "post" }]
    /// "#).plan.unwrap();
    /// let run = plan.drill("run").unwrap();
    /// let files = BTreeMap::from([("run.csv".to_owned(), b"time,x,y\n0,10,10\n2,30,10\n".to_vec())]);
    /// let recorded = plan.record([run], Arc::new(files));
    /// # use std::sync::Arc;
    /// let plan = recorded.plan.unwrap();
    /// let mut sim = tin_crown::Sim::new(&plan, run);
    /// sim.step()?;
    /// assert_eq!(sim.actor(plan.actor("post").unwrap()).at.x, 20.0);
    /// # Ok::<(), tin_crown::ReplayError>(())
    /// ```
    pub fn record(
        self: &Arc<Plan>,
        drills: impl IntoIterator<Item = DrillIx>,
        files: Arc<dyn Files>,
    ) -> Recorded {
        let mut plan = Plan::clone(self);
        let bare = Arc::clone(self);
        let mut findings = Findings::new();
        let mut rows = 0;
        for drill in drills {
            if bare.drills[drill.index()].is_recorded() {
                let (recording, read) = read(&bare, drill, &files, &mut findings);
                plan.drills[drill.index()].recording = recording.map(Arc::new);
                rows += read;
            }
        }
        findings.trim();
        Recorded {
            plan: (!findings.has_errors()).then(|| Arc::new(plan)),
            findings,
            rows,
        }
    }
}

impl Checked {
    /// Reads the recordings and hit logs of all drills, where there is a plan: what is found in them joins the other
    /// findings, and the plan has the recordings, or is gone when one of those is an error.
    ///
    /// `text` is that of the encounter, for the places of what is found.
    pub fn record(&mut self, text: &[u8], files: Arc<dyn Files>) {
        let Some(plan) = self.plan.take() else {
            return;
        };
        let recorded = plan.record(plan.all_drills(), Arc::clone(&files));
        self.findings.join(&recorded.findings);
        let mut fails = false;
        if let Some(plan) = &recorded.plan {
            let logged = |drill: &DrillIx| plan.drills[drill.index()].log.is_some();
            for drill in plan.all_drills().filter(logged) {
                let read = plan.read_log(drill, None, &*files);
                fails |= read.log.is_none();
                self.findings.join(&read.findings);
            }
        }
        self.findings.locate_in(text);
        self.plan = recorded.plan.filter(|_| !fails);
    }
}

/// Reads the recordings of a drill, unless what is found in them is an error; and says how many rows were read.
fn read(
    plan: &Arc<Plan>,
    drill: DrillIx,
    files: &Arc<dyn Files>,
    findings: &mut Findings,
) -> (Option<Recording>, u64) {
    let own = &plan.drills[drill.index()];
    let mut weave = Weave::open(plan, drill, &**files);
    let mut print = Print::default();
    let mut kept = Some(Vec::new());
    while let Some(mut reports) = weave.tick(plan) {
        print.add(&reports);
        if let Some(all) = &mut kept {
            all.append(&mut reports);
            if all.len() > limits::REPORTS_KEPT {
                kept = None;
            }
        }
        weave.give_back(reports);
    }
    let placed = weave.told();
    let mut faults = std::mem::take(&mut weave.faults);
    weigh(plan, own, &weave, &mut faults);
    let fails = (0..own.tracks.len()).any(|nth| faults.fails(nth));
    let rows = weave.rows();
    let tracks = own.tracks.iter().map(|track| &track.rows);
    faults.show(&**files, tracks, findings);
    if fails {
        return (None, rows);
    }
    let reports = match kept {
        Some(all) => Reports::Kept(all),
        None => Reports::Read(Arc::new(Again {
            plan: Arc::clone(plan),
            drill,
            files: Arc::clone(files),
        })),
    };
    let recording = Recording::new(reports, placed, weave.names(), print);
    (Some(recording), rows)
}

/// What shows only when all rows are read.
fn weigh(plan: &Plan, own: &DrillPlan, weave: &Weave, faults: &mut Faults) {
    for nth in weave.beyond() {
        let message = format!("it goes on after the end of the drill on tick {}", own.last);
        let finding = Finding::new(Code::BeyondEnd, weave.path(nth).key("file"), message);
        let help = "make the drill longer to hear the rest";
        faults.push(nth, Fault::whole(finding.help(help)));
    }
    for (nth, track) in own.tracks.iter().enumerate() {
        if faults.fails(nth) {
            continue;
        }
        let file = &track.rows.file;
        if let Some((code, message, help)) = reach(weave, nth, track, file) {
            let finding = Finding::new(code, weave.path(nth).key("file"), message);
            faults.push(nth, Fault::whole(finding.help(help)));
            continue;
        }
        let named: Set<ActorIx> = track.rows.ids.values().chain(&track.who).copied().collect();
        for actor in named.into_iter().filter(|actor| !weave.tells(*actor)) {
            let id = &plan.actors[actor.index()].id;
            let message = format!("`{}` says nothing of `{id}`", track.rows.file);
            let finding = Finding::new(Code::NeverTold, weave.path(nth).clone(), message);
            let help = "correct its name in `ids`, or leave it out";
            faults.push(nth, Fault::whole(finding.help(help)));
        }
    }
    for (nth, track) in own.tracks.iter().enumerate() {
        let placed = weave.placed_by(nth);
        for finding in untold::gates(plan, track, weave.path(nth), &placed) {
            faults.push(nth, Fault::whole(finding));
        }
    }
    let placed = weave.told();
    let mut poses = own.poses.iter();
    if let Some(told) = poses.find(|told| placed.binary_search(&told.who).is_ok()) {
        let id = &plan.actors[told.who.index()].id;
        let message = format!("`{id}` is posed by the drill and by a recording");
        let path = Path::root().key("drill").named(&own.name).key("pose");
        let finding = Finding::new(Code::ToldTwice, path, message);
        let help = "let one of them tell where it is";
        faults.push(0, Fault::whole(finding.help(help)));
    }
}

/// What is odd about where and when all rows of a recording are.
fn reach(
    weave: &Weave,
    nth: usize,
    track: &TrackPlan,
    file: &str,
) -> Option<(Code, String, &'static str)> {
    /// Nobody records a tick so often.
    const DENSE: f64 = 0.25;
    let own = &weave.extents[nth];
    let span = own.last - own.first;
    if weave.is_empty(nth) {
        let help = "record it anew, or remove it";
        Some((Code::NothingTold, format!("`{file}` has no rows"), help))
    } else if own.rows > 0 && own.last < 0.0 {
        let last = short(own.last);
        let message = format!("all rows of `{file}` are before tick 0, the last on {last}");
        Some((Code::NothingTold, message, "correct `zero` of `time`"))
    } else if track.rows.ticks == 1.0 && own.times > 8 && span < DENSE * (own.times - 1) as f64 {
        let message = format!(
            "`{file}` has {} times within {}: are they seconds?",
            own.times,
            ticks(span)
        );
        Some((Code::TimeUnit, message, "add time = { unit = \"seconds\" }"))
    } else if own.rows > 0 && own.outside == own.rows {
        let message = format!("all rows of `{file}` are outside the arena");
        let help = "correct `origin`, `scale` or `up`, or the arena's bounds";
        Some((Code::OutsideArena, message, help))
    } else {
        None
    }
}

/// The recordings of a drill, read again from the first row on.
struct Again {
    plan: Arc<Plan>,
    drill: DrillIx,
    files: Arc<dyn Files>,
}

impl Reread for Again {
    fn read(&self) -> Result<Box<dyn Source>, String> {
        let weave = Weave::open(&self.plan, self.drill, &*self.files);
        let plan = Arc::clone(&self.plan);
        Ok(Box::new(Rereading {
            plan,
            weave,
            tick: Vec::new().into_iter(),
        }))
    }
}

struct Rereading {
    plan: Arc<Plan>,
    weave: Weave,
    tick: std::vec::IntoIter<Report>,
}

impl Source for Rereading {
    fn next(&mut self) -> Result<Option<Report>, String> {
        loop {
            if let Some(report) = self.tick.next() {
                return Ok(Some(report));
            }
            let Some(reports) = self.weave.tick(&self.plan) else {
                return Ok(None);
            };
            let mut faults = self
                .weave
                .faults
                .all
                .drain(..)
                .map(|(_, fault)| fault.finding);
            let changed = faults.find(|finding| finding.severity == Severity::Error);
            if let Some(finding) = changed {
                return Err(finding.message.clone());
            }
            self.tick = reports.into_iter();
        }
    }
}
