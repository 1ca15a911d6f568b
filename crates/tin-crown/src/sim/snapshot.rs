//! Snapshots: all that the future of a run depends on, in memory or as bytes; and its digest.

use std::fmt;
use std::sync::Arc;

use serde::Serialize;
use sha2::{Digest as _, Sha256};

use super::Sim;
use super::played::Print;
use super::state::{Played, State};
use crate::packed::{pack, unpack};
use crate::plan::Plan;

/// A run between two ticks. What is restored from it goes on exactly alike: the same lines, the same digests.
///
/// Its size goes by who is there, not by how long the run was.
///
/// ```
/// # let file = tin_crown::demo::FIRST_SHELF.as_bytes();
/// use tin_crown::{Sim, Snapshot};
///
/// let plan = tin_crown::check(file).plan.unwrap();
/// let mut run = Sim::open(&plan, 0);
/// let start = run.snapshot();
/// run.step()?;
/// let digest = run.digest();
/// run.restore(&start)?;
/// run.step()?;
/// assert_eq!(run.digest(), digest);
/// // Into another process, and on from there.
/// let bytes = run.snapshot().to_bytes();
/// let mut other = Sim::open(&plan, 0);
/// other.restore(&Snapshot::from_bytes(&plan, &bytes)?)?;
/// assert_eq!(other.digest(), digest);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Clone, Debug)]
pub struct Snapshot {
    plan: Arc<Plan>,
    state: State,
    /// The print of what had been played, where it is known.
    played: Option<Print>,
}

/// A digest of all that the future of a run depends on. Two runs part on the first tick on which theirs differ.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct Digest([u8; 16]);

/// A snapshot cannot be restored.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[non_exhaustive]
pub enum SnapshotError {
    /// The bytes are none.
    #[error("these bytes are no snapshot")]
    NotOne,
    /// They are of another version of this library.
    #[error(
        "this snapshot was taken by version {0} of tin-crown, and version {version} does not read it",
        version = VERSION
    )]
    Version(String),
    /// They are of another encounter, or of the same with other numbers.
    #[error("this snapshot is of another encounter, or was taken before it was changed")]
    OtherPlan,
    /// It is of another drill, or one is of a drill and the other of an open run.
    #[error("this snapshot is of another drill, or of an open run")]
    OtherDrill,
    /// They are cut short or changed.
    #[error("this snapshot is damaged")]
    Damaged,
}

const MARK: &[u8] = b"tin-crown snapshot ";
const VERSION: &str = env!("CARGO_PKG_VERSION");

impl Digest {
    /// Its bytes.
    pub fn to_bytes(self) -> [u8; 16] {
        self.0
    }
}

impl fmt::Display for Digest {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        self.0.iter().try_for_each(|byte| write!(f, "{byte:02x}"))
    }
}

/// A print of plain data.
pub(super) fn print(data: &impl Serialize) -> [u8; 16] {
    let mut bytes = Vec::new();
    pack(data, &mut bytes);
    half(&bytes)
}

/// The first half of the SHA-256 of some bytes.
fn half(bytes: &[u8]) -> [u8; 16] {
    let mut half = [0; 16];
    half.copy_from_slice(&Sha256::digest(bytes)[..16]);
    half
}

impl Sim {
    /// The run as it stands between two ticks.
    pub fn snapshot(&self) -> Snapshot {
        Snapshot {
            plan: Arc::clone(&self.plan),
            state: self.state.clone(),
            played: self.played,
        }
    }

    /// The same, in the memory of another snapshot.
    pub fn save(&self, to: &mut Snapshot) {
        to.plan.clone_from(&self.plan);
        to.state.clone_from(&self.state);
        to.played = self.played;
    }

    /// Puts the run back, or forward, to where it was when a snapshot was taken, in the memory that it has. Of
    /// its ledger there is what is left of it up to then.
    ///
    /// # Errors
    ///
    /// When the snapshot is of another plan or drill.
    pub fn restore(&mut self, from: &Snapshot) -> Result<(), SnapshotError> {
        let same_plan =
            Arc::ptr_eq(&self.plan, &from.plan) || self.plan.print(None) == from.plan.print(None);
        if !same_plan {
            return Err(SnapshotError::OtherPlan);
        }
        match (self.state.played, from.state.played) {
            (Played::Drill(own), Played::Drill(other)) if own == other => {}
            (Played::Open { .. }, Played::Open { .. }) => {}
            _ => return Err(SnapshotError::OtherDrill),
        }
        self.state.clone_from(&from.state);
        self.played = from.played;
        let roll = &self.state.roll;
        self.history
            .rewind(self.state.log.len(), roll.next(), roll.all());
        Ok(())
    }

    /// A digest of all that the future depends on.
    pub fn digest(&self) -> Digest {
        Digest(print(&self.state))
    }
}

impl Snapshot {
    /// As bytes, which [`from_bytes`](Snapshot::from_bytes) reads back: with the version of this library and
    /// of which plan it is.
    pub fn to_bytes(&self) -> Vec<u8> {
        let mut state = Vec::new();
        pack(&(self.played, &self.state), &mut state);
        let mut bytes = [MARK, VERSION.as_bytes(), b"\n"].concat();
        bytes.extend(self.plan.print(self.state.played.drill(&self.plan)));
        bytes.extend(half(&state));
        bytes.extend(state);
        bytes
    }

    /// Reads back what [`to_bytes`](Snapshot::to_bytes) wrote, in this process or another.
    ///
    /// # Errors
    ///
    /// When the bytes are of another plan or version, or are damaged.
    pub fn from_bytes(plan: &Arc<Plan>, bytes: &[u8]) -> Result<Snapshot, SnapshotError> {
        let rest = bytes.strip_prefix(MARK).ok_or(SnapshotError::NotOne)?;
        let line = rest.iter().position(|byte| *byte == b'\n');
        let (version, rest) = rest.split_at(line.ok_or(SnapshotError::NotOne)?);
        if version != VERSION.as_bytes() {
            let version = String::from_utf8_lossy(version).escape_debug().to_string();
            return Err(SnapshotError::Version(version));
        }
        let (print, rest) = rest[1..]
            .split_at_checked(16)
            .ok_or(SnapshotError::Damaged)?;
        let (sum, state) = rest.split_at_checked(16).ok_or(SnapshotError::Damaged)?;
        if sum != half(state) {
            return Err(SnapshotError::Damaged);
        }
        let state = unpack::<(Option<Print>, State)>(state);
        let (played, mut state) = state.ok_or(SnapshotError::Damaged)?;
        let known = match state.played {
            Played::Drill(drill) => drill.index() < plan.drills.len(),
            Played::Open { .. } => true,
        };
        if !known || print != plan.print(state.played.drill(plan)) {
            return Err(SnapshotError::OtherPlan);
        }
        if !state.is_sound(plan) {
            return Err(SnapshotError::Damaged);
        }
        state.furnish(plan);
        Ok(Snapshot {
            plan: Arc::clone(plan),
            state,
            played,
        })
    }
}
