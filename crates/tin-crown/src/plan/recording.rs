//! What a recording tells, tick by tick, once its rows are read.

use std::fmt;
use std::sync::Arc;

use serde::{Deserialize, Serialize, Serializer};
use xxhash_rust::xxh3::Xxh3;

use super::index::{ActorIx, ButtonIx};
use super::outside::Pose;
use super::spec::Spec;
use super::{DrillPlan, Plan};
use crate::packed::pack;
use crate::time::Tick;

/// What is told of one actor on one tick.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) struct Report {
    pub tick: Tick,
    pub who: Role,
    pub does: Does,
}

/// An actor of a recording.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
pub(crate) enum Role {
    Placed(ActorIx),
    /// One that the recording introduces, by its number among them.
    Introduced(u32),
}

/// What it does.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) enum Does {
    /// A button of it goes down or up.
    Press { button: ButtonIx, down: bool },
    /// It is introduced.
    Come(Box<Introduction>),
    /// It stands there.
    Pose(Pose),
    /// It is not there any more.
    Leave,
}

/// Someone whom a recording introduces.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) struct Introduction {
    pub name: Arc<str>,
    /// Its kind, by its place among those that recordings introduce.
    pub kind: u16,
    pub maker: Option<Role>,
    pub pose: Pose,
}

/// The recordings of a drill, read: what they tell, in the order of ticks.
pub struct Recording {
    pub(crate) reports: Reports,
    /// The placed actors that it places, in order: they are absent where it does not.
    pub(crate) placed: Vec<ActorIx>,
    /// The names of those whom it introduces, in order.
    names: Vec<String>,
    /// A digest of all that it tells.
    print: [u8; 16],
    count: u64,
}

/// Where the reports are.
pub(crate) enum Reports {
    Kept(Vec<Report>),
    /// Too many to be kept: they are read again.
    Read(Arc<dyn Reread>),
}

/// Reports that can be read again from the first on.
pub(crate) trait Reread: Send + Sync {
    fn read(&self) -> Result<Box<dyn Source>, String>;
}

/// Reports, one after the other.
pub(crate) trait Source: Send {
    fn next(&mut self) -> Result<Option<Report>, String>;
}

/// Takes a digest of reports.
#[derive(Default)]
pub(crate) struct Print {
    hash: Xxh3,
    bytes: Vec<u8>,
    count: u64,
}

impl Print {
    /// Takes in the reports of a tick.
    pub fn add(&mut self, reports: &[Report]) {
        self.bytes.clear();
        for report in reports {
            pack(report, &mut self.bytes);
        }
        self.hash.update(&self.bytes);
        self.count += reports.len() as u64;
    }
}

impl Plan {
    /// Takes over the recordings of another plan, where each actor, button, state and attack that they speak of
    /// is the same here.
    pub(crate) fn take_recordings(&mut self, from: &Plan) {
        let recorded = |drill: &&DrillPlan| drill.recording.is_some();
        if !from.drills.iter().any(|drill| recorded(&drill)) || !self.is_told_as(from) {
            return;
        }
        for drill in &mut self.drills {
            let mut all = from.drills.iter().filter(recorded);
            let same = all.find(|other| other.name == drill.name);
            if let Some(other) = same
                && other.tracks == drill.tracks
                // A shorter drill hears the beginning of it.
                && drill.last <= other.last
            {
                drill.recording.clone_from(&other.recording);
            }
        }
    }

    /// Whether rows of a recording mean the same to both.
    fn is_told_as(&self, other: &Plan) -> bool {
        let kinds = |plan: &Plan| -> Vec<_> {
            let all = plan.introduced.iter();
            all.map(|(kind, _)| *kind).collect()
        };
        let alike = |one: &Spec, other: &Spec| {
            let states =
                |spec: &Spec| -> Vec<_> { spec.states.iter().map(|own| own.name).collect() };
            let attacks =
                |spec: &Spec| -> Vec<_> { spec.attacks.iter().map(|own| own.name).collect() };
            one.kind == other.kind
                && one.rotates == other.rotates
                && states(one) == states(other)
                && attacks(one) == attacks(other)
        };
        self.names == other.names
            && self.rate == other.rate
            && self.arena.up == other.arena.up
            && self.arena.height.is_some() == other.arena.height.is_some()
            && kinds(self) == kinds(other)
            && self.specs.len() == other.specs.len()
            && self
                .specs
                .iter()
                .zip(&other.specs)
                .all(|(one, other)| alike(one, other))
            && self
                .actors
                .iter()
                .map(|own| own.spec)
                .eq(other.actors.iter().map(|own| own.spec))
    }
}

impl Recording {
    pub(crate) fn new(
        reports: Reports,
        placed: Vec<ActorIx>,
        names: Vec<String>,
        print: Print,
    ) -> Recording {
        let print_of_all = print.hash.digest128().to_be_bytes();
        Recording {
            reports,
            placed,
            names,
            print: print_of_all,
            count: print.count,
        }
    }

    /// The placed actors that it places, in the order of ids.
    pub fn placed(&self) -> &[ActorIx] {
        &self.placed
    }

    /// The names of those whom it introduces, in order.
    pub fn names(&self) -> &[String] {
        &self.names
    }

    /// Whether an id is of one that it introduces: its name, or its name with a number.
    pub(crate) fn introduces(&self, id: &str) -> bool {
        let is = |name: &str| {
            self.names
                .binary_search_by(|own| own.as_str().cmp(name))
                .is_ok()
        };
        is(id)
            || id.rsplit_once('.').is_some_and(|(name, times)| {
                is(name) && times.bytes().all(|byte| byte.is_ascii_digit())
            })
    }

    /// How many reports it has, one for each actor and tick.
    pub fn reports(&self) -> u64 {
        self.count
    }
}

impl PartialEq for Recording {
    fn eq(&self, other: &Recording) -> bool {
        self.print == other.print
    }
}

impl fmt::Debug for Recording {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.debug_struct("Recording")
            .field("placed", &self.placed)
            .field("reports", &self.count)
            .finish_non_exhaustive()
    }
}

/// As its digest.
impl Serialize for Recording {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        self.print.serialize(serializer)
    }
}
