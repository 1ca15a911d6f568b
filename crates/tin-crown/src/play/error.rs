//! What can go wrong while playing.

use crate::encounter::SetError;
use crate::finding::Findings;
use crate::plan::Unknown;
use crate::sim::ReplayError;

/// An encounter cannot be played, or not with that change.
#[derive(Debug, thiserror::Error)]
#[non_exhaustive]
pub enum PlayError {
    /// There is no such drill.
    #[error("{0}")]
    Unknown(#[from] Unknown),
    /// A value could not be set.
    #[error("{0}")]
    Set(#[from] SetError),
    /// The encounter makes no sense.
    #[error("{}", .0.first_error())]
    Findings(Findings),
    /// The run goes beyond a limit.
    #[error("{0}")]
    Replay(#[from] ReplayError),
}

impl From<Findings> for PlayError {
    fn from(findings: Findings) -> PlayError {
        PlayError::Findings(findings)
    }
}

/// Somebody cannot be driven.
#[derive(Debug, thiserror::Error)]
#[non_exhaustive]
pub enum DriveError {
    /// It has no buttons, or the drill moves it.
    #[error("`{who}` cannot be driven; these can: {}", listed(.known))]
    Nobody {
        /// The id.
        who: String,
        /// Who can.
        known: Vec<String>,
    },
    /// It cannot be played.
    #[error("{0}")]
    Play(#[from] PlayError),
    /// The run goes beyond a limit.
    #[error("{0}")]
    Replay(#[from] ReplayError),
}

fn listed(known: &[String]) -> String {
    match known {
        [] => "nobody".to_owned(),
        known => known.join(", "),
    }
}

/// What was played cannot be kept as a drill.
#[derive(Debug, thiserror::Error)]
#[non_exhaustive]
pub enum KeepError {
    /// The drill by which others go on begins as another, whose poses or effects cannot be told apart from its own.
    #[error("`{drill}` begins as `{begun}`, whose poses and effects would have to be copied")]
    Begun {
        /// The drill.
        drill: String,
        /// The other.
        begun: String,
    },
    /// It cannot be played again.
    #[error("{0}")]
    Play(#[from] PlayError),
    /// It goes beyond a limit.
    #[error("{0}")]
    Replay(#[from] ReplayError),
    /// Replayed, it would not be the same.
    #[error("the drill would not give the same ledger: it differs in line {0}")]
    Differs(usize),
}
